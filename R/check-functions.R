# Functions are expanded where they are called, with the types of the call: the program has no stack,
# and the same function serves numbers and labels.

inline_call <- function(context, scope, node, d, want = NULL) {
  if (d$name %in% context$inlining) {
    report(context, "recursion", node$at, sprintf("`%s` calls itself, directly or through another function.", d$name),
           "use a loop")
    return(broken(node$at))
  }
  if (length(context$inlining) >= max_inlining) {
    report(context, "rules_too_large", node$at, "Functions call functions too deeply here.", "flatten some of them")
    return(broken(node$at))
  }
  args <- function_arguments(context, node, d)
  if (is.null(args)) return(broken(node$at))
  inner <- new_scope(sprintf("`%s` as it is used in %s", d$name, innermost_place(scope)), scope$may_write,
                     scope$may_draw)
  inner$place <- innermost_place(scope)
  inner$chooser <- scope$chooser
  inner$viewer <- scope$viewer
  inner$want <- if (is.null(scope$decision) || !is.null(want)) want
  given <- lapply(args, function(a) check_value(context, scope, a))
  key <- call_signature(context, scope, inner, d, given)
  known <- context$checked_calls[[key]]
  if (!is.null(known)) return(checked_again(context, known, given, node$at))
  check_body(context, inner, node, d, given, key)
}

# Checks the body of a function for a call, and keeps what came of it for calls of the same signature.
check_body <- function(context, inner, node, d, given, key) {
  first <- context$next_id
  nodes <- context$nodes
  diagnostics <- length(context$diagnostics)
  bindings <- list()
  for (p in names(given)) {
    bound <- bind_parameter(context, inner, p, given[[p]], d)
    if (!is.null(bound)) bindings[[p]] <- bound
  }
  context$inlining <- c(context$inlining, d$name)
  result <- function_body(context, inner, d$body, node$at)
  context$inlining <- utils::head(context$inlining, -1)
  if (length(context$diagnostics) == diagnostics) {
    context$checked_calls[[key]] <- list(body = result, vars = lapply(bindings, `[[`, "var"),
                                         ids = c(first, context$next_id), nodes = context$nodes - nodes)
  }
  let_parameters(result, bindings, node$at)
}

let_parameters <- function(body, bindings, at) {
  if (length(bindings) == 0) return(body)
  typed("let", body$type, at, bindings = unname(bindings), body = body)
}

# A body that has been checked for this signature, with variables of its own.
checked_again <- function(context, known, given, at) {
  context$nodes <- context$nodes + known$nodes
  fresh <- fresh_variables(context, known$ids)
  vars <- lapply(known$vars, fresh)
  bindings <- Map(function(variable, v) list(var = variable, value = convert(v, variable$type)), vars,
                  given[names(vars)])
  let_parameters(with_variables(known$body, fresh), bindings, at)
}

# Gives for each variable made while a body was checked, and for each exit of a body in it, a new one.
fresh_variables <- function(context, ids) {
  made <- new.env(parent = emptyenv())
  copied <- function(key, x) {
    if (is.null(made[[key]])) made[[key]] <- list2env(as.list.environment(x), parent = emptyenv())
    made[[key]]
  }
  fresh <- function(x) {
    if (is.null(x$id)) {  # an exit
      exit <- copied(paste("exit", x$variable$id), x)
      exit$variable <- fresh(x$variable)
      return(exit)
    }
    if (!is.numeric(x$id) || x$id <= ids[[1]] || x$id > ids[[2]] || x$where == "state") return(x)
    before <- made[[as.character(x$id)]]
    if (!is.null(before)) return(before)
    variable <- copied(as.character(x$id), x)
    context$next_id <- context$next_id + 1L
    variable$id <- context$next_id
    variable
  }
  fresh
}

# The same typed node with other variables.
with_variables <- function(node, fresh) {
  for (k in seq_along(node)) {
    part <- node[[k]]
    if (is.environment(part)) node[[k]] <- fresh(part)
    else if (is.list(part) && !identical(names(node)[k], "type")) node[[k]] <- with_variables(part, fresh)
  }
  node
}

# All that the checked body of a function depends on: its arguments, the type expected of it, who calls and what may be
# done there. Two calls of one signature differ in nothing but their place.
call_signature <- function(context, scope, inner, d, given) {
  ways <- vapply(names(given), function(p) {
    v <- given[[p]]
    if (is_alias(context, p, v, d)) paste("is", node_key(v)) else type_key(v$type)
  }, "")
  viewer <- if (!is.null(scope$viewer)) c(scope$viewer$id, scope$viewer$seat)
  key <- paste(c(d$name, ways, "want", if (!is.null(inner$want)) type_key(inner$want), "viewer", viewer, "chooser",
                 scope$chooser$id,
          scope$may_write, scope$may_draw, inner$place), collapse = "|")
  if (nchar(key) < 2000) key else digest::digest(key, serialize = FALSE)
}

