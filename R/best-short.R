# Best play in short, beside other results: where it is found quickly.

best_in_short_states <- 20000  # no limit of time: the result is the same on any machine

# A result of best_play() without a policy, for one seat or two; NULL where it is not found. Losses are those of the
# players `names`, by default of all.
best_in_short <- function(game, seats, set = list(), players = list(), mode = NULL, names = NULL, objective = NULL,
                          best = NULL) {
  task <- list(game = game, set = set, mode = mode, most = 0, max_states = best_in_short_states, max_seconds = Inf)
  tryCatch({
    wanted <- objective_of(game, seats, objective, best)
    solution <- latest_in_short(list(task, seats, players, wanted), function() solved(task, seats, players, wanted))
    if (is.na(solution$value)) return(NULL)
    solution$losses <- losses_of_players(task, solution, players, names)
    best_result(game, solution)
  }, basanos_error = function(e) NULL)
}

latest_in_short <- latest(8)  # the check, the players and the evenings of a page ask for the same
