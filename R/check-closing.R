# The parts after play: outcomes, pays, stakes, records, words of the rule card.

check_outcomes <- function(context, node) {
  args <- match_arguments(context, node)
  n <- length(args$dots)
  scope <- new_scope("outcomes")
  if (n == 1 && !nzchar(args$dot_names[[1]])) return(outcomes_of_label(context, scope, args$dots[[1]]))
  entries <- list()
  for (i in seq_len(n)) {
    name <- args$dot_names[[i]]
    part <- args$dots[[i]]
    if (!nzchar(name)) {
      report(context, "outcome_unnamed", part$at, "An outcome needs a name.",
             "write outcomes(high = face > 4, low = otherwise)")
      next
    }
    if (name %in% vapply(entries, `[[`, "", "name"))
      report(context, "outcome_twice", args$dot_at[[i]], sprintf("The outcome `%s` is listed twice.", name),
             "join the two conditions with ||")
    if (identical(part$name, "otherwise")) {
      if (i < n)
        report(context, "outcome_order", args$dot_at[[i]], "After `otherwise` no other outcome can be reached.",
               "put it last")
      entries <- c(entries,
                   list(list(name = name, how = if (name == "impossible") "impossible" else "otherwise", at = part$at)))
      next
    }
    if (is_call(part, "if") && length(part$args) == 2) part <- with_nobody(part)
    v <- check_value(context, scope, part, t_yesno)
    how <- if (is_kind(v$type, "label") && all(v$type$members %in% table_seats(context))) "seat" else "condition"
    if (is_unknown(v$type)) context$unread <- union(context$unread, "outcomes")  # it may be one for each seat
    if (how == "condition" && !is_kind(v$type, "yesno", "unknown"))
      v <- wrong_type(context, v, t_yesno, "The condition of an outcome")
    entries <- c(entries, list(list(name = name, how = how, node = v, at = part$at)))
  }
  read <- !any(vapply(entries, function(e) !is.null(e$node) && is_unknown(e$node$type), NA))
  if ((n == 0 || !entries_complete(entries)) && read) {
    report(context, "outcome_none", node$at, "These outcomes do not cover every round.",
           if (n > 0 && nzchar(args$dot_names[[n]]))
             sprintf("write the last one as `%s = otherwise`, or add `impossible = otherwise`", args$dot_names[[n]])
           else "end the list with `name = otherwise`, or `impossible = otherwise`")
  }
  context$outcomes <- number_outcomes(context, entries)
}

# wins = if (condition) seat: else nobody wins.
with_nobody <- function(node) {
  node$args <- c(node$args, list(list(kind = "name", name = "nobody", at = node$at)))
  node$names <- c(node$names, "")
  node
}

# outcomes(kind_of(hand)): one outcome for each label that the expression can give.
outcomes_of_label <- function(context, scope, node) {
  v <- check_value(context, scope, node)
  context$outcomes <- list(entries = list(), names = character())
  if (is_unknown(v$type)) {
    context$unread <- union(context$unread, "outcomes")
    return(invisible())
  }
  if (!is_kind(v$type, "label") || length(v$type$members) == 0) {
    return(report(context, "outcome_unnamed", node$at,
                  "An outcome needs a name, or one expression gives a label for each.",
                  "write outcomes(high = face > 4, low = otherwise), or outcomes(kind_of(hand))"))
  }
  ids <- v$type$members
  if (v$type$none)
    report(context, "outcome_none", node$at, "This may give none, and then the round would end in no outcome.",
           "give a label in every case")
  names <- context$labels[ids]
  context$outcomes <- list(entries = list(list(name = "", how = "label", node = v, ids = ids, at = node$at, first = 1L,
    outcomes = names)), names = names)
}

entries_complete <- function(entries) any(vapply(entries, function(e) e$how %in% c("otherwise", "impossible"), NA))

# Gives each entry the number of its first outcome; a seat's entry has one for each seat.
number_outcomes <- function(context, entries) {
  names <- character()
  for (i in seq_along(entries)) {
    e <- entries[[i]]
    entries[[i]]$first <- length(names) + 1L
    entries[[i]]$outcomes <- switch(e$how, seat = paste(context$seats[table_seats(context)], e$name, sep = "_"),
                                    impossible = character(),
                                    e$name)
    names <- c(names, entries[[i]]$outcomes)
  }
  list(entries = entries, names = names)
}

# --- pays -------------------------------------------------------------------

