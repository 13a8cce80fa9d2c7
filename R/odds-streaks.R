# Streaks: the longest run of equal outcomes in a number of rounds.

#' Streaks of an outcome
#'
#' How long the longest run of each outcome gets in a number of rounds, and how likely a run of a
#' given length is. Rounds must be independent: not those of a match or sitting.
#'
#' @param odds Odds: see [odds()].
#' @param in_rounds In how many rounds, a whole number from 1 to 100 000.
#' @param length The length of a run whose chance is asked for, or `NULL`.
#' @return An object of class `basanos_streaks`: a list with `rows`, a data frame with one row an outcome and one for
#'   `any`:
#'   `outcome`, `probability` (in one round), `at_least` (the chance of a run of `length` or longer), `mean_longest`
#'   (the mean length of the longest run) and `likely_longest` (the shortest length that the longest run stays
#'   within 95% of the time).
#' @section Formulas: The chance of a run is worked out round by round over the length of the run so far, as in
#'   Feller, "An Introduction to Probability Theory and Its Applications", volume 1, XIII.7; the mean is the sum of the
#'   chances of a run of 1, 2, 3, ...
#' @section Errors: `streaks_need_rounds`, `argument_wrong`.
#' @export
#' @examples
#' streaks(odds("tide-signs"), in_rounds = 20, length = 4)
streaks <- function(odds, in_rounds, length = NULL) {
  asked <- asked_here("streaks")
  if (!inherits(odds, "basanos_odds")) abort_input("argument_wrong", "`streaks()` takes odds, as odds() gives them.")
  if (odds$unit != "round" || !odds$complete)
    abort_input("streaks_need_rounds",
                sprintf("The rounds of a %s depend on each other: the odds of one round do not give their streaks.",
                        odds$unit),
                        "record the length of a run in the rules, in a state that lasts the match or sitting")
  check_count(in_rounds, "in_rounds", 1e5, "write in_rounds = 20 (--in 20)")
  if (!is.null(length)) check_count(length, "length", in_rounds, "write 20")
  p <- odds$outcomes$probability
  rows <- lapply(c(as.list(seq_along(p)), list(NULL)), function(k) {
    chance <- function(l) if (is.null(k)) chance_of_any_run(p, in_rounds, l) else chance_of_run(p[[k]], in_rounds, l)
    longest <- chances_of_runs(chance, in_rounds)
    data.frame(outcome = if (is.null(k)) "any" else odds$outcomes$name[[k]], probability = if (is.null(k)) 1
      else p[[k]],
               at_least = if (is.null(length)) NA_real_
                 else chance(length), mean_longest = sum(longest), likely_longest = sum(longest > 0.05))
  })
  structure(list(game = odds$game, title = odds$title, engine = odds$engine, in_rounds = in_rounds, length = length,
                 rows = do.call(rbind, rows), players = odds$players, asked = asked),
            class = result_class("streaks"))
}

# The chance of a run of 1, 2, 3, ... up to where there is none.
chances_of_runs <- function(chance, rounds) {
  chances <- numeric()
  for (l in seq_len(rounds)) {
    p <- chance(l)
    if (p < 1e-12) break
    chances <- c(chances, p)
  }
  chances
}

# f(n), the chance that a run of l is first complete at round n: at l it is p^l; after that a failure comes l rounds
# before, with no run up to there.
chance_of_run <- function(p, n, l) {
  if (l > n) return(0)
  whole <- p^l
  none <- c(rep(1, l), numeric(n - l + 1))  # none[m + 1]: no run of l in m rounds
  none[[l + 1]] <- 1 - whole
  for (m in seq_len(n - l) + l) none[[m + 1]] <- none[[m]] - none[[m - l]] * (1 - p) * whole
  1 - none[[n + 1]]
}

# Of any outcome: the run so far and the outcome it is of, carried on round by round.
chance_of_any_run <- function(p, n, l) {
  if (l > n) return(0)
  if (l == 1) return(1)
  p <- p[p > 0]
  open <- matrix(0, length(p), l - 1)  # row: of which outcome, column: how long
  open[, 1] <- p
  done <- 0
  for (m in seq_len(n - 1)) {
    going <- open * p
    done <- done + sum(going[, l - 1])
    fresh <- p * (sum(open) - rowSums(open))
    open <- cbind(fresh, going[, -(l - 1), drop = FALSE])
  }
  done
}

#' @export
sections.basanos_streaks <- function(x, ...) {
  r <- x$rows
  cells <- list(outcome = r$outcome, "in a round" = percent_text(r$probability, 3))
  if (!is.null(x$length))
    cells[[sprintf("%d or more in a row", as.integer(x$length))]] <- percent_text(r$at_least, 3)
  cells <- c(cells,
             list("longest, on average" = fixed_text(r$mean_longest, 2),
                  "95% of the time within" = format(r$likely_longest)))
  all_sections(section(sprintf("%s: streaks in %s rounds", title_of(x), whole_text(x$in_rounds))),
               section(table = cells), section(notes = players_line(x$players)))
}

#' @export
json_fields.basanos_streaks <- function(x)
  c(x[c("game", "engine", "in_rounds", "length")], list(streaks = x$rows))

#' @export
as.data.frame.basanos_streaks <- function(x, ...) {
  r <- x$rows
  bind_result_rows(
    result_rows(x, "probability", r$outcome, r$probability, in_rounds = x$in_rounds),
    if (!is.null(x$length)) result_rows(x, "at_least", r$outcome, r$at_least, x$length, in_rounds = x$in_rounds),
    result_rows(x, "mean_longest", r$outcome, r$mean_longest, in_rounds = x$in_rounds),
    result_rows(x, "likely_longest", r$outcome, r$likely_longest, in_rounds = x$in_rounds))
}
