command_modes <- function(args) {
  read <- read_options("modes", args, c(game_options()[c("file", "set", "player")], list(
    option("of", "the measure of success [how often the first outcome comes up]", metavar = "MEASURE"),
    option("level", "shares of success that new modes are to have, as 80%,50%,20%", metavar = "SHARES"),
    option("knob", "for --level: a setting to turn, as \"tries in 3..12\"; may be given several times",
           metavar = "KNOB"),
    shared_option("engine"),
    option("rounds", "rounds to sample in each mode [1e5]", "1e5", "N"),
    shared_option("seed"),
    shared_option("format"),
    shared_option("out"))))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  levels <- if (!is.null(o$level)) vapply(split_values(o$level), target_number, 0, whole = o$level, USE.NAMES = FALSE)
  result <- told_if_stopped(
    audit_modes(read$game, if (!is.null(o$of)) o$of[[1]], o$player, o$set, o$engine, number_option(o$rounds),
                number_option(o$seed), levels, o$knob), o, "modes")
  put_result(result, o)
}
