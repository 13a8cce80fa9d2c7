# What is asked of the odds besides the rules: quantities to record, a condition that is given, a quantity to
# cross the outcomes with, a position to start counting from. Each is checked like a part of the rules.

with_asked <- function(question, record = NULL, given = NULL, by = NULL, at = NULL) {
  for (text in named_expressions(record)) question <- with_records(question, text)
  if (!is.null(by) && !is_by_outcome(question$game, by)) question <- with_crossing(question, one_text(by[[1]], "by"))
  if (!is.null(given)) {
    asked <- asked_condition(question, one_text(given, "given"), "The condition given")
    question$given <- asked[c("node", "text")]
    question <- counted_too(question, asked$context)
  }
  if (!is.null(at)) question <- with_position(question, one_text(at, "at"))
  question
}

# The question without these records; points[ann] and points[bo] are both `points`.
without_records <- function(question, names) {
  if (is.null(names)) return(question)
  if (!is.character(names) || anyNA(names))
    abort_input("argument_wrong", "`without` has names of records.", "write without = c(\"turns\", \"choices\")")
  records <- question$records
  known <- sub("\\[.*", "", names(records))
  unknown <- setdiff(names, c(known, names(records)))
  if (length(unknown) > 0)
    abort_input("argument_wrong", sprintf("Nothing is recorded as `%s`.", unknown[[1]]),
                or_spelling(did_you_mean(unknown[[1]], unique(known)),
                            sprintf("there is %s", some_of_names(unique(known)))))
  question$records <- records[!known %in% names & !names(records) %in% names]
  question
}

# c(high = "max(score)") or "high = max(score)", each as the second.
named_expressions <- function(record) {
  if (is.null(record)) return(character())
  if (!is.character(record) || anyNA(record))
    abort_input("argument_wrong", "`record` must be texts.", "write record = c(high = \"max(score)\")")
  if (is.null(names(record))) record else ifelse(nzchar(names(record)), paste(names(record), "=", record), record)
}

# `name`: the record's, where it is not in the text.
with_records <- function(question, text, name = NULL) {
  context <- context_of(question)
  before <- paste0("record(", if (!is.null(name)) paste(name, "= "))
  node <- parse_expression(text, before, ")")
  if (!identical(node$fn, "record"))
    abort_input("argument_wrong", sprintf("`%s` is not name = expression.", text),
                "write it as in \"high = max(score)\"")
  check_record(context, node)
  blame_expression(context$diagnostics, text, question$game$source, nchar(before))
  question$records <- context$records
  counted_too(question, context)
}


# The crossed quantity and the outcome in one whole number, taken apart again by crossing_table().
with_crossing <- function(question, text) {
  outcomes_of_game <- question$game$outcomes$names
  context <- context_of(question)
  at <- c(1L, 1L, 1L, 1L)
  v <- check_value(context, ended_scope("what the outcomes are crossed with"), parse_expression(text))
  if (length(context$diagnostics) == 0 && (!is_plain(v$type) || is_real(v$type)))
    wrong_type(context, v, t_whole, "The expression of `by`")
  blame_expression(context$diagnostics, text, question$game$source)
  # As fractions, which are exact up to 2^53, where the product would not be a whole number any more.
  part <- function(node) convert(node, t_fraction)
  outcomes <- part(literal(length(outcomes_of_game), t_whole, at))
  value <- part(if (is_kind(v$type, "whole")) v else typed("as_number", t_whole, at, x = v))
  both <- calculation("+", t_fraction, at,
                      list(calculation("*", t_fraction, at, list(value, outcomes)),
                           part(typed("outcome", t_whole, at))))
  question$crossing <- list(text = text, type = v$type, outcomes = outcomes_of_game)
  question$records[[record_crossed]] <- added_record(record_crossed, both)
  counted_too(question, context)
}

record_crossed <- "what is crossed"

# With the share within the value; of rounds sampled one by one, the standard errors of both.
crossing_table <- function(crossing, counts, naming, sampled) {
  n <- length(crossing$outcomes)
  outcome <- (counts$value - 1) %% n + 1
  value <- (counts$value - outcome) / n
  if (is_named_value(list(type = crossing$type$kind)) || crossing$type$kind == "yesno")
    value <- vapply(value, value_text, "", rules = naming, type = crossing$type)
  of_value <- stats::ave(counts$weight, value, FUN = sum)
  within <- counts$weight / of_value
  table <- data.frame(value = value, outcome = crossing$outcomes[outcome],
                      probability = counts$weight / sum(counts$weight), within = within)
  if (sampled) {
    error <- function(p, n) sqrt(p * (1 - p) / n)
    table$standard_error <- error(table$probability, sum(counts$weight))
    table$within_standard_error <- error(within, of_value)
  }
  table
}

# The decision and the conditions of "guest_hand = c(9, 5)", or with the decision before it: "choice: guest_hand = c(9,
# 5)". list(decision, where, node): `node` has the conditions as its arguments.
read_position <- function(game, text) {
  named <- regmatches(text, regexec("^\\s*([A-Za-z.][A-Za-z0-9._]*)\\s*:(.*)$", text))[[1]]
  decision <- if (length(named) > 0) named[[2]]
  where <- if (is.null(decision)) text else named[[3]]
  if (length(game$decisions) == 0)
    abort_input("position_none", "Nobody decides anything in this game: there is no position to start from.",
                "ask with --given what the odds are where something happened")
  if (!is.null(decision) && is.null(game$decisions[[decision]]))
    abort_input("position_none", sprintf("This game has no decision `%s`.", decision),
                or_spelling(did_you_mean(decision, names(game$decisions))))
  if (is.null(decision) && length(game$decisions) > 1)
    abort_input("position_none",
                sprintf("Which decision is to be made there? This game has %s.", some_of_names(names(game$decisions))),
                sprintf("write it first, as in \"%s: %s\"", names(game$decisions)[[1]], where))
  where <- trimws(gsub("([])])\\s*=(?!=)", "\\1 ==", where, perl = TRUE))  # x[a] = 6 compares, too
  node <- parse_expression(where, "at(", ")")
  for (k in seq_along(node$args)) {
    name <- if (nzchar(node$names[[k]])) node$names[[k]] else if (is_call(node$args[[k]], "=="))
      node$args[[k]]$args[[1]]$name
    if (!is.null(name) && !is.null(game$settings[[name]]))
      abort_input("position_setting", sprintf("`%s` is a setting, not something that comes up in play.", name),
                  sprintf("set it with --set %s=VALUE (set = list(%s = VALUE))", name, name))
  }
  list(decision = if (is.null(decision)) names(game$decisions)[[1]] else decision, where = where, node = node)
}

with_position <- function(question, text) {
  game <- question$game
  asked <- read_position(game, text)
  node <- asked$node
  context <- context_of(question)
  scope <- new_scope("a position")
  read_locals(context, scope, game$decisions[[asked$decision]]$locals, node$at)
  parts <- lapply(seq_along(node$args),
                  function(k)
                    condition(context, scope, if (nzchar(node$names[[k]])) equal_node(node$names[[k]], node$args[[k]])
                      else node$args[[k]], "A position"))
  blame_expression(context$diagnostics, asked$where, game$source, nchar("at("))
  question$position <- list(decision = asked$decision, conditions = parts, text = if (length(parts) > 0) text else "")
  counted_too(question, context)
}
