# The command line of a result: the arguments of its question as options, by the table of commands.

# Functions and their commands: `fixed` are options of the function itself, `as` the option's argument for an argument.
commands_of_functions <- list(
  odds = list(command = "odds"), par_table = list(command = "odds", fixed = "--par"),
  odds_by_answer = list(command = "odds", as = c(decision = "each")), streaks = list(command = "streaks"),
  compare_games = list(command = "compare"), same_play = list(command = "compare", fixed = "--same"),
  sweep_game = list(command = "sweep"), balance_game = list(command = "balance"),
  audit_modes = list(command = "modes"), secret_odds = list(command = "list"),
  trace_round = list(command = "trace"), compare_players = list(command = "players"),
  player_answers = list(command = "answers"), player_partings = list(command = "answers", as = c(player = "against")),
  best_play = list(command = "best"), seat_fairness = list(command = "fairness"), bankroll = list(command = "bankroll"),
  takings = list(command = "takings"), check_till = list(command = "takings", as = c(shows = "till")),
  report_games = list(command = "report"), check_game = list(command = "check"))

#' @rdname call_of
#' @export
command_of <- function(x) {
  call_of(x)  # says what is wrong with results without a question
  known <- commands_of_functions[[x$asked$fun]]
  args <- x$asked$args
  if (x$asked$fun == "streaks") args <- c(args$odds$asked$args, args[setdiff(names(args), "odds")])
  if (x$asked$fun == "player_partings") args <- asked_of_partings(x)
  of_games <- names(args) %in% c("game", "games", "old", "new", "rules")
  named <- args[!of_games]
  again <- match(names(named), names(known$as))
  names(named)[!is.na(again)] <- known$as[again[!is.na(again)]]
  options <- commands()[[known$command]]$options
  games <- unlist(lapply(args[of_games], files_asked), recursive = FALSE)
  stalls <- if (x$asked$fun == "takings") words_of_option("with", vapply(games[-1], `[[`, "", "path"))
  if (x$asked$fun == "takings") games <- games[1]
  paste(c("basanos", known$command, in_shell(vapply(games, `[[`, "", "path")), known$fixed, stalls,
          words_of_option("players-file", games[[1]]$players_file),
          unlist(Map(function(name, value) option_written(options, name, value), names(named), named))), collapse = " ")
}

writers$command_line <- command_of

# The files of an argument that is a game or several: list(path, players_file) each.
files_asked <- function(value) {
  if (inherits(value, "basanos_asked_game")) value <- list(value)
  lapply(as.list(value), function(g) {
    if (is.character(g)) return(list(path = g))
    if (is.null(g$source$folder)) abort_input("argument_wrong", "Rules without a file have no command line.",
                                              "write them to a file: my.game")
    list(path = path_of_game(g$source), players_file = g$source$players_file)
  })
}

# On the command line the player that is measured sits at the seat, and `--against` names the other.
asked_of_partings <- function(x) {
  args <- x$asked$args
  args$players[[x$seat]] <- args$other
  args[c("other")] <- NULL
  args
}

# An argument as words of the command line.
option_written <- function(options, name, value) {
  option <- Find(function(o) o$argument == name, options)
  if (is.null(option)) abort_input("argument_wrong", sprintf("`%s` has no option on the command line.", name),
                                   "call_of() gives the call in R")
  if (option$is_flag) return(if (isTRUE(value)) paste0("--", option$flag))
  words_of_option(option$flag, if (!is.null(option$write)) option$write(value) else text_of_option(option, value))
}

# Numbers as they are read back, several values with commas between unless the option is given several times.
text_of_option <- function(option, value) {
  text <- function(v) if (is.numeric(v)) full_number(v) else as.character(v)
  joined <- function(v) paste(vapply(v, text, ""), collapse = ",")
  if (identical(option$read, "pairs")) return(paste0(names(value), "=", vapply(value, joined, "")))
  if (option$several) vapply(value, text, "") else joined(value)
}

words_of_option <- function(flag, values) if (length(values) > 0) sprintf("--%s %s", flag, in_shell(values))

# As a shell reads it: in quotes where it has more than letters, digits and the like.
in_shell <- function(text) ifelse(grepl("^[A-Za-z0-9_.,=/:+-]+$", text), text, shQuote(text, type = "sh"))
