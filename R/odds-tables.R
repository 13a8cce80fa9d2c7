# From a tally to odds: the tables of outcomes, pays, records and units.

#' @rdname odds
#' @order 2
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
  crossing <- match(record_crossed, names(program$records))
  crossed <- if (!is.na(crossing)) crossing_table(tally$crossing, record_counts[[crossing]],
                                                         tally$naming, sampled && program$unit == "round")
  shown <- which(!vapply(program$records, is_added, NA))
  record_place <- length(program$outcomes) + length(open)
  pays <- with_money(pay_table(program$pays, pay_counts, sampled, pay_errors, counts$units), ledgers, sampled)
  units <- unit_tables(program, counts_of_arrived(program, counts), tally, sampled)
  added <- measured_records(program, counts, record_counts, sampled, function(k) error_of_place(record_place + k))
  measured <- if (!is.null(tally$measures))
    measured_table(tally$measures, list(span = program$unit, added = added, pays = pays, shares = units$shares,
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
  kept <- which(vapply(program$records, is_added, NA) & names(program$records) != record_crossed)
  stats::setNames(lapply(kept, function(k) {
    record <- program$records[[k]]
    if (is_named_value(record)) return(list(record = record))
    row <- moments(record_counts[[k]], sampled, error_of(k), record$ends, counts$units)
    n <- sum(record_counts[[k]]$weight)
    if (sampled && isTRUE(row$standard_error > 0)) n <- (row$sd / row$standard_error)^2
    list(record = record, counts = record_counts[[k]], moments = row, n = n)
  }), names(program$records)[kept])
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
  is_beside <- vapply(program$told, identical, NA, "added")
  beside <- measured[is_beside]
  measured <- measured[!is_beside]
  rounds <- measured$rounds
  table_of <- function(share) if (!is.null(share)) outcome_table(names(share), unname(share), counts$units, sampled)
  shares <- lapply(unit_shares(program, counts), table_of)
  told <- program$told[!is_beside]
  names(told) <- names(measured)
  of_kind <- function(kind) names(measured)[vapply(told, identical, NA, kind)]
  for (name in of_kind("money")) measured[[name]]$value <- in_scale(measured[[name]]$value, program$piece)
  yes <- vapply(measured[of_kind("share")], function(x) sum(x$weight[x$value == 1]), 0)
  numbers <- measured[c("rounds", setdiff(names(measured), c("winner", "ending", "rounds", of_kind("share"))))]
  row_of <- function(name, x) c(name = name, moments(x, sampled), least = min(x$value), most = greatest(x, counts))
  table <- table_of_rows(Map(row_of, names(numbers), numbers))
  list(winners = shares$winners, endings = shares$endings, rounds = table[1, ],
       shares = if (length(yes) > 0) table_of(yes), measures = if (nrow(table) > 1) table[-1, ],
       counts = c(measured, beside),
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
  rounds <- if (program$unit == "round") 1
    else if (is.null(counts$rounds_in_all)) mean_rounds(program, counts) else counts$rounds_in_all
  counts$rounds / (counts$units * rounds) * if (is.null(counts$share)) 1 else counts$share
}

# Of a match or sitting, also of those that never come to the position.
mean_rounds <- function(program, counts) {
  all_rounds <- if ("all rounds" %in% program$measures) "all rounds" else "rounds"
  rounds <- counts$unit_quantities[[match(all_rounds, program$measures)]]
  sum(rounds$value * rounds$weight) / sum(rounds$weight)
}

# Of a match or sitting: in which share of the rounds that come to the position its answer is legal; NULL of others.
legal_share <- function(program, counts) {
  not <- match("not legal", program$measures)
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

# Odds of a count that stopped early: what was counted is sure, what was not may still come out any way.

bounded_odds <- function(tally) {
  program <- tally$program
  counts <- tally$counts
  open <- counts$residual
  by_round <- program$unit == "round"
  odds_object(tally, complete = FALSE, limit = counts$limit, counted = max(0, 1 - open),
    outcomes = listed_outcomes(program,
                               if (by_round) bounds_table(program$outcomes, counts$outcomes, counts$rounds, open)
      else bounds_table(program$outcomes, 0, 0, 1)),
    pays = bounded_pays(if (by_round) program$pays, counts, open), records = record_table(list()),
    distributions = list(),
    units = bounded_units(program, counts, open), given = tally$given, given_share = if (program$records_some) NA_real_)
}

# Shares of all that was counted and all that is open: the least where none of what is open counts, the most where all
# does.
bounds_table <- function(names, counted, all, open) {
  data.frame(name = names, probability = NA_real_, lower = counted / (all + open),
             upper = pmin(1, (counted + open) / (all + open)))
}

# If pays depend on the outcome alone, the residual is between the least and the greatest of them.
bounded_pays <- function(pays, counts, open) {
  known <- Filter(function(p) !is.null(p$by_outcome), pays)
  rows <- lapply(known, function(p) {
    mean_with <- function(pay) (sum(p$by_outcome * counts$outcomes) + open * pay) / (counts$rounds + open)
    data.frame(seat = p$seat, mean = NA_real_, lower = mean_with(min(p$by_outcome)),
               upper = mean_with(max(p$by_outcome)), stake = p$stake)
  })
  if (length(rows) == 0) data.frame(seat = character(), mean = double()) else do.call(rbind, rows)
}

# A match or sitting that was not followed to its end may still end any way, after any number of rounds: then there are
# bounds for how it ends, and none for the share of its rounds.
bounded_units <- function(program, counts, open) {
  shares <- unit_shares(program, counts)
  bounds <- function(share) if (!is.null(share)) bounds_table(names(share), unname(share), 1 - open, open)
  if (!is.null(shares)) lapply(shares, bounds)
}

# Quantities without bounds.
need_complete <- function(odds, id = "count_incomplete", what = title_of(odds), hint = "sample it (--engine sample)") {
  if (!isTRUE(odds$complete)) abort_input(id, sprintf("%s could not be counted to its end.", what), hint)
}
