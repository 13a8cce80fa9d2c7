#' A visitor's evening
#'
#' What becomes of a wallet when somebody plays round after round: ruin, the goal, a losing evening, what is left. The
#' odds of a round are counted, and the evening from them as a Markov chain; where that cannot be, evenings are played.
#' Nothing in the rules is touched.
#'
#' @inheritParams odds
#' @param wallet Tokens brought.
#' @param stake How many times what the rules say is put in, so tokens where they say one token: a number, or a text
#'   with an expression over `wallet`, `last_stake`, `last_net` (what the last round brought in tokens, less than 0 for
#'   a loss) and `run` (wins in a row, or losses in a row as a negative number); several, named, are set side by side.
#'   It is rounded down to a whole number. What is asked for beyond the limit or the wallet is cut to the greatest stake
#'   that can be paid.
#' @param evening_rounds The most rounds of the evening; `Inf` for no limit.
#' @param goal The visitor leaves with this much or more; `NULL` for no goal.
#' @param least,most The least and the greatest stake, as `stake`.
#' @param short What a visitor does whose wallet is too short for the stake asked for: `"rest"` stakes what is left,
#'   `"leave"` goes home.
#' @param seat The seat; by default the first that puts in a stake.
#' @param round_seconds How long a round takes, to tell minutes: a number, or an expression such as `"4 + 3 * asks"`;
#'   `NULL` for none.
#' @param minutes The visitor leaves after so many minutes; `NULL` for no such limit.
#' @param method `"count"` the evening as a Markov chain; `"play"` evenings; `"auto"`: count where rounds are
#'   independent and every rule can be counted within a few seconds, else play.
#' @param evenings How many evenings to play. Rules side by side are played on the same luck.
#' @param path The number of an evening to tell step by step, or `NULL`.
#' @param over_time Also tell the wallet over the rounds where evenings are played, which takes longer.
#' @param ... More arguments of [odds()], for the odds of a round.
#' @return An object of class `basanos_bankroll`: a list with `measures`, a data frame with one row a staking rule:
#'   `rule`, `stake`, `ruin`, `goal`, `left_early`, `losing` (ended below what was brought), `level`, `all_rounds`
#'   (played the last round), `final` (mean wallet at the end), `sd`, `put_in` (mean tokens put in in all), `rounds`
#'   (mean), `cut` (the share of the rounds in which the rule asked for more than could be staked) and the quantiles
#'   of the final wallet; `finals` and `over_time`, lists of data frames by rule: the final wallet, and its quantiles
#'   after each round (of evenings that are counted). Of evenings that are played also `evenings`, how many, and
#'   `played`, a data frame with the means of `lowest` (wallet), `drawdown` (the greatest fall from an earlier high),
#'   `losing_run` (the longest) and `minutes`. `pots` has what pots that last hold when the visitor comes: their mean
#'   over time; `players` has who plays. With `path` a data frame for each rule: `round`, `stake`, `result` and
#'   `wallet`.
#' @inheritSection odds Stopped
#' @section Formulas: The wallet, and what else the rule reads, is the state of a Markov chain; its distribution is
#'   carried from round to round. A ruined visitor cannot pay the least stake.
#' @section Errors: `no_stake`, `rounds_linked` where rounds depend on each other, `stake_rule_wrong`, `bankroll_wrong`,
#'   `bankroll_large`, `bankroll_endless`, and those of [odds()].
#' @export
#' @examples
#' bankroll("lantern-tiles", wallet = 20, evening_rounds = 50, goal = 30)
bankroll <- function(game, wallet = 20, stake = c(flat = "1"), evening_rounds = 200, goal = NULL, least = 1,
                     most = Inf, short = c("rest", "leave"), seat = NULL, round_seconds = NULL, minutes = NULL,
                     method = c("auto", "count", "play"), evenings = 1e5, path = NULL, over_time = FALSE, seed = 1,
                     threads = 1, ...) {
  asked <- asked_here("bankroll", odds)
  seed <- given_seed(seed)
  game <- game_with(game, list(...)$set)
  short <- one_of_names(short[[1]], c("rest", "leave"), "bankroll_wrong", "short")
  method <- one_of_names(method[[1]], c("auto", "count", "play"), "bankroll_wrong", "method")
  check_rounds(evenings, "evenings")
  if (!is.null(path)) check_rounds(path, "path")
  terms <- with_minutes(evening_terms(wallet, evening_rounds, goal, least, most, short), minutes,
                        round_seconds)
  if (length(stake) == 0)
    abort_input("stake_rule_wrong", "There is no staking rule.", "write stake = 1 (--stake 1)")
  rules <- lapply(as.list(stake), stake_rule)
  for (rule in rules) rule$of("wanted", evening_start(terms))  # one that gives no number then is refused at once
  seat <- staked_seat(game, seat)
  refuse_other_evenings(game)
  round_odds <- odds_of_round(game, seed = seed, threads = threads, measure = seconds_measure(round_seconds),
                              ...)
  round <- round_results(round_odds, seat)
  pots <- mean_levels(round_odds$pots, game)
  linked <- round_odds$unit != "round" || !is.null(terms$minutes) || length(pots) > 0
  if (linked && method == "count")
    abort_input("rounds_linked", sprintf("The rounds of %s depend on each other%s: one does not describe many.",
                                         round_odds$game, if (length(pots) > 0) sprintf(" by `%s`", names(pots)[[1]])
                                         else sprintf(" in a %s", round_odds$unit)),
                "play them: method = \"play\" (--method play)")
  task <- list(game = game, terms = terms, seat = seat, round = round, linked = linked, pots = pots,
               round_seconds = round_seconds,
               evenings = evenings, seed = seed, threads = threads, more = list(...))
  names(rules) <- rule_names(rules, names(stake))
  so_far <- function(results, after, stop) {
    results[lengths(results) == 0][1] <- list(stop$evening)  # the rule that was being played
    results <- Filter(Negate(is.null), results)
    if (length(results) == 0) return(list())
    after <- if (is.null(stop$evening)) after else stop$after
    task$evenings <- max(1, stop$evening$evenings)
    list(after = after, bankroll = bankroll_result(rules[names(results)], results, task, round_odds, stopped = after))
  }
  each_rule <- function(work) worked_out(rules, work, what = "staking rules", so_far = so_far)
  played <- function() each_rule(function(rule) play_evenings(rule, task))
  # Where one rule cannot be counted all are played: on the same luck, and with the same quantities.
  results <- if (linked || method == "play") played() else tryCatch(
    each_rule(function(rule) play_evening(round, rule, terms, if (method == "count") Inf else quick_branches)),
    basanos_bankroll_large = function(e) if (method == "count") stop(e) else played())
  with_call(bankroll_result(rules, results, task, round_odds, path, over_time), asked)
}

