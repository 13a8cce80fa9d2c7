# Odds given that something happened, or from a position on: only the rounds are told in which it held, or which
# came there. A position is a decision, the first time that its conditions hold where it is asked.

# A round is told unless the question leaves it out.
write_tally <- function(em) {
  untold <- new_label(em)
  if (!is.null(em$rules$position)) emit(em, "JZ", arrived_cell(em)$cell, untold)
  if (!is.null(em$rules$given)) jump_if(em, em$rules$given$node, untold, when = FALSE)
  emit(em, "TALLY")
  put_label(em, untold)
}

tells_some_rounds <- function(rules) !is.null(rules$position) || !is.null(rules$given)

arrived_cell <- function(em) {
  if (is.null(em$arrived)) em$arrived <- new_cell(em, FALSE)
  em$arrived
}

# At the ask of the position's decision: is this the position, for the first time? Then the answer to be looked
# into is given, if there is one; or any legal one, which is kept. Before it, with `wander`, every legal answer is given alike: the position may
# be one that its player never comes to.
write_arrival <- function(em, d, seat, choices, target, done) {
  position <- em$rules$position
  if (!identical(position$decision, d$name)) return(invisible())
  elsewhere <- new_label(em)
  arrived <- arrived_cell(em)
  emit(em, "JNZ", arrived$cell, elsewhere)
  for (condition in position$conditions) jump_if(em, condition, elsewhere, when = FALSE)
  move(em, arrived, fixed_operand(1, t_whole))
  if (!is.null(position$any)) {
    write_any_answer(em, d, target)
    move(em, place_variable(em, position$any), target)
    emit(em, "JMP", done)
  } else if (!is.null(position$answer)) {
    move(em, target, fixed_operand(position$answer, t_whole))
    write_legality(em, choices, target, d, seat)
    emit(em, "JMP", done)
  }
  put_label(em, elsewhere)
}

write_wandering <- function(em, d, target, done) {
  if (!isTRUE(em$rules$position$wander)) return(invisible())
  there <- new_label(em)
  emit(em, "JNZ", arrived_cell(em)$cell, there)
  write_any_answer(em, d, target)
  emit(em, "JMP", done)
  put_label(em, there)
}

write_any_answer <- function(em, d, target) write_answer_body(em, d, typed("pick_choices", d$type, d$at, source = ""), target)
