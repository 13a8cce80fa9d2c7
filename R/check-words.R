# The words that give a value: one function a word, named value_<word>.

value_roll <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  die <- declared_thing(cx, args$die, "die")
  if (is.null(die) || !may_draw(cx, sc, node)) return(broken(node$at))
  if (!is.null(sc$chooser)) {
    report(cx, "draw_here", node$at, "A player's rule has no dice of its own.", "use pick(...) or chance(p): a player's own chance")
    return(broken(node$at))
  }
  draw_from(die$faces, die$type, node$at, die$name)
}

# A draw from faces: a range, or values with or without weights.
draw_from <- function(faces, type, at, source) typed("draw", type, at, faces = faces, source = source)

declared_thing <- function(cx, node, kind) {
  if (node$kind == "name") {
    d <- cx$names[[node$name]]
    if (!is.null(d) && d$kind == kind) return(d)
    if (identical(d$kind, "unread")) return(NULL)
    if (is.null(d)) {
      known <- names(Filter(function(x) x$kind == kind, cx$names))
      report(cx, "unknown_name", node$at, sprintf("`%s` is not a name this game knows.", node$name), did_you_mean(node$name, known))
      return(NULL)
    }
  }
  report(cx, "wrong_thing", node$at, sprintf("This must be the name of %s.", kind_in_words(kind)), NULL)
  NULL
}

may_draw <- function(cx, sc, node) {
  if (sc$may_draw) return(TRUE)
  report(cx, "chance_here", node$at, sprintf("Chance has no place in %s.", sc$what), "draw it in play, and remember it")
  FALSE
}

# The stream that a pick draws from: a player's own, or the name that the answer is given in play.
pick_source <- function(cx, sc, node) {
  if (!may_draw(cx, sc, node)) return(NULL)
  if (!is.null(sc$chooser)) return("")
  if (is.null(sc$assigning)) {
    report(cx, "pick_unnamed", node$at, sprintf("The answer of `%s` needs a name here, so that an example can force it.", node$fn), sprintf("write `lamp <- %s(...)` on a line of its own", node$fn))
    return(NULL)
  }
  sc$assigning
}

value_pick <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  source <- pick_source(cx, sc, node)
  if (is.null(source)) return(broken(node$at))
  dots <- args$dots
  if (length(dots) == 1 && identical(dots[[1]]$name, "choices") && !is.null(sc$decision)) {
    return(typed("pick_choices", sc$decision$type, node$at, source = source))
  }
  got <- faces_of(cx, sc, node, dots, args$dot_names, "pick")
  if (is.null(got)) return(broken(node$at))
  if (nzchar(source)) register_pick(cx, source, got, node$at)
  draw_from(got$faces, got$type, node$at, source)
}

value_chance <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  p <- number_value(cx, sc, args$p, "A probability")
  source <- pick_source(cx, sc, node)
  if (is.null(source) || is_unknown(p$type)) return(broken(node$at))
  if (nzchar(source)) register_pick(cx, source, list(faces = list(how = "chance"), type = t_yesno), node$at)
  typed("chance", t_yesno, node$at, p = convert(p, t_fraction), source = source)
}

register_pick <- function(cx, source, got, at) {
  before <- cx$picks[[source]]
  if (is.null(before)) cx$picks[[source]] <- list(name = source, faces = got$faces, type = got$type, at = at)
  else if (!identical(before$at, at) && !identical(before$faces$how, got$faces$how)) {
    report(cx, "pick_twice", at, sprintf("`%s` is picked in another way in line %d.", source, before$at[[1]]), "give one of them another name")
  }
}

