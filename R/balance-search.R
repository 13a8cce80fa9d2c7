# Going through the combinations. Outside are the knobs that need a run for each value; inside those that only change
# pays, which follow from that run. Every combination is looked at, or shown not to be able to meet a target.

chunk_rows <- 2e5
kept_rows <- 400  # combinations kept by each criterion

# What comes out at a point of the outer knobs: list(values, standard_error, lower, upper, forms, engine, rounds), one
# a measure.
result_of_point <- function(point, task, rounds = task$rounds, seed = task$seed)
  joined_results(lapply(task$runs, result_of_run, point = point, task = task, rounds = rounds, seed = seed))

result_of_run <- function(run, point, task, rounds, seed) {
  question <- run$measured
  if (length(point$words) > 0) {
    game <- task$game
    for (knob in point$words) game <- with_words_of(game, knob, knob$value)
    question <- with_measures(question_of(game), run$measures)
  }
  if (length(task$inner) > 0) question$ledgers$cases <- TRUE
  o <- odds_of_point(question, point, players_of_run(task, run), task, rounds, seed)
  need_complete(o, "balance_large", "A point", "sample it (--engine sample), or let it count on: --max-states")
  column <- function(name) if (is.null(o$measures[[name]])) rep(NA_real_, length(run$measures)) else o$measures[[name]]
  result <- list(values = o$measures$value, standard_error = column("standard_error"), lower = column("lower"),
                 upper = column("upper"), engine = o$engine, rounds = o$rounds)
  if (length(task$inner) > 0) result$forms <- forms_of_point(question, o, point, task)
  result
}

# Where one run is sampled, all are taken to be: what was counted has no error.
joined_results <- function(results) {
  if (length(results) == 1) return(results[[1]])
  sampled <- vapply(results, `[[`, "", "engine") == "sample"
  if (any(sampled)) results[!sampled] <- lapply(results[!sampled], function(r)
    replace(r, c("standard_error", "lower", "upper"), list(0 * r$values, r$values, r$values)))
  joined <- lapply(stats::setNames(nm = c("values", "standard_error", "lower", "upper")), function(name)
    unlist(lapply(results, `[[`, name)))
  c(joined, list(engine = if (any(sampled)) "sample" else "exact",
                 rounds = if (any(sampled)) max(unlist(lapply(results[sampled], `[[`, "rounds"))),
                 forms = unlist(lapply(results, `[[`, "forms"), recursive = FALSE)))
}

# The measures by pays; where one does not agree with what the run itself says of today's, none.
forms_of_point <- function(question, o, point, task) {
  game <- question$game
  settings <- resolve_settings(game, point$set, point$mode)
  classes <- money_classes(game, o)
  today <- matrix(vapply(task$inner, function(k) match(k$today, k$values), 1L), nrow = 1)
  lapply(seq_along(question$measures), function(j) {
    measure <- question$measures[[j]]
    if (is.null(measure$about) || !follows_from_classes(measure$word)) return(NULL)
    first <- if (measure$about$kind == "seat" && identical(ratio_of_word(measure$word)$ledger, "first"))
      o$pays$stake[match(measure$about$name, o$pays$seat)]
    form <- measure_by_pays(game, classes, measure, task$inner, settings, first)
    value <- if (!is.null(form)) values_by_pays(form, today)
    if (is.null(form) || !isTRUE(abs(value - o$measures$value[[j]]) < 1e-9 * max(1, abs(value))))
      stop_without_classes()
    form
  })
}

stop_without_classes <- function() stop(structure(class = c("basanos_no_classes", "error", "condition"),
                                                  list(message = "the pays do not follow from one run", call = NULL)))

# Each measure at each row of the inner knobs: a matrix with a column a measure.
values_at <- function(result, index) {
  columns <- lapply(seq_along(result$values), function(j) {
    if (is.null(result$forms[[j]])) rep(result$values[[j]], nrow(index)) else values_by_pays(result$forms[[j]], index)
  })
  matrix(unlist(columns), nrow = nrow(index))
}

# The value that each target compares: a column a target.
wanted_values <- function(values, targets) {
  columns <- lapply(targets, function(t) {
    x <- values[, t$columns[[1]]]
    if (length(t$columns) > 1) x - values[, t$columns[[2]]] else x
  })
  matrix(unlist(columns), nrow = nrow(values))
}

misses_of <- function(wanted, targets) {
  matrix(unlist(lapply(seq_along(targets), function(j) target_miss(targets[[j]], wanted[, j]))), nrow = nrow(wanted))
}

