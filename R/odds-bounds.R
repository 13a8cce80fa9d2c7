# Odds of a count that stopped early: what was counted is sure, what was not may still come out any way.

bounded_odds <- function(tally) {
  program <- tally$program
  counts <- tally$counts
  open <- counts$residual
  by_round <- program$unit == "round"
  odds_object(tally, complete = FALSE, limit = counts$limit, counted = max(0, 1 - open),
    outcomes = listed_outcomes(program,
                               if (by_round) bounds_table(program$outcomes, counts$outcomes, counts$rounds, open)
      else bounds_table(program$outcomes, 0, 0, 1)),
    pays = bounded_pays(if (by_round) program$pays, counts, open), records = record_table(list()),
    distributions = list(),
    units = bounded_units(program, counts, open), given = tally$given, given_share = if (program$records_some) NA_real_)
}

# Shares of all that was counted and all that is open: the least where none of what is open counts, the most where all
# does.
bounds_table <- function(names, counted, all, open) {
  data.frame(name = names, probability = NA_real_, lower = counted / (all + open),
             upper = pmin(1, (counted + open) / (all + open)))
}

# If pays depend on the outcome alone, the residual is between the least and the greatest of them.
bounded_pays <- function(pays, counts, open) {
  known <- Filter(function(p) !is.null(p$by_outcome), pays)
  rows <- lapply(known, function(p) {
    mean_with <- function(pay) (sum(p$by_outcome * counts$outcomes) + open * pay) / (counts$rounds + open)
    data.frame(seat = p$seat, mean = NA_real_, lower = mean_with(min(p$by_outcome)),
               upper = mean_with(max(p$by_outcome)), stake = p$stake)
  })
  if (length(rows) == 0) data.frame(seat = character(), mean = double()) else do.call(rbind, rows)
}

# A match or sitting that was not followed to its end may still end any way, after any number of rounds: then there are
# bounds for how it ends, and none for the share of its rounds.
bounded_units <- function(program, counts, open) {
  shares <- unit_shares(program, counts)
  bounds <- function(share) if (!is.null(share)) bounds_table(names(share), unname(share), 1 - open, open)
  if (!is.null(shares)) lapply(shares, bounds)
}

# Quantities without bounds.
need_complete <- function(odds, id = "count_incomplete", what = title_of(odds), hint = "sample it (--engine sample)") {
  if (!isTRUE(odds$complete)) abort_input(id, sprintf("%s could not be counted to its end.", what), hint)
}
