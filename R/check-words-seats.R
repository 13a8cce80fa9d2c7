# The words about signs, seats and answers: beats, other, who, leader, prefer; and `it`.

value_beats <- function(context, scope, node, want)
  about_two_signs(context, scope, node, function(signs) list(type = t_yesno, values = signs$beats))

# A word about sign a and sign b: a lookup in the table that `table(signs)` gives, list(type, values).
about_two_signs <- function(context, scope, node, table) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  a <- check_value(context, scope, args$a)
  b <- check_value(context, scope, args$b)
  if (is_unknown(a$type) || is_unknown(b$type)) return(broken(node$at))
  signs <- signs_of(context, a, b)
  if (is.null(signs) || length(signs$members) == 0) return(broken(node$at))  # reported where they are declared
  counts <- table(signs)
  typed("lookup2", counts$type, node$at, left = a, right = b, first = min(signs$members), values = counts$values,
        const = a$const && b$const)
}

signs_of <- function(context, a, b) {
  for (d in context$names) {
    if (d$kind == "signs" && all(c(a$type$members, b$type$members) %in% d$members) && is_kind(a$type, "label") &&
        is_kind(b$type, "label")) return(d)
  }
  wrong <- if (is_kind(a$type, "label") && set_is_signs(context, a$type$set)) b else a
  report(context, "not_a_sign", wrong$at, sprintf("`beats` compares two signs, not %s.", describe_type(wrong$type)),
         "declare them with signs(...)")
  NULL
}

set_is_signs <- function(context, set) identical(context$names[[set]]$kind, "signs")

value_other <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  seat <- check_value(context, scope, args$seat)
  may_be_seat <- is_kind(seat$type, "label") && any(seat$type$members %in% table_seats(context))
  if (!may_be_seat)
    seat <- value_of(context, scope, args$seat, table_seat_type(context), "The argument of `other`")
  if (length(table_seats(context)) != 2) {
    report(context, "other_of_two", node$at,
           sprintf("`other` needs exactly two seats, and there are %d.", length(table_seats(context))),
           "use any(seats, ...) or max(...) for several rivals")
    return(broken(node$at))
  }
  if (!all(seat$type$members %in% table_seats(context))) return(other_of_names(context, seat, node$at))
  if (!isTRUE(seat$type$none)) return(calculation("other", table_seat_type(context), node$at, list(seat)))
  typed("neighbour", table_seat_type(context, none = TRUE), node$at, seat = seat, step = 1L, all = TRUE)
}

# For a value that may be a seat or another name: the other names have no opponent.
other_of_names <- function(context, seat, at) {
  span <- seq(0, max(seat$type$members))
  values <- ifelse(span == 1, 2, ifelse(span == 2, 1, 0))
  typed("lookup", table_seat_type(context, none = TRUE), at, x = seat, first = 0, values = values, const = seat$const)
}

about_seats <- function(context, scope, node, op, arg, what, number) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  if (length(context$seats) == 0) {
    report(context, "no_seats", node$at, sprintf("`%s` asks about seats, and this game has none.", node$fn),
           "declare them, as in seats(left, right)")
    return(broken(node$at))
  }
  body <- about_it(context, scope, args[[arg]], table_seat_type(context), node$at,
                   function(inner, n) if (number) number_value(context, inner, n, what)
                     else condition(context, inner, n, what), args$as)
  if (is_unknown(body$body$type)) return(broken(node$at))
  if (!is.null(args$ties)) {
    over <- seats_playing(context, node$at)
    return(best_by_chance(context, scope, node, args$ties, table_seat_type(context), "most", over, body))
  }
  typed(op, table_seat_type(context, none = TRUE), node$at, it = body$it, body = body$body)
}

value_who <- function(context, scope, node, want)
  about_seats(context, scope, node, "who", "condition", "The condition of `who`", FALSE)
value_leader <- function(context, scope, node, want)
  about_seats(context, scope, node, "leader", "expression", "The value that `leader` compares", TRUE)

value_prefer <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  if (is.null(scope$decision)) {
    report(context, "word_misplaced", node$at, "`prefer` has no meaning here.", "use it in a player's rule")
    return(broken(node$at))
  }
  if (length(args$dots) == 0) {
    report(context, "argument_missing", node$at, "`prefer` needs answers, the best first.",
           vocabulary_word("prefer")$example)
    return(broken(node$at))
  }
  answers <- lapply(args$dots, preferred_answer, context = context, scope = scope)
  typed("prefer", scope$decision$type, node$at, answers = answers)
}

