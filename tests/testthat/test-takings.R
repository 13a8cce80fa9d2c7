# The stall's evening and the till, against enumeration.

results_of <- function(net, probability, put = 1) list(put = rep(put, length(net)), net = net,
                                                       probability = probability)

# All paths of n plays: the total and the lowest level on the way, with the probability of each.
all_paths <- function(take, probability, n) {
  grid <- as.matrix(expand.grid(rep(list(seq_along(take)), n)))
  p <- apply(grid, 1, function(k) prod(probability[k]))
  path <- apply(grid, 1, function(k) cumsum(take[k]))
  list(p = p, total = path[n, ], lowest = pmin(0, apply(path, 2, min)))
}

test_that("sums and lowest levels agree with all paths", {
  take <- c(1, -0.5, -3)
  p <- c(0.6, 0.3, 0.1)
  play <- on_lattice(take, p)
  expect_equal(play$step, 0.5)
  paths <- all_paths(take, p, 7)
  total <- convolved(play, 7)
  for (v in unique(paths$total))
    expect_equal(sum(total$probability[abs(total$value - v) < 1e-9]), sum(paths$p[abs(paths$total - v) < 1e-9]))
  for (float in c(0, 1, 2.5, 6)) {
    low <- lowest_levels(play, 7, float)
    expect_equal(low$dry, sum(paths$p[paths$lowest < -float - 1e-9]), tolerance = 1e-12)
  }
  dry_with <- function(float) sum(paths$p[paths$lowest < -float - 1e-9])
  needed <- lowest_levels(play, 7, 0)$needed
  expect_lt(dry_with(needed), 0.01)
  expect_gte(dry_with(needed - 0.5), 0.01)
})

test_that("an evening of visits", {
  t <- takings("lantern-tiles", visits = 3, hours = 2, visit_rounds = 4, float = 10)
  o <- odds("lantern-tiles", engine = "exact")
  expect_equal(t$rows$rounds, 24)
  expect_equal(t$rows$evening, -24 * o$pays$mean)
  expect_equal(t$rows$an_hour, -12 * o$pays$mean)
  expect_equal(t$rows$sd, o$pays$sd * sqrt(24))
  expect_equal(t$rows$hold, o$pays$edge)
  expect_equal(t$rows$worst, 2)
  d <- t$distributions[["lantern-tiles"]]
  expect_equal(sum(d$probability), 1)
  expect_equal(t$rows$losing, sum(d$probability[d$value < 0]))
  expect_gte(sum(d$probability[d$value <= t$rows[["5%"]]]), 0.05)
  expect_lt(sum(d$probability[d$value < t$rows[["5%"]]]), 0.05)
  # no more rounds than there is time for; prizes at half their worth; a cap
  expect_equal(takings("lantern-tiles", visits = 60, hours = 1, visit_rounds = 10, round_seconds = 60)$rows$rounds, 60)
  cheap <- takings("lantern-tiles", visits = 3, hours = 2, visit_rounds = 4, prize_cost = 0.5)$rows
  expect_equal(cheap$evening, 24 * (1 - 0.5 * (1 + o$pays$mean)))
  pays <- o$pay_distributions$guest
  capped <- takings("lantern-tiles", visits = 3, hours = 2, visit_rounds = 4, cap = 1)$rows
  expect_equal(capped$hold_capped, -sum(pmin(pays$value, 1) * pays$probability))
})

test_that("a visit is a sitting where the rules say how long one sits", {
  exact <- takings("moon-wheel", visits = 2, hours = 3, round_seconds = NULL)$rows
  o <- odds("moon-wheel", engine = "exact")
  expect_equal(exact$visits, 6)
  expect_equal(exact$evening, -6 * o$rounds_in_unit * o$pays$mean)
  expect_equal(exact$hold, o$pays$edge)
  final <- o$units$measures
  expect_equal(exact$sd, sqrt(6) * final$sd[final$name == "final wallet[guest]"])
  sampled <- takings("moon-wheel", visits = 2, hours = 3, round_seconds = NULL, engine = "sample",
                     rounds = 20000)$rows
  expect_lt(abs(sampled$evening - exact$evening), 4 * exact$sd / sqrt(6) * 6 / sqrt(20000))
  expect_error(takings("three-bells", engine = "sample", rounds = 100), class = "basanos_rounds_linked")
})

