# Measures: one way to name a quantity, for odds, precision and comparison.

value_of_measure <- function(o, name) o$measures$value[match(name, o$measures$name)]

test_that("measures of expressions agree with the distributions they are taken from", {
  asked <- c("mean(tiles)", "sd(tiles)", "quantile(tiles, 0.9)", "lowest(tiles)", "highest(tiles)",
             "probability(tiles > 7)", "probability(outcome == bright)", "mean(guest_tiles * 2)")
  o <- odds("lantern-tiles", engine = "exact", measure = asked)
  d <- o$distributions$tiles
  expect_equal(value_of_measure(o, "mean(tiles)"), o$records$mean[o$records$name == "tiles"])
  expect_equal(value_of_measure(o, "sd(tiles)"), o$records$sd[o$records$name == "tiles"])
  expect_equal(value_of_measure(o, "quantile(tiles, 0.9)"), d$value[which(cumsum(d$probability) >= 0.9)[[1]]])
  expect_equal(value_of_measure(o, "lowest(tiles)"), min(d$value))
  expect_equal(value_of_measure(o, "highest(tiles)"), max(d$value))
  expect_equal(value_of_measure(o, "probability(tiles > 7)"), sum(d$probability[d$value > 7]))
  expect_equal(value_of_measure(o, "probability(outcome == bright)"), o$outcomes$probability[[1]])
  expect_equal(value_of_measure(o, "mean(guest_tiles * 2)"), 2 * o$records$mean[o$records$name == "guest_tiles"])
  expect_identical(o$records$name, odds("lantern-tiles", engine = "exact")$records$name)  # what is asked adds no record
})

test_that("records are measured by name, one of a seat by the seat too, also where a function or a die is so called", {
  g <- game_of("seats(north, south)", "cube <- die(1:6)", "state(v = each(seat, 0))",
               "play({ v[north] <- roll(cube); v[south] <- roll(cube) })",
               "twice <- function(s) v[s] * 2", "outcomes(win = v[north] > v[south], lose = otherwise)",
               "record(face = v[it], twice = twice(it), cube = max(v[north], v[south]))")
  o <- odds(g, engine = "exact", measure = c("mean(face[north])", "probability(twice[south] > 8)", "highest(cube)",
                                    "mean(face[north] - twice[south])"))
  expect_equal(o$measures$value, c(3.5, 1 / 3, 6, -3.5))
  expect_error(odds(g, engine = "exact", measure = "mean(face[cube])"), class = "basanos_error")
  b <- balance_game("net-menders", "probability(outcome == north_wins) at least 0.3", "turns_each in 7, 8",
                    engine = "sample", rounds = 300, answers = 1, slip = 0)
  expect_gt(b$answers[[1]]$elsewhere[["mean(mended[north])"]], 4)
})

test_that("measures of money agree with pays and bets", {
  o <- odds("bell-cards", engine = "sample", rounds = 4000,
            measure = c("mean_pay(guest)", "put_in(guest)", "return_of(guest)", "edge(guest)", "edge_per_token(guest)",
                        "hit(chime)", "gain(chime)", "volatility(chime)", "decided_edge(chime)", "return_of(raise)",
                        "breakage(raise)"))
  chime <- o$bets[o$bets$bet == "chime", ]
  expect_equal(o$measures$value, c(o$pays$mean, o$pays$put_in, o$pays$return, o$pays$edge, o$pays$edge_per_token,
                                   chime$hit, chime$gain, chime$volatility, chime$decided_edge,
                                   o$bets$return[o$bets$bet == "raise"], 0))
  expect_equal(o$measures$lower[[3]], o$pays$return_lower)
  expect_equal(c(o$measures$lower[[4]], o$measures$upper[[4]]), c(o$pays$edge_lower, o$pays$edge_upper))
  expect_gt(o$pays$edge_upper, 1 - o$pays$return_lower)  # a raise makes first stakes less than all that is put in
  expect_equal(o$measures$upper[[10]], o$bets$return_upper[o$bets$bet == "raise"])
})

