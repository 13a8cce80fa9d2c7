# Best play of open seats, solved by the core: what it is worth, and what to do in which situation.

# Rows with different columns, one under another.
bind_filled <- function(tables) {
  columns <- unique(unlist(lapply(tables, names)))
  do.call(rbind, lapply(tables, function(table) {
    table[setdiff(columns, names(table))] <- rep(list(rep(NA, nrow(table))), length(setdiff(columns, names(table))))
    table[columns]
  }))
}

# Solves the game for these seats: all that the result has but the losses.
solved <- function(task, seats, players, objective) {
  game <- task$game
  question <- question_open(task, seats, players, objective)
  program <- program_of(question, counting = TRUE)
  alive <- core_alive(loaded(program))
  seen <- what_is_seen(game, program, seats, alive)
  kind <- kind_of_play(program, seats, seen)
  if (kind %in% c("hidden", "secret") || isTRUE(objective$worst_case)) question$watching <- seats
  wanted <- decisions_solved(game, seats, task$decision)
  bare <- question  # what describes situations would keep them apart
  question <- with_what_describes(task, question, program, alive, wanted)
  if (isTRUE(task$functions)) question <- with_situations(
    question, lapply(question$situations, function(s) functions_to_try(game, names(s))), sure = FALSE, seen_only = TRUE)
  program <- program_of(question, counting = TRUE)
  most <- if (task$most > 0) max(task$most, situations_explained) else 0
  run <- if (kind == "secret") equilibrium_run(task, program, objective, seats, most)
    else if (isTRUE(objective$worst_case)) worst_case_run(task, bare, objective, seats)
    else if (kind == "hidden") hidden_run(task, program, bare, objective, seats, most)
    else best_run(task, program, objective, seats, seats[[1]], most)
  refuse_unsolved(task, program, run, objective, seats)
  solution <- c(worth_in_bounds(run$value, if (kind == "secret") mixes_near else bounds_met),
    list(objective = objective, seats = seats, players = program$players, settings = program$settings,
         engine = "exact", unit = program_span(game), seen = seen, kind = kind, complete = run$end == "done",
         limit = if (run$end != "done") run$end),
    run[c("states", "edges", "sums")],
    list(searched = !is.null(run$fits), firsts = first_answers(game, program, run, objective$sign)),
    found_in_whole(task, question, program, run, wanted, objective$sign))
  if ("tables" %in% task$policy) solution$tables <- tables_of_play(question, program, run, solution)
  if ("costs" %in% task$policy) solution$books <- costs_of_play(question, program, run, solution)
  if (!is.null(task$position)) solution$position <- position_in_best(task, question, program, run, solution)
  solution
}

# Adds what describes the situations: what was asked for, the conditions of a position, or what matters and is seen.
with_what_describes <- function(task, question, program, alive, wanted) {
  position <- task$position
  if (!is.null(position)) {
    conditions <- stats::setNames(list(position$conditions), position$decision)
    return(with_situations(question, conditions, sure = TRUE, seen_only = TRUE))
  }
  if (is.null(task$by)) return(with_situations(question, situations_to_try(task$game, program, alive, wanted),
                                               sure = FALSE))
  decisions <- unique(vapply(wanted, `[[`, "", "decision"))
  by <- split_outside_brackets(one_text(task$by, "by"))
  with_situations(question, stats::setNames(rep(list(by), length(decisions)), decisions), sure = TRUE)
}

# "seen": one seat, or two in turn, that see all that matters; "at_once": two that do, but answer at once; "hidden": one
# seat that does not see all, "secret": two.
kind_of_play <- function(program, seats, seen) {
  if (length(seats) == 1) return(if (length(seen$hidden) > 0 || length(seen$draws) > 0) "hidden" else "seen")
  if (length(seen$hidden) > 0) return("secret")
  if (any(vapply(program$sites, function(s) s$group >= 0, NA))) "at_once" else "seen"
}

# What only a graph that was gone through to its end tells.
found_in_whole <- function(task, question, program, run, wanted, sign) {
  if (run$end != "done" || task$most == 0 || is.null(run$situations)) return(list(worst = NA_real_))
  policies <- lapply(wanted, policy_of, task = task, question = question, program = program, run = run, sign = sign)
  list(worst = if (is.null(run$worst)) NA_real_ else mean(run$worst),
       decisions = uses_of_decisions(task$game, program, run), by = lapply(policies, `[[`, "by"),
       policy = utils::head(bind_filled(lapply(policies, `[[`, "rows")), task$most))
}

