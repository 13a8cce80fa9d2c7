#' Sweep settings, modes and players
#'
#' Tells measures for every combination of values: what turning a knob does. Counted exactly where that is quick, else
#' sampled on the same luck, so that neighbours differ by the rules and not by chance.
#'
#' @inheritParams odds
#' @param set Settings with their values, as a named list of vectors: `list(keeper_stands = 15:19, aim = c(20, 24))`. A
#'   number of the rules is named as for [balance_game()]: `list("pay(bright)" = 1:6)`.
#' @param players Players by seat, each one or several: `list(guest = c("careful", "bold"))`.
#' @param mode Modes, one or several.
#' @param measure Measures, as texts: see [measures()].
#' @param best Which point is best by the first measure: `"highest"`, `"lowest"`, or a number to come as near to as may
#'   be; `NULL` to look for none.
#' @param points A data frame, whose rows are the points, in place of every combination: a column for each setting, seat
#'   (with its players) or `mode`; `set`, `players` and `mode` are then the same at all points.
#' @param workers How many processes work at once (on Windows always one).
#' @param checkpoint A file to save finished points to, and to go on from.
#' @param ... More arguments of [odds()].
#' @return An object of class `basanos_sweep`: a list with
#'   * `rows`: a data frame with one row a combination and measure: a column for each setting, seat and mode that is
#'     given, `measure`, `value`, `standard_error`, `lower`, `upper` (missing where a point is counted), `engine`.
#'   * `best`: the number of the best point, and `may_be_best`: the numbers of all that cannot be told from it.
#'   * `points`: the combinations, one row each; `varied`, the names of what takes several values.
#' @inheritSection odds Stopped
#' @section Formulas: A sampled point may be the best unless another is ahead of it by t(1 - 0.05 / (K - 1)) standard
#'   errors of the paired difference, K being the number of points (Hsu 1996, "Multiple comparisons", multiple
#'   comparisons with the best).
#' @section Errors: `sweep_grid`, `measure_wrong`, `checkpoint_other`, those of [odds()]; all combinations are checked
#'   before the first is worked out.
#' @export
#' @examples
#' sweep_game("lantern-tiles", set = list(keeper_stands = 17:19),
#'            measure = c("edge(guest)", "mean(tiles)"))
sweep_game <- function(game, set = list(), players = list(), mode = NULL, measure, best = "highest",
                       engine = c("auto", "exact", "sample"), rounds = NULL, seed = 1, threads = 1, workers = 1,
                       checkpoint = NULL, progress = NULL, points = NULL, ...) {
  asked <- asked_here("sweep_game", odds)
  seed <- given_seed(seed)
  game <- game_with(game, if (is.null(points)) set else c(as.list(set), as.list(points)))
  engine <- one_of_names(engine[[1]], c("auto", "exact", "sample"), "engine_unknown", "engine")
  if (missing(measure)) abort_input("argument_missing", "A sweep needs a measure.",
                                    "write measure = \"edge(guest)\" (--measure ...)")
  check_count(workers, "workers", 64, "write workers = 2")
  check_best(best)
  measures <- lapply(measure, read_measure, game = game)
  grid <- if (is.null(points)) sweep_grid(game, set, players, mode) else given_grid(game, points, set, players, mode)
  rounds <- if (is.null(rounds)) sweep_rounds else rounds
  task <- list(game = game, measured = with_measures(question_of(game), measure), measure = measure, engine = engine,
               rounds = rounds, seed = seed,
               threads = threads, more = list(...))
  kept <- read_sweep(checkpoint, grid, task)
  texts <- vapply(measures, `[[`, "", "text")
  swept <- function(values, stopped = NULL)
    sweep_of_points(task, grid$table, values, texts, grid$varied, players_swept(game, grid), stopped)
  values <- values_of_points(grid, task, kept, workers, progress, checkpoint, swept)
  sweep <- swept(values)
  best <- best_points(sweep$rows, grid, task, best)
  sweep[names(best)] <- best
  with_call(sweep, asked)
}

