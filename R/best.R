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
#'   `"ruin(guest)"`, or `"worst(tries)"`, the worst that chance can bring, of games in which nothing is drawn after the
#'   first decision (then the lowest is best). By default what the seat is paid in all, else its own outcomes (of two
#'   seats that play each other: its wins less its losses), else the first outcome.
#' @param best `"highest"` or `"lowest"`: which values of the objective are better; by default the highest, of ruin and
#'   losing evenings the lowest.
#' @param decision The name of a decision: the situations of this one only.
#' @param by Expressions that describe a situation, one text with commas between; by default the one or two things that
#'   explain the best answers best.
#' @param most The greatest number of situations in the result: the most frequent ones.
#' @param quick Leave out what each named player loses?
#' @param at A position, as for [odds()]: `"guest_total = 16"`, or `"choice: guest_total = 16"` where there are several
#'   decisions. What each answer there is worth, where play goes on as well as can be, instead of the whole of play. The
#'   conditions are about what the seat sees.
#' @param rule The loss that a rule to remember may have: best play in as few lines as that takes. Of one seat.
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
#'   * `position`: with `at`, a list with `text`, `decision`, `reached` (how often a unit of best play comes there),
#'     `situations` (how many there are), and `answers`, a data frame with the best first: `seat`, `answer`,
#'     `worth` (of what is still to come), `loss` against the best of each situation, `best_in` (the share of the
#'     situations in which nothing is better), `share` (of best play there), `legal_in` and `known_in` (the shares of
#'     the situations in which it may be given, and in which its worth was worked out: not where another answer ends it
#'     with the most there can be). They are means over the situations by how often best play comes there; where it
#'     never does, all count alike.
#'   * `rule`: a list with `wanted`, `met` (does it lose no more?), `value`, `loss`, `standard_error`, `engine`, `rules`
#'     (by decision, in the rules language) and `lines` (a data frame: `decision`, `where`, `answer`).
#'   * `firsts`: of guessing games that were searched, a row for each answer of the first decision: `answer`, `value`,
#'     `lower`, `upper` (of answers that cannot be best only one side is known).
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
#'   Blackwell approachability"): what each mix is sure of gives the bounds. Guessing games whose situations are too
#'   many are solved by branch and bound; what a situation is worth at most is what it would be worth if all were seen
#'   after the next answer (Littman, Cassandra and Kaelbling 1995, "Learning policies for partially observable
#'   environments: scaling up").
#' @section Errors: `best_none` where nobody decides, `best_large`, `best_ratio`, `best_circle`, `best_unopposed`,
#'   `best_seats`, `best_rule`, `best_worst`; those of [odds()].
#' @export
#' @examples
#' best_play("lantern-tiles")
best_play <- function(game, seat = NULL, set = list(), players = list(), mode = NULL, both = FALSE, exploit = NULL,
                      objective = NULL, best = NULL, decision = NULL, by = NULL, most = 2000, max_states = 3e7,
                      max_seconds = Inf, quick = FALSE, rule = NULL, write = NULL, at = NULL) {
  check_quoted(c("objective", "by", "at"))
  asked <- asked_here("best_play")
  game <- game_with(game, set)
  check_count(most, "most", 1e6, "write most = 2000")
  check_limits(max_states, max_seconds)
  check_write_players(write, game)
  check_rule_wanted(rule, both, exploit)
  if (!is.null(at)) refuse_with_position(exploit, rule, write, by, decision)
  task <- list(game = game, set = set, mode = mode, best = best, decision = decision, by = by, most = most,
               max_states = max_states, max_seconds = max_seconds,
               policy = c(if (!is.null(write)) "tables", if (!is.null(rule)) "costs"))
  deciding <- seats_that_decide(game, set, mode)
  if (!is.null(exploit)) {
    if (both || !is.null(seat) || !is.null(write)) refuse_with_exploit()
    solution <- exploited(task, exploit, two_seats(game, deciding), objective, players)
  } else {
    seats <- if (both) two_seats(game, deciding) else asked_about(game, seat, NULL)$seat
    objective <- objective_of(game, seats, objective, best)
    if (!is.null(at)) task <- with_position_asked(task, at, seats)
    solution <- if (is.null(rule)) solved(task, seats, players, objective)
      else solved_for_rule(task, seats, players, objective)
    if (!is.null(write)) solution$written <- write_players(game, solution, write)
    if (!is.null(rule)) solution$rule <- rule_to_remember(task, solution, players, rule)
    solution$losses <- if (quick || !is.null(at)) no_losses else losses_of_players(task, solution, players)
  }
  with_call(best_result(game, solution), asked)
}

check_rule_wanted <- function(rule, both, exploit) {
  if (is.null(rule)) return(invisible())
  if (!is.numeric(rule) || length(rule) != 1 || !is.finite(rule) || rule < 0)
    abort_input("argument_wrong", sprintf("`rule` is the loss that a rule may have, not %s.", given_text(rule)),
                "write rule = 0.001 (--rule 0.001)")
  if (both || !is.null(exploit))
    abort_input("argument_wrong", "A rule to remember is that of one seat.",
                "leave out `both` and `exploit`, or name a seat")
}

# All that is solved is asked for one position.
with_position_asked <- function(task, at, seats) {
  task$position <- position_for_best(task$game, one_text(at, "at"), seats)
  task$decision <- task$position$decision
  task$policy <- "position"
  task$most <- 0
  task
}

refuse_with_position <- function(...) {
  if (any(!vapply(list(...), is.null, NA)))
    abort_input("argument_wrong", "`at` asks for the answers at one position.",
                "leave out `exploit`, `rule`, `write`, `by` and `decision`: the position names its decision")
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
  both <- lapply(1:2, function(k) {
    against <- stats::setNames(list(player), game$seats[[seats[[3 - k]]]])
    solved(task, seats[[k]], utils::modifyList(as.list(players), against),
           objective_of(game, seats[[k]], objective, task$best))
  })
  of <- function(field) vapply(both, `[[`, 0, field)
  whole <- both[[1]]
  whole$exploits <- data.frame(seat = game$seats[seats], against = player, value = of("value"), lower = of("lower"),
                               upper = of("upper"), objective = vapply(both, function(f) f$objective$text, ""))
  whole$policy <- bind_filled(lapply(both, `[[`, "policy"))
  whole$decisions <- do.call(rbind, lapply(both, `[[`, "decisions"))
  whole$by <- lapply(seq_along(both), function(k) both[[k]]$by[[1]])
  whole
}
