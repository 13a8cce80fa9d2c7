# A sentence about each figure, for readers who cannot see it.

figure_alt <- function(x, ...) UseMethod("figure_alt")

#' @export
figure_alt.basanos_odds <- function(x, show = "outcomes", ...) {
  if (show == "distributions")
    return(sprintf("Bars by value for %s, with lines at the quantiles; the numbers are in the table.",
                   enumerated(c(x$records$name[x$records$type == "number"], pay_titles(x)), 8)))
  o <- x$outcomes[order(-x$outcomes$probability), ]
  sprintf("How rounds end: %s.", enumerated(sprintf("%s %s", o$name, percent_text(o$probability, 1)), 8))
}

#' @export
figure_alt.basanos_players <- function(x, ...) {
  r <- x$ranking
  sprintf("Each player against each, by %s: on average %s.", any_seat(x$measure),
          enumerated(sprintf("%s %s", r$player, fixed_text(r$mean, 4, sign = TRUE)), 8))
}

#' @export
figure_alt.basanos_balance <- function(x, ...) {
  i <- x$influence
  sprintf("How far each knob moves each target: %s.",
          enumerated(sprintf("%s moves %s from %s to %s", i$knob, i$measure, short_number_each(i$from),
                             short_number_each(i$to)), 6))
}

short_number_each <- function(v) vapply(v, short_number, "")

#' @export
figure_alt.basanos_bankroll <- function(x, ...) {
  m <- x$measures
  said <- "The wallet over an evening: from %s tokens, half of the evenings end with %s or less, one in twenty with %s."
  sprintf(said, plain_number(x$terms$wallet), plain_number(m[["50%"]][[1]]), plain_number(m[["5%"]][[1]]))
}

#' @export
figure_alt.basanos_takings <- function(x, ...) {
  r <- x$rows
  sprintf("What an evening leaves in the till: %s.", enumerated(sprintf(
    "%s %s on average, from %s to %s in 9 evenings of 10", r$game, fixed_text(r$evening, 1), fixed_text(r[["5%"]], 0),
    fixed_text(r[["95%"]], 0)), 6))
}
