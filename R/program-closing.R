# Writes out what comes after play: the outcome, what depends on more than the outcome of the pays,
# the records.

write_outcome <- function(em) {
  entries <- em$rules$outcomes$entries
  outcome <- in_cell(em$outcome_cell)
  if (length(entries) == 1 && entries[[1]]$how == "label") return(write_label_outcome(em, entries[[1]], outcome))
  done <- new_label(em)
  for (i in seq_along(entries)) {
    e <- entries[[i]]
    following <- new_label(em)
    is_last <- i == length(entries)
    at_place(em, e$at, function() {
      if (e$how == "impossible") return(emit(em, "FAIL", failure_code("outcome_impossible")))
      if (e$how == "seat") {
        seat <- write_value(em, e$node)
        emit(em, "JZ", cell_of(em, seat), following)
        if (e$first == 1L) move(em, outcome, seat)
        else emit(em, "ADD", outcome$cell, cell_of(em, seat), int_const(em, e$first - 1L))
      } else {
        if (e$how == "condition" && identical(jump_if(em, e$node, following, when = FALSE), FALSE)) return(invisible())
        move(em, outcome, fixed_operand(e$first, t_whole))
      }
      if (!is_last) emit(em, "JMP", done)
    })
    put_label(em, following)
  }
  put_label(em, done)
}

# The label that an expression gives, by its place among the outcomes.
write_label_outcome <- function(em, e, outcome) {
  label <- write_value(em, e$node)
  span <- seq(min(e$ids), max(e$ids))
  table <- new_table(em, span[[1]], length(span), match(span, e$ids, nomatch = 1L))
  at_place(em, e$at, function() emit(em, "TAB", outcome$cell, cell_of(em, label), table))
}

# For who watches: the reason of each outcome that has one.
write_reasons <- function(em) {
  lapply(em$rules$because, function(parts) list(plain = parts$plain, values = write_text_values(em, parts)))
}

# The names of the outcomes that would be those of seats that nobody takes.
outcomes_of_empty_seats <- function(rules, taken) {
  of_seats <- Filter(function(e) e$how == "seat", rules$outcomes$entries)
  as.character(unlist(lapply(of_seats, function(e) e$outcomes[-seq_len(taken)])))
}

# The amounts that the pays lines give a seat at an outcome: typed nodes with the variable `it`.
amounts_paid <- function(rules, seat, number) {
  winner <- outcome_winner(rules, number)
  amounts <- list()
  for (line in rules$pays) {
    meant <- switch(line$who$how, seat = line$who$seat == seat, everyone = TRUE, winner = winner == seat, others = winner > 0 && winner != seat)
    if (!meant) next
    amount <- line$always
    if (is.null(amount)) amount <- line$by_outcome[[rules$outcomes$names[[number]]]]
    if (is.null(amount)) amount <- line$otherwise
    if (!is.null(amount)) amounts <- c(amounts, list(list(node = amount, it = line$it)))
  }
  amounts
}

# Pays: where they follow from the outcome alone they are a vector over the outcomes and cost the
# round nothing; else a cell. Returns, for each paid seat, list(by_outcome) or list(cell).
write_pays <- function(em) {
  rules <- em$rules
  pays <- lapply(rules$paid[rules$paid <= seats_taken(em)], function(seat) {
    by_outcome <- vapply(seq_along(rules$outcomes$names), function(k) known_pay(em, amounts_paid(rules, seat, k), seat), 0)
    if (!anyNA(by_outcome) && program_span(rules) == "round" && !tells_some_rounds(rules) && !isTRUE(rules$compared)) return(list(seat = seat, by_outcome = by_outcome))
    types <- unlist(lapply(seq_along(rules$outcomes$names), function(k) vapply(amounts_paid(rules, seat, k), function(a) a$node$type$kind, "")))
    list(seat = seat, cell = new_cell(em, "fraction" %in% types))
  })
  open <- Filter(function(p) !is.null(p$cell), pays)
  if (length(open) > 0) write_open_pays(em, open)
  pays
}

# The least and the greatest pay of a seat.
ends_of_pay <- function(em, pay, of) {
  if (!is.null(pay$by_outcome)) return(range(pay$by_outcome))
  by_outcome <- lapply(seq_along(em$rules$outcomes$names), function(k) {
    Reduce(`+`, lapply(amounts_paid(em$rules, pay$seat, k), function(a) of(a$node)), c(0, 0))
  })
  range(unlist(by_outcome))
}

known_pay <- function(em, amounts, seat) {
  total <- 0
  for (a in amounts) {
    if (!a$node$const) return(NA_real_)
    total <- total + write_value(em, a$node)$const
  }
  total
}

write_open_pays <- function(em, open) {
  done <- new_label(em)
  last <- length(em$rules$outcomes$names)
  for (k in seq_len(last)) {
    following <- new_label(em)
    if (k < last) emit(em, "JNE", em$outcome_cell, int_const(em, k), following)
    for (p in open) write_sum_of_pays(em, amounts_paid(em$rules, p$seat, k), p)
    if (k < last) emit(em, "JMP", done)
    put_label(em, following)
  }
  put_label(em, done)
}

write_sum_of_pays <- function(em, amounts, pay) {
  move(em, pay$cell, list(const = 0, real = pay$cell$real))
  for (a in amounts) at_place(em, a$node$at, function() {
    bind(em, a$it, fixed_operand(pay$seat, a$it$type))
    part <- new_cell(em, pay$cell$real)
    write_into(em, a$node, part)
    emit(em, if (pay$cell$real) "DADD" else "ADD", pay$cell$cell, pay$cell$cell, part$cell)
  })
}

# The cell of each record.
write_records <- function(em) {
  lapply(em$rules$records, function(r) at_place(em, r$at, function() {
    x <- write_value(em, r$node)
    in_cell(cell_of(em, x), x$real)
  }))
}
