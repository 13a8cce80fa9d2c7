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
