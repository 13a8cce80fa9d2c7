command_bankroll <- function(args) {
  read <- read_options("bankroll", args, c(game_options(), list(
    option("wallet", "tokens brought [20]", "20", "N"),
    option("stake", paste("the stake, in stakes of the rules: a number or an expression over wallet, last_stake,",
                          "last_net, run [1]; name=... sets several side by side"), metavar = "RULE"),
    option("rounds", "the most rounds [200]; `none` for no limit", "200", "N"),
    option("goal", "leave with this much", metavar = "N"),
    option("least", "the least stake [1]", "1", "N"),
    option("most", "the greatest stake", metavar = "N"),
    option("short", "where the wallet cannot pay the stake: stake the rest, or leave [rest]", "rest", "WHAT"),
    option("seat", "whose evening it is [the first that puts something in]", metavar = "SEAT"),
    option("seconds", "how long a round takes, to tell minutes: a number, or as \"4 + 3 * asks\"", metavar = "S"),
    option("minutes", "leave after so many minutes", metavar = "M"),
    option("method", "count, play, or auto: count where that can be done [auto]", "auto", "METHOD"),
    option("evenings", "evenings to play where they cannot be counted [1e5]", "1e5", "N"),
    option("seed", "seed of samples and played evenings [1]", "1", "S"),
    option("threads", "threads to play with [1]", "1", "T"),
    option("path", "one evening step by step, by its number", metavar = "K"),
    option("engine", "auto, exact or sample, for the odds of a round [auto]", "auto", "ENGINE"),
    shared_option("format"),
    shared_option("out")), figure_options("the wallet over the rounds")))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  rounds <- if (identical(o$rounds, "none")) Inf else number_option(o$rounds)
  result <- told_if_stopped(
    bankroll(read$game, number_option(o$wallet), stakes_given(o$stake), rounds, number_option(o$goal),
             number_option(o$least), if (is.null(o$most)) Inf else number_option(o$most), o$short, o$seat,
             number_or_text(o$seconds), number_option(o$minutes), o$method, number_option(o$evenings),
             number_option(o$seed), number_option(o$threads), number_option(o$path), !is.null(o$figure),
             engine = o$engine, set = o$set, players = o$player, mode = o$mode), o, "bankroll")
  if (!is.null(o$figure)) put_figure(result, o)
  put_result(result, o)
}

number_or_text <- function(text) {
  if (is.null(text) || is.na(suppressWarnings(as.numeric(text)))) text else as.numeric(text)
}

# "flat=1; doubling=if (last_net < 0) 2 * last_stake else 1": one rule, or several by name.
stakes_given <- function(text) {
  if (is.null(text)) return(c(flat = "1"))
  parts <- trimws(strsplit(text, ";", fixed = TRUE)[[1]])
  named <- grepl("^[A-Za-z_][A-Za-z0-9_]*\\s*=(?!=)", parts, perl = TRUE)
  stats::setNames(ifelse(named, sub("^[^=]*=\\s*", "", parts), parts),
                  ifelse(named, sub("\\s*=.*", "", parts), ""))
}