check_pays <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  who <- paid_seats(context, args$who)
  if (is.null(who)) return(invisible())
  scope <- new_scope("pays")
  scope$it <- new_variable(context, "it", seat_type(context), node$at, "bound")
  line <- list(who = who, it = scope$it, by_outcome = list(), otherwise = NULL, always = NULL, at = node$at)
  for (i in seq_along(args$dots)) {
    amount <- number_value(context, scope, args$dots[[i]], "What is paid")
    name <- args$dot_names[[i]]
    if (!nzchar(name)) line$always <- amount
    else if (name == "otherwise") line$otherwise <- amount
    else {
      numbers <- outcome_numbers(context, name)
      if (length(numbers) == 0) no_such_outcome(context, args$dot_at[[i]], name)
      for (k in numbers) line$by_outcome[[context$outcomes$names[[k]]]] <- amount
    }
  }
  check_pays_cover(context, node, line, args)
  context$pays <- c(context$pays, list(line))
}

check_pays_cover <- function(context, node, line, args) {
  if (!is.null(line$always)) {
    if (length(args$dots) > 1)
      report(context, "pays_form", node$at, "A line of pays has one amount for all outcomes, or one for each.",
             "write two pays lines; they add up")
    return(invisible())
  }
  if (length(args$dots) == 0)
    report(context, "argument_missing", node$at, "`pays` needs an amount.", vocabulary_word("pays")$example)
  open <- setdiff(context$outcomes$names, names(line$by_outcome))
  if (is.null(line$otherwise) && length(open) > 0 && length(args$dots) > 0) {
    report(context, "pays_gap", node$at, sprintf("`pays` says nothing of %s.", some_of_names(open)),
           sprintf("add `%s = 0`, or otherwise = 0", open[[1]]))
  }
}

# list(how = "seat", seat) or how = "winner", "others", "everyone"
paid_seats <- function(context, node) {
  if (node$kind == "name" && node$name %in% c("winner", "others", "everyone")) return(list(how = node$name))
  seat <- if (node$kind == "name") match(node$name, context$seats) else NA
  if (!is.na(seat)) return(list(how = "seat", seat = seat))
  report(context, "unknown_seat", node$at, "This must be a seat, or winner, others, everyone.",
         or_spelling(if (node$kind == "name")
           did_you_mean(node$name, c(context$seats, "winner", "others", "everyone"))))
  NULL
}

check_stakes <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  who <- paid_seats(context, args$who)
  amount <- number_value(context, new_scope("stakes"), args$amount, "A stake")
  if (!amount$const)
    report(context, "not_constant", args$amount$at, "A stake must be a number or a setting.",
           "write a number, or a setting's name")
  if (is.null(who) || !who$how %in% c("seat", "everyone")) return(invisible())
  context$stakes <- c(context$stakes, list(list(who = who, amount = amount, at = args$amount$at)))
}

# --- records ----------------------------------------------------------------

check_record <- function(context, node) {
  args <- match_arguments(context, node)
  scope <- ended_scope("record")
  scope$span <- if (is.null(args$at)) "round" else recorded_span(context, args$at)
  for (i in seq_along(args$dots)) {
    name <- args$dot_names[[i]]
    if (!nzchar(name)) {
      report(context, "name_wanted", args$dots[[i]]$at, "A record needs a name.", "write record(tiles = taken)")
      next
    }
    if (word_is(name, "constant"))
      report(context, "name_taken", args$dot_at[[i]],
             sprintf("`%s` is a word of the language: no record can be read by it.", name), "choose another name")
    if (!is.null(context$records[[name]]) || !is.null(context$unit_records[[name]]))
      report(context, "name_twice", args$dot_at[[i]], sprintf("`%s` is recorded twice.", name), "choose another name")
    if (is_about_seats(args$dots[[i]])) record_of_seats(context, scope, name, args$dots[[i]])
    else record_one(context, scope, name, args$dots[[i]])
  }
}

record_one <- function(context, scope, name, node, seat = NULL) {
  v <- check_value(context, scope, node)
  if (!is_plain(v$type)) v <- wrong_type(context, v, t_whole, "A record")
  if (scope$span == "round") context$records[[name]] <- list(name = name, node = v, at = node$at, seat = seat)
  else record_of_unit(context, scope, name, v, seat)
}

