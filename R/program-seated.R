# Who sits at a seat: one player, or one of several by chance, as in "careful:3, bold:1". Who it is is drawn anew for
# each unit, so that a player with a memory stays for a whole match.

is_mix <- function(player) grepl(":", player, fixed = TRUE)

# The players that may sit there, with their weights.
players_seated <- function(player) {
  if (!is_mix(player)) return(list(names = player, weights = 1))
  parts <- strsplit(strsplit(player, ",", fixed = TRUE)[[1]], ":", fixed = TRUE)
  list(names = trimws(vapply(parts, `[`, "", 1)), weights = vapply(parts, function(p) if (length(p) == 2) suppressWarnings(as.numeric(p[[2]])) else NA_real_, 0))
}

# The mix as it is told, each player checked by `check(name)`.
checked_mix <- function(mix, check) {
  seated <- players_seated(mix)
  weights <- seated$weights
  if (anyNA(weights) || any(!is.finite(weights) | weights < 0) || sum(weights) <= 0) {
    abort_input("mix_wrong", sprintf("\"%s\" is no mix of players.", mix), "write each player with its weight, as in careful:3, bold:1")
  }
  twice <- seated$names[duplicated(seated$names)]
  if (length(twice) > 0) abort_input("mix_wrong", sprintf("`%s` stands twice in a mix of players.", twice[[1]]), "add its weights up")
  for (name in seated$names) check(name)
  paste0(seated$names, ":", vapply(weights, format, "", digits = 15), collapse = ", ")
}

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