# What a die or a pick can show: list(faces, type), faces being
#   how = "range", low, high                   whole numbers, both ends included
#   how = "values", values, weights (or NULL)  typed constants
faces_of <- function(cx, sc, node, dots, names, what) {
  if (length(dots) == 0) {
    report(cx, "argument_missing", node$at, sprintf("`%s` needs something to choose from.", what), sprintf("write it like this: %s", vocabulary_word(what)$example))
    return(NULL)
  }
  if (any(nzchar(names))) return(weighted_faces(cx, sc, node, dots, names, what))
  if (length(dots) == 1 && dots[[1]]$kind == "call" && dots[[1]]$fn == "c") dots <- dots[[1]]$args
  if (length(dots) == 1) {
    if (dots[[1]]$kind == "name") {
      d <- cx$names[[dots[[1]]$name]]
      if (!is.null(d$members)) {
        values <- lapply(d$members, label_value, cx = cx, at = dots[[1]]$at)
        return(list(faces = list(how = "values", values = values, weights = NULL), type = t_label(d$name, d$members)))
      }
      if (dots[[1]]$name == "seats") {
        values <- lapply(seq_along(cx$seats), label_value, cx = cx, at = dots[[1]]$at)
        return(list(faces = list(how = "values", values = values, weights = NULL), type = seat_type(cx)))
      }
    }
    v <- face_value(cx, sc, dots[[1]], what)
    if (v$type$kind == "range") return(list(faces = list(how = "range", low = v$low, high = v$high), type = t_whole))
    values <- list(v)
  } else values <- lapply(dots, face_value, cx = cx, sc = sc, what = what)
  type <- Reduce(function(a, b) if (is.null(a)) NULL else join_types(a, b), lapply(values, `[[`, "type"))
  if (all(vapply(values, function(v) is_kind(v$type, "label"), NA))) {
    members <- unlist(lapply(values, function(v) v$type$members))
    type <- t_label(values[[1]]$type$set, sort(unique(members)))
  }
  if (is.null(type) || !(is_kind(type, "whole", "label", "yesno") || is_unknown(type))) {
    report(cx, "faces_mixed", node$at, sprintf("What `%s` chooses from must be whole numbers, or labels, all of one kind.", what), NULL)
    return(NULL)
  }
  if (!all(vapply(values, `[[`, NA, "const"))) {
    report(cx, "not_constant", node$at, sprintf("The values in this `%s` must be numbers, settings or labels.", what), NULL)
    return(NULL)
  }
  list(faces = list(how = "values", values = values, weights = NULL), type = type)
}

# On a die a bare name that nothing else bears is a face of its own.
face_value <- function(cx, sc, node, what) {
  if (what == "die" && node$kind == "name" && is.null(cx$names[[node$name]]) && is.null(vocabulary_word(node$name))) {
    return(label_value(cx, intern_label(cx, node$name, node$at), node$at))
  }
  if (what == "die" && node$kind == "text") {
    id <- intern_label(cx, node$value, node$at)
    return(if (is.na(id)) broken(node$at) else label_value(cx, id, node$at))
  }
  value(cx, sc, node)
}

weighted_faces <- function(cx, sc, node, dots, names, what) {
  if (!all(nzchar(names))) {
    report(cx, "weights_partly", node$at, "Some of these have a weight and some have none.", "give each one a weight, as in reef = 3, or none")
    return(NULL)
  }
  weights <- lapply(dots, number_value, cx = cx, sc = sc, what = "A weight")
  ids <- integer()
  for (i in seq_along(names)) {
    if (what == "die") id <- intern_label(cx, names[[i]], dots[[i]]$at)
    else {
      id <- match(names[[i]], cx$labels)
      if (is.na(id)) report(cx, "unknown_name", dots[[i]]$at, sprintf("`%s` is not a label this game knows.", names[[i]]), did_you_mean(names[[i]], cx$labels))
    }
    ids <- c(ids, id)
  }
  if (anyDuplicated(names)) report(cx, "argument_twice", node$at, sprintf("`%s` has two weights.", names[[anyDuplicated(names)]]), "keep one")
  if (!all(vapply(weights, `[[`, NA, "const"))) {
    report(cx, "not_constant", node$at, "Weights must be numbers or settings.", "for chances that change in a round use chance(p)")
    return(NULL)
  }
  if (anyNA(ids)) return(NULL)
  values <- lapply(ids, label_value, cx = cx, at = node$at)
  set <- if (what == "die") names[[1]] else set_of_label(cx, ids[[1]])
  list(faces = list(how = "values", values = values, weights = weights), type = t_label(set, sort(ids)))
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

# --- collections ------------------------------------------------------------

# What a collection word goes over, or NULL: seats, a range, a list or bag, one value for each seat.
collection_value <- function(cx, sc, node, quiet = FALSE) {
  v <- value(cx, sc, node)
  if (is_unknown(v$type)) return(NULL)
  if (v$type$kind %in% c("list", "bag", "each", "range")) return(v)
  if (!quiet) wrong_type(cx, v, t_collection("list", t_whole), "What this goes over")
  NULL
}

item_type <- function(type) if (type$kind == "range") t_whole else type$of

value_size <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  over <- collection_value(cx, sc, args$of)
  if (is.null(over)) return(broken(node$at))
  if (over$op == "seats" || over$type$kind == "each") return(literal(length(cx$seats), t_whole, node$at))
  if (over$op == "range") return(fold_value(node, "count", over, new_variable(cx, "it", t_whole, node$at, "bound"), literal(1, t_yesno, node$at)))
  typed("size", t_whole, node$at, var = over$var)
}