rule_names <- function(rules, given) {
  texts <- vapply(rules, `[[`, "", "text")
  if (is.null(given)) texts else ifelse(nzchar(given), given, texts)
}

bankroll_result <- function(rules, results, task, round_odds, path = NULL, over_time = FALSE, stopped = NULL) {
  measures <- do.call(rbind, lapply(results, function(e) as.data.frame(as.list(c(e$measures, e$quantiles)),
                                                                       check.names = FALSE)))
  played <- do.call(rbind, lapply(results, function(e) e$played))
  over_time_of <- function(evening, rule)
    if (over_time && !is.null(evening$played)) played_over_time(rule, task) else over_time_table(evening)
  rule <- data.frame(rule = names(rules))
  structure(list(game = round_odds$game, title = round_odds$title, seat = task$seat, terms = task$terms,
                 seconds = mean_seconds(task$round_seconds, round_odds), engine = round_odds$engine,
                 evenings = if (!is.null(played)) task$evenings,
                 measures = cbind(rule, stake = vapply(rules, `[[`, "", "text"), measures, row.names = NULL),
                 played = if (!is.null(played)) cbind(rule, as.data.frame(played), row.names = NULL),
                 players = round_odds$players, multiplied = rounds_or_caps(task$game), pots = as.list(task$pots),
                 path_of = path, path = if (!is.null(path)) lapply(rules, evening_path, task, path),
                 finals = lapply(results, `[[`, "final"), over_time = Map(over_time_of, results, rules),
                 stopped = stopped), class = result_class("bankroll"))
}

