# Finds the unit to trace: forced draws as an example gives them, or the first unit in which something holds.

# "tile = c(7, 9), choice = draw" as raw draws and answers by name, and settings.
forced_by <- function(game, given, set, players, mode = NULL) {
  node <- parse_expression(given, "given(", ")")
  context <- context_of(question_of(game))
  example <- check_given(context, list(forced = list(), players = list(), settings = list(), start = list()), node)
  if (length(example$start) > 0)
    abort_input("given_unknown", "A start value of what is remembered cannot be given here.",
                "give draws, answers, or settings")
  blame_expression(context$diagnostics, given, game$source, nchar("given("))
  settings <- example_settings(game, example, resolve_settings(game, set, mode))
  asm <- new_assembler(new_question(game, utils::modifyList(as.list(set), settings), players, mode))
  write_unit(asm)
  write_deferred(asm)
  script <- example_script(asm, example)
  answers <- Map(function(answers, name) answer_pieces(answers, is_collection(game$decisions[[name]]$type)),
                 script$answers, names(game$decisions))
  list(draws = stats::setNames(lapply(script$draws, as.list), script$sources),
       answers = stats::setNames(answers, names(game$decisions)), settings = settings)
}

# Answers one by one; those of several items as their number and the items.
answer_pieces <- function(answers, several) {
  if (!several) return(as.list(answers))
  pieces <- list()
  while (length(answers) > 0) {
    take <- seq_len(answers[[1]] + 1L)
    pieces <- c(pieces, list(answers[take]))
    answers <- answers[-take]
  }
  pieces
}

most_searched <- 4e6
most_witness_states <- 1e6
witness_stopped <- 3L  # as the core numbers the ends of a search

# list(unit) or list(unit, draws): where the outcome comes up, or the condition holds at the end of a round; without
# `where`, the first unit that comes to the position of the question.
find_unit <- function(question, where, first, seed) {
  game <- question$game
  sought <- if (is.null(where)) list(question = question, outcomes = seq_along(game$outcomes$names))
    else sought_in(question, where)
  program <- program_of(sought$question)
  count <- function(from, to) {
    run <- run_sample(game, program, to - from + 1, seed, 1, from)
    if (is.null(sought$record)) return(sum(run$outcomes[sought$outcomes]))
    q <- run$quantities[[quantity_of_record(program, sought$record)]]
    sum(q$weight[q$value != 0])
  }
  from <- first
  size <- 1024
  while (from - first < most_searched) {
    if (count(from, from + size - 1) > 0) return(list(unit = bisect_unit(count, from, from + size - 1)))
    from <- from + size
    size <- min(2 * size, 2^19)
  }
  if (is.null(where)) position_unseen(question$position, from - first)
  rare_unit(program, sought, where, first, from)
}

bisect_unit <- function(count, low, high) {
  while (low < high) {
    middle <- floor((low + high) / 2)
    if (count(low, middle) > 0) high <- middle else low <- middle + 1
  }
  low
}

# A position that no round came to.
position_unseen <- function(position, sampled, how = "", hint = "check the position, or take one that is less rare") {
  abort_input("position_unseen", sprintf("`%s` was not met when `%s` was asked, in %s rounds sampled%s.",
                                         position$text, position$decision, whole_text(sampled), how), hint)
}

# Not seen in millions of units: sought over every branch of chance.
rare_unit <- function(program, sought, where, first, from) {
  quantity <- if (is.null(sought$record)) -1L else quantity_of_record(program, sought$record) - 1L
  witness <- polled(most_witness_states, "states", NULL, function(tick)
    core_witness(loaded(program), most_witness_states, as.integer(sought$outcomes), quantity, 0L, tick))
  if (witness$end == witness_stopped) signal_stop()
  if (witness$end != 0L) {
    abort_input("where_never", sprintf("`%s` did not come up in %s units%s.", where, whole_text(from - first),
                if (witness$end == 1L) ", and no branch of chance leads to it" else ""),
                if (witness$end == 1L) "it can never happen: check the condition, or the rules"
                else "search further from another unit, or ask for something less rare")
  }
  list(unit = first, draws = witness_draws(program, witness))
}

# The draws of a round that was found, in order, by source.
witness_draws <- function(program, witness) {
  lapply(split(witness$value, factor(program$sources[witness$source + 1L], levels = program$sources)), as.list)
}

# An outcome by its name, or a condition as one more thing recorded.
sought_in <- function(question, where) {
  if (!is.character(where) || length(where) != 1 || is.na(where))
    abort_input("argument_wrong", "`where` must be one text.", "write the name of an outcome, or a condition")
  numbers <- outcome_numbers(list(outcomes = question$game$outcomes), trimws(where))
  if (length(numbers) > 0) return(list(question = question, outcomes = numbers))
  sought <- asked_condition(question, where, "What is sought")
  question <- counted_too(question, sought$context)
  name <- "what is sought"
  question$records[[name]] <- added_record(name, sought$node)
  list(question = question, record = name)
}

# The quantity of the program that is a record: pays that no outcome fixes come first, ledgers after the records.
quantity_of_record <- function(program, name)
  sum(vapply(program$pays, function(p) is.null(p$by_outcome), NA)) + match(name, names(program$records))

# The first round of a match or sitting that ends in the outcome, or meets the condition, `where`. For a condition
# `watch(question)` traces the unit again, with the condition recorded in it.
round_found <- function(question, trace, where, watch) {
  if (program_span(question$game) == "round") return(NULL)
  sought <- sought_in(question, where)
  holds <- if (is.null(sought$record)) vapply(trace$results, `[[`, 0, "number") %in% sought$outcomes
    else vapply(watch(sought$question)$results, function(r) r$records[[sought$record]] == "yes", NA)
  if (any(holds)) which(holds)[[1]]
}

