#' The odds of a game
#'
#' Works out how often each outcome comes up, what each paid seat gains, and what is recorded: by
#' counting every branch exactly, or by sampling rounds.
#'
#' @order 1
#' @inheritParams sample_tally
#' @param engine `"exact"` follows every branch of chance and merges equal states: no error bars.
#'   `"sample"` plays `rounds` rounds and gives standard errors and 95% intervals. `"auto"` counts
#'   where that takes no more than a second or so, and checks the result against a short sample;
#'   else it samples. Which one it takes depends on the game alone, not on the computer.
#' @param rounds How many units to sample; by default a million, or 20 000 of a game with word lists.
#' @param max_states,max_seconds For `"exact"`: how many states it may visit, and how long it may
#'   take, before it stops and gives bounds instead.
#' @param record More quantities to measure at the end of every round: expressions of the rules
#'   language by name, as `c(high = "max(score)")`.
#' @param given A condition, or the name of an outcome: only rounds in which it holds are counted.
#'   It may use what is recorded and the outcomes by their names, as `"turns > 8"`.
#' @param by An expression, or several: the outcomes are crossed with its values. With `measure` each measure is told
#'   for each value as well, where there are at most 24; by `"outcome"` the measures are told for each outcome, by
#'   default the means of what is recorded and paid.
#' @param at A position: the odds from the first time on that a decision is asked and these conditions hold:
#'   `"guest_hand = c(9, 5)"`. They read the state, and local names of play that a player may read there. Where there
#'   are several decisions, name one first: `"choice: guest_hand = c(9, 5)"`. Whatever the position leaves open is as
#'   likely as in play; if the players never reach it, as likely as with every legal answer equally likely.
#' @param precision Sample until the half width of a 95% interval is at most this: that of the first `measure`, or of
#'   the first outcome if there is none. See Formulas.
#' @param checkpoint A file to save a sampled run to every few seconds, and to go on from: the result is that of
#'   one run, to the last bit.
#' @param measure What else to tell: measures as texts, such as `"edge(guest)"`, `"quantile(tiles, 0.9)"` or
#'   `"probability(tiles > 5)"`; [measures()] lists them.
#' @param without Names of records to leave out, where they keep an exact count from ending. Beside exact odds they
#'   are sampled, 20 000 units.
#' @return An object of class `basanos_odds`, a list with
#'   * `outcomes`: a data frame with `name`, `probability`; sampled also `standard_error`, `lower`,
#'     `upper` (Wilson's 95% interval). Of an exact count that stopped early (`complete` is `FALSE`)
#'     `lower` and `upper` are bounds, and `probability` is missing.
#'   * `units`: of a match or sitting: `winners` or `endings`, like `outcomes`, and its `rounds`. Bounds of a count
#'     that stopped early are those of winners and endings.
#'   * `pays`: a data frame with one row a paid seat: `seat`, `mean` and `sd` (tokens a round),
#'     `stake` (what it puts in before the round's first draw, on average; `stake_varies`: not always the same),
#'     `put_in` (all that it puts in), `return` (what comes back over what is put in), `edge` (what is lost over the
#'     first stakes), `edge_per_token` (over all that is put in), all missing where the rules say of no stake; sampled
#'     also `standard_error`, `lower`, `upper` of the mean, `return_lower`, `return_upper`, `edge_lower`,
#'     `edge_upper`.
#'   * `bets`: of rules with bets a data frame with one row a bet: `bet`, `seat`, `put_in`, `staked` (the share of
#'     rounds in which something lies on it), `hit` and `gain` (the shares of those in which something comes back, and
#'     more than was put in), `mean` and `sd` of the net result, `return`, `edge` (over what is put in), `decided_edge`
#'     (rounds that come out even left out), `volatility` (1.645 sd of what comes back less the return times what is put
#'     in, over what is put in on average) and `breakage` (what rounding keeps, tokens a round);
#'     sampled also `return_lower`, `return_upper`, missing where a few rounds decide.
#'   * `pots`: of rules with pots one row each: `fed` and `paid` (tokens a round), `emptied` (times a round), `share`
#'     (which part of it is paid, on average a round), `seed`; of
#'     one that lasts always also `level_when_paid`, `worth_from` (the level from which playing pays) and
#'     `long_run_return` (of all that the seats put in).
#'   * `measures`: with `measure` a data frame with `name`, `value`; sampled also `standard_error`, `lower`, `upper`.
#'   * `records`: a data frame with `name`, `mean`, `sd`, `least`, `most`; sampled also
#'     `standard_error`, `lower`, `upper`.
#'   * `distributions`: for each record a data frame with `value` and `probability`.
#'   * `why`: why this engine; `checked`: of exact odds the sample that they were checked against.
#'   * with `given`: `given` and `given_share`, the share of the rounds in which it holds; with `by`:
#'     `crossed`, a data frame with `value`, `outcome` and `probability`, and with `measure` or by outcome
#'     `crossed_measures`, one with `value`, `share`, `name` and `measured`; with `at`: `position` and
#'     `answers`, a data frame with a row for each of at most 50 answers and the odds that it leads to.
#' @section Stopped: Ctrl-C or a limit of seconds raises a condition of class `interrupt`. It has what was worked out
#'   until then, in a field named after the result: `odds`, `sweep`, `list`, `players`, `fairness`, `modes`,
#'   `comparison`, `each`, `answers`, `bankroll`, `takings`, `report`; in `balance` a sweep of the points that were
#'   looked at. Such a result says in `stopped` how far it came.
#' @section Formulas: Interval of a probability: Wilson (1927), "Probable inference, the law of
#'   succession, and statistical inference". Interval of a mean: normal, corrected for the skewness
#'   of what is paid or recorded (Hall 1992, "On the removal of skewness by transformation"); where
#'   there are only two values, that of their share.
#'   Sampling to a precision: units in stages, each twice the one before, until the interval is
#'   narrow enough (Chow and Robbins 1965, "On the asymptotic theory of fixed-width sequential
#'   confidence intervals for the mean").
#'   A return is a ratio of sums over rounds, or over units where rounds depend on each other (Cochran 1977, "Sampling
#'   techniques", section 2.11); its interval has the r for which the interval of the mean of what comes back less r
#'   times what is put in holds 0 (Fieller 1954, "Some problems in interval estimation"). None is given where (sum
#'   d^2)^2 / sum d^4 of these differences is below 10. A pot that lasts always pays out all that is fed to it and the
#'   seed at each emptying: level when paid = (fed + emptied * seed) / share, weighted by the part paid.
#'   Of rules with a hole, `later(...)`, a round that comes there ends there: `not_written_yet` is one more outcome, and
#'   `hole` has the `share` of such rounds and the `records` and `distributions` of what is remembered there.
#' @section Errors: `engine_unknown`, `engines_disagree`, `given_never`, `position_none`, `position_never`,
#'   `checkpoint_damaged`, `checkpoint_other`, and those of [sample_tally()].
#' @export
#' @examples
#' odds("tide-signs")
#' odds("lantern-tiles", engine = "sample", rounds = 1e5, set = list(guest_stands = 18))
odds <- function(game, set = list(), players = list(), mode = NULL, measure = NULL, record = NULL, given = NULL,
                 by = NULL,
                 at = NULL, without = NULL, engine = c("auto", "exact", "sample"), rounds = NULL, precision = NULL,
                 seed = 1, threads = 1, max_states = 5e6, max_seconds = Inf, checkpoint = NULL, progress = NULL) {
  check_quoted(c("record", "given", "by", "at", "measure"))
  call <- asked_here("odds")
  if (is_several_games(game)) return(with_call(odds_of_several(game, call$args[-1]), call))
  effort <- new_effort(engine, rounds, precision, seed, threads, max_states, max_seconds, checkpoint, progress)
  base <- question_of(game_with(game, set))
  with_call(odds_from(base, set, players, mode, measure, record, given, by, at, without, effort = effort), call)
}

