# Decisions and players. A decision is named by `ask`; its name is the rule of a player, and
# afterwards the answer. All asks are found before anything else reads an answer.

collect_asks <- function(node) {
  if (node$kind == "function") return(collect_asks(node$body))
  if (node$kind != "call") return(list())
  own <- if (node$fn == "ask") list(node) else list()
  c(own, unlist(lapply(node$args, collect_asks), recursive = FALSE))
}

# Registers the decision of one ask: its answers become labels, its name a variable.
declare_decision <- function(cx, node) {
  parts <- ask_parts(cx, node)
  if (is.null(parts)) {
    for (name in node$names[nzchar(node$names)]) if (is.null(cx$names[[name]])) declare(cx, name, node$at, "unread")
    return(invisible())
  }
  type <- answer_type(cx, parts$name, parts$one_of)
  if (is.null(type)) type <- t_unknown
  together <- identical(parts$who$name, "seats")
  before <- cx$names[[parts$name]]
  if (!is.null(before) && before$kind == "decision") {
    joined <- join_types(before$type, type)
    if (is.null(joined) || before$together != together) {
      report(cx, "decision_twice", node$at, sprintf("`%s` is asked for another kind of answer in line %d.", parts$name, before$at[[1]]), "give one of them another name")
      return(invisible())
    }
    cx$names[[parts$name]]$type <- joined
    before$variable$type <- if (together) t_collection("each", joined) else joined
    return(invisible())
  }
  if (length(cx$seats) == 0) {
    report(cx, "no_seats", node$at, "Nobody can be asked: this game has no seats.", "declare them, as in seats(left, right)")
    return(invisible())
  }
  variable <- new_variable(cx, parts$name, if (together) t_collection("each", type) else type, node$at, "decision")
  declare(cx, parts$name, node$at, "decision", type = type, together = together, variable = variable, rules = list())
}

# ask(who, NAME = one_of(...)) taken apart, or NULL after reporting.
ask_parts <- function(cx, node, quiet = FALSE) {
  named <- nzchar(node$names)
  who <- node$args[!named]
  if (length(who) != 1 || sum(named) != 1) {
    if (!quiet) report(cx, "ask_form", node$at, "`ask` names who is asked, and one decision with its answers.", "write ask(guest, choice = one_of(draw, stand))")
    return(NULL)
  }
  one_of <- node$args[named][[1]]
  if (one_of$kind != "call" || one_of$fn != "one_of" || length(one_of$args) == 0) {
    if (!quiet) report(cx, "ask_form", one_of$at, "The answers of a decision are listed with one_of(...).", "write ask(guest, choice = one_of(draw, stand))")
    return(NULL)
  }
  list(who = who[[1]], name = node$names[named], one_of = one_of)
}

# The parts of one_of: labels offered always or on a condition, whole sets, or a range.
answer_type <- function(cx, decision, one_of) {
  ids <- integer()
  set <- NULL
  for (item in one_of$args) {
    if (item$kind == "call" && item$fn == ":") return(t_whole)
    if (item$kind == "call" && item$fn == "if" && length(item$args) == 2) item <- item$args[[2]]
    if (item$kind == "text") item <- list(kind = "name", name = item$value, at = item$at)
    if (item$kind != "name") {
      report(cx, "answer_kind", item$at, "An answer is a name, a set of labels, or a range of numbers.", "write one_of(draw, stand), one_of(sign) or one_of(1:10)")
      next
    }
    d <- cx$names[[item$name]]
    if (!is.null(d$members)) {
      ids <- c(ids, d$members)
      if (is.null(set)) set <- d$name
    } else if (item$name %in% c("yes", "no")) {
      return(t_yesno)
    } else if (is.null(d) || d$kind %in% c("label", "seat")) {
      ids <- c(ids, intern_label(cx, item$name, item$at))
    } else {
      report(cx, "name_twice", item$at, sprintf("The answer `%s` already names %s (line %d).", item$name, kind_in_words(d$kind), d$at[[1]]), "choose another name for the answer")
    }
  }
  ids <- sort(unique(stats::na.omit(ids)))
  if (length(ids) == 0) NULL else t_label(if (is.null(set)) decision else set, ids)
}

statement_ask <- function(cx, sc, node) {
  empty <- in_order(list(), node$at)
  parts <- ask_parts(cx, node, quiet = TRUE)
  if (is.null(parts)) return(empty)
  d <- cx$names[[parts$name]]
  if (is.null(d) || d$kind != "decision") return(empty)
  if (!sc$may_write) {
    report(cx, "write_here", node$at, sprintf("Nobody can be asked in %s.", sc$what), "decisions are made in play")
    return(empty)
  }
  who <- if (d$together) NULL else value_of(cx, sc, parts$who, seat_type(cx), "Who is asked")
  choices <- ask_choices(cx, sc, parts$one_of, d)
  asked <- if (d$together) seq_along(cx$seats) else if (is_unknown(who$type)) integer() else who$type$members
  cx$names[[d$name]]$asked <- union(d$asked, asked)
  typed("ask", t_nothing, node$at, var = d$variable, decision = d$name, who = who, choices = choices)
}

