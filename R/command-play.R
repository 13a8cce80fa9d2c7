# The commands on single rounds: traced, played at the keyboard, kept by people.

run_trace <- function(read) {
  trace <- do.call(trace_round, call_arguments(read))
  if (isTRUE(read$values$as_example)) put_out(as_example(trace), read$values$out)
  else put_results(trace, read)
  if (is.null(trace$diagnostic)) 0L else 1L
}

run_play <- function(read) {
  if (!is.null(read$values$rounds)) check_rounds(read$values$rounds)
  do.call(play_game, call_arguments(read))
  0L
}

run_played <- function(read) {
  o <- read$values
  path <- read$rest[[1]]
  with_odds <- !isTRUE(o$no_model)
  if (!is.null(o$map)) {
    put_result(played_people(path, o$game, unlist(o$map), o$seat), o)
    return(0L)
  }
  table <- played_rounds(path, with_odds)
  if (with_odds && !isTRUE(o$summary) && !identical(o$format, "csv")) table["people"] <- list(played_people(path))
  put_result(table, o)
  0L
}
