# The names that can be read at the end of a round, in records, claims and questions: outcome, pays and records.

ended_scope <- function(what) {
  scope <- new_scope(what)
  scope$ended <- TRUE
  scope
}

# The value of a name that only means something at the end; NULL where it does not.
ended_value <- function(context, scope, node) {
  if (!isTRUE(scope$ended)) return(NULL)
  numbers <- outcome_numbers(context, node$name)
  value <- if (length(numbers) > 0) outcome_is(numbers, node$at)
    else if (node$name == "outcome") outcome_alone(context, node$at)
    else if (node$name == "pay") paid_value(context, scope, node$at)
    else recorded(context, scope, node$name)$node
  if (!is.null(value)) scope$reads_end <- TRUE
  value
}

# The record of this name; at the end of a match or sitting records of that end come first.
recorded <- function(context, scope, name) {
  at_end <- if (!is.null(scope$span) && scope$span != "round") context$unit_records[[name]]
  if (is.null(at_end)) context$records[[name]] else at_end
}

# A record of one seat, points[ann]; NULL where nothing is recorded of it, or the name has values of its own.
seat_record_value <- function(context, scope, node) {
  if (!isTRUE(scope$ended) || length(node$args) != 2) return(NULL)
  parts <- vapply(node$args, function(a) if (a$kind == "name") a$name else "", "")
  declared <- context$names[[parts[[1]]]]
  if (!all(nzchar(parts)) || !(is.null(declared) || has_no_value(declared))) return(NULL)
  value <- recorded(context, scope, sprintf("%s[%s]", parts[[1]], parts[[2]]))$node
  if (!is.null(value)) scope$reads_end <- TRUE
  value
}

outcome_is <- function(numbers, at) {
  tests <- lapply(numbers, function(k)
    calculation("==", t_yesno, at, list(typed("outcome", t_whole, at), literal(k, t_whole, at))))
  Reduce(function(a, b) calculation("||", t_yesno, at, list(a, b)), tests)
}

outcome_alone <- function(context, at) {
  report(context, "outcome_alone", at, "`outcome` is compared with the name of an outcome.",
         sprintf("write outcome == %s", c(outcome_words(context), "high")[[1]]))
  broken(at)
}

# outcome == bright, outcome != bright, also of the outcomes of all seats: outcome == wins. NULL for other comparisons.
outcome_comparison <- function(context, scope, node) {
  if (!isTRUE(scope$ended) || !is.null(context$names$outcome) || !node$fn %in% c("==", "!=")) return(NULL)
  about <- vapply(node$args, function(a) identical(a$name, "outcome"), NA)
  if (sum(about) != 1) return(NULL)
  name <- node$args[[which(!about)]]
  scope$reads_end <- TRUE
  numbers <- if (name$kind == "name") outcome_numbers(context, name$name) else integer()
  if (length(numbers) == 0) {
    no_such_outcome(context, name$at, if (name$kind == "name") name$name else "this")
    return(broken(node$at))
  }
  equal <- outcome_is(numbers, node$at)
  if (node$fn == "==") equal else calculation("!", t_yesno, node$at, list(equal))
}

# The pay of each seat; where there is one seat, of that seat.
paid_value <- function(context, scope, at) {
  if (length(context$pays) == 0) {
    report(context, "unknown_name", at, "Nothing is paid in this game.", "declare what is paid, as in pays(winner, 1)")
    return(broken(at))
  }
  if (is.null(context$paid_variable)) {
    type <- if (any(vapply(context$pays, pays_fractions, NA))) t_fraction else t_whole
    all_seats <- axis(seat_type(context), seq_along(context$seats))
    context$paid_variable <- new_variable(context, "pay", t_each(type, list(all_seats)), at, "state",
                                          key = "what is paid")
  }
  paid <- typed("var", context$paid_variable$type, at, var = context$paid_variable)
  if (length(context$seats) > 1 || isTRUE(scope$indexing)) return(paid)
  typed("at_key", paid$type$of, at, var = paid$var, key = literal(1, seat_type(context), at))
}

pays_fractions <- function(line) {
  amounts <- c(line$by_outcome, list(line$always, line$otherwise))
  any(vapply(amounts, function(amount) !is.null(amount) && is_kind(amount$type, "fraction"), NA))
}

# A function needs its brackets, a die its roll: a record may share their names.
has_no_value <- function(d)
  !is.null(d) && d$kind %in% c("function", "table", "die", "signs", "names", "deck", "words", "mode", "player")

no_such_outcome <- function(context, at, name) {
  if ("outcomes" %in% context$unread) return(invisible())
  report(context, "unknown_name", at, sprintf("There is no outcome `%s`.", name),
         or_spelling(did_you_mean(name, outcome_words(context))))
}

# The numbers of the outcomes that a name stands for: its own, or all of a seat's entry.
outcome_numbers <- function(context, name) {
  place <- match(name, context$outcomes$names)
  if (!is.na(place)) return(place)
  for (e in context$outcomes$entries) if (e$name == name) return(match(e$outcomes, context$outcomes$names))
  integer()
}

# The outcome names that may be written: of seats' entries both forms.
outcome_words <- function(context) unique(c(context$outcomes$names, vapply(context$outcomes$entries, `[[`, "", "name")))

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
  inside <- Filter(function(p) !is.null(p$at) && p$at[[1]] > expression_line, diagnostics)
  if (length(inside) == 0) abort_diagnostics(sort_diagnostics(diagnostics), source)
  inside <- lapply(lapply(inside, shift_diagnostic, by = -expression_line), place_as_given, before = before)
  abort_diagnostics(sort_diagnostics(inside), source_of_expression(expression))
}
