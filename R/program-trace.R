# What a driver that watches a round (trace, play) is told at each stop MARK: a value given, a turn begun, an
# answer, something said. Programs for the engines have no such stops.

write_mark <- function(em, kind, at, place = NULL, ...) {
  if (!em$watching) return(invisible())
  if (!is.null(place) && kind == "place" && place$var$where != "state" && em$inside > 0L) return(invisible())  # a function's own workings
  mark <- list(kind = kind, at = at, ...)
  if (!is.null(place)) mark <- c(mark, watched_place(em, place))
  em$marks[[length(em$marks) + 1L]] <- mark
  emit(em, "MARK", length(em$marks) - 1L)
}

# Where a place lies: list(name, type, cell or list, key or key_cell).
watched_place <- function(em, place) {
  where <- list(name = place$var$name, type = place$type, kept = place$var$where)
  if (place$op == "var") return(c(where, watched_operand(em, place_variable(em, place$var), place$type)))
  lies <- place_variable(em, place$var, past_room)
  key <- write_value(em, place$key)
  if (is.null(key$const)) {
    kept <- new_cell(em, FALSE)
    move(em, kept, key)
    key <- kept
  }
  c(where, list(key = key$const, key_cell = key$cell, key_type = place$var$type$key, base = lies$base, first = lies$first, real = isTRUE(lies$real), family = if (!is.null(lies$family)) lies$list))
}

watched_operand <- function(em, lies, type) {
  if (is_pool(type)) list(list = lies$list) else list(cell = cell_of(em, lies), real = isTRUE(lies$real))
}

# Something said: its texts, and the values between them.
write_say <- function(em, s) {
  if (em$watching) write_mark(em, "say", s$at, plain = s$parts$plain, values = write_text_values(em, s$parts))
}

write_text_values <- function(em, parts) {
  lapply(parts$values, function(v) {
    if (is_pool(v$type)) return(list(type = v$type, list = write_pool(em, v)))
    kept <- new_cell(em, is_real(v$type))
    write_into(em, v, kept)
    list(type = v$type, cell = kept$cell, real = kept$real)
  })
}

# Everything remembered and every decision: where it lies, who sees it.
watched_state <- function(em) {
  of_state <- lapply(em$rules$state, function(part) c(watched_variable(em, part$variable), name = part$name, lasts = part$lasts))
  of_decisions <- lapply(em$rules$decisions, function(d) c(watched_variable(em, d$variable), name = d$name, lasts = "decision"))
  c(of_state, of_decisions)
}

watched_variable <- function(em, variable) {
  lies <- place_variable(em, variable)
  type <- variable$type
  each <- is_kind(type, "each")
  keys <- if (each && identical(type$key$set, "seats")) utils::head(type$keys, seats_taken(em)) else if (each) type$keys
  list(type = if (each) type$of else type, keys = keys, key = if (each) type$key, seen_by = if (is.null(variable$seen_by)) "everyone" else variable$seen_by,
       cell = if (!each && !is_pool(type)) lies$cell, list = lies$list, first = lies$first, base = lies$base, real = isTRUE(lies$real))
}