# One round of a match or sitting, with what it found there as `lasted`, the text of what is given.
round_of_trace <- function(trace, round) {
  if (trace$unit_kind == "round")
    abort_input("round_none", "This game has no match or sitting, whose rounds are numbered.", "leave the round out")
  if (!is.numeric(round) || length(round) != 1 || is.na(round) || !round %in% seq_len(trace$rounds))
    abort_input("round_none", sprintf("%s %s has %s.", trace$unit_kind, whole_text(trace$unit),
                                      count_text(trace$rounds, "round", "rounds")),
                sprintf("give a number from 1 to %d", trace$rounds))
  ends <- c(0L, which(trace$events$kind == "round"))
  trace$events <- trace$events[seq_len(nrow(trace$events)) > ends[[round]] &
                                 seq_len(nrow(trace$events)) < ends[[round + 1L]], ]
  trace$result <- trace$results[[round]]
  trace[c("outcome", "reason", "pays", "records")] <- trace$result[c("outcome", "reason", "pays", "records")]
  trace["diagnostic"] <- list(NULL)
  trace$round <- as.integer(round)
  if (round > 1) trace$lasted <- trace$lasting[[round - 1L]]
  trace
}

# The state that lasts longer than a round, as an example gives it.
lasting_values <- function(game, program, ints, reals) {
  lasting <- Filter(function(where) where$lasts %in% c("match", "sitting"), program$slot)
  wallets <- vapply(game$money$wallets, function(wallet) wallet$variable$name, "")
  if (length(wallets) == 1) names(lasting)[names(lasting) == wallets] <- "wallet"
  lasting <- lasting[names(lasting) %in% c("wallet", names(game$names))]
  if (length(lasting) == 0) return("")
  argument_text(vapply(lasting, function(where) {
    values <- traced_values(game, program, where, ints, reals)
    values <- if (is_collection(where$type)) vapply(values, listed_given, "") else quoted(values)
    if (is.null(where$axes)) values else sprintf("list(%s)", paste(values, collapse = ", "))
  }, ""))
}

listed_given <- function(text) {
  items <- if (text == "nothing") character() else strsplit(text, ", ", fixed = TRUE)[[1]]
  sprintf("c(%s)", paste(quoted(items), collapse = ", "))
}

#' A traced round as a worked example
#'
#' @param trace A trace: see [trace_round()].
#'   Of a match or sitting found by an outcome, the round that ended in it.
#' @param text What the example shows; by default the round's number and seed.
#' @return The text of an `example(...)` declaration that forces what was drawn and answered and expects what
#'   came out.
#' @export
#' @examples
#' cat(as_example(trace_round("lantern-tiles", unit = 3)), sep = "\n")
as_example <- function(trace,
                             text = sprintf("%s%s %s of seed %s",
                                            if (is.null(trace$round)) "" else sprintf("round %d of ", trace$round),
                                            trace$unit_kind, plain_number(trace$unit), plain_number(trace$seed))) {
  pays <- vapply(trace$pays, format, "")
  pay <- if (length(pays) == 1) pays[[1]]
    else if (length(pays) > 1) sprintf("c(%s)", paste(names(pays), pays, sep = " = ", collapse = ", "))
  is_whole <- trace$unit_kind != "round" && is.null(trace$round)
  expect <- c(outcome = trace$outcome, pay = pay, rounds = if (is_whole) format(trace$rounds))
  if (!is_whole) expect <- c(expect, Filter(is_exact_text, unlist(trace$records[plain_names(names(trace$records))])))
  if (!is.null(trace$diagnostic)) expect <- c(error = trace$diagnostic$id)
  given <- c(settings_given(trace$set), trace$lasted, trace_given(trace))
  c(sprintf("example(\"%s\",", text), sprintf("  given(%s),", paste(given[nzchar(given)], collapse = ", ")),
    sprintf("  expect(%s))", argument_text(expect)))
}

argument_text <- function(x) paste(names(x), x, sep = " = ", collapse = ", ")

settings_given <- function(set) {
  if (length(set) == 0) return("")
  argument_text(vapply(set, function(x) if (is.logical(x)) (if (x) "yes" else "no") else plain_number(x), ""))
}

# A name or number as it stands, everything else in quotes.
quoted <- function(x) ifelse(grepl("^([A-Za-z.][A-Za-z0-9._]*|-?[0-9.]+)$", x), x, sprintf("\"%s\"", x))

# The draws and answers, as an example gives them.
trace_given <- function(trace) {
  e <- trace$events
  listed <- function(kind, by = "name") {
    rows <- e[e$kind == kind, ]
    lapply(split(rows$value, factor(rows[[by]], levels = unique(rows[[by]]))), answer_values)
  }
  argument_text(c(listed("seated", "who"), listed("draw"), listed("answer")))
}

# c(...) of plain answers; list(c(...), ...) of answers of several items.
answer_values <- function(values) {
  several <- grepl(", ", values) | values == "nothing"
  if (!any(several))
    return(if (length(values) == 1) quoted(values) else sprintf("c(%s)", paste(quoted(values), collapse = ", ")))
  each <- vapply(values, function(v) if (v == "nothing") "c()"
    else sprintf("c(%s)", paste(quoted(strsplit(v, ", ", fixed = TRUE)[[1]]), collapse = ", ")), "")
  if (length(each) == 1 && each != "c()") each else sprintf("list(%s)", paste(each, collapse = ", "))
}

# The values that an example can expect: a name, yes or no, or a whole number; not a fraction, which is written rounded.
is_exact_text <- function(text) grepl("^-?[0-9]+$|^[A-Za-z][A-Za-z0-9_.]*$", text)
plain_names <- function(names) grepl("^[A-Za-z.][A-Za-z0-9_.]*$", names)
