# Settling: what a bet brings back, by outcome or by conditions, at the end of a round or at once in play.

# settle(line, won = 1 %to% 1, if (face == 6) push, otherwise = lost, most = 100)
settle_line <- function(context, scope, node, in_play) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(NULL)
  d <- money_place(context, args$bet, "bet")
  cases <- list()
  for (i in seq_along(args$dots)) {
    case <- settle_case(context, scope, args$dots[[i]], args$dot_names[[i]], args$dot_at[[i]], in_play)
    if (length(cases) > 0 && is.null(cases[[length(cases)]]$cond) && length(case) > 0)
      report(context, "settle_order", args$dots[[i]]$at, "After `otherwise` no other case can be reached.",
             "put it last")
    cases <- c(cases, case)
  }
  if (is.null(d)) return(NULL)
  named <- args$dot_names[nzchar(args$dot_names) & args$dot_names != "otherwise"]
  numbers <- unlist(lapply(named, outcome_numbers, context = context))
  covered <- length(named) > 0 && all(seq_along(context$outcomes$names) %in% numbers)
  if (!"otherwise" %in% args$dot_names && !covered)
    report(context, "settle_gap", node$at, sprintf("`settle` does not cover every case of `%s`.", d$name),
           "end with otherwise = lost, or otherwise = push")
  most <- if (!is.null(args$most)) pieces_value(context, scope, args$most, "The most that a bet wins")
  list(bet = d$name, cases = cases, most = most, by_outcome = length(named) > 0, at = node$at)
}

# The cases of one argument: list(cond, or NULL for any other case; odds).
settle_case <- function(context, scope, node, name, at, in_play) {
  if (!nzchar(name)) return(conditional_odds(context, scope, node))
  cases <- odds_cases(context, scope, node)
  if (name == "otherwise") return(cases)
  if (in_play) {
    report(context, "settle_outcome", at, "In play no outcome is known yet.",
           "settle by conditions, as in settle(line, if (face == 6) 5 %to% 1, otherwise = lost)")
    return(list())
  }
  numbers <- outcome_numbers(context, name)
  if (length(numbers) == 0) {
    no_such_outcome(context, at, name)
    return(list())
  }
  with_condition(outcome_is(numbers, at), cases)
}

conditional_odds <- function(context, scope, node) {
  if (is_call(node, "if")) return(odds_cases(context, scope, node))
  report(context, "settle_case", node$at, "A case is `outcome = odds`, or `if (condition) odds`.",
         "write settle(line, won = 1 %to% 1, otherwise = lost)")
  list()
}

with_condition <- function(cond, cases) {
  lapply(cases, function(case) {
    case$cond <- if (is.null(case$cond)) cond else calculation("&&", t_yesno, cond$at, list(cond, case$cond))
    case
  })
}

# Odds, or `if` among odds, as a row of cases.
odds_cases <- function(context, scope, node) {
  if (is_call(node, "{") && length(node$args) == 1) return(odds_cases(context, scope, node$args[[1]]))
  if (!is_call(node, "if")) return(list(list(cond = NULL, brings = odds_value(context, scope, node))))
  cond <- condition(context, scope, node$args[[1]])
  c(with_condition(cond, odds_cases(context, scope, node$args[[2]])),
    if (length(node$args) > 2) odds_cases(context, scope, node$args[[3]]))
}

named_odds <- list(push = c(1, 1), lost = c(0, 1))

