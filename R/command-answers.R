command_answers <- function(args) {
  read <- read_options("answers", args, c(game_options(), list(
    option("seat", "the seat to watch [the first that decides]", metavar = "SEAT"),
    option("decision", "the decision [the first that it is asked]", metavar = "NAME"),
    option("by", "an expression that describes a situation [the one or two that explain the answers best]",
           metavar = "EXPR"),
    option("against", "another player: tells where the two differ, and the cost", metavar = "PLAYER"),
    option("most", "with --against, the number of differences to value [40]", "40", "N"),
    option("rounds", "rounds to watch [2000]", "2000", "N"),
    option("seed", "seed of these rounds [1]", "1", "S"),
    shared_option("format"),
    shared_option("out"))))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  rounds <- number_option(o$rounds)
  seed <- number_option(o$seed)
  result <- told_if_stopped(if (is.null(o$against))
    player_answers(read$game, o$seat, o$decision, o$by, rounds, seed, o$set, o$player, o$mode)
  else partings_asked(game(read$game), o, rounds, seed), o, "answers")
  put_result(result, o)
}

# The player of the seat is the one that parts, the other is the measure.
partings_asked <- function(game, o, rounds, seed) {
  wanted <- asked_about(game, o$seat, o$decision)
  name <- game$seats[[wanted$seat]]
  sitting <- resolve_players(game, o$player, resolve_settings(game, o$set, o$mode))[[wanted$seat]]
  player_partings(game, name, o$decision, o$against, sitting, o$by, rounds, seed, o$set, o$player, o$mode,
                  number_option(o$most))
}
