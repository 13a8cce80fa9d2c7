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