# The odds of a question that has something in it already, with more of it and the efforts as the arguments of odds().
odds_from <- function(base, set = list(), players = list(), mode = NULL, measure = NULL, record = NULL, given = NULL,
                      by = NULL, at = NULL, without = NULL, progress = NULL, ...,
                      effort = new_effort(..., progress = progress)) {
  if (!is.null(effort$checkpoint) && (effort$engine != "sample" || !is.null(effort$precision) || !is.null(at)))
    abort_input("argument_wrong", "A checkpoint is kept of a sampled run.",
                "add engine = \"sample\" (--engine sample), without a precision or position")
  base$game <- with_holes(base$game)
  question <- with_measures(without_records(with_asked(base, record, given, by, at), without), measure)
  result <- odds_of_question(with_choices(question, set, players, mode), effort)
  more <- list(base, set, players, mode)
  if (!is.null(without) && result$engine == "exact")
    result$beside <- sampled_beside(without, effort, c(more, list(record = record, given = given, at = at)))
  if (is.null(by)) return(result)
  effort <- new_effort(result$engine, if (result$engine == "sample") min(result$rounds, most_rounds_by_value),
                       seed = effort$seed, threads = effort$threads, max_states = effort$max_states,
                       max_seconds = effort$max_seconds)  # the checkpoint is that of the whole run
  again <- function(condition, ...) {
    both <- if (is.null(given)) condition else sprintf("(%s) && (%s)", given, condition)
    do.call(odds_from, c(more, list(..., given = both, effort = effort)))
  }
  with_values_by(result, question, by, measure, again)
}

