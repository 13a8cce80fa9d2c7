# An evening as a Markov chain: the wallet, and what else the staking rule reads, round after round.

most_evening_states <- 2e5
most_evening_rounds <- 1e5
negligible_evening <- 1e-13
quick_branches <- 3e6  # a few seconds

# `round` as of round_results(). Gives what the evening comes to. `most_branches`: how many steps of a state by a result
# may be taken.
play_evening <- function(round, rule, terms, most_branches = Inf) {
  cost <- round$cost
  at <- list(state = evening_start(terms), weight = 1)
  all <- end_those(new_evening(), at, rule, terms, cost)
  over_time <- list(wallet_quantiles(all))
  while (all$played < terms$rounds && length(all$active$weight) > 0) {
    if (sum(all$active$weight) < negligible_evening) break
    if (all$played >= most_evening_rounds)
      abort_input("bankroll_endless", sprintf("After %s rounds %s of the evenings still go on.", whole_text(all$played),
                                              percent_text(sum(all$active$weight), 4)), "limit the rounds")
    all <- play_one_round(all, round, rule, terms, cost)
    if (all$branches > most_branches) stop_on_large_evening(sprintf("More than %s steps", whole_text(most_branches)))
    if (is.finite(terms$rounds)) over_time <- c(over_time, list(wallet_quantiles(all)))
  }
  all$put_in <- all$put_in * round$put
  evening_result(all, terms, over_time)
}

evening_start <- function(terms) list(wallet = terms$wallet, last_stake = 0, last_net = 0, run = 0)

# What an evening comes to that is over before its first round; NULL of any other. What only playing tells is as it was
# at the start.
over_at_once <- function(round, rule, terms) {
  all <- end_those(new_evening(), list(state = evening_start(terms), weight = 1), rule, terms, round$cost)
  if (length(all$active$weight) > 0) all <- leave_those(all, rule, terms, round$cost)
  if (length(all$active$weight) > 0) return(NULL)
  c(evening_result(all, terms, list()),
    list(played = c(lowest = terms$wallet, drawdown = 0, losing_run = 0, minutes = 0)))
}

new_evening <- function()
  list(put_in = 0, rounds = 0, cut = 0, played = 0, last_round = 0, branches = 0, active = NULL,
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
  at <- all$active
  known <- c(at$state, list(asked = at$asked), evening_limits(terms, cost))
  known$stake <- stake <- rule$of("stake", known)
  all$cut <- all$cut + sum(at$weight[rule$of("cut", known)])
  all$put_in <- all$put_in + sum(at$weight * stake)
  all$rounds <- all$rounds + sum(at$weight)
  all$last_round <- sum(at$weight)
  all$played <- all$played + 1
  at <- merged_states(at$state, stake, at$weight, rule)
  all$branches <- all$branches + length(at$weight) * length(round$net)
  end_those(all, next_states(at$state, at$weight, at$stake, round, rule), rule, terms, cost)
}

# What the rule asks for; who leaves, as the wallet is too short for that, is taken out.
leave_those <- function(all, rule, terms, cost) {
  at <- all$active
  known <- c(at$state, evening_limits(terms, cost))
  known$asked <- rule$of("asked", known)
  leaves <- terms$short == "leave" & rule$of("leaves", known)
  all$ended$left <- with_wallets(all$ended$left, at$state$wallet, at$weight, leaves)
  all$active <- list(state = lapply(at$state, `[`, !leaves), weight = at$weight[!leaves], asked = known$asked[!leaves])
  all
}

# Every state with every result of a round.
next_states <- function(state, weight, stake, round, rule) {
  n <- length(round$net)
  each <- rep(seq_along(weight), each = n)
  known <- c(lapply(state[c("wallet", "run")], `[`, each),
             list(stake = stake[each], paid = rep(round$net, length(weight))))
  for (name in c("last_stake", "last_net", "wallet", "run")) known[[name]] <- rule$after(name, known)
  known$wallet <- round(known$wallet, 9)
  new <- known[stake_names]
  for (name in setdiff(stake_names, c("wallet", rule$uses))) new[[name]] <- numeric(length(each))
  list(state = new, weight = weight[each] * rep(round$probability, length(weight)))
}

# What comes next follows from the wallet, the stake and, where the rule reads it, the run: states that agree in these
# are one.
merged_states <- function(state, stake, weight, rule) {
  key <- joint_key(c(list(state$wallet, stake), if ("run" %in% rule$uses) list(state$run)))
  first <- !duplicated(key)
  if (sum(first) > most_evening_states)
    stop_on_large_evening(sprintf("More than %s states", whole_text(most_evening_states)))
  sums <- rowsum(weight, key, reorder = FALSE)
  list(state = lapply(state, `[`, first), stake = stake[first], weight = as.vector(sums))
}

stop_on_large_evening <- function(how_large)
  abort_input("bankroll_large", paste0(how_large, ": too many to count."),
              "let the rule read less, limit the stake, or play fewer rounds")

# One number for each different row of these columns.
joint_key <- function(columns) {
  numbered <- function(x) match(x, unique(x))
  Reduce(function(key, column) numbered(key * (length(column) + 1) + numbered(column)), columns[-1],
         numbered(columns[[1]]))
}

# Takes out what has come to the goal, or cannot pay the least stake any more.
end_those <- function(all, at, rule, terms, cost) {
  wallet <- at$state$wallet
  known <- c(at$state, evening_limits(terms, cost))
  reached <- rule$of("reached", known)
  ruined <- !reached & rule$of("ruined", known)
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
evening_path <- function(rule, task, number) {
  played <- evening_question(rule, task)
  program <- program_of(played, tracing = TRUE)
  trace <- watch_trace(played$game, program, number, task$seed, NULL, NULL)
  if (!is.null(trace$diagnostic)) stop_with_diagnostics(list(trace$diagnostic), played$game$source)
  seat <- if (task$linked) task$seat else played$game$seats[[1]]
  paid <- vapply(trace$results, function(result) as.numeric(result$pays[[seat]]), 0)
  state <- evening_start(task$terms)
  rows <- lapply(seq_along(paid), function(k) {
    stake <- rule$of("stake", c(state, evening_limits(task$terms, task$round$cost)))
    state <<- next_states(state, 1, stake, list(net = paid[[k]], probability = 1), rule)$state
    list(round = k, stake = stake, result = stake * paid[[k]], wallet = state$wallet)
  })
  table_of_rows(rows)
}

path_section <- function(path, name, number) {
  section(sprintf("Evening %s, %s:", whole_text(number), name),
          list(round = whole_text(path$round), stake = plain_number(path$stake),
               result = fixed_text(path$result, if (all(path$result == round(path$result))) 0L else 2L, sign = TRUE),
               wallet = plain_number(path$wallet)))
}
