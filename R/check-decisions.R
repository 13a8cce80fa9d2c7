# Decisions and their answers. A decision is named by `ask`; its name is the rule of a player, and
# afterwards the answer. All asks are found before anything else reads an answer.

# Registers the decision of one ask: its answers become labels, its name a variable.
declare_decision <- function(context, node) {
  parts <- ask_parts(context, node)
  if (is.null(parts)) {
    for (name in node$names[nzchar(node$names)])
      if (is.null(context$names[[name]]) && is.null(vocabulary_words[[name]])) declare(context, name, node$at, "unread")
    return(invisible())
  }
  type <- answer_type(context, parts$name, parts$answers)
  if (is.null(type)) type <- t_unknown
  together <- identical(parts$who$name, "seats")
  several <- function(type) if (together) t_each(type, list(seat_axis(context))) else type
  before <- context$names[[parts$name]]
  if (!is.null(before) && before$kind == "decision") {
    joined <- join_types(before$type, type)
    if (is.null(joined) || before$together != together) {
      report(context, "decision_twice", node$at,
             sprintf("`%s` is asked for another kind of answer in line %d.", parts$name, before$at[[1]]),
             "give one of them another name")
      return(invisible())
    }
    context$names[[parts$name]]$type <- joined
    before$variable$type <- several(joined)
    return(invisible())
  }
  if (length(context$seats) == 0) {
    report(context, "no_seats", node$at, "Nobody can be asked: this game has no seats.",
           "declare them, as in seats(left, right)")
    return(invisible())
  }
  variable <- new_variable(context, parts$name, several(type), node$at, "decision")
  passed <- if (!together && is_kind(type, "whole", "yesno", "bag", "list"))
    new_variable(context, paste(parts$name, "passed"), t_yesno, node$at, "decision")
  declare(context, parts$name, node$at, "decision", type = type, together = together, variable = variable,
          passed = passed, rules = list())
}

ask_extras <- c("legal", "seen_by", "because", "pass")

# ask(who, NAME = one_of(...), legal = ) taken apart, or NULL after reporting.
ask_parts <- function(context, node, quiet = FALSE) {
  is_extra <- node$names %in% ask_extras
  named <- nzchar(node$names) & !is_extra
  who <- node$args[!named & !is_extra]
  wrong <- function(at) {
    if (!quiet)
      report(context, "ask_form", at, "`ask` names who is asked, and one decision with its answers.",
             "write ask(guest, choice = one_of(draw, stand))")
    NULL
  }
  if (length(who) != 1 || sum(named) != 1) return(wrong(node$at))
  answers <- node$args[named][[1]]
  if (answers$kind != "call" || !answers$fn %in% c("one_of", "some_of") || length(answers$args) == 0) {
    if (!quiet)
      report(context, "ask_form", answers$at, "The answers of a decision are listed with one_of(...) or some_of(...).",
             "write ask(guest, choice = one_of(draw, stand))")
    return(NULL)
  }
  extra <- function(name) if (any(node$names == name)) node$args[[which(node$names == name)[[1]]]]
  list(who = who[[1]], name = node$names[named], name_at = node$name_at[named][[1]], answers = answers,
       legal = extra("legal"), seen_by = extra("seen_by"), because = extra("because"), pass = extra("pass"))
}

statement_ask <- function(context, scope, node) {
  empty <- in_order(list(), node$at)
  parts <- ask_parts(context, node, quiet = TRUE)
  if (is.null(parts)) return(empty)
  d <- context$names[[parts$name]]
  if (is.null(d) || d$kind != "decision" || is_unknown(d$type)) return(empty)
  if (!scope$may_write) {
    report(context, "write_here", node$at, sprintf("Nobody can be asked in %s.", scope$what),
           "decisions are made in play")
    return(empty)
  }
  who <- if (d$together) NULL else value_of(context, scope, parts$who, seat_type(context), "Who is asked")
  # Where all seats are asked at once, `it` is the one that answers.
  it <- if (d$together) new_variable(context, "it", seat_type(context), node$at, "bound")
  answers <- if (d$together) typed("var", it$type, node$at, var = it) else who
  asker <- list(id = new_id(context), is_me = function(key) same_seat(key, answers),
                seat = if (answers$op == "lit") answers$value,
                hint = "what is offered may depend only on what the seat sees")
  outer <- list(viewer = scope$viewer, what = scope$what, it = scope$it)
  scope$viewer <- asker
  scope$what <- sprintf("what `%s` may answer", d$name)
  if (d$together) scope$it <- it
  choices <- ask_choices(context, scope, parts, d)
  scope$viewer <- outer$viewer
  scope$what <- outer$what
  scope$it <- outer$it
  if (is.null(choices)) return(empty)
  asked <- if (d$together) table_seats(context) else if (is_unknown(who$type)) integer() else who$type$members
  context$names[[d$name]]$asked <- union(d$asked, asked)
  keep_locals(context, scope, d$name)
  if (!is.null(parts$seen_by)) context$names[[d$name]]$variable$seen_by <- decision_seen_by(context, parts)
  words <- function(part, what) if (!is.null(part)) text_argument(context, part, what)
  reasons <- list(because = words(parts$because, "Why an answer is not legal"),
                  pass = words(parts$pass, "Why it is a pass"))
  typed("ask", t_nothing, node$at, reasons = reasons, var = d$variable, decision = d$name, who = who, it = it,
        choices = choices)
}

