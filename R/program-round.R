# One round, from what stands at its start to what it came to; and the starts of a match and a sitting.

# One round from the very start, also of a game that goes over several.
write_single_round <- function(asm) {
  write_wide_starts(asm)
  write_round(asm)
}

# The values before the first round.
write_wide_starts <- function(asm) {
  write_unit_start(asm)
  write_starts(asm, "match")
}

write_unit_start <- function(asm) {
  asm$outcome_register <- new_int(asm)
  start_lane(asm)
  if (!is.null(asm$question$position) && program_span(asm$rules) != "round") {
    move(asm, unit_arrival_register(asm), fixed_operand(0, t_whole))
    if (length(asm$question$position$answers) > 0) asm$not_legal <- fresh_count(asm)
  }
  write_seated(asm)
  write_starts(asm, "sitting")
}

# For values alone, without a round.
write_all_starts <- function(asm) {
  write_wide_starts(asm)
  write_starts(asm, "round")
  for (part in asm$rules$state) if (part$lasts == "turn") write_start(asm, part)
}

# From the start of what lasts a round to its outcome, pays and records.
write_round <- function(asm) {
  write_starts(asm, "round")
  asm$round_end <- new_label(asm)
  asm$hole_end <- new_label(asm)
  write_trace_point(asm, "start", asm$rules$play$at)
  write_statement(asm, asm$rules$play)
  put_label(asm, asm$round_end)
  late <- settles_by_outcome(asm$rules)
  if (!late) write_settlement(asm)
  write_outcome(asm)
  if (late) write_settlement(asm)
  put_label(asm, asm$hole_end)
  pays <- write_pays(asm)
  write_round_money(asm, pays)
  write_statements(asm, asm$rules$after_round)
  write_claims(asm, "end")
  reasons <- if (asm$tracing) write_reasons(asm)
  list(pays = pays, records = write_records(asm), ledgers = write_ledgers(asm, pays), reasons = reasons)
}

# Everything of one lifetime as it is at its start.
write_starts <- function(asm, lasts) {
  rules <- asm$rules
  for (d in decks_lasting(rules, lasts)) write_full_deck(asm, d$name)
  for (part in rules$state) if (part$lasts == lasts) write_start(asm, part)
  if (lasts == "match") for (decision in names(rules$past)) if (remembers(asm, decision))
    start_past(asm, rules$past[[decision]])
  if (lasts != "round") return(invisible())
  write_opening(asm)
  for (part in rules$state) if (part$lasts == "turn") slot_of_state(asm, part)
  for (d in rules$decisions) start_decision(asm, d)
  if (!is.null(asm$question$position)) move(asm, arrival_register(asm), fixed_operand(0, t_whole))
  for (name in asm$counted) move(asm, counter_register(asm, name), fixed_operand(0, t_whole))
  start_seat_registers(asm)
  write_claims_turn(asm)
}

decks_lasting <- function(rules, lasts) Filter(function(d) d$kind == "deck" && d$lasts == lasts, rules$names)

start_past <- function(asm, variable) {
  slot <- slot_of(asm, variable, past_room)
  for (k in seq_len(slot$size)) emit(asm, "LCLEAR", slot$list + k - 1L)
}

# Answers are not given yet.
start_decision <- function(asm, d) {
  slot <- slot_of_answer(asm, d)
  if (is_collection(d$type)) {
    emit(asm, "LCLEAR", slot$list)
  } else if (is_real(d$type)) {
    move(asm, slot, fixed_operand(0, t_fraction))
  } else {
    registers <- if (d$together) slot$base + seq_len(slot$size) - 1L else slot$register
    for (register in registers) emit(asm, "MOV", register, int_const(asm, 0L))
  }
  if (!is.null(d$passed)) move(asm, slot_of(asm, d$passed), fixed_operand(0, t_whole))
}
