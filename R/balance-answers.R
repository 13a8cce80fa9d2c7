# From the combinations that were found to a few answers that really differ, each proved by a run of its own.

balance_result <- function(explored, game) {
  task <- explored$task
  answers <- balanced_answers(explored)
  answers[[1]]$players <- values_by_player(answers[[1]]$point, with_parts(task, inner = list()))
  none <- !is.null(explored$candidates$patterns)
  status <- if (none && (!task$sampled || any(answers[[1]]$targets$met == "missed"))) "impossible"
    else if (task$sampled) "best found" else "satisfied and complete"
  conflict <- if (status == "impossible") conflict_of(explored$candidates$patterns, task$targets)
  today <- result_of_point(balance_point(with_parts(task, outer = list()), integer()), with_parts(task, inner = list()))
  structure(list(game = name_of_file(game$source), title = game$title, unit = task$unit, answers = answers,
                 status = status,
                 conflicts = as.character(conflict$targets), each_alone = isTRUE(conflict$alone),
                 today = targets_table(today, task, 1), today_elsewhere = elsewhere_of(today, task),
                 bands = data.frame(target = vapply(task$targets, `[[`, "", "text"),
                                    low = vapply(task$targets, function(t) if (is.null(t$near)) t$low else t$near, 0),
                                    high = vapply(task$targets, function(t) if (is.null(t$near)) t$high else t$near,
                                                  0)),
                 influence = influence_table(explored),
                 knobs = lapply(c(task$outer, task$inner), `[`, c("name", "kind", "values", "today")),
                 players = players_of_point(task),
                 explored = list(combinations = task$combinations, fits = if (none) 0 else explored$candidates$fits,
                                 runs = length(task$points) * length(task$runs), complete = !task$sampled),
                 engine = if (task$sampled) "sample" else "exact", rounds = if (task$sampled) task$rounds,
                 seed = task$seed, slip = task$slip), class = result_class("balance"))
}

balanced_answers <- function(explored) {
  rows <- different_rows(explored$candidates, explored$task)
  lapply(seq_len(nrow(rows)), function(k)
    balanced_answer(explored$candidates, rows$row[[k]], rows$kind[[k]], nrow(rows), explored$task))
}

# The players of the rules as they are.
players_of_point <- function(task) {
  seated <- resolve_players(task$as_read, task$players, resolve_settings(task$as_read, task$set, task$mode))
  as.list(stats::setNames(seated, task$as_read$seats)[!is.na(seated)])
}

with_parts <- function(x, ...) {
  parts <- list(...)
  x[names(parts)] <- parts
  x
}

kinds_of_answer <- c(nearest = "nearest to today's rules", inside = "well inside the targets",
                     calm = "least ups and downs", gain = "most rounds with a gain", short = "shortest",
                     more = "another way")

# The first by each criterion, each a fifth of some knob's range from all before it (the one well inside need only be
# another); then the next nearest for which the targets come to something else.
different_rows <- function(candidates, task) {
  criteria <- criteria_of(candidates, task)
  worst <- do.call(pmax, as.data.frame(candidates$miss))
  wanted <- wanted_values(candidates$values, task$targets)
  off <- greatest_distance(wanted, task$targets)
  as_good <- if (min(worst) > 0) rep(TRUE, length(worst)) else worst == 0 & off <= min(off[worst == 0]) + 0.1
  taken <- data.frame(row = integer(), kind = character())
  take <- function(order, kind) {
    for (row in order) {
      if (nrow(taken) >= task$most_answers) return(invisible())
      differs <- function(other) (kind == "inside" || differ_enough(candidates$index[c(row, other), , drop = FALSE],
                                                                    task)) &&
        (kind != "more" || any(abs(wanted[row, ] - wanted[other, ]) > 1e-9))
      if (all(vapply(taken$row, differs, NA))) {
        taken <<- rbind(taken, data.frame(row = row, kind = kinds_of_answer[[kind]]))
        if (kind != "more") return(invisible())
      }
    }
  }
  better <- function(kind) {
    merit <- criteria[[kind]][[2]]
    which(as_good & (nrow(taken) == 0 | merit < min(merit[taken$row], Inf) - 1e-9))
  }
  in_order_of <- function(kind) do.call(order, unname(criteria[[kind]]))
  for (kind in names(criteria)) take(intersect(in_order_of(kind), better(kind)), kind)
  take(intersect(in_order_of("nearest"), which(as_good)), "more")
  unchanged <- rowSums(steps_from_today(candidates$index[taken$row, , drop = FALSE], task)) == 0
  taken$kind[unchanged] <- "today's rules, unchanged"
  if (wants_nearness(task)) taken$kind[[1]] <- "nearest to the target"
  if (min(worst) > 0) taken$kind[[1]] <- "misses least"
  taken
}

differ_enough <- function(two, task) {
  knobs <- c(task$outer, task$inner)
  sizes <- lengths(lapply(knobs, `[[`, "values"))
  named <- vapply(knobs, function(k) is.character(k$values), NA)
  apart <- abs(two[1, ] - two[2, ])
  any(ifelse(named, apart > 0, apart > 0 & apart >= (sizes - 1) / 5))
}

# One answer: the game run once more as it would be, on fresh luck where it is sampled.
balanced_answer <- function(candidates, row, kind, answers, task) {
  index <- candidates$index[row, ]
  outer <- seq_along(task$outer)
  point <- balance_point(task, index[outer], index[-outer])
  if (length(outer) == 0) point <- balance_point(task, integer(), index)
  point$index <- index
  plain <- with_parts(task, inner = list())
  result <- result_of_point(point, plain, seed = task$seed + 1)
  knobs <- c(task$outer, task$inner)
  steps <- steps_from_today(matrix(index, nrow = 1), task)
  list(kind = kind, knobs = stats::setNames(Map(function(k, i) k$values[[i]], knobs, index),
                                            vapply(knobs, `[[`, "", "name")),
       targets = targets_table(result, task, answers),
       measures = data.frame(name = task$measures, value = result$values), elsewhere = elsewhere_of(result, task),
       slipping = slipping_values(point, plain), changed = sum(steps > 0), steps = sum(steps), engine = result$engine,
       point = point)
}

