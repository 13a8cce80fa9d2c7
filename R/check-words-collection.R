# The words about collections: size, count, any, all, sum, max, min; and about single numbers.

value_size <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  deck <- if (args$of$kind == "name") context$names[[args$of$name]]
  if (identical(deck$kind, "deck")) return(typed("deck_size", t_whole, node$at, deck = deck$name))
  # How much one holds is public, what it is is not, unless the number is hidden too.
  viewer <- scope$viewer
  scope$viewer <- NULL
  over <- collection_value(context, scope, args$of)
  scope$viewer <- viewer
  if (is.null(over)) return(broken(node$at))
  # what is worked out of it is not
  if (!is_held(over) || hides_size(over)) over <- collection_value(context, scope, args$of)
  if (over$op == "seats") return(seats_count(context, node$at))
  if (over$type$kind == "each") return(size_of_each(context, over$type, node$at))
  if (over$op == "choices")
    return(fold_value(node, "count", over, new_variable(context, "it", item_type(over$type), node$at, "bound"),
                      literal(1, t_yesno, node$at)))
  if (over$op == "range")
    return(fold_value(node, "count", over, new_variable(context, "it", t_whole, node$at, "bound"),
                      literal(1, t_yesno, node$at)))
  typed("size", t_whole, node$at, over = over)
}

is_held <- function(over) over$op %in% c("var", "at_key", "seats")

hides_size <- function(over) isTRUE(over$var$hide_size)

fold_value <- function(node, how, over, it, body) {
  type <- switch(how, count = t_whole, any = , all = t_yesno, body$type)
  typed("fold", type, node$at, how = how, over = over, it = it, body = body, const = FALSE)
}

conditional_fold <- function(how) function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  over <- collection_value(context, scope, args$of)
  if (is.null(over)) return(broken(node$at))
  about <- about_it(context, scope, args$condition, item_type(over$type), node$at,
                    function(inner, n) condition(context, inner, n,
                                                 sprintf("The condition of `%s`", how)), args$as)
  if (is_unknown(about$body$type)) return(broken(node$at))
  fold_value(node, how, over, about$it, about$body)
}

value_count <- conditional_fold("count")
value_any <- conditional_fold("any")
value_all <- conditional_fold("all")

# sum, max, min over a collection, of `it` or of an expression about it.
number_fold <- function(context, scope, node, how, over, expression, as = NULL) {
  type <- item_type(over$type)
  if (is.null(expression)) {
    it <- new_variable(context, "it", type, node$at, "bound")
    body <- typed("var", type, node$at, var = it)
    if (!is_number(type)) {
      wrong_type(context, over, t_collection("list", t_whole), sprintf("The collection of `%s`", how))
      return(broken(node$at))
    }
  } else {
    about <- about_it(context, scope, expression, type, node$at,
                      function(inner, n) number_value(context, inner, n, sprintf("The argument of `%s`", how)), as)
    it <- about$it
    body <- about$body
  }
  if (is_unknown(body$type)) return(broken(node$at))
  fold_value(node, how, over, it, body)
}

value_sum <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  over <- collection_value(context, scope, args$of)
  if (is.null(over)) return(broken(node$at))
  number_fold(context, scope, node, "sum", over, args$expression, args$as)
}

extreme <- function(how) function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  dots <- args$dots
  if (length(dots) == 0) {
    report(context, "argument_missing", node$at, sprintf("`%s` needs something to compare.", how),
           vocabulary_word(how)$example)
    return(broken(node$at))
  }
  first <- collection_value(context, scope, dots[[1]], quiet = TRUE)
  if (is.null(first)) return(broken(node$at))
  if (first$type$kind %in% c("list", "bag", "each", "range")) {
    if (length(dots) > 2)
      report(context, "argument_unknown", dots[[3]]$at, sprintf("`%s` over a collection takes one expression.", how),
             "join the two into one expression")
    expression <- if (length(dots) >= 2) dots[[2]] else args$expression
    return(number_fold(context, scope, node, how, first, expression, args$as))
  }
  rest <- lapply(dots[-1], number_value, context = context, scope = scope,
                 what = sprintf("The value that `%s` compares", how))
  if (!is_number(first$type)) return(wrong_type(context, first, t_whole, sprintf("The value that `%s` compares", how)))
  Reduce(function(a, b) {
    type <- join_types(a$type, b$type)
    if (is_unknown(b$type)) return(b)
    calculation(how, type, node$at, list(convert(a, type), convert(b, type)))
  }, rest, first)
}

value_max <- extreme("max")
value_min <- extreme("min")

# --- numbers ----------------------------------------------------------------

number_function <- function(fn, result, operand = NULL) function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  x <- number_value(context, scope, args$x, sprintf("The argument of `%s`", fn))
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