# record(final = score[it], at = sitting): once, when the sitting or match has ended.
recorded_span <- function(context, node) {
  known <- c("round", utils::tail(context$spans, 1))
  if (identical(node$kind, "name") && node$name %in% known) return(node$name)
  report(context, "record_span", node$at, sprintf("`at` says when it is recorded: %s here.", some_of_names(known)),
         if (length(context$spans) == 0) "leave it out, or declare how long one sits, as in sitting(rounds = 30)"
         else "leave it out for what is recorded in every round; a record of your own needs another name")
  "round"
}

record_of_unit <- function(context, scope, name, v, seat = NULL) {
  if (!is_number(v$type) && !is_kind(v$type, "yesno", "unknown"))
    v <- wrong_type(context, v, t_whole, sprintf("The record of a %s", scope$span))
  fleeting <- Filter(function(part) part$lasts %in% c("round", "turn"), context$state)
  answers <- Filter(function(d) d$kind == "decision", context$names)
  gone <- c(lapply(fleeting, `[[`, "variable"), lapply(answers, `[[`, "variable"))
  read <- Filter(function(variable) variable$id %in% variables_in(v, c("var", "at_key")), gone)
  if (length(read) > 0)
    report(context, "record_span", v$at, sprintf("`%s` does not last the %s.", read[[1]]$name, scope$span),
           sprintf("remember what matters in a state of its own: state(total = 0, lasts = %s)", scope$span))
  context$unit_records[[name]] <- list(name = name, node = v, at = v$at, seat = seat)
}

# record(points = score[it]) is a record for every seat that is taken: points[ann], points[bo].
record_of_seats <- function(context, scope, name, node) {
  if (length(context$seats) == 0) return(record_one(context, scope, name, node))
  outer <- scope$it
  for (seat in table_seats(context)) {
    scope$it <- list(node = literal(seat, seat_type(context), node$at), name = "it", where = "alias")
    before <- length(context$diagnostics)
    record_one(context, scope, sprintf("%s[%s]", name, context$seats[[seat]]), node, seat)
    if (length(context$diagnostics) > before) break  # the others would be reported in the same words
  }
  scope$it <- outer
}

# Does the expression use an `it` that no word in it is about?
is_about_seats <- function(node) {
  if (node$kind == "name") return(node$name == "it")
  if (node$kind != "call") return(FALSE)
  word <- vocabulary_word(node$fn)
  without_as <- "as" %in% word$args && !"as" %in% node$names
  args <- if (!without_as) node$args[!node$names %in% "as"]
    else if (word$args[[1]] %in% c("of", "seat", "...")) node$args[1]
  any(vapply(Filter(Negate(is.null), args), is_about_seats, NA))  # a word without what it is about has no first
}

# --- reasons ------------------------------------------------------------------

# because(wins = "{throw[it]} beats {throw[other(it)]}"): `it` is the seat of the outcome.
check_because <- function(context, node) {
  args <- match_arguments(context, node)
  for (i in seq_along(args$dots)) {
    numbers <- outcome_numbers(context, args$dot_names[[i]])
    text <- text_argument(context, args$dots[[i]], "A reason")
    if (length(numbers) == 0) no_such_outcome(context, args$dot_at[[i]], args$dot_names[[i]])
    if (is.null(text) || length(numbers) == 0) next
    for (k in numbers) {
      scope <- new_scope("a reason")
      seat <- outcome_winner(list(outcomes = context$outcomes), k)
      if (seat > 0) scope$it <- list(node = literal(seat, seat_type(context), node$at), name = "it", where = "alias")
      context$because[[context$outcomes$names[[k]]]] <- text_parts(context, scope, args$dots[[i]])
    }
  }
}

# --- matches and sittings -------------------------------------------------------

# A number or a setting, or NULL where it is not given.
span_number <- function(context, node, what) {
  if (is.null(node)) return(NULL)
  v <- value_of(context, new_scope("a match"), node, t_whole, what)
  if (!v$const)
    report(context, "not_constant", node$at, sprintf("%s is a number or a setting.", what),
           "write a number, or a setting's name")
  v
}

