# Writes matches and sittings out as code: what is counted over the rounds, and when they end.

program_span <- function(rules) if (!is.null(rules$match)) "match" else if (!is.null(rules$sitting)) "sitting" else "round"

# The cells that last the whole span: rounds so far, and in a match the winner (0 while there is none) and
# how often each seat won.
start_span <- function(em) {
  fresh <- function() { cell <- new_cell(em, FALSE); move(em, cell, known(0, t_whole)); cell }
  span <- list(rounds = fresh(), winner = if (!is.null(em$rules$match)) fresh())
  if (!is.null(em$rules$match$counts)) {
    span$won <- new_array(em, seq_along(em$rules$seats), FALSE)
    for (k in seq_len(span$won$size)) move(em, in_cell(span$won$base + k - 1L), known(0, t_whole))
  }
  em$span <- span
  span
}

# After a round: counts it, and goes on at `top` or to `out`.
write_span_end <- function(em, span, top, out) {
  declared <- if (is.null(em$rules$match)) em$rules$sitting else em$rules$match
  at_place(em, declared$at, function() {
    emit(em, "ADD", span$rounds$cell, span$rounds$cell, int_const(em, 1L))
    if (!is.null(declared$counts)) write_counted(em, declared, span, out)
    if (!is.null(declared$until)) write_until(em, declared$until, out)
    most <- if (is.null(declared$best_of)) declared$rounds else declared$best_of
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
      move(em, span$winner, known(seat, t_whole))
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