# The local values of play that a rule may read: those that have a value wherever the decision is asked, and do not come
# from what is hidden.
keep_locals <- function(context, scope, decision) {
  here <- Filter(function(v) identical(v$where, "local") && v$id %in% scope$set && !isTRUE(v$hidden), scope$vars)
  before <- context$names[[decision]]$locals
  same <- function(name) identical(before[[name]]$id, here[[name]]$id)
  context$names[[decision]]$locals <- if (is.null(before)) here
    else before[vapply(names(before), same, NA)]
}

# Lets a scope read local values of play by their names, where nothing else is called so.
read_locals <- function(context, scope, locals, at) {
  for (v in locals) if (is.null(context$names[[v$name]]))
    scope$vars[[v$name]] <- list(node = typed("var", v$type, at, var = v), name = v$name, where = "alias")
}

# Is this key the seat that is asked?
same_seat <- function(key, who) {
  (key$op == "var" && who$op == "var" && identical(key$var$id, who$var$id)) ||
    (key$op == "lit" && who$op == "lit" && identical(key$value, who$value))
}

# An answer belongs to the seat that gives it: `owner`, `it`, or the name by which it was asked.
decision_seen_by <- function(context, parts) {
  node <- parts$seen_by
  if (node$kind == "name" && (node$name == "it" || identical(node$name, parts$who$name))) return("owner")
  scope <- new_scope("seen_by")
  scope$inside_each <- TRUE
  seen_by_of(context, scope, node)
}

# The answers of a decision, as they are written: the type of an answer, which must be known before play is read, and
# what is offered.

# The answers of one_of(...), taken apart: the form of each, and the condition on which it is offered, or NULL.
#   list(form = "range", node)        low:high
#   list(form = "name", node, name)   a name or a text
#   list(form = "value", node)        anything else, as a list or bag
# The name of a die stands for its faces.
answer_items <- function(context, one_of) {
  args <- unlist(lapply(one_of$args, faces_named, context = context), recursive = FALSE)
  if (length(args) > 1) args <- unlist(lapply(args, range_as_names), recursive = FALSE)
  unlist(lapply(args, answers_in), recursive = FALSE)
}

# The faces of a die, as answers are written: a range, a list of numbers, or names; else the node itself.
faces_named <- function(context, node) {
  die <- if (node$kind == "name") context$names[[node$name]]
  if (!identical(die$kind, "die")) return(list(node))
  faces <- die$node
  if (length(faces$args) == 1 && is_call(faces$args[[1]], "c")) faces <- faces$args[[1]]
  if (is_kind(die$type, "whole") && !any(nzchar(faces$names)))
    return(if (length(faces$args) == 1 && is_call(faces$args[[1]], ":")) faces$args
           else list(utils::modifyList(faces, list(fn = "c"))))
  lapply(seq_along(faces$args), function(k) if (nzchar(faces$names[[k]]))
    list(kind = "name", name = faces$names[[k]], at = node$at) else faces$args[[k]])
}

# Beside other answers the numbers of a range are names.
range_as_names <- function(node) {
  numbers <- literal_range(node)
  if (is.null(numbers)) return(list(node))
  lapply(numbers, function(n) list(kind = "text", value = as.character(n), at = node$at))
}

# if (c) a else b offers `a` on the condition and `b` on its opposite.
answers_in <- function(node) {
  if (!is_call(node, "if")) return(list(answer_item(node)))
  condition <- node$args[[1]]
  offered <- list(answer_item(node$args[[2]], condition))
  if (length(node$args) == 3) c(offered, list(answer_item(node$args[[3]], negated(condition)))) else offered
}

