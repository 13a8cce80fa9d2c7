# The words about signs, seats and answers: beats, other, who, leader, prefer; and `it`.

value_beats <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  a <- value(cx, sc, args$a)
  b <- value(cx, sc, args$b)
  if (is_unknown(a$type) || is_unknown(b$type)) return(broken(node$at))
  signs <- signs_of(cx, a, b)
  if (is.null(signs)) return(broken(node$at))
  typed("lookup2", t_yesno, node$at, left = a, right = b, first = min(signs$members), values = signs$beats,
        const = a$const && b$const)
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
  if (!is.null(sc$it)) report(cx, "it_inside_it", at, "`it` inside `it` would be unclear.", "write a function for the inner part, and call it with `it`")
  it <- new_variable(cx, "it", type, at, "bound")
  outer <- sc$it
  sc$it <- it
  body <- read(sc, node)
  sc$it <- outer
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
  answers <- lapply(args$dots, value_of, cx = cx, sc = sc, type = sc$decision$type, what = "A preferred answer")
  typed("prefer", sc$decision$type, node$at, answers = answers)
}
