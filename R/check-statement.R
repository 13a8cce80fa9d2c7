# Statements: what happens in play, in functions and in players' rules.

statement_block <- function(context, scope, node) {
  in_order(lapply(node$args, function(s) statement(context, scope, s)), node$at)
}

statement_assign <- function(context, scope, node) {
  target <- node$args[[1]]
  if (target$kind == "call" && target$fn == "[") return(assign_at(context, scope, node, target))
  if (target$kind != "name") {
    report(context, "assign_target", target$at, "Only a name, or one value of each seat, can be given a value.",
           "write name <- value")
    return(in_order(list(), node$at))
  }
  scope$assigning <- target$name
  v <- check_value(context, scope, node$args[[2]], wanted_by(context, scope, target$name))
  scope$assigning <- NULL
  if (is_kind(v$type, "range") && is_kind(wanted_by(context, scope, target$name), "list", "bag"))
    v$type <- t_collection("list", item_type(v$type))  # dice <- 1:6 fills a list
  if (is_kind(v$type, "each", "range", "nothing", "text")) {
    report(context, "assign_kind", node$args[[2]]$at, sprintf("A name cannot be given %s.", describe_type(v$type)),
           "give it a number, yes or no, a label, a list or a bag")
    return(in_order(list(), node$at))
  }
  if (!card_may_go(context, scope, v, target, context$names[[target$name]]$variable)) return(in_order(list(), node$at))
  variable <- assigned_variable(context, scope, target, v)
  if (is.null(variable)) return(in_order(list(), node$at))
  if (variable$where == "local" && reads_hidden(v)) variable$hidden <- TRUE
  typed("assign", t_nothing, node$at, target = typed("var", variable$type, target$at, var = variable), value = v)
}

# Does a value depend on what not everyone sees?
reads_hidden <- function(v) {
  hidden <- FALSE
  walk(v, function(n) if (is.environment(n$var) &&
    (isTRUE(n$var$hidden) || !identical(if (is.null(n$var$seen_by)) "everyone" else n$var$seen_by, "everyone")))
    hidden <<- TRUE)
  hidden
}

wanted_by <- function(context, scope, name) {
  variable <- if (is.null(scope$vars[[name]])) context$names[[name]]$variable else scope$vars[[name]]
  if (!is.null(variable) && !is_kind(variable$type, "unknown", "each")) variable$type
}

# Cards are moved, never copied: what is remembered takes a card only from the deck.
card_may_go <- function(context, scope, v, target, variable) {
  of <- if (is_collection(v$type)) v$type$of else v$type
  if (!is_kind(of, "card") || v$op == "deal" || is.null(variable) || variable$where != "state") return(TRUE)
  report(context, "card_copied", target$at, "A card is in one place only: it is moved, not copied.",
         "write move(x, from = hand, to = pile), or deal and draw")
  FALSE
}

# The variable behind a name to be assigned; a new local one where the name is free.
assigned_variable <- function(context, scope, target, v) {
  name <- target$name
  variable <- scope$vars[[name]]
  if (is.null(variable)) {
    d <- context$names[[name]]
    if (is.null(d)) return(new_local(context, scope, target, v))
    if (d$kind == "unread") return(NULL)
    if (d$kind != "state") {
      report(context, "assign_fixed", target$at,
             sprintf("`%s` is %s and cannot be given a value.", name, kind_in_words(d$kind)),
             if (d$kind %in% c("bet", "pot")) "money is moved: stake(...), settle(...), share(...)"
             else "choose another name for the local value")
      return(NULL)
    }
    if (!may_write(context, scope, target$at, sprintf("`%s`", name))) return(NULL)
    variable <- d$variable
  }
  if (is_kind(variable$type, "each")) {
    report(context, "assign_kind", target$at, sprintf("`%s` is %s.", name, describe_type(variable$type)),
           sprintf("say whose: `%s[seat] <- ...`", name))
    return(NULL)
  }
  if (is_collection(variable$type) && !is_collection(v$type) && !is_unknown(v$type)) {
    report(context, "assign_kind", target$at, sprintf("`%s` is %s.", name, describe_type(variable$type)),
           "give it a list or bag, or change it with put and remove")
    return(NULL)
  }
  if (is_collection(variable$type) && is_collection(v$type) && fits_type(v$type$of, variable$type$of)) {
    if (variable$where == "local") scope$set <- union(scope$set, variable$id)
    return(variable)
  }
  if (!accept_type(context, variable, v, target$at)) return(NULL)
  if (variable$where == "local") scope$set <- union(scope$set, variable$id)
  variable
}