# One of prefer's answers: list(when, node); `if (condition) answer` stands only on its condition.
preferred_answer <- function(context, scope, node) {
  when <- NULL
  if (node$kind == "call" && node$fn == "if" && length(node$args) == 2) {
    when <- condition(context, scope, node$args[[1]])
    node <- node$args[[2]]
  }
  list(when = when, node = value_of(context, scope, node, scope$decision$type, "A preferred answer"))
}

# The values kept about each seat between its turns; `use` says that it must be kept.
seat_question <- function(op, type, use) function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  seat <- value_of(context, scope, args$seat, table_seat_type(context), sprintf("Whom `%s` asks about", node$fn))
  if (is_unknown(seat$type)) return(broken(node$at))
  context$uses[[use]] <- TRUE
  typed(op, type, node$at, seat = seat)
}

value_turn_number <- seat_question("turn_number", t_whole, "turn_number")  # which turn of the seat this is
value_playing <- seat_question("playing", t_yesno, "out")                  # not out yet

# skip_next(), again(), reverse(): what the end of this turn does. out(seat): no more turns for the seat.
turn_change <- function(op) function(context, scope, node) {
  args <- match_arguments(context, node)
  if (!may_write(context, scope, node$at, "The order of turns") || is.null(args)) return(in_order(list(), node$at))
  context$uses[[op]] <- TRUE
  typed(op, t_nothing, node$at)
}

statement_skip_next <- turn_change("skip_next")
statement_again <- turn_change("again")
statement_reverse <- turn_change("reverse")

statement_out <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(in_order(list(), node$at))
  seat <- value_of(context, scope, args$seat, table_seat_type(context), "Who is out")
  if (!may_write(context, scope, node$at, "Who plays")) return(in_order(list(), node$at))
  context$uses$out <- TRUE
  typed("out", t_nothing, node$at, seat = seat)
}

# past(seat, decision): the answers of a seat so far in the match
value_past <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  seat <- value_of(context, scope, args$seat, table_seat_type(context), "Whose past answers these are")
  d <- if (args$decision$kind == "name") context$names[[args$decision$name]]
  if (!identical(d$kind, "decision")) {
    report(context, "wrong_thing", args$decision$at, "`past` takes the name of a decision.",
           or_spelling(did_you_mean(label_text(args$decision),
                                    names(Filter(function(x) x$kind == "decision", context$names)))))
    return(broken(node$at))
  }
  if (is_unknown(seat$type) || is_unknown(d$type)) return(broken(node$at))
  if (!is_plain(d$type))
    return(wrong_type(context, typed("lit", d$type, node$at), t_collection("list", t_whole), "An item of `past`"))
  if (is.null(context$past[[d$name]])) {
    variable <- new_variable(context, paste("past", d$name),
                             t_each(t_collection("list", d$type), list(seat_axis(context))),
                             node$at, "state")
    context$past[[d$name]] <- variable
  }
  typed("at_key", t_collection("list", d$type), node$at, var = context$past[[d$name]], key = seat)
}

# --- the order of the seats ---------------------------------------------------------

neighbour <- function(step) function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  seat <- value_of(context, scope, args$seat, table_seat_type(context), sprintf("The argument of `%s`", node$fn))
  if (is_unknown(seat$type)) return(broken(node$at))
  typed("neighbour", table_seat_type(context, isTRUE(seat$type$none)), node$at, seat = seat, step = step)
}

value_next_seat <- neighbour(1L)
value_previous_seat <- neighbour(-1L)

value_place_of <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  seat <- value_of(context, scope, args$seat, table_seat_type(context), "The argument of `place_of`")
  about <- about_it(context, scope, args$expression, table_seat_type(context), node$at,
                    function(inner, n) number_value(context, inner, n, "The value that `place_of` compares"), args$as)
  if (is_unknown(seat$type) || is_unknown(about$body$type)) return(broken(node$at))
  typed("place_of", t_whole, node$at, seat = seat, it = about$it, body = about$body)
}
