# The runs: each point counted, or sampled and raced; whether a target is met, missed or undecided.

# list(task, results, found): the runs, and what was found among the combinations.
searched <- function(task) {
  run <- results_of_all_points(task)
  task <- run$task
  results <- run$results
  if (length(task$inner) > 0) check_both_ways(task, results)
  left <- which(!vapply(results, function(t) is.null(t) || isTRUE(t$left), NA))
  kept <- results
  kept[setdiff(seq_along(results), left)] <- list(NULL)
  candidates <- NULL
  for (errors in if (task$sampled) c(4, 2, 0) else 0) if (is.null(candidates) && length(left) > 0)
    candidates <- satisfying(task$points, kept, if (errors > 0) with_margins(kept, task, errors) else task)
  if (is.null(candidates)) candidates <- missing_least(task$points, results, task)
  else if (task$sampled) candidates$fits <- satisfying(task$points, kept, task)$fits  # those within a margin as well
  list(task = task, results = results, candidates = candidates)
}

points_both_ways <- 3

# Pays that follow from one run are worked out by runs of their own as well, at a few combinations.
check_both_ways <- function(task, results) {
  plain <- with_parts(task, inner = list())
  for (index in spread_over(c(length(task$points), task$inner_sizes), points_both_ways, task$seed)) {
    point <- task$points[[index[[1]]]]
    inner <- index[-1]
    set <- Map(function(knob, i) knob$values[[i]], task$inner, inner)
    point$set[vapply(task$inner, `[[`, "", "name")] <- set
    run <- result_of_point(point, plain)
    followed <- values_at(results[[index[[1]]]], matrix(inner, nrow = 1))[1, ]
    if (!isTRUE(all.equal(run$values, followed, tolerance = 1e-9))) stop_ways_differ(task, set, run$values, followed)
  }
}

stop_ways_differ <- function(task, set, run, followed) {
  k <- which.max(abs(run - followed))
  names <- vapply(task$inner, `[[`, "", "name")
  abort_input("engines_disagree",
              sprintf("At %s `%s` is %s by a run of its own and %s by what another run paid.",
                      paste(names, "=", vapply(set, value_shown, ""), collapse = ", "), task$measures[[k]],
                      plain_number(run[[k]]), plain_number(followed[[k]])),
              "please report this, with the rules file: it is a bug in basanos")
}

# A sample of the combinations of the knobs' values, evenly spread (a Kronecker sequence); the seed sets its start.
spread_over <- function(sizes, n, seed) {
  steps <- sqrt(c(2, 3, 5, 7, 11, 13, 17, 19, 23, 29))
  part <- function(k) ((seed %% 1000 + k) * rep_len(steps, length(sizes)) * seq_along(sizes)) %% 1
  unique(lapply(seq_len(n), function(k) 1 + floor(sizes * part(k))))
}

# Each point's run. Sampled points without inner knobs are raced: what surely misses a target is not looked at again.
results_of_all_points <- function(task) {
  all <- seq_along(task$points)
  first <- results_of_points(task, all, if (is.null(task$rounds)) first_look else min(task$rounds, first_look),
                             function(results, after) points_so_far(task, results, after))
  sampled <- vapply(first, function(t) t$engine == "sample", NA)
  task$sampled <- any(sampled)
  if (all(sampled)) task$engine <- "sample"
  if (any(sampled)) task$rounds <- enough_rounds(first[sampled], task)
  results <- if (!any(sampled)) first
    else if (length(task$inner) == 0) raced(first, task)
    else results_of_points(task, all, task$rounds, function(results, after) looked_at_so_far(task, first))
  list(task = task, results = results)
}

first_look <- 2500

results_of_points <- function(task, which, rounds, so_far) {
  worked_out(which, function(k) result_of_point(task$points[[k]], task, rounds), task$workers, "points",
             function(results, after, stop) so_far(results, after), progress = task$progress)
}

raced <- function(results, task) {
  rounds <- first_look
  look <- 1
  repeat {
    racing <- which(!vapply(results, function(t) isTRUE(t$left) || t$engine == "exact", NA))
    enough <- stats::qnorm(1 - 0.05 / (look * (look + 1)) / (2 * length(task$points) * length(task$targets)))
    for (k in racing) results[[k]]$left <- any(judged(results[[k]], task, enough) == "missed")
    racing <- Filter(function(k) !results[[k]]$left, racing)
    if (rounds >= task$rounds || length(racing) == 0) return(results)
    rounds <- min(task$rounds, 2 * rounds)
    look <- look + 1
    results[racing] <- results_of_points(task, racing, rounds, function(more, after) looked_at_so_far(task, results))
  }
}

