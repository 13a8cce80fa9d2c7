# Kinds of cards that nothing tells apart are counted as one: the same odds in fewer states.

counted_with_kinds <- function(question, merge, states = 60000) {
  program <- program_of(question)
  core_exact(program, states, NULL, 2e7, 1e300, program$groups, 4 * states, merge)
}

expect_same_count <- function(merged, each, info) {
  expect_identical(merged$end, each$end, info = info)
  expect_equal(merged$outcomes, each$outcomes, tolerance = 1e-12, info = info)
  expect_equal(merged$rounds, each$rounds, tolerance = 1e-12, info = info)
  for (part in c("quantities", "unit_quantities"))
    expect_equal(merged[[part]], each[[part]], tolerance = 1e-12, info = info)
}

has_cards <- function(rules) any(vapply(rules$names, function(d) identical(d$kind, "deck"), NA))

test_that("every player of every game with cards counts the same with kinds merged", {
  games <- Filter(has_cards, lapply(stats::setNames(nm = fair_games()), game))
  expect_gt(length(games), 3)
  for (rules in games) for (question in questions_of_players(rules)) {
    each <- counted_with_kinds(question, FALSE, 3000)
    if (each$end == 0L) expect_same_count(counted_with_kinds(question, TRUE, 3000), each, rules$title)
  }
})

# Four cards in two ranks and two suits, two dealt, and what the rules read of them.
two_cards <- function(reads, hand = "bag", more = "", columns = "rank = c(low, high), worth = c(1, 3)")
  game_of(sprintf("cards <- deck(%s, for_each(suit = c(red, blue)))
    state(hand = %s(cards, room = 2), shown = one(cards), n = 0)
    play({
      deal(2, to = hand)
      n <- %s
      %s
    })
    outcomes(big = n > 3, small = otherwise)
    record(n = n)", columns, hand, reads, more))

merged_kinds <- function(rules) {
  question <- new_question(rules)
  merged <- counted_with_kinds(question, TRUE)
  each <- counted_with_kinds(question, FALSE)
  expect_same_count(merged, each, rules$source$text)
  expect_identical(each$kinds[["from"]], 0L)
  expect_lte(merged$states, each$states)
  merged$kinds
}

test_that("what only columns tell apart is merged", {
  expect_identical(merged_kinds(two_cards("sum(hand, worth)")), c(from = 4L, to = 2L))
  expect_identical(merged_kinds(two_cards("max(hand, worth)", hand = "list")), c(from = 4L, to = 2L))
  expect_identical(merged_kinds(two_cards("worth(hand[1])", hand = "list")), c(from = 4L, to = 2L))
  expect_identical(merged_kinds(two_cards("size(hand)")), c(from = 4L, to = 1L))
  expect_identical(merged_kinds(two_cards("size(groups(hand, rank)) + worth(hand[2])")), c(from = 4L, to = 2L))
  # Of a bag only neighbours become one, of a list all.
  apart <- "rank = c(low, high, middle), worth = c(1, 3, 1)"
  expect_identical(merged_kinds(two_cards("sum(hand, worth)", columns = apart)), c(from = 6L, to = 3L))
  expect_identical(merged_kinds(two_cards("sum(hand, worth)", hand = "list", columns = apart)), c(from = 6L, to = 2L))
  o <- odds(two_cards("sum(hand, worth)"), engine = "exact")
  expect_equal(o$outcomes$probability, c(5, 1) / 6)  # of the 6 pairs only that of the two low cards is small
})

test_that("cards that are told apart in any other way stay as they are", {
  none <- c(from = 0L, to = 0L)
  expect_identical(merged_kinds(two_cards("if (hand[1] == hand[2]) 4 else 1")), none)
  expect_identical(merged_kinds(two_cards("if (hand[2] == \"low red\") 4 else 1")), none)
  expect_identical(merged_kinds(two_cards("count(hand, it == \"low red\")")), none)
  expect_identical(merged_kinds(two_cards("sum(hand, worth)", more = "remove(hand[1], from = hand)")), none)
  expect_identical(merged_kinds(two_cards("size(groups(hand))")), none)
  told <- game_of("cards <- deck(worth = c(1, 3), for_each(suit = c(red, blue)))
    state(shown = one(cards))
    play({ shown <- draw(cards) })
    outcomes(big = worth(shown) > 2, small = otherwise)
    record(card = shown)")
  expect_identical(merged_kinds(told), none)
})

test_that("three cards each out of one deck: what going through all pairs of ranks gives", {
  ranks <- 2:14
  hands <- as.matrix(expand.grid(ranks, ranks, ranks))
  hands <- hands[hands[, 1] <= hands[, 2] & hands[, 2] <= hands[, 3], ]
  held <- t(apply(hands, 1, function(hand) tabulate(hand - 1, 13)))
  alike <- apply(held, 1, max)
  highest <- hands[, 3]
  most <- apply(held, 1, function(n) max(which(n == max(n))) + 1)
  strength <- 10000 * alike + 100 * most + highest
  raises <- alike > 1 | highest >= 12
  counts <- highest >= 11 | alike > 1
  ways <- c(folded = 0, unqualified = 0, better = 0, worse = 0, equal = 0)
  for (k in seq_along(alike)) {
    both <- prod(choose(4, held[k, ])) * apply(held, 1, function(n) prod(choose(4 - held[k, ], n)))
    how <- if (!raises[[k]]) rep("folded", length(both)) else ifelse(!counts, "unqualified",
      ifelse(strength[[k]] > strength, "better", ifelse(strength[[k]] < strength, "worse", "equal")))
    ways <- ways + vapply(names(ways), function(name) sum(both[how == name]), 0)
  }
  o <- odds("keepers-three", engine = "exact")
  expect_equal(stats::setNames(o$outcomes$probability, o$outcomes$name), ways / sum(ways), tolerance = 1e-12)
  expect_equal(o$pays$mean, sum(ways / sum(ways) * c(-1, 1, 2, -2, 0)), tolerance = 1e-12)
  before <- options(basanos.verbosity = "verbose")
  on.exit(options(before))
  expect_message(odds("keepers-three", engine = "exact"), "52 kinds of cards are counted as 13")
})
