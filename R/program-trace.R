# What a driver that watches a round (trace, play) is told at each TRACE: a value given, a turn begun, an
# answer, something said. Programs for the engines have no such stops.

write_trace_point <- function(asm, kind, at, place = NULL, ...) {
  if (!asm$tracing) return(invisible())
  # a function's own workings
  if (!is.null(place) && kind == "place" && place$var$where != "state" && asm$inside > 0L) return(invisible())
  mark <- list(kind = kind, at = at, ...)
  if (!is.null(place)) mark <- c(mark, traced_place(asm, place))
  asm$trace_points[[length(asm$trace_points) + 1L]] <- mark
  emit(asm, "TRACE", length(asm$trace_points) - 1L)
}

# Where a place lies: list(name, type, register or list, key or key_cell).
traced_place <- function(asm, place) {
  where <- list(name = place$var$name, type = place$type, kept = place$var$where)
  if (place$op == "var") return(c(where, traced_operand(asm, slot_of(asm, place$var), place$type)))
  slot <- slot_of(asm, place$var, past_room)
  key <- write_value(asm, place$key)
  if (is.null(key$const)) {
    kept <- new_register(asm, FALSE)
    move(asm, kept, key)
    key <- kept
  }
  c(where,
    list(key = key$const, key_register = key$register, key_type = place$var$type$key, base = slot$base,
         first = slot$first, real = isTRUE(slot$real), list_array = if (!is.null(slot$list_array)) slot$list))
}

traced_operand <- function(asm, slot, type) {
  if (is_collection(type)) list(list = slot$list) else list(register = register_of(asm, slot), real = isTRUE(slot$real))
}

# Something said: its texts, and the values between them.
write_say <- function(asm, s) {
  if (asm$tracing) write_trace_point(asm, "say", s$at, plain = s$parts$plain, values = write_text_values(asm, s$parts))
}

write_text_values <- function(asm, parts) {
  lapply(parts$values, function(v) {
    if (is_collection(v$type)) return(list(type = v$type, list = write_collection(asm, v)))
    kept <- new_register(asm, is_real(v$type))
    write_into(asm, v, kept)
    list(type = v$type, register = kept$register, real = kept$real)
  })
}

# Everything remembered and every decision: where it lies, who sees it.
traced_state <- function(asm) {
  of_state <- lapply(asm$rules$state,
                     function(part) c(traced_variable(asm, part$variable), name = part$name, lasts = part$lasts))
  of_decisions <- lapply(asm$rules$decisions,
                         function(d) c(traced_variable(asm, d$variable), name = d$name, lasts = "decision"))
  c(of_state, of_decisions)
}

traced_variable <- function(asm, variable) {
  slot <- slot_of(asm, variable)
  type <- variable$type
  each <- is_kind(type, "each")
  keys <- if (each && identical(type$key$set, "seats")) utils::head(type$keys, seats_taken(asm))
    else if (each) type$keys
  list(type = if (each) type$of
    else type, keys = keys, key = if (each) type$key, seen_by = if (is.null(variable$seen_by)) "everyone"
    else variable$seen_by,
       register = if (!each && !is_collection(type)) slot$register, list = slot$list, first = slot$first,
       base = slot$base, real = isTRUE(slot$real))
}