# Rows of indices, depth first and in chunks: `keep` says which beginnings may go on, `leaf` takes whole rows.
go_through <- function(sizes, keep, leaf) {
  deeper <- function(rows, depth) {
    if (depth == length(sizes)) return(leaf(rows))
    at_once <- max(1, chunk_rows %/% sizes[[depth + 1]])
    for (from in seq(1, nrow(rows), by = at_once)) {
      chunk <- rows[from:min(nrow(rows), from + at_once - 1), , drop = FALSE]
      longer <- cbind(chunk[rep(seq_len(nrow(chunk)), each = sizes[[depth + 1]]), , drop = FALSE],
                      rep(seq_len(sizes[[depth + 1]]), nrow(chunk)))
      longer <- longer[keep(longer, depth + 1L), , drop = FALSE]
      if (nrow(longer) > 0) deeper(longer, depth + 1L)
    }
  }
  deeper(matrix(0L, 1, 0), 0L)
}

# The prefixes that can still meet every linear target for some values of the later knobs.
may_meet <- function(result, targets) {
  linear <- Filter(function(t) length(t$columns) == 1 && t$weight > 0 && (is.finite(t$low) || is.finite(t$high)) &&
                     !is.null(result$forms[[t$columns]]) && !is.null(linear_form(result$forms[[t$columns]])), targets)
  function(rows, depth) {
    good <- rep(TRUE, nrow(rows))
    for (t in linear) {
      form <- result$forms[[t$columns]]
      line <- linear_form(form)
      ends <- lapply(list(min, max), function(end) Reduce(`+`, lapply(form$factors, function(f)
        if (all(f$knobs <= depth)) f$table[rows_of_factor(f, rows), "net"] else end(f$table[, "net"]))))
      values <- lapply(ends, function(net) line$start + line$scale * net)
      good <- good & pmax(values[[1]], values[[2]]) >= t$low - 1e-9 & pmin(values[[1]], values[[2]]) <= t$high + 1e-9
    }
    good
  }
}

# All that satisfy the targets, as far as they may be answers: list(index, values, miss, fits); `index` has a column a
# knob, the outer ones first; `fits` is how many satisfy them.
satisfying <- function(points, results, task) {
  satisfied <- NULL
  fits <- 0
  for (k in seq_along(points)) if (!is.null(results[[k]])) {
    go_through(task$inner_sizes, may_meet(results[[k]], task$targets), function(rows) {
      values <- values_at(results[[k]], rows)
      miss <- misses_of(wanted_values(values, task$targets), task$targets)
      met <- rowSums(miss) == 0
      fits <<- fits + sum(met)
      if (any(met)) satisfied <<- best_rows(joined_rows(satisfied, points[[k]]$index, rows, values, miss, met), task)
    })
  }
  if (!is.null(satisfied)) c(satisfied, list(fits = fits))
}

# Sampled values err: what lies a little inside its targets is sought first, so that fresh luck finds it there too.
with_margins <- function(results, task, by) {
  for (j in seq_along(task$targets)) {
    t <- task$targets[[j]]
    errors <- vapply(Filter(Negate(is.null), results),
                     function(result) sqrt(sum(result$standard_error[t$columns]^2)), 0)
    margin <- min(by * max(0, errors, na.rm = TRUE), 0.45 * (t$high - t$low))
    task$targets[[j]]$low <- t$low + margin
    task$targets[[j]]$high <- t$high - margin
  }
  task
}

# If none does: the points that miss least, and the sets of targets that are met together.
missing_least <- function(points, results, task) {
  missing <- NULL
  patterns <- NULL
  for (k in seq_along(points)) if (!is.null(results[[k]])) {
    go_through(task$inner_sizes, function(rows, depth) rep(TRUE, nrow(rows)), function(rows) {
      values <- values_at(results[[k]], rows)
      miss <- misses_of(wanted_values(values, task$targets), task$targets)
      patterns <<- unique(rbind(patterns, unique(miss == 0)))
      near <- seq_len(nrow(miss)) %in% utils::head(do.call(order, unname(sorted_misses(miss))), 4 * kept_rows)
      missing <<- best_rows(joined_rows(missing, points[[k]]$index, rows, values, miss, near), task)
    })
  }
  c(missing, list(patterns = patterns))
}

joined_rows <- function(before, outer, rows, values, miss, which) {
  n <- sum(which)
  kept <- list(index = cbind(matrix(rep(outer, each = n), nrow = n), rows[which, , drop = FALSE]),
               values = values[which, , drop = FALSE], miss = miss[which, , drop = FALSE])
  if (is.null(before)) kept else Map(rbind, before, kept)
}

