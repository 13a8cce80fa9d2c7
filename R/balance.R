#' Balance a game
#'
#' Searches for pays, settings, modes, copies and weights (the knobs) with which a game meets its targets: what must a
#' win pay to give back 92%? Where all combinations can be counted exactly, the search is complete: if there is an
#' answer, it is found.
#'
#' @inheritParams odds
#' @param want Targets, as texts: a measure (see [measures()]) and what it is to be, `in LOW..HIGH`,
#'   `at least X`, `at most X`, `is X`, `near X`, or `within X of` another measure; numbers may be shares or percents.
#'   `weight W` behind it says how much it counts where not all can be met; one of weight 0 is only told. With
#'   `for all of PLAYERS` at its end, as in `"edge(guest) at least 2% for all of stopper(16:20), bold"`, it is a target
#'   for each of these players at the seat of the measure.
#' @param knobs What may be turned, as texts: a name and its values, `"aim in 20..26 by 2"`. A name is a setting,
#'   `mode`, or a number of the rules: `pay(bright)` (what an outcome pays), `pay(line, made)` (the left side of the
#'   odds of a case), `copies(cards)`, `weight(coin, heads)`, `letters(secrets)`, or the file of a list of words,
#'   `"words(secrets) in easy.txt, all.txt"`.
#' @param rounds Rounds to sample at a point where a count does not fit; by default as many as the narrowest
#'   target takes, 100 000 to 2 000 000.
#' @param against_best Does each seat that decides, and is not among `players`, play as well as can be ([best_play()])?
#'   What the stall keeps then it keeps whoever plays. Each combination is solved by itself.
#' @param answers How many answers to give at most.
#' @param answer For `write`: the number of the answer to write.
#' @param slip How often players slip in the last column of an answer: see [odds()] for players that slip.
#' @param workers How many processes work at once (on Windows always one).
#' @param write A file to write the changed rules to, whole and with their comments; the odds of that file prove it.
#'   Nothing is written where no combination meets the targets.
#' @param ... More arguments of [odds()].
#' @return An object of class `basanos_balance`: a list with
#'   * `answers`: a list, best first, of lists with `kind` (what speaks for it), `knobs` (values by name), `targets` (a
#'     data frame with `target`, `value`, `met`: `met`, `missed` or `undecided`; sampled also `lower`, `upper`),
#'     `elsewhere` (what it costs: volatility, hits, gains, length, by measure), `slipping` (the values of the targets
#'     when players slip), `changed` (how many knobs) and `steps`; the first also `players`: the `seat` and, in
#'     `values`, the values of the targets under each other player of it.
#'   * `status`: `"satisfied and complete"`, `"best found"` (sampled) or `"impossible"`.
#'   * `conflicts`: the smallest set of targets that cannot be met together, as texts; where some cannot be met even
#'     alone (`each_alone`), all of these.
#'   * `today`: the values of the targets as the rules stand.
#'   * `influence`: a data frame with one row a knob and target: `knob`, `target`, `from`, `to` (the value of the target
#'     at the two ends of the knob, the others as in the first answer), `least` and `greatest`, and `step` (the mean
#'     change of one step).
#'   * `explored`: a list with `combinations`, `fits` (how many of them meet all targets), `runs` and `complete`.
#' @inheritSection odds Stopped
#' @section Formulas: Knobs that change pays alone need one run for each value of the others: what is put in and comes
#'   back follows from how often each case is paid. A few combinations are run by themselves as well, and must agree.
#'   Misses are parts of the target's size, times the weight;
#'   the answer has the least greatest one. Sampled points are looked at with 2500, 5000, ... rounds of the same luck;
#'   one leaves when it surely misses a target, at look k with an error of 0.05 / (k (k + 1)) over points and targets.
#'   The values of the answers come from fresh luck.
#' @section Errors: `target_wrong`, `knob_wrong`, `knob_unknown`, `knob_idle`, `knob_off_grid`, `balance_large`,
#'   `tolerance_fine`, `file_there`, those of [odds()]; all before the first long run.
#' @export
#' @examples
#' balance_game("lantern-tiles", want = "edge(guest) in 0.04..0.06", knobs = "pay(bright) in 1..6")
balance_game <- function(game, want, knobs, set = list(), players = list(), mode = NULL, against_best = FALSE,
                         answers = 4, slip = 0.05, write = NULL, answer = 1, engine = c("auto", "exact", "sample"),
                         rounds = NULL, seed = 1, threads = 1, workers = 1, progress = NULL, ...) {
  asked <- asked_here("balance_game", odds)
  seed <- given_seed(seed)
  game <- game_with(game, set)
  engine <- one_of_names(engine[[1]], c("auto", "exact", "sample"), "engine_unknown", "engine")
  check_count(answers, "answers", 20, "write answers = 4")
  check_count(answer, "answer", answers, "write answer = 1 (--answer 1)")
  check_count(workers, "workers", 64, "write workers = 2")
  if (!is.null(rounds)) check_rounds(rounds)
  if (!is.numeric(slip) || length(slip) != 1 || is.na(slip) || slip < 0 || slip > 1)
    abort_input("slip_wrong", sprintf("`slip` must be a chance from 0 to 1, not %s.", given_text(slip)),
                "write slip = 0.05 (--slip 0.05)")
  if (missing(want) || length(want) == 0)
    abort_input("target_wrong", "Balance needs a target.", "write \"edge(guest) in 0.06..0.08\" (--want ...)")
  if (missing(knobs) || length(knobs) == 0)
    abort_input("knob_wrong", "Balance needs a knob to turn.", "write \"aim in 20..26 by 2\" (--knob ...)")
  targets <- read_targets(game, want)
  for (t in targets) if (!is.null(t$seated))
    resolve_players(game, replace(as.list(players), names(t$seated), t$seated), resolve_settings(game, set, mode))
  refuse_contradictions(targets)
  if (isTRUE(against_best)) players <- with_best_seated(game, set, players, mode)
  read <- lapply(knobs, read_knob, game = game, mode = mode)
  refuse_knobs(read, set)
  check_write(write)
  task <- balance_task(game, targets, read, list(
    engine = engine, seed = seed, threads = threads, rounds = rounds, set = as.list(set), players = as.list(players),
    mode = mode, workers = workers, progress = progress, more = list(...), slip = slip, most_answers = answers))
  explored <- combinations_found(task)
  result <- balance_result(explored, game)
  if (!is.null(write)) result$written <- written_answer(result, explored$task, write, answer)
  with_call(result, asked)
}