test_that("a stake that never changes needs no bets", {
  o <- odds("lantern-tiles", engine = "sample", rounds = 5000,
            measure = c("edge(guest)", "return_of(guest)", "hit(guest)", "gain(guest)", "volatility(guest)"))
  pays <- o$pay_distributions$guest
  expect_equal(o$measures$value, c(o$pays$edge, o$pays$return, sum(pays$probability[pays$value > -1]),
                                   sum(pays$probability[pays$value > 0]),
                                   1.645 * o$pays$sd * sqrt(4999 / 5000)), tolerance = 1e-9)
  expect_equal(o$measures$lower[[1]], -o$pays$upper)
  expect_equal(o$measures$upper[[2]], o$pays$return_upper)
})

even_odds_game <- function(chance) {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "state(won = no)", "stakes(guest, 1)", sprintf("play({ won <- chance(%s) })", chance),
               "outcomes(win = won, loss = otherwise)", "pays(guest, win = 1, loss = -1)"), path)
  path
}

test_that("the share of what comes back that large prizes are", {
  prizes <- game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "stakes(guest, 1)",
                    "play({ face <- roll(cube) })", "outcomes(six = face == 6, five = face == 5, less = otherwise)",
                    "pays(guest, six = 5, five = 1, less = -1)")
  asked <- sprintf("prize_share(guest, %d)", c(0, 2, 3, 6, 7))  # 6 comes back for a six, 2 for a five
  expect_equal(odds(prizes, measure = asked)$measures$value, c(1, 1, 6 / 8, 6 / 8, 0))
  sampled <- odds(prizes, engine = "sample", rounds = 20000, measure = asked)$measures
  expect_true(sampled$lower[[3]] < 3 / 4 && 3 / 4 < sampled$upper[[3]])
  expect_lt(sampled$upper[[3]] - sampled$lower[[3]], 0.03)
  # Half a token for the moon, one for an eight, two for seven numbers: of bets in sittings no interval.
  wheel <- odds("moon-wheel", engine = "sample", rounds = 20000, measure = "prize_share(spot, 2)")$measures
  expect_equal(wheel$value, 14 / 15.5, tolerance = 0.01)
  expect_identical(wheel$lower, NA_real_)
  never <- game_of("seats(guest)", "state(n = 0)", "stakes(guest, 1)", "play({ n <- 1 })", "outcomes(all = otherwise)",
                   "pays(guest, all = -1)")
  expect_identical(odds(never, measure = "prize_share(guest, 1)")$measures$value, NA_real_)
})

test_that("runs of losses", {
  o <- odds(even_odds_game("18 / 37"), engine = "exact",
            measure = c("losing_run(guest, 6, 100)", "longest_losing_run(guest, 100)",
                                                            "losing_run(guest, length = 1, rounds = 1)"))
  expect_equal(o$measures$value[[1]], 0.597265805069, tolerance = 1e-11)
  expect_equal(o$measures$value[[3]], 19 / 37)
  longest <- sum(vapply(1:100, function(l) chance_of_run(19 / 37, 100, l), 0))
  expect_equal(o$measures$value[[2]], longest, tolerance = 1e-8)
  # a round that comes out even neither ends nor lengthens a run: two of three count half the time
  even <- list(rounds = list(put = 1, net = c(-1, 0, 1), weight = c(1, 2, 1)))
  chance <- function(n) if (n < 2) 0 else NULL
  expect_equal(chance_of_losing_run(even, 2, 2), 1 / 16)
  expect_equal(chance_of_losing_run(even, 3, 2), 1 / 16 + 2 * (1 / 16 * 1 / 2) + 1 / 4 * 1 / 16)
})

