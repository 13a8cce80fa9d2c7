# What the named players come to where best play comes to more.

# Of the players `names`, by default of all that can take the seat. A data frame: seat, player, peeks, value, lower,
# upper, loss, standard_error, engine. Of two seats that play each other `value` is what is left where the other gives
# the best answer to this player.
losses_of_players <- function(task, best, players, names = NULL) {
  game <- task$game
  ways <- unlist(lapply(best$seats, function(seat)
    lapply(players_of_all_seats(game, names, seat), function(name) list(seat = seat, player = name))),
    recursive = FALSE)
  if (length(ways) == 0 || !best$complete || is.na(best$value)) return(no_losses)
  in_order <- function(rows) {
    table <- do.call(rbind, c(list(no_losses), rows))
    if (isTRUE(best$objective$worst_case)) table <- table[!is.na(table$value), ]  # of rounds that were sampled
    table <- table[order(match(table$seat, game$seats), table$loss), ]
    rownames(table) <- NULL
    table
  }
  so_far <- function(rows, after, stop) list(best = best_result(game, c(best, list(losses = in_order(rows))), after))
  in_order(worked_out(ways, function(way) player_against_best(way, task, best, players), what = "players",
                      so_far = so_far))
}

no_losses <- data.frame(seat = character(), player = character(), peeks = logical(), value = numeric(),
                        lower = numeric(), upper = numeric(), loss = numeric(), standard_error = numeric(),
                        engine = character())

# Does a player look at what its seat does not see?
peeks <- function(game, player) {
  peeked <- game$players[[player]]$peeks
  isTRUE(peeked) || length(peeked) > 0
}

player_against_best <- function(way, task, best, players) {
  name <- task$game$seats[[way$seat]]
  sign <- best$objective$sign * (if (way$seat == best$seats[[1]]) 1 else -1)
  players <- utils::modifyList(as.list(players), stats::setNames(list(way$player), name))
  value <- if (length(best$seats) == 1) value_of_player(task, best, players)
    else value_against_answer(task, best, setdiff(best$seats, way$seat), players, -sign)
  data.frame(seat = name, player = way$player, peeks = peeks(task$game, way$player), value = value$value,
             lower = value$lower, upper = value$upper, loss = sign * (best$value - value$value),
             standard_error = value$standard_error, engine = value$engine)
}

# What is left to a player where the other seat gives the best answer to it. A player may go on for ever where best play
# does not: then the bounds say how much that is.
value_against_answer <- function(task, best, seat, players, sign) {
  objective <- best$objective
  objective$sign <- sign
  question <- with_choices(with_open(with_objective(question_of(task$game), objective), seat), task$set, players,
                           task$mode)
  task$max_states <- min(task$max_states, max(1e6, 4 * best$states))
  hidden <- best$kind == "secret"
  if (hidden) question$watching <- seat
  run <- best_run(task, program_of(question, counting = TRUE), objective, seat, best$seats[[1]], hidden = hidden)
  if (run$end == "stopped") stop_with_counts(run$states, NULL, "states")
  worth <- worth_in_bounds(if (is.null(run$value)) c(-Inf, Inf) else run$value)
  c(worth, list(standard_error = if (is.na(worth$value)) NA_real_ else 0, engine = "exact"))
}

rounds_of_losses <- 1e5
batches_of_losses <- 20

# What a unit is worth where a named player plays: counted where that is quick, else sampled.
value_of_player <- function(task, best, players) {
  question <- with_choices(with_objective(question_of(task$game), best$objective), task$set, players, task$mode)
  program <- program_of(question, counting = TRUE)
  terms <- objective_terms(program, best$objective, best$seats[[1]])
  run <- run_exact_quickly(task$game, program)
  worst_case <- isTRUE(best$objective$worst_case)
  if (run$complete) {
    value <- if (worst_case) worst_of_counts(terms, run, best$objective$sign) else worth_of_counts(terms, run, 1)
    return(list(value = value, lower = value, upper = value, standard_error = 0, engine = "exact"))
  }
  if (worst_case) return(list(value = NA_real_, lower = NA_real_, upper = NA_real_, standard_error = NA_real_,
                              engine = "sample"))
  each <- rounds_of_losses / batches_of_losses
  values <- vapply(seq_len(batches_of_losses), function(k) {
    counts <- run_sample(task$game, program, each, 1, 1, 1 + (k - 1) * each)
    worth_of_counts(terms, counts, counts$units)
  }, 0)
  error <- stats::sd(values) / sqrt(batches_of_losses)
  half <- stats::qt(0.975, batches_of_losses - 1) * error
  list(value = mean(values), lower = mean(values) - half, upper = mean(values) + half, standard_error = error,
       engine = "sample")
}

# The objective at worst, from weights.
worst_of_counts <- function(terms, counts, sign) {
  rows <- rbind(terms$of_round, terms$of_unit)
  quantity <- (if (nrow(terms$of_round) > 0) counts$quantities else counts$unit_quantities)[[rows[1, 1] + 1]]
  values <- quantity$value[quantity$weight > 0]
  if (sign < 0) max(values) else min(values)
}

# The objective on average over units, from counts or weights.
worth_of_counts <- function(terms, counts, units) {
  of_terms <- function(rows, quantities) sum(vapply(seq_len(nrow(rows)), function(k) {
    q <- quantities[[rows[k, 1] + 1]]
    value <- if (is.na(rows[k, 3])) q$value else 1 * (q$value == rows[k, 3])
    rows[k, 2] * sum(value * q$weight)
  }, 0))
  by_outcome <- if (length(terms$by_outcome) > 0) sum(terms$by_outcome * counts$outcomes) else 0
  (by_outcome + of_terms(terms$of_round, counts$quantities) + of_terms(terms$of_unit, counts$unit_quantities)) / units
}