# list(how = "labels", items = list(list(id, offered = NULL or condition)), all = logical)
# or list(how = "range", low, high)
ask_choices <- function(cx, sc, one_of, d) {
  items <- list()
  for (item in one_of$args) {
    if (item$kind == "call" && item$fn == ":") {
      range <- range_value(cx, sc, item)
      if (length(one_of$args) > 1) report(cx, "answer_kind", item$at, "A range stands alone in one_of.", "widen the range, or list every answer")
      if (range$op != "range") return(NULL)
      return(list(how = "range", low = range$low, high = range$high))
    }
    offered <- NULL
    if (item$kind == "call" && item$fn == "if" && length(item$args) == 2) {
      offered <- condition(cx, sc, item$args[[1]], "What an answer hangs on")
      item <- item$args[[2]]
    }
    name <- if (item$kind == "text") item$value else item$name
    if (is.null(name)) next
    if (is_kind(d$type, "yesno")) {
      if (name %in% c("yes", "no")) items <- c(items, list(list(id = as.numeric(name == "yes"), offered = offered)))
      next
    }
    known <- cx$names[[name]]
    ids <- if (!is.null(known$members)) known$members else match(name, cx$labels)
    for (id in ids[!is.na(ids)]) items <- c(items, list(list(id = id, offered = offered)))
  }
  if (anyDuplicated(vapply(items, `[[`, 0, "id"))) report(cx, "argument_twice", one_of$at, "An answer is listed twice.", "keep one")
  list(how = "labels", items = items)
}

# --- players ----------------------------------------------------------------

declare_player <- function(cx, name, node) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(invisible())
  seat <- NULL
  if (!is.null(args$seat)) {
    seat <- match(args$seat$name, cx$seats)
    if (args$seat$kind != "name" || is.na(seat)) {
      report(cx, "unknown_seat", args$seat$at, "A player's first argument is a seat, or is left out.", or_spelling(did_you_mean(if (is.null(args$seat$name)) "" else args$seat$name, cx$seats)))
      seat <- NULL
    }
  }
  rules <- list()
  for (i in seq_along(args$dots)) {
    decision <- args$dot_names[[i]]
    rule <- args$dots[[i]]
    d <- cx$names[[decision]]
    if (identical(d$kind, "unread")) next
    if (!nzchar(decision) || is.null(d) || d$kind != "decision") {
      decisions <- names(Filter(function(x) x$kind == "decision", cx$names))
      mend <- did_you_mean(decision, decisions)
      report(cx, "rule_unasked", args$dot_at[[i]], if (nzchar(decision)) sprintf("No `ask` asks for `%s`.", decision) else "A rule needs the name of its decision.",
             if (is.null(mend) && length(decisions) > 0) sprintf("the decisions are %s", some_of_names(decisions)) else mend)
      next
    }
    rules[[decision]] <- rule
  }
  if (declare(cx, name$name, name$at, "player")) {
    cx$players[[name$name]] <- list(name = name$name, seat = seat, rules = rules, like = args$like, at = name$at)
  }
}

# Rules taken over from another player; then every rule is checked.
check_players <- function(cx) {
  for (p in cx$players) cx$players[[p$name]]$rules <- inherited_rules(cx, p, p$name)
  for (p in cx$players) for (decision in names(p$rules)) check_rule(cx, p, decision)
  for (d in Filter(function(x) x$kind == "decision", cx$names)) check_answered(cx, d)
}

inherited_rules <- function(cx, player, seen) {
  if (is.null(player$like)) return(player$rules)
  model <- cx$players[[if (is.null(player$like$name)) "" else player$like$name]]
  if (is.null(model) || model$name %in% seen) {
    report(cx, "unknown_player", player$like$at, "`like` names another player.", or_spelling(did_you_mean(if (is.null(player$like$name)) "" else player$like$name, names(cx$players))))
    return(player$rules)
  }
  rules <- inherited_rules(cx, model, c(seen, model$name))
  rules[names(player$rules)] <- player$rules
  rules
}

check_rule <- function(cx, player, decision) {
  d <- cx$names[[decision]]
  rule <- player$rules[[decision]]
  sc <- new_scope(sprintf("the rule of the player `%s`", player$name), may_draw = TRUE)
  sc$me <- sc$chooser <- new_variable(cx, "me", seat_type(cx), rule$at, "bound")
  sc$decision <- d
  v <- function_body(cx, sc, rule, rule$at)
  answer <- if (is.null(v$exit)) v$type else v$exit$variable$type
  if (!is_unknown(answer) && !fits_type(answer, d$type)) {
    if (is_kind(answer, "label") && is_kind(d$type, "label")) {
      report(cx, "answer_illegal", rule$at, sprintf("`%s` is never among the answers of `%s`.", cx$labels[[setdiff(answer$members, d$type$members)[[1]]]], decision),
             sprintf("the answers are %s", some_of_names(cx$labels[d$type$members])))
    } else wrong_type(cx, v, d$type, sprintf("The answer to `%s`", decision))
  }
  cx$names[[decision]]$rules[[player$name]] <- list(body = v, me = sc$me)
}

check_answered <- function(cx, d) {
  for (seat in d$asked) {
    if (any(vapply(cx$players, player_can, NA, seat = seat, decisions = d$name))) next
    report(cx, "decision_unanswered", d$at, sprintf("No player answers `%s` for `%s`.", d$name, cx$seats[[seat]]),
           sprintf("write one: even <- player(%s = pick(choices))", d$name))
  }
}

player_can <- function(player, seat, decisions) {
  (is.null(player$seat) || player$seat == seat) && all(decisions %in% names(player$rules))
}
