# The difference of a measure between two games on the same luck. What is a mean or a ratio over units has an error by
# how far each unit pulls it (its influence); of the others the difference alone is told.

paired_measures <- function(sides, tables, rounds, seed) {
  measures <- sides[[1]]$question$measures
  if (length(measures) == 0) return(NULL)
  values <- lapply(sides, function(side) {
    counts <- run_sample(side$question$game, side$program, rounds, seed, 1)
    as_odds(new_tally(side$question, side$program, "sample", counts, seed = seed))$measures$value
  })
  do.call(rbind, lapply(seq_along(measures), function(k) {
    pulls <- Map(measure_influence, sides, tables, MoreArgs = list(k = k))
    difference <- values[[2]][[k]] - values[[1]][[k]]
    row <- data.frame(kind = "measure", name = measures[[k]]$text, old = values[[1]][[k]], new = values[[2]][[k]],
                      difference = difference)
    ends <- lapply(sides, ends_of_measure, measure = measures[[k]], k = k)
    cbind(row, influence_interval(pulls, difference, rounds, c(ends[[2]][[1]] - ends[[1]][[2]],
                                                               ends[[2]][[2]] - ends[[1]][[1]])))
  }))
}

# The influence of each unit on the measure; NULL unless it is a mean or ratio.
measure_influence <- function(side, table, k) {
  measure <- side$question$measures[[k]]
  ratio <- function(top, bottom) (top - sum(top) / sum(bottom) * bottom) / mean(bottom)
  if (!is.null(measure$expression)) {
    if (!measure$word %in% c("probability", "mean")) return(NULL)
    return(ratio(table$records[, paste("record", record_of_measure(k))], table$rounds))
  }
  if (identical(measure$unit, "winner")) {
    won <- matches_won(side$question$game, table, measure$value)
    return(won - mean(won))
  }
  whole <- unit_column(measure)
  if (!is.null(whole)) {
    if (!measure$word %in% c("probability", "mean", "ruin", "losing", "goal")) return(NULL)
    value <- table$of_unit[, whole]
    is_money <- identical(side$program$told[[match(whole, side$program$measures)]], "money")
    if (is_money) value <- in_scale(value, side$program$piece)
    return(value - mean(value))
  }
  pays <- sprintf("pay %s", measure$about$name)
  if (measure$word == "mean_pay") return(ratio(table$values[, pays], table$rounds))
  sums <- unit_money(side$program, table, measure)
  if (is.null(sums)) return(NULL)
  if (measure$word == "put_in") return(ratio(sums$put, table$rounds))
  of <- ratio_of_word(measure$word)
  if (!is.null(of)) ratio(ratio_top(of)(sums), sums$put)
}

# The units that this seat won, with more counted rounds than any other seat.
matches_won <- function(game, table, seat) {
  counted <- table$values[, sprintf("outcome %s", game$outcomes$names[unlist(game$match$counts)]), drop = FALSE]
  others <- do.call(pmax, as.data.frame(counted[, -seat, drop = FALSE]))
  1 * (counted[, seat] > others)
}

# Stakes and net result, unit by unit, by the ledger of the measure.
unit_money <- function(program, table, measure) {
  about <- measure$about
  if (is.null(about)) return(NULL)
  is_own <- function(entry, kind) entry$kind == kind && entry$name == about$name
  chosen <- which(vapply(program$ledgers, is_own, NA, kind = about$kind))
  other <- which(vapply(program$ledgers, is_own, NA, kind = c(ratio_of_word(measure$word)$ledger, "own")[[1]]))
  if (length(other) > 0) chosen <- other
  if (length(chosen) > 0) return(ledger_pairs(list(value = table$ledgers[, chosen], weight = 1), program$piece))
  for (p in program$pays) if (p$seat == about$name && !is.na(p$stake))
    return(list(put = p$stake * table$rounds, net = table$values[, sprintf("pay %s", about$name)]))
}

# The least and the greatest that one round can give a measure, as far as the rules tell.
ends_of_measure <- function(side, measure, k) {
  if (measure$word == "probability") return(c(0, 1))
  if (side$program$unit != "round") return(no_ends)
  if (!is.null(measure$expression)) return(side$program$records[[record_of_measure(k)]]$ends)
  pay <- Filter(function(p) p$seat == measure$about$name, side$program$pays)
  if (length(pay) == 0) return(no_ends)
  if (measure$word == "mean_pay") return(pay[[1]]$ends)
  ratio <- ratio_of_word(measure$word)
  if (is.null(ratio) || is.na(pay[[1]]$stake)) no_ends else range(ratio$sign * pay[[1]]$ends / pay[[1]]$stake)
}

# Values that were not seen, up to the ends, leave room in it as well.
influence_interval <- function(pulls, difference, n, ends) {
  none <- data.frame(standard_error = NA_real_, lower = NA_real_, upper = NA_real_, gain = NA_real_)
  if (any(vapply(pulls, is.null, NA))) return(none)
  off <- pulls[[2]] - pulls[[1]]
  error <- stats::sd(off) / sqrt(n)
  if (!isTRUE(error > 0)) return(none)
  few <- sum(off^2)^2 < fewest_deciding * sum(off^4)
  apart <- sqrt(sum(vapply(pulls, stats::var, 0)) / n)
  interval <- if (few) list(lower = NA_real_, upper = NA_real_)
    else with_unseen(mean_interval(difference, error, mean(((off - mean(off)) / stats::sd(off))^3), n), difference,
                     difference + range(off), ends, n)
  data.frame(standard_error = error, interval, gain = (apart / error)^2)
}
