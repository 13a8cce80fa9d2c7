# Conditions that are given, crossings, more records, positions.

tiles <- function(...) odds("lantern-tiles", engine = "exact", ...)

test_that("given a condition the odds are those of Bayes", {
  all <- tiles(by = "guest_total")
  given <- tiles(given = "guest_total > 20")
  within <- all$crossed[all$crossed$value > 20, ]
  expect_equal(given$given_share, sum(within$probability))
  expect_equal(probabilities(given),
               vapply(given$outcomes$name, function(o) sum(within$probability[within$outcome == o]),
                      0) / sum(within$probability))
  lost <- tiles(given = "guest_bust || keeper_high")
  expect_equal(lost$pays$mean, -1)
  expect_equal(tiles(given = "guest_bust")$outcomes$probability[[2]], 1)
  expect_equal(odds("tide-signs", engine = "exact", given = "wins")$outcomes$probability, c(0.5, 0.5,
                                                                                            0))  # both seats' wins
  sampled <- odds("lantern-tiles", engine = "sample", rounds = 2e5, given = "guest_total > 20")
  expect_lt(max(abs(sampled$outcomes$probability - given$outcomes$probability) / pmax(sampled$outcomes$standard_error,
    1e-9)), 4)
  expect_equal(sampled$given_share, given$given_share, tolerance = 0.02)
  expect_match(format(given), "given     guest_total > 20 \\(.*% of rounds\\)", all = FALSE)
})

test_that("in matches the rounds given are counted over all rounds", {
  o <- odds("five-winds", engine = "sample", rounds = 2e4, given = "draw")
  expect_equal(o$given_share, 0.2, tolerance = 0.02)
  expect_equal(o$outcomes$probability, c(0, 0, 1))
})

test_that("crossing adds up to the outcomes, for numbers, names and yes or no", {
  o <- tiles(by = "guest_tiles")
  expect_equal(as.vector(tapply(o$crossed$probability, factor(o$crossed$outcome, o$outcomes$name), sum)),
               o$outcomes$probability)
  expect_equal(as.vector(tapply(o$crossed$probability, o$crossed$value, sum)), o$distributions$guest_tiles$probability)
  expect_identical(o$records$name, c("tiles", "guest_tiles", "keeper_tiles"))
  signs <- odds("tide-signs", engine = "exact", by = "throw[left]")
  expect_setequal(signs$crossed$value, c("reef", "boat", "squall"))
  expect_equal(signs$crossed$probability, rep(1 / 9, 9))
  expect_setequal(tiles(by = "guest_total > 24")$crossed$value, c("yes", "no"))
  below <- odds(game_with("result <- roll(cube) - 3"), engine = "exact", by = "result")
  expect_equal(below$crossed$value, -2:3)
  expect_error(tiles(by = "guest_total / 2"), class = "basanos_wrong_type")
  many <- odds(game_with("result <- pick(1:90)", "cube2 <- die(1:2)"), engine = "exact", by = "result")
  expect_match(format(many), "and 50 more values", all = FALSE)
})

test_that("more is recorded without touching the file", {
  o <- tiles(record = c(gap = "abs(guest_total - keeper_total)", "late = turns_so_far > 0")[1])
  expect_identical(utils::tail(o$records$name, 1), "gap")
  two <- tiles(record = c("gap = guest_total - keeper_total", "over = guest_total > 24"))
  expect_equal(two$records$mean[[5]], two$outcomes$probability[[2]])  # over the aim is bust
  counted <- odds("high-water", engine = "sample", rounds = 1000, record = "n = turns_played")
  expect_gt(counted$records$mean[[nrow(counted$records)]], 2)
  expect_error(tiles(record = "gap"), class = "basanos_name_wanted")
  expect_error(tiles(record = "gap = guest_totl"), class = "basanos_unknown_name")
  expect_error(tiles(record = 3), class = "basanos_argument_wrong")
})