type_key <- function(type) {
  parts <- unlist(type)
  paste(names(parts), parts, collapse = ",")
}

# The content of a typed node, without its place.
node_key <- function(x) {
  if (is.environment(x)) return(paste("#", x$id))
  if (!is.list(x)) return(paste(x, collapse = " "))
  kept <- if (is.null(names(x))) x else x[names(x) != "at"]
  paste0("(", paste(names(kept), vapply(kept, node_key, ""), collapse = ","), ")")
}

innermost_place <- function(scope) if (is.null(scope$place)) scope$what else scope$place

# Named list of argument nodes in the order of the parameters; defaults filled in.
function_arguments <- function(context, node, d) {
  got <- list()
  for (i in which(nzchar(node$names))) {
    if (!node$names[[i]] %in% d$params) {
      report(context, "argument_unknown", node$args[[i]]$at,
             sprintf("`%s` has no parameter `%s`.", d$name, node$names[[i]]),
             or_spelling(did_you_mean(node$names[[i]], d$params)))
      return(NULL)
    }
    got[[node$names[[i]]]] <- node$args[[i]]
  }
  for (a in node$args[!nzchar(node$names)]) {
    open <- setdiff(d$params, names(got))
    if (length(open) == 0) {
      report(context, "argument_unknown", a$at, sprintf("`%s` takes %d argument(s).", d$name, length(d$params)),
             sprintf("it is %s(%s)", d$name, paste(d$params, collapse = ", ")))
      return(NULL)
    }
    got[[open[[1]]]] <- a
  }
  for (i in seq_along(d$params)) {
    if (is.null(got[[d$params[[i]]]]) && !is.null(d$defaults[[i]])) got[[d$params[[i]]]] <- d$defaults[[i]]
  }
  lacking <- setdiff(d$params, names(got))
  if (length(lacking) > 0) {
    report(context, "argument_missing", node$at, sprintf("`%s` needs %s.", d$name, some_of_names(lacking)),
           sprintf("it is %s(%s)", d$name, paste(d$params, collapse = ", ")))
    return(NULL)
  }
  got[d$params]
}

# A parameter that the function never assigns, given something that cannot change meanwhile, is
# that very thing; else it is a local value of the function, returned as list(var, value).
bind_parameter <- function(context, inner, name, v, d) {
  if (is_alias(context, name, v, d)) {
    if (v$op == "lit" && is_kind(v$type, "label")) v$type$of_set <- members_of_set(context, v$type)
    inner$vars[[name]] <- list(node = v, name = name, where = "alias")
    return(NULL)
  }
  if (is_kind(v$type, "each", "range") || (is_collection(v$type) && assigns_to(d$body, name))) {
    inner$vars[[name]] <- list(node = broken(v$at), name = name, where = "alias")
    report(context, "collection_changed", v$at,
           sprintf("`%s` changes its argument `%s`, a collection.", d$name, name),
           "change what is remembered by its own name")
    return(NULL)
  }
  variable <- new_variable(context, name, v$type, d$at, "local", key = paste("parameter", d$name, name))
  if (!fits_type(v$type, variable$type)) variable$type <- v$type
  inner$vars[[name]] <- variable
  inner$set <- c(inner$set, variable$id)
  list(var = variable, value = convert(v, variable$type))
}

is_alias <- function(context, name, v, d) {
  pure <- v$op == "var" && !is_changing(d$body, context)
  stays <- v$op == "var" && (v$var$where == "bound" || is_kind(v$type, "list", "bag", "each"))
  own_list <- v$op == "at_key" && is_collection(v$type) && pure_key(v, d, context)
  fixed <- v$const || pure || stays || own_list || is_unknown(v$type) || v$op %in% c("seats", "range", "choices")
  fixed && !assigns_to(d$body, name)
}

# All the labels of the sets that hold these.
members_of_set <- function(context, type) {
  sets <- lapply(context$names,
                 function(d)
                   switch(d$kind, decision = , column = d$type$members, seat = seq_along(context$seats), d$members))
  unique(unlist(Filter(function(members) all(type$members %in% members), sets)))
}

# A list of one seat stays where it is while the function changes nothing.
pure_key <- function(v, d, context)
  v$key$const || (v$key$op == "var" && v$key$var$where == "bound") || !is_changing(d$body, context)

