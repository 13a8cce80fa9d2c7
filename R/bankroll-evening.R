# An evening as a Markov chain: the wallet, and what else the staking rule reads, round after round.

most_evening_states <- 2e5
most_evening_rounds <- 1e5
negligible_evening <- 1e-13

# `round` as of round_results(). Gives what the evening comes to.
play_evening <- function(round, rule, terms) {
  cost <- round$cost
  at <- list(state = evening_start(terms), weight = 1)
  all <- end_those(new_evening(), at, terms, cost)
  over_time <- list(wallet_quantiles(all))
  while (all$played < terms$rounds && length(all$active$weight) > 0) {
    if (sum(all$active$weight) < negligible_evening) break
    if (all$played >= most_evening_rounds)
      abort_input("bankroll_endless", sprintf("After %s rounds %s of the evenings still go on.", whole_text(all$played),
                                              percent_text(sum(all$active$weight), 4)), "limit the rounds")
    all <- play_one_round(all, round, rule, terms, cost)
    if (is.finite(terms$rounds)) over_time <- c(over_time, list(wallet_quantiles(all)))
  }
  all$put_in <- all$put_in * round$put
  evening_result(all, terms, over_time)
}

evening_start <- function(terms) list(wallet = terms$wallet, last_stake = 0, last_net = 0, run = 0)

# What an evening comes to that is over before its first round; NULL of any other. What only playing tells is as it was
# at the start.
over_at_once <- function(round, rule, terms) {
  all <- end_those(new_evening(), list(state = evening_start(terms), weight = 1), terms, round$cost)
  all <- leave_those(all, rule, terms, round$cost)
  if (length(all$active$weight) > 0) return(NULL)
  c(evening_result(all, terms, list()),
    list(played = c(lowest = terms$wallet, drawdown = 0, losing_run = 0, minutes = 0)))
}

new_evening <- function()
  list(put_in = 0, rounds = 0, cut = 0, played = 0, last_round = 0, active = NULL,
       ended = list(goal = no_wallets, ruin = no_wallets, left = no_wallets))

no_wallets <- list(wallet = numeric(), weight = numeric())
most_apart <- 5000L

# More wallets that have come to an end; equal ones become one now and then.
with_wallets <- function(ended, wallet, weight, which) {
  if (!any(which)) return(ended)
  ended <- list(wallet = c(ended$wallet, wallet[which]), weight = c(ended$weight, weight[which]))
  if (length(ended$wallet) > most_apart) joined_wallets(ended) else ended
}

joined_wallets <- function(table) {
  sums <- rowsum(table$weight, table$wallet)
  list(wallet = as.numeric(rownames(sums)), weight = as.vector(sums))
}

play_one_round <- function(all, round, rule, terms, cost) {
  heartbeat()
  all <- leave_those(all, rule, terms, cost)
  state <- all$active$state
  weight <- all$active$weight
  asked <- least_asked(rule, state, terms)
  stake <- pmin(asked, terms$most, can_afford(state, cost))
  all$cut <- all$cut + sum(weight[asked > stake])
  all$put_in <- all$put_in + sum(weight * stake)
  all$rounds <- all$rounds + sum(weight)
  all$last_round <- sum(weight)
  all$played <- all$played + 1
  end_those(all, next_states(state, weight, stake, round, rule), terms, cost)
}

least_asked <- function(rule, state, terms) pmax(terms$least, floor(rule$of(state) + 1e-9))
can_afford <- function(state, cost) floor(state$wallet / cost + 1e-9)

# Takes out who leaves, as the wallet is too short for what the rule asks.
leave_those <- function(all, rule, terms, cost) {
  state <- all$active$state
  if (terms$short != "leave" || length(all$active$weight) == 0) return(all)
  leaves <- least_asked(rule, state, terms) > can_afford(state, cost)
  all$ended$left <- with_wallets(all$ended$left, state$wallet, all$active$weight, leaves)
  all$active <- list(state = lapply(state, `[`, !leaves), weight = all$active$weight[!leaves])
  all
}

# Every state with every result of a round; equal ones are one.
next_states <- function(state, weight, stake, round, rule) {
  n <- length(round$net)
  each <- rep(seq_along(weight), each = n)
  net <- stake[each] * rep(round$net, length(weight))
  run <- state$run[each]
  new <- list(wallet = round(state$wallet[each] + net, 9), last_stake = stake[each], last_net = net,
              run = ifelse(net > 0, pmax(run, 0) + 1, ifelse(net < 0, pmin(run, 0) - 1, run)))
  for (name in setdiff(stake_names, c("wallet", rule$uses))) new[[name]] <- rep(0, length(each))
  merged_states(new, weight[each] * rep(round$probability, length(weight)))
}

