# Writes out what comes after play: the outcome, what depends on more than the outcome of the pays,
# the records.

write_outcome <- function(asm) {
  entries <- asm$rules$outcomes$entries
  outcome <- in_register(asm$outcome_register)
  if (length(entries) == 1 && entries[[1]]$how == "label") return(write_label_outcome(asm, entries[[1]], outcome))
  done <- new_label(asm)
  for (i in seq_along(entries)) {
    e <- entries[[i]]
    following <- new_label(asm)
    is_last <- i == length(entries)
    at_place(asm, e$at, function() {
      if (e$how == "impossible") return(emit(asm, "FAIL", failure_code("outcome_impossible")))
      if (e$how == "seat") {
        seat <- write_value(asm, e$node)
        emit(asm, "JZ", register_of(asm, seat), following)
        if (e$first == 1L) move(asm, outcome, seat)
        else emit(asm, "ADD", outcome$register, register_of(asm, seat), int_const(asm, e$first - 1L))
      } else {
        if (e$how == "condition" && identical(jump_if(asm, e$node, following, when = FALSE), FALSE)) return(invisible())
        move(asm, outcome, fixed_operand(e$first, t_whole))
      }
      if (!is_last) emit(asm, "JMP", done)
    })
    put_label(asm, following)
  }
  put_label(asm, done)
}

# The label that an expression gives, by its place among the outcomes.
write_label_outcome <- function(asm, e, outcome) {
  label <- write_value(asm, e$node)
  span <- seq(min(e$ids), max(e$ids))
  table <- new_table(asm, span[[1]], length(span), match(span, e$ids, nomatch = 1L))
  at_place(asm, e$at, function() emit(asm, "TAB", outcome$register, register_of(asm, label), table))
}

# For who watches: the reason of each outcome that has one.
write_reasons <- function(asm) {
  lapply(asm$rules$because, function(parts) list(plain = parts$plain, values = write_text_values(asm, parts)))
}

# The names of the outcomes that would be those of seats that nobody takes.
outcomes_of_empty_seats <- function(rules, taken) {
  of_seats <- Filter(function(e) e$how == "seat", rules$outcomes$entries)
  as.character(unlist(lapply(of_seats, function(e) e$outcomes[-seq_len(taken)])))
}

# The amounts that the pays lines give a seat at an outcome: typed nodes with the variable `it`.
amounts_paid <- function(rules, seat, number) {
  if (identical(number, rules$hole)) return(list())
  winner <- outcome_winner(rules, number)
  amounts <- list()
  for (line in rules$pays) {
    meant <- switch(line$who$how, seat = line$who$seat == seat, everyone = seat %in% table_seats(rules),
                    winner = winner == seat,
                    others = winner > 0 && winner != seat && seat %in% table_seats(rules))
    if (!meant) next
    amount <- line$always
    if (is.null(amount)) amount <- line$by_outcome[[rules$outcomes$names[[number]]]]
    if (is.null(amount)) amount <- line$otherwise
    if (!is.null(amount)) amounts <- c(amounts, list(list(node = amount, it = line$it, of_bets = isTRUE(line$of_bets))))
  }
  amounts
}

# Pays: where they follow from the outcome alone they are a vector over the outcomes and cost the
# round nothing; else a register. Returns, for each paid seat, list(by_outcome) or list(register).
write_pays <- function(asm) {
  rules <- asm$rules
  pays <- lapply(rules$paid[is_there(asm, rules$paid)], function(seat) {
    by_outcome <- vapply(seq_along(rules$outcomes$names),
                         function(k) known_pay(asm, amounts_paid(rules, seat, k), seat), 0)
    if (!anyNA(by_outcome) && pays_by_outcome(asm$question)) return(list(seat = seat, by_outcome = by_outcome))
    if (!is.null(asm$question$paid_variable)) return(list(seat = seat, register = place_of_pay(asm, seat),
                                                          known = by_outcome))
    types <- unlist(lapply(seq_along(rules$outcomes$names),
                           function(k) vapply(amounts_paid(rules, seat, k), function(a) a$node$type$kind, "")))
    list(seat = seat, register = new_register(asm, "fraction" %in% types), known = by_outcome)
  })
  open <- Filter(function(p) !is.null(p$register), pays)
  in_table <- vapply(open, function(p) !p$register$real && !anyNA(p$known) && !has_table(rules), NA)
  for (p in open[in_table]) write_known_pay(asm, p)
  if (!all(in_table)) write_open_pays(asm, open[!in_table])
  pays
}

# Whole numbers that depend on the outcome alone are looked up.
write_known_pay <- function(asm, pay) {
  table <- new_table(asm, 1L, length(pay$known), pay$known)
  emit(asm, "TAB", pay$register$register, asm$outcome_register, table)
}

pays_by_outcome <- function(question) {
  program_span(question$game) == "round" && !records_some_rounds(question) && !isTRUE(question$by_round) &&
    is.null(question$paid_variable) && is.null(question$ledgers$together)
}

