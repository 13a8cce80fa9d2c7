# Writes matches and sittings out as code: what is counted over the rounds, and when they end.

program_span <- function(rules) if (!is.null(rules$sitting)) "sitting" else if (!is.null(rules$match)) "match" else "round"

# Round after round, up to the end of the span; with both, match after match, up to the end of the sitting.
# `measures` are the cells, by name, of what is kept of a whole unit.
write_rounds <- function(em) {
  write_unit_start(em)
  matches <- !is.null(em$rules$match) && !is.null(em$rules$sitting)
  sitting <- if (matches) start_sitting(em)
  again <- new_label(em)
  done <- new_label(em)
  put_label(em, again)
  write_starts(em, "match")
  span <- start_span(em)
  parts <- if (is.null(em$rules$match$modes)) write_span(em, span) else write_climb(em, span)
  if (matches) write_match_end(em, sitting, span, again, done)
  put_label(em, done)
  measures <- if (matches) c(sitting["rounds"], sitting["matches"], sitting$won)
    else c(if (!is.null(em$rules$match$counts)) span["winner"] else if (!is.null(em$rules$match)) list(ending = in_cell(em$outcome_cell)), span["rounds"])
  c(parts, list(span = span, measures = measures))
}

write_span <- function(em, span) {
  top <- new_label(em)
  out <- new_label(em)
  put_label(em, top)
  parts <- write_round(em)
  at_place(em, (if (is.null(em$rules$match)) em$rules$sitting else em$rules$match)$at, function() write_tally(em))
  write_span_end(em, span, top, out)
  put_label(em, out)
  parts
}

# One round in each mode: the settings are known while code is written, so each has code of its own.
write_climb <- function(em, span) {
  out <- new_label(em)
  climb <- climb_settings(em$rules, em$settings)
  place_for_climb(em, climb)
  parts <- NULL
  for (settings in climb) {
    em$settings <- settings
    here <- write_round(em)
    if (is.null(parts)) parts <- own_records(em, here)
    move_parts(em, parts, here)
    at_place(em, em$rules$match$at, function() write_tally(em))
    write_span_end(em, span, NULL, out)
    forget_round_places(em)
  }
  if (!is.null(em$rules$match$counts)) move(em, span$winner, write_leading(em, span))
  put_label(em, out)
  parts
}

# What is remembered lies in the same place in every mode, with room for the widest.
place_for_climb <- function(em, climb) {
  for (part in em$rules$state) {
    type <- part$variable$type
    inner <- if (is_kind(type, "each")) type$of else type
    if (!is_pool(inner)) next
    place_variable(em, part$variable, max(vapply(climb, function(settings) { em$settings <- settings; state_room(em, part, inner) }, 0)))
  }
}

# Local lists and decks may want other room in the next mode.
forget_round_places <- function(em) {
  kept <- vapply(c(lapply(em$rules$state, `[[`, "variable"), lapply(em$rules$decisions, `[[`, "variable"), em$rules$past), function(v) as.character(v$id), "")
  passed <- vapply(Filter(Negate(is.null), lapply(em$rules$decisions, `[[`, "passed")), function(v) as.character(v$id), "")
  rm(list = setdiff(ls(em$vars), c(kept, passed)), envir = em$vars)
  for (name in vapply(decks_lasting(em$rules, "round"), `[[`, "", "name")) em$decks[[name]] <- NULL
}

# A record may lie in a cell of something else, even of a known number.
own_records <- function(em, parts) {
  parts$records <- lapply(parts$records, function(r) new_cell(em, r$real))
  parts
}

# Pays, records and reasons lie where those of the first mode lie.
move_parts <- function(em, to, from) {
  for (k in seq_along(to$pays)) move(em, to$pays[[k]]$cell, from$pays[[k]]$cell)
  for (k in seq_along(to$records)) move(em, to$records[[k]], from$records[[k]])
  for (k in seq_along(to$reasons)) for (i in seq_along(to$reasons[[k]]$values)) {
    a <- to$reasons[[k]]$values[[i]]
    b <- from$reasons[[k]]$values[[i]]
    if (is.null(a$list)) move(em, in_cell(a$cell, a$real), in_cell(b$cell, b$real)) else emit(em, "LCOPY", a$list, b$list)
  }
}

fresh_count <- function(em) {
  cell <- new_cell(em, FALSE)
  move(em, cell, fixed_operand(0, t_whole))
  cell
}

