#' Audit the modes of a game, and set new ones
#'
#' Tells how often a player succeeds in each mode, and what is wrong with the modes: out of order, a certain win, two
#' that do not differ, a limit that never binds. With `levels` and `knobs` it seeks settings at which the player
#' succeeds at the levels given.
#'
#' @inheritParams odds
#' @param measure What success is, as a measure; by default how often the first outcome comes up.
#' @param rounds Rounds to sample, where a count does not fit; by default 100 000.
#' @param levels Shares of success that new modes are to have, hardest last: `c(0.8, 0.5, 0.2)`.
#' @param knobs For `levels`: the settings to turn, as knobs of [balance_game()].
#' @param ... More arguments of [odds()].
#' @return An object of class `basanos_modes`: a list with `rows`, a data frame with one row a mode (`mode`, a column
#'   for each setting that modes change, `value`; sampled also `lower`, `upper`), `findings` (texts), and `set`, with
#'   one row a level: `level`, the settings, `value`, `line` (the mode as a line of rules).
#' @inheritSection odds Stopped
#' @section Errors: `mode_unknown` where the game has no modes and no levels are given, those of [odds()] and
#'   [balance_game()].
#' @export
#' @examples
#' audit_modes("deep-well")
audit_modes <- function(game, set = list(), players = list(), measure = NULL, levels = NULL, knobs = NULL,
                        engine = c("auto", "exact", "sample"), rounds = 1e5, seed = 1, ...) {
  asked <- asked_here("audit_modes", odds)
  seed <- given_seed(seed)
  game <- game_with(game, set)
  engine <- one_of_names(engine[[1]], c("auto", "exact", "sample"), "engine_unknown", "engine")
  if (length(game$modes) == 0 && is.null(levels))
    abort_input("mode_unknown", "This game has no modes.",
                "declare one, as in easy <- mode(tries = 9), or have them set: levels = c(0.8, 0.5), knobs = ...")
  if (is.null(measure)) measure <- sprintf("probability(outcome == %s)", game$outcomes$names[[1]])
  read_measure(game, measure)
  task <- list(game = game, measure = measure, players = players, set = as.list(set), engine = engine, rounds = rounds,
               seed = seed,
               more = list(...))
  so_far <- function(results, after, stop) modes_so_far(task, results, NULL, after)
  modes <- stats::setNames(nm = names(game$modes))
  results <- worked_out(modes, function(mode) odds_in_mode(mode, task), what = "modes", so_far = so_far)
  set <- if (!is.null(levels)) modes_set(task, results, levels, knobs)
  with_call(modes_result(task, results, set), asked)
}

modes_result <- function(task, results, set, stopped = NULL) {
  changed <- unique(unlist(lapply(task$game$modes, names)))
  rows <- modes_table(results, changed)
  findings <- if (is.null(stopped) && length(results) > 0) c(order_findings(rows), limit_findings(task, results))
  structure(list(game = name_of_file(task$game$source), title = task$game$title, measure = task$measure, rows = rows,
                 findings = as.character(findings), players = if (length(results) > 0) results[[1]]$players, set = set,
                 changed = changed, stopped = stopped), class = result_class("modes"))
}

modes_so_far <- function(task, results, set, after) {
  results <- Filter(Negate(is.null), results)
  if (length(results) + NROW(set) > 0) list(modes = modes_result(task, results, set, after)) else list()
}

odds_in_mode <- function(mode, task, set = list()) {
  do.call(odds, c(list(task$game, utils::modifyList(task$set, set), task$players, mode, task$measure,
                       engine = task$engine,
                       rounds = task$rounds, seed = task$seed, progress = FALSE), task$more))
}

modes_table <- function(results, changed) {
  if (length(results) == 0) return(NULL)
  rows <- lapply(seq_along(results), function(k) {
    m <- results[[k]]$measures
    c(list(mode = names(results)[[k]]), results[[k]]$settings[changed], list(value = m$value,
      lower = or_missing(m$lower), upper = or_missing(m$upper), engine = results[[k]]$engine))
  })
  table_of_rows(rows)
}

least_difference <- 0.01

order_findings <- function(rows) {
  v <- rows$value
  names <- rows$mode
  n <- length(v)
  pairs <- if (n > 1) utils::combn(n, 2, simplify = FALSE)
  down <- n < 3 || sum(diff(v) < 0) >= sum(diff(v) > 0)
  steps <- if (down) diff(v) > 1e-9 else diff(v) < -1e-9
  c(unlist(lapply(seq_len(n), function(k) if (v[[k]] > 1 - 1e-9 || v[[k]] < 1e-9)
      sprintf("%s: %s.", names[[k]], always_or_never(v[[k]] > 0.5, rows$engine[[k]])))),
    unlist(lapply(pairs, function(p) if (abs(v[[p[[1]]]] - v[[p[[2]]]]) < least_difference)
      sprintf("%s and %s do not differ by more than a round in a hundred.", names[[p[[1]]]], names[[p[[2]]]]))),
    if (n > 2 && any(steps)) sprintf("%s comes after %s and is %s: the modes are out of order.",
                                     names[which(steps) + 1], names[which(steps)], if (down) "easier" else "harder"))
}

