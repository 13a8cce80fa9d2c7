# Writes turns out as code, and what is remembered as it starts.

# for (mover in turns(...)): the seats in order, from the first or the seat named. What the rules never
# use (seats that are out, turns skipped, the other way round) costs nothing.
write_turns <- function(em, s) {
  uses <- em$rules$uses
  top <- new_label(em)
  again <- new_label(em)
  out <- new_label(em)
  mover <- place_variable(em, s$var)
  count <- plain_cell(em)
  move(em, mover, if (is.null(s$from)) known(1, t_whole) else write_value(em, s$from))
  move(em, count, known(0, t_whole))
  start_turning(em)
  put_label(em, top)
  for (part in em$rules$state) if (part$lasts == "turn") write_start(em, part)
  count_one(em, "turns_played")
  if (isTRUE(uses$turn_number)) count_turn_of(em, mover)
  write_mark(em, "turn", s$at, typed("var", s$var$type, s$at, var = s$var))
  in_loop(em, out, again, function() write_statement(em, s$body))
  put_label(em, again)
  write_claims(em, "turn")
  emit(em, "ADD", count$cell, count$cell, int_const(em, 1L))
  if (!is.null(s$until)) jump_if(em, s$until, out, when = TRUE)
  stop_after(em, s$each, seats_taken(em), count, out)
  stop_after(em, s$at_most, 1, count, out)
  if (isTRUE(uses$again)) {
    change <- new_label(em)
    emit(em, "JZ", em$turning$again$cell, change)
    move(em, em$turning$again, known(0, t_whole))
    emit(em, "LOOP", top)
    put_label(em, change)
  }
  if (any(c("skip_next", "reverse", "out") %in% names(uses))) next_seat_slowly(em, mover, top, out) else next_seat(em, mover, top)
  put_label(em, out)
}

stop_after <- function(em, node, times, count, out) {
  if (is.null(node)) return(invisible())
  limit <- write_value(em, node)
  most <- if (!is.null(limit$const)) known(limit$const * times, t_whole) else { x <- new_cell(em, FALSE); emit(em, "MUL", x$cell, limit$cell, int_const(em, times)); x }
  emit(em, "JLE", cell_of(em, most), count$cell, out)
}

next_seat <- function(em, mover, top) {
  emit(em, "ADD", mover$cell, mover$cell, int_const(em, 1L))
  emit(em, "LOOPLE", mover$cell, int_const(em, seats_taken(em)), top)
  move(em, mover, known(1, t_whole))
  emit(em, "LOOP", top)
}

# The cells that say how the turns go on.
start_turning <- function(em) {
  uses <- em$rules$uses
  fresh <- function() { cell <- plain_cell(em); move(em, cell, known(0, t_whole)); cell }
  if (isTRUE(uses$skip_next)) em$turning$skip <- fresh()
  if (isTRUE(uses$again)) em$turning$again <- fresh()
  if (isTRUE(uses$reverse)) em$turning$back <- fresh()
}

# One seat on, or back; over seats that are out; and once more for each one skipped.
next_seat_slowly <- function(em, mover, top, out) {
  seats <- seats_taken(em)
  one <- int_const(em, 1L)
  step <- new_label(em)
  if (isTRUE(em$rules$uses$out)) write_all_out(em, out)
  put_label(em, step)
  if (isTRUE(em$rules$uses$reverse)) {
    forward <- new_label(em)
    stepped <- new_label(em)
    emit(em, "JZ", em$turning$back$cell, forward)
    emit(em, "SUB", mover$cell, mover$cell, one)
    emit(em, "JLE", one, mover$cell, stepped)
    move(em, mover, known(seats, t_whole))
    emit(em, "JMP", stepped)
    put_label(em, forward)
    step_forward(em, mover, seats)
    put_label(em, stepped)
  } else step_forward(em, mover, seats)
  if (isTRUE(em$rules$uses$out)) {
    is_out <- new_cell(em, FALSE)
    emit(em, "LDX", is_out$cell, mover$cell, out_cells(em)$array)
    taken <- new_label(em)
    emit(em, "JZ", is_out$cell, taken)
    emit(em, "LOOP", step)
    put_label(em, taken)
  }
  if (isTRUE(em$rules$uses$skip_next)) {
    skip <- em$turning$skip
    emit(em, "JZ", skip$cell, top_once <- new_label(em))
    emit(em, "SUB", skip$cell, skip$cell, one)
    emit(em, "LOOP", step)
    put_label(em, top_once)
  }
  emit(em, "LOOP", top)
}

