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
    shared_option("format"),
    shared_option("out"))), arguments = "NEW",
    missing = "name two games, or the same one twice with --set-new or --player-new")
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  ask <- list(read$game, read$rest[[1]], rounds = number_option(o$rounds), seed = number_option(o$seed), set = o$set,
              players = o$player, mode = o$mode, set_new = o[["set-new"]], players_new = o[["player-new"]])
  result <- if (isTRUE(o$same)) do.call(same_results, ask)
    else told_if_stopped(do.call(compare_games, c(ask, list(engine = o$engine, measure = o$measure))), o, "comparison")
  put_result(result, o)
  if (isFALSE(result$same)) 1L else 0L
}
