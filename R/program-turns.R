# Writes turns out as code, and what is remembered as it starts.

# for (mover in turns(...)): the seats in order, from the first or the seat named. What the rules never
# use (seats that are out, turns skipped, the other way round) costs nothing.
write_turns <- function(em, s) {
  uses <- em$rules$uses
  top <- new_label(em)
  again <- new_label(em)
  out <- new_label(em)
  mover <- place_variable(em, s$var)
  move(em, mover, if (is.null(s$from)) fixed_operand(1, t_whole) else write_value(em, s$from))
  start_turning(em)
  limits <- start_limits(em, s, mover, out)
  put_label(em, top)
  for (part in em$rules$state) if (part$lasts == "turn") write_start(em, part)
  count_one(em, "turns_played")
  if (isTRUE(uses$turn_number)) count_turn_of(em, mover)
  write_claims_turn(em)
  write_mark(em, "turn", s$at, typed("var", s$var$type, s$at, var = s$var))
  in_loop(em, out, again, function() write_statement(em, s$body))
  put_label(em, again)
  write_claims(em, "turn")
  count_turn(em, limits, mover)
  if (!is.null(s$until)) jump_if(em, s$until, out, when = TRUE)
  stop_after_turn(em, limits, out)
  if (isTRUE(uses$again)) write_again(em, limits, mover, top)
  slow <- any(c("skip_next", "reverse", "out") %in% names(uses)) || !is.null(limits$taken)
  if (slow) next_seat_slowly(em, limits, mover, top, out) else next_seat(em, mover, top)
  put_label(em, out)
}

# How many turns there may be: list(count, most), turns in all; where each seat has its number and the order can
# change, list(taken, each) as well, the turns of each seat.
start_limits <- function(em, s, mover, out) {
  limits <- list()
  by_seat <- !is.null(s$each) && any(c("skip_next", "reverse", "out", "again") %in% names(em$rules$uses))
  bound <- function(node, times) {
    if (is.null(node)) return(NULL)
    limit <- write_value(em, node)
    if (!is.null(limit$const)) return(fixed_operand(limit$const * times, t_whole))
    kept <- new_cell(em, FALSE)
    if (times == 1) move(em, kept, limit) else emit(em, "MUL", kept$cell, limit$cell, int_const(em, times))
    kept
  }
  if (by_seat) {
    limits$each <- bound(s$each, 1)
    limits$taken <- new_array(em, seq_along(em$rules$seats), FALSE)
    em$turn_arrays <- c(em$turn_arrays, limits$taken$base)
    for (k in seq_len(limits$taken$size)) move(em, in_cell(limits$taken$base + k - 1L), fixed_operand(0, t_whole))
  }
  limits$most <- Filter(Negate(is.null), list(if (!by_seat) bound(s$each, seats_taken(em)), bound(s$at_most, 1)))
  limits$count <- plain_cell(em)
  move(em, limits$count, fixed_operand(0, t_whole))
  none <- int_const(em, 0L)
  for (most in c(limits$most, if (by_seat) list(limits$each))) {  # none at all
    if (is.null(most$const)) emit(em, "JLE", most$cell, none, out) else if (most$const <= 0) emit(em, "JMP", out)
  }
  limits
}

count_turn <- function(em, limits, mover) {
  emit(em, "ADD", limits$count$cell, limits$count$cell, int_const(em, 1L))
  if (is.null(limits$taken)) return(invisible())
  taken <- new_cell(em, FALSE)
  emit(em, "LDX", taken$cell, mover$cell, limits$taken$array)
  emit(em, "ADD", taken$cell, taken$cell, int_const(em, 1L))
  emit(em, "STX", mover$cell, limits$taken$array, taken$cell)
}

stop_after_turn <- function(em, limits, out) {
  for (most in limits$most) emit(em, "JLE", cell_of(em, most), limits$count$cell, out)
}

# Once more the same seat, unless it has had all its turns.
write_again <- function(em, limits, mover, top) {
  change <- new_label(em)
  emit(em, "JZ", em$turning$again$cell, change)
  move(em, em$turning$again, fixed_operand(0, t_whole))
  if (!is.null(limits$taken)) jump_if_done(em, limits, mover, change)
  emit(em, "LOOP", top)
  put_label(em, change)
}

jump_if_done <- function(em, limits, mover, label) {
  taken <- new_cell(em, FALSE)
  emit(em, "LDX", taken$cell, mover$cell, limits$taken$array)
  emit(em, "JLE", cell_of(em, limits$each), taken$cell, label)
}

