# Guessing games: best play by branch and bound, by the mean and by the worst case, against going through every plan.

# Codes of two pegs; each guess is told how many are in place and how many elsewhere.
small_locks <- function(colours, tries = 8) game_of(
  sprintf("peg <- names(%s)", paste(colours, collapse = ", ")), "rows <- codes(peg, length = 2)", "seats(guest)",
  "state(secret = one(rows, seen_by = nobody), used = 0)",
  sprintf("play({ secret <- pick(rows)\n  while (used < %d) {", tries), "    ask(guest, guess = one_of(rows))",
  "    add(1, to = used)", "    say(\"{placed(compare(guess, secret))} and {elsewhere(compare(guess, secret))}\")",
  "    if (guess == secret) break", "  } })", "outcomes(found = guess == secret, missed = otherwise)",
  "record(tries = used)", "any_row <- player(guess = pick(choices))")

# The replies to each guess (a row) of each secret (a column).
replies <- function(n) {
  codes <- as.matrix(expand.grid(seq_len(n), seq_len(n)))
  of <- function(guess, secret) {
    placed <- sum(guess == secret)
    both <- sum(pmin(tabulate(guess, n), tabulate(secret, n)))
    10 * placed + both - placed
  }
  outer(seq_len(nrow(codes)), seq_len(nrow(codes)), Vectorize(function(g, s) of(codes[g, ], codes[s, ])))
}

# The least tries in all (or at worst) from each set of secrets, by every plan.
least_tries <- function(reply, worst) {
  known <- new.env()
  from <- function(set, enough) {
    if (length(set) == 1) return(1)
    key <- paste(set, collapse = " ")
    if (!is.null(known[[key]])) return(known[[key]])
    best <- Inf
    for (guess in seq_len(nrow(reply))) {
      groups <- split(set, reply[guess, set])
      if (length(groups) == 1) next
      parts <- vapply(groups, function(group) if (identical(group, guess)) 0 else from(group), 0)
      best <- min(best, if (worst) 1 + max(parts) else length(set) + sum(parts))
    }
    known[[key]] <- best
    best
  }
  from(seq_len(ncol(reply)))
}

test_that("codes: least mean and least worst case", {
  for (n in 3:4) {
    rules <- small_locks(c("red", "blue", "green", "white")[seq_len(n)])
    mean <- best_play(rules, objective = "mean(tries)", best = "lowest", max_states = 1e6, quick = TRUE)
    close_to(mean$value, least_tries(replies(n), FALSE) / n^2)
    worst <- best_play(rules, objective = "worst(tries)")
    expect_equal(worst$value, least_tries(replies(n), TRUE))
    expect_match(paste(format(worst), collapse = "\n"), "by branch and bound")
    drawn <- ggplot2::autoplot(worst)$data
    expect_true(all(drawn$worth[drawn$known == "exact"] == worst$value) && all(drawn$worth >= worst$value))
  }
})

test_that("the fair's locks and its well", {
  locks <- best_play("harbour-locks", quick = TRUE)  # as many tries as there are will do
  close_to(locks$value, 1)
  expect_false(anyNA(locks$firsts$upper))
  close_to(max(locks$firsts$value, na.rm = TRUE), 1)
  # so many tries find one of 2^tries - 1 numbers
  for (tries in 3:5) {
    well <- best_play("deep-well", set = list(top = 40, tries = tries), max_seconds = 30, quick = TRUE)
    close_to(well$value, min(1, (2^tries - 1) / 40))
  }
  # one of 15 is found in 4 at worst, in (1 + 2 * 2 + 4 * 3 + 8 * 4) / 15 on average
  set <- list(top = 15, tries = 6)
  close_to(best_play("deep-well", set = set, objective = "worst(tries_used)", quick = TRUE)$value, 4)
  mean <- best_play("deep-well", set = set, objective = "mean(tries_used)", best = "lowest", quick = TRUE)
  close_to(mean$value, 49 / 15)
})

test_that("named players at worst, and what is not known", {
  l <- best_play("deep-well", set = list(top = 15, tries = 6), objective = "worst(tries_used)")$losses
  close_to(l$value[l$player == "halver"], 4)
  close_to(l$loss[l$player == "stubborn"], 2)  # it may use all six
  expect_error(best_play("lantern-tiles", objective = "worst(tiles)"), class = "basanos_best_worst")
  expect_error(best_play("last-pebble", both = TRUE, objective = "worst(turns_taken)"), class = "basanos_best_worst")
})

test_that("at a limit there are bounds, or a refusal", {
  some <- best_play("harbour-locks", objective = "mean(tries_used)", best = "lowest", max_states = 301000, quick = TRUE)
  expect_false(some$complete)
  expect_true(some$lower <= 451 / 125 && some$upper >= 451 / 125 && some$lower > 2 && some$upper < 5)
  expect_match(paste(format(some), collapse = "\n"), "at the limit of states (one seat decides, something hidden, by",
               fixed = TRUE)
  expect_error(best_play("tide-words", max_seconds = 1), class = "basanos_best_large")
})
