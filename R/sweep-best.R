# Which point of a sweep is the best by the first measure, and which others may be: a set, not a guess.

paired_units <- 1e4  # units that tell how the luck of two points goes together

# list(best, may_be_best, wanted): numbers of points.
best_points <- function(rows, grid, ask, best) {
  if (is.null(best)) return(list())
  first <- rows[rows$measure == ask$of[[1]], ]
  merit <- if (is.numeric(best)) -abs(first$value - best) else if (best == "lowest") -first$value else first$value
  if (all(is.na(merit))) return(list(wanted = best))
  winner <- which.max(merit)
  behind <- merit[[winner]] - merit
  error <- difference_errors(first, grid, ask, winner, pair = !is.numeric(best))
  few <- attr(error, "few")
  enough <- stats::qt(1 - 0.05 / max(1, nrow(first) - 1), ask$rounds - 1)
  may_be <- !is.na(merit) & (behind <= enough * error + 1e-12 | few)
  list(best = winner, may_be_best = which(may_be), wanted = best)
}

# The standard error of the difference of each point from one: zero where both are counted, of the paired difference
# where the measure allows it. `few` says which differ from it in too few units to be told apart.
difference_errors <- function(first, grid, ask, winner, pair) {
  own <- ifelse(is.na(first$standard_error), 0, first$standard_error)
  unpaired <- structure(sqrt(own^2 + own[[winner]]^2), few = rep(FALSE, length(own)))
  if (!pair || all(own == 0)) return(unpaired)
  pulls <- lapply(grid$points, point_influence, ask = ask)
  if (is.null(pulls[[winner]])) return(unpaired)
  for (k in seq_along(pulls)) if (!is.null(pulls[[k]])) {
    off <- pulls[[k]] - pulls[[winner]]
    unpaired[[k]] <- stats::sd(off) / sqrt(ask$rounds)
    attr(unpaired, "few")[[k]] <- few_differ(off - stats::median(off), ask$rounds / length(off))
  }
  unpaired
}

fewest_to_choose <- 30  # units that count: where rare prizes decide, a normal bound is left too often

# Do too few units differ, or decide, for one to be surely behind? `times` as many were sampled as are looked at.
few_differ <- function(off, times) {
  deciding <- sum(off^2)^2 / max(sum(off^4), 1e-300)
  sum(abs(off) > 1e-9) * times < least_differing || deciding * times < fewest_to_choose
}

# How far each of some units pulls the first measure; NULL where it is no mean or ratio.
point_influence <- function(point, ask) {
  g <- with_measures(ask$game, ask$of[[1]])
  g$compared <- TRUE
  side <- list(game = g, program = compile_game(g, point$set, point$players, point$mode))
  measure_influence(side, unit_table(side, ask$seed, 1, min(ask$rounds, paired_units)), 1L)
}
