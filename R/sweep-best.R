# Which point of a sweep is the best by the first measure, and which others may be: a set, not a guess.

paired_units <- 1e4  # units that tell how the luck of two points goes together

# list(best, may_be_best, wanted): numbers of points.
best_points <- function(rows, grid, task, best) {
  if (is.null(best)) return(list())
  first <- rows[rows$measure == task$measure[[1]], ]
  merit <- if (is.numeric(best)) -abs(first$value - best) else if (best == "lowest") -first$value else first$value
  if (all(is.na(merit))) return(list(wanted = best))
  winner <- which.max(merit)
  behind <- merit[[winner]] - merit
  z <- behind_by(first, behind, grid, task, winner, pair = !is.numeric(best))
  list(best = winner, may_be_best = which(!is.na(merit) & z < enough_to_leave_out(nrow(first))), wanted = best)
}

# How many standard errors each point is behind the best: paired by unit where the measure allows it. Where both are
# counted, any difference is sure; where a sampled measure has no standard error, none is.
behind_by <- function(first, behind, grid, task, winner, pair) {
  own <- ifelse(first$engine == "exact", 0, first$standard_error)
  error <- sqrt(own^2 + own[[winner]]^2)
  z <- ifelse(is.na(error), 0, ifelse(error > 0, behind / error, ifelse(behind > 1e-12, Inf, 0)))
  if (!pair || !any(error > 0, na.rm = TRUE)) return(z)
  pulls <- lapply(grid$points, point_influence, task = task)
  if (is.null(pulls[[winner]])) return(z)
  sign <- sign(first$value[[winner]] - first$value)
  for (k in which(error > 0)) if (!is.null(pulls[[k]]) && isTRUE(sign[[k]] != 0)) {
    off <- sign[[k]] * (pulls[[winner]] - pulls[[k]])
    z[[k]] <- difference_z(behind[[k]], off, task$rounds / length(off))
  }
  z
}

# How far each of some units pulls the first measure; NULL where it is no mean or ratio.
point_influence <- function(point, task) {
  asked <- with_measures(question_of(task$game), task$measure[[1]])
  side <- round_by_round(with_choices(asked, point$set, point$players, point$mode))
  measure_influence(side, unit_table(side, task$seed, 1, min(task$rounds, paired_units)), 1L)
}