test_that("measures of a sitting", {
  o <- odds("moon-wheel", engine = "sample", rounds = 3000, players = list(guest = "chasing"),
            measure = c("ruin(guest)", "losing(guest)", "goal()", "mean(rounds)", "quantile(final_wallet(guest), 0.05)",
                        "mean(lowest_wallet(guest))", "mean(drawdown(guest))", "edge(spot)"))
  shares <- stats::setNames(o$units$shares$probability, o$units$shares$name)
  expect_equal(o$measures$value[1:3], unname(shares[c("ruined[guest]", "losing[guest]", "goal")]))
  expect_equal(o$measures$value[[4]], o$units$rounds$mean)
  kept <- stats::setNames(o$units$measures$mean, o$units$measures$name)
  expect_equal(o$measures$value[6:7], unname(kept[c("lowest wallet[guest]", "drawdown[guest]")]))
  expect_true(all(o$measures$lower <= o$measures$value & o$measures$value <= o$measures$upper))
  expect_gte(o$measures$value[[8]], o$measures$lower[[8]])
  expect_error(odds("moon-wheel", engine = "exact", measure = "mean(drawdown(guest))"), class = "basanos_measure_wrong")
})

test_that("the fall of a wallet from an earlier high", {
  walk <- function(chance) {
    path <- tempfile(fileext = ".game")
    writeLines(c("seats(guest)", "state(won = no)", "state(high = 1000, low = 0, lasts = sitting)",
                 "bets(guest, line = 1)", "wallet(guest, 1000)",
                 "play({", sprintf("won <- chance(%s)",
                                   chance), "high <- max(high, wallet(guest) + (if (won) 2 else 0))",
                 "})", "outcomes(win = won, loss = otherwise)", "settle(line, win = 1 %to% 1, otherwise = lost)",
                 "sitting(until = wallet(guest) <= high - 10)"), path)
    path
  }
  even <- odds(walk("0.5"), engine = "sample", rounds = 20000, measure = c("mean(rounds)", "mean(drawdown(guest))"))
  expect_equal(even$measures$value[[2]], 10)
  expect_lt(even$measures$lower[[1]], 110)
  expect_gt(even$measures$upper[[1]], 110)
  down <- odds(walk("0.48"), engine = "sample", rounds = 20000, measure = "mean(rounds)")
  expect_lt(down$measures$lower, 84.741132142559)
  expect_gt(down$measures$upper, 84.741132142559)
})

test_that("sampling to a precision of a measure, and comparing measures", {
  o <- odds("lantern-tiles", precision = 0.01, measure = "edge(guest)")
  expect_lte(o$reached$width, 0.01)
  expect_identical(o$reached$measure, "edge(guest)")
  asked <- c("edge(guest)", "return_of(raise)", "probability(kind == pair)", "sd(pay[guest])")
  rows <- compare_games("bell-cards", "bell-cards", rounds = 4000, engine = "sample", set_new = list(qualifies_at = 8),
                        measure = asked)$rows
  rows <- rows[rows$kind == "measure", ]
  one <- odds("bell-cards", engine = "sample", rounds = 4000, measure = asked)$measures$value
  two <- odds("bell-cards", engine = "sample", rounds = 4000, measure = asked,
              set = list(qualifies_at = 8))$measures$value
  expect_equal(rows$old, one)
  expect_equal(rows$difference, two - one)
  expect_true(all(is.finite(rows$lower[1:2])))
  expect_true(rows$lower[[1]] < rows$difference[[1]] && rows$difference[[1]] < rows$upper[[1]])
  expect_true(is.na(rows$lower[[4]]))
  exact <- compare_games("buoy-line", "buoy-line", set_new = list(laid_behind = 0), measure = "edge(line)")
  expect_identical(exact$engine, "exact")
  expect_equal(exact$rows$difference[exact$rows$kind == "measure"], 0)
})

