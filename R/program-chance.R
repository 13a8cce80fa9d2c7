# Writes draws out as code, those of who sits where among them, and says which raw value of a draw shows which face.

op_draw <- function(asm, node, into) write_draw(asm, node$faces, node$source, into)

write_draw <- function(asm, faces, source, into) {
  target <- result_register(asm, into, FALSE)
  from <- source_index(asm, chance_source(asm, source))
  if (faces$how == "range") {
    low <- write_value(asm, faces$low)
    emit(asm, "DRAW", target$register, from, register_of(asm, low),
         register_of(asm, range_count(asm, low, write_value(asm, faces$high), faces$low$at)))
    return(target)
  }
  if (faces$how == "collection") {
    collection <- write_collection(asm, faces$collection)
    emit(asm, "DRAWL", target$register, from, collection)
    return(target)
  }
  plan <- face_plan(asm, faces)
  if (!is.null(plan$weights)) {
    asm$weights[[length(asm$weights) + 1L]] <- plan$weights
    emit(asm, "DRAWW", target$register, from, length(asm$weights) - 1L)
  } else emit(asm, "DRAW", target$register, from, int_const(asm, plan$low), int_const(asm, length(plan$values)))
  if (plan$mapped)
    emit(asm, "TAB", target$register, target$register, new_table(asm, 1L, length(plan$values), plan$values))
  target
}

range_count <- function(asm, low, high, at = asm$places$get(asm$at + 1L)) {
  if (!is.null(low$const) && !is.null(high$const)) {
    if (high$const < low$const) {
      program_diagnostic(asm, "range_empty", at,
                         sprintf("The range from %d to %d is empty.", as.integer(low$const), as.integer(high$const)),
                         "the lower end comes first; check the settings")
      return(fixed_operand(1, t_whole))
    }
    return(fixed_operand(high$const - low$const + 1, t_whole))
  }
  count <- new_register(asm, FALSE)
  emit(asm, "SUB", count$register, register_of(asm, high), register_of(asm, low))
  emit(asm, "ADD", count$register, count$register, int_const(asm, 1L))
  count
}

# values, weights (NULL when even), whether the raw draw must be looked up, and where it starts.
face_plan <- function(asm, faces) {
  values <- vapply(faces$values, function(v) write_value(asm, v)$const, 0)
  weights <- NULL
  if (!is.null(faces$weights)) {
    weights <- vapply(faces$weights, function(w) as.numeric(write_value(asm, w)$const), 0)
    at <- faces$weights[[1]]$at
    if (any(weights < 0))
      program_diagnostic(asm, "weights_wrong", at, "A weight is below zero.", "weights are 0 or more")
    else if (sum(weights) <= 0)
      program_diagnostic(asm, "weights_wrong", at, "All weights are zero.", "give one of them a weight")
    if (any(weights < 0) || sum(weights) <= 0) weights <- rep(1, length(weights))
  }
  in_row <- all(diff(values) == 1)
  list(values = values, weights = weights, low = if (in_row && is.null(weights)) values[[1]] else 1,
       mapped = if (is.null(weights)) !in_row else !identical(as.numeric(values), as.numeric(seq_along(values))))
}

# The raw draw that shows a face, or NA when none does.
raw_draw <- function(asm, faces, value) {
  if (faces$how %in% c("range", "chance", "collection", "card", "successes")) return(value)
  plan <- face_plan(asm, faces)
  k <- match(value, plan$values)
  if (is.null(plan$weights) && !plan$mapped) k + plan$low - 1 else k
}

op_chance <- function(asm, node, into) {
  p <- write_value(asm, node$p)
  if (!is.null(p$const) && (p$const < 0 || p$const > 1)) {
    program_diagnostic(asm, "probability_wrong", node$at,
                       sprintf("A probability lies between 0 and 1; this one is %s.", format(p$const)),
                       "write 0.25 for one in four")
    return(fixed_operand(0, t_yesno))
  }
  target <- result_register(asm, into, FALSE)
  emit(asm, "DRAWP", target$register, source_index(asm, chance_source(asm, node$source)), register_of(asm, p))
  target
}

most_trials <- 100000L  # as in the core

op_successes <- function(asm, node, into) {
  n <- write_value(asm, node$n)
  p <- write_value(asm, node$p)
  if (!is.null(n$const) && (n$const < 0 || n$const > most_trials)) {
    program_diagnostic(asm, "tries_wrong", node$at,
                       sprintf("`successes` takes from 0 to %d tries, not %s.", most_trials, plain_number(n$const)),
                       "check the number of tries, or give them in several goes")
    return(fixed_operand(0, t_whole))
  }
  target <- result_register(asm, into, FALSE)
  emit(asm, "DRAWN", target$register, source_index(asm, chance_source(asm, node$source)), register_of(asm, n),
       register_of(asm, p))
  target
}

# The text of a raw draw of a source.
drawn_text <- function(rules, program, source, raw) {
  thing <- rules$names[[source]]
  if (identical(thing$kind, "deck")) return(thing$card_names[[raw]])
  faces <- if (identical(thing$kind, "die")) thing$faces else rules$picks[[source]]$faces
  type <- if (identical(thing$kind, "die")) thing$type else rules$picks[[source]]$type
  if (is.null(faces)) return(format(raw))
  if (faces$how == "values") {
    asm <- new_assembler(question_of(rules, program$settings))
    plan <- face_plan(asm, faces)
    raw <- if (is.null(plan$weights) && !plan$mapped) raw else plan$values[[raw]]
  }
  value_text(rules, raw, type)
}

# Who sits at a seat: one player, or one of several by chance, as in "careful:3, bold:1". Who it is is drawn anew for
# each unit, so that a player with a memory stays for a whole match.

seating_source <- function(seat) paste("chance of who sits as", seat)

# Draws who sits where, before anything else of the unit.
write_seated <- function(asm) {
  for (seat in which(is_mix(asm$players))) {
    asm$weights[[length(asm$weights) + 1L]] <- players_seated(asm$players[[seat]])$weights
    asm$seated[[as.character(seat)]] <- new_register(asm, FALSE)
    emit(asm, "DRAWW", asm$seated[[as.character(seat)]]$register,
         source_index(asm, seating_source(asm$rules$seats[[seat]])), length(asm$weights) - 1L)
  }
}

# Code for whoever sits there; `write(player)` writes that of one of them.
write_by_player <- function(asm, seat, write) {
  names <- players_seated(asm$players[[seat]])$names
  done <- new_label(asm)
  for (k in seq_along(names)) {
    other <- new_label(asm)
    last <- k == length(names)
    if (!last) emit(asm, "JNE", asm$seated[[as.character(seat)]]$register, int_const(asm, k), other)
    write(names[[k]])
    if (!last) emit(asm, "JMP", done)
    put_label(asm, other)
  }
  put_label(asm, done)
}
