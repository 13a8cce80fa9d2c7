# Who sits at a seat: one player, or one of several by chance, as in "careful:3, bold:1". Who it is is drawn anew for
# each unit, so that a player with a memory stays for a whole match.

seating_source <- function(seat) paste("chance of who sits as", seat)

# Draws who sits where, before anything else of the unit.
write_seated <- function(em) {
  for (seat in which(is_mix(em$players))) {
    em$weights[[length(em$weights) + 1L]] <- players_seated(em$players[[seat]])$weights
    em$seated[[as.character(seat)]] <- new_cell(em, FALSE)
    emit(em, "DRAWW", em$seated[[as.character(seat)]]$cell, source_index(em, seating_source(em$rules$seats[[seat]])), length(em$weights) - 1L)
  }
}

# Code for whoever sits there; `write(player)` writes that of one of them.
write_by_player <- function(em, seat, write) {
  names <- players_seated(em$players[[seat]])$names
  done <- new_label(em)
  for (k in seq_along(names)) {
    other <- new_label(em)
    last <- k == length(names)
    if (!last) emit(em, "JNE", em$seated[[as.character(seat)]]$cell, int_const(em, k), other)
    write(names[[k]])
    if (!last) emit(em, "JMP", done)
    put_label(em, other)
  }
  put_label(em, done)
}
