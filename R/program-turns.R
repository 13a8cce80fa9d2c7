# Writes turns out as code, and what is remembered as it starts.

# for (mover in turns(...)): the seats in order, from the first or the seat named. What the rules never
# use (seats that are out, turns skipped, the other way round) costs nothing.
op_turns <- function(asm, s) {
  uses <- asm$rules$uses
  top <- new_label(asm)
  again <- new_label(asm)
  out <- new_label(asm)
  mover <- slot_of(asm, s$var)
  move(asm, mover, if (is.null(s$from)) fixed_operand(1, t_whole) else write_value(asm, s$from))
  start_turning(asm)
  limits <- start_limits(asm, s, mover, out)
  if (isTRUE(uses$out)) to_first_playing(asm, limits, mover, out)
  put_label(asm, top)
  for (part in asm$rules$state) if (part$lasts == "turn") write_start(asm, part)
  count_one(asm, "turns_played")
  if ("last_mover" %in% asm$counted) move(asm, counter_register(asm, "last_mover"), mover)
  if (isTRUE(uses$turn_number)) count_turn_of(asm, mover)
  write_claims_turn(asm)
  write_trace_point(asm, "turn", s$at, typed("var", s$var$type, s$at, var = s$var))
  in_loop(asm, out, again, function() write_statement(asm, s$body))
  put_label(asm, again)
  write_claims(asm, "turn")
  count_turn(asm, limits, mover)
  if (!is.null(s$until)) jump_if(asm, s$until, out, when = TRUE)
  stop_after_turn(asm, limits, out)
  if (isTRUE(uses$again)) write_again(asm, limits, mover, top)
  slow <- any(c("skip_next", "reverse", "out") %in% names(uses)) || !is.null(limits$taken)
  if (slow) next_seat_slowly(asm, limits, mover, top, out) else next_seat(asm, mover, top)
  put_label(asm, out)
}

# Skips seats that are out before the first turn.
to_first_playing <- function(asm, limits, mover, out) {
  step <- new_label(asm)
  first <- new_label(asm)
  is_out <- new_register(asm, FALSE)
  jump_if_all_done(asm, limits, out)
  put_label(asm, step)
  emit(asm, "LDX", is_out$register, mover$register, out_registers(asm)$array)
  emit(asm, "JZ", is_out$register, first)
  step_forward(asm, mover, seats_taken(asm))
  emit(asm, "LOOP", step)
  put_label(asm, first)
}

# The number of turns: list(count, most), all turns together; where each seat has its number and the order can
# change, list(taken, each) as well, the turns of each seat.
start_limits <- function(asm, s, mover, out) {
  limits <- list()
  by_seat <- !is.null(s$each) && any(c("skip_next", "reverse", "out", "again") %in% names(asm$rules$uses))
  bound <- function(node, times) {
    if (is.null(node)) return(NULL)
    limit <- write_value(asm, node)
    if (!is.null(limit$const)) return(fixed_operand(limit$const * times, t_whole))
    kept <- new_register(asm, FALSE)
    if (times == 1) move(asm, kept, limit) else emit(asm, "MUL", kept$register, limit$register, int_const(asm, times))
    kept
  }
  if (by_seat) {
    limits$each <- bound(s$each, 1)
    limits$taken <- new_array(asm, seq_along(asm$rules$seats), FALSE)
    asm$turn_arrays <- c(asm$turn_arrays, limits$taken$base)
    for (k in seq_len(limits$taken$size)) move(asm, in_register(limits$taken$base + k - 1L), fixed_operand(0, t_whole))
  }
  limits$most <- Filter(Negate(is.null), list(if (!by_seat) bound(s$each, seats_taken(asm)), bound(s$at_most, 1)))
  limits$count <- plain_register(asm)
  move(asm, limits$count, fixed_operand(0, t_whole))
  none <- int_const(asm, 0L)
  for (most in c(limits$most, if (by_seat) list(limits$each))) {  # none at all
    if (is.null(most$const)) emit(asm, "JLE", most$register, none, out) else if (most$const <= 0) emit(asm, "JMP", out)
  }
  limits
}

count_turn <- function(asm, limits, mover) {
  emit(asm, "ADD", limits$count$register, limits$count$register, int_const(asm, 1L))
  if (is.null(limits$taken)) return(invisible())
  taken <- new_register(asm, FALSE)
  emit(asm, "LDX", taken$register, mover$register, limits$taken$array)
  emit(asm, "ADD", taken$register, taken$register, int_const(asm, 1L))
  emit(asm, "STX", mover$register, limits$taken$array, taken$register)
}