# In a sitting of matches: all rounds, the matches, and how many of them each seat won.
start_sitting <- function(em) {
  won <- if (!is.null(em$rules$match$counts)) stats::setNames(lapply(em$rules$seats, function(seat) fresh_count(em)), sprintf("matches_%s_won", em$rules$seats))
  list(rounds = fresh_count(em), matches = fresh_count(em), won = won)
}

# After a match: counts it, and goes on with another, at `again`, or to the end of the sitting.
write_match_end <- function(em, sitting, span, again, done) {
  declared <- em$rules$sitting
  at_place(em, declared$at, function() {
    emit(em, "ADD", sitting$rounds$cell, sitting$rounds$cell, span$rounds$cell)
    emit(em, "ADD", sitting$matches$cell, sitting$matches$cell, int_const(em, 1L))
    for (seat in seq_along(sitting$won)) {
      cell <- sitting$won[[seat]]$cell
      is_winner <- new_cell(em, FALSE)
      emit(em, "EQ", is_winner$cell, span$winner$cell, int_const(em, seat))
      emit(em, "ADD", cell, cell, is_winner$cell)
    }
    if (!is.null(declared$until)) write_until(em, declared$until, done)
    if (!is.null(declared$rounds)) emit(em, "JLE", cell_of(em, write_value(em, declared$rounds)), sitting$rounds$cell, done)
    if (!is.null(declared$matches)) emit(em, "LOOPLT", sitting$matches$cell, cell_of(em, write_value(em, declared$matches)), again) else emit(em, "LOOP", again)
  })
}

# The cells that last the whole span: rounds so far, and in a match the winner (0 while there is none) and
# how often each seat won.
start_span <- function(em) {
  span <- list(rounds = fresh_count(em), winner = if (!is.null(em$rules$match)) fresh_count(em))
  if (!is.null(em$rules$match$counts)) {
    span$won <- new_array(em, seq_along(em$rules$seats), FALSE)
    for (k in seq_len(span$won$size)) move(em, in_cell(span$won$base + k - 1L), fixed_operand(0, t_whole))
  }
  em$span <- span
  span
}

# After a round: counts it, and goes on at `top` (no `top`: with what follows) or to `out`.
write_span_end <- function(em, span, top, out) {
  declared <- if (is.null(em$rules$match)) em$rules$sitting else em$rules$match
  at_place(em, declared$at, function() {
    emit(em, "ADD", span$rounds$cell, span$rounds$cell, int_const(em, 1L))
    if (!is.null(declared$counts)) write_counted(em, declared, span, out)
    if (!is.null(declared$until)) write_until(em, declared$until, out)
    most <- if (is.null(declared$best_of)) declared$rounds else declared$best_of
    if (is.null(top)) return(invisible())
    if (!is.null(most)) emit(em, "LOOPLT", span$rounds$cell, cell_of(em, write_value(em, most)), top) else emit(em, "LOOP", top)
    if (!is.null(most) && !is.null(declared$counts)) move(em, span$winner, write_leading(em, span))
  })
}

# The seat that won the round has one more; with enough it has won the match.
write_counted <- function(em, match, span, out) {
  enough <- if (!is.null(match$first_to)) write_value(em, match$first_to)$const
    else if (!is.null(match$best_of)) write_value(em, match$best_of)$const %/% 2 + 1
  for (seat in seq_along(match$counts)) {
    other <- new_label(em)
    won <- in_cell(span$won$base + seat - 1L)
    emit(em, "JNE", em$outcome_cell, int_const(em, match$counts[[seat]]), other)
    emit(em, "ADD", won$cell, won$cell, int_const(em, 1L))
    if (!is.null(enough)) {
      emit(em, "JLT", won$cell, int_const(em, enough), other)
      move(em, span$winner, fixed_operand(seat, t_whole))
      emit(em, "JMP", out)
    }
    put_label(em, other)
  }
}

write_until <- function(em, until, out) {
  if (!is.null(until$condition)) return(jump_if(em, until$condition, out, when = TRUE))
  for (k in until$outcomes) emit(em, "JEQ", em$outcome_cell, int_const(em, k), out)
}

# Who leads at the end of all rounds, or 0.
write_leading <- function(em, span) {
  values <- lapply(seq_len(span$won$size), function(k) in_cell(span$won$base + k - 1L))
  write_leader_of(em, values)
}
