# Writes matches and sittings out as code: what is counted over the rounds, and when they end.

# Round after round, up to the end of the span; with both, match after match, up to the end of the sitting.
# `measures` are the registers, by name, of what is kept of a whole unit.
write_rounds <- function(asm) {
  write_unit_start(asm)
  start_ledger_sums(asm)
  start_goal(asm)
  matches <- !is.null(asm$rules$match) && !is.null(asm$rules$sitting)
  sitting <- if (matches) start_sitting(asm)
  again <- new_label(asm)
  done <- new_label(asm)
  put_label(asm, again)
  write_starts(asm, "match")
  span <- start_span(asm)
  parts <- if (is.null(asm$rules$match$modes)) write_span(asm, span) else write_climb(asm, span)
  if (matches) write_match_end(asm, sitting, span, again, done)
  put_label(asm, done)
  ending <- if (!is.null(asm$rules$match$counts)) span["winner"]
    else if (!is.null(asm$rules$match)) list(ending = in_register(asm$outcome_register))
    else if (!is.null(asm$rules$sitting$until) &&
             length(asm$rules$money$wallets) == 0) list(ending = in_register(asm$outcome_register))
  measures <- if (matches) c(sitting["rounds"], sitting["matches"], sitting$won) else c(ending, span["rounds"])
  asked <- lapply(asm$question$unit_values, register_at_end, asm = asm)
  recorded <- lapply(asm$question$unit_records, function(r) {
    register <- register_at_end(asm, r$node)
    if (is_added(r)) added_quantity(register) else register
  })
  measures <- c(measures, final_values(asm), write_evening(asm), recorded, asked, named_ledger_sums(asm))
  c(parts, list(span = span, measures = write_unit_arrival(asm, measures)))
}

# A quantity of the whole unit: a number, or the share of units in which a condition holds.
register_at_end <- function(asm, node) {
  register <- new_register(asm, is_real(node$type))
  write_into(asm, node, register)
  if (is_kind(node$type, "yesno")) register$told <- "share"
  register
}

most_final_values <- 8L

# The numbers that last the whole unit, as they are at its end; none where the rules say what is recorded then.
final_values <- function(asm) {
  if (length(recorded_of_unit(asm$question)) > 0) return(NULL)
  is_measured <- function(part) part$lasts == program_span(asm$rules) && is_number(plain_type(part$variable$type)) &&
    !isTRUE(part$money)
  lasting <- Filter(is_measured, asm$rules$state)
  registers <- unlist(lapply(unname(lasting), function(part) {
    slot <- slot_of(asm, part$variable)
    if (!is_kind(part$variable$type, "each"))
      return(stats::setNames(list(in_register(register_of(asm, slot), isTRUE(slot$real))),
                             sprintf("final %s", part$name)))
    axes <- axes_taken(asm, part$variable$type$axes)
    offsets <- as.integer(keys_taken(asm, part$variable$type$axes)) - slot$first
    stats::setNames(lapply(offsets, function(k) in_register(slot$base + k, isTRUE(slot$real))),
                    sprintf("final %s[%s]", part$name, place_names(asm$rules, axes)))
  }), recursive = FALSE)
  utils::head(registers, most_final_values)
}

plain_type <- function(type) if (is_kind(type, "each")) type$of else type

write_span <- function(asm, span) {
  top <- new_label(asm)
  out <- new_label(asm)
  put_label(asm, top)
  parts <- write_round(asm)
  at_place(asm, (if (is.null(asm$rules$match)) asm$rules$sitting else asm$rules$match)$at,
           function() write_tally(asm, parts$ledgers))
  write_span_end(asm, span, top, out)
  put_label(asm, out)
  parts
}