test_that("from a position the odds of each answer come by first principles", {
  # a die is seen, then thrown again or kept: a six wins
  g <- game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0, thrown = 0)",
               paste0("play({ repeat { face <- roll(cube)\n add(1, to = thrown)\n ask(guest, choice = ",
                      "one_of(keep, again))\n if (choice == keep || thrown == 3) break } })"),
    "outcomes(six = face == 6, other_face = otherwise)", "pays(guest, six = 4, other_face = -1)",
    "choosy <- player(choice = if (face >= 5) keep else again)", "lazy <- player(choice = keep)")
  first <- odds(g, engine = "exact", at = "thrown = 1, face = 2")
  again <- 1 / 6 + 4 / 6 * 1 / 6  # six at once, or below five and six then; a five is kept
  expect_equal(first$outcomes$probability[[1]], again)
  expect_equal(first$position$reached, 1 / 6)
  expect_identical(first$answers$answer, c("again", "keep"))  # the better one first
  expect_equal(first$answers$six, c(again, 0))
  expect_equal(first$answers[["pay of guest"]], c(5 * again - 1, -1))
  last <- odds(g, engine = "exact", at = "choice: thrown = 2, face < 5")
  expect_equal(last$answers$six, c(1 / 6, 0))
  # the lazy player never comes to a second throw: it is reached by any legal answers
  off <- odds(g, engine = "exact", at = "thrown = 2, face = 6", players = list(guest = "lazy"))
  expect_true(off$position$wandered)
  expect_equal(off$answers$six, c(1, 1 / 6))
  expect_match(format(off), "the players were not seen to come there", all = FALSE)
  sampled <- odds(g, engine = "sample", rounds = 1e5, at = "thrown = 1, face = 2")
  expect_lt(abs(sampled$outcomes$probability[[1]] - again) / sampled$outcomes$standard_error[[1]], 4)
  expect_error(odds(g, at = "face = 9"), class = "basanos_position_never")
  expect_error(odds(g, at = "faces = 9"), class = "basanos_unknown_name")
})

test_that("numbers, letters and words may be the answers there", {
  pebbles <- odds("last-pebble", engine = "exact", at = "left = 2", players = list(first = "wild", second = "wild"))
  expect_identical(pebbles$answers$answer, c("1", "2"))  # three cannot be taken
  well <- odds("deep-well", engine = "exact", set = list(top = 20, tries = 3), at = "used = 0")
  # with k numbers below and 20 - 1 - k above, halving finds at most 3 on each side with two guesses left
  below <- 0:19
  expect_setequal(well$answers$answer, as.character(1:20))
  expect_equal(well$answers$found[match(1:20, well$answers$answer)], (1 + pmin(below, 3) + pmin(19 - below, 3)) / 20)
  expect_false(is.unsorted(-well$answers$found))
  many <- odds("deep-well", engine = "exact", at = "used = 0")
  expect_equal(nrow(many$answers), 100)
  expect_null(many$answers[["legal in"]])
  letters_there <- odds("sunken-name", engine = "sample", rounds = 200, at = "size(tried) == 1")$answers
  expect_true(all(letters_there$answer %in% letters))
  expect_lt(min(letters_there[["legal in"]]), 1)  # the letter tried first is not legal again
  expect_true(all(letters_there[["legal in"]] > 0))
})

test_that("an answer that is not legal there is left out, and cards in hand can be told", {
  o <- odds("lantern-twenty-one", engine = "sample", rounds = 4000, at = "action: size(hand) == 2")
  expect_setequal(o$answers$answer, c("hit", "stand", "double"))
  later <- odds("lantern-twenty-one", engine = "sample", rounds = 4000, at = "action: size(hand) == 3")
  expect_setequal(later$answers$answer, c("hit", "stand"))
  held <- odds("lantern-twenty-one", engine = "sample", rounds = 2e4, at = "action: hand = c(10, 6)")
  expect_gt(held$answers$guest_bust[held$answers$answer == "hit"], 0.5)
  expect_error(odds("lantern-twenty-one", at = "worth(hand) == 16"), class = "basanos_position_none")
})

