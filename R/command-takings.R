command_takings <- function(args) {
  read <- read_options("takings", args, c(game_options(), list(
    option("visits", "visits an hour [12]", "12", "N"),
    option("hours", "how long the stall is open [4]", "4", "H"),
    option("rounds", "rounds a visit; with --till, rounds (or sittings) since it was empty [10]", "10", "N"),
    option("seconds", "seconds a round [30]", "30", "S"),
    option("float", "tokens in the box when the stall opens [100]", "100", "TOKENS"),
    option("stake", "tokens for each token of stake in the rules [1]", "1", "TOKENS"),
    option("prize-cost", "the stall's cost of a token paid out [1]", "1", "TOKENS"),
    option("cap", "what a cap on the profit of a round would change", metavar = "TOKENS"),
    option("seat", "the seat that visitors take [all that put something in]", metavar = "SEAT"),
    option("visitor",
           "a kind of visitor, as \"weight=3, guest=careful, stake=2, wallet=20, goal=40\"; may be given several times",
           metavar = "VISITOR"),
    option("till", "the balance of the till, in tokens: is it luck?", metavar = "TOKENS"),
    option("with", "another stall to stand beside it; may be given several times", metavar = "GAME"),
    shared_option("engine"),
    option("sampled", "rounds to sample, where the odds are sampled [1e6]", metavar = "N"),
    shared_option("seed"),
    shared_option("format"),
    shared_option("out")), figure_options("what an evening takes")))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  more <- list(seat = o$seat, stake = number_option(o$stake), prize_cost = number_option(o[["prize-cost"]]),
               engine = o$engine,
               seed = number_option(o$seed), set = o$set, players = o$player, mode = o$mode,
               rounds_sampled = number_option(o$sampled))
  if (!is.null(o$till)) {
    till <- do.call(till_check, c(list(read$game, number_option(o$till), number_option(o$rounds)), more))
    return(put_result(till, o))
  }
  if (!is.null(o$visitor)) {
    if (length(o$player) > 0)
      abort_input("takings_wrong", "With --visitor each kind of visitor says who plays.", "leave out --player")
    more$players <- NULL
  }
  games <- c(list(read$game), lapply(o$with, game))
  terms <- list(games, number_option(o$visits), number_option(o$hours), number_option(o$rounds),
                number_option(o$seconds), number_option(o$float), cap = number_option(o$cap),
                visitors = visitors_given(o$visitor))
  result <- told_if_stopped(do.call(takings, c(terms, more)), o, "takings")
  if (!is.null(o$figure)) put_figure(result, o)
  put_result(result, o)
}

# "weight=3, guest=careful, stake=2": what is no field of a visitor is a seat with its player.
visitors_given <- function(texts) {
  if (is.null(texts)) return(NULL)
  lapply(texts, function(text) {
    parts <- trimws(strsplit(text, ",", fixed = TRUE)[[1]])
    named <- grepl("=", parts, fixed = TRUE)
    if (!all(named))
      abort_input("takings_wrong", sprintf("`%s` is not name=value.", parts[!named][[1]]),
                  "write --visitor \"weight=3, guest=careful, stake=2, wallet=20\"")
    values <- stats::setNames(as.list(trimws(sub("^[^=]*=", "", parts))), trimws(sub("=.*", "", parts)))
    is_field <- names(values) %in% setdiff(visitor_fields, "players")
    c(lapply(values[is_field], number_or_text), list(players = values[!is_field]))
  })
}