answer_item <- function(node, offered = NULL) {
  name <- switch(node$kind, name = node$name, text = node$value)
  form <- if (is_call(node, ":")) "range" else if (is.null(name)) "value" else "name"
  list(form = form, node = node, name = name, offered = offered)
}

# Are the answers written out, as names, sets or a range? Then their labels are known before anything else.
names_its_answers <- function(context, node) {
  parts <- ask_parts(context, node, quiet = TRUE)
  if (is.null(parts) || parts$answers$fn == "some_of") return(is.null(parts))
  is_written_out <- function(item)
    item$form == "range" || item$node$kind == "text" ||
      (item$form == "name" && !names_a_collection(context, item$name))
  all(vapply(answer_items(context, parts$answers), is_written_out, NA))
}

# A remembered list or bag, or a local name that is given one: not the name of an answer.
names_a_collection <- function(context, name) {
  d <- context$names[[name]]
  if (!is.null(d)) return(d$kind == "state")
  is_state <- any(vapply(context$state_names, identical, NA, name))
  is_state || any(vapply(context$bodies, function(body) !is.null(assigned_value(body, name)), NA))
}

# The type of an answer, or NULL.
answer_type <- function(context, decision, answers) {
  if (answers$fn == "some_of") return(subset_type(context, answers$args[[1]]))
  ids <- integer()
  set <- NULL
  for (item in answer_items(context, answers)) {
    if (item$form == "range") return(t_whole)
    if (item$form == "value" || names_a_collection(context, item$name))
      return(collection_answer_type(context, item$node))
    named <- set_named(context, item$name)
    if (!is.null(named) && !is_kind(named$type, "label")) return(named$type)
    if (is.null(named) && item$name %in% c("yes", "no")) return(t_yesno)
    if (is.null(set) && !is.null(named)) set <- list(name = item$name, order = named$type$order)
    ids <- c(ids, if (is.null(named)) answer_label(context, item) else named$ids)
  }
  ids <- sort(unique(stats::na.omit(ids)))
  if (length(ids) == 0) return(NULL)
  t_label(if (is.null(set)) decision else set$name, ids, order = set$order)
}

# An answer that is no more than a name becomes a label.
answer_label <- function(context, item) {
  d <- context$names[[item$name]]
  if (is.null(d) || d$kind %in% c("label", "seat")) return(intern_label(context, item$name, item$node$at))
  if (d$kind != "unread")
    report(context, "name_twice", item$node$at,
           sprintf("The answer `%s` already names %s (line %d).", item$name, kind_in_words(d$kind), d$at[[1]]),
           "choose another name for the answer")
  integer()
}

subset_type <- function(context, node) {
  of <- infer_item(context, node)
  if (!is.null(of)) return(t_collection("bag", of))
  report(context, "answer_kind", node$at, "`some_of` chooses from a list or bag.",
         "write some_of(dice) or some_of(hand[mover])")
  NULL
}

collection_answer_type <- function(context, node) {
  of <- infer_item(context, node)
  if (is.null(of))
    report(context, "answer_kind", node$at,
           "An answer is a name, a set of names, a list or bag, or a range of numbers.",
           if (is_call(node, "-")) "a set without some is those(sign, it != reef)"
           else "write one_of(draw, stand), one_of(sign), one_of(hand[mover]) or one_of(1:10)")
  of
}

# The items of an expression that gives a list or bag, as far as they are known before play is read.
infer_item <- function(context, node, depth = 0L) {
  if (depth > 20L) return(NULL)
  again <- function(n) infer_item(context, n, depth + 1L)
  if (node$kind == "name") {
    set <- set_named(context, node$name)
    if (!is.null(set)) return(set$type)
    d <- context$names[[node$name]]
    if (!is.null(d$variable)) {
      type <- d$variable$type
      if (is_kind(type, "each")) type <- type$of
      return(if (is_collection(type)) type$of)
    }
    for (body in context$bodies) {
      given <- assigned_value(body, node$name)
      if (!is.null(given)) return(again(given))
    }
    return(NULL)
  }
  if (node$kind == "function") return(again(node$body))
  if (node$kind != "call") return(NULL)
  entry <- context$names[[node$fn]]
  if (identical(entry$kind, "function")) return(again(entry$body))
  if (length(node$args) == 0) return(NULL)
  if (node$fn %in% c("{", "return")) return(again(node$args[[length(node$args)]]))
  if (node$fn == "if") return(again(node$args[[2]]))
  if (node$fn %in% c(":", "limits")) return(t_whole)
  if (node$fn == "roll" && node$args[[1]]$kind == "name") return(context$names[[node$args[[1]]$name]]$type)
  if (node$fn %in% c("[", "those", "+")) return(again(node$args[[1]]))
  if (node$fn == "c") {
    quiet <- context$diagnostics
    v <- check_value(context, new_scope("answers"), node)
    context$diagnostics <- quiet
    return(if (is_collection(v$type)) v$type$of)
  }
  NULL
}

