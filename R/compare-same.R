# Does a rewritten file play identically? Proved on every branch of chance where those can be gone through, else
# tried on many units of the same luck.

same_states <- 5e5
same_block <- 2e4

#' Do two games play identically?
#'
#' Two games play identically when the same draws lead to the same outcome, pays and records, whatever is drawn:
#' as when a rules file has been rewritten. Sources of chance and outcomes are matched by their names.
#'
#' @inheritParams compare_games
#' @param rounds How many units of the same luck to try where it cannot be proved.
#' @return An object of class `basanos_same`: a list with `same` (logical), `proved` (logical: on every branch of
#'   chance), `how` (a sentence), and where they differ `old` and `new`, the traces of that unit: see [trace_round()].
#' @export
#' @examples
#' same_play("tide-signs", "tide-signs")
same_play <- function(old, new, set = list(), players = list(), mode = NULL, set_new = list(), players_new = list(),
                      rounds = 1e5, seed = 1) {
  asked <- asked_here("same_play")
  check_rounds(rounds)
  seed <- given_seed(seed)
  sides <- two_sides(old, new, set, players, mode, set_new, players_new)
  result <- function(same, proved, how, ...)
    structure(list(names = vapply(sides, `[[`, "", "name"), same = same, proved = proved, how = how, asked = asked,
                   ...),
              class = result_class("same"))
  unlike <- unlike_declarations(sides)
  if (!is.null(unlike)) return(result(FALSE, TRUE, unlike))
  step <- explore_both(sides)
  if (step$parting == "none")
    return(result(TRUE, TRUE,
                  sprintf("They play identically: proved on every branch of chance, over %s states.",
                          whole_text(step$states))))
  if (step$parting %in% c("round", "failure")) {
    forced <- list(draws = witness_draws(sides[[1]]$program, step), answers = list())
    traces <- lapply(sides, trace_side, unit = 1, seed = seed, forced = forced)
    return(result(FALSE, TRUE, "They differ: the shortest draws after which they do are traced below.",
                  old = traces[[1]], new = traces[[2]]))
  }
  unit <- first_unlike(sides, rounds, seed)
  if (is.null(unit)) {
    why <- if (step$parting == "draw") "they do not draw in the same order, so it is not proved"
      else "there are too many positions for a proof"
    return(result(TRUE, FALSE,
                  sprintf("They came out alike in %s %s of the same luck; %s.", whole_text(rounds),
                          units_in_words(sides[[1]]$program$unit), why)))
  }
  traces <- lapply(sides, trace_side, unit = unit, seed = seed)
  result(FALSE, TRUE,
         sprintf("They differ in %s %s of seed %s.", sides[[1]]$program$unit, whole_text(unit), plain_number(seed)),
         old = traces[[1]], new = traces[[2]])
}

trace_side <- function(side, unit, seed, forced = NULL) {
  watch_trace(side$question$game, program_of(side$question, tracing = TRUE), unit, seed, forced, NULL)
}

# The declarations that must be alike before two games can be compared.
unlike_declarations <- function(sides) {
  old <- sides[[1]]$program
  new <- sides[[2]]$program
  missing <- function(what, a, b) if (!setequal(a, b))
    sprintf("They do not have the same %s: %s.", what,
            paste(c(if (length(setdiff(a, b)) > 0) paste("only the first has", some_of_names(setdiff(a, b))),
                    if (length(setdiff(b, a)) > 0) paste("only the second has", some_of_names(setdiff(b, a)))),
                    collapse = "; "))
  if (old$unit != new$unit) return(sprintf("A unit of the first is a %s, of the second a %s.", old$unit, new$unit))
  c(missing("outcomes", old$outcomes, new$outcomes), missing("sources of chance", old$sources, new$sources),
    missing("seats that are paid", measured_pays(old), measured_pays(new)))[1][[1]]
}

measured_pays <- function(program) vapply(program$pays, `[[`, "", "seat")

# The quantities that both have: two rows, their places counted from 0.
shared_quantities <- function(old, new) {
  a <- measured_names(old)
  b <- measured_names(new)
  at <- match(paste(a$kind, a$name), paste(b$kind, b$name))
  rbind(which(!is.na(at)) - 1L, at[!is.na(at)] - 1L)
}

explore_both <- function(sides) {
  old <- sides[[1]]$program
  new <- sides[[2]]$program
  walk <- polled(same_states, "states", NULL, function(tick)
    core_product(loaded(old), loaded(new), match(old$outcomes, new$outcomes), match(old$sources, new$sources) - 1L,
                 shared_quantities(old, new), same_states, tick))
  if (walk$parting == "stopped") signal_stop()
  walk
}

# The first unit that comes out otherwise, or NULL.
first_unlike <- function(sides, rounds, seed) {
  from <- 1
  while (from <= rounds) {
    to <- min(rounds, from + same_block - 1)
    tables <- lapply(sides, unit_table, seed = seed, first = from, last = to)
    shared <- intersect(colnames(tables[[1]]$values), colnames(tables[[2]]$values))
    differ <- tables[[1]]$rounds != tables[[2]]$rounds | rowSums(tables[[1]]$values[, shared,
      drop = FALSE] != tables[[2]]$values[, shared, drop = FALSE]) > 0
    if (any(differ)) return(from + which(differ)[[1]] - 1)
    from <- to + 1
  }
  NULL
}

#' @export
sections.basanos_same <- function(x, ...) {
  all_sections(section(sprintf("%s and %s", x$names[[1]], x$names[[2]]), notes = x$how),
               if (!is.null(x$old)) section(lines = side_by_side(format(x$old), format(x$new))))
}

side_width <- 62L

# Two texts side by side.
side_by_side <- function(left, right) {
  n <- max(length(left), length(right))
  cut <- function(lines) substr(c(lines, rep("", n - length(lines))), 1, side_width)
  sub(" +$", "", sprintf("%s  %s", formatC(cut(left), width = -side_width), cut(right)))
}

#' @export
json_fields.basanos_same <- function(x) {
  of_trace <- function(t) t[c("unit", "seed", "outcome", "pays", "records", "events")]
  if (!is.null(x$old)) x[c("old", "new")] <- lapply(x[c("old", "new")], of_trace)
  unclass(x)
}

#' @export
as.data.frame.basanos_same <- function(x, ...)
  result_rows(list(game = x$names[[2]]), "same", "play", x$same, NA_character_, proved = x$proved,
              old_game = x$names[[1]])
