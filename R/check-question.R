# Expressions that are asked of a game besides its rules, typed like the rest of the file.

# Counters and pays that the question reads are kept as well, and ids go on from where they are.
counted_too <- function(question, context) {
  question["paid_variable"] <- list(context$paid_variable)
  question$counted <- union(question$counted, context$counted)
  question$next_id <- context$next_id
  question
}

asked_condition <- function(question, text, what) {
  context <- context_of(question)
  v <- condition(context, ended_scope(tolower(what)), parse_expression(text), what)
  blame_expression(context$diagnostics, text, question$game$source)
  list(node = v, text = text, context = context)
}

# A failure in the expression itself has its place there, not in the rules.
blaming_expression <- function(expression, source, work) {
  tryCatch(work, basanos_error = function(e) {
    blame_expression(e$diagnostics, expression, source)
  })
}

# A context in which everything is known that the rules declare, and what the question has added.
context_of <- function(question) {
  context <- new_context(question$game$source)
  for (part in c("names", "labels", "letters", "words", "seats", "bettors", "settings", "state", "players", "outcomes",
                 "pays", "picks", "spans", "past", "uses", "play_locals", "money"))
    context[[part]] <- question$game[[part]]
  for (part in c("records", "unit_records", "counted", "paid_variable", "next_id")) context[[part]] <- question[[part]]
  context
}

# `before` is how many letters were written before it to read it.
blame_expression <- function(diagnostics, expression, source, before = 0L) {
  if (length(diagnostics) == 0) return(invisible())
  own <- Filter(function(p) !is.null(p$at) && p$at[[1]] > expression_line, diagnostics)
  if (length(own) == 0) abort_diagnostics(sort_diagnostics(diagnostics), source)
  own <- lapply(lapply(own, shift_diagnostic, by = -expression_line), place_as_given, before = before)
  abort_diagnostics(sort_diagnostics(own), source_of_expression(expression))
}