test_that("what a round ended with and what it pays can be recorded, claimed and asked", {
  rules <- function(...) game_of("seats(a, b)", "cube <- die(1:6)", "state(x = each(seat, 0))",
    "play({ for (s in seats) x[s] <- roll(cube) })", "outcomes(wins = leader(x[it]), draw = otherwise)",
    "pays(winner, max(x))", "pays(others, -1)", ...)
  game <- rules("record(won = outcome == a_wins, any_won = wins, got = pay[it], most = max(pay))",
                "record(level = outcome != wins)",
                'always("paid by the face", draw || max(pay) == max(x))', 'never("twice", pay[a] > 0 && pay[b] > 0)')
  for (engine in c("exact", "sample")) {
    means <- odds(game, engine = engine, rounds = 2e4)$records
    means <- stats::setNames(means$mean, means$name)
    by_hand <- expand.grid(a = 1:6, b = 1:6)
    pay_a <- with(by_hand, ifelse(a > b, a, ifelse(a < b, -1, 0)))
    pay_b <- with(by_hand, ifelse(b > a, b, ifelse(b < a, -1, 0)))
    expected <- c(won = 15 / 36, any_won = 30 / 36, "got[a]" = mean(pay_a), "got[b]" = mean(pay_b),
                  most = mean(pmax(pay_a, pay_b)), level = 1 / 6)
    expect_equal(means[names(expected)], expected, tolerance = if (engine == "exact") 1e-12 else 0.05)
  }
  expect_true(check_game(game)$ok)
  expect_false(check_game(rules('never("six", pay[a] == 6)'))$ok)
  expect_error(rules('never("six", pay[a] == 6, when = turn)'), class = "basanos_claim_when")
  expect_equal(odds(rules(), given = "pay[a] == 6")$given_share, 5 / 36)
  expect_equal(odds(rules(), given = "outcome %in% c(draw, b_wins)")$given_share, 21 / 36)
  paid <- odds(rules(), by = "pay[b]")$crossed
  expect_equal(sum(paid$probability[paid$value == 5]), 4 / 36)
  expect_equal(odds("lantern-tiles", given = "pay > 0")$given_share,
               with(odds("lantern-tiles", by = "pay")$crossed, sum(probability[as.numeric(value) > 0])))
  for (wrong in c("outcome", "outcome == tie", "wins && outcome > 2"))
    expect_error(odds(rules(), given = wrong), class = "basanos_error")
  expect_error(odds("dice-duel", given = "pay > 0"), class = "basanos_unknown_name")
  found <- trace_round(rules(), where = "pay[a] == 6")
  expect_equal(found$pays[["a"]], 6)
})

test_that("shares by value have their errors in every format, rare shares keep digits, pays have distributions", {
  o <- odds("lantern-tiles", engine = "sample", rounds = 1e4, by = "guest_total")
  all <- o$crossed
  expect_equal(stats::ave(all$within, all$value, FUN = sum), rep(1, nrow(all)))
  n <- tapply(all$probability, all$value, sum) * 1e4
  expect_equal(all$within_standard_error, sqrt(all$within * (1 - all$within) / n[as.character(all$value)]),
               ignore_attr = TRUE)
  expect_match(paste(format(o), collapse = "\n"), "[+]- .*with one standard error")
  by <- subset(as.data.frame(o), kind == "outcome" & !is.na(by))
  expect_equal(by$standard_error, all$within_standard_error)  # of the value, which is the share within
  expect_true("standard_error" %in% names(jsonlite::fromJSON(result_json(o))$crossed))
  expect_null(odds("lantern-tiles", engine = "exact", by = "guest_total")$crossed$standard_error)
  pays <- subset(as.data.frame(odds("lantern-tiles", engine = "exact"), distributions = TRUE), kind == "pay")
  expect_equal(sum(pays$value * pays$at), odds("lantern-tiles", engine = "exact")$pays$mean)
  expect_equal(percent_text(c(1.234e-7, -1e-9, 0, 0.5), 2), c("0.000012%", "-0.0000001%", "0.00%", "50.00%"))
  yes <- odds(game_of("seats(a)", "cube <- die(1:6)", "state(n = 0)", "play({ n <- roll(cube) })",
                      "outcomes(over = otherwise)", "record(six = n == 6, n = n)"))
  expect_equal(yes$records$type, c("yes or no", "number"))
  expect_match(paste(format(yes), collapse = "\n"), "record +share +one in\n *six +16.6667% +6.00")
})

test_that("a record of a word without its arguments is refused in plain words", {
  for (word in c("count()", "most()", "sum()", "place_of()"))
    expect_error(game_of("seats(a)", "play({ n <- 1 })", "outcomes(over = otherwise)", sprintf("record(n = %s)", word)),
                 class = "basanos_error")
})

