command_report <- function(args) {
  read <- read_options("report", args, c(game_options(), list(
    option("out", "the page to write, .html or .md [the game's name with .html]", metavar = "FILE"),
    option("parts", paste("the parts of the page [all that the game has]:",
                          paste(names(report_parts), collapse = ", ")),
           metavar = "NAMES"),
    option("want", "a target, as \"edge(guest) in 4%..6%\"; may be given several times", metavar = "TARGET"),
    option("knob", "a knob of the balance, as \"pay(bright) in 1..6\"; may be given several times", metavar = "KNOB"),
    option("what-if",
           paste("a setting that the page can turn, as aim or \"aim=20:26\" [those that move the result most];",
                            "may be given up to three times"), metavar = "SETTING"),
    option("rounds", "rounds to sample where a count takes too long [1e5]", "1e5", "N"),
    shared_option("seed"),
    option("workers", "parts, or games, worked out at once [2]", "2", "W"),
    option("wallet", "tokens that a visitor brings [20]", "20", "N"),
    option("goal", "a visitor leaves with this much", metavar = "N"),
    option("visits", "visits an hour [12]", "12", "N"),
    option("hours", "how long the stall is open [4]", "4", "H"),
    option("float", "tokens in the box when the stall opens [100]", "100", "TOKENS"),
    option("visit-rounds", "rounds a visit [10]", "10", "N"),
    option("round-seconds", "how long a round takes [30]", "30", "S"))), more_games = TRUE)
  if (is.null(read)) return(0L)
  o <- read$options
  games <- c(list(read$game), as.list(read$rest))
  path <- if (is.null(o$out)) report_name(games) else o$out
  told_if_stopped(
    game_report(games, path, if (!is.null(o$parts)) gsub("-", "_", split_values(o$parts)), o$set, o$player, o$mode,
                o$want, o$knob, what_if_given(o[["what-if"]]), number_option(o$rounds), number_option(o$seed),
                number_option(o$wallet), number_option(o$goal), number_option(o$visits), number_option(o$hours),
                number_option(o$float), number_option(o[["visit-rounds"]]), number_option(o[["round-seconds"]]),
                progress = TRUE, workers = number_option(o$workers)),
    utils::modifyList(o, list(format = "text")), "report")
  put_out(path)
  0L
}

report_name <- function(games) {
  first <- games[[1]]
  name <- if (is_game(first)) name_of_file(first$source) else sub("[.]game$", "", basename(first))
  paste0(if (length(games) > 1) "fair" else name, ".html")
}

# "aim" or "aim=20:26", as names or as a list of values by name.
what_if_given <- function(texts) {
  if (is.null(texts)) return(NULL)
  named <- grepl("=", texts, fixed = TRUE)
  values <- lapply(seq_along(texts), function(k) if (named[[k]]) swept_values(sub("^[^=]*=", "", texts[[k]])))
  stats::setNames(values, trimws(sub("=.*", "", texts)))
}
