# What a driver that watches a round (trace, play) is told at each TRACE: a value given, a turn begun, an
# answer, something said. Programs for the engines have no such stops.
# Also what is marked as gone through, and what claims are held against.

# `item`: what was put into a place that holds several.
write_trace_point <- function(asm, kind, at, place = NULL, item = NULL, ...) {
  if (!is.null(place)) write_seen_place(asm, place, item)
  if (!asm$tracing) return(invisible())
  # a function's own workings
  if (!is.null(place) && kind == "place" && place$var$where != "state" && asm$inside > 0L) return(invisible())
  mark <- list(kind = kind, at = at, ...)
  if (!is.null(place)) mark <- c(mark, traced_place(asm, place))
  asm$trace_points[[length(asm$trace_points) + 1L]] <- mark
  emit(asm, "TRACE", length(asm$trace_points) - 1L)
}

# The location of a place: list(name, type, register or list, key or key_cell).
traced_place <- function(asm, place) {
  where <- list(name = place$var$name, type = place$type, kept = place$var$where, hidden = isTRUE(place$var$hidden))
  if (place$op == "var") return(c(where, traced_operand(asm, slot_of(asm, place$var), place$type)))
  slot <- slot_of(asm, place$var, past_room)
  place_number <- kept_operand(asm, place$key)
  keys <- if (place$key$op == "cell") lapply(place$key$keys, kept_operand, asm = asm) else list(place_number)
  c(where,
    list(place = place_number, keys = keys, axes = place$var$type$axes, base = slot$base, first = slot$first,
         real = isTRUE(slot$real), list_array = if (!is.null(slot$list_array)) slot$list))
}

traced_operand <- function(asm, slot, type) {
  if (is_collection(type)) list(list = slot$list) else list(register = register_of(asm, slot), real = isTRUE(slot$real))
}

# Money that moves, as a line for who watches: "ann puts 1 on line: 2 there".
op_money_note <- function(asm, s) {
  write_seen_values(asm, Filter(Negate(is.null), s[c("amount", "total")]))
  if (!asm$tracing) return(invisible())
  tokens <- lapply(Filter(Negate(is.null), s[c("amount", "total")]), in_tokens, piece = asm$rules$money$piece)
  write_trace_point(asm, "money", s$at, name = s$name, nothing = s$nothing, plain = s$plain,
                    values = write_text_values(asm, list(values = tokens)))
}

# Something said: its texts, and the values between them.
op_say <- function(asm, s) {
  write_seen_values(asm, s$parts$values)
  if (asm$tracing) write_trace_point(asm, "say", s$at, plain = s$parts$plain, values = write_text_values(asm, s$parts))
}

# Something shown for a moment, to one seat or to all.
op_show <- function(asm, s) {
  write_seen_values(asm, list(s$x), s$to)
  if (asm$tracing) write_trace_point(asm, "shown", s$at, name = s$name, plain = c("", ""),
                                     values = write_text_values(asm, list(values = list(s$x))),
                                     to = if (!is.null(s$to)) kept_operand(asm, s$to))
}

write_text_values <- function(asm, parts) {
  lapply(parts$values, function(v) {
    if (is_collection(v$type)) return(list(type = v$type, list = write_collection(asm, v)))
    kept <- new_register(asm, is_real(v$type))
    write_into(asm, v, kept)
    list(type = v$type, register = kept$register, real = kept$real)
  })
}

# Everything remembered and every decision: where it lies, who sees it.
traced_state <- function(asm) {
  of_state <- lapply(Filter(function(part) !isTRUE(part$hidden), asm$rules$state),
                     function(part) c(traced_variable(asm, part$variable), name = part$name, lasts = part$lasts))
  of_decisions <- lapply(asm$rules$decisions,
                         function(d) c(traced_variable(asm, d$variable), name = d$name, lasts = "decision"))
  c(of_state, of_decisions)
}