test_that("a rare position is set, not waited for, and what is not said is drawn as it would be", {
  # 1 hand in choose(52, 5); of two nines and three others, three new cards make four in 45 of choose(47, 3) ways
  held <- odds("salt-draw", engine = "sample", rounds = 2e4,
               at = 'hand = c("9 cups", "9 coins", "2 cups", "5 swords", "K clubs")')
  expect_equal(held$position$reached, 1 / choose(52, 5))
  keeps_nines <- held$answers[held$answers$answer == "2 cups, 5 swords, K clubs", ]
  expect_lt(abs(keeps_nines$four - 45 / choose(47, 3)), 4 * sqrt(45 / choose(47, 3) / 6250))
  expect_equal(nrow(held$answers), 32)
  # against the exact count, of one condition and of several
  for (at in c("guest_total = 16", "guest_total = 16, guest_tiles == 2", "guest_total > 20")) {
    exact <- odds("lantern-tiles", engine = "exact", at = at)
    sampled <- odds("lantern-tiles", engine = "sample", rounds = 4e4, at = at)
    expect_equal(sampled$position$reached, exact$position$reached, info = at)
    z <- (sampled$outcomes$probability - exact$outcomes$probability) / sampled$outcomes$standard_error
    expect_lt(max(abs(z[is.finite(z)])), 4)
    expect_equal(sampled$answers[["pay of guest"]], exact$answers[["pay of guest"]], tolerance = 0.1)
  }
  bluff <- odds("lantern-bluff", engine = "sample", rounds = 4e4, at = "raises = 1")
  expect_equal(bluff$position$reached, odds("lantern-bluff", engine = "exact", at = "raises = 1")$position$reached)
  # a place of several, and a position that no way leads to
  g <- game_of("seats(a, b)", "cube <- die(1:6)", "state(x = each(seat, 0))",
               "play({ for (s in seats) x[s] <- roll(cube)\n ask(a, go = one_of(yes, no)) })",
               "outcomes(wins = leader(x[it]), level = otherwise)", "p <- player(go = no)")
  placed <- odds(g, engine = "sample", rounds = 6e4, at = "x[a] = 6, x[b] < 6")
  expect_equal(placed$position$reached, 5 / 36)
  expect_equal(placed$outcomes$probability, c(1, 0, 0))
  expect_error(odds(g, engine = "sample", rounds = 1000, at = "x[a] == 7"), class = "basanos_position_never")
  # the same whatever is done besides
  expect_identical(odds("lantern-tiles", engine = "sample", rounds = 1000, at = "guest_total = 16",
                        threads = 2)$outcomes,
                   odds("lantern-tiles", engine = "sample", rounds = 1000, at = "guest_total = 16")$outcomes)
})

test_that("what is recorded and paid is drawn by value", {
  skip_if_not_installed("ggplot2")
  plot <- figure_of(odds("lantern-tiles", engine = "exact"), show = "distributions")
  expect_setequal(levels(plot$data$panel), c("tiles", "guest_tiles", "keeper_tiles", "pay of guest"))
  path <- tempfile(fileext = ".png")
  capture.output(command_main(c("odds", "lantern-tiles", "--distributions", "--figure", path)))
  expect_gt(file.size(path), 5000)
  expect_error(figure_of(odds("tide-signs", engine = "exact"), show = "distributions"),
               class = "basanos_argument_wrong")
})

test_that("from a position on, a sitting is that of those who came there", {
  walk <- game_of("seats(guest)", "state(won = no)", "bets(guest, line = 0)", "wallet(guest, 4, needs = 1)",
                  "play({ ask(guest, amount = one_of(1:2)); stake(guest, 1, on = line); won <- chance(0.5) })",
                  "outcomes(win = won, lose = otherwise)", "settle(line, win = 1 %to% 1, otherwise = lost)",
                  "sitting(until = wallet(guest) >= 8)", "flat <- player(amount = 1)")
  goal <- function(at, ...) {
    shares <- odds(walk, ..., at = at)$units$shares
    shares[shares$name == "goal", ]
  }
  # even steps: from w to 8 before 0 with a chance of w / 8
  for (w in c(1, 7)) expect_equal(goal(sprintf("amount: wallet(guest) == %d", w), engine = "exact")$probability,
                                     w / 8)
  sampled <- goal("amount: wallet(guest) == 5", engine = "sample", rounds = 20000)
  expect_lt(abs(sampled$probability - 5 / 8), 4 * sampled$standard_error)
  expect_equal(odds(walk, engine = "exact")$units$shares$probability[[1]], 1 / 2)
})