# list(how = "to", "for" or "stands", a, b): a to b is profit, a for b all that comes back.
odds_value <- function(context, scope, node) {
  if (node$kind == "name" && node$name %in% c(names(named_odds), "stands")) {
    if (node$name == "stands") return(list(how = "stands", at = node$at))
    sides <- lapply(named_odds[[node$name]], literal, type = t_whole, at = node$at)
    return(list(how = "for", a = sides[[1]], b = sides[[2]], at = node$at))
  }
  wrong <- function(id, at, message, hint) {
    report(context, id, at, message, hint)
    list(how = "for", a = no_money(node$at), b = literal(1, t_whole, node$at), at = node$at)
  }
  if (!is_odds(node)) {
    if (is.list(node$args) && any(vapply(node$args, is_odds, NA)))
      return(wrong("odds_arithmetic", node$at, "`%to%` binds before the arithmetic around it.",
                   "put the side in brackets: (2 * x) %to% 1"))
    return(wrong("odds_wanted", node$at, "A settlement is written as odds.",
                 "write 3 %to% 1 (profit), 4 %for% 1 (all that comes back), push, lost or stands"))
  }
  sides <- lapply(node$args, function(side) number_value(context, scope, side, "A side of odds"))
  known <- lapply(sides, literal_number)
  if (!is_unknown(sides[[2]]$type) && isTRUE(known[[2]] <= 0))
    return(wrong("odds_zero", node$args[[2]]$at, "The right side of odds must be above zero.",
                 "it says for how many tokens the left side is paid: 3 %to% 1"))
  if (isTRUE(known[[1]] < 0))
    return(wrong("odds_negative", node$args[[1]]$at, "The left side of odds is below zero.",
                 "for a bet that is lost write lost; for a part that comes back 1 %for% 2"))
  list(how = gsub("%", "", node$fn, fixed = TRUE), a = sides[[1]], b = sides[[2]], at = node$at)
}

is_odds <- function(node) is_call(node, "%to%") || is_call(node, "%for%")

# At the end of a round.
check_settle <- function(context, node) {
  for (line in Filter(Negate(is.null), settle_lines(context, new_scope("settle"), node, in_play = FALSE))) {
    for (other in context$money$settles) if (other$bet == line$bet)
      report(context, "settle_twice", node$at, sprintf("`%s` is settled twice at the end of a round.", line$bet),
             "join the two: the first case that holds counts")
    context$money$settles <- c(context$money$settles, list(line))
  }
}

# In play, at once.
statement_settle <- function(context, scope, node) {
  empty <- in_order(list(), node$at)
  if (!may_write(context, scope, node$at, "A bet")) return(empty)
  lines <- Filter(Negate(is.null), settle_lines(context, scope, node, in_play = TRUE))
  in_order(lapply(lines, function(line) {
    context$money$bets[[line$bet]]$settled_in_play <- TRUE
    typed("settle", t_nothing, node$at, line = line,
          writes = c(context$money$bets[[line$bet]]$variable$id, wallet_ids(context$money)))
  }), node$at)
}

# Checks across declarations.
check_settlement <- function(context) {
  money <- context$money
  at_end <- vapply(money$settles, `[[`, "", "bet")
  for (bet in money$bets) {
    if (!bet$name %in% at_end && !isTRUE(bet$settled_in_play))
      report(context, "bet_left", bet$at, sprintf("`%s` is never settled.", bet$name),
             sprintf("add settle(%s, ..., otherwise = lost)", bet$name))
    if (!bet$staked && bet$opening$op == "lit" && bet$opening$value == 0)
      report(context, "bet_never", bet$at, sprintf("Nobody can ever put anything on `%s`.", bet$name),
             sprintf("stake on it in play, as in stake(%s, 1, on = %s)", context$seats[[bet$seat]], bet$name))
  }
  stands <- Filter(function(line) any(vapply(line$cases, function(c) c$brings$how == "stands", NA)), money$settles)
  if (!"sitting" %in% context$spans) for (line in stands)
    report(context, "stands_alone", line$at, "A bet that stands over needs a next round.",
           "declare how long one sits: sitting(rounds = 20)")
  for (line in stands) add_standing(context, line$bet)
  if (any(vapply(money$settles, `[[`, NA, "by_outcome")))
    for (e in context$outcomes$entries) if (any(gained_ids(money) %in% variables_in(e, "var")))
      report(context, "settle_circle", e$at, "Gain and outcome depend on each other here.",
             "settle by conditions instead of outcomes, or leave `gained` out of outcomes")
}

# The variables that `gained` reads.
gained_ids <- function(money) vapply(money$bets, function(b) b$back$id, 0L)

# A bet that stood over lies there again in the next round, in place of its opening.
add_standing <- function(context, name) {
  bet <- context$money$bets[[name]]
  context$money$bets[[name]]$standing <- money_variable(context, paste("standing on", name), no_money(bet$at),
                                                        "sitting",
                                                        bet$at)
}
