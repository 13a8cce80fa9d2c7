# The words about signs, seats and answers: beats, other, who, leader, prefer; and `it`.

value_beats <- function(cx, sc, node, want) about_two_signs(cx, sc, node, function(signs) list(type = t_yesno, values = signs$beats))

# A word about sign a and sign b: a lookup in the table that `table(signs)` gives, list(type, values).
about_two_signs <- function(cx, sc, node, table) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  a <- check_value(cx, sc, args$a)
  b <- check_value(cx, sc, args$b)
  if (is_unknown(a$type) || is_unknown(b$type)) return(broken(node$at))
  signs <- signs_of(cx, a, b)
  if (is.null(signs)) return(broken(node$at))
  found <- table(signs)
  typed("lookup2", found$type, node$at, left = a, right = b, first = min(signs$members), values = found$values, const = a$const && b$const)
}

signs_of <- function(cx, a, b) {
  for (d in cx$names) {
    if (d$kind == "signs" && all(c(a$type$members, b$type$members) %in% d$members) && is_kind(a$type, "label") && is_kind(b$type, "label")) return(d)
  }
  wrong <- if (is_kind(a$type, "label") && set_is_signs(cx, a$type$set)) b else a
  report(cx, "not_a_sign", wrong$at, sprintf("`beats` compares two signs, not %s.", describe_type(wrong$type)), "declare them with signs(...)")
  NULL
}

set_is_signs <- function(cx, set) identical(cx$names[[set]]$kind, "signs")

value_other <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  seat <- value_of(cx, sc, args$seat, seat_type(cx), "What `other` is asked about")
  if (length(cx$seats) != 2) {
    report(cx, "other_of_two", node$at, sprintf("`other` needs exactly two seats, and there are %d.", length(cx$seats)), "use any(seats, ...) or max(...) for several rivals")
    return(broken(node$at))
  }
  calculation("other", seat_type(cx), node$at, list(seat))
}

about_seats <- function(cx, sc, node, op, arg, what, number) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  if (length(cx$seats) == 0) {
    report(cx, "no_seats", node$at, sprintf("`%s` asks about seats, and this game has none.", node$fn), "declare them, as in seats(left, right)")
    return(broken(node$at))
  }
  body <- about_it(cx, sc, args[[arg]], seat_type(cx), node$at, function(inner, n) if (number) number_value(cx, inner, n, what) else condition(cx, inner, n, what))
  if (is_unknown(body$body$type)) return(broken(node$at))
  typed(op, seat_type(cx, none = TRUE), node$at, it = body$it, body = body$body)
}

value_who <- function(cx, sc, node, want) about_seats(cx, sc, node, "who", "condition", "What `who` asks of each seat", FALSE)
value_leader <- function(cx, sc, node, want) about_seats(cx, sc, node, "leader", "expression", "What `leader` compares", TRUE)

# An expression about `it`: list(it, body).
about_it <- function(cx, sc, node, type, at, read) {
  if (isTRUE(sc$inside_word)) report(cx, "it_inside_it", at, "`it` inside `it` would be unclear.", "write a function for the inner part, and call it with `it`")
  it <- new_variable(cx, "it", type, at, "bound")
  outer <- list(it = sc$it, inside = sc$inside_word)  # in pays and reasons `it` is the seat, until a word is about another
  sc$it <- it
  sc$inside_word <- TRUE
  body <- read(sc, node)
  sc$it <- outer$it
  sc$inside_word <- outer$inside
  list(it = it, body = body)
}

value_prefer <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  if (is.null(sc$decision)) {
    report(cx, "word_misplaced", node$at, "`prefer` has no meaning here.", "it stands in a player's rule")
    return(broken(node$at))
  }
  if (length(args$dots) == 0) {
    report(cx, "argument_missing", node$at, "`prefer` needs answers, the best first.", vocabulary_word("prefer")$example)
    return(broken(node$at))
  }
  answers <- lapply(args$dots, preferred_answer, cx = cx, sc = sc)
  typed("prefer", sc$decision$type, node$at, answers = answers)
}

# One of prefer's answers: list(when, node); `if (condition) answer` stands only on its condition.
preferred_answer <- function(cx, sc, node) {
  when <- NULL
  if (node$kind == "call" && node$fn == "if" && length(node$args) == 2) {
    when <- condition(cx, sc, node$args[[1]])
    node <- node$args[[2]]
  }
  list(when = when, node = value_of(cx, sc, node, sc$decision$type, "A preferred answer"))
}

# What is kept about each seat while the turns go round; `use` says that it must be kept.
seat_question <- function(op, type, use) function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  seat <- value_of(cx, sc, args$seat, seat_type(cx), sprintf("Whom `%s` asks about", node$fn))
  if (is_unknown(seat$type)) return(broken(node$at))
  cx$uses[[use]] <- TRUE
  typed(op, type, node$at, seat = seat)
}

value_turn_number <- seat_question("turn_number", t_whole, "turn_number")  # which turn of the seat this is
value_playing <- seat_question("playing", t_yesno, "out")                  # not out yet

# skip_next(), again(), reverse(): what the end of this turn does. out(seat): no more turns for the seat.
turn_change <- function(op) function(cx, sc, node) {
  args <- match_arguments(cx, node)
  if (!may_write(cx, sc, node$at, "The order of turns") || is.null(args)) return(in_order(list(), node$at))
  cx$uses[[op]] <- TRUE
  typed(op, t_nothing, node$at)
}

statement_skip_next <- turn_change("skip_next")
statement_again <- turn_change("again")
statement_reverse <- turn_change("reverse")

statement_out <- function(cx, sc, node) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(in_order(list(), node$at))
  seat <- value_of(cx, sc, args$seat, seat_type(cx), "Who is out")
  if (!may_write(cx, sc, node$at, "Who plays")) return(in_order(list(), node$at))
  cx$uses$out <- TRUE
  typed("out", t_nothing, node$at, seat = seat)
}

# past(seat, decision): the answers of a seat so far in the match
value_past <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  seat <- value_of(cx, sc, args$seat, seat_type(cx), "Whose past answers these are")
  d <- if (args$decision$kind == "name") cx$names[[args$decision$name]]
  if (!identical(d$kind, "decision")) {
    report(cx, "wrong_thing", args$decision$at, "`past` takes the name of a decision.", or_spelling(did_you_mean(label_text(args$decision), names(Filter(function(x) x$kind == "decision", cx$names)))))
    return(broken(node$at))
  }
  if (is_unknown(seat$type) || is_unknown(d$type)) return(broken(node$at))
  if (!is_plain(d$type)) return(wrong_type(cx, typed("lit", d$type, node$at), t_collection("list", t_whole), "What `past` lists"))
  if (is.null(cx$past[[d$name]])) {
    variable <- new_variable(cx, paste("past", d$name), t_each(t_collection("list", d$type), seq_along(cx$seats), seat_type(cx)), node$at, "state")
    cx$past[[d$name]] <- variable
  }
  typed("at_seat", t_collection("list", d$type), node$at, var = cx$past[[d$name]], key = seat)
}
