# A visitor's evening: against values worked out elsewhere with rational arithmetic, and against evenings played.

evening <- function(p, stake, wallet, rounds = Inf, goal = NULL, most = Inf, short = "rest", net = c(1, -1),
                    probability = c(p, 1 - p)) {
  play_evening(list(net = net, probability = probability, cost = max(1, -min(net)), put = 1), stake_rule(stake),
               evening_terms(wallet, rounds, goal, 1, most, short))
}
measures <- function(...) evening(...)$measures
close_to <- function(got, wanted) expect_equal(unname(got), wanted, tolerance = 1e-10)

test_that("stakes are times what the rules put in, and put_in is all of it", {
  two <- game_of("seats(guest)", "stakes(guest, 2)", "state(won = no)", "play({ won <- chance(0.48) })",
                 "outcomes(win = won, loss = otherwise)", "pays(guest, win = 2, loss = -2)")
  one <- game_of("seats(guest)", "stakes(guest, 1)", "state(won = no)", "play({ won <- chance(0.48) })",
                 "outcomes(win = won, loss = otherwise)", "pays(guest, win = 1, loss = -1)")
  twice <- bankroll(two, wallet = 40, evening_rounds = 60)
  once <- bankroll(one, wallet = 20, evening_rounds = 60)
  expect_equal(twice$measures[c("ruin", "losing", "rounds")], once$measures[c("ruin", "losing", "rounds")])
  tokens <- c("final", "sd", "put_in")
  expect_equal(unlist(twice$measures[tokens]), 2 * unlist(once$measures[tokens]))
  raised <- bankroll("keepers-three", evening_rounds = 10, wallet = 100)
  expect_equal(raised$measures$put_in, 10 * odds("keepers-three", engine = "exact")$pays$put_in)
})

test_that("a pot that lasts goes on from round to round, from its mean", {
  lit <- function(share) game_of("seats(guest)", "tokens(piece = 0.25)", "glow <- pot(4, lasts = always)",
                                 "bets(guest, lamp = 1)", "state(won = no)", "play({ move(0.5, from = lamp, to = glow)",
                                 sprintf("won <- chance(1 / 9)\nif (won) %s })", share),
                                 "outcomes(lit = won, dark = otherwise)", "settle(lamp, otherwise = lost)")
  lamp <- lit("share(glow, among = guest)")
  b <- bankroll(lamp, wallet = 1000, evening_rounds = 50, evenings = 40000)
  expect_identical(b$pots, list(glow = 8))  # won once in nine rounds, with a half fed in each of the others
  error <- b$measures$sd / sqrt(40000)
  expect_lt(abs(b$measures$final - (1000 - 50 * (1 / 2 - 4 / 9))), 4 * error)
  expect_match(format(b), "`glow` holds 8, its mean over time", all = FALSE, fixed = TRUE)
  path <- bankroll(lamp, wallet = 1000, evening_rounds = 50, evenings = 1000, path = 3)$path$flat
  won <- which(path$result > 0)
  expect_equal(path$result[won], 8 * (seq_along(won) == 1) + 4 * (seq_along(won) > 1) - 1 +
                 0.5 * diff(c(0, won)))
  expect_error(bankroll(lamp, method = "count"), "depend on each other by `glow`")
  b <- bankroll(lit("share(glow, among = guest, part = 0.5)"), wallet = 1000, evening_rounds = 50, evenings = 40000)
  # Half of it goes in a ninth of the rounds: 8.5 before the half of a round is fed, 9 after it.
  expect_identical(b$pots, list(glow = 8.5))
  expect_lt(abs(b$measures$final - (1000 - 50 * (1 - 9 / 2 / 9))), 4 * b$measures$sd / sqrt(40000) + 50 * 0.25 / 9)
})

test_that("flat stakes: the goal or ruin without a limit, ruin within one", {
  to_goal <- measures(0.48, 1, 8, goal = 16)
  close_to(to_goal[["goal"]], 1 / (1 + (13 / 12)^8))
  # the mean length of play to ruin or a goal (Feller 1968, chapter XIV.3)
  close_to(to_goal[["rounds"]], 8 / 0.04 - 16 / 0.04 / (1 + (13 / 12)^8))
  expect_equal(measures(18 / 37, 1, 20, goal = 40)[["ruin"]], 0.746748319041, tolerance = 1e-11)
  within <- measures(0.48, 1, 20, 200)
  close_to(within[c("ruin", "put_in")], c(0.317877021467, 176.850263033))
})

