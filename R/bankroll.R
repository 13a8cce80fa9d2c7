#' A visitor's evening
#'
#' What becomes of a wallet when somebody plays round after round: ruin, the goal, a losing evening, what is left. The
#' odds of a round are counted, and the evening from them as a Markov chain; nothing in the rules is touched.
#'
#' @inheritParams odds
#' @param wallet Tokens brought.
#' @param stake How much is staked: a number, or a text with an expression over `wallet`, `last_stake`, `last_net` (what
#'   the last round brought, less than 0 for a loss) and `run` (wins in a row, or losses in a row as a negative number);
#'   several, named, are set side by side. It is rounded down to whole tokens. What is asked for beyond the limit or
#'   the wallet is cut to the greatest stake that can be paid.
#' @param rounds The most rounds; `Inf` for no limit.
#' @param goal The visitor leaves with this much or more; `NULL` for no goal.
#' @param least,most The least and the greatest stake.
#' @param short What a visitor does whose wallet is too short for the stake asked for: `"rest"` stakes what is left,
#'   `"leave"` goes home.
#' @param seat The seat; by default the first that puts in a stake.
#' @param seconds How long a round takes, to tell minutes; `NULL` for none.
#' @param ... More arguments of [odds()], for the odds of a round.
#' @return An object of class `basanos_bankroll`: a list with `measures`, a data frame with one row a staking rule:
#'   `rule`, `stake`, `ruin`, `goal`, `left_early`, `losing` (ended below what was brought), `level`, `all_rounds`
#'   (played the last round), `final` (mean wallet at the end), `sd`, `put_in` (mean tokens staked in all), `rounds`
#'   (mean), `cut` (the share of the rounds in which the rule asked for more than could be staked) and the quantiles
#'   of the final wallet; `finals` and `over_time`, lists of data frames by rule: the final wallet, and its quantiles
#'   after each round.
#' @section Formulas: The wallet, and what else the rule reads, is the state of a Markov chain; its distribution is
#'   carried from round to round. A ruined visitor cannot pay the least stake.
#' @section Errors: `no_stake`, `rounds_linked` where rounds hang together, `stake_rule_wrong`, `bankroll_wrong`,
#'   `bankroll_large`, `bankroll_endless`, and those of [odds()].
#' @export
#' @examples
#' bankroll("lantern-tiles", wallet = 20, rounds = 50, goal = 30)
bankroll <- function(game, wallet = 20, stake = c(flat = "1"), rounds = 200, goal = NULL, least = 1, most = Inf,
                     short = c("rest", "leave"), seat = NULL, seconds = NULL, ...) {
  game <- game(game)
  short <- one_of_names(short[[1]], c("rest", "leave"), "bankroll_wrong", "short")
  terms <- evening_terms(wallet, rounds, goal, least, most, short)
  rules <- lapply(as.list(stake), stake_rule)
  seat <- if (is.null(seat)) first_staked(game) else game$seats[[seat_number(game, seat)]]
  round_odds <- odds(game, ...)
  round <- round_results(round_odds, seat)
  evenings <- lapply(rules, play_evening, round = round, terms = terms)
  texts <- vapply(rules, `[[`, "", "text")
  names <- if (is.null(names(stake))) texts else ifelse(nzchar(names(stake)), names(stake), texts)
  measures <- do.call(rbind, lapply(evenings, function(e) as.data.frame(as.list(c(e$measures, e$quantiles)),
                                                                        check.names = FALSE)))
  structure(list(game = round_odds$name, title = round_odds$title, seat = seat, terms = terms, seconds = seconds,
                 engine = round_odds$engine, measures = cbind(data.frame(rule = names, stake = texts), measures),
                 finals = stats::setNames(lapply(evenings, `[[`, "final"), names),
                 over_time = stats::setNames(lapply(evenings, over_time_table), names)),
            class = "basanos_bankroll")
}