# The place in the rules that reads the pay of this seat.
place_of_pay <- function(asm, seat) {
  slot <- slot_of(asm, asm$question$paid_variable)
  list(register = slot$base + seat - slot$first, real = slot$real)
}

# The least and the greatest pay of a seat.
ends_of_pay <- function(asm, pay, of) {
  if (!is.null(pay$by_outcome)) return(range(pay$by_outcome))
  by_outcome <- lapply(seq_along(asm$rules$outcomes$names), function(k) {
    Reduce(`+`, lapply(amounts_paid(asm$rules, pay$seat, k), function(a) of(a$node)), c(0, 0))
  })
  range(unlist(by_outcome))
}

known_pay <- function(asm, amounts, seat) {
  total <- 0
  for (a in amounts) {
    if (!a$node$const) return(NA_real_)
    total <- total + write_value(asm, a$node)$const
  }
  total
}

write_open_pays <- function(asm, open) {
  done <- new_label(asm)
  last <- length(asm$rules$outcomes$names)
  for (k in seq_len(last)) {
    following <- new_label(asm)
    if (k < last) emit(asm, "JNE", asm$outcome_register, int_const(asm, k), following)
    for (p in open) write_sum_of_pays(asm, amounts_paid(asm$rules, p$seat, k), p)
    if (k < last) emit(asm, "JMP", done)
    put_label(asm, following)
  }
  put_label(asm, done)
}

write_sum_of_pays <- function(asm, amounts, pay) {
  move(asm, pay$register, list(const = 0, real = pay$register$real))
  write_if_playing(asm, pay$seat, function() for (a in amounts) add_amount(asm, a, pay))
}

add_amount <- function(asm, a, pay) {
  at_place(asm, a$node$at, function() {
    bind(asm, a$it, fixed_operand(pay$seat, a$it$type))
    part <- new_register(asm, pay$register$real)
    write_into(asm, a$node, part)
    if (part$real && !a$of_bets) fail_unless_pieces(asm, a$node, part)
    emit(asm, if (pay$register$real) "DADD" else "ADD", pay$register$register, pay$register$register, part$register)
  })
}

# Beside bets what is paid is a whole number of pieces, as bets are.
fail_unless_pieces <- function(asm, node, paid) {
  if (!has_money(asm$rules)) return(invisible())
  if (node$const) return(refuse_uneven(asm, write_value(asm, node)$const, node$at, "What is paid"))
  piece <- asm$rules$money$piece
  at <- node$at
  exact <- calculation("*", t_fraction, at, list(typed("operand", t_fraction, at, operand = paid),
                                                 literal(piece$den / piece$num, t_fraction, at)))
  off <- calculation("abs", t_fraction, at, list(calculation("-", t_fraction, at, list(
    exact, convert(rounded_down(number_of("+", exact, literal(0.5, t_fraction, at), at), at), t_fraction)))))
  write_statement(asm, fail_if(number_test(">", off, literal(1e-6, t_fraction, at), at), "amount_piece", at))
}

# A constant amount beside bets that is no whole number of pieces.
refuse_uneven <- function(asm, amount, at, what) {
  piece <- asm$rules$money$piece
  pieces <- amount * piece$den / piece$num
  if (!has_money(asm$rules) || abs(pieces - round(pieces)) < 1e-9) return(invisible())
  program_diagnostic(asm, "amount_piece", at,
                     sprintf("%s, %s, is no whole number of pieces of %s, in which bets are counted.", what,
                             plain_number(amount), plain_number(piece$num / piece$den)),
                     "change it, or the size of a piece: tokens(piece = ...)")
}

# The register of each record.
# A measure may take what is recorded already, as mean(tiles) does: that is written once.
write_records <- function(asm) {
  records <- asm$question$records
  written <- list()
  for (k in seq_along(records)) {
    r <- records[[k]]
    same <- Position(function(other) identical(without_places(records[[other]]$node), without_places(r$node)),
                     seq_along(written))
    written[[k]] <- if (!is.na(same)) written[[same]] else at_place(asm, r$at, function() {
      x <- write_value(asm, r$node)
      in_register(register_of(asm, x), x$real)
    })
  }
  stats::setNames(written, names(records))
}

# A node without where in the rules it stands.
without_places <- function(node) {
  if (!is.list(node)) return(node)
  node$at <- NULL
  lapply(node, without_places)
}

stake_of <- function(asm, seat) {
  stake <- 0
  for (s in asm$rules$stakes) {
    if (s$who$how == "everyone" || s$who$seat == seat) {
      amount <- write_value(asm, s$amount)$const
      if (amount <= 0) {
        program_diagnostic(asm, "stake_wrong", s$at, "A stake must be above zero.",
                           "leave stakes out where nothing is put in")
        stop_on_diagnostics(asm)
      }
      refuse_uneven(asm, amount, s$at, "A stake")
      stake <- stake + amount
    }
  }
  if (stake > 0) stake else NA_real_  # nothing is put in
}
