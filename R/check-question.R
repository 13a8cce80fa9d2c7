# Expressions that are asked of a game besides its rules, typed like the rest of the file.

# Counters and pays that the question reads are kept as well, and ids go on from where they are.
counted_too <- function(rules, context) {
  rules$paid_variable <- context$paid_variable
  rules$counted <- union(rules$counted, context$counted)
  rules$next_id <- context$next_id
  rules
}

asked_condition <- function(rules, text, what) {
  context <- context_of(rules)
  v <- condition(context, ended_scope(tolower(what)), parse_expression(text), what)
  blame_expression(context$diagnostics, text, rules$source)
  list(node = v, text = text, context = context)
}

# A failure in the expression itself has its place there, not in the rules.
blaming_expression <- function(expression, source, work) {
  tryCatch(work, basanos_error = function(e) {
    blame_expression(e$diagnostics, expression, source)
  })
}

# A context in which everything that the rules declares is known.
context_of <- function(rules) {
  context <- new_context(rules$source)
  for (part in c("names", "labels", "letters", "words", "seats", "bettors", "settings", "state", "players", "outcomes",
                 "pays", "records", "unit_records", "picks", "spans", "past", "uses", "counted", "paid_variable",
                 "play_locals", "next_id", "money")) context[[part]] <- rules[[part]]
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
