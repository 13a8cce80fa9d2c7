# Plays a unit under a watcher: the ground that trace and play stand on. Cells are read as the rules name them.

# The values of what lies somewhere, as text: one, or one for each key under the key's name.
traced_values <- function(rules, program, where, ints, reals) {
  one <- function(k) {
    if (is_collection(where$type)) return(collection_text(rules, program, where$list + k, where$type, ints))
    register <- if (is.null(where$register)) where$base + k else where$register
    value_text(rules, if (where$real) reals[[register + 1L]] else ints[[register + 1L]], where$type)
  }
  if (is.null(where$axes)) return(one(0L))
  stats::setNames(vapply(where$offsets, one, ""), place_names(rules, where$axes))
}

# The seat that each place belongs to, or 0.
place_owners <- function(axes) {
  along_axes(lapply(axes, function(axis) if (is_seat_axis(axis)) axis$keys else 0L * axis$keys), `+`)
}

# The value that a mark tells of: list(name, value, owner), `owner` being the seat whose it is.
traced_value <- function(rules, program, mark, ints, reals) {
  shown <- function(register, list) if (is_collection(mark$type))
    collection_text(rules, program, list, mark$type, ints)
      else value_text(rules, if (isTRUE(mark$real)) reals[[register + 1L]] else ints[[register + 1L]], mark$type)
  if (is.null(mark$place)) return(list(name = mark$name, value = shown(mark$register, mark$list)))
  at <- watched_value(mark$place, ints) - mark$first
  keys <- vapply(mark$keys, watched_value, 0, ints = ints)
  texts <- mapply(function(key, axis) value_text(rules, key, axis$type), keys, mark$axes)
  list(name = sprintf("%s[%s]", mark$name, paste(texts, collapse = ", ")),
       value = shown(mark$base + at, if (!is.null(mark$list_array)) mark$list_array + at),
       owner = sum(keys[vapply(mark$axes, is_seat_axis, NA)]))
}

# A whole number that a mark points to: known while compiling, or in a register.
watched_value <- function(operand, ints) if (is.null(operand$const)) ints[[operand$register + 1L]] else operand$const

# A text with its values filled in.
filled_text <- function(rules, program, parts, ints, reals) {
  values <- vapply(parts$values, function(v) {
    if (is_collection(v$type)) collection_text(rules, program, v$list, v$type, ints)
    else value_text(rules, traced_number(v, ints, reals), v$type)
  }, "")
  paste0(c(rbind(parts$plain, c(values, ""))), collapse = "")
}

traced_number <- function(v, ints, reals) if (v$real) reals[[v$register + 1L]] else ints[[v$register + 1L]]

# The legal answers at an ask: list(how, values, low, high, items).
legal_answers <- function(program, ask, ints) {
  read <- function(register) ints[[register + 1L]]
  switch(ask$how,
    labels = list(how = "items",
                  values = ask$ids[ask$flags < 0 | vapply(ask$flags, function(f) f < 0 || read(f) != 0, NA)]),
    list = list(how = "items", values = collection_items(program, ask$list, ints)),
    range = list(how = "range", low = read(ask$low), high = read(ask$high)),
    subsets = {
      items <- collection_items(program, ask$list, ints)
      list(how = "several", values = items,
           at_least = if (is.null(ask$at_least)) 0L else read(ask$at_least),
           at_most = if (is.null(ask$at_most)) length(items) else read(ask$at_most))
    })
}

choices_text <- function(game, d, legal) {
  if (legal$how == "range" && is_kind(d$type, "whole"))
    return(sprintf("a whole number from %d to %d", legal$low, legal$high))
  if (legal$how == "range") legal <- list(how = "items", values = seq(legal$low, legal$high))
  type <- if (is_collection(d$type)) d$type$of else d$type
  names <- vapply(legal$values, value_text, "", rules = game, type = type)
  if (legal$how == "several") {
    bounds <- if (legal$at_least == legal$at_most) format(legal$at_least)
      else sprintf("%d to %d", legal$at_least, min(legal$at_most, length(names)))
    return(sprintf("%s of: %s (with commas between; `none` for none)", bounds, paste(names, collapse = ", ")))
  }
  if (length(names) > 60) sprintf("one of %d %s", length(names), if (is_kind(type, "word")) "words" else "answers")
  else paste("one of:", paste(unique(names), collapse = ", "))
}

