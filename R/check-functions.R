# Functions are put in where they are called, with the types of the call: no stack in the machine,
# and the same function serves numbers and labels.

inline_call <- function(cx, sc, node, d, want = NULL) {
  if (d$name %in% cx$inlining) {
    report(cx, "recursion", node$at, sprintf("`%s` calls itself, directly or through another function.", d$name), "use a loop")
    return(broken(node$at))
  }
  if (length(cx$inlining) >= max_inlining) {
    report(cx, "rules_too_large", node$at, "Functions call functions too deeply here.", "flatten some of them")
    return(broken(node$at))
  }
  args <- function_arguments(cx, node, d)
  if (is.null(args)) return(broken(node$at))
  fs <- new_scope(sprintf("`%s` as it is used in %s", d$name, innermost_place(sc)), sc$may_write, sc$may_draw)
  fs$place <- innermost_place(sc)
  fs$chooser <- sc$chooser
  fs$viewer <- sc$viewer
  fs$want <- if (is.null(sc$decision) || !is.null(want)) want
  given <- lapply(args, function(a) check_value(cx, sc, a))
  key <- call_signature(cx, sc, fs, d, given)
  known <- cx$checked_calls[[key]]
  if (!is.null(known)) return(checked_again(cx, known, given, node$at))
  check_body(cx, fs, node, d, given, key)
}

# Checks the body of a function for a call, and keeps what came of it for calls of the same signature.
check_body <- function(cx, fs, node, d, given, key) {
  first <- cx$next_id
  nodes <- cx$nodes
  problems <- length(cx$problems)
  bindings <- list()
  for (p in names(given)) {
    bound <- bind_parameter(cx, fs, p, given[[p]], d)
    if (!is.null(bound)) bindings[[p]] <- bound
  }
  cx$inlining <- c(cx$inlining, d$name)
  result <- function_body(cx, fs, d$body, node$at)
  cx$inlining <- utils::head(cx$inlining, -1)
  if (length(cx$problems) == problems) {
    cx$checked_calls[[key]] <- list(body = result, vars = lapply(bindings, `[[`, "var"), ids = c(first, cx$next_id), nodes = cx$nodes - nodes)
  }
  let_parameters(result, bindings, node$at)
}

let_parameters <- function(body, bindings, at) {
  if (length(bindings) == 0) return(body)
  typed("let", body$type, at, bindings = unname(bindings), body = body)
}

# A body that has been checked for this signature, with variables of its own.
checked_again <- function(cx, known, given, at) {
  cx$nodes <- cx$nodes + known$nodes
  fresh <- fresh_variables(cx, known$ids)
  vars <- lapply(known$vars, fresh)
  bindings <- Map(function(variable, v) list(var = variable, value = convert(v, variable$type)), vars, given[names(vars)])
  let_parameters(with_variables(known$body, fresh), bindings, at)
}

