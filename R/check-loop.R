# Loops: while, repeat, for, turns; and those that would never end.

statement_while <- function(context, scope, node) {
  cond <- condition(context, scope, node$args[[1]])
  body <- loop_scope(scope, function() statement(context, scope, node$args[[2]]))
  warn_unchanging(context, scope, node, cond, body)
  typed("while", t_nothing, node$at, cond = cond, body = body)
}

# A loop whose condition reads only what its body never changes ends at once or never.
warn_unchanging <- function(context, scope, node, cond, body) {
  if (cond$const) {
    if (cond$op == "lit" && cond$value == 1)
      report(context, "loop_endless", node$args[[1]]$at, "This loop's condition always holds.",
             "write `repeat` and leave with `break`, or compare what changes")
    return(invisible())
  }
  if (is_unknown(cond$type)) return(invisible())
  read <- variables_in(cond, c("var", "at_key", "deck_size", "turn_number", "playing", "counter"))
  written <- variables_written(body)
  if (length(read) > 0 && !any(read %in% written) && !leaves_loop(body)) {
    report(context, "loop_endless", node$args[[1]]$at,
           "Nothing in this loop changes what its condition reads: it would never end.",
           "change one of its values in the loop, or leave it with `break`")
  }
}

statement_repeat <- function(context, scope, node) {
  body <- loop_scope(scope, function() statement(context, scope, node$args[[1]]), endless = TRUE)
  if (!leaves_loop(body) && !has_return(node$args[[1]])) {
    report(context, "loop_endless", node$fn_at, "This `repeat` is never left.", "leave it with `break`, or end_round()")
  }
  typed("repeat", t_nothing, node$at, body = body)
}

statement_for <- function(context, scope, node) {
  name <- node$args[[1]]
  over <- node$args[[2]]
  if (over$kind == "name" && over$name == "turns")
    over <- list(kind = "call", name = NULL, fn = "turns", args = list(), names = character(), name_at = list(),
                 at = over$at, fn_at = over$at)
  if (over$kind == "call" && over$fn == "turns") return(statement_turns(context, scope, node, name, over))
  v <- collection_value(context, scope, over, quiet = TRUE)
  if (is.null(v)) return(in_order(list(), node$at))
  if (!is_kind(v$type, "range", "list", "bag")) {
    wrong_type(context, v, t_collection("list", t_whole), "The range of `for`")
    return(in_order(list(), node$at))
  }
  if (v$op == "range" && identical(v$low$value, 0) && indexes_by(node$args[[3]], name$name)) {
    report(context, "habit_from_zero", over$at, "Positions count from 1, and this range starts at 0.",
           "write 1:size(x)")
  }
  variable <- loop_variable(context, scope, name, item_type(v$type))
  if (is.null(variable)) return(in_order(list(), node$at))
  body <- loop_scope(scope, function() statement(context, scope, node$args[[3]]))
  op <- if (v$op == "range") "for_range" else if (v$op == "seats") "for_each" else "for_items"
  typed(op, t_nothing, node$at, var = variable, over = v, body = body)
}

loop_variable <- function(context, scope, name, type) {
  before <- scope$vars[[name$name]]
  word <- vocabulary_word(name$name)
  if (!is.null(before) || !is.null(context$names[[name$name]]) || (!is.null(word) && !may_share(word, "local"))) {
    if (!is.null(before) && before$where == "local" && fits_type(type, before$type)) {
      scope$set <- union(scope$set, before$id)
      return(before)
    }
    report(context, "name_twice", name$at,
           sprintf(if (is.null(word)) "`%s` already means something else here."
             else "`%s` is a word of the language.", name$name), "choose another name for the loop")
    return(NULL)
  }
  declared_local(context, scope, name, type)
}

indexes_by <- function(node, name) {
  if (node$kind != "call") return(FALSE)
  if (node$fn == "[" && length(node$args) == 2 && identical(node$args[[2]]$name, name)) return(TRUE)
  any(vapply(node$args, indexes_by, NA, name = name))
}

statement_turns <- function(context, scope, node, name, over) {
  if (!scope$may_write) {
    report(context, "write_here", over$at, sprintf("Turns have no place in %s.", scope$what), "write them in play")
    return(in_order(list(), node$at))
  }
  args <- match_arguments(context, over)
  if (is.null(args)) return(in_order(list(), node$at))
  variable <- loop_variable(context, scope, name, table_seat_type(context))
  if (is.null(variable)) return(in_order(list(), node$at))
  number <- function(arg, what) if (!is.null(args[[arg]])) value_of(context, scope, args[[arg]], t_whole, what)
  from <- if (!is.null(args$from)) value_of(context, scope, args$from, seat_type(context), "The seat that begins")
  each <- number("each", "The number of turns each")
  at_most <- number("at_most", "The greatest number of turns")
  body <- loop_scope(scope, function() statement(context, scope, node$args[[3]]))
  until <- if (!is.null(args$until)) condition(context, scope, args$until, "`until`")
  if (is.null(until) && is.null(each) && is.null(at_most) && !leaves_loop(body)) {
    report(context, "loop_endless", over$at, "These turns never end.",
           "write turns(until = condition), or leave them with `break`")
  }
  context$has_turns <- TRUE
  context$turn_names <- union(context$turn_names, name$name)
  typed("turns", t_nothing, node$at, var = variable, from = from, each = each, at_most = at_most, until = until,
        body = body)
}
