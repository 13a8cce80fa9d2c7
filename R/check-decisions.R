# Decisions and players. A decision is named by `ask`; its name is the rule of a player, and
# afterwards the answer. All asks are found before anything else reads an answer.

# Are the answers written out, as names, sets or a range? Then their labels are known before anything else.
names_its_answers <- function(context, node) {
  parts <- ask_parts(context, node, quiet = TRUE)
  if (is.null(parts) || parts$answers$fn == "some_of") return(is.null(parts))
  all(vapply(parts$answers$args, function(item) {
    if (item$kind == "call" && item$fn == "if" && length(item$args) == 2) item <- item$args[[2]]
    item$kind == "text" || (item$kind == "name" && !names_a_collection(context, item$name)) ||
      (item$kind == "call" && item$fn == ":")
  }, NA))
}

# A remembered list or bag, or a local name that is given one: not the name of an answer.
names_a_collection <- function(context, name) {
  d <- context$names[[name]]
  if (!is.null(d)) return(d$kind == "state")
  is_state <- any(vapply(context$state_names, identical, NA, name))
  is_state || any(vapply(context$bodies, function(body) !is.null(assigned_value(body, name)), NA))
}

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
  several <- function(type) if (together) t_each(type, seq_along(context$seats), seat_type(context)) else type
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

# ask(who, NAME = one_of(...), legal = ) taken apart, or NULL after reporting.
ask_parts <- function(context, node, quiet = FALSE) {
  is_extra <- node$names %in% c("legal", "seen_by")
  node$args <- lapply(node$args, plain_conditions)
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
       legal = extra("legal"), seen_by = extra("seen_by"))
}

# one_of(if (c) a else b) offers `a` on the condition and `b` on its opposite.
plain_conditions <- function(node) {
  if (node$kind != "call" || node$fn != "one_of") return(node)
  args <- list()
  names <- character()
  for (i in seq_along(node$args)) {
    a <- node$args[[i]]
    if (a$kind == "call" && a$fn == "if" && length(a$args) == 3) {
      opposite <- list(kind = "call", name = NULL, fn = "!", args = a$args[1], names = "", at = a$args[[1]]$at,
                       fn_at = a$args[[1]]$at)
      offer <- function(condition, item)
        list(kind = "call", name = NULL, fn = "if", args = list(condition, item), names = c("", ""), at = a$at,
             fn_at = a$at)
      args <- c(args, list(offer(a$args[[1]], a$args[[2]]), offer(opposite, a$args[[3]])))
      names <- c(names, "", "")
    } else {
      args <- c(args, list(a))
      names <- c(names, node$names[[i]])
    }
  }
  node$args <- args
  node$names <- names
  node
}

# The type of an answer, from how the answers are written.
answer_type <- function(context, decision, answers) {
  if (answers$fn == "some_of") {
    of <- infer_item(context, answers$args[[1]])
    if (is.null(of))
      report(context, "answer_kind", answers$args[[1]]$at, "`some_of` chooses from a list or bag.",
             "write some_of(dice) or some_of(hand[mover])")
    return(if (!is.null(of)) t_collection("bag", of))
  }
  ids <- integer()
  set <- NULL
  order <- NULL
  for (item in answers$args) {
    if (item$kind == "call" && item$fn == ":") return(t_whole)
    if (item$kind == "call" && item$fn == "if" && length(item$args) == 2) item <- item$args[[2]]
    if (item$kind == "text") item <- list(kind = "name", name = item$value, at = item$at)
    if (item$kind != "name" || names_a_collection(context, item$name)) {
      of <- infer_item(context, item)
      if (is.null(of))
        report(context, "answer_kind", item$at,
               "An answer is a name, a set of names, a list or bag, or a range of numbers.",
               "write one_of(draw, stand), one_of(sign), one_of(hand[mover]) or one_of(1:10)")
      return(of)
    }
    d <- context$names[[item$name]]
    named <- set_named(context, item$name)
    if (!is.null(named) && !is_kind(named$type, "label")) return(named$type)
    if (!is.null(named)) {
      ids <- c(ids, named$ids)
      if (is.null(set)) set <- item$name
      order <- named$type$order
    } else if (item$name %in% c("yes", "no")) {
      return(t_yesno)
    } else if (is.null(d) || d$kind %in% c("label", "seat")) {
      ids <- c(ids, intern_label(context, item$name, item$at))
    } else if (d$kind != "unread") {
      report(context, "name_twice", item$at,
             sprintf("The answer `%s` already names %s (line %d).", item$name, kind_in_words(d$kind), d$at[[1]]),
             "choose another name for the answer")
    }
  }
  ids <- sort(unique(stats::na.omit(ids)))
  if (length(ids) == 0) NULL else t_label(if (is.null(set)) decision else set, ids, order = order)
}