# Can the variable hold the value? A whole number's variable widens when it is given a fraction.
accept_type <- function(context, variable, v, at) {
  if (is_unknown(v$type)) return(TRUE)
  if (is_unknown(variable$type)) {
    variable$type <- v$type
    return(TRUE)
  }
  if (fits_type(v$type, variable$type)) return(TRUE)
  joined <- join_types(variable$type, v$type)
  if (!is.null(joined) && variable$where %in% c("local", "state")) {
    widen_variable(context, variable, joined)
    return(TRUE)
  }
  report(context, "wrong_type", at,
         sprintf("`%s` is %s and cannot become %s.", variable$name, describe_type(variable$type),
                 describe_type(v$type)), becoming_hint(context, variable, v$type))
  FALSE
}

# A state that will hold a seat must start as one.
becoming_hint <- function(context, variable, type) {
  seated <- is_kind(type, "label") && all(type$members %in% seq_along(context$seats))
  if (seated && variable$where == "state")
    sprintf("remember it as a seat from the start: state(%s = one(seats))", variable$name)
  else "choose another name for this value"
}

assign_at <- function(context, scope, node, target) {
  to <- index_target(context, scope, target)
  if (target$args[[1]]$kind == "name" && node$args[[2]]$kind == "call") scope$assigning <- target$args[[1]]$name
  v <- check_value(context, scope, node$args[[2]], if (!is.null(to)) to$type)
  scope$assigning <- NULL
  if (is.null(to) || is_unknown(v$type)) return(in_order(list(), node$at))
  if (to$op == "at_position") {
    report(context, "assign_kind", target$at, "Items of a list are not overwritten.", "change it with put and remove")
    return(in_order(list(), node$at))
  }
  if (to$var$where != "state") {
    report(context, "assign_fixed", target$at, sprintf("`%s` cannot be given a value.", to$var$name),
           "only what is remembered for each seat can be")
    return(in_order(list(), node$at))
  }
  if (!may_write(context, scope, target$at, sprintf("`%s`", to$var$name))) return(in_order(list(), node$at))
  if (!card_may_go(context, scope, v, target, to$var)) return(in_order(list(), node$at))
  if (!accept_each(context, to$var, v, target$at)) return(in_order(list(), node$at))
  typed("assign", t_nothing, node$at, target = to, value = v)
}

accept_each <- function(context, variable, v, at) {
  if (fits_type(v$type, variable$type$of)) return(TRUE)
  joined <- join_types(variable$type$of, v$type)
  if (is.null(joined)) {
    report(context, "wrong_type", at,
           sprintf("`%s` keeps %s for each seat, not %s.", variable$name, describe_type(variable$type$of),
                   describe_type(v$type)), "give it a value of that kind")
    return(FALSE)
  }
  widen_variable(context, variable, t_each(joined, variable$type$axes))
  TRUE
}

# add(n, to = x) is x <- x + n
statement_add <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(in_order(list(), node$at))
  sum <- list(kind = "call", name = NULL, fn = "+", args = list(args$to, args$n), names = c("", ""), at = node$at,
              fn_at = node$fn_at)
  statement_assign(context, scope,
                   list(kind = "call", name = NULL, fn = "<-", args = list(args$to, sum), names = c("", ""),
                        at = node$at, fn_at = node$fn_at))
}

collection_change <- function(op, to) function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(in_order(list(), node$at))
  collection <- check_value(context, scope, args[[to]])
  if (is_unknown(collection$type)) return(in_order(list(), node$at))
  if (!is_kind(collection$type, "list", "bag")) {
    wrong_type(context, collection, t_collection("list", t_whole), sprintf("The argument of `%s`", node$fn))
    return(in_order(list(), node$at))
  }
  if (is.null(collection$var) || !collection$op %in% c("var", "at_key") || collection$var$where == "bound") {
    report(context, "assign_target", args[[to]]$at, sprintf("`%s` changes a list or bag that has a name.", node$fn),
           "give it what is remembered, or a local list")
    return(in_order(list(), node$at))
  }
  x <- check_value(context, scope, args$x, collection$type)
  several <- is_collection(x$type) && op == "remove"
  x <- if (several) x
    else value_of(context, scope, args$x, collection$type$of, sprintf("The item %s `%s`", to, collection$var$name))
  if (collection$var$where == "state" && !may_write(context, scope, node$at, sprintf("`%s`", collection$var$name)))
    return(in_order(list(), node$at))
  if (op == "put" && is_kind(x$type, "card") && !(x$op == "deal" || (x$op == "var" && x$var$where == "local")))
    card_may_go(context, scope, x, args$x, collection$var)
  typed(op, t_nothing, node$at, place = collection, x = x, several = several)
}