elsewhere_of <- function(result, task)
  stats::setNames(as.list(result$values[match(task$elsewhere, task$measures)]), task$elsewhere)

# With a 95% guarantee over the targets of all the answers.
targets_table <- function(result, task, answers) {
  enough <- stats::qnorm(1 - 0.05 / (2 * answers * length(task$targets)))
  wanted <- wanted_values(matrix(result$values, nrow = 1), task$targets)[1, ]
  table <- data.frame(target = vapply(task$targets, `[[`, "", "text"), value = wanted,
                      met = judged(result, task, enough))
  sampled <- result$engine == "sample"
  error <- vapply(task$targets, function(t) sqrt(sum(result$standard_error[t$columns]^2)), 0)
  table$lower <- if (sampled) wanted - enough * error else NA_real_
  table$upper <- if (sampled) wanted + enough * error else NA_real_
  table
}

# The targets when those who decide slip now and then; NULL where nobody decides.
slipping_values <- function(point, task) {
  settings <- resolve_settings(task$game, point$set, point$mode)
  sitting <- stats::setNames(resolve_players(task$game, task$players, settings), task$game$seats)
  may_slip <- function(players) Filter(function(p) !is.na(p) && !slips(p) && !is_mix(p), players)
  with_slips <- function(players, of) replace(players, names(of), sprintf("%s~%s", of, plain_number(task$slip)))
  plain <- may_slip(sitting)
  if (length(plain) == 0 || task$slip <= 0) return(NULL)
  task$players <- with_slips(task$players, plain)
  task$runs <- lapply(task$runs, function(run)
    replace(run, "seated", list(with_slips(run$seated, may_slip(run$seated)))))
  wanted_of_players(point, task)
}

# The targets under other players, for which a fifth of the rounds will do.
wanted_of_players <- function(point, task) {
  result <- result_of_point(point, task, rounds = if (task$sampled) ceiling(task$rounds / 5), seed = task$seed + 1)
  wanted_values(matrix(result$values, nrow = 1), task$targets)[1, ]
}

most_other_players <- 6

# The targets when others play the seat whose money is looked at, else the first that decides: a data frame with a
# column for each player; NULL where there are no others, or where each target says who plays.
values_by_player <- function(point, task) {
  if (all(lengths(lapply(task$targets, `[[`, "seated")) > 0)) return(NULL)
  settings <- resolve_settings(task$game, point$set, point$mode)
  sitting <- stats::setNames(resolve_players(task$game, task$players, settings), task$game$seats)
  deciding <- names(sitting)[!is.na(sitting)]
  seat <- if (!is.null(task$staked) && task$staked %in% deciding) task$staked else utils::head(deciding, 1)
  if (length(seat) == 0) return(NULL)
  number <- match(seat, task$game$seats)
  able <- names(Filter(function(p) player_can(p, number, asked_of(task$game, number)), task$game$players))
  others <- utils::head(setdiff(able, sitting[[seat]]), most_other_players)
  if (length(others) == 0) return(NULL)
  values <- lapply(stats::setNames(nm = others), function(player) {
    task$players[[seat]] <- player
    wanted_of_players(point, task)
  })
  list(seat = seat, values = list2DF(values))
}

# The influence of each knob on each target, with the others as in the first answer.
influence_table <- function(explored) {
  task <- explored$task
  rows <- different_rows(explored$candidates, with_parts(task, most_answers = 1))
  index <- explored$candidates$index[rows$row[[1]], ]
  knobs <- c(task$outer, task$inner)
  sizes <- lengths(lapply(knobs, `[[`, "values"))
  tables <- lapply(seq_along(knobs), function(k) {
    all <- matrix(rep(index, each = sizes[[k]]), nrow = sizes[[k]])
    all[, k] <- seq_len(sizes[[k]])
    values <- do.call(rbind, lapply(seq_len(nrow(all)), function(i) wanted_at(explored, all[i, ])))
    ends <- values[c(1, nrow(values)), , drop = FALSE]
    data.frame(knob = knobs[[k]]$name, target = vapply(task$targets, `[[`, "", "text"),
               measure = vapply(task$targets, function(t) paste(t$measures, collapse = " - "), ""),
               from = ends[1, ], to = ends[2, ], least = apply(values, 2, min), greatest = apply(values, 2, max),
               step = (ends[2, ] - ends[1, ]) / (sizes[[k]] - 1))
  })
  do.call(rbind, tables)
}

wanted_at <- function(explored, index) {
  task <- explored$task
  outer <- seq_along(task$outer)
  sizes <- lengths(lapply(task$outer, `[[`, "values"))
  point <- 1 + sum((index[outer] - 1) * cumprod(c(1, sizes))[outer])
  inner <- if (length(outer) > 0) index[-outer] else index
  wanted_values(values_at(explored$results[[point]], matrix(inner, nrow = 1)), task$targets)[1, ]
}

#' @rdname balance_game
#' @param balance The result of `balance_game()`.
#' @return `answers()`: a list with the values of the knobs of each answer, to be used as `set`.
#' @export
answers <- function(balance) {
  if (!inherits(balance, "basanos_balance"))
    abort_input("argument_wrong", "`answers()` takes the result of balance_game().")
  lapply(balance$answers, `[[`, "knobs")
}
