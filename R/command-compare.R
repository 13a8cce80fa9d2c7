command_compare <- function(args) {
  read <- read_options("compare", args, c(game_options(), list(
    set_new = option("set-new", "a setting of the second game only, as name=value; may be given several times",
                     metavar = "NAME=VALUE"),
    player_new = option("player-new", "who plays a seat of the second game, as seat=name; may be given several times",
                        metavar = "SEAT=NAME"),
    flag_option("same", "do they play identically? Proves it, or shows the first unit where they part"),
    option("engine", "auto or sample [auto]", "auto", "ENGINE"),
    option("rounds", "rounds to sample on the same luck [1e5]", "1e5", "N"),
    shared_option("seed"),
    option("measure", "a measure to compare as well, as \"edge(guest)\"; may be given several times",
           metavar = "MEASURE"),
    option("format", "text or json [text]", "text", "FORMAT"))), arguments = "NEW",
    missing = "name two games, or the same one twice with --set-new or --player-new")
  if (is.null(read)) return(0L)
  o <- read$options
  one_of_names(o$format, c("text", "json"), "format_unknown", "--format")
  ask <- list(read$game, read$rest[[1]], rounds = number_option(o$rounds), seed = number_option(o$seed), set = o$set,
              players = o$player, mode = o$mode, set_new = o[["set-new"]], players_new = o[["player-new"]])
  result <- do.call(if (isTRUE(o$same)) same_results
    else compare_games, c(ask, if (!isTRUE(o$same)) list(engine = o$engine, measure = o$measure)))
  put_out(if (o$format == "json") comparison_json(result) else format(result))
  if (isFALSE(result$same)) 1L else 0L
}

comparison_json <- function(result) {
  if (!is.null(result$old))
    result[c("old", "new")] <- lapply(result[c("old", "new")],
                                      function(t) t[c("unit", "seed", "outcome", "pays", "records", "events")])
  as.character(jsonlite::toJSON(c(list(format = 1L), Filter(Negate(is.null), unclass(result))), dataframe = "rows",
                                auto_unbox = TRUE, digits = NA, na = "null", pretty = TRUE))
}