stop_after_turn <- function(asm, limits, out) {
  for (most in limits$most) emit(asm, "JLE", register_of(asm, most), limits$count$register, out)
}

# Once more the same seat, unless it has had all its turns.
write_again <- function(asm, limits, mover, top) {
  change <- new_label(asm)
  emit(asm, "JZ", asm$turning$again$register, change)
  move(asm, asm$turning$again, fixed_operand(0, t_whole))
  if (!is.null(limits$taken)) jump_if_done(asm, limits, mover, change)
  emit(asm, "LOOP", top)
  put_label(asm, change)
}

jump_if_done <- function(asm, limits, mover, label) {
  taken <- new_register(asm, FALSE)
  emit(asm, "LDX", taken$register, mover$register, limits$taken$array)
  emit(asm, "JLE", register_of(asm, limits$each), taken$register, label)
}

next_seat <- function(asm, mover, top) {
  emit(asm, "ADD", mover$register, mover$register, int_const(asm, 1L))
  emit(asm, "LOOPLE", mover$register, int_const(asm, seats_taken(asm)), top)
  move(asm, mover, fixed_operand(1, t_whole))
  emit(asm, "LOOP", top)
}

# The registers that say how the turns go on.
start_turning <- function(asm) {
  uses <- asm$rules$uses
  fresh <- function() { register <- plain_register(asm); move(asm, register, fixed_operand(0, t_whole)); register }
  if (isTRUE(uses$skip_next)) asm$turning$skip <- fresh()
  if (isTRUE(uses$again)) asm$turning$again <- fresh()
  if (isTRUE(uses$reverse)) asm$turning$back <- fresh()
}

# One seat on, or back; over seats that have no more turns; and once more for each one skipped.
next_seat_slowly <- function(asm, limits, mover, top, out) {
  uses <- asm$rules$uses
  step <- new_label(asm)
  jump_if_all_done(asm, limits, out)
  put_label(asm, step)
  write_step(asm, mover)
  over <- new_label(asm)
  taken <- new_label(asm)
  if (isTRUE(uses$out)) {
    is_out <- new_register(asm, FALSE)
    emit(asm, "LDX", is_out$register, mover$register, out_registers(asm)$array)
    emit(asm, "JNZ", is_out$register, over)
  }
  if (!is.null(limits$taken)) jump_if_done(asm, limits, mover, over)
  if (isTRUE(uses$out) || !is.null(limits$taken)) {
    emit(asm, "JMP", taken)
    put_label(asm, over)
    emit(asm, "LOOP", step)
    put_label(asm, taken)
  }
  if (isTRUE(uses$skip_next)) {
    skip <- asm$turning$skip
    emit(asm, "JZ", skip$register, top_once <- new_label(asm))
    emit(asm, "SUB", skip$register, skip$register, int_const(asm, 1L))
    emit(asm, "LOOP", step)
    put_label(asm, top_once)
  }
  emit(asm, "LOOP", top)
}

# To the next seat, or where the turns are reversed to the one before.
write_step <- function(asm, mover) {
  seats <- seats_taken(asm)
  if (!isTRUE(asm$rules$uses$reverse)) return(step_forward(asm, mover, seats))
  one <- int_const(asm, 1L)
  forward <- new_label(asm)
  stepped <- new_label(asm)
  emit(asm, "JZ", asm$turning$back$register, forward)
  emit(asm, "SUB", mover$register, mover$register, one)
  emit(asm, "JLE", one, mover$register, stepped)
  move(asm, mover, fixed_operand(seats, t_whole))
  emit(asm, "JMP", stepped)
  put_label(asm, forward)
  step_forward(asm, mover, seats)
  put_label(asm, stepped)
}

step_forward <- function(asm, mover, seats) {
  inside <- new_label(asm)
  emit(asm, "ADD", mover$register, mover$register, int_const(asm, 1L))
  emit(asm, "JLE", mover$register, int_const(asm, seats), inside)
  move(asm, mover, fixed_operand(1, t_whole))
  put_label(asm, inside)
}

# --- who is out, and whose turn it is by number ----------------------------------

seat_array <- function(asm, field) {
  if (is.null(asm[[field]])) assign(field, new_array(asm, seq_len(length(asm$rules$seats)), FALSE), envir = asm)
  asm[[field]]
}