evening_terms <- function(wallet, rounds, goal, least, most, short) {
  whole <- function(x, name, from, hint) {
    if (!is.numeric(x) || length(x) != 1 || is.na(x) || x < from || (is.finite(x) && x != round(x)))
      abort_input("bankroll_wrong", sprintf("`%s` must be a whole number from %s up.", name, from), hint)
  }
  whole(wallet, "wallet", 1, "write wallet = 20 (--wallet 20)")
  whole(rounds, "rounds", 1, "write rounds = 200 (--rounds 200)")
  whole(least, "least", 1, "write least = 1 (--least 1)")
  whole(most, "most", least, "the greatest stake is not below the least")
  if (!is.null(goal)) whole(goal, "goal", wallet + 1, "a goal lies above the wallet")
  list(wallet = wallet, rounds = rounds, goal = if (is.null(goal)) Inf else goal, least = least, most = most,
       short = short)
}

# What a round brings the seat for each token staked.
round_results <- function(odds, seat) {
  if (!is.null(odds$units$shares))
    abort_input("wallet_own", sprintf("%s has a wallet of its own.", odds$name),
                "ask `basanos odds` what is left of it, or take the wallet out of the rules")
  if (odds$unit != "round")
    abort_input("rounds_linked", sprintf("The rounds of %s hang together in a %s, so that one does not tell of many.",
                                         odds$name, odds$unit), "ask for the odds of the whole with `basanos odds`")
  pays <- staked_pays(odds, seat)
  if (pays$stake_varies)
    abort_input("bankroll_wrong", sprintf("What %s puts in first varies from round to round already.", seat),
                "give the rules a wallet and a sitting, and let a player stake by wallet, last_net and streak")
  d <- odds$pay_distributions[[seat]]
  d <- d[d$probability > 0, ]
  list(net = d$value / pays$stake, probability = d$probability / sum(d$probability))
}

over_time_table <- function(evening) {
  if (length(evening$over_time) <= 1) return(NULL)
  table <- as.data.frame(do.call(rbind, evening$over_time))
  cbind(round = seq_len(nrow(table)) - 1, table)
}

#' @export
format.basanos_bankroll <- function(x, ...) {
  m <- x$measures
  t <- x$terms
  tokens <- function(v) fixed_text(v, 2)
  table <- list(staking = m$rule, ruin = percent_text(m$ruin, 3))
  if (is.finite(t$goal)) table$goal <- percent_text(m$goal, 3)
  if (any(m$left_early > 0)) table[["left early"]] <- percent_text(m$left_early, 3)
  table <- c(table, list("losing evening" = percent_text(m$losing, 3), level = percent_text(m$level, 3),
                         "final wallet" = tokens(m$final), sd = tokens(m$sd), "put in" = tokens(m$put_in),
                         rounds = tokens(m$rounds)))
  if (!is.null(x$seconds)) table$minutes <- tokens(m$rounds * x$seconds / 60)
  quantiles <- names(quantile_names())
  finals <- c(list("final wallet" = m$rule),
              stats::setNames(lapply(quantiles, function(q) plain_number(m[[q]])), quantiles))
  c(sprintf("%s: the evening of %s with %s tokens, %s%s", if (is.null(x$title)) x$game else x$title, x$seat,
            plain_number(t$wallet),
            if (is.finite(t$rounds)) sprintf("at most %s", count_text(t$rounds, "round"))
            else "without a limit of rounds",
            if (is.finite(t$goal)) sprintf(", goal %s", plain_number(t$goal)) else ""),
    "", aligned(table), "", aligned(finals),
    if (any(m$cut > 0)) c("", sprintf("%s asked for more than could be staked in %s of its rounds.", m$rule,
                                      percent_text(m$cut, 2))[m$cut > 0]),
    "", if (x$engine == "exact") "Counted exactly."
    else "The odds of a round are sampled; the evening is counted from them.")
}

quantile_names <- function() stats::setNames(quantile_points, paste0(100 * quantile_points, "%"))

#' @export
print.basanos_bankroll <- function(x, ...) print_text(x, ...)

#' @export
as.data.frame.basanos_bankroll <- function(x, ...) x$measures