# The best by each criterion; without this a wide grid would keep millions.
best_rows <- function(candidates, task) {
  if (nrow(candidates$index) <= 4 * kept_rows) return(candidates)
  orders <- lapply(criteria_of(candidates, task), function(keys) do.call(order, keys))
  keep <- unique(unlist(lapply(orders, utils::head, kept_rows)))
  lapply(candidates, function(x) x[keep, , drop = FALSE])
}

# Least misses, then what the targets ask to be near to, then few changes: and so for each kind of answer.
criteria_of <- function(candidates, task) {
  miss <- sorted_misses(candidates$miss)
  wanted <- wanted_values(candidates$values, task$targets)
  off <- greatest_distance(wanted, task$targets)
  steps <- steps_from_today(candidates$index, task)
  nearest <- c(miss, list(off, rowSums(steps > 0), rowSums(steps)))
  if (min(miss[[1]]) > 0 || wants_nearness(task)) return(list(nearest = nearest))
  by <- function(text, sign) c(list(miss[[1]], sign * candidates$values[, match(text, task$measures)]), nearest)
  c(list(nearest = nearest, inside = c(list(miss[[1]], -room_inside(wanted, task$targets)), nearest)),
    if (!is.null(task$staked)) list(calm = by(sprintf("volatility(%s)", task$staked), 1),
                                    gain = by(sprintf("gain(%s)", task$staked), -1)),
    if (task$unit != "round") list(short = by("mean(rounds)", 1)))
}

# How far each row lies inside the targets, by the one that it is nearest to missing: 0 at an end, 1 in the middle
# of a range or, of a target with one end, at twice that or beyond.
room_inside <- function(wanted, targets) {
  rooms <- lapply(seq_along(targets), function(j) {
    t <- targets[[j]]
    if (t$weight == 0 || t$low == t$high || !is.finite(t$low) && !is.finite(t$high)) return(rep(1, nrow(wanted)))
    size <- if (is.finite(t$low) && is.finite(t$high)) (t$high - t$low) / 2
      else size_of_end(if (is.finite(t$low)) t$low else t$high)
    pmin(1, pmin(wanted[, j] - t$low, t$high - wanted[, j]) / size)
  })
  do.call(pmin, rooms)
}

greatest_distance <- function(wanted, targets)
  do.call(pmax, lapply(seq_along(targets), function(j) target_distance(targets[[j]], wanted[, j])))

wants_nearness <- function(task) any(!vapply(task$targets, function(t) is.null(t$near), NA))

# The greatest miss of each row, then the second greatest and so on.
sorted_misses <- function(miss) {
  if (all(miss == 0)) return(list(miss[, 1]))
  sorted <- apply(miss, 1, sort, decreasing = TRUE)
  as.list(as.data.frame(if (is.matrix(sorted)) t(sorted) else cbind(sorted)))
}

# The number of steps of each knob from its value today.
steps_from_today <- function(index, task) {
  today <- vapply(c(task$outer, task$inner), function(k) if (is.null(k$today)) NA_integer_ else match(k$today,
                                                                                                      k$values),
                  1L)
  steps <- abs(index - matrix(rep(today, each = nrow(index)), nrow = nrow(index)))
  named <- vapply(c(task$outer, task$inner), function(k) is.character(k$values), NA)
  steps[, named] <- pmin(steps[, named], 1)
  steps[is.na(steps)] <- 1  # a mode, where today's rules play in none
  steps
}

# The smallest set of targets that cannot be met together: list(targets, alone). Where some cannot be met even alone,
# these, each by itself.
conflict_of <- function(patterns, targets) {
  feasible <- function(set) any(rowSums(!patterns[, set, drop = FALSE]) == 0)
  text_of <- function(set) vapply(targets[set], `[[`, "", "text")
  needed <- which(vapply(targets, `[[`, 0, "weight") > 0)
  if (feasible(needed)) return(list(targets = character(), alone = FALSE))
  alone <- Filter(Negate(feasible), needed)
  if (length(alone) > 0) return(list(targets = text_of(alone), alone = TRUE))
  for (size in 2:length(needed)) {
    if (choose(length(needed), size) > most_conflicts) break
    for (set in utils::combn(needed, size, simplify = FALSE))
      if (!feasible(set)) return(list(targets = text_of(set), alone = FALSE))
  }
  list(targets = text_of(needed), alone = FALSE)
}

most_conflicts <- 1e5