statement_put <- collection_change("put", "into")
statement_remove <- collection_change("remove", "from")

statement_if <- function(context, scope, node) {
  cond <- condition(context, scope, node$args[[1]])
  both <- branch_scope(scope, function() statement(context, scope, node$args[[2]]),
                       function() if (length(node$args) > 2) statement(context, scope, node$args[[3]])
                         else in_order(list(), node$at))
  typed("if", t_nothing, node$at, cond = cond, yes = list(both[[1]]), no = list(both[[2]]))
}

leave <- function(op) function(context, scope, node) {
  if (scope$loops == 0L)
    report(context, "word_misplaced", node$at, sprintf("`%s` is outside any loop.", op),
           "it leaves a while, repeat or for")
  if (op == "break") scope$breaks <- c(scope$breaks, list(scope$set))
  scope$reachable <- FALSE
  typed(op, t_nothing, node$at)
}

statement_break <- leave("break")
statement_next <- leave("next")

statement_return <- function(context, scope, node) {
  if (is.null(scope$returns)) {
    report(context, "word_misplaced", node$at, "`return` belongs in a function.", "to stop the round write end_round()")
    return(in_order(list(), node$at))
  }
  if (length(node$args) != 1) {
    report(context, "argument_missing", node$at, "`return` gives back one value.", "write return(x)")
    return(in_order(list(), node$at))
  }
  answer <- answer_statement(context, scope, node$args[[1]])
  scope$reachable <- FALSE
  typed("return", t_nothing, node$at, answer = answer, exit = scope$returns)
}

statement_end_round <- function(context, scope, node) {
  match_arguments(context, node)
  if (!scope$may_write)
    report(context, "write_here", node$at, sprintf("The round cannot be ended in %s.", scope$what),
           "only play ends a round")
  scope$reachable <- FALSE
  typed("end_round", t_nothing, node$at)
}

# The trace and the screen show it; odds do not. What is in { } is checked all the same.
statement_say <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(in_order(list(), node$at))
  if (is.null(text_argument(context, args$text, "The text of `say`"))) return(in_order(list(), node$at))
  typed("say", t_nothing, node$at, parts = text_parts(context, scope, args$text))
}

# show(hand[2], to = mover): for a moment, for those who look on.
statement_show <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(in_order(list(), node$at))
  v <- check_value(context, scope, args$x)
  to <- if (!is.null(args$to) && !is_everyone(args$to))
    value_of(context, scope, args$to, seat_type(context), "The argument `to` of `show`")
  if (is_unknown(v$type)) return(in_order(list(), node$at))
  typed("show", t_nothing, node$at, name = source_text(context$source, args$x$at), x = v, to = to)
}

# A text taken apart: plain texts, and typed nodes for what is in { }.
text_parts <- function(context, scope, node) {
  text <- node$value
  parts <- list()
  for (inside in regmatches(text, gregexpr("\\{[^{}]*\\}", text))[[1]]) {
    parsed <- parse_chunk(substr(inside, 2, nchar(inside) - 1), node$at[[1]] - 1L)
    if (length(parsed$diagnostics) > 0 || length(parsed$nodes) != 1)
      report(context, "text_expression", node$at, sprintf("`%s` is not one expression.", inside),
             "write a name or an expression between the braces")
    else parts <- c(parts, list(text_part(context, scope, move_node(parsed$nodes[[1]], node$at))))
  }
  plain <- strsplit(gsub("\\{[^{}]*\\}", "\001", paste0(text, " ")), "\001", fixed = TRUE)[[1]]
  plain[[length(plain)]] <- sub(" $", "", plain[[length(plain)]])
  list(plain = plain, values = parts)
}

# The values that a text may show: any value, a list or bag, the verb of two signs.
text_part <- function(context, scope, node) {
  if (node$kind == "call" && node$fn == "verb") return(verb_value(context, scope, node))
  v <- check_value(context, scope, node)
  if (is_plain(v$type) || is_collection(v$type)) return(v)
  wrong_type(context, v, t_whole, "A value in a text")
}

# The verbs by number, in a table over the span of the signs.
verb_value <- function(context, scope, node) {
  about_two_signs(context, scope, node, function(signs) {
    n <- nrow(signs$verbs)
    list(type = list(kind = "verb", verbs = as.vector(signs$verbs)),
         values = sign_table(matrix(seq_len(n * n), n), signs$members))
  })
}

# later("..."): a hole in the rules
statement_later <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(in_order(list(), node$at))
  text <- text_argument(context, args$text, "The note in `later`")
  note(context, "hole", node$at, sprintf("Not written yet: %s.", if (is.null(text)) "something" else text))
  typed("later", t_nothing, node$at)
}
