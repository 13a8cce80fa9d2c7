#' The best that a visitor can do
#'
#' Finds the best way of playing a seat, whatever players the file has: what a game is worth to the best visitor there
#' can be, what the visitor does in which situation, and what each named player loses against that.
#'
#' @inheritParams odds
#' @param seat The name of the seat that plays as well as can be; by default the first that decides.
#' @param players Who plays the other seats, as for [odds()].
#' @param both Do both seats that decide play as well as can be, against each other?
#' @param exploit The name of a player: how much does the best answer to it win, from either seat? Of games in which two
#'   seats decide.
#' @param objective What is to be great, as a measure that is a mean over rounds, matches or sittings:
#'   `"mean_pay(guest)"`, `"probability(found)"`, `"mean(score)"`, `"probability(match == red)"`, `"goal()"`,
#'   `"ruin(guest)"`. By default what the seat is paid in all, else its own outcomes (of two seats that play each other:
#'   its wins less its losses), else the first outcome.
#' @param best `"highest"` or `"lowest"`: which values of the objective are better; by default the highest, of ruin and
#'   losing evenings the lowest.
#' @param decision The name of a decision: the situations of this one only.
#' @param by Expressions that describe a situation, one text with commas between; by default the one or two things that
#'   explain the best answers best.
#' @param most The greatest number of situations in the result: the most frequent ones.
#' @param quick Leave out what each named player loses?
#' @param write A new file of players, as "best.R": each answer is looked up in a table, a CSV file beside it. For
#'   `players_file`, as in `odds(game("lantern-tiles", "best.R"), players = list(guest = "best"))`.
#' @param max_states,max_seconds Limits of the states gone through, and of the time. At a limit the worth lies between
#'   two bounds, or is refused.
#' @return An object of class `basanos_best`: a list with
#'   * `value`, `lower`, `upper`, `gap`: the worth of a round, match or sitting (`unit`) in `objective`, and bounds that
#'     are sure. Where play need not end, and at a limit, they may be far apart; then `value` is missing.
#'   * `worst`: what the worst play comes to; missing where it was not worked out.
#'   * `seats`, `against`: the seats that play as well as can be, and who plays the others.
#'   * `losses`: a data frame with one row a player that can take the seat: `seat`, `player`, `value`, `loss` (against
#'     best play), `standard_error`, `engine`; with `both`, `value` is what is left where the other seat gives the best
#'     answer to this player.
#'   * `decisions`: one row a seat and decision: `met` (how often a unit comes to it, with more than one answer),
#'     `matters` (the share of these in which the answers are not worth the same), `next_loss` and `worst_loss` (what
#'     the next best and the worst answer lose there, on average).
#'   * `policy`: one row a situation, those that are met most often first: `seat`, `decision`, a column for each thing
#'     that describes it, `answer` (the best; of equal ones the first), `equal` (others that are worth the same),
#'     `mix` (the share of each answer, where both seats do best to mix, as in "fold:0.75; call:0.25"),
#'     `reach` (how often a unit comes there), `worth`, `next_answer` and `loss` (what it loses).
#'   * `written`: what was written: `path`, `players` by seat, `tables`.
#'   * `by`: by decision, what describes a situation; `seen`: a list with `places` that the seat sees, what is `hidden`
#'     from it, and `draws`, lines with draws that steer play and are kept nowhere: a seat does not see them (of two
#'     seats they are taken as seen); `states`, `edges`, `complete`.
#' @section Formulas: The states of the game, with every legal answer, are gone through once. Their strongly connected
#'   components are solved in topological order, each by Gauss-Seidel sweeps from the least and from the greatest worth
#'   that there can be, until the two meet (Haddad and Monmege 2018, "Interval iteration algorithm for MDPs and IMDPs").
#'   Of two seats one has the greatest, the other the least worth (Shapley 1953, "Stochastic games"). Where both answer
#'   at once, each situation is a matrix game, which a linear program solves (Dantzig 1951).
#'   A seat that does not see everything decides by the distribution over the states that it cannot tell apart (Astrom
#'   1965, "Optimal control of Markov processes with incomplete state information"). Two seats that hide something from
#'   each other play mixes, found by regret matching on their sequences of answers (Tammelin 2014, "Solving large
#'   imperfect information games using CFR+"; Farina, Kroer and Sandholm 2021, "Faster game solving via predictive
#'   Blackwell approachability"): what each mix is sure of gives the bounds.
#' @section Errors: `best_none` where nobody decides, `best_large`, `best_ratio`, `best_circle`, `best_unopposed`,
#'   `best_seats`; those of [odds()].
#' @export
#' @examples
#' best_play("lantern-tiles")
best_play <- function(game, seat = NULL, set = list(), players = list(), mode = NULL, both = FALSE, exploit = NULL,
                      objective = NULL, best = NULL, decision = NULL, by = NULL, most = 2000, max_states = 3e7,
                      max_seconds = Inf, quick = FALSE, write = NULL) {
  check_quoted(c("objective", "by"))
  asked <- asked_here("best_play")
  game <- game_with(game, set)
  check_count(most, "most", 1e6, "write most = 2000")
  check_limits(max_states, max_seconds)
  check_write_players(write, game)
  task <- list(game = game, set = set, mode = mode, best = best, decision = decision, by = by, most = most,
               max_states = max_states, max_seconds = max_seconds, policy = if (!is.null(write)) "tables")
  deciding <- seats_that_decide(game, set, mode)
  if (!is.null(exploit)) {
    if (both || !is.null(seat) || !is.null(write)) refuse_with_exploit()
    found <- exploited(task, exploit, two_seats(game, deciding), objective, players)
  } else {
    seats <- if (both) two_seats(game, deciding) else asked_about(game, seat, NULL)$seat
    found <- solved(task, seats, players, objective_of(game, seats, objective, best))
    if (!is.null(write)) found$written <- write_players(game, found, write)
    found$losses <- if (quick) no_losses else losses_of_players(task, found, players)
  }
  with_call(best_result(game, found), asked)
}

