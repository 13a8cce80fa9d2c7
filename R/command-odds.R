command_odds <- function(args) {
  read <- read_options("odds", args, c(game_options(), list(
    option("engine", "exact or sample [exact]", "exact", "ENGINE"),
    option("rounds", "rounds to sample [1e6]", "1e6", "N"),
    option("seed", "seed of the sampled rounds [1]", "1", "S"),
    option("threads", "threads to sample with [1]", "1", "T"),
    option("max-states", "states that exact may visit [5e6]", "5e6", "N"),
    option("format", "text, json or csv [text]", "text", "FORMAT"),
    option("out", "a file to write to, instead of standard output", metavar = "FILE"),
    option("figure", "a figure to draw as well, .png or .svg", metavar = "FILE"))))
  if (is.null(read)) return(0L)
  o <- read$options
  one_of_names(o$format, c("text", "json", "csv"), "format_unknown", "--format")
  result <- odds(read$game, o$engine, number_option(o$rounds), number_option(o$seed), number_option(o$threads), o$set, o$player,
                 number_option(o[["max-states"]]), mode = o$mode)
  if (!is.null(o$figure)) save_figure(figure_odds(result), o$figure)
  put_out(switch(o$format, json = odds_json(result), csv = sub("\n$", "", odds_csv(result)), format(result)), o$out)
  0L
}