# One round in each mode: the settings are known while code is written, so each has code of its own.
write_climb <- function(asm, span) {
  out <- new_label(asm)
  climb <- climb_settings(asm$rules, asm$settings)
  asm$widest <- TRUE
  place_for_climb(asm, climb)
  parts <- NULL
  for (settings in climb) {
    asm$settings <- settings
    here <- write_round(asm)
    if (is.null(parts)) parts <- own_records(asm, here)
    move_parts(asm, parts, here)
    at_place(asm, asm$rules$match$at, function() write_tally(asm, parts$ledgers))
    write_span_end(asm, span, NULL, out)
    forget_round_places(asm)
  }
  if (!is.null(asm$rules$match$counts)) move(asm, span$winner, write_leading(asm, span))
  put_label(asm, out)
  parts
}

# The state is in the same registers in every mode, with room for the widest.
place_for_climb <- function(asm, climb) {
  for (part in asm$rules$state) {
    type <- part$variable$type
    inner <- if (is_kind(type, "each")) type$of else type
    if (!is_collection(inner)) next
    slot_of(asm, part$variable,
            max(vapply(climb, function(settings) { asm$settings <- settings; state_room(asm, part, inner) }, 0)))
  }
}

# Local lists and decks may want other room in the next mode.
forget_round_places <- function(asm) {
  kept <- vapply(c(lapply(asm$rules$state, `[[`, "variable"), lapply(asm$rules$decisions, `[[`, "variable"),
                   asm$rules$past), function(v) as.character(v$id), "")
  passed <- vapply(Filter(Negate(is.null), lapply(asm$rules$decisions, `[[`, "passed")), function(v) as.character(v$id),
                   "")
  rm(list = setdiff(ls(asm$vars), c(kept, passed)), envir = asm$vars)
  for (name in vapply(decks_lasting(asm$rules, "round"), `[[`, "", "name")) asm$decks[[name]] <- NULL
}

# A record may lie in a register of something else, even of a known number.
own_records <- function(asm, parts) {
  parts$records <- lapply(parts$records, function(r) new_register(asm, r$real))
  parts$ledgers <- lapply(parts$ledgers, function(entry) { entry$register <- new_register(asm, TRUE); entry })
  parts
}

# Pays, records and reasons lie where those of the first mode lie.
move_parts <- function(asm, to, from) {
  for (k in seq_along(to$pays)) move(asm, to$pays[[k]]$register, from$pays[[k]]$register)
  for (k in seq_along(to$records)) move(asm, to$records[[k]], from$records[[k]])
  for (k in seq_along(to$ledgers)) move(asm, to$ledgers[[k]]$register, from$ledgers[[k]]$register)
  for (k in seq_along(to$reasons)) for (i in seq_along(to$reasons[[k]]$values)) {
    a <- to$reasons[[k]]$values[[i]]
    b <- from$reasons[[k]]$values[[i]]
    if (is.null(a$list)) move(asm, in_register(a$register, a$real), in_register(b$register, b$real))
    else emit(asm, "LCOPY", a$list, b$list)
  }
}

# In a sitting of matches: all rounds, the matches, and how many of them each seat won.
start_sitting <- function(asm) {
  won <- if (!is.null(asm$rules$match$counts))
    stats::setNames(lapply(asm$rules$seats, function(seat) fresh_count(asm)),
                    sprintf("matches_%s_won", asm$rules$seats))
  list(rounds = fresh_count(asm), matches = fresh_count(asm), won = won)
}

# After a match: counts it, and goes on with another, at `again`, or to the end of the sitting.
write_match_end <- function(asm, sitting, span, again, done) {
  declared <- asm$rules$sitting
  at_place(asm, declared$at, function() {
    emit(asm, "ADD", sitting$rounds$register, sitting$rounds$register, span$rounds$register)
    emit(asm, "ADD", sitting$matches$register, sitting$matches$register, int_const(asm, 1L))
    for (seat in seq_along(sitting$won)) {
      register <- sitting$won[[seat]]$register
      is_winner <- new_register(asm, FALSE)
      emit(asm, "EQ", is_winner$register, span$winner$register, int_const(asm, seat))
      emit(asm, "ADD", register, register, is_winner$register)
    }
    write_end_of_ruined(asm, done)
    if (!is.null(declared$until)) write_goal(asm, declared$until, done)
    if (!is.null(declared$rounds))
      emit(asm, "JLE", register_of(asm, write_value(asm, declared$rounds)), sitting$rounds$register, done)
    if (!is.null(declared$matches))
      emit(asm, "LOOPLT", sitting$matches$register, register_of(asm, write_value(asm, declared$matches)), again)
        else emit(asm, "LOOP", again)
  })
}