# `given`: how the points are worked out.
balance_task <- function(game, targets, knobs, given) {
  task <- with_wanted_measures(c(list(game = with_knobs(game, knobs), as_read = game), given), targets)
  with_ways_to_turn(task, knobs)
}

combinations_found <- function(task)
  tryCatch(searched(task), basanos_no_classes = function(e) searched(all_outside(task)))

written_answer <- function(result, task, path, number) {
  if (result$status == "impossible") return(list(path = NULL))
  if (number <= length(result$answers)) return(write_balanced(result, task, path, number))
  abort_input("argument_wrong", sprintf("There is no answer %d: %s found. Nothing was written.", number,
                                        if (length(result$answers) == 1) "one was" else
                                          sprintf("%d were", length(result$answers))),
              sprintf("write answer = %d (--answer %d)", length(result$answers), length(result$answers)))
}

refuse_knobs <- function(knobs, set) {
  names <- vapply(knobs, `[[`, "", "name")
  if (anyDuplicated(names)) knob_wrong(knobs[[anyDuplicated(names)]]$text, "it is there twice.", "keep one")
  both <- intersect(names, names(set))
  if (length(both) > 0)
    knob_wrong(knobs[[match(both[[1]], names)]]$text, sprintf("`%s` is also given with `set` (--set).", both[[1]]),
               "leave one of the two out")
}
