# Odds given that something happened, or from a position on: only the rounds are told in which it held, or which
# came there. A position is a decision, the first time that its conditions hold where it is asked.

# A round is recorded unless the question leaves it out, or is about whole units alone.
write_tally <- function(asm, ledgers) {
  if (!is.null(asm$question$unit_values) && !asm$tracing) return(invisible())
  write_seen_end(asm)
  skipped <- new_label(asm)
  if (!is.null(asm$question$position)) emit(asm, "JNE", arrival_register(asm)$register, int_const(asm, 1L), skipped)
  if (!is.null(asm$question$given)) jump_if(asm, asm$question$given$node, skipped, when = FALSE)
  emit(asm, "TALLY")
  add_to_ledger_sums(asm, ledgers)
  put_label(asm, skipped)
}

# Of a match or sitting: did any round of it come to the position?
unit_arrival_register <- function(asm) {
  if (is.null(asm$unit_arrived)) asm$unit_arrived <- new_register(asm, FALSE)
  asm$unit_arrived
}

# How often the fixed answer was not legal there.
count_not_legal <- function(asm) {
  if (program_span(asm$rules) == "round") return(invisible())
  emit(asm, "ADD", asm$not_legal$register, asm$not_legal$register, int_const(asm, 1L))
}

# What a match or sitting came to is counted where it came to the position; elsewhere it is a number that the rules
# cannot give. Sums for ledgers and what has all units are left as they are.
not_arrived <- -2147483647

write_unit_arrival <- function(asm, measures) {
  if (is.null(asm$question$position)) return(measures)
  if (!is.null(asm$not_legal)) measures[["not legal"]] <- added_quantity(asm$not_legal)
  measures[["all rounds"]] <- added_quantity(new_register(asm, FALSE))
  move(asm, measures[["all rounds"]], measures$rounds)
  there <- new_label(asm)
  emit(asm, "JNZ", unit_arrival_register(asm)$register, there)
  kept <- lapply(Filter(function(m) !identical(m$told, "added"), measures),
                 function(m) in_register(m$register, isTRUE(m$real)))
  for (register in kept) move(asm, register, fixed_operand(not_arrived, if (register$real) t_fraction else t_whole))
  put_label(asm, there)
  measures
}

arrival_register <- function(asm) {
  if (is.null(asm$arrived)) asm$arrived <- new_register(asm, FALSE)
  asm$arrived
}

# At the ask of the position's decision: is this the position, for the first time? Then one of the answers to be looked
# into is given, if there are some, each in a lane of its own; or any legal one, which is kept. Where the answer is not
# legal the round is passed over. Before the position, with `wander`, every legal answer is given alike: the position
# may be one that its player never comes to.
write_arrival <- function(asm, d, seat, choices, target, done) {
  position <- asm$question$position
  if (!identical(position$decision, d$name) || !is.null(position$seat) && position$seat != seat) return(invisible())
  elsewhere <- new_label(asm)
  arrived <- arrival_register(asm)
  emit(asm, "JNZ", arrived$register, elsewhere)
  for (condition in position$conditions) jump_if(asm, condition, elsewhere, when = FALSE)
  move(asm, arrived, fixed_operand(1, t_whole))
  came <- function() if (program_span(asm$rules) != "round")
    move(asm, unit_arrival_register(asm), fixed_operand(1, t_whole))
  if (!asm$tracing) emit(asm, "TRACE", 0L)  # where a run from the position on begins
  if (!is.null(position$any)) {
    write_any_answer(asm, d, target)
    move(asm, slot_of(asm, position$any), target)
    came()
    emit(asm, "JMP", done)
  } else if (length(position$answers) > 0) {
    write_answer_of_lane(asm, d, target, position$answers)
    write_legality(asm, choices, target, d, seat, otherwise = function() {
      move(asm, arrived, fixed_operand(2, t_whole))
      count_not_legal(asm)
      emit(asm, "JMP", elsewhere)
    })
    came()
    emit(asm, "JMP", done)
  } else came()
  put_label(asm, elsewhere)
}

# The lane of a unit is chosen where it first comes to the position, and kept.
write_answer_of_lane <- function(asm, d, target, answers) {
  lane <- asm$lane$register
  chosen <- new_label(asm)
  given <- new_label(asm)
  emit(asm, "JNZ", lane, chosen)
  emit(asm, "LANE", lane, asm$lane$only, length(answers))
  put_label(asm, chosen)
  for (k in seq_along(answers)) {
    other <- new_label(asm)
    if (k < length(answers)) emit(asm, "JNE", lane, int_const(asm, k), other)
    give_answer(asm, d, target, answers[[k]])
    if (k < length(answers)) emit(asm, "JMP", given)
    put_label(asm, other)
  }
  put_label(asm, given)
}

# `only`: the lane of a program that is of one lane.
start_lane <- function(asm) {
  if (length(asm$question$position$answers) == 0) return(invisible())
  asm$lane <- list(register = new_int(asm), only = new_int(asm))
  move(asm, in_register(asm$lane$register), fixed_operand(0, t_whole))
}

# A known answer: a number, or the items of a collection.
give_answer <- function(asm, d, target, answer) {
  if (!is_collection(d$type)) return(move(asm, target, fixed_operand(answer, t_whole)))
  emit(asm, "LCLEAR", target$list)
  for (item in answer) emit(asm, "BPUT", target$list, int_const(asm, item))
}

# What registers hold at the position, as far as its conditions say so: the core sees by them which ways do not lead
# there.
required_there <- function(asm) {
  Filter(Negate(is.null), lapply(asm$question$position$conditions, required_by, asm = asm))
}

required_by <- function(asm, condition) {
  constant <- function(node) if (node$const) write_value(asm, node)$const
  is_place <- function(node) node$op == "var" && identical(node$var$where, "state") && !is_kind(node$type, "each")
  if (condition$op == "calc" && condition$fn == "==" && is_place(condition$args[[1]]) &&
      !is_real(condition$args[[1]]$type)) {
    value <- constant(condition$args[[2]])
    if (is.null(value)) return(NULL)
    return(list(place = 0L, at = register_of(asm, slot_of(asm, condition$args[[1]]$var)), values = as.integer(value)))
  }
  if (condition$op != "collection_same" || !is_place(condition$left) || condition$right$op != "collection_of")
    return(NULL)
  items <- lapply(condition$right$values, constant)
  if (any(vapply(items, is.null, NA))) return(NULL)
  items <- as.integer(unlist(items))
  is_bag <- is_kind(condition$left$type, "bag")
  if (is_bag) items <- sort(items)
  list(place = if (is_bag) 2L else 1L, at = slot_of(asm, condition$left$var)$list, values = c(length(items), items))
}

write_wandering <- function(asm, d, target, done) {
  if (!isTRUE(asm$question$position$wander)) return(invisible())
  there <- new_label(asm)
  emit(asm, "JNZ", arrival_register(asm)$register, there)
  write_any_answer(asm, d, target)
  emit(asm, "JMP", done)
  put_label(asm, there)
}

write_any_answer <- function(asm, d, target)
  write_answer_body(asm, d, typed("pick_choices", d$type, d$at, source = ""), target)
