# Odds given that something happened, or from a position on: only the rounds are told in which it held, or which
# came there. A position is a decision, the first time that its conditions hold where it is asked.

# A round is recorded unless the question leaves it out.
write_tally <- function(asm) {
  skipped <- new_label(asm)
  if (!is.null(asm$rules$position)) emit(asm, "JNE", arrival_register(asm)$register, int_const(asm, 1L), skipped)
  if (!is.null(asm$rules$given)) jump_if(asm, asm$rules$given$node, skipped, when = FALSE)
  emit(asm, "TALLY")
  put_label(asm, skipped)
}

records_some_rounds <- function(rules) !is.null(rules$position) || !is.null(rules$given)

arrival_register <- function(asm) {
  if (is.null(asm$arrived)) asm$arrived <- new_register(asm, FALSE)
  asm$arrived
}

# At the ask of the position's decision: is this the position, for the first time? Then the answer to be looked
# into is given, if there is one; or any legal one, which is kept. Where that answer is not legal the round is passed
# over. Before the position, with `wander`, every legal answer is given alike: the position may be one that its player
# never comes to.
write_arrival <- function(asm, d, seat, choices, target, done) {
  position <- asm$rules$position
  if (!identical(position$decision, d$name)) return(invisible())
  elsewhere <- new_label(asm)
  arrived <- arrival_register(asm)
  emit(asm, "JNZ", arrived$register, elsewhere)
  for (condition in position$conditions) jump_if(asm, condition, elsewhere, when = FALSE)
  move(asm, arrived, fixed_operand(1, t_whole))
  if (!is.null(position$any)) {
    write_any_answer(asm, d, target)
    move(asm, slot_of(asm, position$any), target)
    emit(asm, "JMP", done)
  } else if (!is.null(position$answer)) {
    move(asm, target, fixed_operand(position$answer, t_whole))
    write_legality(asm, choices, target, d, seat, otherwise = function() {
      move(asm, arrived, fixed_operand(2, t_whole))
      emit(asm, "JMP", elsewhere)
    })
    emit(asm, "JMP", done)
  }
  put_label(asm, elsewhere)
}

write_wandering <- function(asm, d, target, done) {
  if (!isTRUE(asm$rules$position$wander)) return(invisible())
  there <- new_label(asm)
  emit(asm, "JNZ", arrival_register(asm)$register, there)
  write_any_answer(asm, d, target)
  emit(asm, "JMP", done)
  put_label(asm, there)
}

write_any_answer <- function(asm, d, target)
  write_answer_body(asm, d, typed("pick_choices", d$type, d$at, source = ""), target)
