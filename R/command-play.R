command_play <- function(args) {
  read <- read_options("play", args, c(game_options(), list(
    option("seat", "a seat that a person takes; may be given several times with commas between", metavar = "SEATS"),
    option("seed", "the seed of the luck [a new one]", metavar = "S"),
    option("given", "forced draws, as \"tile = c(7, 9)\"", metavar = "GIVEN"),
    option("where", "begin with a round in which this outcome comes up, or this holds", metavar = "CONDITION"),
    option("at", "begin at a position, as \"guest_total = 16\"", metavar = "POSITION"),
    flag_option("reveal", "show what is hidden, for testing"),
    option("rounds", "stop after N rounds, matches or sittings, without asking", metavar = "N"),
    option("keep", "a CSV file to add the rounds played to", metavar = "FILE"),
    option("name", "the player's name in that file [guest]", "guest", "NAME"))))
  if (is.null(read)) return(0L)
  o <- read$options
  seats <- if (!is.null(o$seat)) trimws(strsplit(o$seat, ",")[[1]])
  if (!is.null(o$rounds)) check_rounds(number_option(o$rounds))
  play_game(read$game, seats, if (!is.null(o$seed)) number_option(o$seed), o$set, o$player, o$mode, o$given,
            o$where, o$at, isTRUE(o$reveal), if (!is.null(o$rounds)) number_option(o$rounds), o$keep, o$name)
  0L
}

command_played <- function(args) {
  read <- read_options("played", args,
                       list(flag_option("no-model", "leave the odds by the rules out"),
                            flag_option("summary", "leave people beside the odds out"),
                            option("game", "the game, for rounds that were not kept by `basanos play`",
                                   metavar = "GAME"),
                            option("map", "which columns of such a file are which, as outcome=result,name=visitor",
                                   metavar = "OURS=THEIRS"),
                            option("seat", "the seat of such a file [the first that decides]", metavar = "SEAT"),
                            shared_option("format")), takes_game = FALSE, arguments = "FILE")
  if (is.null(read)) return(0L)
  o <- read$options
  one_of_names(o$format, c("text", "json", "csv"), "format_unknown", "--format")
  path <- read$rest[[1]]
  with_odds <- !isTRUE(o[["no-model"]])
  if (!is.null(o$map)) {
    people <- kept_people(path, o$game, unlist(name_values(o$map, "--map", "outcome=result")), o$seat)
    return(put_table(people, list(people = unclass(people)), list(format = o$format)))
  }
  table <- kept_rounds(path, with_odds)
  people <- if (with_odds && !isTRUE(o$summary) && o$format != "csv") kept_people(path)
  if (o$format == "text") put_out(c(played_lines(table), if (!is.null(people)) c("", format(people))))
  else put_table(table, list(rounds = table, people = unclass(people)), list(format = o$format))
  0L
}

played_lines <- function(table) {
  percent <- function(x) percent_text(x, 1)
  number <- function(x) fixed_text(x, 3, sign = TRUE)
  cells <- list(player = table$name, game = table$game, seat = table$seat, rounds = format(table$rounds),
                won = percent(table$won),
                "95% interval" = interval_text(table$lower, table$upper, percent),
                "longest streak" = format(table$longest_streak), "mean pay" = number(table$pay))
  if (is.null(table$model_won)) return(aligned(cells))
  without <- !is.na(table$no_model)
  notes <- unique(sprintf("  %s: no odds by the rules, for %s.", table$game[without], table$no_model[without]))
  c(aligned(c(cells, list("by the rules" = percent(table$model_won), "pay by the rules" = number(table$model_pay)))),
    if (any(without)) c("", notes))
}
