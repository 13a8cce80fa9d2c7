command_play <- function(args) {
  read <- read_options("play", args, c(game_options(), list(
    option("seat", "a seat that a person takes; may be given several times with commas between", metavar = "SEATS"),
    option("seed", "the seed [a new one each time]", metavar = "S"),
    option("forced", "forced draws, as \"tile = c(7, 9)\"", metavar = "DRAWS"),
    option("where", "begin with a round in which this outcome comes up, or this holds", metavar = "CONDITION"),
    option("at", "begin at a position, as \"guest_total = 16\"", metavar = "POSITION"),
    flag_option("reveal", "show what is hidden, for testing"),
    option("rounds", "stop after N rounds, matches or sittings, without asking", metavar = "N"),
    option("keep", "a CSV file to add the rounds played to", metavar = "FILE"),
    option("name", "the player's name in that file [guest]", "guest", "NAME"))))
  if (is.null(read)) return(0L)
  o <- read$options
  seats <- names_between_commas(o$seat)
  if (!is.null(o$rounds)) check_rounds(number_option(o$rounds))
  play_game(read$game, seats, if (!is.null(o$seed)) number_option(o$seed), o$set, o$player, o$mode, o$forced,
            o$where, o$at, isTRUE(o$reveal), if (!is.null(o$rounds)) number_option(o$rounds), o$keep, o$name)
  0L
}

command_played <- function(args) {
  read <- read_options("played", args,
                       list(flag_option("no-model", "without the odds beside"),
                            flag_option("summary", "leave people beside the odds out"),
                            option("game", "the game, for rounds that were not kept by `basanos play`",
                                   metavar = "GAME"),
                            option("map", "which columns of such a file are which, as outcome=result,name=visitor",
                                   metavar = "OURS=THEIRS"),
                            option("seat", "the seat of such a file [the first that decides]", metavar = "SEAT"),
                            shared_option("format")), takes_game = FALSE, arguments = "FILE")
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  path <- read$rest[[1]]
  with_odds <- !isTRUE(o[["no-model"]])
  if (!is.null(o$map)) {
    people <- kept_people(path, o$game, unlist(name_values(o$map, "--map", "outcome=result")), o$seat)
    return(put_result(people, o))
  }
  table <- kept_rounds(path, with_odds)
  people <- if (with_odds && !isTRUE(o$summary) && o$format != "csv") kept_people(path)
  attr(table, "people") <- people
  put_result(table, o)
}