# match(first_to = 3, counts = wins), match(best_of = 5, counts = wins), match(rounds = 10), match(until = lost)
check_match <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  number <- function(arg) span_number(context, args[[arg]], sprintf("`%s`", arg))
  span <- list(at = node$at, first_to = number("first_to"), best_of = number("best_of"), rounds = number("rounds"),
               until = span_until(context, args$until))
  span$modes <- climbed_modes(context, args$modes)
  if (!is.null(span$modes)) for (arg in c("first_to", "best_of", "rounds")) if (!is.null(args[[arg]]))
    report(context, "match_climb", args[[arg]]$at, "A climb has one round in each mode.",
           sprintf("leave out `%s`; `until` may end it earlier", arg))
  span$counts <- counted_family(context, node, args$counts, !is.null(span$first_to) || !is.null(span$best_of))
  if (is.null(span$first_to) && is.null(span$best_of) && is.null(span$rounds) && is.null(span$until) &&
      is.null(span$modes))
        report(context, "match_endless", node$at, "This match never ends.", vocabulary_word("match")$example)
  context$match <- span
}

# modes = c(easy, middle, hard): the names of the modes climbed through, in order.
climbed_modes <- function(context, node) {
  if (is.null(node)) return(NULL)
  names <- vapply(listed(node), function(n) if (n$kind == "name") n$name else "", "")
  for (i in which(!names %in% names(context$modes)))
    report(context, "mode_unknown", listed(node)[[i]]$at,
           if (nzchar(names[[i]])) sprintf("This game has no mode `%s`.", names[[i]])
           else "A mode is expected here.", or_spelling(did_you_mean(names[[i]], names(context$modes))))
  names[names %in% names(context$modes)]
}

check_sitting <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  number <- function(arg) span_number(context, args[[arg]], sprintf("`%s`", arg))
  sitting <- list(at = node$at, rounds = number("rounds"), matches = number("matches"),
                  until = span_until(context, args$until))
  if (!is.null(sitting$matches) && !"match" %in% context$spans)
    report(context, "match_none", args$matches$at, "This game has no matches.",
           "declare match(...) as well, or say how many rounds")
  if (is.null(sitting$rounds) && is.null(sitting$matches) && is.null(sitting$until))
    report(context, "match_endless", node$at, "This sitting never ends.", vocabulary_word("sitting")$example)
  context$sitting <- sitting
}

# The outcome, or the condition, after which no more rounds are played.
span_until <- function(context, node) {
  if (is.null(node)) return(NULL)
  numbers <- if (node$kind == "name") outcome_numbers(context, node$name) else integer()
  if (length(numbers) > 0) return(list(outcomes = numbers))
  list(condition = condition(context, new_scope("the end of a match"), node, "The end of a match"))
}

# The counted outcomes of each seat, by number, or NULL.
counted_family <- function(context, node, counts, needed) {
  if (is.null(counts)) {
    if (needed)
      report(context, "match_counts", node$at, "Which outcomes count towards the match?",
             "name the outcomes of the seats, as in counts = wins")
    return(NULL)
  }
  for (e in context$outcomes$entries) if (identical(e$name, counts$name) && e$how == "seat")
    return(match(e$outcomes, context$outcomes$names))
  report(context, "match_counts", counts$at, "`counts` must be an outcome that names a seat.",
         "write outcomes(wins = who(...), ...) and counts = wins")
  NULL
}

paid_seat_ids <- function(context) {
  seats <- integer()
  for (line in context$pays)
    seats <- union(seats, if (line$who$how == "seat") line$who$seat else table_seats(context))
  sort(seats)
}

# The seat that an outcome names, or 0.
outcome_winner <- function(rules, number) {
  for (e in rules$outcomes$entries) {
    k <- match(rules$outcomes$names[[number]], e$outcomes)
    if (!is.na(k)) return(if (e$how == "seat") k else 0L)
  }
}

# in_words(is_bust = "{total} is past {aim}"): how a game speaks of what its rules name.

check_in_words <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  for (i in seq_along(args$dots)) {
    name <- args$dot_names[[i]]
    text <- text_argument(context, args$dots[[i]], "The words for a name")
    if (is.null(text)) next
    known <- c(names(context$names), context$seats, context$outcomes$names, entry_names(context$outcomes),
               names(context$records), context$labels, names(context$play_locals))
    if (!name %in% known) {
      report(context, "unknown_name", args$dot_at[[i]],
             if (nzchar(name)) sprintf("`%s` is not a name this game knows.", name)
             else "Words need the name they are for.",
             or_spelling(did_you_mean(name, known), "write in_words(bright = \"exactly the aim\")"))
      next
    }
    context$in_words[[name]] <- list(text = text, at = args$dots[[i]]$at)
  }
}

entry_names <- function(outcomes) vapply(outcomes$entries, `[[`, "", "name")
