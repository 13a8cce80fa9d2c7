# Odds of a count that stopped early: what was counted is sure, what was not may still come out any way.

bounded_odds <- function(tally) {
  program <- tally$program
  counts <- tally$counts
  lower <- counts$outcomes
  upper <- pmin(1, lower + counts$unresolved)
  odds_object(tally, complete = FALSE, limit = counts$limit, counted = max(0, 1 - counts$unresolved),
    outcomes = data.frame(name = program$outcomes, probability = NA_real_, lower = lower, upper = upper),
    pays = bounded_pays(program$pays, lower, counts$unresolved), records = record_table(list()), distributions = list())
}

# Where pays follow from the outcome, what was not counted lies between the least and the greatest of them.
bounded_pays <- function(pays, counted, open) {
  known <- Filter(function(p) !is.null(p$by_outcome), pays)
  rows <- lapply(known, function(p) {
    sure <- sum(p$by_outcome * counted)
    data.frame(seat = p$seat, mean = NA_real_, lower = sure + open * min(p$by_outcome), upper = sure + open * max(p$by_outcome), stake = p$stake)
  })
  if (length(rows) == 0) data.frame(seat = character(), mean = double()) else do.call(rbind, rows)
}
