# Decisions and players. A decision is named by `ask`; its name is the rule of a player, and
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