# A sweep of the points that were worked out, the others being NULL in `values`.
sweep_of_points <- function(task, points, values, measure, varied, players, stopped) {
  done <- which(!vapply(values, is.null, NA))
  rows <- do.call(rbind, lapply(done, function(k)
    cbind(points[rep(k, nrow(values[[k]])), , drop = FALSE], values[[k]], row.names = NULL)))
  structure(list(game = name_of_file(task$game$source), title = task$game$title, rows = rows,
                 points = points[done, , drop = FALSE], varied = varied, players = players, seats = task$game$seats,
                 unit = program_span(task$game), measure = measure, rounds = task$rounds, seed = task$seed,
                 stopped = stopped),
            class = result_class("sweep"))
}

sweep_rounds <- 1e5
most_points <- 10000

check_best <- function(best) {
  if (is.null(best) || (is.numeric(best) && length(best) == 1 && is.finite(best))) return(invisible())
  one_of_names(best[[1]], c("highest", "lowest"), "sweep_grid", "best")
}

# Every combination: list(points, table, varied). A point is list(set, players, mode); all are checked here.
sweep_grid <- function(game, set, players, mode) {
  parts <- c(lapply(as.list(set), as.list), lapply(as.list(players), as.list),
             if (!is.null(mode)) list(mode = as.list(mode)))
  if (length(parts) == 0 || any(lengths(parts) == 0))
    abort_input("sweep_grid", "A sweep needs values to go through.",
                "write set = list(keeper_stands = 15:19) (--set keeper_stands=15:19)")
  if (prod(lengths(parts)) > most_points)
    abort_input("sweep_grid", sprintf("These are %s combinations, more than %s.", whole_text(prod(lengths(parts))),
                                      whole_text(most_points)), "take fewer values, or fewer settings at once")
  index <- expand.grid(lapply(rev(parts), seq_along))[rev(seq_along(parts))]  # the last goes fastest
  of_set <- seq_along(parts) <= length(set)
  is_mode <- names(parts) == "mode" & seq_along(parts) == length(parts) & !is.null(mode)
  points <- lapply(seq_len(nrow(index)), function(k) {
    values <- stats::setNames(Map(function(part, i) part[[i]], parts, index[k, ]), names(parts))
    point <- list(set = values[of_set], players = values[!of_set & !is_mode], mode = if (any(is_mode)) values$mode)
    settings <- resolve_settings(game, point$set, point$mode)
    resolve_players(game, point$players, settings)
    point
  })
  table <- list2DF(stats::setNames(Map(function(part, i) unlist(part)[i], parts, index), names(parts)))
  list(points = points, table = table, varied = names(parts)[lengths(parts) > 1])
}

# The rows of a data frame as points. A column is a setting, a seat with its players, or `mode`; `set`, `players` and
# `mode` hold at all points.
given_grid <- function(game, points, set, players, mode) {
  if (!is.data.frame(points) || nrow(points) == 0 || nrow(points) > most_points)
    abort_input("sweep_grid", sprintf("`points` is a data frame of 1 to %s rows, a column for each setting.",
                                      whole_text(most_points)), "write points = data.frame(aim = c(21, 24))")
  factors <- names(points)[vapply(points, is.factor, NA)]
  if (length(factors) > 0)
    abort_input("sweep_grid", sprintf("The column `%s` is a factor.", factors[[1]]), "use as.character(), or numbers")
  points <- as.data.frame(points)
  of_seat <- names(points) %in% game$seats
  of_mode <- names(points) == "mode" & is.null(game$settings$mode)
  sets <- lapply(seq_len(nrow(points)), function(k) {
    row <- as.list(points[k, , drop = FALSE])
    point <- list(set = c(as.list(set), row[!of_seat & !of_mode]), players = c(as.list(players), row[of_seat]),
                  mode = if (any(of_mode)) row$mode else mode)
    resolve_players(game, point$players, resolve_settings(game, point$set, point$mode))
    point
  })
  list(points = sets, table = points, varied = names(points))
}

# The players that are the same at every point; seats with several are left out.
players_swept <- function(game, grid) {
  point <- grid$points[[1]]
  seated <- stats::setNames(resolve_players(game, point$players, resolve_settings(game, point$set, point$mode)),
                            game$seats)
  as.list(seated[!is.na(seated) & !names(seated) %in% grid$varied])
}

