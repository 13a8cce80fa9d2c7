# Worked examples: what is forced, what must come out. Claims: what must hold in every round.

check_example <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  text <- text_argument(context, args$text, "The name of an example")
  example <- list(text = if (is.null(text)) ""
    else text, at = node$at, forced = list(), players = list(), settings = list(), start = list(),
                  stop_when_out = FALSE, played = FALSE, whole_unit = FALSE, expect = list())
  expects <- FALSE
  for (part in args$dots) {
    if (part$kind == "call" && part$fn == "given") example <- check_given(context, example, part)
    else if (part$kind == "call" && part$fn == "expect") {
      example <- check_expect(context, example, part)
      expects <- TRUE
    }
    else {
      report(context, "example_form", part$at, "An example is a text, given(...) and expect(...).",
             vocabulary_word("example")$example)
    }
  }
  if (!expects)
    report(context, "example_form", node$at, "This example expects nothing.", vocabulary_word("example")$example)
  context$examples <- c(context$examples, list(example))
}

check_given <- function(context, example, node) {
  args <- match_arguments(context, node)
  example$played <- TRUE
  for (i in seq_along(args$dots)) {
    name <- args$dot_names[[i]]
    part <- args$dots[[i]]
    example <- check_given_part(context, example, name, part, args$dot_at[[i]])
  }
  example
}

# The meaning of a given value depends on its name: each function takes the example and the part, and gives the example.
check_given_part <- function(context, example, name, part, at) {
  if (name == "rest") return(given_rest(context, example, part))
  d <- context$names[[name]]
  wallets <- context$money$wallets
  kind <- if (!is.null(context$picks[[name]])) "pick"
    else if (!is.null(d)) d$kind
    else if (name == "wallet" && length(wallets) == 1) "wallet" else ""
  given <- list(name = name, part = part, d = d, what = sprintf("The value given for `%s`", name),
                scope = new_scope("an example"))
  switch(kind,
    die = given_draws(context, example, given, d$type, d$faces),
    deck = given_draws(context, example, given, d$type, list(how = "card")),
    pick = given_draws(context, example, given, context$picks[[name]]$type, context$picks[[name]]$faces),
    decision = given_answers(context, example, given),
    seat = given_player(context, example, given),
    setting = given_setting(context, example, given),
    state = given_start(context, example, given),
    bet = , pot = given_money(context, example, given, name),
    wallet = given_money(context, example, given, wallets[[1]]$variable$name),
    unread = example,
    given_unknown(context, example, name, at))
}

given_rest <- function(context, example, part) {
  if (!identical(part$name, "stop"))
    report(context, "example_form", part$at, "`rest` can only be `stop`.", "write rest = stop")
  example$stop_when_out <- TRUE
  example
}

given_values <- function(context, given, type)
  lapply(given_list(given$part), value_of, context = context, scope = given$scope, type = type, what = given$what)

given_draws <- function(context, example, given, type, faces) {
  if (is.null(type)) return(example)  # its declaration is broken, and reported
  values <- given_values(context, given, type)
  example$forced[[given$name]] <- list(what = "draws", values = values, faces = faces, at = given$part$at)
  example
}

# Any label may be given, so that an illegal answer can be shown to be refused.
given_answers <- function(context, example, given) {
  type <- given$d$type
  if (is_kind(type, "label")) type <- t_label(type$set, seq_along(context$labels))
  values <- if (is_collection(type)) given_subsets(context, given, type) else given_values(context, given, type)
  example$forced[[given$name]] <- list(what = "answers", values = values, at = given$part$at)
  example
}

# c(2, 2) is one answer of several items; list(c(2, 2), c(2, 2, 5)) are several answers.
given_subsets <- function(context, given, type) {
  answers <- if (is_call(given$part, "list")) given$part$args else list(given$part)
  lapply(answers, function(answer) {
    values <- lapply(given_list(answer), value_of, context = context, scope = given$scope, type = type$of,
                     what = given$what)
    typed("collection_of", type, answer$at, values = values)
  })
}

given_player <- function(context, example, given) {
  wanted <- switch(given$part$kind, name = given$part$name, call = given$part$fn, "")
  player <- context$players[[wanted]]
  if (is.null(player))
    report(context, "unknown_player", given$part$at,
           sprintf("There is no such player for `%s`.", given$name),
           or_spelling(did_you_mean(wanted, names(context$players))))
  else example$players[[given$name]] <- if (given$part$kind == "name") player$name
    else source_text(context$source, given$part$at)
  example
}

given_setting <- function(context, example, given) {
  example$settings[[given$name]] <- value_of(context, given$scope, given$part, given$d$type,
                                             sprintf("The setting `%s`", given$name))
  example
}

