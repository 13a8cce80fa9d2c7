# A sampled evening, for games whose rounds depend on each other or whose chain has too many states. The staking rule
# is compiled into the game: after each round the wallet changes by the stake times the pay of the seat.

evening_names <- c("wallet", "last_stake", "last_net", "run")

# The question with an evening around its game, one unit an evening. `cost` is the most that a round may cost, `pots`
# what pots
# that last hold at the start: they go on from round to round.
with_evening <- function(question, rule, terms, seat, cost, seconds = NULL, pots = NULL) {
  at <- c(1L, 1L, 1L, 1L)
  context <- context_of(question)
  context$spans <- "sitting"
  paid <- paid_to_seat(context, seat, at)
  is_whole <- is_kind(paid$type, "whole") && cost == round(cost) && terms$wallet == round(terms$wallet)
  kept <- evening_variables(context, terms, if (is_whole) t_whole else t_fraction, at)
  asked <- stake_asked(context, kept, rule$text, at)
  spent <- if (!is.null(seconds)) seconds_spent(context, seconds)
  blame_expression(context$diagnostics, rule$text, question$game$source)
  question <- counted_too(question, context)
  question$unit_values <- evening_told(kept, asked, terms, cost, at)
  game <- question$game
  game$state <- context$state
  for (pot in names(pots)) {
    start <- literal(round(pots[[pot]] * game$money$piece$den / game$money$piece$num), t_whole, at)
    game$state[[pot]][c("lasts", "start")] <- list("sitting", start)
  }
  game$spans <- "sitting"
  game$sitting <- list(at = at, rounds = if (is.finite(terms$rounds)) literal(terms$rounds, t_whole, at),
                       until = list(condition = evening_over(kept, asked, terms, cost, at)))
  game$after_round <- evening_steps(kept, asked, paid, spent, terms, cost, at)
  question$game <- game
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
  names <- c(evening_names, "put_in", "cut", "lowest", "highest", "drawdown", "losses", "clock", "played")
  stats::setNames(lapply(names, function(name) keep(name, if (is.null(starts[[name]])) 0 else starts[[name]])), names)
}

evening_value <- function(kept, name, at) typed("var", kept[[name]]$type, at, var = kept[[name]])

plain_literal <- function(x, at) literal(x, if (x == round(x) && abs(x) < 2^31) t_whole else t_fraction, at)

whole_part <- function(x, at) {
  if (is_kind(x$type, "whole")) return(x)
  calculation("round_down", t_whole, at, list(number_of("+", x, literal(1e-9, t_fraction, at), at)))
}

# The stake that the rule asks for, as a whole number.
stake_asked <- function(context, kept, text, at) {
  scope <- new_scope("a staking rule")
  scope$vars <- kept[evening_names]
  whole_part(number_value(context, scope, parse_expression(text), "The stake"), at)
}

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

can_stake <- function(kept, cost, at) {
  wallet <- evening_value(kept, "wallet", at)
  if (is_kind(wallet$type, "whole")) number_of("%/%", wallet, plain_literal(cost, at), at)
  else whole_part(number_of("/", wallet, plain_literal(cost, at), at), at)
}

evening_over <- function(kept, asked, terms, cost, at) {
  ends <- list(evening_ruined(kept, terms, cost, at))
  if (is.finite(terms$goal)) ends <- c(ends, list(evening_goal(kept, terms, at)))
  if (terms$short == "leave") ends <- c(ends, list(evening_left(kept, asked, terms, cost, at)))
  if (!is.null(terms$minutes))
    ends <- c(ends, list(number_test(">=", evening_value(kept, "clock", at), plain_literal(60 * terms$minutes, at),
                                     at)))
  Reduce(function(a, b) calculation("||", t_yesno, at, list(a, b)), ends)
}

# Does the wallet hold less than the least stake may cost?
evening_ruined <- function(kept, terms, cost, at) {
  wallet <- evening_value(kept, "wallet", at)
  if (!is_kind(wallet$type, "whole")) wallet <- number_of("+", wallet, plain_literal(1e-9, at), at)
  number_test("<", wallet, plain_literal(terms$least * cost, at), at)
}

evening_goal <- function(kept, terms, at)
  number_test(">=", evening_value(kept, "wallet", at), plain_literal(terms$goal, at), at)