# Gives for each variable made while a body was checked, and for each exit of a body in it, a new one.
fresh_variables <- function(cx, ids) {
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
    cx$next_id <- cx$next_id + 1L
    variable$id <- cx$next_id
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

# All that the checked body of a function depends on: what it is given, what is wanted of it, who calls and what may be
# done there. Two calls of one signature differ in nothing but their place.
call_signature <- function(cx, sc, fs, d, given) {
  ways <- vapply(names(given), function(p) {
    v <- given[[p]]
    if (is_alias(cx, p, v, d)) paste("is", node_key(v)) else type_key(v$type)
  }, "")
  viewer <- if (!is.null(sc$viewer)) c(format(environment(sc$viewer$is_me)), sc$viewer$seat)
  key <- paste(c(d$name, ways, "want", if (!is.null(fs$want)) type_key(fs$want), "viewer", viewer, "chooser", sc$chooser$id,
          sc$may_write, sc$may_draw, fs$place), collapse = "|")
  if (nchar(key) < 2000) key else digest::digest(key, serialize = FALSE)
}

type_key <- function(type) {
  parts <- unlist(type)
  paste(names(parts), parts, collapse = ",")
}

# What a typed node says, its place apart.
node_key <- function(x) {
  if (is.environment(x)) return(paste("#", x$id))
  if (!is.list(x)) return(paste(x, collapse = " "))
  kept <- if (is.null(names(x))) x else x[names(x) != "at"]
  paste0("(", paste(names(kept), vapply(kept, node_key, ""), collapse = ","), ")")
}

innermost_place <- function(sc) if (is.null(sc$place)) sc$what else sc$place

# Named list of argument nodes in the order of the parameters; defaults filled in.
function_arguments <- function(cx, node, d) {
  got <- list()
  for (i in which(nzchar(node$names))) {
    if (!node$names[[i]] %in% d$params) {
      report(cx, "argument_unknown", node$args[[i]]$at, sprintf("`%s` has no parameter `%s`.", d$name, node$names[[i]]), or_spelling(did_you_mean(node$names[[i]], d$params)))
      return(NULL)
    }
    got[[node$names[[i]]]] <- node$args[[i]]
  }
  for (a in node$args[!nzchar(node$names)]) {
    open <- setdiff(d$params, names(got))
    if (length(open) == 0) {
      report(cx, "argument_unknown", a$at, sprintf("`%s` takes %d argument(s).", d$name, length(d$params)), sprintf("it is %s(%s)", d$name, paste(d$params, collapse = ", ")))
      return(NULL)
    }
    got[[open[[1]]]] <- a
  }
  for (i in seq_along(d$params)) {
    if (is.null(got[[d$params[[i]]]]) && !is.null(d$defaults[[i]])) got[[d$params[[i]]]] <- d$defaults[[i]]
  }
  lacking <- setdiff(d$params, names(got))
  if (length(lacking) > 0) {
    report(cx, "argument_missing", node$at, sprintf("`%s` needs %s.", d$name, some_of_names(lacking)), sprintf("it is %s(%s)", d$name, paste(d$params, collapse = ", ")))
    return(NULL)
  }
  got[d$params]
}

# A parameter that the function never assigns, given something that cannot change meanwhile, is
# that very thing; else it is a local value of the function, returned as list(var, value).
bind_parameter <- function(cx, fs, name, v, d) {
  if (is_alias(cx, name, v, d)) {
    if (v$op == "lit" && is_kind(v$type, "label")) v$type$of_set <- members_of_set(cx, v$type)
    fs$vars[[name]] <- list(node = v, name = name, where = "alias")
    return(NULL)
  }
  if (is_kind(v$type, "each", "range") || (is_pool(v$type) && assigns_to(d$body, name))) {
    fs$vars[[name]] <- list(node = broken(v$at), name = name, where = "alias")
    report(cx, "collection_changed", v$at, sprintf("`%s` would change the collection it is given as `%s`.", d$name, name), "change what is remembered by its own name")
    return(NULL)
  }
  variable <- new_variable(cx, name, v$type, d$at, "local", key = paste("parameter", d$name, name))
  if (!fits_type(v$type, variable$type)) variable$type <- v$type
  fs$vars[[name]] <- variable
  fs$set <- c(fs$set, variable$id)
  list(var = variable, value = convert(v, variable$type))
}

is_alias <- function(cx, name, v, d) {
  pure <- v$op == "var" && !is_changing(d$body, cx)
  stays <- v$op == "var" && (v$var$where == "bound" || is_kind(v$type, "list", "bag", "each"))
  own_list <- v$op == "at_seat" && is_pool(v$type) && pure_key(v, d, cx)
  fixed <- v$const || pure || stays || own_list || is_unknown(v$type) || v$op %in% c("seats", "range", "choices")
  fixed && !assigns_to(d$body, name)
}

# All the labels of the sets that hold these.
members_of_set <- function(cx, type) {
  sets <- lapply(cx$names, function(d) switch(d$kind, decision = , column = d$type$members, seat = seq_along(cx$seats), d$members))
  unique(unlist(Filter(function(members) all(type$members %in% members), sets)))
}

# A list of one seat stays where it is while the function changes nothing.
pure_key <- function(v, d, cx) v$key$const || (v$key$op == "var" && v$key$var$where == "bound") || !is_changing(d$body, cx)

# Could this body, or a function it calls, change anything?
is_changing <- function(node, cx) {
  if (node$kind != "call") return(FALSE)
  node$fn == "<-" || word_is(node$fn, "statement") || identical(cx$names[[node$fn]]$kind, "function") ||
    any(vapply(node$args, is_changing, NA, cx = cx))
}

# The value of a body: of a function, or of a player's rule.
function_body <- function(cx, fs, body, at) {
  single <- single_expression(body)
  if (!is.null(single) && !has_return(single)) return(check_value(cx, fs, single, body_want(fs)))
  exit <- new.env(parent = emptyenv())
  exit$types <- list()
  exit$variable <- new_variable(cx, "result", t_unknown, at, "local", key = paste("result", fs$what, paste(body$at, collapse = " ")))
  fs$returns <- exit
  statements <- tail_statements(cx, fs, body)
  type <- exit$variable$type
  if (fs$reachable && !(exit$variable$id %in% fs$set) && length(exit$types) > 0) {
    report(cx, "no_value", body$at, "Some ways through this end without a value.", "give every branch a value, or end with one")
  }
  if (length(exit$types) == 0) type <- t_nothing
  typed("do", type, at, statements = statements, exit = exit)
}

# The type that a body's value is wanted as: a player's answer, or what the call asks for.
body_want <- function(fs) if (is.null(fs$decision)) fs$want else fs$decision$type

single_expression <- function(body) {
  if (body$kind != "call") return(body)
  if (body$fn == "{") return(if (length(body$args) == 1) single_expression(body$args[[1]]))
  if (is_statement_node(body) || (body$fn == "if" && (length(body$args) < 3 || is.null(single_expression(body$args[[2]])) || is.null(single_expression(body$args[[3]]))))) return(NULL)
  body
}

is_statement_node <- function(node) {
  node$kind == "call" && (node$fn %in% c("<-", "while", "repeat", "for", "break", "next", "return") || word_is(node$fn, "statement"))
}

# The statements of a body whose last value is the answer.
tail_statements <- function(cx, fs, node) {
  if (node$kind == "call" && node$fn == "{") {
    if (length(node$args) == 0) return(list())
    head <- lapply(utils::head(node$args, -1), function(s) statement(cx, fs, s))
    return(c(head, tail_statements(cx, fs, node$args[[length(node$args)]])))
  }
  if (node$kind == "call" && node$fn == "if") {
    cond <- condition(cx, fs, node$args[[1]])
    if (length(node$args) < 3 && !is_statement_branch(node$args[[2]])) {
      report(cx, "else_missing", node$at, "As a last value, `if` needs an `else`.", "write `if (condition) a else b`, or return(...)")
    }
    both <- branch_scope(fs, function() tail_statements(cx, fs, node$args[[2]]), function() if (length(node$args) > 2) tail_statements(cx, fs, node$args[[3]]) else list())
    return(list(typed("if", t_nothing, node$at, cond = cond, yes = both[[1]], no = both[[2]])))
  }
  if (is_statement_node(node)) return(list(statement(cx, fs, node)))
  list(answer_statement(cx, fs, node))
}

is_statement_branch <- function(node) {
  if (node$kind == "call" && node$fn == "{") return(length(node$args) == 0 || is_statement_branch(node$args[[length(node$args)]]))
  if (node$kind == "call" && node$fn == "if") return(is_statement_branch(node$args[[2]]))
  is_statement_node(node)
}

# Gives the body's answer: the last value, or that of return(...).
answer_statement <- function(cx, fs, node) {
  exit <- fs$returns
  v <- check_value(cx, fs, node, body_want(fs))
  if (is_kind(v$type, "nothing")) return(typed("effect", t_nothing, node$at, x = v))
  exit$types <- c(exit$types, list(v$type))
  joined <- join_types(exit$variable$type, v$type)
  if (is.null(joined) || !(is_plain(joined) || is_pool(joined))) {
    report(cx, "branches_differ", node$at, sprintf("This gives %s, where another way through gives %s.", describe_type(v$type), describe_type(exit$variable$type)), "give the same kind of value everywhere")
    joined <- t_unknown
  }
  if (joined$kind == "fraction" && exit$variable$type$kind == "whole") widen_variable(cx, exit$variable, joined)
  exit$variable$type <- joined
  fs$set <- c(fs$set, exit$variable$id)
  typed("assign", t_nothing, node$at, target = typed("var", joined, node$at, var = exit$variable), value = v)
}
