#' The odds of a game
#'
#' Works out how often each outcome comes up, what each paid seat gains, and what is recorded: by
#' counting every branch exactly, or by sampling rounds.
#'
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
  asked <- without_records(game_asked(with_holes(game_with(game, set)), record, given, by, at), without)
  asked <- with_measures(asked, measure)
  question <- new_question(asked, set, players, mode)
  if (!is.null(checkpoint) && (effort$engine != "sample" || !is.null(precision) || !is.null(at)))
    abort_input("argument_wrong", "A checkpoint is kept of a sampled run.",
                "add engine = \"sample\" (--engine sample), without a precision or position")
  result <- with_failure_told(question,
                              if (!is.null(asked$position)) odds_from_position(question, effort)
                              else if (!is.null(asked$hole)) odds_with_hole(question, effort)
                              else with_part_result(odds_by_engine(question, effort), odds_so_far))
  if (!is.null(without) && result$engine == "exact")
    result$beside <- sampled_beside(game, without, effort$seed, threads, set, players, mode, record, given, at)
  if (is.null(by)) return(with_call(result, call))
  again <- function(condition, ...)
    odds(game, set, players, mode, ..., given = if (is.null(given)) condition else sprintf("(%s) && (%s)", given,
                                                                                           condition),
         engine = result$engine, rounds = if (result$engine == "sample") min(result$rounds, most_rounds_by_value),
         seed = effort$seed, threads = threads, max_states = max_states, max_seconds = max_seconds, progress = FALSE)
  with_call(with_values_by(result, asked, by, measure, again), call)
}