evening_left <- function(kept, asked, terms, cost, at)
  number_test(">", number_of("max", asked, plain_literal(terms$least, at), at), can_stake(kept, cost, at), at)

# One round's change, in the order in which it happens.
evening_steps <- function(kept, asked, paid, spent, terms, cost, at) {
  now <- function(name) evening_value(kept, name, at)
  set <- function(name, value) set_money(kept[[name]], convert(value, kept[[name]]$type), at)
  number <- function(x) plain_literal(x, at)
  least <- number_of("max", asked, number(terms$least), at)
  can <- can_stake(kept, cost, at)
  if (is.finite(terms$most)) can <- number_of("min", can, number(terms$most), at)
  stake <- now("last_stake")
  net <- now("last_net")
  type <- kept$run$type
  run <- next_run(now("run"), net, at)
  is_cut <- typed("as_number", t_whole, at, x = number_test(">", least, can, at))
  c(list(set("played", number_of("+", now("played"), number(1), at)),
         set("cut", number_of("+", now("cut"), is_cut, at)),
         set("last_stake", number_of("min", least, can, at)),
         set("put_in", number_of("+", now("put_in"), stake, at)),
         set("last_net", number_of("*", stake, paid, at)),
         set("wallet", number_of("+", now("wallet"), net, at)),
         set("run", run),
         set("losses", number_of("max", now("losses"), calculation("neg", type, at, list(now("run"))), at)),
         set("lowest", number_of("min", now("lowest"), now("wallet"), at)),
         set("highest", number_of("max", now("highest"), now("wallet"), at)),
         set("drawdown", number_of("max", now("drawdown"), number_of("-", now("highest"), now("wallet"), at), at))),
    if (!is.null(spent)) list(set("clock", number_of("+", now("clock"), spent, at))))
}

# The quantities of each evening: list(name, node).
evening_told <- function(kept, asked, terms, cost, at) {
  now <- function(name) evening_value(kept, name, at)
  of_kept <- lapply(c("wallet", "put_in", "cut", "lowest", "drawdown", "losses", "clock"), now)
  names(of_kept) <- c("final", "put_in", "cut", "lowest", "drawdown", "losses", "clock")
  goal <- if (is.finite(terms$goal)) evening_goal(kept, terms, at) else literal(0, t_yesno, at)
  not_goal <- calculation("!", t_yesno, at, list(goal))
  ruin <- calculation("&&", t_yesno, at, list(not_goal, evening_ruined(kept, terms, cost, at)))
  left <- if (terms$short == "leave") evening_left(kept, asked, terms, cost, at) else literal(0, t_yesno, at)
  # who has played the last round leaves no earlier
  if (is.finite(terms$rounds))
    left <- calculation("&&", t_yesno, at, list(number_test("<", now("played"), plain_literal(terms$rounds, at), at),
                                                left))
  still <- calculation("&&", t_yesno, at, list(not_goal, calculation("!", t_yesno, at, list(ruin))))
  c(of_kept, list(goal = goal, ruin = ruin, left = calculation("&&", t_yesno, at, list(still, left))))
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
  told <- stats::setNames(counts$unit_quantities, program$measures)
  mean_of <- function(name) weighted(told[[name]]$value, told[[name]]$weight)
  final <- told$final
  final <- list2DF(list(value = round(final$value, 9), probability = final$weight / sum(final$weight)))
  mean <- sum(final$value * final$probability)
  rounds <- mean_of("rounds")
  is_last <- told$rounds$value == terms$rounds
  measures <- c(
    ruin = mean_of("ruin"), goal = mean_of("goal"), left_early = mean_of("left"),
    losing = sum(final$probability[final$value < terms$wallet]),
    level = sum(final$probability[final$value == terms$wallet]),
    all_rounds = sum(told$rounds$weight[is_last]) / sum(told$rounds$weight), final = mean,
    sd = sqrt(sum(final$probability * (final$value - mean)^2)), put_in = mean_of("put_in") * task$round$put,
    rounds = rounds,
    cut = mean_of("cut") / rounds)
  list(measures = measures, evenings = counts$units, final = final, quantiles = quantiles_of(final), over_time = list(),
       played = c(lowest = mean_of("lowest"), drawdown = mean_of("drawdown"), losing_run = mean_of("losses"),
                  minutes = mean_of("clock") / 60))
}