test_that("a rare position of a sitting is not waited for, and each answer keeps its own sittings", {
  walk <- game_of("seats(guest)", "state(won = no)", "bets(guest, line = 0)", "wallet(guest, 3, needs = 1)",
                  "play({ ask(guest, way = one_of(slow, quick)); stake(guest, 1, on = line)",
                  "won <- chance(if (way == quick) 0.5 else 0.2) })",
                  "outcomes(win = won, lose = otherwise)", "settle(line, win = 1 %to% 1, otherwise = lost)",
                  "sitting(until = wallet(guest) >= 9)", "slowly <- player(way = slow)")
  # From `from` up to `to` before 0, where a step down is four times as likely: the ruin of a gambler.
  up <- function(from, to) (1 - 4^from) / (1 - 4^to)
  comes <- up(3, 8)
  goal_at_8 <- function(p) p / (p + (1 - p) * (1 - up(7, 8)))
  at <- "way: wallet(guest) == 8"
  exact <- odds(walk, engine = "exact", at = at)
  sampled <- odds(walk, engine = "sample", rounds = 20000, at = at)
  expect_equal(exact$units$shares$probability[[1]], goal_at_8(0.2), tolerance = 1e-9)
  of <- sampled$units$shares[1, ]
  expect_lt(abs(of$probability - goal_at_8(0.2)), 4 * of$standard_error)
  expect_lt(of$standard_error, 0.01)  # all the sittings come there, not one in a thousand
  expect_equal(sampled$position$reached, exact$position$reached, tolerance = 0.1)
  # the chance of a sitting to come there, times the rounds there in such a sitting, over the rounds of all
  there <- 1 / (1 - 0.8 * up(7, 8))
  rounds <- odds(walk, engine = "exact")$rounds_in_unit
  expect_equal(exact$position$reached, comes * there / rounds, tolerance = 1e-9)
  # by answer: won in the first round there or in a later one, of which each is another round
  won <- function(odds, answer) odds$answers$win[odds$answers$answer == answer]
  for (answer in c("slow", "quick")) {
    p <- c(slow = 0.2, quick = 0.5)[[answer]]
    expect_equal(won(exact, answer), p, tolerance = 1e-9)
    expect_lt(abs(won(sampled, answer) - p), 0.02)
  }
})

test_that("an answer that is always offered is always legal, also where it is sampled", {
  o <- odds("lantern-twenty-one", engine = "sample", rounds = 3000, at = "action: size(hand) == 2")
  hit <- o$answers[o$answers$answer %in% c("hit", "stand"), ]
  expect_true(is.null(hit[["legal in"]]) || all(hit[["legal in"]] == 1))
})

test_that("crossed outcomes have the standard error of each share", {
  o <- odds("lantern-tiles", engine = "sample", rounds = 5000, by = "guest_tiles")
  expect_equal(o$crossed$standard_error, sqrt(o$crossed$probability * (1 - o$crossed$probability) / 5000))
  of_value <- stats::ave(o$crossed$probability, o$crossed$value, FUN = sum)
  expect_equal(o$crossed$within_standard_error, sqrt(o$crossed$within * (1 - o$crossed$within) / (5000 * of_value)))
})