# Could this body, or a function it calls, change anything?
is_changing <- function(node, context) {
  if (node$kind != "call") return(FALSE)
  node$fn == "<-" || word_is(node$fn, "statement") || identical(context$names[[node$fn]]$kind, "function") ||
    any(vapply(node$args, is_changing, NA, context = context))
}

# The value of a body: of a function, or of a player's rule.
function_body <- function(context, inner, body, at) {
  single <- single_expression(body)
  if (!is.null(single) && !has_return(single)) return(check_value(context, inner, single, body_want(inner)))
  exit <- new.env(parent = emptyenv())
  exit$types <- list()
  exit$variable <- new_variable(context, "result", t_unknown, at, "local",
                                key = paste("result", inner$what, paste(body$at, collapse = " ")))
  inner$returns <- exit
  statements <- tail_statements(context, inner, body)
  type <- exit$variable$type
  if (inner$reachable && !(exit$variable$id %in% inner$set) && length(exit$types) > 0) {
    report(context, "no_value", body$at, "Some branches end without a value.",
           "give every branch a value, or end with one")
  }
  if (length(exit$types) == 0) type <- t_nothing
  typed("do", type, at, statements = statements, exit = exit)
}

# The type expected of a body's value: a player's answer, or the type of the call.
body_want <- function(inner) if (is.null(inner$decision)) inner$want else inner$decision$type

single_expression <- function(body) {
  if (body$kind != "call") return(body)
  if (body$fn == "{") return(if (length(body$args) == 1) single_expression(body$args[[1]]))
  if (is_statement_node(body) ||
      (body$fn == "if" &&
       (length(body$args) < 3 || is.null(single_expression(body$args[[2]])) ||
        is.null(single_expression(body$args[[3]]))))) return(NULL)
  body
}

is_statement_node <- function(node) {
  node$kind == "call" &&
    (node$fn %in% c("<-", "while", "repeat", "for", "break", "next", "return") || word_is(node$fn, "statement"))
}

# The statements of a body whose last value is the answer.
tail_statements <- function(context, inner, node) {
  if (node$kind == "call" && node$fn == "{") {
    if (length(node$args) == 0) return(list())
    head <- lapply(utils::head(node$args, -1), function(s) statement(context, inner, s))
    return(c(head, tail_statements(context, inner, node$args[[length(node$args)]])))
  }
  if (node$kind == "call" && node$fn == "if") {
    cond <- condition(context, inner, node$args[[1]])
    if (length(node$args) < 3 && !is_statement_branch(node$args[[2]])) {
      report(context, "else_missing", node$at, "As a last value, `if` needs an `else`.",
             "write `if (condition) a else b`, or return(...)")
    }
    both <- branch_scope(inner, function() tail_statements(context, inner, node$args[[2]]),
                         function() if (length(node$args) > 2) tail_statements(context, inner, node$args[[3]])
                           else list())
    return(list(typed("if", t_nothing, node$at, cond = cond, yes = both[[1]], no = both[[2]])))
  }
  if (is_statement_node(node)) return(list(statement(context, inner, node)))
  list(answer_statement(context, inner, node))
}

is_statement_branch <- function(node) {
  if (node$kind == "call" && node$fn == "{")
    return(length(node$args) == 0 || is_statement_branch(node$args[[length(node$args)]]))
  if (node$kind == "call" && node$fn == "if") return(is_statement_branch(node$args[[2]]))
  is_statement_node(node)
}

# Gives the body's answer: the last value, or that of return(...).
answer_statement <- function(context, inner, node) {
  exit <- inner$returns
  v <- check_value(context, inner, node, body_want(inner))
  if (is_kind(v$type, "nothing")) return(typed("effect", t_nothing, node$at, x = v))
  exit$types <- c(exit$types, list(v$type))
  joined <- join_types(exit$variable$type, v$type)
  if (is.null(joined) || !(is_plain(joined) || is_collection(joined))) {
    report(context, "branches_differ", node$at,
           sprintf("This gives %s, where another way through gives %s.", describe_type(v$type),
                   describe_type(exit$variable$type)), "give the same kind of value everywhere")
    joined <- t_unknown
  }
  if (joined$kind == "fraction" && exit$variable$type$kind == "whole") widen_variable(context, exit$variable, joined)
  exit$variable$type <- joined
  inner$set <- c(inner$set, exit$variable$id)
  typed("assign", t_nothing, node$at, target = typed("var", joined, node$at, var = exit$variable), value = v)
}

max_inlining <- 30L
