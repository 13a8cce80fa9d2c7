# Options of the commands, read by optparse; numbers are read here, so that a wrong one is a
# diagnostic with an id like any other.

option <- function(flag, help, default = NULL, metavar = "VALUE")
  optparse::make_option(paste0("--", flag), type = "character", default = default, help = help, metavar = metavar)

# The options that many commands have in common.
shared_option <- function(name) {
  switch(name,
    engine = option("engine", "auto, exact or sample [auto]", "auto", "ENGINE"),
    seed = option("seed", "seed of the sampled rounds [1]", "1", "S"),
    threads = option("threads", "threads to sample with [1]", "1", "T"),
    workers = option("workers", "points worked out at once [1]", "1", "W"),
    format = option("format", "text, markdown, html, json or csv [text]", "text", "FORMAT"),
    out = option("out", "a file to write to, instead of standard output", metavar = "FILE"))
}

# Returns list(options, game, rest): NULL after printing help. `arguments` names what comes after the game.
read_options <- function(command, args, options, takes_game = TRUE, arguments = character(), missing = NULL,
                         more_games = FALSE) {
  wanted <- c(if (takes_game) "GAME", arguments)
  usage <- paste(c("basanos", command, wanted, if (more_games) "[GAME ...]", "[options]"), collapse = " ")
  parser <- optparse::OptionParser(usage = usage, option_list = unname(options), add_help_option = FALSE)
  known <- vapply(options, function(o) o@long_flag, "")
  if (any(args %in% c("--help", "-h", "--list-options"))) {
    writeLines(if ("--list-options" %in% args) unname(known) else command_help(command, usage, options))
    return(NULL)
  }
  repeated <- gather_repeated(args, intersect(repeated_options, known))
  read <- tryCatch(lapply(optparse::parse_args(parser, sub(single_dash, dash_mask, repeated$args, perl = TRUE),
                                               positional_arguments = TRUE), unmasked),
                   error = function(e)
                     abort_input("flag_wrong", option_words(conditionMessage(e)),
                                 option_hint(conditionMessage(e), known, command)))
  if (takes_game && length(read$args) == 0)
    abort_input("argument_missing", sprintf("`basanos %s` needs a game.", command),
                paste("give a path or one of", some_of_names(fair_games(), 30)))
  if (length(read$args) < length(wanted))
    abort_input("argument_missing", sprintf("`basanos %s` needs %s.", command, wanted[[length(read$args) + 1]]),
                if (!is.null(missing)) missing else sprintf("see `basanos %s --help`", command))
  if (length(read$args) > length(wanted) && !more_games)
    abort_input("argument_unknown", sprintf("`%s` is one argument too many.", read$args[[length(wanted) + 1]]),
                sprintf("see `basanos %s --help`", command))
  for (flag in c("--set-new", "--player-new"))
    read$options[[substring(flag, 3)]] <- name_values(repeated$values[[flag]], flag, "rounds=7")
  read$options$set <- name_values(repeated$values[["--set"]], "--set", "rounds=7")
  for (flag in setdiff(repeated_options, c("--set", "--player", "--set-new", "--player-new")))
    read$options[[substring(flag, 3)]] <- if (length(repeated$values[[flag]]) > 0) repeated$values[[flag]]
  read$options$player <- name_values(repeated$values[["--player"]], "--player", "left=even")
  game <- if (takes_game) read$args[[1]]
  if (takes_game && command != "check" && !is.null(read$options[["players-file"]]))
    game <- game(game, read$options[["players-file"]])
  list(options = read$options, game = game, rest = if (takes_game) read$args[-1] else read$args)
}

repeated_options <- c("--set", "--player", "--record", "--of", "--measure", "--with", "--visitor", "--want", "--knob",
                      "--what-if", "--by", "--set-new", "--player-new")

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

names_between_commas <- function(text) if (!is.null(text)) trimws(strsplit(text, ",", fixed = TRUE)[[1]])

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

# name=value, or several with commas between; a comma inside a value stays, as in left=one:3,other:1.
name_values <- function(pairs, flag, example) {
  pairs <- unlist(strsplit(as.character(pairs), ",(?![^()]*\\))(?=[^,=]+=)", perl = TRUE))
  bad <- pairs[!grepl("^[^=]+=.+$", pairs)]
  if (length(bad) > 0)
    abort_input("flag_wrong", sprintf("`%s %s` is not name=value.", flag, bad[[1]]),
                sprintf("write %s %s", flag, example))
  names <- sub("=.*", "", pairs)
  if (anyDuplicated(names))
    abort_input("flag_wrong", sprintf("`%s` gives `%s` twice.", flag, names[duplicated(names)][[1]]), "keep one")
  stats::setNames(as.list(sub("^[^=]+=", "", pairs)), names)
}

# A number as typed; other text stays as it is, and the later check reports it.
number_option <- function(text) {
  if (is.null(text)) return(NULL)
  number <- suppressWarnings(as.numeric(text))
  if (is.na(number)) text else number
}

figure_options <- function(does)
  list(option("figure", paste("a figure, .png or .svg, of", does), metavar = "FILE"),
       option("width", "width of the figure in inches [10]", metavar = "IN"),
       option("height", "height of the figure in inches [6.25, more for many rows]", metavar = "IN"),
       option("scale", "the size of text and lines in the figure, as a factor [1]", metavar = "X"))

players_option <- function() option("players-file", "a file with more players", metavar = "FILE")
flag_option <- function(name, help)
  optparse::make_option(paste0("--", name), action = "store_true", default = FALSE, help = help)

game_options <- function() {
  list(file = players_option(),
       mode = option("mode", "a mode of the game: a bundle of settings", metavar = "MODE"),
       set = option("set", "a setting, as name=value; may be given several times", metavar = "NAME=VALUE"),
       player = option("player",
                       paste0("who plays a seat, as seat=name, or several by chance, as seat=one:3,other:1; may ",
                              "stand several times"), metavar = "SEAT=NAME"))
}

# Writes to standard output, or whole to a file.
put_out <- function(text, path = NULL) {
  clear_heartbeat()
  if (is.null(path)) {
    writeLines(text)
    return(invisible())
  }
  write_lines(text, path)
  tell_progress("written: ", path)
}

# Before long work: can its result be written as asked?
check_output <- function(o) {
  one_of_names(o$format, result_formats, "format_unknown", "--format")
  if (!is.null(o$figure)) figure_kind(o$figure)
  for (size in c("width", "height", "scale")) figure_size(number_option(o[[size]]), size, NULL)
}

put_figure <- function(result, o, path = o$figure, ...)
  save_figure(figure_of(result, ...), path, number_option(o$width), number_option(o$height), number_option(o$scale))

# Does the work of a command. Where it is stopped, what it has until then, the field `name` of the stop, goes to
# standard output: a file is written whole or not at all.
told_if_stopped <- function(work, o, name) {
  withCallingHandlers(work, basanos_stopped = function(stop) {
    if (is.null(stop[[name]])) return(invisible())
    put_result(stop[[name]], utils::modifyList(o, list(out = NULL)))
    running$told <- TRUE
  })
}

# Writes a result in the format asked for, and says that all is done.
put_result <- function(result, o, ...) {
  shown <- o$format == "text" && is.null(o$out)
  put_out(if (shown) format(result, ..., width = terminal_width(), titles = cli::style_bold)
          else format_result(result, o$format, ...), o$out)
  0L
}