given_start <- function(context, example, given) {
  type <- given$d$variable$type
  if (is_unknown(type)) return(example)
  value <- function(node) start_value(context, given, node, if (is_kind(type, "each")) type$of else type)
  example$start[[given$name]] <- if (is_kind(type, "each"))
    typed("places", type, given$part$at, values = given_places(context, given$part, type$axes, value))
    else value(given$part)
  example
}

# The amount on a bet, in a pot or in the wallet when the round begins.
given_money <- function(context, example, given, place) {
  example$start[[place]] <- pieces_value(context, given$scope, given$part, given$what)
  example
}

start_value <- function(context, given, node, type) {
  if (!is_collection(type))
    return(value_of(context, given$scope, node, type, sprintf("The start of `%s`", given$name)))
  parts <- given_list(node)
  items <- list(kind = "call", name = NULL, fn = "c", args = parts, names = rep("", length(parts)), at = node$at)
  collection_start(context, given$scope, items, node, type$of, forced = TRUE)
}

given_unknown <- function(context, example, name, at) {
  known <- names(Filter(function(x) x$kind %in% c("die", "deck", "decision", "seat", "setting", "state"),
                        context$names))
  report(context, "given_unknown", at, if (nzchar(name)) sprintf("An example cannot force `%s`.", name)
    else "A given value needs a name.", or_spelling(did_you_mean(name, c(known, names(context$picks)))))
  example
}

check_expect <- function(context, example, node) {
  args <- match_arguments(context, node)
  if (!is.null(args) && length(args$dots) == 0)
    report(context, "argument_missing", node$at, "An example expects something.", vocabulary_word("expect")$example)
  wanted <- Map(expected_by_name, args$dot_names, args$dots, MoreArgs = list(context = context))
  names <- vapply(wanted, `[[`, "", "name")
  if (any(nzchar(names))) example$played <- TRUE
  if (any(names %in% c("match", "rounds")) && length(context$spans) > 0) example$whole_unit <- TRUE
  for (i in seq_along(args$dots)) {
    part <- wanted[[i]]$part
    items <- if (is_record_of_seats(context, names[[i]])) expect_of_seats(context, names[[i]], part)
      else list(check_expect_part(context, names[[i]], part, args$dot_at[[i]]))
    for (item in items) if (!is.null(item)) example$expect <- c(example$expect, list(c(item, list(at = part$at))))
  }
  example
}

# `turns == 2` and `pay[ann] == 3` are as good as `turns = 2` and `pay = c(ann = 3)`.
expected_by_name <- function(context, name, part) {
  if (nzchar(name) || !is_call(part, "==")) return(list(name = name, part = part))
  about <- part$args[[1]]
  of_seat <- is_call(about, "[") && identical(about$args[[1]]$name, "pay") && length(about$args) == 2
  if (of_seat && !is.null(about$args[[2]]$name))
    return(list(name = "pay", part = call_node("c", list(part$args[[2]]), part$at, about$args[[2]]$name)))
  known <- c("outcome", "pay", "turns", "passes", "asks", "match", "rounds", names(context$records))
  if (!identical(about$kind, "name") || !about$name %in% known || !is.null(context$names[[about$name]]))
    return(list(name = name, part = part))
  list(name = about$name, part = part$args[[2]])
}

# One thing expected, by its name; without one it is a condition. NULL where it is wrong, and reported.
check_expect_part <- function(context, name, part, at) {
  scope <- new_scope("an example")
  recorded <- context$records[[name]]
  in_span <- length(context$spans) > 0
  if (!nzchar(name)) expect_condition(context, scope, part)
  else if (name == "outcome") expect_outcome(context, part)
  else if (name == "error") expect_error_id(context, part)
  else if (name == "pay") expect_pay(context, scope, part, at)
  else if (is.null(recorded) && name %in% c("turns", "passes", "asks")) expect_counted(context, scope, name, part, at)
  else if (name == "rounds" && in_span)
    list(what = "rounds", node = value_of(context, scope, part, t_whole, "The number of rounds"))
  else if (name == "match" && "match" %in% context$spans) expect_winner(context, part)
  else if (!is.null(recorded)) expect_record(context, scope, name, recorded$node, part)
  else if (any(context$names[[name]]$kind == c("state", "decision")))
    expect_condition(context, scope, equal_node(name, part))
  else expect_unknown(context, name, at)
}

expect_condition <- function(context, scope, node)
  list(what = "condition", node = condition(context, scope, node, "The expectation"))

expect_outcome <- function(context, part) {
  word <- label_text(part)
  if (is.null(word)) word <- ""
  numbers <- outcome_numbers(context, word)
  if (length(numbers) > 0) return(list(what = "outcome", numbers = numbers, name = word))
  no_such_outcome(context, part$at, word)
  NULL
}