merged_states <- function(state, weight) {
  key <- if (all(vapply(state[-1], function(x) all(x == 0), NA))) state$wallet else do.call(paste, state)
  first <- !duplicated(key)
  if (sum(first) > most_evening_states)
    abort_input("bankroll_large", sprintf("More than %s states: too many to count.", whole_text(most_evening_states)),
                "let the rule read less, limit the stake, or play fewer rounds")
  sums <- rowsum(weight, match(key, key[first]), reorder = FALSE)
  list(state = lapply(state, `[`, first), weight = as.vector(sums))
}

# Takes out what has come to the goal, or cannot pay the least stake any more.
end_those <- function(all, at, terms, cost) {
  wallet <- at$state$wallet
  reached <- wallet >= terms$goal
  ruined <- !reached & can_afford(at$state, cost) < terms$least
  all$ended$goal <- with_wallets(all$ended$goal, wallet, at$weight, reached)
  all$ended$ruin <- with_wallets(all$ended$ruin, wallet, at$weight, ruined)
  go_on <- !reached & !ruined
  all$active <- list(state = lapply(at$state, `[`, go_on), weight = at$weight[go_on])
  all
}

wallets_now <- function(all) {
  table <- joined_wallets(list(
    wallet = c(unlist(lapply(all$ended, `[[`, "wallet")), all$active$state$wallet),
    weight = c(unlist(lapply(all$ended, `[[`, "weight")), all$active$weight)))
  list2DF(list(value = table$wallet, probability = table$weight))
}

wallet_quantiles <- function(all) quantiles_of(wallets_now(all))

evening_result <- function(all, terms, over_time) {
  final <- wallets_now(all)
  share <- function(table) sum(table$weight)
  mean <- sum(final$value * final$probability)
  measures <- c(
    ruin = share(all$ended$ruin), goal = share(all$ended$goal), left_early = share(all$ended$left),
    losing = sum(final$probability[final$value < terms$wallet]),
    level = sum(final$probability[final$value == terms$wallet]),
    all_rounds = if (is.finite(terms$rounds) && all$played == terms$rounds) all$last_round else 0,
    final = mean, sd = sqrt(sum(final$probability * (final$value - mean)^2)), put_in = all$put_in, rounds = all$rounds,
    cut = if (all$rounds > 0) all$cut / all$rounds else 0)
  list(measures = measures, final = final, quantiles = quantiles_of(final), over_time = over_time)
}

# One evening step by step: what was staked in each round, what came of it, and what was left.

# The evening of a number, as it is played: a data frame with round, stake, result and wallet, in tokens.
evening_path <- function(rule, ask, number) {
  played <- evening_game(rule, ask)
  program <- program_of(played$game, played$settings, played$players, tracing = TRUE)
  trace <- watch_trace(played$game, program, number, ask$seed, NULL, NULL)
  if (!is.null(trace$diagnostic)) stop_with_diagnostics(list(trace$diagnostic), played$game$source)
  paid <- vapply(trace$results, function(result) as.numeric(result$pays[[played$seat]]), 0)
  state <- list(wallet = ask$terms$wallet, last_stake = 0, last_net = 0, run = 0)
  cost <- ask$round$cost
  rows <- lapply(seq_along(paid), function(k) {
    stake <- min(max(ask$terms$least, floor(rule$of(state) + 1e-9)), ask$terms$most,
                 floor(state$wallet / cost + 1e-9))
    net <- stake * paid[[k]]
    run <- if (net > 0) max(state$run, 0) + 1 else if (net < 0) min(state$run, 0) - 1 else state$run
    state <<- list(wallet = round(state$wallet + net, 9), last_stake = stake, last_net = net, run = run)
    list(round = k, stake = stake, result = net, wallet = state$wallet)
  })
  table_of_rows(rows)
}

path_section <- function(path, name, number) {
  section(sprintf("Evening %s, %s:", whole_text(number), name),
          list(round = whole_text(path$round), stake = plain_number(path$stake),
               result = fixed_text(path$result, if (all(path$result == round(path$result))) 0L else 2L, sign = TRUE),
               wallet = plain_number(path$wallet)))
}