# Before the odds are worked out: an evening is played of rounds, and its wallet is the visitor's.
refuse_other_evenings <- function(game) {
  if (length(game$money$wallets) > 0)
    abort_input("wallet_own", sprintf("%s has a wallet of its own.", game_title(game)),
                "ask `basanos odds` what is left of it, or take the wallet out of the rules")
  if (!is.null(game$match))
    abort_input("rounds_linked", "An evening is played of rounds; this game has matches.",
                "ask for the odds of the whole with `basanos odds`")
}

# Of dependent rounds only the span of results is needed: the evening itself is played.
units_for_span <- 2e4

odds_of_round <- function(game, ..., rounds = NULL) {
  if (is.null(rounds) && program_span(game) != "round") rounds <- units_for_span
  odds(game, ..., rounds = rounds)
}

# A round that takes so many seconds, as a measure; how long it takes on average.
seconds_measure <- function(seconds) if (is.character(seconds)) sprintf("mean(%s)", seconds)
mean_seconds <- function(seconds, odds) if (is.character(seconds)) odds$measures$value[[1]] else seconds

# A limit of minutes is one of rounds, where all take as long.
with_minutes <- function(terms, minutes, seconds) {
  if (is.null(minutes)) return(terms)
  if (!is.numeric(minutes) || length(minutes) != 1 || is.na(minutes) || minutes <= 0)
    abort_input("bankroll_wrong", "`minutes` must be a number above zero.", "write minutes = 60 (--minutes 60)")
  if (is.null(seconds))
    abort_input("bankroll_wrong", "How many rounds fit into these minutes?",
                "say how long one takes: round_seconds = 30 (--round-seconds 30)")
  if (is.numeric(seconds)) terms$rounds <- min(terms$rounds, max(1, floor(minutes * 60 / seconds + 1e-9)))
  else terms$minutes <- minutes
  terms
}

play_evenings <- function(rule, task) {
  over <- over_at_once(task$round, rule, task$terms)
  if (!is.null(over)) return(over)
  played <- evening_question(rule, task)
  program <- program_of(played)
  played_evening(played$game, program, task)
}

# The question with the evening around the game. Rounds that are independent are drawn
# from their distribution, dependent rounds are those of the game.
evening_question <- function(rule, task) {
  base <- if (task$linked) task$game else game_of_results(task$round)
  seat <- if (task$linked) match(task$seat, base$seats) else 1L
  seconds <- if (task$linked || is.numeric(task$round_seconds)) task$round_seconds
  question <- if (task$linked) new_question(base, task$more$set, as.list(task$more$players), task$more$mode)
    else new_question(base)
  with_evening(question, rule, task$terms, seat, task$round$cost, seconds, task$pots)
}

# A game of one draw that pays what a round does.
game_of_results <- function(round) {
  names <- sprintf("r%d", seq_along(round$net))
  exact <- function(x) sprintf("%.17g", x)
  text <- c("seats(guest)", sprintf("results <- die(%s)", paste(names, "=", exact(round$probability), collapse = ", ")),
            "state(result = r1)", "play({ result <- roll(results) })", "outcomes(result)",
            sprintf("pays(guest, %s)", paste(names, "=", exact(round$net), collapse = ", ")))
  new_game(check_rules(source_of_text(paste(text, collapse = "\n"), "results")))
}