refuse_with_exploit <- function()
  abort_input("argument_wrong", "`exploit` asks for the best answer from either seat.",
              "leave out `seat`, `both` and `write`")

seats_that_decide <- function(game, set, mode) {
  deciding <- Filter(function(seat) length(asked_of(game, seat)) > 0, seats_taken_at(game, set, mode))
  if (length(deciding) == 0)
    abort_input("best_none", "Nobody decides anything in this game: there is nothing to play well.",
                "give a seat a decision: ask(guest, ...)")
  deciding
}

two_seats <- function(game, deciding) {
  if (length(deciding) == 2) return(deciding)
  abort_input("best_seats", sprintf("In this game %s, where two are to play each other.",
                                    if (length(deciding) == 1) "one seat decides"
                                    else sprintf("%d seats decide", length(deciding))),
              if (length(deciding) == 1) "ask for the best play of that seat"
              else "leave two of them (--set seated=2), or ask for the best play of one seat against named players")
}

# What the best answer to a player wins, from each of the two seats.
exploited <- function(task, player, seats, objective, players) {
  game <- task$game
  found <- lapply(1:2, function(k) {
    against <- stats::setNames(list(player), game$seats[[seats[[3 - k]]]])
    solved(task, seats[[k]], utils::modifyList(as.list(players), against),
           objective_of(game, seats[[k]], objective, task$best))
  })
  of <- function(field) vapply(found, `[[`, 0, field)
  whole <- found[[1]]
  whole$exploits <- data.frame(seat = game$seats[seats], against = player, value = of("value"), lower = of("lower"),
                               upper = of("upper"), objective = vapply(found, function(f) f$objective$text, ""))
  whole$policy <- bind_filled(lapply(found, `[[`, "policy"))
  whole$decisions <- do.call(rbind, lapply(found, `[[`, "decisions"))
  whole$by <- lapply(seq_along(found), function(k) found[[k]]$by[[1]])
  whole
}

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
  if (kind %in% c("hidden", "secret")) question$watching <- seats
  wanted <- decisions_told(game, seats, task$decision)
  question <- with_situations(question, if (is.null(task$by)) situations_to_try(game, program, alive, wanted)
    else lapply(stats::setNames(nm = unique(vapply(wanted, `[[`, "", "decision"))),
                function(name) split_outside_brackets(one_text(task$by, "by"))), sure = !is.null(task$by))
  program <- program_of(question, counting = TRUE)
  most <- if (task$most > 0) max(task$most, situations_explained) else 0
  run <- if (kind == "secret") equilibrium_run(task, program, objective, seats, most)
    else best_run(task, program, objective, seats, seats[[1]], most, hidden = kind == "hidden")
  refuse_unsolved(task, program, run, objective, seats)
  found <- c(worth_in_bounds(run$value, if (kind == "secret") mixes_near else bounds_met),
    list(objective = objective, seats = seats, players = program$players, settings = program$settings,
         engine = "exact", unit = program_span(game), seen = seen, kind = kind, complete = run$end == "done",
         limit = if (run$end != "done") run$end),
    run[c("states", "edges", "sums")], found_in_whole(task, question, program, run, wanted, objective$sign))
  if (identical(task$policy, "tables")) found$tables <- tables_of_play(question, program, run, found)
  if (identical(task$policy, "worths")) found$books <- worths_of_play(question, program, run, found)
  found
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
  if (run$end != "done" || task$most == 0) return(list(worst = NA_real_))
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
decisions_told <- function(game, seats, decision) {
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
    abort_input("best_large", sprintf("Best play was not found within the limit of %s: %s states were gone through.",
                                      limit_in_words(run$end), whole_text(run$states)),
                if (is.null(run$histories)) "allow more (--max-states, --max-seconds), or make the game smaller"
                else "ask for one seat against a named player (--seat, --against), or make the game smaller")
}

# Bounds as far apart as what a unit can be worth at all.
tells_nothing <- function(ends, range)
  !all(is.finite(ends)) || (length(range) == 2 && diff(ends) >= 0.9 * diff(range) && diff(range) > 0)

limit_in_words <- function(end) c(states = "states", memory = "memory", time = "time")[[end]]

best_result <- function(game, found, stopped = NULL) {
  structure(c(list(game = name_of_file(game$source), title = game$title),
              found[setdiff(names(found), c("objective", "seats", "players", "tables", "books"))],
              list(objective = found$objective$text, best = found$objective$best, seats = game$seats[found$seats],
                   against = found$players[!is.na(found$players)], way = way_of_solving(found), stopped = stopped)),
            class = result_class("best"))
}

way_of_solving <- function(found) {
  c(seen = if (length(found$seats) == 2) "two seats in turn, nothing hidden" else "one seat decides, nothing hidden",
    at_once = "two seats, answers at once, nothing else hidden", hidden = "one seat decides, something hidden",
    secret = "two seats, something hidden from each other")[[found$kind]]
}