# One of
#   list(how = "labels", items = list(list(id, offered = NULL or condition)))
#   list(how = "range", low, high)
#   list(how = "list", temporary collection)                        one item of a list or bag
#   list(how = "subsets", temporary collection, at_least, at_most)  some of its items
# with `candidate`, the variable that stands for an answer in the condition `legal`.
ask_choices <- function(context, scope, parts, d) {
  choices <- if (parts$answers$fn == "some_of") subset_choices(context, scope, parts$answers)
    else listed_choices(context, scope, parts$answers, d)
  if (is.null(choices)) return(NULL)
  if (is.null(parts$legal)) return(choices)
  candidate <- new_variable(context, d$name, d$type, parts$name_at, "bound")
  scope$vars[[d$name]] <- candidate
  legal <- condition(context, scope, parts$legal, "`legal`")
  scope$vars[[d$name]] <- NULL
  c(choices, list(candidate = candidate, legal = legal))
}

subset_choices <- function(context, scope, answers) {
  args <- match_arguments(context, answers)
  if (is.null(args)) return(NULL)
  collection <- collection_value(context, scope, args$of)
  if (is.null(collection)) return(NULL)
  if (!is_collection(collection$type)) {
    wrong_type(context, collection, t_collection("bag", t_whole), "The argument of `some_of`")
    return(NULL)
  }
  bound <- function(arg) if (!is.null(args[[arg]])) value_of(context, scope, args[[arg]], t_whole, sprintf("`%s`", arg))
  list(how = "subsets", collection = collection, at_least = bound("at_least"), at_most = bound("at_most"))
}

listed_choices <- function(context, scope, one_of, d) {
  labels <- list()
  for (item in answer_items(context, one_of)) {
    if (item$form == "range") return(range_choices(context, scope, one_of, item))
    offered <- if (!is.null(item$offered))
      condition(context, scope, item$offered, "The condition that offers an answer")
    if (is_offered_collection(context, scope, item))
      return(collection_choices(context, scope, one_of, item$node, offered))
    ids <- answer_ids(context, d, item$name)
    labels <- c(labels, lapply(ids[!is.na(ids)], function(id) list(id = id, offered = offered)))
  }
  if (anyDuplicated(vapply(labels, `[[`, 0, "id")))
    report(context, "argument_twice", one_of$at, "An answer is listed twice.", "keep one")
  list(how = "labels", items = labels)
}

# The values that a name stands for: those of a set, one label, yes or no.
answer_ids <- function(context, d, name) {
  if (is_kind(d$type, "yesno")) return(if (name %in% c("yes", "no")) as.numeric(name == "yes"))
  set <- set_named(context, name)
  if (!is.null(set)) set$ids else match(name, context$labels)
}

is_offered_collection <- function(context, scope, item) {
  if (item$form == "value" || !is.null(scope$vars[[item$name]])) return(TRUE)
  set <- set_named(context, item$name)
  if (!is.null(set)) return(!is_kind(set$type, "label"))
  identical(context$names[[item$name]]$kind, "state")
}

range_choices <- function(context, scope, one_of, item) {
  range <- range_value(context, scope, item$node)
  if (length(one_of$args) > 1)
    report(context, "answer_kind", item$node$at, "A range stands alone in one_of.",
           "give its ends as numbers, or widen the range")
  if (range$op == "range") list(how = "range", low = range$low, high = range$high)
}

# one_of(hand[mover]), one_of(those(letter, ...)), one_of(secrets)
collection_choices <- function(context, scope, one_of, item, offered) {
  if (length(one_of$args) > 1 || !is.null(offered)) {
    report(context, "answer_kind", item$at, "A list or bag stands alone in one_of.",
           "join lists with +, and say what is legal with legal = ...")
    return(NULL)
  }
  collection <- collection_value(context, scope, item)
  if (is.null(collection)) return(NULL)
  if (is_kind(collection$type, "range")) return(list(how = "range", low = collection$low, high = collection$high))
  if (is_collection(collection$type)) return(list(how = "list", collection = collection))
  wrong_type(context, collection, t_collection("list", t_whole), "The argument of `one_of`")
  NULL
}
