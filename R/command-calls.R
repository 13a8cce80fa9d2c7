# What commands call where the options choose between functions, or stand for more than one argument.

streaks_of_game <- function(game, in_rounds = 100, length = NULL, ...) streaks(odds(game, ...), in_rounds, length)

compare_or_prove <- function(old, new, same = FALSE, measure = NULL, engine = NULL, ...) {
  if (!same) return(compare_games(old, new, measure = measure, engine = if (is.null(engine)) "auto" else engine, ...))
  refuse_options(list(measure = measure, engine = engine), "cannot go with --same")
  same_play(old, new, ...)
}

# The player of the seat is the one that differs, the other is the measure.
answers_or_partings <- function(game, seat = NULL, decision = NULL, against = NULL, set = list(), players = list(),
                                mode = NULL, most = NULL, ...) {
  game <- game_with(game, set)
  if (is.null(against)) {
    refuse_options(list(most = most), "goes with --against")
    return(player_answers(game, seat, decision, set = set, players = players, mode = mode, ...))
  }
  wanted <- asked_about(game, seat, decision)
  sitting <- resolve_players(game, players, resolve_settings(game, set, mode))[[wanted$seat]]
  player_partings(game, game$seats[[wanted$seat]], decision, against, sitting, set = set, players = players,
                  mode = mode, most = if (is.null(most)) 40 else most, ...)
}

list_of_options <- function(game, write = NULL, keep = NULL, ...) {
  if (!is.null(write) && is.null(keep))
    abort_input("argument_missing", "`--write` needs to know which words.", "add --keep 60%..90%")
  result <- secret_odds(game, keep = keep, ...)
  if (!is.null(write)) write_kept_words(result, write)
  result
}

# A word list with a comment that says where it is from.
write_kept_words <- function(x, path) {
  head <- sprintf("# %s: %s from %s to %s, %s rounds of seed %s", x$game, x$measure[[1]], plain_number(x$keep[[1]]),
                  plain_number(x$keep[[2]]), whole_text(x$rounds), plain_number(x$seed))
  write_new_file(charToRaw(paste0(paste(c(head, sort(x$kept)), collapse = "\n"), "\n")), path)
  tell_progress("written: ", path)
}

takings_or_till <- function(game, till = NULL, played = NULL, with = NULL, visits = NULL, hours = NULL,
                            visit_rounds = NULL, round_seconds = NULL, float = NULL, cap = NULL, visitors = NULL,
                            players = list(), ...) {
  evening <- Filter(Negate(is.null), list(visits = visits, hours = hours, visit_rounds = visit_rounds,
                                          round_seconds = round_seconds, float = float, cap = cap,
                                          visitors = visitors))
  if (is.null(till)) {
    refuse_options(list(played = played), "goes with --till")
    if (!is.null(visitors) && length(players) > 0)
      abort_input("takings_wrong", "With --visitor each kind of visitor says who plays.", "leave out --player")
    return(do.call(takings, c(list(c(list(game), lapply(with, game_of_name))), evening,
                             if (is.null(visitors)) list(players = players), list(...))))
  }
  refuse_options(c(evening, list(with = with)), "is of an evening and cannot go with --till")
  if (is.null(played)) abort_input("argument_missing", "`--till` needs to know after how many rounds.",
                                   "add --played 300")
  check_till(game, till, played, players = players, ...)
}

game_of_name <- function(name) game(name)

# Options that do not go with the others of the call.
refuse_options <- function(values, reason) {
  given <- names(Filter(Negate(is.null), values))
  if (length(given) > 0)
    abort_input("flag_wrong", sprintf("`--%s` %s.", gsub("_", "-", given[[1]]), reason), "leave out one of them")
}

# The figure of --figure, and that of --ranking.
figures_of_players <- function(result, o) {
  put_figure(result, o)
  put_figure(result, o, o$ranking, show = "ranking")
}
