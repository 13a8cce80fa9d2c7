# Expressions that are asked of a game besides its rules, typed like the rest of the file.

# Counters that the question reads are kept as well, and ids go on from where they are.
counted_too <- function(rules, context) {
  rules$counted <- union(rules$counted, context$counted)
  rules$next_id <- context$next_id
  rules
}

# At the end of a round: what is recorded and the outcomes go by their names too.
closing_scope <- function(context, rules, what) {
  scope <- new_scope(what)
  at <- c(1L, 1L, 1L, 1L)
  alias <- function(node, name) if (is.null(context$names[[name]]))
    scope$vars[[name]] <- list(node = node, name = name, where = "alias")
  for (r in rules$records) alias(r$node, r$name)
  for (k in seq_along(rules$outcomes$names))
    alias(calculation("==", t_yesno, at, list(typed("outcome", t_whole, at), literal(k, t_whole, at))),
          rules$outcomes$names[[k]])
  scope
}

asked_condition <- function(rules, text, what) {
  context <- context_of(rules)
  node <- parse_expression(text)
  family <- if (node$kind == "name") outcome_numbers(context, node$name)
  if (length(family) > 1) node <- outcomes_joined(rules, family, node$at)
  v <- condition(context, closing_scope(context, rules, tolower(what)), node, what)
  blame_expression(context$diagnostics, text, rules$source)
  list(node = v, text = text, counted = context$counted)
}

# `wins` for left_wins || right_wins.
outcomes_joined <- function(rules, numbers, at) {
  parts <- lapply(rules$outcomes$names[numbers], function(name) list(kind = "name", name = name, at = at))
  Reduce(function(a, b)
    list(kind = "call", name = NULL, fn = "||", args = list(a, b), names = c("", ""), at = at, fn_at = at), parts)
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
  for (part in c("names", "labels", "letters", "words", "seats", "settings", "state", "players", "outcomes", "pays",
                 "records", "picks", "spans", "past", "uses", "counted", "next_id")) context[[part]] <- rules[[part]]
  context
}

blame_expression <- function(diagnostics, expression, source) {
  if (length(diagnostics) == 0) return(invisible())
  own <- Filter(function(p) !is.null(p$at) && p$at[[1]] > expression_line, diagnostics)
  if (length(own) == 0) abort_diagnostics(sort_diagnostics(diagnostics), source)
  abort_diagnostics(sort_diagnostics(lapply(own, shift_diagnostic, by = -expression_line)),
                    list(name = "expression", lines = strsplit(expression, "\n", fixed = TRUE)[[1]]))
}