# The measures of each point, those that are kept not again. Where it is stopped, the stop takes `swept(values, after)`
# along: a sweep of the points that were done.
values_of_points <- function(grid, task, kept, workers, progress, checkpoint, swept) {
  length(kept) <- length(grid$points)
  left <- which(vapply(kept, is.null, NA))
  with_more <- function(values) replace(kept, left, values)
  so_far <- function(values, after, stop) {
    values <- with_more(values)
    done <- sum(!vapply(values, is.null, NA))
    after <- sprintf("%s of %s points", whole_text(done), whole_text(length(values)))
    list(after = after, sweep = if (done > 0) swept(values, after))
  }
  with_more(worked_out(left, function(k) values_of_point(grid$points[[k]], task), workers, "points", so_far,
                       each = if (!is.null(checkpoint)) function(values)
                         write_sweep(with_more(values), grid, task, checkpoint), progress = progress))
}

values_of_point <- function(point, task) {
  o <- odds_of_point(task$measured, point, point$players, task)
  need_complete(o, "sweep_grid", "A point of the sweep",
                "sample it (--engine sample), or let it count on: --max-states")
  column <- function(name) if (is.null(o$measures[[name]])) NA_real_ else o$measures[[name]]
  data.frame(measure = o$measures$name, value = o$measures$value, standard_error = column("standard_error"),
             lower = column("lower"), upper = column("upper"), engine = o$engine)
}

#' @export
as.data.frame.basanos_sweep <- function(x, ...) {
  r <- x$rows
  varied <- r[intersect(x$varied, names(r))]
  by <- if (length(varied) == 0) NA_character_
    else do.call(paste, c(Map(function(name, v) paste0(name, "=", format(v, trim = TRUE)), names(varied), varied),
                          sep = ", "))
  result_rows(x, "measure", r$measure, r$value, by, varied, standard_error = r$standard_error, lower = r$lower,
              upper = r$upper, engine = r$engine)
}

# A sweep that is cut off goes on from the points that it has kept: a JSON file, named by what was asked.

sweep_format <- 1L

sweep_key <- function(grid, task) {
  asked <- list(sweep_format, program_of(new_question(task$game))$hash, grid$points,
                task[c("measure", "engine", "rounds", "seed", "more")])
  substr(digest::digest(asked, algo = "sha256", serializeVersion = 2L), 1, 16)
}

write_sweep <- function(values, grid, task, path) {
  done <- which(!vapply(values, is.null, NA))
  rows <- lapply(done, function(k) list(point = k, told = values[[k]]))
  write_lines(as.character(jsonlite::toJSON(list(what = "basanos sweep", key = sweep_key(grid, task), points = rows),
                                            dataframe = "rows", auto_unbox = TRUE, digits = NA, na = "null")), path,
              sprintf("After %s the sweep", count_text(length(done), "point")))
}

# The points that are kept, a list by number; none where there is no file yet.
read_sweep <- function(path, grid, task) {
  if (is.null(path) || !file.exists(path)) return(list())
  kept <- tryCatch(jsonlite::fromJSON(paste(readLines(path, warn = FALSE), collapse = "\n"), simplifyVector = FALSE),
                   error = function(e) NULL)
  if (!identical(kept$what, "basanos sweep"))
    abort_input("checkpoint_damaged", sprintf("`%s` is not a sweep that was kept.", path),
                "begin anew with another file, or delete this one")
  if (!identical(kept$key, sweep_key(grid, task)))
    abort_input("checkpoint_other", sprintf("`%s` is of another sweep: other rules, values or measures.", path),
                "begin anew with another file")
  values <- list()
  for (point in kept$points) values[[point$point]] <- do.call(rbind, lapply(point$told, function(row)
    as.data.frame(lapply(row[c("measure", "value", "standard_error", "lower", "upper", "engine")], function(x)
      if (is.null(x)) NA_real_ else x))))
  values
}

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
  of_point <- ifelse(first$engine == "exact", 0, first$standard_error)
  error <- sqrt(of_point^2 + of_point[[winner]]^2)
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