# Adds the crossing: money and measures for each value. `again(condition, ...)` gives the odds given a condition.
with_values_by <- function(result, game, by, measure, again) {
  is_outcome <- result$complete && is_by_outcome(game, by)
  if (is_outcome) result <- crossed_by_outcome(result)
  if (is.null(result$crossed)) return(result)
  if (length(by) > 1) result <- crossed_by_several(result, by, function(condition, by) again(condition, by = by))
  result$crossed_money <- money_by_value(result, conditions_by(result, by), again)
  measure <- if (is.null(measure) && is_outcome) usual_measures_by(game) else measure
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

odds_by_engine <- function(question, effort) {
  delayedAssign("program", program_of(question))
  found <- if (!is.null(effort$precision)) sample_to_precision(question$game, program, effort)
    else switch(effort$engine,
      exact = list(tally = exact_tally(question, counted_program(question, program), effort)),
      sample = list(tally = sampled_tally(question$game, program, effort)),
      auto = count_or_sample(question, program, effort))
  result <- as_odds(found$tally)
  if (effort$engine == "auto" && result$engine == "exact")
    result$checked <- check_against_sample(result, question$game, program, effort)
  result$why <- found$why
  result$reached <- found$reached
  result
}

#' @rdname odds
#' @param tally A tally: see [sample_tally()].
#' @export
as_odds <- function(tally) {
  if (!inherits(tally, "basanos_tally"))
    abort_input("argument_wrong", "`as_odds()` takes a tally, as sample_tally() gives it.")
  program <- tally$program
  counts <- tally$counts
  sampled <- tally$engine == "sample"
  if (!is.null(counts$limit) && nzchar(counts$limit)) return(bounded_odds(tally))
  if (program$records_some && counts$rounds == 0)
    stop_on_none_given(if (sampled && is.null(counts$share)) counts$units)
  open <- Filter(function(p) is.null(p$by_outcome), program$pays)
  pay_counts <- lapply(program$pays, function(p) {
    if (is.null(p$by_outcome)) counts$quantities[[match(p$seat, vapply(open, `[[`, "", "seat"))]]
    else collect_counts(p$by_outcome, counts$outcomes)
  })
  record_counts <- counts$quantities[length(open) + seq_along(program$records)]
  ledgers <- ledgers_of(program, counts, length(open) + length(program$records))
  error_of_place <- unit_errors(counts, length(program$outcomes))
  pay_errors <- lapply(program$pays,
                       function(p) if (is.null(p$by_outcome))
                         error_of_place(length(program$outcomes) + match(p$seat, vapply(open, `[[`, "", "seat"))))
  crossing <- match(" crossing", names(program$records))
  crossed <- if (!is.na(crossing)) crossing_table(tally$crossing, record_counts[[crossing]],
                                                         tally$naming, sampled && program$unit == "round")
  shown <- which(!startsWith(as.character(names(program$records)), " "))
  record_place <- length(program$outcomes) + length(open)
  pays <- with_money(pay_table(program$pays, pay_counts, sampled, pay_errors, counts$units), ledgers, sampled)
  units <- unit_tables(program, counts_of_arrived(program, counts), tally, sampled)
  hidden <- measured_records(program, counts, record_counts, sampled, function(k) error_of_place(record_place + k))
  measured <- if (!is.null(tally$measures))
    measured_table(tally$measures, list(span = program$unit, hidden = hidden, pays = pays, shares = units$shares,
                                        unit = units$counts,
                                        ledgers = money_ledgers(ledgers, pays, pay_counts)), sampled)
  odds_object(tally, complete = TRUE,
    outcomes = listed_outcomes(program,
                               outcome_table(program$outcomes, counts$outcomes, counts$rounds, sampled,
                                             error_of_place)),
    pays = pays, bets = bet_table(ledgers, sampled), pots = pot_table(ledgers, program), measures = measured,
    results = money_results(pays, pay_counts, ledgers, units$counts, counts$rounds / counts$units),
    together = results_together(ledgers), cases = ledger_named(ledgers, "cases", "")$rounds,
    par = if (!is.null(tally$par_seat)) par_counts(ledger_named(ledgers, "par", tally$par_seat), program),
    records = record_table(program$records[shown], record_counts[shown], sampled, error_of_place,
                           record_place + shown, counts),
    units = units[setdiff(names(units), "counts")],
    distributions = stats::setNames(lapply(shown,
                                           function(k)
                                             distribution_table(record_counts[[k]], program$records[[k]],
                                               tally$naming)), names(program$records)[shown]),
    pay_distributions = stats::setNames(lapply(pay_counts, pay_distribution),
                                        vapply(program$pays, `[[`, "", "seat")),
    legal_share = legal_share(program, counts), given = tally$given,
    given_share = if (program$records_some) given_share(program, counts), crossed = crossed,
    crossed_with = tally$crossing$text)
}

# The records that measures added, by name: list(counts, record, moments, n), `n` being how many independent values the
# mean rests on.
measured_records <- function(program, counts, record_counts, sampled, error_of) {
  own <- grep("^ measure", names(program$records))
  stats::setNames(lapply(own, function(k) {
    record <- program$records[[k]]
    if (is_named_value(record)) return(list(record = record))
    row <- moments(record_counts[[k]], sampled, error_of(k), record$ends, counts$units)
    n <- sum(record_counts[[k]]$weight)
    if (sampled && isTRUE(row$standard_error > 0)) n <- (row$sd / row$standard_error)^2
    list(record = record, counts = record_counts[[k]], moments = row, n = n)
  }), names(program$records)[own])
}

# Outcomes of seats that nobody takes are left out.
listed_outcomes <- function(program, table) {
  table <- table[!(table$name %in% program$empty_outcomes & table$probability %in% c(0, NA)), ]
  rownames(table) <- NULL
  table
}

stop_on_none_given <- function(sampled) {
  message <- sprintf("The condition given holds in no round%s.", if (is.null(sampled)) ""
    else sprintf(" of %s", whole_text(sampled)))
  given_never <- diagnostic("given_never", message,
                            "check the condition; `basanos trace --where` seeks a round in which it holds")
  stop_with_diagnostics(list(given_never), NULL, sampled = sampled)
}

# The fields of odds of every kind, then those of each.
odds_object <- function(tally, ...) {
  program <- tally$program
  counts <- tally$counts
  sampled <- tally$engine == "sample"
  structure(list(
    game = tally$name, title = tally$title, hash = program$hash, engine = tally$engine, unit = program$unit,
    rounds = if (sampled) counts$units, seed = if (sampled) tally$seed, rounds_in_unit = counts$rounds / counts$units,
    states = counts$states, residual = counts$residual,
    seats = names(program$players), settings = program$settings, modes = program$modes,
    players = Filter(Negate(is.na), as.list(program$players)), ...),
    class = result_class("odds"))
}

outcome_table <- function(names, counts, rounds, sampled, error_of_place = function(k) NULL) {
  p <- counts / rounds
  table <- list(name = names, probability = p)
  if (!sampled) return(list2DF(table))
  error <- sqrt(p * (1 - p) / rounds)
  n <- rep(rounds, length(p))
  for (k in seq_along(p)) {
    error_of <- error_of_place(k)
    if (is.null(error_of) || p[[k]] <= 0 || p[[k]] >= 1) next
    error[[k]] <- error_of(p[[k]])
    if (error[[k]] > 0) n[[k]] <- p[[k]] * (1 - p[[k]]) / error[[k]]^2
  }
  interval <- wilson_interval(p * n, n)
  list2DF(c(table, list(standard_error = error), interval))
}

# Where the rounds of a unit depend on each other, the standard error of a mean over rounds goes by units: that
# of a ratio of sums (Cochran 1977, "Sampling techniques", section 2.11). Gives for the k-th quantity a
# function from the mean to its error; NULL where a unit is one round.
unit_errors <- function(counts, outcomes) {
  if (length(counts$ss) == 0) return(function(k) NULL)
  function(k) function(mean) {
    squares <- max(0, counts$ss[[k]] - 2 * mean * counts$sn[[k]] + mean^2 * counts$squared_rounds)
    sqrt(squares / max(1, counts$units * (counts$units - 1))) / (counts$rounds / counts$units)
  }
}

# The units that came to the position, where there is one.
counts_of_arrived <- function(program, counts) {
  if (is.null(program$required) || program$unit == "round") return(counts)
  counts$unit_quantities <- lapply(counts$unit_quantities, function(q) {
    kept <- q$value != not_arrived
    list(value = q$value[kept], weight = q$weight[kept])
  })
  counts$units <- sum(counts$unit_quantities[[match("rounds", program$measures)]]$weight)
  counts
}

# The end of a match or sitting: its winner, or the outcome of its last round; how many rounds it took; in a
# sitting of matches how many of those.
unit_tables <- function(program, counts, tally, sampled) {
  if (program$unit == "round") return(NULL)
  measured <- stats::setNames(counts$unit_quantities, program$measures)
  asked <- measured[startsWith(names(measured), " ")]
  measured <- measured[!startsWith(names(measured), " ")]
  rounds <- measured$rounds
  table_of <- function(share) if (!is.null(share)) outcome_table(names(share), unname(share), counts$units, sampled)
  shares <- lapply(unit_shares(program, counts), table_of)
  told <- program$told[program$measures %in% names(measured)]
  names(told) <- names(measured)
  of_kind <- function(kind) names(measured)[vapply(told, identical, NA, kind)]
  for (name in of_kind("money")) measured[[name]]$value <- in_scale(measured[[name]]$value, program$piece)
  yes <- vapply(measured[of_kind("share")], function(x) sum(x$weight[x$value == 1]), 0)
  numbers <- measured[c("rounds", setdiff(names(measured), c("winner", "ending", "rounds", of_kind("share"))))]
  row_of <- function(name, x) c(name = name, moments(x, sampled), least = min(x$value), most = greatest(x, counts))
  table <- table_of_rows(Map(row_of, names(numbers), numbers))
  list(winners = shares$winners, endings = shares$endings, rounds = table[1, ],
       shares = if (length(yes) > 0) table_of(yes), measures = if (nrow(table) > 1) table[-1, ],
       counts = c(measured, asked),
       distributions = lapply(numbers[intersect(names(numbers), program$recorded_of_unit)], shares_of_values),
       distribution = shares_of_values(rounds))
}

shares_of_values <- function(x) list2DF(list(value = x$value, probability = x$weight / sum(x$weight)))

# How many units each seat won, and nobody, where that happens; or how many ended in each outcome. NULL of rounds.
unit_shares <- function(program, counts) {
  if (program$unit == "round") return(NULL)
  measured <- stats::setNames(counts$unit_quantities, program$measures)
  times <- function(x, values) vapply(values, function(value) sum(x$weight[x$value == value]), 0)
  seats <- names(program$players)
  winners <- if (!is.null(measured$winner))
    stats::setNames(times(measured$winner, c(seq_along(seats), 0)), c(seats, "nobody"))
  list(winners = winners[winners > 0 | names(winners) != "nobody"],
       endings = if (!is.null(measured$ending))
         stats::setNames(times(measured$ending, seq_along(program$outcomes)), program$outcomes))
}

# The greatest value; none where rounds go on without a bound and the value was still growing when exact left off.
greatest <- function(x, counts) {
  last <- which.max(x$value)
  if (isTRUE(counts$residual > 0) && x$weight[[last]] < 1e-12) NA_real_ else x$value[[last]]
}

# The share of all rounds that were recorded.
given_share <- function(program, counts) {
  all <- if (program$unit == "round") counts$units else {
    all_rounds <- if (" all rounds" %in% program$measures) " all rounds" else "rounds"
    rounds <- counts$unit_quantities[[match(all_rounds, program$measures)]]
    sum(rounds$value * rounds$weight) / sum(rounds$weight) * counts$units
  }
  counts$rounds / all * if (is.null(counts$share)) 1 else counts$share
}

# Of a match or sitting: in which share of the rounds that come to the position its answer is legal; NULL of others.
legal_share <- function(program, counts) {
  not <- match(" not legal", program$measures)
  if (is.na(not)) return(NULL)
  not <- counts$unit_quantities[[not]]
  counts$rounds / (counts$rounds + sum(not$value * not$weight))
}

pay_table <- function(pays, counts, sampled, errors_of, units) {
  if (length(pays) == 0) return(data.frame(seat = character(), mean = double()))
  rows <- Map(function(p, x, error_of) {
    m <- moments(x, sampled, error_of, p$ends, units)
    c(seat = p$seat, m, stake = p$stake, return = 1 + m$mean / p$stake, edge = -m$mean / p$stake)
  }, pays, counts, errors_of)
  table_of_rows(rows)
}

kinds_of_record <- c(whole = "number", fraction = "number", yesno = "yes or no", label = "name", card = "name",
                     word = "name", marks = "name")

is_named_value <- function(record) record$type %in% c("label", "card", "word", "marks")

record_table <- function(records, counts = list(), sampled = FALSE, error_of_place = NULL, places = integer(),
                         bounds = NULL) {
  if (length(records) == 0) return(data.frame(name = character(), mean = double()))
  rows <- Map(function(r, x, k) {
    named <- is_named_value(r)
    m <- if (named) moments(list(value = NA_real_, weight = 1), sampled)
      else moments(x, sampled, error_of_place(k), r$ends, bounds$units)
    c(name = r$name, type = kinds_of_record[[r$type]], m, least = if (named) NA_real_ else min(x$value),
      most = if (named) NA_real_ else greatest(x, bounds))
  }, records, counts, places)
  table_of_rows(rows)
}

pay_distribution <- function(counts) {
  counts <- collect_counts(counts$value, counts$weight)
  list2DF(list(value = counts$value, probability = counts$weight / sum(counts$weight)))
}

distribution_table <- function(counts, record, naming) {
  value <- counts$value
  type <- list(kind = record$type, set = record$set)
  if (is_named_value(record) || record$type == "yesno")
    value <- vapply(value, value_text, "", rules = naming, type = type)
  list2DF(list(value = value, probability = counts$weight / sum(counts$weight)))
}