test_that("what is no measure of this game is refused, with what it could be", {
  wrong <- function(measure, hint, game = "lantern-tiles") {
    e <- expect_error(odds(game, engine = "sample", rounds = 10, measure = measure), class = "basanos_measure_wrong")
    expect_match(conditionMessage(e), hint, fixed = TRUE)
  }
  wrong("edg(guest)", "did you mean `edge`?")
  wrong("edge", "write edge(guest)")
  wrong("edge(gest)", "did you mean `guest`?")
  wrong("quantile(tiles)", "write quantile(tiles, 0.9)")
  wrong("quantile(tiles, 2)", "a number from 0 to 1")
  wrong("goal(3)", "is about nothing")
  wrong("mean(kind)", "probability(kind == pair)", "bell-cards")
  wrong("probability(tiles)", "is not a condition")
  wrong("ruin(guest)", "is not a seat with a wallet")
  wrong("edge(left)", "puts nothing in", "tide-signs")
  expect_error(odds("lantern-tiles", measure = "mean(tils)"), class = "basanos_unknown_name")
  expect_identical(measures()$name, names(measure_words))
  expect_true(all(nzchar(measures()$unit)))
  help <- paste(at_command_line("odds", "--help")$out, collapse = "\n")
  for (example in measures()$example) expect_match(help, paste0("  ", example), fixed = TRUE)
  expect_match(at_command_line("sweep", "--help")$out, "`basanos odds --help` lists them", all = FALSE)
  for (example in measures()$example[measures()$name %in% c("mean", "quantile", "edge",
                                                                                        "losing_run")])
    expect_no_error(odds("lantern-tiles", engine = "sample", rounds = 50, measure = example))
})

test_that("every answer of a decision, side by side", {
  each <- odds_by_answer("moon-wheel", "field", set = list(spins = 2))
  expect_identical(each$engine, "exact")
  expect_equal(nrow(each$rows), 19)
  rows <- each$rows[match(c("7", "reef", "low", "even"), each$rows$answer), ]
  expect_equal(rows$return, c(15 / 16, 15 / 16, 31 / 32, 7 / 8))
  expect_equal(rows$hit, c(1, 5, 9, 7) / 16)
  expect_equal(rows$volatility[[1]], 1.645 * sqrt(15^2 / 16 - (15 / 16)^2))
  cards <- odds_by_answer("bell-cards", "choice", engine = "sample", rounds = 2000)
  expect_setequal(cards$rows$answer, c("fold", "single", "double"))
  expect_match(paste(format(cards), collapse = "\n"), "95% interval")
  expect_error(odds_by_answer("moon-wheel", "amount"), class = "basanos_each_decision")
  figure <- tempfile(fileext = ".svg")
  at_command_line("odds", "bell-cards", "--each", "choice", "--engine", "sample", "--rounds", "500", "--figure", figure)
  expect_gt(file.size(figure), 2000)
  said <- at_command_line("odds", "moon-wheel", "--each", "field", "--set", "spins=2", "--format", "csv")
  csv <- utils::read.csv(text = said$out)
  expect_equal(csv$value[csv$kind == "return"], each$rows$return)
})

test_that("what comes back for each value, and given a condition", {
  o <- odds("bell-cards", engine = "sample", rounds = 5000, by = "kind")
  money <- o$crossed_money
  chime <- money[money$kind == "bet" & money$name == "chime", ]
  expect_equal(chime$return[match(c("plain", "suited", "pair", "run"), chime$value)], c(0, 1, 5, 7))
  given <- odds("bell-cards", engine = "sample", rounds = 5000, given = "kind == pair")
  expect_equal(given$pays$return, money$return[money$value == "pair" & money$kind == "seat"])
  expect_equal(sum(chime$share * chime$return), o$bets$return[o$bets$bet == "chime"])
  exact <- odds("moon-wheel", engine = "exact", by = "moon", set = list(spins = 3))$crossed_money
  expect_equal(exact$return[exact$kind == "bet"], c(1, 0.5)[match(exact$value[exact$kind == "bet"], c("no", "yes"))])
})
