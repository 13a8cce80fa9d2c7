command_streaks <- function(args) {
  read <- read_options("streaks", args, c(game_options(), list(
    option("in", "in how many rounds [100]", "100", "N"),
    option("length", "how likely is a run of this length or longer?", metavar = "K"),
    option("engine", "auto, exact or sample, for the odds of a round [auto]", "auto", "ENGINE"),
    shared_option("format"))))
  if (is.null(read)) return(0L)
  o <- read$options
  one_of_names(o$format, c("text", "json", "csv"), "format_unknown", "--format")
  found <- streaks(odds(read$game, o$engine, set = o$set, players = o$player, mode = o$mode), number_option(o[["in"]]),
                   number_option(o$length))
  table <- structure(found, class = "data.frame")
  put_out(switch(o$format, text = format(found),
                 csv = utils::capture.output(utils::write.csv(table, row.names = FALSE)),
                 json = as.character(jsonlite::toJSON(list(format = 1L, game = attr(found, "game"),
                   rounds = attr(found, "rounds"), length = attr(found, "length"), streaks = table), dataframe = "rows",
                   auto_unbox = TRUE, digits = NA, na = "null", pretty = TRUE))))
  0L
}
