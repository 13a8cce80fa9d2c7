# Lists and bags made by an expression: typed nodes collection_roll, collection_of, collection_filter and others. A list
# or bag that is remembered is a `var`.

# dice + more, where both are lists or bags
joined_collections <- function(context, node, a, b) {
  b <- letters_value(context, b)
  if (is_plain(b$type) && !is_kind(b$type, "fraction") && !is_null_join(a$type$of, b$type))  # one item more
    b <- typed("collection_of", t_collection(a$type$kind, b$type), b$at, values = list(b))
  of <- if (is_collection(b$type)) join_types(a$type$of, b$type$of)
  if (is.null(of)) return(wrong_type(context, b, a$type, "An item joined to a list or bag"))
  kind <- if ("bag" %in% c(a$type$kind, b$type$kind)) "bag" else "list"
  typed("collection_join", t_collection(kind, of), node$at, left = a, right = b)
}

is_null_join <- function(a, b) is.null(join_types(a, b))

# ==, != on lists and bags compare the whole; a bag with a list as bags.
compared_collections <- function(context, node, a, b) {
  a <- letters_value(context, a)
  b <- letters_value(context, b)
  if (!is_collection(a$type) || !is_collection(b$type) || is.null(join_types(a$type$of, b$type$of))) {
    report(context, "never_equal", node$at,
           sprintf("This compares %s with %s.", describe_type(a$type), describe_type(b$type)), "compare like with like")
    return(broken(node$at))
  }
  if (!node$fn %in% c("==", "!=")) {
    report(context, "not_comparable", node$at, sprintf("`%s` does not compare lists.", node$fn),
           "only numbers have an order")
    return(broken(node$at))
  }
  same <- typed("collection_same", t_yesno, node$at, left = a, right = b)
  if (node$fn == "==") same else calculation("!", t_yesno, node$at, list(same))
}

# begins_with(word, so_far), ends_with(list, c(1, 2)): a word counts as the list of its letters.
part_of_row <- function(last) function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  row <- function(v) {
    v <- letters_value(context, row_as_list(context, v))
    if (is_unknown(v$type) || is_collection(v$type)) return(v)
    if (is_plain(v$type) && !is_kind(v$type, "fraction"))  # one item, or letter
      return(typed("collection_of", t_collection("list", v$type), v$at, values = list(v)))
    wrong_type(context, v, t_collection("list", t_whole), "The first argument")
  }
  of <- row(check_value(context, scope, args$of))
  part <- row(letters_written(context, of$type, args$with,
                              function(node, want) check_value(context, scope, node, want)))
  if (is_unknown(of$type) || is_unknown(part$type)) return(broken(node$at))
  if (is_null_join(of$type$of, part$type$of)) return(compared_collections(context, node, of, part))  # never equal
  typed("collection_part", t_yesno, node$at, part = part, over = of, last = last)
}

# "re" beside the letters of a word is c(r, e).
letters_written <- function(context, type, node, read) {
  letters <- if (node$kind == "text") strsplit(tolower(node$value), "")[[1]]
  ids <- match(letters, context$labels)
  if (node$kind != "text" || !identical(type$of$set, "letters") || anyNA(ids))
    return(read(node, if (node$kind == "name") type$of else type))
  typed("collection_of", t_collection("list", type$of), node$at,
        values = lapply(ids, literal, type = type$of, at = node$at))
}

value_begins_with <- part_of_row(0L)
value_ends_with <- part_of_row(1L)

value_those <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  over <- collection_value(context, scope, args$of)
  if (is.null(over)) return(broken(node$at))
  about <- about_it(context, scope, args$condition, item_type(over$type), node$at,
                    function(inner, n) condition(context, inner, n, "The condition of `those`"), args$as)
  if (is_unknown(about$body$type)) return(broken(node$at))
  if (is_collection(item_type(over$type))) {
    report(context, "wrong_type", node$at, "`those` cannot hold several bags.",
           "compare the choices with most(choices, ...) or least(choices, ...)")
    return(broken(node$at))
  }
  kind <- if (is_kind(over$type, "bag")) "bag" else "list"
  typed("collection_filter", t_collection(kind, item_type(over$type)), node$at, over = over, it = about$it,
        body = about$body)
}

value_groups <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  collection <- if (!is.null(args)) keyed_collection(context, scope, node, args)
  if (is.null(collection)) return(broken(node$at))
  typed("collection_groups", t_collection("list", t_whole), node$at, over = collection)
}

# All that share the first place in number: the commonest items, each once.
value_commonest <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  collection <- if (!is.null(args)) keyed_collection(context, scope, node, args)
  if (is.null(collection)) return(broken(node$at))
  typed("collection_common", t_collection("list", collection$type$of), node$at, over = collection)
}

# highest(dice, 3): the three highest, the highest first
ends_of_order <- function(highest) function(context, scope, node, want) {
  if (length(node$args) == 1 || node$args[[1]]$kind == "number") {
    one <- if (highest == 1L) "max" else "min"
    report(context, "argument_missing", node$at,
           sprintf("`%s` takes a list or bag, and how many of its numbers.", node$fn),
           sprintf("write %s(faces, 2); the one %s is %s(faces), or %s(2, 3) of plain numbers", node$fn,
                   if (highest == 1L) "greatest" else "least", one, one))
    return(broken(node$at))
  }
  args <- match_arguments(context, node)
  collection <- if (!is.null(args)) keyed_collection(context, scope, node, args)
  if (is.null(collection)) return(broken(node$at))
  n <- value_of(context, scope, args$n, t_whole, sprintf("How many `%s` takes", node$fn))
  if (is_unknown(n$type)) return(broken(node$at))
  of <- item_type(collection$type)
  if (is_unknown(of)) return(broken(node$at))
  if (of$kind != "whole") {
    report(context, "wrong_type", node$at, sprintf("`%s` compares numbers, not %s.", node$fn, describe_type(of)),
           sprintf("write an expression that gives a number, as in %s(hand, 2, value)", node$fn))
    return(broken(node$at))
  }
  typed("collection_highest", t_collection("list", t_whole), node$at, over = collection, n = n, highest = highest)
}
value_highest <- ends_of_order(1L)
value_lowest <- ends_of_order(0L)

