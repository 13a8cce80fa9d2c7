# A sampled evening, for games whose rounds depend on each other or whose chain has too many states. The staking rule
# is compiled into the game: after each round the wallet changes by the stake times the pay of the seat.

# The question with an evening around its game, one unit an evening. `cost` is the most that a round may cost, `pots`
# what pots that last hold at the start: they go on from round to round.
with_evening <- function(question, rule, terms, seat, cost, seconds = NULL, pots = NULL) {
  at <- c(1L, 1L, 1L, 1L)
  context <- context_of(question)
  context$spans <- "sitting"
  paid <- paid_to_seat(context, seat, at)
  is_whole <- is_kind(paid$type, "whole") && cost == round(cost) && terms$wallet == round(terms$wallet)
  kept <- evening_variables(context, terms, if (is_whole) t_whole else t_fraction, at)
  of <- evening_expressions(context, kept, rule, terms, cost, paid, at)
  steps <- evening_steps(of, kept, if (!is.null(seconds)) seconds_spent(context, seconds), at)
  over <- evening_ends(of, terms)
  blame_expression(context$diagnostics, rule$text, question$game$source)
  question <- counted_too(question, context)
  question$unit_values <- evening_values(of, names(over))
  question$game$state <- context$state
  for (pot in names(pots)) {
    piece <- question$game$money$piece
    start <- literal(round(pots[[pot]] * piece$den / piece$num), t_whole, at)
    question$game$state[[pot]][c("lasts", "start")] <- list("sitting", start)
  }
  question$game$spans <- "sitting"
  question$game$sitting <- list(
    at = at, rounds = if (is.finite(terms$rounds)) literal(terms$rounds, t_whole, at),
    until = list(condition = Reduce(function(a, b) calculation("||", t_yesno, at, list(a, b)), over)))
  question$game$after_round <- steps
  question
}

# In whole numbers where all that is paid is whole: quicker, and as exact.
evening_variables <- function(context, terms, type, at) {
  keep <- function(name, start = 0) {
    type <- if (name == "clock") t_fraction else type
    variable <- new_variable(context, paste("evening", name), type, at, "state", key = paste("evening", name))
    context$state[[variable$name]] <- list(name = variable$name, variable = variable, lasts = "sitting", at = at,
                                           start = literal(start, type, at), scratch = TRUE, money = TRUE,
                                           hidden = TRUE)
    variable
  }
  starts <- list(wallet = terms$wallet, lowest = terms$wallet, highest = terms$wallet)
  names <- c(stake_names, "put_in", "cuts", "lowest", "highest", "drawdown", "losses", "clock", "played")
  stats::setNames(lapply(names, function(name) keep(name, if (is.null(starts[[name]])) 0 else starts[[name]])), names)
}

# Gives a function from expressions over the evening, by name, to their typed nodes. Rules of the evening, limits and
# `paid` are replaced by what they stand for; what is kept is read as it is then.
evening_expressions <- function(context, kept, rule, terms, cost, paid, at) {
  limits <- c(evening_limits(terms, cost), list(rounds = terms$rounds, seconds = 60 * max(0, terms$minutes)))
  number <- function(x) plain_literal(if (is.finite(x)) x else 2^31 - 1, at)  # the greatest whole number
  known <- c(lapply(limits, number), list(paid = paid))
  named <- c(list(wanted = parse_expression(rule$text)), parse_named(evening_rules))
  scope <- new_scope("a staking rule")
  scope$vars <- kept
  for (name in names(known)) scope$vars[[name]] <- bound_to(context, name, known[[name]], at)
  of <- function(node) check_value(context, scope, node)
  for (name in names(named)) {
    node <- of(named[[name]])
    if (name == "wanted") node <- needs_number(context, node, "The stake")
    scope$vars[[name]] <- bound_to(context, name, node, at)
  }
  function(texts) lapply(parse_named(texts), of)
}

bound_to <- function(context, name, node, at) {
  variable <- new_variable(context, name, node$type, at, "bound")
  variable$node <- node
  variable
}