# Only a count knows that something is certain.
always_or_never <- function(always, engine) {
  if (engine == "exact") if (always) "a certain win" else "it cannot be won"
  else if (always) "won in every round sampled" else "won in no round sampled"
}

# A whole number in a mode that could be lower and nothing would change.
limit_findings <- function(task, results) {
  unlist(lapply(seq_along(results), function(k) {
    mode <- names(task$game$modes)[[k]]
    lapply(names(task$game$modes[[k]]), function(name) {
      setting <- task$game$settings[[name]]
      value <- results[[k]]$settings[[name]]
      if (!is_kind(setting$type, "whole") || results[[k]]$engine != "exact") return(NULL)
      enough <- least_that_does(task, mode, name, value, results[[k]])
      if (!is.null(enough)) sprintf("%s: %s = %s never binds: %s would do.", mode, name, plain_number(value),
                                  plain_number(enough))
    })
  }))
}

# The least value below which something changes; NULL where the next lower one does, or where none does: then it is no
# limit.
least_that_does <- function(task, mode, name, value, today) {
  end <- task$game$settings[[name]]$from
  low <- if (is.null(end)) value - 64 else constant_of(end, today$settings, task$game$source)
  same <- function(v) {
    o <- tryCatch(odds_in_mode(mode, task, stats::setNames(list(v), name)), basanos_error = function(e) NULL)
    !is.null(o) && identical(o$outcomes$name, today$outcomes$name) &&
      max(abs(o$outcomes$probability - today$outcomes$probability)) < 1e-12
  }
  if (value <= low || !same(value - 1) || same(low)) return(NULL)
  high <- value - 1
  while (low < high) {
    middle <- floor((low + high) / 2)
    if (same(middle)) high <- middle else low <- middle + 1
  }
  high
}

modes_set <- function(task, results, levels, knobs) {
  if (!is.numeric(levels) || anyNA(levels) || any(levels < 0 | levels > 1))
    abort_input("argument_wrong", "`levels` are shares from 0 to 1.",
                "write levels = c(0.8, 0.5, 0.2) (--level 80%,50%)")
  if (is.null(knobs))
    abort_input("argument_missing", "New modes need a setting to turn.",
                "write knobs = \"tries in 3..12\" (--knob ...)")
  read <- lapply(knobs, read_knob, game = task$game)
  refuse_knobs(read, task$set)
  given <- c(task[c("engine", "seed", "rounds", "set", "players")], list(threads = 1, workers = 1, slip = 0,
                                                                          most_answers = 1))
  so_far <- function(rows, after, stop) modes_so_far(task, results, table_of_rows(Filter(Negate(is.null), rows)), after)
  rows <- worked_out(seq_along(levels), what = "levels", so_far = so_far, work = function(k) {
    target <- read_target(task$game, sprintf("%s near %s", task$measure, plain_number(levels[[k]])))
    a <- balanced_answers(combinations_found(balance_task(task$game, list(target), read, given)))[[1]]
    shown <- vapply(a$knobs, value_shown, "")
    line <- sprintf("level_%d <- mode(%s)", k, paste(names(a$knobs), shown, sep = " = ", collapse = ", "))
    c(list(level = levels[[k]]), a$knobs, list(value = a$targets$value, line = line))
  })
  table_of_rows(rows)
}

#' @export
sections.basanos_modes <- function(x, ...) {
  percent <- function(v) percent_text(v, 2L)
  audit <- if (!is.null(x$rows)) {
    cells <- c(list(mode = x$rows$mode), lapply(x$rows[x$changed], plain_number), list(success = percent(x$rows$value)))
    if (any(!is.na(x$rows$lower))) cells[["95% interval"]] <- interval_text(x$rows$lower, x$rows$upper, percent)
    list(section(table = cells),
         section(notes = c(if (is.null(x$stopped) && length(x$findings) == 0) "Nothing is wrong with the modes."
                           else x$findings,
                           players_line(x$players), if (all(x$rows$engine == "exact")) "Counted exactly.")))
  }
  set <- if (!is.null(x$set))
    section("Modes for the levels wanted, as lines of rules:",
            lines = sprintf("  %s   # %s, wanted %s", format(x$set$line), percent(x$set$value), percent(x$set$level)))
  all_sections(section(sprintf("%s: %s by mode", title_of(x), x$measure)), audit, set)
}

#' @export
as.data.frame.basanos_modes <- function(x, ...) {
  r <- if (is.null(x$rows)) x$set else x$rows
  extras <- setdiff(names(r), c("mode", "level", "value", "lower", "upper", "engine"))
  result_rows(x, if (is.null(x$rows)) "level" else "measure", x$measure, r$value,
              if (is.null(x$rows)) r$level else r$mode, lower = r$lower, upper = r$upper, r[extras], engine = r$engine)
}

#' @export
json_fields.basanos_modes <- function(x) {
  x$findings <- as.list(x$findings)
  x[c("game", "measure", "rows", "findings", "set")]
}