next_seat <- function(em, mover, top) {
  emit(em, "ADD", mover$cell, mover$cell, int_const(em, 1L))
  emit(em, "LOOPLE", mover$cell, int_const(em, seats_taken(em)), top)
  move(em, mover, fixed_operand(1, t_whole))
  emit(em, "LOOP", top)
}

# The cells that say how the turns go on.
start_turning <- function(em) {
  uses <- em$rules$uses
  fresh <- function() { cell <- plain_cell(em); move(em, cell, fixed_operand(0, t_whole)); cell }
  if (isTRUE(uses$skip_next)) em$turning$skip <- fresh()
  if (isTRUE(uses$again)) em$turning$again <- fresh()
  if (isTRUE(uses$reverse)) em$turning$back <- fresh()
}

# One seat on, or back; over seats that have no more turns; and once more for each one skipped.
next_seat_slowly <- function(em, limits, mover, top, out) {
  uses <- em$rules$uses
  step <- new_label(em)
  jump_if_all_done(em, limits, out)
  put_label(em, step)
  write_step(em, mover)
  over <- new_label(em)
  taken <- new_label(em)
  if (isTRUE(uses$out)) {
    is_out <- new_cell(em, FALSE)
    emit(em, "LDX", is_out$cell, mover$cell, out_cells(em)$array)
    emit(em, "JNZ", is_out$cell, over)
  }
  if (!is.null(limits$taken)) jump_if_done(em, limits, mover, over)
  if (isTRUE(uses$out) || !is.null(limits$taken)) {
    emit(em, "JMP", taken)
    put_label(em, over)
    emit(em, "LOOP", step)
    put_label(em, taken)
  }
  if (isTRUE(uses$skip_next)) {
    skip <- em$turning$skip
    emit(em, "JZ", skip$cell, top_once <- new_label(em))
    emit(em, "SUB", skip$cell, skip$cell, int_const(em, 1L))
    emit(em, "LOOP", step)
    put_label(em, top_once)
  }
  emit(em, "LOOP", top)
}

# To the next seat, or where the turns go round the other way to the one before.
write_step <- function(em, mover) {
  seats <- seats_taken(em)
  if (!isTRUE(em$rules$uses$reverse)) return(step_forward(em, mover, seats))
  one <- int_const(em, 1L)
  forward <- new_label(em)
  stepped <- new_label(em)
  emit(em, "JZ", em$turning$back$cell, forward)
  emit(em, "SUB", mover$cell, mover$cell, one)
  emit(em, "JLE", one, mover$cell, stepped)
  move(em, mover, fixed_operand(seats, t_whole))
  emit(em, "JMP", stepped)
  put_label(em, forward)
  step_forward(em, mover, seats)
  put_label(em, stepped)
}

step_forward <- function(em, mover, seats) {
  inside <- new_label(em)
  emit(em, "ADD", mover$cell, mover$cell, int_const(em, 1L))
  emit(em, "JLE", mover$cell, int_const(em, seats), inside)
  move(em, mover, fixed_operand(1, t_whole))
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
    for (k in seq_len(lies$size)) move(em, in_cell(lies$base + k - 1L), fixed_operand(0, t_whole))
  }
}

write_out <- function(em, s) {
  seat <- write_value(em, s$seat)
  emit(em, "STX", cell_of(em, seat), out_cells(em)$array, int_const(em, 1L))
}

# Has no seat a turn left? Each is out, or has had all its turns.
jump_if_all_done <- function(em, limits, out) {
  is_used <- isTRUE(em$rules$uses$out)
  if (!is_used && is.null(limits$taken)) return(invisible())
  left <- new_label(em)
  for (k in seq_len(seats_taken(em)) - 1L) {
    done <- new_label(em)
    if (is_used) emit(em, "JNZ", out_cells(em)$base + k, done)
    if (is.null(limits$taken)) emit(em, "JMP", left)
    else emit(em, "JLT", limits$taken$base + k, cell_of(em, limits$each), left)
    put_label(em, done)
  }
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

place_state <- function(em, part) {
  type <- part$variable$type
  inner <- if (is_kind(type, "each")) type$of else type
  if (!is_pool(inner)) return(place_variable(em, part$variable))
  room <- state_room(em, part, inner)
  if (room < 1 || room > max_room) {
    program_problem(em, "room_wrong", part$at, sprintf("`%s` has room for %s items.", part$name, plain_number(room)), sprintf("its room is from 1 to %d", as.integer(max_room)))
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