test_that("a mix of visitors", {
  mix <- list(list(weight = 3, players = list(guest = "careful"), stake = 2), list(players = list(guest = "bold")))
  t <- takings("lantern-tiles", visits = 4, hours = 1, visit_rounds = 5, round_seconds = NULL, visitors = mix)$rows
  of <- function(player) odds("lantern-tiles", engine = "exact", players = list(guest = player))$pays
  expect_equal(t$evening, -4 * 5 * (0.75 * 2 * of("careful")$mean + 0.25 * of("bold")$mean))
  second <- function(p) 5 * p$sd^2 + (5 * p$mean)^2
  mean <- t$evening / 4
  expect_equal(t$sd, sqrt(4 * (0.75 * 4 * second(of("careful")) + 0.25 * second(of("bold")) - mean^2)))
  # a wallet: who is ruined leaves early
  poor <- list(list(wallet = 3, stake = "1", goal = 6))
  w <- takings("lantern-tiles", visits = 4, hours = 1, visit_rounds = 40, round_seconds = NULL, visitors = poor)$rows
  b <- bankroll("lantern-tiles", wallet = 3, evening_rounds = 40, goal = 6)
  expect_equal(w$evening, 4 * (3 - b$measures$final))
  expect_equal(w$rounds, 4 * b$measures$rounds)
  out <- at_command_line("takings", "lantern-tiles", "--visitor", "weight=3, guest=careful, stake=2", "--visitor",
                         "guest=bold", "--visits", "4", "--hours", "1", "--visit-rounds", "5", "--format", "csv")$out
  csv <- utils::read.csv(text = out)
  expect_equal(csv$value[csv$kind == "evening"], t$evening)
  expect_error(takings("lantern-tiles", visitors = list(list(purse = 3))), class = "basanos_takings_wrong")
  expect_error(takings("lantern-tiles", visitors = poor, cap = 3), class = "basanos_takings_wrong")
  # at two tokens a stake the same evening is worth twice as much
  rich <- takings("lantern-tiles", visits = 4, hours = 1, visit_rounds = 40, round_seconds = NULL, stake = 2,
                  visitors = list(list(wallet = 6, stake = "1", goal = 12)))$rows
  expect_equal(rich$evening, 2 * w$evening)
  expect_equal(rich$hold, w$hold)
  expect_error(takings("lantern-tiles", stake = 2, visitors = list(list(wallet = 7))), class = "basanos_takings_wrong")
})

test_that("the figure of the till has every chance in it, and marks what lies as far off", {
  skip_if_not_installed("ggplot2")
  for (shows in c(-3, 2, 0)) {
    till <- check_till("lantern-tiles", shows = shows, played = 2)
    bars <- ggplot2::layer_data(ggplot2::autoplot(till), 1)
    expect_equal(sum(bars$y), 1)
    expect_equal(sum(bars$y[bars$fill == shade("ember")]), min(till$at_most, till$at_least))
  }
  expect_match(figure_alt(till), "shows +0 where", fixed = TRUE)
})

test_that("the till against the odds", {
  till <- check_till("lantern-tiles", shows = -40, played = 30)
  o <- odds("lantern-tiles", engine = "exact")
  expect_equal(till$expected, -30 * o$pays$mean)
  d <- o$pay_distributions$guest
  one <- stats::setNames(d$probability, -d$value)
  # four-fold convolution by hand
  four <- check_till("lantern-tiles", shows = -3, played = 2)
  pairs <- expand.grid(a = -d$value, b = -d$value)
  p <- as.vector(outer(d$probability, d$probability))
  expect_equal(four$at_most, sum(p[pairs$a + pairs$b <= -3]))
  expect_equal(four$at_least, sum(p[pairs$a + pairs$b >= -3]))
  expect_identical(till_verdict(0.3), "luck")
  expect_identical(check_till("lantern-tiles", shows = -400, played = 300)$verdict, "not luck")
  expect_error(check_till("two-buckets", shows = 3, played = 10), class = "basanos_no_stake")
  expect_error(check_till("lantern-tiles", shows = "x", played = 10), class = "basanos_takings_wrong")
})

test_that("takings as a command: text, csv, json and a figure", {
  text <- at_command_line("takings", "lantern-tiles", "--with", "buoy-line", "--visits", "4", "--hours", "1", "--cap",
                          "20")$out
  expect_match(text, "runs dry", all = FALSE)
  csv <- utils::read.csv(text = at_command_line("takings", "lantern-tiles", "--format", "csv")$out)
  expect_equal(csv$value[csv$kind == "rounds"], 480)
  json <- jsonlite::fromJSON(paste(at_command_line("takings", "lantern-tiles", "--till", "-60", "--played", "90",
                                                   "--format",
                                                   "json")$out, collapse = "\n"))
  expect_true(all(c("at_most", "at_least", "verdict") %in% names(json)))
  path <- tempfile(fileext = ".svg")
  said <- at_command_line("takings", "lantern-tiles", "--visits", "4", "--figure", path)
  expect_identical(said$code, 0L)
  expect_gt(file.size(path), 2000)
  expect_identical(at_command_line("takings", "two-buckets")$code, 2L)
  expect_match(at_command_line("check", "lantern-tiles", "--measure", "x")$said, "no option here")
})

