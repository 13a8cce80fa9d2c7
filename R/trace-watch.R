# One unit with a watcher: what trace and play have in common.

# Plays the unit and calls the functions of `on` where it stops:
#   draw(source, value, at)         gives the draw to put in its place, or NULL
#   ask(ask, again, ints, reals)    gives the answer, or NULL for the player's own; FALSE ends the unit. `again`: the
#                                   answer before was not legal
#   trace(point, ints, reals)       at a trace point; FALSE ends the unit
#   round(ints, reals)              at the end of each round
#   failed(ints, reals)             where the round cannot go on; may be left out
# Gives how the unit ended, as the core says it.
watch_unit <- function(program, seed, unit, on, ask_again = FALSE) {
  heartbeat()
  watcher <- function(what, which, value, at, ints, reals) {
    switch(what,
      draw = on$draw(program$sources[[which + 1L]], value, at),
      ask = on$ask(program$asks[[which + 1L]], value == 1L, ints, reals),
      trace = on$trace(program$trace_points[[which + 1L]], ints, reals),
      failed = if (!is.null(on$failed)) on$failed(ints, reals),
      {
        if (what == "round" || (what == "end" && program$unit == "round")) on$round(ints, reals)
        NULL
      })
  }
  run <- core_watch(loaded(program), seed, unit, ask_again, watcher)
  if (run$end == 3L)
    abort_input("draw_impossible", "A forced draw cannot come up here.",
                "give what the die or deck can show at that time")
  run
}

# The next forced draw or answer of a name, taken off `holder$left`; NULL where none is left.
take_forced <- function(holder, part, name) {
  left <- holder$left[[part]][[name]]
  if (length(left) == 0) return(NULL)
  holder$left[[part]][[name]] <- left[-1]
  left[[1]]
}
