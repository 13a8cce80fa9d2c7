command_sweep <- function(args) {
  read <- read_options("sweep", args, c(game_options(), list(
    option("of", "a measure, as \"edge(guest)\"; may be given several times", metavar = "MEASURE"),
    option("best", "highest, lowest, a number to come near to, or none [highest]", "highest", "WHICH"),
    shared_option("engine"),
    option("rounds", "rounds to sample at a point [1e5]", metavar = "N"),
    shared_option("seed"),
    shared_option("threads"),
    shared_option("workers"),
    option("checkpoint", "save finished points to this file, and go on from it", metavar = "FILE"),
    shared_option("format"),
    shared_option("out")), figure_options("the measures by what was varied")))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  if (is.null(o$of))
    abort_input("argument_missing", "`basanos sweep` needs a measure.", "write --of \"edge(guest)\"")
  best <- if (o$best == "none") NULL else number_or_text(o$best)
  result <- told_if_stopped(
    sweep_settings(read$game, lapply(o$set, swept_values), lapply(o$player, swept_players),
                   if (!is.null(o$mode)) split_values(o$mode), o$of, best, o$engine, number_option(o$rounds),
                   number_option(o$seed), number_option(o$threads), number_option(o$workers),
                   checkpoint = o$checkpoint), o, "sweep")
  if (!is.null(o$figure)) put_figure(result, o)
  put_result(result, o)
}

split_values <- split_outside_brackets

# "banker(15:30)" is banker(15), banker(16) and so on.
swept_players <- function(text) {
  unlist(lapply(split_values(text), function(player) {
    range <- regmatches(player, regexec("^(.*[(=]\\s*)([0-9.]+:[0-9.:]+)(\\s*[,)].*)$", player))[[1]]
    if (length(range) == 0) return(player)
    paste0(range[[2]], vapply(swept_values(range[[3]]), plain_number, ""), range[[4]])
  }))
}

# "15:19", "15:25:5" (in steps of five), "1,2,5" or "yes,no".
swept_values <- function(text) {
  range <- regmatches(text, regexec("^\\s*(-?[0-9.]+)\\s*:\\s*(-?[0-9.]+)\\s*(?::\\s*([0-9.]+))?\\s*$", text,
                                    perl = TRUE))[[1]]
  if (length(range) == 0) return(as.list(split_values(text)))
  ends <- as.numeric(range[2:3])
  step <- if (nzchar(range[[4]])) as.numeric(range[[4]]) else 1
  if (anyNA(ends) || is.na(step) || step <= 0 || ends[[1]] > ends[[2]])
    abort_input("sweep_grid", sprintf("`%s` is no range.", text),
                "write the lower end first, and a step above zero: 15:25:5")
  as.list(seq(ends[[1]], ends[[2]], by = step))
}
