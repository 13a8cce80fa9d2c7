# A visitor's evening: against values worked out elsewhere with rational arithmetic, and against evenings played.

evening <- function(p, stake, wallet, rounds = Inf, goal = NULL, most = Inf, short = "rest", net = c(1, -1),
                    probability = c(p, 1 - p)) {
  play_evening(list(net = net, probability = probability), stake_rule(stake),
               evening_terms(wallet, rounds, goal, 1, most, short))
}
measures <- function(...) evening(...)$measures
close_to <- function(got, wanted) expect_equal(unname(got), wanted, tolerance = 1e-10)

test_that("flat stakes: the goal or ruin without a limit, ruin within one", {
  to_goal <- measures(0.48, 1, 20, goal = 40)
  close_to(to_goal[["goal"]], 1 / (1 + (13 / 12)^20))
  close_to(to_goal[["rounds"]], 332.137731008778)
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
  b <- bankroll("lantern-tiles", rounds = 50, goal = 30, seconds = 30,
                stake = c(flat = 1, doubling = "if (last_net < 0) 2 * last_stake else 1"))
  expect_equal(b$measures$rule, c("flat", "doubling"))
  edge <- odds("lantern-tiles")$pays$edge
  expect_equal(b$measures$final, 20 - edge * b$measures$put_in)  # whatever is staked, each token brings the same
  expect_equal(vapply(b$finals, function(d) sum(d$probability), 0), c(flat = 1, doubling = 1))
  expect_equal(b$over_time$flat$round, 0:50)
  expect_match(paste(format(b), collapse = "\n"),
               "staking +ruin +goal +losing evening.*minutes.*doubling asked for more")
  out <- capture.output(code <- command_main(c("bankroll", "lantern-tiles", "--rounds", "50", "--goal", "30", "--stake",
                                               "flat=1; d=if (last_net < 0) 2 * last_stake else 1", "--format", "csv")))
  expect_equal(code, 0)
  expect_equal(utils::read.csv(text = out)$ruin, b$measures$ruin)
  out <- capture.output(code <- command_main(c("bankroll", "lantern-tiles", "--rounds", "9", "--format", "json")))
  json <- jsonlite::fromJSON(out)
  expect_equal(json$measures$rounds, 9)
  expect_equal(nrow(json$over_time$flat), 10)
  skip_if_not_installed("ggplot2")
  expect_s3_class(figure_bankroll(b), "ggplot")
  expect_error(figure_bankroll(bankroll("lantern-tiles", wallet = 2, goal = 4, rounds = Inf)),
               class = "basanos_argument_wrong")
})

test_that("what cannot be an evening is refused", {
  expect_error(bankroll("five-winds"), class = "basanos_no_stake")
  expect_error(bankroll("lantern-twenty-one"), class = "basanos_rounds_linked")
  for (rule in c("purse", "if (run < 0) 2", "roll(6)", "max(1, wallet"))
    expect_error(bankroll("lantern-tiles", stake = rule), class = "basanos_error", info = rule)
  for (wrong in list(list(wallet = 0), list(rounds = 2.5), list(goal = 20), list(most = 0), list(least = -1)))
    expect_error(do.call(bankroll, c("lantern-tiles", wrong)), class = "basanos_bankroll_wrong")
})
