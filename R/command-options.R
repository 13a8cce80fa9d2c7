# The options of the commands. Each is a row: what is typed, how its text is read, and the argument that it fills.
# optparse splits the command line; values are read here, so that a wrong one is a diagnostic like any other.

# read      how the text becomes the value: a name of `option_readers`, or a function
# argument  the argument of the command's function
# part      "call": an argument of the function; "show": one of the writer of the result; "own": for the command itself
# each      of name=value pairs, how each value is read
# write     how a value becomes the text again, where it is not as it stands
option <- function(flag, help, metavar = "VALUE", read = "text", argument = gsub("-", "_", flag, fixed = TRUE),
                   part = "call", several = FALSE, each = identity, write = NULL)
  list(flag = flag, help = help, metavar = metavar, read = read, argument = argument, part = part, each = each,
       write = write,
       several = several || identical(read, "pairs"), is_flag = identical(read, "flag"))

flag_option <- function(flag, help, ...) option(flag, help, read = "flag", ...)
number_option <- function(flag, help, metavar = "N", ...) option(flag, help, metavar, read = "number", ...)

option_readers <- list(
  text = identity,
  flag = isTRUE,
  number = function(text) number_or_text(text),
  names = function(text) trimws(strsplit(text, ",", fixed = TRUE)[[1]]),
  players = function(text) swept_players(text),
  pairs = function(text) text)  # by read_pairs(), which names the option in its errors

# What many commands have in common.
shared_options <- list(
  engine = option("engine", "auto, exact or sample [auto]", "ENGINE"),
  seed = number_option("seed", "seed of the sampled rounds [1]", "S"),
  threads = number_option("threads", "threads to sample with [1]", "T"),
  workers = number_option("workers", "points worked out at once [1]", "W"),
  format = option("format", "text, markdown, html, json or csv [text]", "FORMAT", part = "own"),
  out = option("out", "a file to write to, instead of standard output", "FILE", part = "own"),
  players_file = option("players-file", "a file with more players", "FILE", part = "own"),
  mode = option("mode", "a mode of the game: a bundle of settings", "MODE"),
  set = option("set", paste("a setting, or a number of the rules such as pay(bright), as name=value; may be given",
                            "several times"), "NAME=VALUE", "pairs"),
  player = option("player", paste0("who plays a seat, as seat=name, or several by chance, as seat=one:3,other:1; may ",
                                   "be given several times"), "SEAT=NAME", "pairs", "players"))

shared <- function(...) unname(shared_options[c(...)])
game_options <- function() shared("players_file", "mode", "set", "player")
measure_option <- function(help, ...) option("measure", help, "MEASURE", ...)

figure_options <- function(does)
  list(option("figure", paste("a figure, .png or .svg, of", does), "FILE", part = "own"),
       number_option("width", "width of the figure in inches [10]", "IN", part = "own"),
       number_option("height", "height of the figure in inches [6.25, more for many rows]", "IN", part = "own"),
       number_option("scale", "the size of text and lines in the figure, as a factor [1]", "X", part = "own"))

# Reads the arguments of a command: list(row, game, rest, values), `values` by argument, those that were given only.
# NULL after printing help.
read_options <- function(row, args) {
  options <- row$options
  known <- paste0("--", vapply(options, `[[`, "", "flag"))
  if (any(args %in% c("--help", "-h", "--list-options"))) {
    writeLines(if ("--list-options" %in% args) known else command_help(row))
    return(NULL)
  }
  several <- vapply(options, `[[`, NA, "several")
  refuse_twice(args, known[!several])
  repeated <- gather_repeated(args, known[several])
  read <- parse_flags(row$name, options, repeated$args, known)
  check_arguments(row, read$args)
  texts <- c(read$options, stats::setNames(repeated$values, sub("^--", "", names(repeated$values))))
  values <- list()
  for (o in options) if (length(texts[[o$flag]]) > 0) values[o$argument] <- list(read_value(o, texts[[o$flag]]))
  game <- if (row$takes_game) read$args[[1]]
  if (row$takes_game && !is.null(values$players_file) && row$name != "check") game <- game(game, values$players_file)
  list(row = row, game = game, rest = if (row$takes_game) read$args[-1] else read$args, values = values)
}

