# What a seat sees of play, in a program in which it decides: wherever a place changes that it may see, the value is
# shown to it (SEE), and of a hidden heap the size. Only best play of seats that do not see everything asks for it.

# Writes what each seat that watches is shown.
for_watchers <- function(asm, write) {
  seats <- asm$question$watching
  for (k in seq_along(seats)) {
    asm$watcher <- k
    write(seats[[k]])
  }
}

# Does the seat see what is `seen_by`, and is that of the seat `owner`?
is_seen_by <- function(seen_by, owner, seat) {
  if (is.null(seen_by) || identical(seen_by, "everyone")) return(TRUE)
  if (identical(seen_by, "owner")) return(identical(as.integer(owner), as.integer(seat)))
  is.numeric(seen_by) && seen_by == seat
}

# A value that was given to a place; of a collection perhaps only the item that was put there.
write_seen_place <- function(asm, place, item = NULL) {
  if (isTRUE(place$var$hidden) || (place$var$where != "state" && asm$inside > 0L)) return(invisible())
  for_watchers(asm, function(seat) write_place_for(asm, place, item, seat))
}

write_place_for <- function(asm, place, item, seat) {
  show_place <- function() show_changed(asm, place, item)
  owner <- seat_of_place(place)
  if (is.null(owner) || !identical(place$var$seen_by, "owner")) {
    if (is_seen_by(place$var$seen_by, 0L, seat)) show_place() else show_size(asm, place)
    return(invisible())
  }
  unseen <- new_label(asm)
  done <- new_label(asm)
  key <- write_value(asm, owner)
  if (!is.null(key$const)) return(if (key$const == seat) show_place() else show_size(asm, place))
  emit(asm, "JNE", key$register, int_const(asm, seat), unseen)
  show_place()
  emit(asm, "JMP", done)
  put_label(asm, unseen)
  show_size(asm, place)
  put_label(asm, done)
}

# The key of a place that is a seat.
seat_of_place <- function(place) {
  if (place$op == "var" || is.null(place$key)) return(NULL)
  keys <- if (place$key$op == "cell") place$key$keys else list(place$key)
  of_seat <- vapply(place$var$type$axes, is_seat_axis, NA)
  if (any(of_seat)) keys[[which(of_seat)[[1]]]]
}

# Which place it is, where it is one of several, and what lies there.
show_changed <- function(asm, place, item) {
  if (place$op != "var") show_node(asm, place$key)
  if (is.null(item)) show_node(asm, place) else show_register(asm, in_register(register_of(asm, item)))
}

show_size <- function(asm, place) {
  if (!is_collection(place$type) || isTRUE(place$var$hide_size)) return(invisible())
  size <- new_register(asm, FALSE)
  emit(asm, "LSIZE", size$register, write_collection(asm, place))
  show_register(asm, size)
}

show_node <- function(asm, node) {
  if (is_collection(node$type)) return(show_list(asm, write_collection(asm, node)))
  x <- write_value(asm, node)
  show_register(asm, list(register = register_of(asm, x), real = isTRUE(x$real)))
}

show_register <- function(asm, x) emit(asm, if (x$real) "SEER" else "SEE", next_shown(asm), x$register)
show_list <- function(asm, list) emit(asm, "SEEL", next_shown(asm), list)

# Each thing that is shown has a number of its own: from 1 million on for the first seat that watches, from 2 million on
# for the second; below are those that describe a situation.
first_event <- 1000000L
next_shown <- function(asm) {
  asm$shown <- asm$shown + 1L
  first_event * asm$watcher + asm$shown - 1L
}

# What is said, or shown to this seat.
write_seen_values <- function(asm, values, to = NULL) for_watchers(asm, function(seat) {
  skipped <- new_label(asm)
  if (!is.null(to)) emit(asm, "JNE", register_of(asm, write_value(asm, to)), int_const(asm, seat), skipped)
  show_register(asm, list(register = int_const(asm, 0L), real = FALSE))  # that it is said tells something, too
  for (value in values) show_node(asm, value)
  put_label(asm, skipped)
})

# The answers that others have given, once all are in.
write_seen_answers <- function(asm, s, d, slot) for_watchers(asm, function(seat) {
  seen <- function(owner) is_seen_by(d$variable$seen_by, owner, seat)
  show <- function(cell) if (is_collection(d$type)) show_list(asm, slot$list) else show_register(asm, cell)
  if (!d$together) return(if (seen(0L)) show(in_register(slot$register)))
  for (other in setdiff(seq_len(seats_taken(asm)), seat))
    if (seen(other)) write_if_playing(asm, other, function() show(in_register(slot$base + other - 1L)))
})

# At the end of a round of several everything is seen.
write_seen_end <- function(asm) for_watchers(asm, function(seat) {
  hidden <- function(variable) !identical(if (is.null(variable$seen_by)) "everyone" else variable$seen_by, "everyone")
  variables <- c(lapply(asm$rules$state, `[[`, "variable"), lapply(asm$rules$decisions, `[[`, "variable"))
  for (variable in Filter(hidden, variables)) show_slot(asm, variable, slot_of(asm, variable))
})

show_slot <- function(asm, variable, slot) {
  places <- seq_len(if (is.null(slot$size)) 0 else slot$size) - 1L
  if (!is.null(slot$list_array)) for (k in places) show_list(asm, slot$list + k)
  else if (!is.null(slot$list)) show_list(asm, slot$list)
  else if (!is.null(slot$size)) for (k in places) show_register(asm, in_register(slot$base + k, slot$real))
  else show_register(asm, list(register = slot$register, real = isTRUE(slot$real)))
}