test_that("doubling after a loss, with a short wallet staking the rest or leaving", {
  rule <- "if (last_net < 0) min(8, 2 * last_stake) else 1"
  rest <- measures(18 / 37, rule, 63, 100)
  close_to(rest[c("ruin", "final", "put_in", "rounds", "losing")],
           c(0.144354312038, 56.549206762, 238.679349806, 94.400034920, 0.522885809968))
  close_to(1 - measures(18 / 37, rule, 63, 100, short = "leave")[["all_rounds"]], 0.173425373862)
  capped <- measures(18 / 37, "if (last_net < 0) 2 * last_stake else 1", 7, 3, most = 4)
  close_to(capped[c("ruin", "put_in")], c(6859 / 50653, 6235 / 1369))
})

test_that("a share of the wallet", {
  quarter <- evening(0.48, "max(1, round_down(wallet / 4))", 10, 3)
  close_to(quarter$measures[["put_in"]], 161 / 25)
  close_to(quarter$final$probability[quarter$final$value == 5], 2197 / 15625)
  close_to(measures(0.48, "max(1, round_down(wallet / 10))", 20, 50)[c("ruin", "final")],
           c(0.015498722487, 17.146517817))
})

test_that("any odds and any rule agree with evenings played one by one", {
  net <- c(-1, 0, 2, 5)
  probability <- c(0.6, 0.2, 0.15, 0.05)
  rule <- "if (run <= -2) 3 else if (last_net > 4) wallet / 5 else 1 + (last_stake == 3)"
  got <- evening(NA, rule, 25, 60, goal = 50, most = 6, net = net, probability = probability)
  set.seed(4)
  n <- 20000
  wallet <- rep(25, n); last_stake <- last_net <- run <- put_in <- rep(0, n); going <- rep(TRUE, n)
  for (k in 1:60) {
    asked <- ifelse(run <= -2, 3, ifelse(last_net > 4, wallet / 5, 1 + (last_stake == 3)))
    stake <- pmin(pmax(1, floor(asked)), 6, wallet) * going
    result <- stake * sample(net, n, TRUE, probability)
    wallet <- wallet + result
    put_in <- put_in + stake
    last_stake[going] <- stake[going]
    last_net[going] <- result[going]
    run[going] <- ifelse(result > 0, pmax(run, 0) + 1, ifelse(result < 0, pmin(run, 0) - 1, run))[going]
    going <- going & wallet >= 1 & wallet < 50
  }
  z <- function(x, mean) (mean(x) - mean) / (stats::sd(x) / sqrt(n))
  expect_lt(abs(z(wallet < 1, got$measures[["ruin"]])), 4)
  expect_lt(abs(z(wallet >= 50, got$measures[["goal"]])), 4)
  expect_lt(abs(z(wallet, got$measures[["final"]])), 4)
  expect_lt(abs(z(put_in, got$measures[["put_in"]])), 4)
  expect_lt(abs(z(wallet < 25, got$measures[["losing"]])), 4)
})

test_that("an evening of a game, from R and the command line", {
  b <- bankroll("lantern-tiles", evening_rounds = 50, goal = 30, round_seconds = 30,
                stake = c(flat = 1, doubling = "if (last_net < 0) 2 * last_stake else 1"))
  expect_equal(b$measures$rule, c("flat", "doubling"))
  edge <- odds("lantern-tiles")$pays$edge
  expect_equal(b$measures$final, 20 - edge * b$measures$put_in)  # whatever is staked, each token brings the same
  expect_equal(vapply(b$finals, function(d) sum(d$probability), 0), c(flat = 1, doubling = 1))
  expect_equal(b$over_time$flat$round, 0:50)
  expect_match(paste(format(b), collapse = "\n"),
               "staking +ruin +goal +losing evening.*minutes.*doubling asked for more")
  out <- capture.output(code <- command_main(c("bankroll", "lantern-tiles", "--evening-rounds", "50", "--goal", "30",
                                               "--stake",
                                               "flat=1; d=if (last_net < 0) 2 * last_stake else 1", "--format", "csv")))
  expect_equal(code, 0)
  csv <- utils::read.csv(text = out)
  expect_equal(csv$value[csv$kind == "ruin"], b$measures$ruin)
  out <- capture.output(code <- command_main(c("bankroll", "lantern-tiles", "--evening-rounds", "9", "--format",
                                               "json")))
  json <- jsonlite::fromJSON(out)
  expect_equal(json$measures$rounds, 9)
  expect_equal(nrow(json$over_time$flat), 10)
  skip_if_not_installed("ggplot2")
  expect_s3_class(figure_of(b), "ggplot")
  expect_error(figure_of(bankroll("lantern-tiles", wallet = 2, goal = 4, evening_rounds = Inf)),
               class = "basanos_argument_wrong")
})

