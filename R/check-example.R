# Worked examples: what is forced, what must come out.

check_example <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  text <- text_argument(context, args$text, "What an example shows")
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

check_given_part <- function(context, example, name, part, at) {
  if (name == "rest") {
    if (!identical(part$name, "stop"))
      report(context, "example_form", part$at, "`rest` can only be `stop`.", "write rest = stop")
    example$stop_when_out <- TRUE
    return(example)
  }
  d <- context$names[[name]]
  kind <- if (!is.null(context$picks[[name]])) "pick" else if (is.null(d)) "" else d$kind
  scope <- new_scope("an example")
  several <- function(type)
    lapply(listed(part), value_of, context = context, scope = scope, type = type,
           what = sprintf("What is given for `%s`", name))
  if (kind %in% c("die", "pick", "deck")) {
    faces <- switch(kind, die = d$faces, pick = context$picks[[name]]$faces, list(how = "card"))
    type <- if (kind == "pick") context$picks[[name]]$type else d$type
    if (is.null(type)) return(example)  # its declaration is broken, and reported
    example$forced[[name]] <- list(what = "draws", values = several(type), faces = faces, at = part$at)
  } else if (kind == "decision") {
    # Any label may be given, so that an illegal answer can be shown to be refused.
    type <- if (is_kind(d$type, "label")) t_label(d$type$set, seq_along(context$labels)) else d$type
    values <- if (is_collection(type)) given_subsets(context, scope, part, type, name) else several(type)
    example$forced[[name]] <- list(what = "answers", values = values, at = part$at)
  } else if (kind == "seat") {
    player <- if (part$kind == "name") context$players[[part$name]]
    if (is.null(player))
      report(context, "unknown_player", part$at, sprintf("`%s` is given a player that there is not.", name),
             or_spelling(did_you_mean(if (part$kind == "name") part$name else "", names(context$players))))
    else example$players[[name]] <- player$name
  } else if (kind == "setting") {
    example$settings[[name]] <- value_of(context, scope, part, d$type, sprintf("The setting `%s`", name))
  } else if (kind == "state" && is_collection(d$variable$type)) {
    example$start[[name]] <- collection_start(context, scope,
      list(kind = "call", name = NULL, fn = "c", args = listed(part), names = rep("", length(listed(part))),
           at = part$at), part, d$variable$type$of, forced = TRUE)
  } else if (kind == "state" && is_plain(d$variable$type)) {
    example$start[[name]] <- value_of(context, scope, part, d$variable$type, sprintf("The start of `%s`", name))
  } else if (kind != "unread") {
    known <- names(Filter(function(x) x$kind %in% c("die", "deck", "decision", "seat", "setting", "state"),
                          context$names))
    report(context, "given_unknown", at, if (nzchar(name)) sprintf("`%s` is nothing that an example can force.", name)
      else "What is given needs a name.",
           or_spelling(did_you_mean(name, c(known, names(context$picks)))))
  }
  example
}

# c(2, 2) is one answer of several items; list(c(2, 2), c(2, 2, 5)) are several answers.
given_subsets <- function(context, scope, part, type, name) {
  answers <- if (part$kind == "call" && part$fn == "list") part$args else list(part)
  lapply(answers, function(answer) {
    values <- lapply(listed(answer), value_of, context = context, scope = scope, type = type$of,
                     what = sprintf("What is given for `%s`", name))
    typed("collection_of", type, answer$at, values = values)
  })
}

check_expect <- function(context, example, node) {
  args <- match_arguments(context, node)
  if (!is.null(args) && length(args$dots) == 0)
    report(context, "argument_missing", node$at, "An example expects something.", vocabulary_word("expect")$example)
  if (any(nzchar(args$dot_names))) example$played <- TRUE
  if (any(args$dot_names %in% c("match", "rounds")) && length(context$spans) > 0) example$whole_unit <- TRUE
  for (i in seq_along(args$dots)) {
    item <- check_expect_part(context, args$dot_names[[i]], args$dots[[i]], args$dot_at[[i]])
    if (!is.null(item)) example$expect <- c(example$expect, list(c(item, list(at = args$dots[[i]]$at))))
  }
  example
}

check_expect_part <- function(context, name, part, at) {
  scope <- new_scope("an example")
  if (!nzchar(name)) return(list(what = "condition", node = condition(context, scope, part, "What is expected")))
  if (name == "outcome") {
    word <- if (part$kind == "name") part$name else if (part$kind == "text") part$value else ""
    numbers <- outcome_numbers(context, word)
    if (length(numbers) == 0) {
      no_such_outcome(context, part$at, word)
      return(NULL)
    }
    return(list(what = "outcome", numbers = numbers, name = word))
  }
  if (name == "error") {
    ids <- names(failures)
    if (part$kind != "name" || !part$name %in% ids) {
      report(context, "unknown_name", part$at, "This is not the id of an error that stops a round.",
             or_spelling(did_you_mean(if (part$kind == "name") part$name else "", ids)))
      return(NULL)
    }
    return(list(what = "error", id = part$name))
  }
  if (name == "pay") return(check_expected_pay(context, scope, part, at))
  if (is.null(context$records[[name]]) && name %in% c("turns", "passes", "asks")) {
    counted <- counted_value(context, scope, if (name == "turns") "turns_played" else name, at)
    return(list(what = "record", name = name, record = counted,
                node = value_of(context, scope, part, t_fraction, sprintf("`%s`", name))))
  }
  if (name == "rounds" && length(context$spans) > 0)
    return(list(what = "rounds", node = value_of(context, scope, part, t_whole, "The number of rounds")))
  if (name == "match" && "match" %in% context$spans) {
    seat <- match(if (part$kind == "name") part$name else "", c("nobody", context$seats)) - 1L
    if (!is.na(seat)) return(list(what = "match", seat = seat))
    report(context, "unknown_seat", part$at, "Who wins the match is a seat, or nobody.",
           or_spelling(did_you_mean(label_text(part), context$seats)))
    return(NULL)
  }
  record <- context$records[[name]]
  d <- context$names[[name]]
  if (is.null(record) && !is.null(d) && d$kind %in% c("state", "decision")) {
    return(list(what = "condition", node = condition(context, scope, equal_node(name, part), "What is expected")))
  }
  if (is.null(record)) {
    report(context, "unknown_name", at, sprintf("Nothing called `%s` is recorded.", name),
           or_spelling(did_you_mean(name, c("outcome", "pay", "error", names(context$records)))))
    return(NULL)
  }
  type <- if (is_kind(record$node$type, "whole")) t_fraction else record$node$type
  list(what = "record", name = name, record = record$node,
       node = value_of(context, scope, part, type, sprintf("The record `%s`", name)))
}

# pay = 1 with one paid seat, pay = c(left = 1, right = -1) with several.
check_expected_pay <- function(context, scope, part, at) {
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