# The registers that last the whole span: rounds so far, and in a match the winner (0 while there is none) and
# how often each seat won.
start_span <- function(asm) {
  span <- list(rounds = fresh_count(asm), winner = if (!is.null(asm$rules$match)) fresh_count(asm))
  if (!is.null(asm$rules$match$counts)) {
    span$won <- new_array(asm, seq_along(asm$rules$seats), FALSE)
    for (k in seq_len(span$won$size)) move(asm, in_register(span$won$base + k - 1L), fixed_operand(0, t_whole))
  }
  asm$span <- span
  span
}

# After a round: counts it, and goes on at `top` (no `top`: with what follows) or to `out`.
write_span_end <- function(asm, span, top, out) {
  declared <- if (is.null(asm$rules$match)) asm$rules$sitting else asm$rules$match
  at_place(asm, declared$at, function() {
    emit(asm, "ADD", span$rounds$register, span$rounds$register, int_const(asm, 1L))
    if (!is.null(declared$counts)) write_counted(asm, declared, span, out)
    if (!is.null(declared$until)) write_goal(asm, declared$until, out)
    write_ruin(asm, out)
    most <- if (is.null(declared$best_of)) declared$rounds else declared$best_of
    if (is.null(top)) return(invisible())
    if (!is.null(most)) emit(asm, "LOOPLT", span$rounds$register, register_of(asm, write_value(asm, most)), top)
    else emit(asm, "LOOP", top)
    if (!is.null(most) && !is.null(declared$counts)) move(asm, span$winner, write_leading(asm, span))
  })
}

# The seat that won the round has one more; with enough it has won the match.
write_counted <- function(asm, match, span, out) {
  enough <- if (!is.null(match$first_to)) write_value(asm, match$first_to)$const
    else if (!is.null(match$best_of)) write_value(asm, match$best_of)$const %/% 2 + 1
  for (seat in seq_along(match$counts)) {
    other <- new_label(asm)
    won <- in_register(span$won$base + seat - 1L)
    emit(asm, "JNE", asm$outcome_register, int_const(asm, match$counts[[seat]]), other)
    emit(asm, "ADD", won$register, won$register, int_const(asm, 1L))
    if (!is.null(enough)) {
      emit(asm, "JLT", won$register, int_const(asm, enough), other)
      move(asm, span$winner, fixed_operand(seat, t_whole))
      emit(asm, "JMP", out)
    }
    put_label(asm, other)
  }
}

# With wallets, records whether the goal was reached.
write_goal <- function(asm, until, out) {
  goal <- asm$goal
  if (is.null(goal)) return(write_until(asm, until, out))
  on <- new_label(asm)
  reached <- new_label(asm)
  write_until(asm, until, reached)
  emit(asm, "JMP", on)
  put_label(asm, reached)
  move(asm, goal, fixed_operand(1, t_whole))
  emit(asm, "JMP", out)
  put_label(asm, on)
}

write_until <- function(asm, until, out) {
  if (!is.null(until$condition)) return(jump_if(asm, until$condition, out, when = TRUE))
  for (k in until$outcomes) emit(asm, "JEQ", asm$outcome_register, int_const(asm, k), out)
}

# The leader after all rounds, or 0.
write_leading <- function(asm, span) {
  values <- lapply(seq_len(span$won$size), function(k) in_register(span$won$base + k - 1L))
  write_leader_of(asm, values)
}