step_forward <- function(em, mover, seats) {
  inside <- new_label(em)
  emit(em, "ADD", mover$cell, mover$cell, int_const(em, 1L))
  emit(em, "JLE", mover$cell, int_const(em, seats), inside)
  move(em, mover, known(1, t_whole))
  put_label(em, inside)
}

# --- who is out, and whose turn it is by number ----------------------------------

seat_array <- function(em, slot) {
  if (is.null(em[[slot]])) assign(slot, new_array(em, seq_len(length(em$rules$seats)), FALSE), envir = em)
  em[[slot]]
}

out_cells <- function(em) seat_array(em, "out_array")
turn_cells <- function(em) seat_array(em, "turn_array")

start_seat_cells <- function(em) {
  for (slot in c(if (isTRUE(em$rules$uses$out)) "out_array", if (isTRUE(em$rules$uses$turn_number)) "turn_array")) {
    lies <- seat_array(em, slot)
    for (k in seq_len(lies$size)) move(em, in_cell(lies$base + k - 1L), known(0, t_whole))
  }
}

write_out <- function(em, s) {
  seat <- write_value(em, s$seat)
  emit(em, "STX", cell_of(em, seat), out_cells(em)$array, int_const(em, 1L))
}

write_all_out <- function(em, out) {
  lies <- out_cells(em)
  left <- new_label(em)
  for (k in seq_len(seats_taken(em))) emit(em, "JZ", lies$base + k - 1L, left)
  emit(em, "JMP", out)
  put_label(em, left)
}

write_playing <- function(em, node, into) {
  is_out <- write_seat_cell(em, node$seat, out_cells(em), NULL)
  target <- result_cell(em, into, FALSE)
  emit(em, "NOT", target$cell, is_out$cell)
  target
}

write_seat_cell <- function(em, seat, lies, into) {
  key <- write_value(em, seat)
  if (!is.null(key$const) && key$const >= 1) return(in_cell(lies$base + as.integer(key$const) - 1L))
  target <- result_cell(em, into, FALSE)
  emit(em, "LDX", target$cell, cell_of(em, key), lies$array)
  target
}

count_turn_of <- function(em, mover) {
  lies <- turn_cells(em)
  n <- new_cell(em, FALSE)
  emit(em, "LDX", n$cell, mover$cell, lies$array)
  emit(em, "ADD", n$cell, n$cell, int_const(em, 1L))
  emit(em, "STX", mover$cell, lies$array, n$cell)
}

# --- counters that come of themselves ----------------------------------------------

counters <- c("turns_played", "passes", "asks")

counter_cell <- function(em, name) {
  if (is.null(em$counters[[name]])) em$counters[[name]] <- new_cell(em, FALSE)
  em$counters[[name]]
}

# Counted only where the rules read it.
count_one <- function(em, name) {
  if (!name %in% em$counted) return(invisible())
  cell <- counter_cell(em, name)
  emit(em, "ADD", cell$cell, cell$cell, int_const(em, 1L))
}

# --- starts ---------------------------------------------------------------------------

# What is remembered, as it starts.
write_start <- function(em, part) {
  at_place(em, part$at, function() {
    lies <- place_state(em, part)
    forced <- em$start[[part$name]]
    start <- if (is.null(forced)) part$start else forced
    type <- part$variable$type
    inner <- if (is_kind(type, "each")) type$of else type
    if (is_pool(inner)) {
      lists <- lies$list + if (is_kind(type, "each")) seq_len(lies$size) - 1L else 0L
      for (list in lists) if (is.null(start)) emit(em, "LCLEAR", list) else fill_pool(em, start, list, inner$kind)
      return(invisible())
    }
    if (!is_kind(type, "each")) return(write_into(em, start, lies))
    for (k in seq_len(lies$size)) write_into(em, start, in_cell(lies$base + k - 1L, lies$real))
  })
}

max_room <- 100000
usual_room <- 100

place_state <- function(em, part) {
  type <- part$variable$type
  inner <- if (is_kind(type, "each")) type$of else type
  if (!is_pool(inner)) return(place_variable(em, part$variable))
  room <- state_room(em, part, inner)
  if (room < 1 || room > max_room) {
    program_problem(em, "room_wrong", part$at, sprintf("`%s` has room for %s items.", part$name, format(room, scientific = FALSE)), sprintf("its room is from 1 to %d", as.integer(max_room)))
    room <- 1
  }
  place_variable(em, part$variable, room)
}

# As said; else what the whole deck or the start needs.
state_room <- function(em, part, inner) {
  if (!is.null(part$room)) return(write_value(em, part$room)$const)
  if (is_kind(inner$of, "card")) return(max(1, deck_array(em, inner$of$set)$cards))
  if (!is.null(part$start)) return(max(usual_room, room_of(em, part$start)))
  usual_room
}