# A lamp: one token, half of it into a pot that a ninth of the rounds pay out; the pot starts with four again.
lamp <- function(lasts = "always", more = NULL) {
  game_of("seats(guest)", "tokens(piece = 0.5)", sprintf("glow <- pot(4, lasts = %s)", lasts), "bets(guest, lamp = 1)",
          "state(won = no)", "play({ move(0.5, from = lamp, to = glow)", "won <- chance(1 / 9)",
          "if (won) share(glow, among = guest) })", "outcomes(lit = won, dark = otherwise)",
          "settle(lamp, otherwise = lost)", more)
}

test_that("what is fed to a pot that lasts is not the stall's", {
  t <- takings(lamp(), visits = 6, hours = 5, visit_rounds = 4, float = 10)
  wins <- 0:120
  chances <- stats::dbinom(wins, 120, 1 / 9)  # each of 120 rounds leaves a half, and a win costs the new seed
  evening <- 120 / 2 - 4 * wins
  expect_equal(t$rows$evening, sum(evening * chances))
  expect_equal(t$rows$losing, sum(chances[evening < 0]))
  expect_equal(t$rows$hold, 1 / 2 - 4 / 9)
  expect_equal(t$rows$worst, 3.5)
  expect_identical(t$set_aside, "glow")
  expect_match(format(t), "Set aside for who wins it.*`glow`", all = FALSE)
  expect_equal(check_till(lamp(), shows = -10, played = 120)$at_most, sum(chances[evening <= -10]))
  # The till itself, less what the pot holds, over evenings that are played.
  set.seed(3)
  left <- replicate(4000, {
    won <- stats::runif(120) < 1 / 9
    pot <- 4
    till <- 0
    for (w in won) {
      pot <- pot + 0.5
      till <- till + 1 - if (w) pot else 0
      if (w) pot <- 4
    }
    till - (pot - 4)
  })
  expect_lt(abs(mean(left) - t$rows$evening), 4 * stats::sd(left) / sqrt(4000))
  expect_lt(abs(mean(left < 0) - t$rows$losing), 0.03)
  in_sittings <- takings(lamp(more = "sitting(rounds = 4)"), visits = 6, hours = 5, engine = "sample",
                         rounds = 2e5)
  expect_lt(abs(in_sittings$rows$evening - t$rows$evening), 0.15 * t$rows$sd)
  expect_equal(in_sittings$rows$sd, t$rows$sd, tolerance = 0.02)
  expect_length(takings(lamp("round"), visits = 6, hours = 5)$set_aside, 0)
  expect_equal(takings(lamp("round"), visits = 6, hours = 5, visit_rounds = 4)$rows$hold, 1 - 4.5 / 9)
})

test_that("the return in the long run is a measure, and what cannot be told of pots that last is refused", {
  asked <- c("long_run_return(guest)", "return_of(guest)", "long_run_edge(guest)")
  o <- odds(lamp(), measure = asked)
  expect_equal(o$measures$value, c(1 / 2 + 4 / 9, 4.5 / 9, 1 / 2 - 4 / 9))
  expect_equal(o$measures$value[[1]], o$pots$long_run_return)
  expect_identical(odds(lamp(), measure = asked[[2]])$hash, odds(lamp())$hash)
  sampled <- odds(lamp(), engine = "sample", rounds = 20000, measure = asked)$measures
  expect_true(sampled$lower[[1]] < 17 / 18 && 17 / 18 < sampled$upper[[1]])
  plain <- odds("lantern-tiles", measure = asked)$measures$value
  expect_identical(plain[[1]], plain[[2]])
  expect_error(takings(lamp(), visitors = list(list(wallet = 20))), class = "basanos_takings_wrong")
})

test_that("a cap is one on a round, at the stake that is played", {
  o <- odds("lantern-tiles", engine = "exact")$pay_distributions$guest
  capped <- takings("lantern-tiles", visits = 3, hours = 2, visit_rounds = 4, stake = 2, cap = 2)$rows
  expect_equal(capped$hold_capped, -sum(pmin(o$value, 1) * o$probability))
  expect_error(takings("moon-wheel", cap = 5), class = "basanos_takings_wrong")
})