test_that("what cannot be an evening is refused", {
  expect_error(bankroll("five-winds"), class = "basanos_no_stake")
  expect_error(bankroll("lantern-twenty-one", method = "count"), class = "basanos_rounds_linked")
  for (rule in c("purse", "if (run < 0) 2", "roll(6)", "max(1, wallet"))
    expect_error(bankroll("lantern-tiles", stake = rule), class = "basanos_error", info = rule)
  for (wrong in list(list(wallet = 0), list(evening_rounds = 2.5), list(goal = 20), list(most = 0), list(least = -1)))
    expect_error(do.call(bankroll, c("lantern-tiles", wrong)), class = "basanos_bankroll_wrong")
})

test_that("evenings that are played agree with those that are counted", {
  rules <- c(flat = 1, d = "if (last_net < 0) min(8, 2 * last_stake) else if (run > 1) 2 else 1")
  ask <- function(...) bankroll("lantern-tiles", evening_rounds = 60, goal = 30, stake = rules, ...)
  counted <- ask()
  played <- ask(method = "play", evenings = 20000)
  expect_null(counted$played)
  n <- 20000
  for (name in c("ruin", "goal", "losing")) {
    p <- counted$measures[[name]]
    expect_true(all(abs(played$measures[[name]] - p) < 4 * sqrt(p * (1 - p) / n) + 1e-12), info = name)
  }
  expect_true(all(abs(played$measures$final - counted$measures$final) < 4 * counted$measures$sd / sqrt(n)))
  expect_equal(played$measures$rounds, counted$measures$rounds, tolerance = 0.02)
  expect_true(all(played$played$lowest <= 20 & played$played$drawdown >= 0 & played$played$losing_run > 1))
  # fractions of a token are played in fractions
  half <- bankroll("lantern-tiles", wallet = 20.0, evening_rounds = 20, method = "play", evenings = 200,
                   round_seconds = 30)
  expect_equal(half$played$minutes, half$measures$rounds / 2)
})

test_that("dependent rounds are played", {
  b <- bankroll("three-bells", evening_rounds = 20, evenings = 4000, wallet = 50)
  o <- odds("three-bells", engine = "sample", rounds = 4000)
  expect_equal(b$evenings, 4000)
  expect_equal(b$measures$rounds, 20)
  expect_equal(b$measures$final, 50 + 20 * o$pays$mean, tolerance = 0.15)
  expect_match(paste(format(b), collapse = "\n"), "longest run of losses")
  timed <- bankroll("lantern-twenty-one", evening_rounds = 100, evenings = 500, round_seconds = "10 + 5 * asks",
                    minutes = 10)
  expect_lt(timed$measures$rounds, 60)
  expect_gte(timed$played$minutes, 9.5)
  expect_equal(bankroll("lantern-tiles", round_seconds = 30, minutes = 10)$terms$rounds, 20)
  expect_error(bankroll("lantern-tiles", minutes = 10), class = "basanos_bankroll_wrong")
  expect_error(bankroll("five-winds", method = "play"), class = "basanos_no_stake")
})

test_that("one evening is told step by step", {
  b <- bankroll("lantern-tiles", evening_rounds = 30, method = "play", evenings = 5, path = 4,
                stake = c(d = "if (last_net < 0) 2 * last_stake else 1"))
  path <- b$path$d
  expect_equal(path$wallet, 20 + cumsum(path$result))
  expect_true(all(path$stake[-1][path$result[-nrow(path)] > 0] == 1))
  expect_true(all(abs(path$result) <= 2 * path$stake))
  # it is one of the evenings that were played: number 4 of seed 1
  four <- bankroll("lantern-tiles", evening_rounds = 30, method = "play", evenings = 4, stake = b$measures$stake)
  three <- bankroll("lantern-tiles", evening_rounds = 30, method = "play", evenings = 3, stake = b$measures$stake)
  expect_equal(4 * four$measures$final - 3 * three$measures$final, utils::tail(path$wallet, 1))
  out <- at_command_line("bankroll", "lantern-tiles", "--evening-rounds", "5", "--path", "2")$out
  expect_match(out, "Evening 2, flat", all = FALSE)
})