# One unit with a watcher: what trace and play have in common.

# Plays the unit and calls the functions of `on` where it stops:
#   draw(source, value, at)         gives the draw to put in its place, or NULL
#   ask(ask, again, ints, reals)    gives the answer, or NULL for the player's own; FALSE ends the unit. `again`: the
#                                   answer before was not legal
#   decision(site, offers)          of an open seat: gives the number of one of the offers, from 1
#   trace(point, ints, reals)       at a trace point; FALSE ends the unit
#   round(ints, reals)              at the end of each round
#   failed(ints, reals)             where the round cannot go on; may be left out
# Gives how the unit ended, as the core says it.
watch_unit <- function(program, seed, unit, on, ask_again = FALSE) {
  heartbeat()
  watcher <- function(what, which, value, at, ints, reals, offers) {
    switch(what,
      draw = on$draw(program$sources[[which + 1L]], value, at),
      ask = on$ask(program$asks[[which + 1L]], value == 1L, ints, reals),
      decision = on$decision(program$sites[[which + 1L]], offers) - 1L,
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

# The place where a round failed: the answer, the legal answers, and what
# was remembered.

rounds_to_find_failure <- 2000
most_steps_watched <- 5000L  # of a loop without end that is enough

# Does the work; where it stops on such a round, the message tells how things stood there.
with_failure_described <- function(question, work) {
  tryCatch(work, basanos_error = function(e) {
    if (!any(e$ids %in% names(failures)) || length(e$diagnostics) != 1) stop(e)
    description <- tryCatch(failure_described(question, e), basanos_error = function(other) NULL)
    if (is.null(description)) stop(e)
    e$diagnostics[[1]]$message <- paste(e$diagnostics[[1]]$message, description)
    stop_with_diagnostics(e$diagnostics, e$source, unit = e$unit, seed = e$seed)
  })
}

# The round is played again under a watcher: the one that stopped, or else the first that is found.
failure_described <- function(question, error) {
  game <- question$game
  at <- error
  if (is.null(at$unit)) at <- tryCatch({
    run_sample(game, program_of(question), rounds_to_find_failure, 1, 1)
    NULL
  }, basanos_error = identity)
  if (is.null(at$unit) || !identical(at$ids, error$ids)) return(NULL)
  program <- program_of(question, tracing = TRUE)
  asked <- NULL
  description <- NULL
  steps <- 0L
  go_on <- function(ints, reals) {
    steps <<- steps + 1L
    if (steps < most_steps_watched || error$ids != "loop_endless") return(NULL)
    description <<- state_described(game, program, ints, reals)
    FALSE
  }
  watch_unit(program, at$seed, at$unit, list(
    draw = function(source, value, at) NULL, trace = function(point, ints, reals) go_on(ints, reals),
    round = function(ints, reals) NULL,
    ask = function(ask, again, ints, reals) {
      asked <<- list(ask = ask, legal = legal_answers(program, ask, ints))
      go_on(ints, reals)
    },
    failed = function(ints, reals) {
      of_answer <- if (error$ids == "illegal_answer" && !is.null(asked))
        answer_described(game, program, asked, ints, reals)
      description <<- c(of_answer, state_described(game, program, ints, reals))
      NULL
    }))
  if (length(description) > 0) paste(description, collapse = " ")
}

answer_described <- function(game, program, asked, ints, reals) {
  d <- game$decisions[[asked$ask$decision + 1L]]
  values <- traced_values(game, program, program$slot[[d$name]], ints, reals)
  answer <- if (d$together) values[[game$seats[[asked$ask$seat]]]] else values
  sprintf("The answer is %s; legal is %s.", answer, choices_text(game, d, asked$legal))
}

most_described <- 8L

state_described <- function(game, program, ints, reals) {
  where <- Filter(function(where) where$lasts != "decision", program$slot)
  texts <- vapply(where, function(w) {
    values <- traced_values(game, program, w, ints, reals)
    if (!is.null(names(values))) values <- paste(names(values), values, sep = ": ", collapse = ", ")
    sprintf("%s is %s", w$name, cut_line(values, 80L))
  }, "")
  if (length(texts) == 0) return(NULL)
  sprintf("There %s%s.", paste(utils::head(texts, most_described), collapse = "; "),
          if (length(texts) > most_described) "; and so on" else "")
}
