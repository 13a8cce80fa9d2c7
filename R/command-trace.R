command_trace <- function(args) {
  read <- read_options("trace", args, c(game_options(), list(
    option("unit", "the number of the round, match or sitting [1]", "1", "N"),
    option("seed", "seed of the run it belongs to [1]", "1", "S"),
    option("forced", "forced draws and answers, as \"tile = c(7, 9)\"", metavar = "DRAWS"),
    option("where", "an outcome, or a condition: the first unit in which it holds", metavar = "CONDITION"),
    option("round", "of a match or sitting, the number of the round to show, or all [with --where the first that fits]",
           metavar = "K"),
    option("sees", "tell only what this seat sees", metavar = "SEAT"),
    flag_option("as-example", "write the round, match or sitting as a worked example"),
    flag_option("all", "every step of a long trace"),
    flag_option("words", "tell it in the words of the rule card, without the rules beside"),
    shared_option("format"))))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  trace <- trace_round(read$game, number_option(o$unit), number_option(o$seed), o$set, o$player, o$forced, o$where,
                       o$sees, o$mode, number_option(o$round))
  if (isTRUE(o[["as-example"]])) put_out(trace_as_example(trace))
  else put_result(trace, o, all = isTRUE(o$all), words = isTRUE(o$words))
  if (is.null(trace$diagnostic)) 0L else 1L
}