# The odds at one of many points, as of a sweep: `more` of the task is passed on. Each is checked with few rounds.
odds_of_point <- function(base, point, players, task, rounds = task$rounds, seed = task$seed)
  do.call(odds_from, c(list(base, point$set, players, point$mode, engine = task$engine, rounds = rounds, seed = seed,
                            threads = task$threads, progress = FALSE, checking = fewest_checking_rounds), task$more))

odds_of_question <- function(question, effort) {
  with_failure_described(question,
                    if (!is.null(question$position)) odds_from_position(question, effort)
                    else if (!is.null(question$game$hole)) odds_with_hole(question, effort)
                    else with_part_result(odds_by_engine(question, effort), odds_so_far))
}

# Adds the crossing: money and measures for each value. `again(condition, ...)` gives the odds given a condition.
with_values_by <- function(result, question, by, measure, again) {
  is_outcome <- result$complete && is_by_outcome(question$game, by)
  if (is_outcome) result <- crossed_by_outcome(result)
  if (is.null(result$crossed)) return(result)
  if (length(by) > 1) result <- crossed_by_several(result, by, function(condition, by) again(condition, by = by))
  result$crossed_money <- money_by_value(result, conditions_by(result, by), again)
  measure <- if (is.null(measure) && is_outcome) usual_measures_by(question) else measure
  if (length(measure) > 0)
    result$crossed_measures <- measures_by_value(result, by, function(condition) again(condition, measure = measure))
  result
}

# Of a count or sample that was stopped, where it has come to anything.
odds_so_far <- function(stop) {
  counts <- stop$tally$counts
  if (!isTRUE(counts$rounds > 0) && !isTRUE(counts$states > 0)) return(list())
  odds <- as_odds(stop$tally)
  odds$stopped <- stop$after
  list(odds = odds)
}

# The records left out of a count, sampled: list(records, distributions, rounds, unit, seed).
sampled_beside <- function(names, effort, asked) {
  effort <- new_effort("sample", rounds_beside, seed = effort$seed, threads = effort$threads)
  o <- do.call(odds_from, c(asked, list(effort = effort)))
  kept <- sub("\\[.*", "", o$records$name) %in% names | o$records$name %in% names
  list(records = o$records[kept, ], distributions = o$distributions[kept], rounds = o$rounds, unit = o$unit,
       seed = effort$seed)
}

rounds_beside <- 2e4

# The odds of several games, asked the same question.

is_several_games <- function(x)
  length(x) > 1 && (is.character(x) && !is_rules_text(x) ||
                      identical(class(x), "list") && all(vapply(x, function(g) is_game(g) || is.character(g), NA)))

odds_of_several <- function(games, ask) {
  all <- worked_out(as.list(games), function(game) do.call(odds, c(list(game), ask)), what = "games",
                    so_far = function(results, after, stop) {
    results <- Filter(Negate(is.null), results)
    if (length(results) > 0) list(after = after, odds = several_odds(results, after)) else list()
  })
  several_odds(all)
}

several_odds <- function(all, stopped = NULL)
  structure(list(game = vapply(unname(all), `[[`, "", "game"), odds = unname(all), stopped = stopped),
            class = result_class("several"))

#' @export
sections.basanos_several <- function(x, ...) all_sections(unlist(lapply(x$odds, sections, ...), recursive = FALSE))

#' @export
json_fields.basanos_several <- function(x) list(games = lapply(x$odds, json_fields))

#' @export
as.data.frame.basanos_several <- function(x, ...) bind_result_rows(lapply(x$odds, as.data.frame, ...))

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_several <- function(object, ...)
  ggplot2::autoplot(object$odds[[1]], beside = object$odds[-1], ...)