test_that("the wallet over the rounds of evenings that are played", {
  b <- bankroll("lantern-tiles", evening_rounds = 40, method = "play", evenings = 2000, over_time = TRUE)
  counted <- bankroll("lantern-tiles", evening_rounds = 40)$over_time$flat
  played <- b$over_time$flat
  expect_equal(range(played$round), c(0, 40))
  at <- match(played$round, counted$round)
  expect_true(all(abs(played[["50%"]] - counted[["50%"]][at]) <= 1))
  expect_true(all(abs(played[["5%"]] - counted[["5%"]][at]) <= 2))
  expect_equal(nrow(bankroll("three-bells", evening_rounds = 10, evenings = 200, over_time = TRUE)$over_time$flat), 11)
  skip_if_not_installed("ggplot2")
  expect_s3_class(figure_of(b), "ggplot")
})

test_that("it is said where profits do not grow with the stake", {
  said <- function(game) paste(format(bankroll(game, evening_rounds = 5, method = "play", evenings = 50)),
                               collapse = "\n")
  expect_match(said("buoy-line"), "What one stake brings is multiplied")
  expect_no_match(said("bell-cards"), "is multiplied")
})

test_that("a staking rule may have constants in it, and one that gives no number is refused in both ways", {
  of <- function(...) bankroll("lantern-tiles", ...)$measures
  same <- of(wallet = 20, stake = c("if (yes) min(wallet, 3) else 1", "min(wallet, 3)"), rounds = 20)
  expect_equal(same$ruin[[1]], same$ruin[[2]])
  for (method in c("count", "play")) {
    expect_error(of(wallet = 7, stake = "last_net / last_stake", rounds = 4, method = method),
                 class = "basanos_stake_rule_wrong")
    guarded <- of(wallet = 7, stake = "if (last_stake == 0) 1 else 2 + last_net / last_stake", rounds = 3,
                  method = method, evenings = 2e5)
    if (method == "count") counted <- guarded
  }
  expect_lt(abs(guarded$final - counted$final), 5 * counted$sd / sqrt(2e5))
})

test_that("who leaves early is the same counted and played", {
  of <- function(...) bankroll("lantern-tiles", short = "leave", ...)$measures
  rule <- "if (last_net < 0) 3 * last_stake else 1"
  counted <- of(wallet = 7, stake = rule, evening_rounds = 3, method = "count")
  played <- of(wallet = 7, stake = rule, evening_rounds = 3, method = "play", evenings = 4e5)
  expect_gt(counted$left_early, 0.01)
  for (name in c("left_early", "ruin", "losing", "all_rounds"))
    expect_lt(abs(played[[name]] - counted[[name]]), 5 * sqrt(0.25 / 4e5))
  # asked for more than there is before the first round
  for (method in c("count", "play")) {
    first <- of(wallet = 2, stake = "5", evening_rounds = 4, method = method)
    expect_equal(unlist(first[c("left_early", "rounds", "final", "put_in")], use.names = FALSE), c(1, 0, 2, 0))
  }
})

test_that("where one rule takes too long to count all are played, each with quantities of its own", {
  rules <- c(flat = "1", doubling = "if (last_net < 0) 2 * last_stake else 1")
  counted <- bankroll("lantern-tiles", stake = rules, evening_rounds = 20)
  expect_null(counted$played)
  played <- with_replaced("quick_branches", 500, bankroll("lantern-tiles", stake = rules, evening_rounds = 20,
                                                          evenings = 20000))
  expect_identical(played$played$rule, c("flat", "doubling"))
  expect_gt(played$played$drawdown[[2]], 1.5 * played$played$drawdown[[1]])
  for (share in c("ruin", "losing", "level"))
    expect_lt(max(abs(played$measures[[share]] - counted$measures[[share]])), 5 * sqrt(0.25 / 20000))
  only_counted <- bankroll("lantern-tiles", stake = rules, evening_rounds = 20, method = "count")
  expect_equal(only_counted$measures, counted$measures)
})
