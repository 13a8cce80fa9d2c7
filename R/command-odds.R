# The command of odds: with --par and --each it gives other tables of the same odds.

odds_options <- function() c(game_options(), shared("engine"), list(
  number_option("rounds", "rounds to sample [1e6; 2e4 with word lists]")), shared("seed", "threads"), list(
  number_option("max-states", "states that exact may visit [5e6]"),
  number_option("max-seconds", "how long exact may take", "S"),
  number_option("precision",
                "sample until the half width of the interval of the first measure, or outcome, is at most this", "P"),
  measure_option("a measure, as \"edge(guest)\" or \"quantile(tiles, 0.9)\"; may be given several times",
                 several = TRUE),
  option("record", "one more quantity to measure, as \"high = max(score)\"; may be given several times",
         "NAME=EXPRESSION", several = TRUE, write = records_written),
  option("without", "records to leave out of a count, with commas between; they are sampled beside it", "NAMES",
         "names"),
  option("given", "count only rounds in which this holds, as \"turns > 8\"", "CONDITION"),
  option("by", paste("cross the outcomes with this expression, or with several of them; `outcome` gives the measures",
                     "by outcome; may be given several times"), "EXPRESSION", several = TRUE),
  option("at", "the odds from a position on, as \"guest_hand = c(9, 5)\"", "POSITION"),
  option("checkpoint", "save a sampled run to this file every few seconds, and go on from it", "FILE"),
  flag_option("par", "the par table: what each outcome and pay adds to the return and the variance"),
  option("each", "every answer of this decision side by side, whoever plays", "DECISION"),
  flag_option("distributions", "the quantiles and values of every record as well; csv has these instead",
              part = "show")), shared("format", "out"))

# Further games come without names.
odds_of_options <- function(game, ..., par = FALSE, each = NULL) {
  given <- list(...)
  is_game <- !nzchar(c(names(given), rep("", length(given)))[seq_along(given)])
  if (!par && is.null(each))
    return(do.call(odds, c(list(if (any(is_game)) c(list(game), given[is_game]) else game), given[!is_game])))
  table <- if (par) "par" else "each"
  refuse <- function(what) abort_input("flag_wrong", sprintf("%s cannot go with `--%s`.", what, table),
                                       sprintf("leave out one of them; `--given` may go with `--%s`", table))
  if (any(is_game)) refuse("Several games")
  for (name in c("at", "by", "record", "measure", "precision", "checkpoint")) if (!is.null(given[[name]]))
    refuse(sprintf("`--%s`", name))
  if (par && !is.null(each)) refuse("`--each`")
  if (par) par_table(game, NULL, ...) else odds_by_answer(game, each, ...)
}

figure_of_odds <- function(result, o) {
  if (!inherits(result, "basanos_odds")) return(put_figure(result, o))
  put_figure(result, o, show = if (isTRUE(o$distributions)) "distributions" else if (!is.null(o$at)) "answers")
}