read_value <- function(option, text) {
  if (identical(option$read, "pairs"))
    return(lapply(name_values(text, paste0("--", option$flag), option$metavar), option$each))
  (if (is.function(option$read)) option$read else option_readers[[option$read]])(text)
}

parse_flags <- function(command, options, args, known) {
  made <- lapply(options, function(o) optparse::make_option(
    paste0("--", o$flag), action = if (o$is_flag) "store_true" else "store",
    type = if (o$is_flag) "logical" else "character"))
  parser <- optparse::OptionParser(option_list = made, add_help_option = FALSE)
  tryCatch(lapply(optparse::parse_args(parser, sub(single_dash, dash_mask, args, perl = TRUE),
                                       positional_arguments = TRUE), unmasked),
           error = function(e) abort_input("flag_wrong", option_words(conditionMessage(e)),
                                           option_hint(conditionMessage(e), known, command)))
}

# Are there as many arguments as the command takes?
check_arguments <- function(row, args) {
  command <- row$name
  wanted <- c(if (row$takes_game) "GAME", row$arguments)
  help <- sprintf("see `basanos %s --help`", command)
  if (row$takes_game && length(args) == 0)
    abort_input("argument_missing", sprintf("`basanos %s` needs a game.", command),
                paste("give a path or one of", some_of_names(fair_games(), 30)))
  if (length(args) < length(wanted))
    abort_input("argument_missing", sprintf("`basanos %s` needs %s.", command, wanted[[length(args) + 1]]),
                if (is.null(row$missing)) help else row$missing())
  most <- length(wanted) + length(row$optional)
  if (length(args) > most && !row$more_games)
    abort_input("argument_unknown", sprintf("`%s` is one argument too many.", args[[most + 1]]), help)
}

refuse_twice <- function(args, flags) {
  given <- intersect(sub("=.*", "", args), flags)
  twice <- given[vapply(given, function(flag) sum(sub("=.*", "", args) == flag) > 1, NA)]
  if (length(twice) > 0) abort_input("flag_wrong", sprintf("`%s` is given twice.", twice[[1]]), "keep one")
}

# There are no options of one letter: what begins with a single dash is an expression or a number, as "-7 %% 3". It is
# masked from the parser of options, which knows only dashes.
single_dash <- "^-(?=[^-])"
dash_mask <- "\u2212"
unmasked <- function(x)
  lapply(x, function(part) if (is.character(part)) sub(paste0("^", dash_mask), "-", part) else part)

option_of_fault <- function(said) {
  said <- sub('flag "([^"]+)" is (invalid|ambiguous)', "--\\1", said)
  regmatches(said, regexpr("--?[A-Za-z-]+", said))
}

option_hint <- function(said, known, command) {
  flag <- option_of_fault(said)
  meant <- if (grepl("ambiguous", said)) known[startsWith(known, paste0("--", sub("^-+", "", flag)))]
  if (length(meant) > 1) return(sprintf("it may be %s", some_of_names(meant)))
  near <- if (length(flag) > 0) did_you_mean(flag, setdiff(known, flag))
  if (is.null(near)) sprintf("see `basanos %s --help`", command) else near
}

option_words <- function(said) {
  flag <- option_of_fault(said)
  if (grepl("ambiguous", said)) sprintf("`%s` may mean more than one option.", flag)
  else if (length(flag) == 0) sprintf("The options cannot be read: %s.", said)
  else sprintf("`%s` is no option here, or it lacks its value.", flag)
}

# Options that may be given several times, as in --set a=1 --set b=2 or --set=a=1.
gather_repeated <- function(args, flags) {
  values <- stats::setNames(rep(list(character()), length(flags)), flags)
  rest <- character()
  i <- 1L
  while (i <= length(args)) {
    flag <- sub("=.*", "", args[[i]])
    if (flag %in% flags) {
      joined <- grepl("=", args[[i]], fixed = TRUE)
      if (!joined && i == length(args))
        abort_input("flag_wrong", sprintf("`%s` lacks its value.", flag), sprintf("write %s name=value", flag))
      values[[flag]] <- c(values[[flag]], if (joined) sub("^[^=]*=", "", args[[i]]) else args[[i + 1L]])
      i <- i + if (joined) 1L else 2L
    } else {
      rest <- c(rest, args[[i]])
      i <- i + 1L
    }
  }
  list(args = rest, values = values)
}
