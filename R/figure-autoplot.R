#' Figures of results
#'
#' A result draws itself as a ggplot2 plot: `autoplot()` gives it, to be changed or saved; `plot()` draws it.
#'
#' @details
#' * Odds: `show = "outcomes"` (bars counted exactly, points with 95% intervals sampled; of a count that stopped early
#'   the bounds), `"distributions"` (records and pays by value, with quantiles), `"convergence"` (of odds sampled to a
#'   precision: how the estimate settles; the default for these), `"answers"` (of odds from a position: what each answer
#'   leads to).
#' * Players compared: `show = "pairs"` (each against each; pale is not sure) or `"ranking"`.
#' * A sweep: a line over one setting, a heat map over two, panels over three.
#' * A balance: how far each knob moves each target.
#' * A visitor's evening: the wallet round by round; the stall's evening: what is taken.
#' * Every answer of a decision: its return. A par table: the parts of return and variance.
#' * Two games compared: the differences. Fairness: the measure of each seat. Modes: the success in each.
#' * Streaks: the longest runs. Secrets: the hardest and the easiest.
#' * What a player does: its answers by situation. Two players: the situations in which they differ.
#' * Rounds of `simulate()`: the race, rounds won so far in matches that count them, else tokens so far.
#'
#' @param object,x A result.
#' @param show What to draw, where there is a choice.
#' @param beside More odds to draw in the same figure, in a list: the same game sampled, other games.
#' @param ... For `plot()`, what `autoplot()` takes.
#' @return `autoplot()`: a ggplot2 plot. `plot()`: the same, invisibly.
#' @section Errors: `package_needed` where ggplot2 is not installed; `argument_wrong` where there is nothing to draw.
#' @name figures
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' exact <- odds("tide-signs")
#' ggplot2::autoplot(exact, beside = list(odds("tide-signs", engine = "sample", rounds = 1000)))
NULL

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_odds <- function(object, show = NULL, beside = list(), ...) {
  kinds <- c("outcomes", "distributions", "convergence", "answers")
  if (is.null(show)) show <- if (is.null(object$reached)) "outcomes" else "convergence"
  if (inherits(beside, "basanos_odds")) beside <- list(beside)
  if (!all(vapply(beside, inherits, NA, "basanos_odds")))
    abort_input("argument_wrong", "`beside` takes odds, as odds() gives them.", "write beside = list(odds(game))")
  figure <- switch(one_of_names(show, kinds, "argument_wrong", "show"),
                   outcomes = figure_of_outcomes(c(list(object), beside)),
                   distributions = figure_of_distributions(object), convergence = figure_of_convergence(object),
                   answers = figure_of_answers(object))
  naming_players(figure, c(list(object), if (show == "outcomes") beside))
}

#' @rdname figures
#' @export
plot.basanos_result <- function(x, ...) {
  figure <- figure_of(x, ...)
  print(figure)
  invisible(figure)
}

# The figure of a result, where ggplot2 is installed and the result has one.
figure_of <- function(x, ...) {
  need_package("ggplot2", "draws the figures")
  drawn <- vapply(class(x), function(k) !is.null(utils::getS3method("autoplot", k, TRUE, asNamespace("ggplot2"))), NA)
  if (any(drawn)) return(ggplot2::autoplot(x, ...))
  abort_input("argument_wrong", "There is no figure of this result.", "?figures lists the results that have one")
}
