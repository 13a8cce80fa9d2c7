command_streaks <- function(args) {
  read <- read_options("streaks", args, c(game_options(), list(
    option("in", "in how many rounds [100]", "100", "N"),
    option("length", "how likely is a run of this length or longer?", metavar = "K"),
    option("engine", "auto, exact or sample, for the odds of a round [auto]", "auto", "ENGINE"),
    shared_option("format"))))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  found <- streaks(odds(read$game, o$engine, set = o$set, players = o$player, mode = o$mode), number_option(o[["in"]]),
                   number_option(o$length))
  put_result(found, o)
}