# What an expression that gives a list or bag holds, as far as is known before play is read.
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
  if (node$kind != "call" || length(node$args) == 0) return(NULL)
  own <- context$names[[node$fn]]
  if (identical(own$kind, "function")) return(again(own$body))
  if (node$fn %in% c("{", "return")) return(again(node$args[[length(node$args)]]))
  if (node$fn == "if") return(again(node$args[[2]]))
  if (node$fn == ":") return(t_whole)
  if (node$fn == "roll" && node$args[[1]]$kind == "name") return(context$names[[node$args[[1]]$name]]$type)
  if (node$fn %in% c("[", "those", "+")) return(again(node$args[[1]]))
  if (node$fn == "c") {
    quiet <- context$problems
    v <- check_value(context, new_scope("answers"), node)
    context$problems <- quiet
    return(if (is_collection(v$type)) v$type$of)
  }
  NULL
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
  asker <- list(is_me = function(key) same_seat(key, who, d), seat = if (!is.null(who) && who$op == "lit") who$value,
                hint = "what is offered may depend only on what the seat sees")
  outer <- list(viewer = scope$viewer, what = scope$what)
  scope$viewer <- asker
  scope$what <- sprintf("what `%s` may answer", d$name)
  choices <- ask_choices(context, scope, parts, d)
  scope$viewer <- outer$viewer
  scope$what <- outer$what
  if (is.null(choices)) return(empty)
  asked <- if (d$together) seq_along(context$seats) else if (is_unknown(who$type)) integer() else who$type$members
  context$names[[d$name]]$asked <- union(d$asked, asked)
  if (!is.null(parts$seen_by)) context$names[[d$name]]$variable$seen_by <- decision_seen_by(context, parts$seen_by)
  typed("ask", t_nothing, node$at, var = d$variable, decision = d$name, who = who, choices = choices)
}

# Is this key the seat that is asked?
same_seat <- function(key, who, d) {
  if (is.null(who)) return(FALSE)
  (key$op == "var" && who$op == "var" && identical(key$var$id, who$var$id)) ||
    (key$op == "lit" && who$op == "lit" && identical(key$value, who$value))
}

decision_seen_by <- function(context, node) {
  scope <- new_scope("seen_by")
  scope$inside_each <- TRUE
  seen_by_of(context, scope, node)
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
  legal <- condition(context, scope, parts$legal, "What makes an answer legal")
  scope$vars[[d$name]] <- NULL
  c(choices, list(candidate = candidate, legal = legal))
}

subset_choices <- function(context, scope, answers) {
  args <- match_arguments(context, answers)
  if (is.null(args)) return(NULL)
  collection <- collection_value(context, scope, args$of)
  if (is.null(collection)) return(NULL)
  if (!is_collection(collection$type)) {
    wrong_type(context, collection, t_collection("bag", t_whole), "What `some_of` chooses from")
    return(NULL)
  }
  bound <- function(arg) if (!is.null(args[[arg]])) value_of(context, scope, args[[arg]], t_whole, sprintf("`%s`", arg))
  list(how = "subsets", collection = collection, at_least = bound("at_least"), at_most = bound("at_most"))
}

listed_choices <- function(context, scope, one_of, d) {
  items <- list()
  for (item in one_of$args) {
    if (item$kind == "call" && item$fn == ":") {
      range <- range_value(context, scope, item)
      if (length(one_of$args) > 1)
        report(context, "answer_kind", item$at, "A range stands alone in one_of.",
               "widen the range, or list every answer")
      if (range$op != "range") return(NULL)
      return(list(how = "range", low = range$low, high = range$high))
    }
    offered <- NULL
    if (item$kind == "call" && item$fn == "if" && length(item$args) == 2) {
      offered <- condition(context, scope, item$args[[1]], "The condition that offers an answer")
      item <- item$args[[2]]
    }
    name <- if (item$kind == "text") item$value else item$name
    known <- if (!is.null(name)) context$names[[name]]
    set <- if (!is.null(name)) set_named(context, name)
    if (is.null(name) || (is.null(set) && !is.null(known) && known$kind == "state") || !is.null(scope$vars[[name]]) ||
        (!is.null(set) && !is_kind(set$type, "label"))) {
      return(collection_choices(context, scope, one_of, item, offered))
    }
    if (is_kind(d$type, "yesno")) {
      if (name %in% c("yes", "no")) items <- c(items, list(list(id = as.numeric(name == "yes"), offered = offered)))
      next
    }
    ids <- if (!is.null(set)) set$ids else match(name, context$labels)
    for (id in ids[!is.na(ids)]) items <- c(items, list(list(id = id, offered = offered)))
  }
  if (anyDuplicated(vapply(items, `[[`, 0, "id")))
    report(context, "argument_twice", one_of$at, "An answer is listed twice.", "keep one")
  list(how = "labels", items = items)
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
  wrong_type(context, collection, t_collection("list", t_whole), "What `one_of` chooses from")
  NULL
}