# The question with these seats open, which records nothing but the objective.
question_open <- function(task, seats, players, objective) {
  seats_of_game <- task$game$seats
  taken <- intersect(names(players), seats_of_game[seats])
  if (length(taken) > 0)
    abort_input("argument_wrong", sprintf("`%s` plays as well as can be; nobody else takes that seat.", taken[[1]]),
                "leave out its player, or ask for the best play of another seat")
  question <- with_open(with_objective(question_of(task$game), objective), seats)
  with_choices(question, task$set, players, task$mode)
}

# list(seat, decision) for each decision whose situations are in the result.
decisions_solved <- function(game, seats, decision) {
  all <- unlist(lapply(seats, function(seat)
    lapply(asked_of(game, seat), function(name) list(seat = seat, decision = name))), recursive = FALSE)
  if (is.null(decision)) return(all)
  known <- unique(vapply(all, `[[`, "", "decision"))
  if (!decision %in% known)
    abort_input("position_none", sprintf("%s is not asked `%s`.", some_of_names(game$seats[seats]), decision),
                or_spelling(did_you_mean(decision, known), sprintf("it is asked %s", some_of_names(known))))
  Filter(function(w) w$decision == decision, all)
}

# The core's best play of the open seats: the first wants the objective to be great, the second small; it is that of the
# seat `of`.
# `most`: the number of situations in the result. In a large graph an answer that ends with the most there can be rules
# out the others: that may make the graph small, or end it.
best_run <- function(task, program, objective, seats, of, most = 0, hidden = FALSE) {
  run <- function(cut, most_states) polled(task$max_states, "states", NULL, function(tick)
    core_best(loaded(program), core_task(task, program, objective, seats, of, cut, most_states),
              length(seats) == 1 && most > 0, hidden, most, !is.null(task$policy), tick))
  if (length(objective_terms(program, objective, of)$range) == 0 || hidden) return(run(FALSE, task$max_states))
  whole <- run(FALSE, min(task$max_states, uncut_states))
  if (whole$end == "states") run(TRUE, task$max_states) else whole
}

# A seat that does not see everything: all its situations where they can be written down. Of guessing games, where they
# are too many, branch and bound.
hidden_run <- function(task, program, bare, objective, seats, most) {
  if (!is.null(task$policy)) return(best_run(task, program, objective, seats, seats[[1]], most, hidden = TRUE))
  few <- task
  few$max_states <- min(task$max_states, uncut_states)
  run <- best_run(few, program, objective, seats, seats[[1]], most, hidden = TRUE)
  if (run$end != "states" || few$max_states == task$max_states) return(run)
  searched <- search_run(task, bare, objective, seats)
  if (searched$fits) searched else best_run(task, program, objective, seats, seats[[1]], most, hidden = TRUE)
}

worst_case_run <- function(task, question, objective, seats) {
  if (length(seats) == 2)
    abort_input("best_worst", "The worst case is that of one seat.", "leave out --both")
  run <- search_run(task, question, objective, seats)
  if (run$fits) return(run)
  abort_input("best_worst",
              "The worst case is known only where nothing is drawn after the first decision, and play ends.",
              sprintf("ask for the mean: %s", objective$measured))
}

search_seconds <- 60  # where nobody says how long it may take: then there are bounds
answers_a_state <- 20  # the limit of answers, for each state of --max-states

search_run <- function(task, question, objective, seats) {
  program <- program_of(question, counting = TRUE)
  if (is.infinite(task$max_seconds)) task$max_seconds <- search_seconds
  polled(task$max_states, "answers looked at", NULL, function(tick)
    core_search(loaded(program), core_task(task, program, objective, seats, seats[[1]],
                                           states = answers_a_state * task$max_states),
                isTRUE(objective$worst_case), tick))
}

# What each answer of the first decision is worth, the best first: answer, value, lower, upper.
first_answers <- function(game, program, run, sign) {
  first <- run$first
  if (is.null(first)) return(NULL)
  type <- game$decisions[[program$sites[[first$site]]$decision + 1L]]$type
  table <- data.frame(answer = vapply(first$offers, answer_text, "", game = game, type = type), lower = first$lower,
                      upper = first$upper)
  met <- is.finite(table$lower) & is.finite(table$upper) & table$upper - table$lower <= bounds_met
  table$value <- ifelse(met, (table$lower + table$upper) / 2, NA_real_)
  table[order(!met, -sign * ifelse(met, table$value, if (sign > 0) table$upper else table$lower)),
        c("answer", "value", "lower", "upper")]
}