test_that("seats that play each other leave the stall nothing; of several that bet all count", {
  duel <- c("seats(a, b)", "cube <- die(1:6)", "state(x = 0, y = 0)", "glow <- pot(0)",
            "play({ stake(a, 1, on = glow)", "stake(b, 1, on = glow)", "x <- roll(cube)", "y <- roll(cube)",
            "if (x > y) share(glow, among = a) else share(glow, among = b) })",
            "outcomes(a_wins = x > y, b_wins = otherwise)")
  t <- takings(game_of(duel), visits = 2, hours = 1, visit_rounds = 3)$rows
  expect_equal(c(t$evening, t$sd, t$losing, t$hold), c(0, 0, 0, 0))
  # as the house, one who plays seat b is the stall's own
  own <- takings(game_of(duel), visits = 2, hours = 1, visit_rounds = 3, seat = "a")$rows
  expect_equal(own$evening, 6 * (21 - 15) / 36)
  wheel <- game_of("seats(a, b)", "cube <- die(1:6)", "state(n = 0)", "bets(a, low = 1)", "bets(b, high = 2)",
                   "play({ n <- roll(cube) })", "outcomes(up = n > 3, down = otherwise)",
                   "settle(low, down = 1 %to% 2, otherwise = lost)", "settle(high, up = 1 %to% 2, otherwise = lost)")
  both <- takings(wheel, visits = 1, hours = 1, visit_rounds = 1, round_seconds = NULL)
  expect_equal(both$rows$evening, 0.5 * (2 - 0) + 0.5 * (1 - 1) - 0 * 1)
  take <- c(1 - 1, 2 - 0)  # high wins: b is paid 1, a loses 1; low wins: a is paid 0 (half a piece), b loses 2
  expect_equal(both$rows$sd, sqrt(mean((take - mean(take))^2)))
  stakes <- game_of("seats(a, b)", "cube <- die(1:6)", "state(n = 0)", "stakes(everyone, 1)",
                    "play({ n <- roll(cube) })", "outcomes(up = n > 3, down = otherwise)",
                    "pays(a, up = 0.5, down = -1)", "pays(b, up = -1, down = 0.75)")
  expect_equal(takings(stakes, visits = 1, hours = 1, visit_rounds = 1)$rows$evening, (0.5 + 0.25) / 2)
  expect_match(format(both), "visitors take a, b", all = FALSE)
})

test_that("values without a small common part are added up exactly, or it is said that they are rounded", {
  ten <- game_of("seats(guest)", "stakes(guest, 1)", "state(won = no)", "play({ won <- chance(0.5) })",
                 "outcomes(win = won, lose = otherwise)", "pays(guest, win = 10 / 11, lose = -1)")
  till <- check_till(ten, shows = 0, played = 21)
  expect_equal(till$at_least, stats::pbinom(11, 21, 0.5))
  expect_equal(till$at_most, stats::pbinom(10, 21, 0.5, lower.tail = FALSE))
  # far tails keep their digits
  wins <- 0:2200
  taken <- (2200 - wins) - wins * 10 / 11
  for (shows in c(-700, -300, 400, 900)) {
    far <- check_till(ten, shows = shows, played = 2200)
    expect_equal(far$at_most / sum(stats::dbinom(wins[taken <= shows + 1e-6], 2200, 0.5)), 1, tolerance = 1e-6)
    expect_equal(far$at_least / sum(stats::dbinom(wins[taken >= shows - 1e-6], 2200, 0.5)), 1, tolerance = 1e-6)
  }
  expect_null(common_step(c(pi, 1)))
  expect_equal(common_step(c(1 / 3, -0.5)), 1 / 6)
  rounded <- takings(game_of("seats(guest)", "stakes(guest, 1)", "state(won = no)", "play({ won <- chance(0.5) })",
                             "outcomes(win = won, lose = otherwise)", "pays(guest, win = sqrt(2) - 1, lose = -1)"),
                     visits = 1, hours = 1)
  expect_true(rounded$rounded)
  expect_match(format(rounded), "rounded to 0.0001", all = FALSE)
  expect_no_match(paste(format(rounded), collapse = " "), "Counted exactly")
})

test_that("the evening of visitors who play as well as can be is told where it is found quickly", {
  bold <- takings("lantern-tiles", players = list(guest = "bold"), stake = 2)
  best <- takings("lantern-tiles", players = list(guest = "best"), stake = 2)
  expect_equal(bold$rows$evening_best, best$rows$evening, tolerance = 1e-9)
  expect_equal(best$rows$evening_best, best$rows$evening, tolerance = 1e-9)
  expect_match(format(bold), sprintf("plays as well as can be, the evening comes to %.1f", best$rows$evening),
               all = FALSE)
  expect_no_match(paste(format(best), collapse = " "), "as well as can be")
  expect_true(is.na(takings("lantern-tiles", cap = 1)$rows$evening_best))
  expect_true(is.na(takings("lantern-tiles", prize_cost = 0.5)$rows$evening_best))
  # nobody decides anything
  tossed <- game_of("seats(guest)", "stakes(guest, 1)", "state(won = no)", "play({ won <- chance(0.5) })",
                    "outcomes(win = won, lose = otherwise)", "pays(guest, win = 0.9, lose = -1)")
  expect_true(is.na(takings(tossed, visits = 1, hours = 1)$rows$evening_best))
})