# After a stop between two looks: the points as of the look before.
looked_at_so_far <- function(task, results)
  points_so_far(task, results, sprintf("a first look at all %s points", whole_text(length(results))))

# What a search has seen until it is stopped: the points, as a sweep of the knobs that need a run for each value. Knobs
# of pays are as today.
points_so_far <- function(task, results, after) {
  if (all(vapply(results, is.null, NA)) || length(task$outer) == 0) return(list())
  names <- vapply(task$outer, `[[`, "", "name")
  columns <- lapply(seq_along(task$outer), function(k)
    unlist(lapply(task$points, function(point) task$outer[[k]]$values[[point$index[[k]]]])))
  seen <- lapply(results, function(result) if (!is.null(result))
    data.frame(measure = task$measures, value = result$values, result[c("standard_error", "lower", "upper", "engine")]))
  points <- list2DF(stats::setNames(columns, names))
  task$rounds <- max(0, unlist(lapply(results, `[[`, "rounds")))
  list(after = after, balance = sweep_of_points(task, points, seen, task$measures, names, task$players, after))
}

# Of each target: met, missed or undecided. Where a measure has an error, by so many of them; else by its 95% interval;
# else it is taken as it is.
judged <- function(result, task, enough) {
  vapply(task$targets, function(t) {
    value <- result$values[t$columns] * c(1, -1)[seq_along(t$columns)]
    error <- result$standard_error[t$columns]
    room <- target_room(result, t$columns, value, error, enough)
    ends <- sum(value) + room
    if (t$weight == 0) "met"
    else if (is.na(ends[[1]])) "undecided"
    else if (ends[[1]] >= t$low - 1e-9 && ends[[2]] <= t$high + 1e-9) "met"
    else if (ends[[2]] < t$low - 1e-9 || ends[[1]] > t$high + 1e-9) "missed" else "undecided"
  }, "")
}

# How far below and above its value a target may be. A share of which nothing was seen, or nothing else, has no error
# but an interval.
target_room <- function(result, columns, value, error, enough) {
  one <- length(columns) == 1 && !is.na(result$lower[columns])
  interval <- if (one) c(result$lower[columns], result$upper[columns]) - value else c(0, 0)
  if (anyNA(error)) return(interval)
  if (all(error == 0)) interval * (enough / stats::qnorm(0.975))^2 else c(-1, 1) * enough * sqrt(sum(error^2))
}

least_rounds <- 1e5
most_rounds_asked <- 2e6
most_rounds_in_all <- 2e7

# As many rounds as the narrowest target takes, where no number is given; a target that they cannot tell is refused.
enough_rounds <- function(results, task) {
  # one value exactly, as in `is 0.5`, is never told by a sample: then what comes nearest is sought
  widths <- vapply(task$targets, function(t) if (t$weight > 0 && t$high > t$low) t$high - t$low else Inf, 0)
  errors <- vapply(task$targets, function(t) {
    error <- vapply(results, function(result) sqrt(sum(result$standard_error[t$columns]^2)), 0)
    min(error[error > 0 & !is.na(error)], Inf) * sqrt(results[[1]]$rounds)  # of one round
  }, 0)
  needed <- ifelse(is.finite(errors), (2 * stats::qnorm(0.975) * errors / widths)^2, 0)
  rounds <- if (!is.null(task$rounds)) task$rounds
    else signif(min(max(2.5 * needed, least_rounds), most_rounds_asked,
                    max(least_rounds, most_rounds_in_all / length(task$points))), 2)
  k <- which.max(needed)
  if (needed[[k]] > rounds)
    abort_input("tolerance_fine", sprintf("`%s` is finer than %s rounds can tell.", task$targets[[k]]$text,
                                          whole_text(rounds)),
                if (needed[[k]] <= max_rounds / 3)
                  sprintf("sample more (--rounds %s), or widen the target",
                          format(signif(2 * needed[[k]], 1), scientific = TRUE))
                else "widen the target, or count exactly (--engine exact)")
  rounds
}
