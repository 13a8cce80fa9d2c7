# Players: the rules by which they answer decisions.

# `given` are the parameters and their defaults of a player with arguments.
declare_player <- function(context, name, node, given = NULL) {
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
  peeks <- peeked_names(context, args$peeks)
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
                                         params = player_parameters(context, name, node, given), at = name$at)
  }
}

# By name: list(variable, type, default), the default a constant.
player_parameters <- function(context, name, node, given) {
  check_parameters(context, list(params = given$params, name = name$name, at = name$at, body = node))
  read <- Map(function(param, default) {
    if (is.null(default)) {
      report(context, "player_argument", name$at, sprintf("The argument `%s` of `%s` has no default value.", param,
                                                          name$name), sprintf("write function(%s = 20) player(...)",
                                                                              param))
      default <- list(kind = "number", value = 0, fraction = FALSE, at = name$at)
    }
    v <- check_value(context, new_scope("a player's argument"), default)
    if (!v$const || !is_kind(v$type, "whole", "fraction", "yesno", "unknown"))
      report(context, "player_argument", default$at,
             "The usual value of a player's argument is a number, or yes or no.",
             "write a number or a setting's name")
    list(name = param, type = v$type, default = v,
         variable = new_variable(context, param, v$type, default$at, "bound"))
  }, given$params, given$defaults)
  stats::setNames(read, given$params)
}

# The names that a player peeks at; TRUE for everything.
peeked_names <- function(context, node) {
  if (is.null(node)) return(character())
  if (identical(node$name, "yes")) return(TRUE)
  if (identical(node$name, "no")) return(character())
  unlist(lapply(listed(node), function(part) {
    d <- if (part$kind == "name") context$names[[part$name]]
    if (!is.null(d) && d$kind %in% c("state", "decision")) return(part$name)
    hidden <- Filter(function(d) d$kind %in% c("state", "decision"), context$names)
    report(context, "peeks_at", part$at, "A player peeks at something remembered, or at a decision, by its name.",
           or_spelling(did_you_mean(if (part$kind == "name") part$name else "", names(hidden))))
    NULL
  }))
}

# Rules taken over from another player; then every rule is checked.
check_players <- function(context) {
  for (p in context$players) {
    context$players[[p$name]]$rules <- inherited_rules(context, p, p$name)
    context$players[[p$name]]$params <- inherited_parameters(context, p)
  }
  for (p in context$players) for (decision in names(p$rules)) check_rule(context, p, decision)
  for (mode in names(context$mode_players)) check_mode_players(context, mode)
}

# A mode may also say who plays a seat: the player's name, or it with arguments.
check_mode_players <- function(context, mode) {
  for (seat in names(context$mode_players[[mode]])) {
    node <- context$mode_players[[mode]][[seat]]
    wanted <- switch(node$kind, name = node$name, call = node$fn, "")
    if (is.null(context$players[[wanted]]))
      report(context, "unknown_player", node$at, sprintf("The mode `%s` seats an unknown player.", mode),
             or_spelling(did_you_mean(wanted, names(context$players))))
    context$mode_players[[mode]][[seat]] <- if (node$kind == "call") source_text(context$source, node$at) else wanted
  }
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

inherited_parameters <- function(context, player) {
  model <- if (!is.null(player$like$name)) context$players[[player$like$name]]
  c(player$params, model$params[setdiff(names(model$params), names(player$params))])
}

# Who reads, and may read only what a seat sees: `me`, or where it is known the seat.
viewer_of <- function(me, seat = NULL, peeks = character()) {
  is_me <- function(key) (key$op == "var" && identical(key$var$id, me$id)) ||
    (!is.null(seat) && key$op == "lit" && key$value == seat)
  list(id = me$id, is_me = is_me, seat = seat, peeks = peeks,
       hint = "decide without it, or name what the player peeks at, as in peeks = hand")
}

check_rule <- function(context, player, decision) {
  d <- context$names[[decision]]
  rule <- player$rules[[decision]]
  scope <- new_scope(sprintf("the rule of the player `%s`", player$name), may_draw = TRUE)
  scope$me <- scope$chooser <- new_variable(context, "me", seat_type(context), rule$at, "bound")
  if (!isTRUE(player$peeks)) scope$viewer <- viewer_of(scope$me, player$seat, player$peeks)
  scope$decision <- d
  read_locals(context, scope, Filter(function(v) !assigns_to(rule, v$name), d$locals), rule$at)
  for (p in player$params)
    scope$vars[[p$name]] <- list(node = typed("var", p$type, rule$at, var = p$variable), name = p$name, where = "alias")
  v <- function_body(context, scope, rule, rule$at)
  answer <- if (is.null(v$exit)) v$type else v$exit$variable$type
  if (is_collection(answer) && is_collection(d$type)) answer$kind <- d$type$kind  # a list will do for a bag
  if (!is_unknown(answer) && !fits_type(answer, d$type)) {
    if (is_kind(answer, "label") && is_kind(d$type, "label")) {
      report(context, "answer_illegal", rule$at,
             sprintf("`%s` is never among the answers of `%s`.",
                     context$labels[[setdiff(answer$members, d$type$members)[[1]]]], decision),
             sprintf("the answers are %s", some_of_names(context$labels[d$type$members])))
    } else wrong_type(context, v, d$type, sprintf("The answer to `%s`", decision))
  }
  context$names[[decision]]$rules[[player$name]] <- list(body = v, me = scope$me,
                                                         waits = waits_for_answers(context, player, d, v))
}

# Does the rule read the others' answers of the same ask? Only a player that peeks may, and answers after them.
waits_for_answers <- function(context, player, d, rule) {
  if (!d$together) return(FALSE)
  at <- NULL
  walk(rule, function(n) if (n$op %in% c("var", "at_key") && identical(n$var$id, d$variable$id)) at <<- n$at)
  if (is.null(at)) return(FALSE)
  if (!isTRUE(player$peeks) && !d$name %in% player$peeks)
    report(context, "answer_unseen", at,
           sprintf("`%s` is being asked: nobody sees an answer before all are given.", d$name),
           sprintf("decide without it; a player that cheats says so: peeks = %s", d$name))
  TRUE
}

player_can <- function(player, seat, decisions) {
  (is.null(player$seat) || player$seat == seat) && all(decisions %in% names(player$rules))
}

# A player without a rule for some decision can still be chosen by name: it may never meet that decision.
player_may <- function(player, seat, decisions) {
  (is.null(player$seat) || player$seat == seat) &&
    (length(decisions) == 0 || any(decisions %in% names(player$rules)))
}

# A parameter is a name like any other: it may not also mean something in the whole file.
check_parameters <- function(context, d) {
  for (p in d$params) {
    before <- context$names[[p]]
    if (identical(before$kind, "state") && !assigns_to(d$body, p)) next  # reads what it is given, under the same name
    if (!is.null(before))
      report(context, "name_twice", d$at,
             sprintf("The parameter `%s` of `%s` already names %s (line %d).", p, d$name, kind_in_words(before$kind),
                     before$at[[1]]), "choose another name for the parameter")
    else if (p %in% c(words_of_kind("constant"), "seats")) {
      report(context, "name_taken", d$at,
             sprintf("`%s` is a word of the language and cannot name a parameter.", p), "choose another name")
    }
  }
}