fold_value <- function(node, how, over, it, body) {
  type <- switch(how, count = t_whole, any = , all = t_yesno, body$type)
  typed("fold", type, node$at, how = how, over = over, it = it, body = body, const = FALSE)
}

conditional_fold <- function(how) function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  over <- collection_value(cx, sc, args$of)
  if (is.null(over)) return(broken(node$at))
  about <- about_it(cx, sc, args$condition, item_type(over$type), node$at, function(inner, n) condition(cx, inner, n, sprintf("What `%s` asks of each item", how)))
  if (is_unknown(about$body$type)) return(broken(node$at))
  fold_value(node, how, over, about$it, about$body)
}

value_count <- conditional_fold("count")
value_any <- conditional_fold("any")
value_all <- conditional_fold("all")

# sum, max, min over a collection, of `it` or of an expression about it.
number_fold <- function(cx, sc, node, how, over, expression) {
  type <- item_type(over$type)
  if (is.null(expression)) {
    it <- new_variable(cx, "it", type, node$at, "bound")
    body <- typed("var", type, node$at, var = it)
    if (!is_number(type)) {
      wrong_type(cx, over, t_collection("list", t_whole), sprintf("What `%s` goes over", how))
      return(broken(node$at))
    }
  } else {
    about <- about_it(cx, sc, expression, type, node$at, function(inner, n) number_value(cx, inner, n, sprintf("What `%s` works on", how)))
    it <- about$it
    body <- about$body
  }
  if (is_unknown(body$type)) return(broken(node$at))
  fold_value(node, how, over, it, body)
}

value_sum <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  over <- collection_value(cx, sc, args$of)
  if (is.null(over)) return(broken(node$at))
  number_fold(cx, sc, node, "sum", over, args$expression)
}

extreme <- function(how) function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  dots <- args$dots
  if (length(dots) == 0) {
    report(cx, "argument_missing", node$at, sprintf("`%s` needs something to compare.", how), vocabulary_word(how)$example)
    return(broken(node$at))
  }
  first <- value(cx, sc, dots[[1]])
  if (is_unknown(first$type)) return(broken(node$at))
  if (first$type$kind %in% c("list", "bag", "each", "range")) {
    if (length(dots) > 2) report(cx, "argument_unknown", dots[[3]]$at, sprintf("`%s` over a collection takes one expression.", how), NULL)
    expression <- if (length(dots) >= 2) dots[[2]] else args$expression
    return(number_fold(cx, sc, node, how, first, expression))
  }
  rest <- lapply(dots[-1], number_value, cx = cx, sc = sc, what = sprintf("What `%s` compares", how))
  if (!is_number(first$type)) return(wrong_type(cx, first, t_whole, sprintf("What `%s` compares", how)))
  Reduce(function(a, b) {
    type <- join_types(a$type, b$type)
    if (is_unknown(b$type)) return(b)
    calculation(how, type, node$at, list(convert(a, type), convert(b, type)))
  }, rest, first)
}

value_max <- extreme("max")
value_min <- extreme("min")

# --- numbers ----------------------------------------------------------------

number_function <- function(fn, result, operand = NULL) function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  x <- number_value(cx, sc, args$x, sprintf("What `%s` works on", fn))
  if (is_unknown(x$type)) return(x)
  if (!is.null(operand)) x <- convert(x, operand)
  type <- if (is.null(result)) x$type else result
  if (fn %in% c("round_down", "round_up") && x$type$kind == "whole") return(x)
  calculation(fn, type, node$at, list(x))
}

value_abs <- number_function("abs", NULL)
value_round_down <- number_function("round_down", t_whole)
value_round_up <- number_function("round_up", t_whole)
value_sqrt <- number_function("sqrt", t_fraction, t_fraction)
value_log <- number_function("log", t_fraction, t_fraction)
value_exp <- number_function("exp", t_fraction, t_fraction)