evening_terms <- function(wallet, rounds, goal, least, most, short) {
  whole <- function(x, name, from, hint) {
    if (!is.numeric(x) || length(x) != 1 || is.na(x) || x < from || (is.finite(x) && x != round(x)))
      abort_input("bankroll_wrong", sprintf("`%s` must be a whole number from %s up.", name, from), hint)
  }
  whole(wallet, "wallet", 1, "write wallet = 20 (--wallet 20)")
  whole(rounds, "evening_rounds", 1, "write evening_rounds = 200 (--evening-rounds 200)")
  whole(least, "least", 1, "write least = 1 (--least 1)")
  whole(most, "most", least, "the greatest stake is not below the least")
  if (!is.null(goal)) whole(goal, "goal", wallet + 1, "a goal lies above the wallet")
  list(wallet = wallet, rounds = rounds, goal = if (is.null(goal)) Inf else goal, least = least, most = most,
       short = short)
}

# What a round brings the seat: list(net, probability, cost, put), `cost` being the most that it may need in the wallet,
# `put` what is put in on average.
round_results <- function(odds, seat) {
  pays <- staked_pays(odds, seat)
  if (pays$stake_varies)
    abort_input("bankroll_wrong", sprintf("The first stake of %s varies from round to round already.", seat),
                "give the rules a wallet and a sitting, and let a player stake by wallet, last_net and streak")
  d <- odds$pay_distributions[[seat]]
  d <- d[d$probability > 0, ]
  list(net = d$value, probability = d$probability / sum(d$probability), cost = max(pays$stake, -min(d$value)),
       put = pays$put_in)
}

horizons <- 20
evenings_over_time <- 2000

# The wallet after so many rounds, for some numbers of rounds: each is the end of evenings that long, on the same luck.
played_over_time <- function(rule, task) {
  if (!is.finite(task$terms$rounds)) return(NULL)
  task$evenings <- min(task$evenings, evenings_over_time)
  start <- stats::setNames(rep(task$terms$wallet, length(quantile_points)), names(quantile_names()))
  rounds <- unique(round(seq(0, task$terms$rounds, length.out = horizons + 1)))[-1]
  rows <- lapply(rounds, function(n) {
    task$terms$rounds <- n
    play_evenings(rule, task)$quantiles
  })
  cbind(round = c(0, rounds), as.data.frame(do.call(rbind, c(list(start), rows))))
}

over_time_table <- function(evening) {
  if (length(evening$over_time) <= 1) return(NULL)
  table <- as.data.frame(do.call(rbind, evening$over_time))
  cbind(round = seq_len(nrow(table)) - 1, table)
}

#' @export
sections.basanos_bankroll <- function(x, ...) {
  m <- x$measures
  t <- x$terms
  tokens <- function(v) fixed_text(v, 2)
  table <- list(staking = m$rule, ruin = percent_text(m$ruin, 3))
  if (is.finite(t$goal)) table$goal <- percent_text(m$goal, 3)
  if (any(m$left_early > 0)) table[["left early"]] <- percent_text(m$left_early, 3)
  table <- c(table, list("losing evening" = percent_text(m$losing, 3), level = percent_text(m$level, 3),
                         "final wallet" = tokens(m$final), sd = tokens(m$sd), "put in" = tokens(m$put_in),
                         rounds = tokens(m$rounds)))
  if (!is.null(x$seconds) && is.null(x$played)) table$minutes <- tokens(m$rounds * x$seconds / 60)
  quantiles <- names(quantile_names())
  finals <- c(list("final wallet" = m$rule),
              stats::setNames(lapply(quantiles, function(q) plain_number(round(m[[q]], 3))), quantiles))
  limit <- if (is.finite(t$rounds)) sprintf("at most %s", count_text(t$rounds, "round"))
    else "without a limit of rounds"
  all_sections(
    section(sprintf("%s: the evening of %s with %s tokens, %s%s", title_of(x), x$seat, plain_number(t$wallet), limit,
                    if (is.finite(t$goal)) sprintf(", goal %s", plain_number(t$goal)) else "")),
    section(table = table), section(table = finals),
    if (any(m$cut > 0)) section(notes = sprintf("%s asked for more than could be staked in %s of its rounds.", m$rule,
                                                percent_text(m$cut, 2))[m$cut > 0]),
    if (!is.null(x$played)) played_section(x),
    unname(Map(path_section, x$path, names(x$path), x$path_of)),
    if (isTRUE(x$multiplied))
      section(notes = paste("What one stake brings is multiplied: that larger ones are rounded or capped otherwise is",
                            "not in these figures.")),
    if (length(x$pots) > 0)
      section(notes = sprintf("At the start of an evening `%s` holds %s, its mean over time.", names(x$pots),
                              vapply(x$pots, plain_number, ""))),
    section(notes = c(players_line(x$players), if (!is.null(x$evenings))
      sprintf("%s evenings played, all rules on the same luck.", whole_text(x$evenings))
      else counted_or_sampled(x$engine == "exact"))))
}

