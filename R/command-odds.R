command_odds <- function(args) {
  read <- read_options("odds", args, c(game_options(), list(
    shared_option("engine"),
    option("rounds", "rounds to sample [1e6; 2e4 with word lists]", metavar = "N"),
    shared_option("seed"),
    shared_option("threads"),
    option("max-states", "states that exact may visit [5e6]", "5e6", "N"),
    option("max-seconds", "how long exact may take", metavar = "S"),
    option("precision", "sample until the interval is no wider than this to either side", metavar = "P"),
    option("of", "the quantity for --precision: an outcome, a seat's pay, a record or a measure [the first outcome]",
           metavar = "NAME"),
    option("measure", "a measure to tell, as \"edge(guest)\" or \"quantile(tiles, 0.9)\"; may be given several times",
           metavar = "MEASURE"),
    option("record", "one more quantity to measure, as \"high = max(score)\"; may be given several times",
           metavar = "NAME=EXPRESSION"),
    option("without", "records to leave out of a count, with commas between; they are sampled beside it",
           metavar = "NAMES"),
    option("given", "count only rounds in which this holds, as \"turns > 8\"", metavar = "CONDITION"),
    option("by", paste("cross the outcomes with this expression, or with several of them; `outcome` tells the measures",
                       "by outcome; may be given several times"), metavar = "EXPRESSION"),
    option("at", "the odds from a position on, as \"guest_hand = c(9, 5)\"", metavar = "POSITION"),
    option("checkpoint", "save a sampled run to this file every few seconds, and go on from it", metavar = "FILE"),
    flag_option("par", "the par table: what each outcome and pay adds to the return and the variance"),
    option("each", "every answer of this decision side by side, whoever plays", metavar = "DECISION"),
    flag_option("distributions", "the quantiles and values of every record as well; csv has these instead"),
    shared_option("format"),
    shared_option("out")), figure_options(
      paste("the outcomes; with --precision how the estimate settles, with --distributions every record by value, with",
            "--each the return of every answer, with --at what each answer leads to"))))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  max_seconds <- if (is.null(o[["max-seconds"]])) Inf else number_option(o[["max-seconds"]])
  if (isTRUE(o$par)) return(command_par(read$game, o))
  if (!is.null(o$each)) return(command_each(read$game, o))
  result <- told_if_stopped(
    odds(read$game, o$engine, number_option(o$rounds), number_option(o$seed), number_option(o$threads), o$set, o$player,
         number_option(o[["max-states"]]), mode = o$mode, record = o$record, given = o$given, by = o$by, at = o$at,
         max_seconds = max_seconds, precision = number_option(o$precision), of = o$of, checkpoint = o$checkpoint,
         measure = o$measure, without = names_between_commas(o$without)), o, "odds")
  if (!is.null(o$figure))
    put_figure(result, o, show = if (isTRUE(o$distributions)) "distributions" else if (!is.null(o$at)) "answers")
  if (o$distributions && o$format == "csv") put_out(csv_lines(odds_distributions(result)), o$out)
  else put_result(result, o, distributions = o$distributions)
}

command_par <- function(game, o) {
  put_result(with_odds_options(par_table, game, NULL, o), o)
}

command_each <- function(game, o) {
  table <- told_if_stopped(with_odds_options(odds_each, game, o$each, o), o, "each")
  if (!is.null(o$figure)) put_figure(table, o)
  put_result(table, o)
}

# Calls what works on the odds of a game, with the options that say how they are got; `about` comes second.
with_odds_options <- function(f, game, about, o) {
  table <- if (isTRUE(o$par)) "par" else "each"
  for (name in c("at", "by", "record", "measure", "precision", "of", "checkpoint", if (table == "par") "each"))
    if (!is.null(o[[name]]))
      abort_input("flag_wrong", sprintf("`--%s` cannot go with `--%s`.", name, table),
                  sprintf("leave out one of them; `--given` may go with `--%s`", table))
  more <- list(engine = o$engine, rounds = number_option(o$rounds), seed = number_option(o$seed),
               threads = number_option(o$threads), set = o$set, players = o$player,
               max_states = number_option(o[["max-states"]]), mode = o$mode, given = o$given)
  do.call(f, c(list(game, about), more))
}