out_registers <- function(asm) seat_array(asm, "out_array")
turn_registers <- function(asm) seat_array(asm, "turn_array")

start_seat_registers <- function(asm) {
  for (field in c(if (isTRUE(asm$rules$uses$out)) "out_array", if (isTRUE(asm$rules$uses$turn_number)) "turn_array")) {
    slot <- seat_array(asm, field)
    for (k in seq_len(slot$size))
      move(asm, in_register(slot$base + k - 1L),
           if (field == "out_array" && has_table(asm$rules)) in_register(gone_register(asm, k))
           else fixed_operand(0, t_whole))
  }
}

op_skip_next <- function(asm, s)
  emit(asm, "ADD", asm$turning$skip$register, asm$turning$skip$register, int_const(asm, 1L))
op_again <- function(asm, s) move(asm, asm$turning$again, fixed_operand(1, t_whole))
op_reverse <- function(asm, s) emit(asm, "NOT", asm$turning$back$register, asm$turning$back$register)

op_out <- function(asm, s) {
  seat <- write_value(asm, s$seat)
  emit(asm, "STX", register_of(asm, seat), out_registers(asm)$array, int_const(asm, 1L))
}

# Has no seat a turn left? Each is out, or has had all its turns.
jump_if_all_done <- function(asm, limits, out) {
  is_used <- isTRUE(asm$rules$uses$out)
  if (!is_used && is.null(limits$taken)) return(invisible())
  left <- new_label(asm)
  for (k in seq_len(seats_taken(asm)) - 1L) {
    done <- new_label(asm)
    if (is_used) emit(asm, "JNZ", out_registers(asm)$base + k, done)
    if (is.null(limits$taken)) emit(asm, "JMP", left)
    else emit(asm, "JLT", limits$taken$base + k, register_of(asm, limits$each), left)
    put_label(asm, done)
  }
  emit(asm, "JMP", out)
  put_label(asm, left)
}

op_turn_number <- function(asm, node, into) write_seat_register(asm, node$seat, turn_registers(asm), into)

op_playing <- function(asm, node, into) {
  is_out <- write_seat_register(asm, node$seat, out_registers(asm), NULL)
  target <- result_register(asm, into, FALSE)
  emit(asm, "NOT", target$register, is_out$register)
  target
}

write_seat_register <- function(asm, seat, slot, into) {
  key <- write_value(asm, seat)
  if (!is.null(key$const) && key$const >= 1) return(in_register(slot$base + as.integer(key$const) - 1L))
  target <- result_register(asm, into, FALSE)
  emit(asm, "LDX", target$register, register_of(asm, key), slot$array)
  target
}

count_turn_of <- function(asm, mover) {
  slot <- turn_registers(asm)
  n <- new_register(asm, FALSE)
  emit(asm, "LDX", n$register, mover$register, slot$array)
  emit(asm, "ADD", n$register, n$register, int_const(asm, 1L))
  emit(asm, "STX", mover$register, slot$array, n$register)
}

# --- built-in counters ------------------------------------------------------------------

# --- starts ---------------------------------------------------------------------------

# The state at the start.
write_start <- function(asm, part) {
  at_place(asm, part$at, function() {
    slot <- slot_of_state(asm, part)
    forced <- asm$start[[part$name]]
    start <- if (is.null(forced)) part$start else forced
    type <- part$variable$type
    inner <- if (is_kind(type, "each")) type$of else type
    if (!is_kind(type, "each"))
      return(if (is_collection(inner)) start_list(asm, slot$list, start, inner) else write_into(asm, start, slot))
    for (k in seq_len(slot$size)) {
      begin <- if (identical(start$op, "places")) start_of_place(asm, part, start, k + slot$first - 1L) else start
      if (is_collection(inner)) start_list(asm, slot$list + k - 1L, begin, inner)
      else write_into(asm, begin, in_register(slot$base + k - 1L, slot$real))
    }
  })
}

start_list <- function(asm, list, start, type) {
  if (is.null(start)) emit(asm, "LCLEAR", list) else fill_collection(asm, start, list, type$kind)
}

# The given start value of one place, else that of the rules.
start_of_place <- function(asm, part, given, number) {
  k <- match(number, offsets_of(part$variable$type$axes))
  value <- if (!is.na(k)) given$values[[k]]
  if (is.null(value)) part$start else value
}