counted_or_sampled <- function(exact)
  if (exact) "Counted exactly." else "The odds of a round are sampled; the evening is counted from them."

# Quantities known only from played evenings.
played_section <- function(x) {
  p <- x$played
  section(table = c(list("on average" = p$rule, "lowest wallet" = fixed_text(p$lowest, 2),
                         drawdown = fixed_text(p$drawdown, 2), "longest run of losses" = fixed_text(p$losing_run, 2)),
                    if (any(p$minutes > 0)) list(minutes = fixed_text(p$minutes, 2))))
}

# Profits that are rounded or capped do not grow with the stake, and a staking rule multiplies what one stake brings.
rounds_or_caps <- function(game) {
  any(vapply(names(game$money$bets), rounds_profits, NA, rules = game)) ||
    any(vapply(settlements(game), function(line) !is.null(line$most), NA))
}

quantile_names <- function() stats::setNames(quantile_points, paste0(100 * quantile_points, "%"))

#' @export
as.data.frame.basanos_bankroll <- function(x, ...) {
  m <- x$measures
  played <- x$played
  shares <- c("ruin", "goal", "left_early", "losing", "level", "all_rounds")
  quantiles <- grep("%$", names(m), value = TRUE)
  engine <- if (is.null(x$evenings)) x$engine else "sample"
  bind_result_rows(
    bind_result_rows(lapply(shares, function(kind) {
      interval <- if (!is.null(x$evenings)) wilson_interval(m[[kind]] * x$evenings, rep(x$evenings, nrow(m)))
      error <- if (!is.null(x$evenings)) sqrt(m[[kind]] * (1 - m[[kind]]) / x$evenings)
      result_rows(x, kind, x$seat, m[[kind]], m$rule, standard_error = error, lower = interval$lower,
                  upper = interval$upper, engine = engine)
    })),
    result_rows(x, "final", x$seat, m$final, m$rule, sd = m$sd, engine = engine),
    bind_result_rows(lapply(quantiles, function(q)
      result_rows(x, "quantile", x$seat, m[[q]], m$rule, p = as.numeric(sub("%", "", q)) / 100, engine = engine))),
    rows_of_columns(x, m, c("put_in", "rounds", "cut"), x$seat, m$rule, engine = engine),
    if (!is.null(played)) rows_of_columns(x, played, setdiff(names(played), "rule"), x$seat, played$rule,
                                          engine = engine))
}

#' @export
json_fields.basanos_bankroll <- function(x) {
  terms <- x$terms
  terms <- lapply(terms, function(t) if (is.numeric(t) && !is.finite(t)) NULL else t)
  list(game = x$game, seat = x$seat, engine = x$engine, terms = Filter(Negate(is.null), terms),
                evenings = x$evenings, pots = if (length(x$pots) > 0) x$pots, measures = x$measures,
                played = x$played, path = x$path,
                final = x$finals, over_time = Filter(Negate(is.null), x$over_time))
}