plain_literal <- function(x, at) literal(x, if (x == round(x) && abs(x) < 2^31) t_whole else t_fraction, at)

paid_to_seat <- function(context, seat, at) {
  scope <- ended_scope("an evening")
  scope$indexing <- TRUE
  paid <- paid_value(context, scope, at)
  typed("at_key", paid$type$of, at, var = paid$var, key = literal(seat, seat_type(context), at))
}

seconds_spent <- function(context, seconds) {
  number_value(context, ended_scope("the length of a round"),
               parse_expression(if (is.numeric(seconds)) plain_number(seconds) else seconds), "How long a round takes")
}

evening_steps <- function(of, kept, spent, at) {
  changes <- of(evening_changes)
  if (!is.null(spent)) changes$clock <- number_of("+", of(c(clock = "clock"))$clock, spent, at)
  unname(Map(function(name, value) set_money(kept[[name]], convert(value, kept[[name]]$type), at), names(changes),
             changes))
}

# What ends an evening, as conditions: list(ruin, goal, left, late).
evening_ends <- function(of, terms) {
  of(c(ruin = "ruined", if (is.finite(terms$goal)) c(goal = "reached"), if (terms$short == "leave") c(left = "leaves"),
       if (!is.null(terms$minutes)) c(late = "clock >= seconds")))
}

# The quantities of each evening: typed nodes by name. Who has played the last round leaves no earlier.
evening_values <- function(of, ends) {
  kept <- c(final = "wallet", put_in = "put_in", cut = "cuts", lowest = "lowest", drawdown = "drawdown",
            losses = "losses", clock = "clock")
  goal <- if ("goal" %in% ends) "reached" else "no"
  left <- if ("left" %in% ends) "leaves && played < rounds" else "no"
  of(c(kept, goal = goal, ruin = sprintf("!(%s) && ruined", goal),
       left = sprintf("!(%s) && !ruined && %s", goal, left)))
}

# The measures of evenings that were played: as those that were counted, with what only playing tells.
played_evening <- function(game, program, task) {
  play <- function(tick) run_sample(game, program, task$evenings, task$seed, task$threads, 1, tick)
  counts <- with_part_result(with_progress(task$evenings, "evenings", NULL, play), function(stop) {
    if (!isTRUE(stop$counts$units > 0)) return(list())
    list(after = sprintf("%s of %s evenings", whole_text(stop$counts$units), whole_text(task$evenings)),
         evening = evening_of_counts(program, stop$counts, task))
  })
  evening_of_counts(program, counts, task)
}

evening_of_counts <- function(program, counts, task) {
  terms <- task$terms
  quantities <- stats::setNames(counts$unit_quantities, program$measures)
  mean_of <- function(name) weighted(quantities[[name]]$value, quantities[[name]]$weight)
  final <- quantities$final
  final <- list2DF(list(value = round(final$value, 9), probability = final$weight / sum(final$weight)))
  mean <- sum(final$value * final$probability)
  rounds <- mean_of("rounds")
  is_last <- quantities$rounds$value == terms$rounds
  measures <- c(
    ruin = mean_of("ruin"), goal = mean_of("goal"), left_early = mean_of("left"),
    losing = sum(final$probability[final$value < terms$wallet]),
    level = sum(final$probability[final$value == terms$wallet]),
    all_rounds = sum(quantities$rounds$weight[is_last]) / sum(quantities$rounds$weight), final = mean,
    sd = sqrt(sum(final$probability * (final$value - mean)^2)), put_in = mean_of("put_in") * task$round$put,
    rounds = rounds,
    cut = mean_of("cut") / rounds)
  list(measures = measures, evenings = counts$units, final = final, quantiles = quantiles_of(final), over_time = list(),
       played = c(lowest = mean_of("lowest"), drawdown = mean_of("drawdown"), losing_run = mean_of("losses"),
                  minutes = mean_of("clock") / 60))
}
