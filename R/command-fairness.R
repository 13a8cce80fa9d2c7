command_fairness <- function(args) {
  read <- read_options("fairness", args, c(game_options()[c("file", "mode", "set")], list(
    option("compare", "the players to seat everywhere, with commas between [all that can take every seat]",
           metavar = "NAMES"),
    option("of", "the measure of a seat, with {seat} for its name [mean_pay({seat})]", metavar = "MEASURE"),
    option("knob", "a handicap to try, as \"head_start in 0..5\"; may be given several times", metavar = "KNOB"),
    shared_option("engine"),
    option("rounds", "rounds to sample [1e5]", "1e5", "N"),
    shared_option("seed"),
    shared_option("format"),
    shared_option("out"))))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  result <- told_if_stopped(
    seat_fairness(read$game, if (!is.null(o$compare)) swept_players(o$compare), o$of, o$engine,
                  number_option(o$rounds), number_option(o$seed), set = o$set, mode = o$mode, knobs = o$knob),
    o, "fairness")
  put_result(result, o)
}