traced_variable <- function(asm, variable) {
  slot <- slot_of(asm, variable)
  type <- variable$type
  where <- list(seen_by = if (is.null(variable$seen_by)) "everyone" else variable$seen_by,
                hide_size = isTRUE(variable$hide_size), list = slot$list,
                base = slot$base, real = isTRUE(slot$real))
  if (!is_kind(type, "each"))
    return(c(where, list(type = type, register = if (!is_collection(type)) slot$register)))
  axes <- axes_taken(asm, type$axes)
  c(where, list(type = type$of, axes = axes, offsets = as.integer(keys_taken(asm, type$axes)) - slot$first))
}

# `kind` is holds or fails, of the condition at `at`, or the label of an answer that was legal there.
write_coverage <- function(asm, kind, at) {
  if (!asm$covering) return(invisible())
  key <- paste(c(kind, at), collapse = " ")
  if (is.null(asm$coverage[[key]])) asm$coverage[[key]] <- list(kind = kind, at = at, index = length(asm$coverage))
  emit(asm, "COVER", asm$coverage[[key]]$index)
  write_trace_point(asm, "note", at, key = key)
}

# The rules of players are not branches of the game.
without_coverage <- function(asm, write) {
  covering <- asm$covering
  asm$covering <- FALSE
  result <- write()
  asm$covering <- covering
  result
}

# The legal answers at an ask, of those that depend on a condition.
cover_legal <- function(asm, choices, d) {
  if (!asm$covering || choices$how != "labels") return(invisible())
  for (item in choices$items) {
    skip <- new_label(asm)
    if (!is.null(item$flag)) emit(asm, "JZ", item$flag$register, skip)
    write_coverage(asm, paste("answer", item$id), d$at)
    put_label(asm, skip)
  }
}

# A branch of a condition, but for conditions that the rules do not write.
write_branch_coverage <- function(asm, kind, node)
  if (!isTRUE(node$quiet)) write_coverage(asm, kind, node$cond$at)

# What only the programs of `check` have: claims as code, and notes of the branches that a round went through.

# At this moment every claim about it must hold.
write_claims <- function(asm, moment) {
  for (k in seq_along(asm$claims)) {
    claim <- asm$claims[[k]]
    if (!moment %in% claim$when) next
    holds <- new_label(asm)
    if (moment == "ask") for (name in claimed_decisions(asm, claim))
      emit(asm, "JZ", answered_register(asm, name)$register, holds)
    at_place(asm, claim$at, function() {
      if (!identical(jump_if(asm, claim$holds, holds, when = TRUE), TRUE))
        emit(asm, "FAIL", failure_code("claim_broken"), k)
    })
    put_label(asm, holds)
  }
}

# At an ask, a claim about answers is looked at only once this turn, or this round where there are no turns, has them:
# what is still there from a turn before is none of its business.
claimed_decisions <- function(asm, claim) {
  read <- variables_in(claim$holds, c("var", "at_key"))
  about <- Filter(function(d) d$variable$id %in% read || (!is.null(d$passed) && d$passed$id %in% read),
                  asm$rules$decisions)
  vapply(about, `[[`, "", "name")
}

# A register that tells whether the decision has been answered.
answered_register <- function(asm, name) {
  if (is.null(asm$answered[[name]])) asm$answered[[name]] <- new_register(asm, FALSE)
  asm$answered[[name]]
}

all_claimed <- function(asm)
  unique(unlist(lapply(asm$claims, function(claim) if ("ask" %in% claim$when) claimed_decisions(asm, claim))))
write_claims_turn <- function(asm) for (name in all_claimed(asm))
  move(asm, answered_register(asm, name), fixed_operand(0, t_whole))

write_claims_answered <- function(asm, name) {
  if (name %in% all_claimed(asm)) move(asm, answered_register(asm, name), fixed_operand(1, t_whole))
}

# Notes of the branches that a round took, for the core and for a watcher. Only the findings of `check` need them.