# --- players ----------------------------------------------------------------

declare_player <- function(context, name, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  seat <- NULL
  if (!is.null(args$seat)) {
    seat <- match(args$seat$name, context$seats)
    if (args$seat$kind != "name" || is.na(seat)) {
      report(context, "unknown_seat", args$seat$at, "A player's first argument is a seat, or is left out.",
             or_spelling(did_you_mean(if (is.null(args$seat$name)) "" else args$seat$name, context$seats)))
      seat <- NULL
    }
  }
  rules <- list()
  peeks <- !is.null(args$peeks) &&
    identical(value_of(context, new_scope("a player"), args$peeks, t_yesno, "`peeks`")$value, 1)
  for (i in seq_along(args$dots)) {
    decision <- args$dot_names[[i]]
    rule <- args$dots[[i]]
    d <- context$names[[decision]]
    if (identical(d$kind, "unread")) next
    if (!nzchar(decision) || is.null(d) || d$kind != "decision") {
      decisions <- names(Filter(function(x) x$kind == "decision", context$names))
      hint <- did_you_mean(decision, decisions)
      report(context, "rule_unasked", args$dot_at[[i]],
             if (nzchar(decision)) sprintf("No `ask` asks for `%s`.", decision)
             else "A rule needs the name of its decision.",
             if (!is.null(hint)) hint
             else if (length(decisions) > 0) sprintf("the decisions are %s", some_of_names(decisions))
             else "remove the rule, or ask for it in play: ask(guest, choice = one_of(draw, stand))")
      next
    }
    rules[[decision]] <- rule
  }
  if (declare(context, name$name, name$at, "player")) {
    context$players[[name$name]] <- list(name = name$name, seat = seat, rules = rules, like = args$like, peeks = peeks,
                                         at = name$at)
  }
}

# Rules taken over from another player; then every rule is checked.
check_players <- function(context) {
  for (p in context$players) context$players[[p$name]]$rules <- inherited_rules(context, p, p$name)
  for (p in context$players) for (decision in names(p$rules)) check_rule(context, p, decision)
  for (d in Filter(function(x) x$kind == "decision", context$names)) check_answered(context, d)
}

inherited_rules <- function(context, player, seen) {
  if (is.null(player$like)) return(player$rules)
  model <- context$players[[if (is.null(player$like$name)) "" else player$like$name]]
  if (is.null(model) || model$name %in% seen) {
    report(context, "unknown_player", player$like$at, "`like` names another player.",
           or_spelling(did_you_mean(if (is.null(player$like$name)) "" else player$like$name, names(context$players))))
    return(player$rules)
  }
  rules <- inherited_rules(context, model, c(seen, model$name))
  rules[names(player$rules)] <- player$rules
  rules
}

check_rule <- function(context, player, decision) {
  d <- context$names[[decision]]
  rule <- player$rules[[decision]]
  scope <- new_scope(sprintf("the rule of the player `%s`", player$name), may_draw = TRUE)
  scope$me <- scope$chooser <- new_variable(context, "me", seat_type(context), rule$at, "bound")
  if (!player$peeks)
    scope$viewer <- list(is_me = function(key)
      (key$op == "var" && identical(key$var$id, scope$me$id)) ||
      (!is.null(player$seat) && key$op == "lit" && key$value == player$seat),
                                       seat = player$seat, hint = "decide without it, or write peeks = yes")
  scope$decision <- d
  v <- function_body(context, scope, rule, rule$at)
  answer <- if (is.null(v$exit)) v$type else v$exit$variable$type
  if (is_collection(answer) && is_collection(d$type)) answer$kind <- d$type$kind  # a list will do where a bag is wanted
  if (!is_unknown(answer) && !fits_type(answer, d$type)) {
    if (is_kind(answer, "label") && is_kind(d$type, "label")) {
      report(context, "answer_illegal", rule$at,
             sprintf("`%s` is never among the answers of `%s`.",
                     context$labels[[setdiff(answer$members, d$type$members)[[1]]]], decision),
             sprintf("the answers are %s", some_of_names(context$labels[d$type$members])))
    } else wrong_type(context, v, d$type, sprintf("The answer to `%s`", decision))
  }
  context$names[[decision]]$rules[[player$name]] <- list(body = v, me = scope$me)
}

check_answered <- function(context, d) {
  for (seat in d$asked) {
    if (any(vapply(context$players, player_can, NA, seat = seat, decisions = d$name))) next
    report(context, "decision_unanswered", d$at,
           sprintf("No player answers `%s` for `%s`.", d$name, context$seats[[seat]]),
           sprintf("write one: even <- player(%s = pick(choices))", d$name))
  }
}

player_can <- function(player, seat, decisions) {
  (is.null(player$seat) || player$seat == seat) && all(decisions %in% names(player$rules))
}