# repeated(10, 12): a list of twelve tens
value_repeated <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  x <- check_value(context, scope, args$x)
  n <- value_of(context, scope, args$n, t_whole, "How often it is repeated")
  if (is_unknown(x$type) || is_unknown(n$type)) return(broken(node$at))
  if (!is_plain(x$type) || is_kind(x$type, "fraction")) return(wrong_type(context, x, t_whole, "The text to repeat"))
  typed("collection_repeat", t_collection("list", x$type), node$at, x = x, n = n)
}

# The temporary collection that a word looks at: the items themselves, or an expression about each.
keyed_collection <- function(context, scope, node, args) {
  collection <- collection_value(context, scope, args$of)
  if (is.null(collection)) return(NULL)
  collection <- row_as_list(context, collection)
  if (!is_collection(collection$type) && collection$type$kind != "range") {
    wrong_type(context, collection, t_collection("list", t_whole), sprintf("The argument of `%s`", node$fn))
    return(NULL)
  }
  if (is.null(args$expression))
    return(if (is_collection(collection$type) && collection$op != "seats") collection else {
      wrong_type(context, collection, t_collection("list", t_whole), sprintf("The argument of `%s`", node$fn))
      NULL
    })
  about <- about_it(context, scope, args$expression, item_type(collection$type), node$at,
                    function(inner, n) check_value(context, inner, n), args$as)
  if (is_unknown(about$body$type)) return(NULL)
  if (!is_plain(about$body$type) || is_kind(about$body$type, "fraction")) {
    wrong_type(context, about$body, t_whole, sprintf("The key of `%s`", node$fn))
    return(NULL)
  }
  typed("collection_map", t_collection("list", about$body$type), node$at, over = collection, it = about$it,
        body = about$body)
}

value_longest_run <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  collection <- if (!is.null(args)) keyed_collection(context, scope, node, args)
  if (is.null(collection)) return(broken(node$at))
  of <- collection$type$of
  order <- of$order
  if (!is_kind(of, "whole") && is.null(order))
    return(wrong_type(context, collection, t_collection("list", t_whole), "The argument of `longest_run`"))
  ends <- run_ends(context, scope, args$ends, of, order)
  typed("collection_run", t_whole, node$at, over = collection, order = order, ends = ends)
}

# ends = c(A, 2): the first is also just below the second. As places in the order, or numbers.
run_ends <- function(context, scope, node, of, order) {
  if (is.null(node)) return(NULL)
  values <- lapply(listed(node), check_value, context = context, scope = scope, want = of)
  if (length(values) != 2 || !all(vapply(values, function(v) v$op == "lit" && fits_type(v$type, of), NA))) {
    report(context, "run_ends", node$at, "`ends` names two items: the first is also just below the second.",
           "write ends = c(A, 2)")
    return(NULL)
  }
  ids <- vapply(values, `[[`, 0, "value")
  if (is.null(order)) ids else match(ids, order)
}

# most(dice), least(choices, expression)
best_item <- function(how) function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  over <- collection_value(context, scope, args$of)
  if (is.null(over)) return(broken(node$at))
  type <- item_type(over$type)
  if (is.null(args$expression)) {
    it <- new_variable(context, "it", type, node$at, "bound")
    about <- list(it = it, body = typed("var", type, node$at, var = it))
    if (!is_number(type)) {
      report(context, "argument_missing", node$at,
             sprintf("`%s` needs an expression about `it` here: labels have no size.", how),
             vocabulary_word(how)$example)
      return(broken(node$at))
    }
  }
  else {
    about <- about_it(context, scope, args$expression, type, node$at, function(inner, n)
      compared_value(context, inner, n, sprintf("The value that `%s` compares", how)), args$as)
  }
  if (is_unknown(about$body$type)) return(broken(node$at))
  if (!is.null(args$ties)) return(best_by_chance(context, scope, node, args$ties, type, how, over, about))
  typed("best_item", type, node$at, how = how, over = over, it = about$it, body = about$body)
}

# A number; or a condition, which holds for the best.
compared_value <- function(context, scope, node, what) {
  v <- check_value(context, scope, node)
  if (is_kind(v$type, "yesno")) typed("as_number", t_whole, node$at, x = v) else needs_number(context, v, what)
}

# The best of several, one of those that are equal being drawn.
best_by_chance <- function(context, scope, node, ties, type, how, over, about) {
  if (!identical(ties$name, "chance")) {
    report(context, "ties_wrong", ties$at, "`ties` can only be `chance`.", "write ties = chance, or leave it out")
    return(broken(node$at))
  }
  if (is_collection(type)) {
    report(context, "wrong_type", node$at, "Chance cannot decide between several bags.", "leave `ties` out")
    return(broken(node$at))
  }
  source <- pick_source(context, scope, node)
  if (is.null(source)) return(broken(node$at))
  if (nzchar(source)) register_pick(context, source,
                                    list(faces = list(how = "collection", collection = over), type = type),
                                    node$at)
  typed("best_item", type, node$at, how = how, over = over, it = about$it, body = about$body, ties = source)
}

value_most <- best_item("most")
value_least <- best_item("least")