expect_error_id <- function(context, part) {
  ids <- names(failures)
  id <- if (part$kind == "name") part$name else ""
  if (id %in% ids) return(list(what = "error", id = id))
  near <- did_you_mean(id, ids)
  report(context, "unknown_name", part$at, "This is not the id of an error that stops a round.",
         if (is.null(near)) paste("they are", some_of_names(ids, 30)) else near)
  NULL
}

expect_counted <- function(context, scope, name, part, at) {
  counted <- counted_value(context, scope, if (name == "turns") "turns_played" else name, t_whole, at)
  list(what = "record", name = name, record = counted,
       node = value_of(context, scope, part, t_fraction, sprintf("`%s`", name)))
}

expect_winner <- function(context, part) {
  seat <- match(if (part$kind == "name") part$name else "", c("nobody", context$seats)) - 1L
  if (!is.na(seat)) return(list(what = "match", seat = seat))
  report(context, "unknown_seat", part$at, "Who wins the match is a seat, or nobody.",
         or_spelling(did_you_mean(label_text(part), context$seats)))
  NULL
}

expect_record <- function(context, scope, name, record, part) {
  type <- if (is_kind(record$type, "whole")) t_fraction else record$type
  list(what = "record", name = name, record = record,
       node = value_of(context, scope, part, type, sprintf("The record `%s`", name)))
}

record_of_seat <- function(context, name, seat) context$records[[sprintf("%s[%s]", name, seat)]]
is_record_of_seats <- function(context, name)
  any(sprintf("%s[%s]", name, context$seats) %in% names(context$records))

# points = c(ann = 3, bo = 1)
expect_of_seats <- function(context, name, part) {
  values <- listed(part)
  seats <- if (is_call(part, "c")) part$names else ""
  lapply(seq_along(values), function(k) {
    record <- record_of_seat(context, name, seats[[k]])
    if (!is.null(record)) return(expect_record(context, new_scope("an example"), record$name, record$node, values[[k]]))
    report(context, "unknown_seat", values[[k]]$at,
           sprintf("`%s` is recorded for every seat: say whose this is.", name),
           sprintf("write %s = c(%s = 1)", name, context$seats[[1]]))
    NULL
  })
}

expect_unknown <- function(context, name, at) {
  report(context, "unknown_name", at, sprintf("Nothing called `%s` is recorded.", name),
         or_spelling(did_you_mean(name, c("outcome", "pay", "error", names(context$records)))))
  NULL
}

# pay = 1 with one paid seat, pay = c(left = 1, right = -1) with several.
expect_pay <- function(context, scope, part, at) {
  paid <- paid_seat_ids(context)
  amounts <- listed(part)
  names <- if (part$kind == "call" && part$fn == "c") part$names else ""
  seats <- if (all(names == "") && length(paid) == 1 && length(amounts) == 1) paid else match(names, context$seats)
  if (length(paid) == 0) {
    report(context, "pays_nothing", at, "This game pays nobody.", "write a pays line first")
    return(NULL)
  }
  if (anyNA(seats) || !all(seats %in% paid)) {
    report(context, "unknown_seat", part$at, "Say which seat is paid what.",
           sprintf("write pay = c(%s = 1)", context$seats[[paid[[1]]]]))
    return(NULL)
  }
  list(what = "pay", seats = seats,
       nodes = lapply(amounts, function(a) convert(number_value(context, scope, a, "A pay"), t_fraction)))
}

# Claims: always(...) and never(...), what must hold in every round.

check_claim <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  text <- text_argument(context, args$text, "The claim")
  scope <- ended_scope("a claim")
  holds <- condition(context, scope, args$condition, "The claim")
  when <- if (is.null(args$when) && isTRUE(scope$reads_end)) "end" else claim_times(context, args$when)
  if (isTRUE(scope$reads_end) && !"end" %in% when)
    report(context, "claim_when", args$when$at, "What a round ends with is known at its end alone.", "write when = end")
  if (node$fn == "never") holds <- calculation("!", t_yesno, holds$at, list(holds))
  context$claims <- c(context$claims,
                      list(list(text = sprintf("%s: %s", node$fn, if (is.null(text)) "" else text), holds = holds,
                                when = when, at = node$at)))
}

claim_times <- function(context, node) {
  times <- c("ask", "turn", "end")
  if (is.null(node)) return(times)
  name <- label_text(node)
  if (!is.null(name) && name %in% times) return(name)
  report(context, "claim_when", node$at, "`when` is ask, turn or end.",
         "leave `when` out for all three")
  times
}