test_that("measures are told for each value, by outcome, and by several expressions", {
  g <- game_of("seats(guest)", "cube <- die(1:6)", "state(a = 0, b = 0)", "play({ a <- roll(cube); b <- roll(cube) })",
               "outcomes(high = a + b > 8, low = otherwise)", "pays(guest, high = 2, low = -1)",
               "record(total = a + b, six = a == 6)")
  throws <- expand.grid(a = 1:6, b = 1:6)
  total <- rowSums(throws)
  o <- odds(g, engine = "exact", by = "outcome")
  m <- o$crossed_measures
  value <- function(outcome, name) m$measured[m$value == outcome & m$name == name]
  expect_equal(value("high", "mean(total)"), mean(total[total > 8]), tolerance = 1e-12)
  expect_equal(value("low", "mean(total)"), mean(total[total <= 8]), tolerance = 1e-12)
  expect_equal(value("low", "mean_pay(guest)"), -1)
  expect_equal(m$share[m$name == "mean(total)"], c(10, 26) / 36, tolerance = 1e-12)
  expect_match(format(o), "mean(total)", fixed = TRUE, all = FALSE)

  by_a <- odds(g, engine = "exact", by = "a", measure = c("mean(total)", "probability(six)"))$crossed_measures
  expect_equal(by_a$measured[by_a$name == "mean(total)"], 1:6 + 3.5, tolerance = 1e-12)
  expect_equal(by_a$measured[by_a$name == "probability(six)"], c(0, 0, 0, 0, 0, 1))

  both <- odds(g, engine = "exact", by = c("a > 3", "b"), measure = "mean(total)")
  of <- both$crossed[both$crossed$value == "yes, 5", ]
  expect_equal(sum(both$crossed$probability), 1, tolerance = 1e-12)
  expect_equal(of$probability, 3 / 36, tolerance = 1e-12)  # four, five and six with a five are all above eight
  expect_equal(of$within, 1, tolerance = 1e-12)
  of_measure <- both$crossed_measures
  expect_equal(of_measure$measured[of_measure$value == "yes, 5"], 10, tolerance = 1e-12)
  expect_equal(of_measure$measured[of_measure$value == "no, 1"], 3, tolerance = 1e-12)

  sampled <- odds(g, engine = "sample", rounds = 2e4, by = "outcome")$crossed_measures
  expect_true(all(sampled$lower[1] - 0.05 <= value("high", "mean(total)") &
                    value("high", "mean(total)") <= sampled$upper[1] + 0.05))
  many <- odds(g, by = "a * 100 + b", measure = "mean(total)")
  expect_null(many$crossed_measures)
  expect_match(format(many), "measures by value: for at most 24 values", all = FALSE)
  expect_error(odds(g, by = c("a * 100 + b", "a")), "takes 36 values, more than 24")
  run <- at_command_line("odds", "dice-duel", "--by", "outcome", "--measure", "mean(first_score)")
  expect_match(run$out, "first_wins .*%", all = FALSE)
})

test_that("records that are left out are sampled beside the count", {
  whole <- odds("lantern-tiles", engine = "exact")
  o <- odds("lantern-tiles", engine = "exact", without = "tiles")
  expect_identical(o$records$name, setdiff(whole$records$name, "tiles"))
  expect_equal(o$outcomes, whole$outcomes, tolerance = 1e-12)
  truth <- whole$records$mean[whole$records$name == "tiles"]
  expect_lt(abs(o$beside$records$mean - truth), 5 * o$beside$records$standard_error)
  expect_match(format(o), "Left out of the count, from 20 000 sampled rounds of seed 1", all = FALSE)
  expect_null(odds("lantern-tiles", engine = "sample", rounds = 1000, without = "tiles")$beside)
  expect_identical(nrow(odds("net-menders", engine = "sample", rounds = 200, without = "mended")$records),
                   nrow(odds("net-menders", engine = "sample", rounds = 200)$records) - 2L)
  expect_error(odds("lantern-tiles", without = "tile"), "Nothing is recorded as `tile`")
})

test_that("numbers that are offered wherever a decision is asked are the answers that giving any of them finds", {
  both_ways <- function(name, ...) {
    expect_false(is.null(always_offered(new_question(game(name)), "guess")))
    odds <- function(...) basanos::odds(name, engine = "sample", ...)
    known <- odds(...)$answers
    expect_identical(with_replaced("always_offered", function(...) NULL, odds(...)$answers), known)
    expect_gt(nrow(known), 1)
  }
  both_ways("deep-well", mode = "shallow", at = "used = 1", rounds = 1000)
  both_ways("deep-well", set = list(top = 12), at = "used = 0", rounds = 1000)
  # what is offered follows from the state, or from the mode of the round
  expect_null(always_offered(new_question(game("last-pebble")), "take"))
  expect_null(always_offered(new_question(game("well-climb")), "guess"))
})

test_that("what is asked stands beside the rules, and the rules stay as they were read", {
  g <- game("lantern-tiles")
  plain <- new_question(g)
  asked <- with_measures(with_asked(plain, record = "more = 2", given = "outcome != bright", by = "pay[guest]"),
                         c("mean(pay[guest])", "edge(guest)"))
  expect_identical(asked$game, g)
  as_read <- build_program(plain)$hash
  expect_identical(program_of(plain)$hash, as_read)
  expect_identical(setdiff(names(asked$records), names(g$records)), c("more", "what is crossed", "measure 1"))
  expect_identical(names(Filter(is_added, asked$records)), c("what is crossed", "measure 1"))
  # a program without what was asked is the one that was read, and one with it is not
  expect_false(identical(program_of(asked)$hash, as_read))
  expect_identical(program_of(new_question(g)), program_of(plain))
})