# What the core is asked for.
core_task <- function(task, program, objective, seats, of, cut = FALSE, states = task$max_states) {
  signs <- vapply(program$sites, function(s) if (s$seat == seats[[1]]) objective$sign else -objective$sign, 0)
  terms <- objective_terms(program, objective, of)
  list(objective = terms, opposed = if (length(seats) == 2) opposed_terms(program, objective, seats[[2]]),
       seats = as.integer(seats), signs = signs, range = terms$range, cut = cut, states = states, bytes = most_bytes,
       seconds = min(task$max_seconds, 1e9))
}

# Best play of two seats that hide something from each other.
equilibrium_run <- function(task, program, objective, seats, most)
  polled(task$max_states, "states", NULL, function(tick)
    core_equilibrium(loaded(program), core_task(task, program, objective, seats, seats[[1]]), mixes_met, most_sweeps,
                     most, !is.null(task$policy), tick))

mixes_met <- 2e-10  # the search ends there
mixes_near <- 1e-6  # bounds as near as this are one value
most_sweeps <- 1e5
uncut_states <- 3e5
situations_explained <- 5000  # that say which things explain the answers
most_bytes <- 5 * 2^30

# Bounds that are as near as this, of the worth, are one value.
bounds_met <- 1e-9

worth_in_bounds <- function(ends, near = bounds_met) {
  met <- all(is.finite(ends)) && diff(ends) <= near * max(1, abs(ends))
  list(value = if (met) mean(ends) else NA_real_, lower = ends[[1]], upper = ends[[2]], gap = ends[[2]] - ends[[1]])
}

# What cannot be told, with its cause.
refuse_unsolved <- function(task, program, run, objective, seats) {
  game <- task$game
  if (run$end == "stopped") stop_with_counts(run$states, NULL, "states")
  if (run$end == "unopposed")
    abort_input("best_unopposed", sprintf("What `%s` gets is not always what `%s` loses.", game$seats[[seats[[1]]]],
                                          game$seats[[seats[[2]]]]),
                "ask for the best play of one seat against a named player of the other")
  value <- if (is.null(run$value)) c(-Inf, Inf) else run$value
  if (!is.null(run$failure)) stop_on_failure(game, program, c(run, failure_weight = 0))
  if (isTRUE(run$goes_round) && !all(is.finite(value)))
    abort_input("best_circle", "Play can come back to where it was, with something paid on the way.",
                "give the sitting a number of rounds, or ask for a chance such as goal()")
  if (run$end != "done" && tells_nothing(value, objective_terms(program, objective, seats[[1]])$range))
    abort_input("best_large", sprintf(
      "Best play was not found within the limit of %s: %s were gone through.", limit_in_words(run$end),
      if (is.null(run$fits)) paste(whole_text(run$states), "states") else paste(whole_text(run$edges), "answers")),
                if (is.null(run$histories)) "allow more (--max-states, --max-seconds), or make the game smaller"
                else "ask for one seat against a named player (--seat, --against), or make the game smaller")
}

# Bounds as far apart as what a unit can be worth at all.
tells_nothing <- function(ends, range)
  !all(is.finite(ends)) || (length(range) == 2 && diff(ends) >= 0.9 * diff(range) && diff(range) > 0)

best_result <- function(game, solution, stopped = NULL) {
  structure(c(list(game = name_of_file(game$source), title = game$title),
              solution[setdiff(names(solution), c("objective", "seats", "players", "tables", "books"))],
              list(objective = solution$objective$text, best = solution$objective$best,
                   seats = game$seats[solution$seats], against = solution$players[!is.na(solution$players)],
                   way = way_of_solving(solution), stopped = stopped)),
            class = result_class("best"))
}

way_of_solving <- function(solution) {
  if (solution$searched) return("one seat decides, something hidden, by branch and bound")
  c(seen = if (length(solution$seats) == 2) "two seats in turn, nothing hidden" else "one seat decides, nothing hidden",
    at_once = "two seats, answers at once, nothing else hidden", hidden = "one seat decides, something hidden",
    secret = "two seats, something hidden from each other")[[solution$kind]]
}
