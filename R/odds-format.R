# Odds as sections: the error beside every estimate, and no digits that are noise.

# The given condition or the position, and how often it occurs.
question_lines <- function(x) {
  share <- function(p) if (is.na(p)) "a share that is not known"
    else if (p >= 0.001) paste(percent_text(p, 2), "of rounds") else sprintf("1 in %.0f rounds", 1 / p)
  c(if (!is.null(x$given))
    sprintf("  %-9s %s%s", "given", x$given, if (is.null(x$given_share)) ""
      else sprintf(" (%s)", share(x$given_share))),
    if (!is.null(x$position)) sprintf("  %-9s %swhere %s is asked (%s)", "from",
      if (nzchar(x$position$text)) paste0(x$position$text, ", ") else "", x$position$decision,
      if (x$position$wandered) "the players were not seen to come there: it is reached with every legal answer alike"
      else paste("occurs in", share(x$position$reached))))
}

bound_sections <- function(x) {
  percent <- function(p) percent_text(p, 4)
  shares <- function(heading, table) if (!is.null(table))
    section(table = stats::setNames(list(table$name, percent(table$lower), percent(table$upper)),
                                    c(heading, "at least", "at most")))
  c(if (x$unit == "round") list(shares("outcome", x$outcomes))
    else list(shares(x$unit, x$units$winners), shares(paste(x$unit, "ends"), x$units$endings)),
    if (nrow(x$pays) > 0)
      list(section(table = list(seat = x$pays$seat, "mean pay at least" = sprintf("%+.5f", x$pays$lower),
                                "at most" = sprintf("%+.5f", x$pays$upper)))))
}

most_outcomes_of <- 6L  # that fit beside an answer

# The outcomes after each answer at the position, the best first.
answer_section <- function(answers) {
  shown <- names(answers)[!grepl("^answer$|^error of pay of ", names(answers))]
  shown <- shown[vapply(answers[shown], function(x) any(x != 0), NA)]  # outcomes that no answer leads to
  is_pay <- startsWith(shown, "pay of ")
  others <- shown[!is_pay]
  is_outcome <- !others %in% c("legal in", "standard error")
  likeliest <- utils::head(names(sort(vapply(answers[others[is_outcome]], max, 0), decreasing = TRUE)),
                           most_outcomes_of)
  left_out <- setdiff(others[is_outcome], likeliest)
  shown <- c(shown[is_pay], setdiff(others, left_out))
  columns <- lapply(shown, function(name) {
    error <- answers[[paste("error of", name)]]
    if (!startsWith(name, "pay of ")) percent_text(answers[[name]], 3)
    else if (is.null(error)) fixed_text(answers[[name]], 5, sign = TRUE)
    else with_error(answers[[name]], error)
  })
  section(table = c(list(answer = answers$answer), stats::setNames(columns, shown)),
          notes = c(if ("standard error" %in% shown)
                      "  (+- one standard error; the last column is the greatest of the outcomes')",
                    if (length(left_out) > 0) sprintf("  (%s by answer with --format json)", enumerated(left_out))))
}

with_error <- function(x, error) {
  digits <- error_digits(max(error))
  sprintf("%s +- %s", fixed_text(x, digits, sign = TRUE), fixed_text(error, digits))
}

most_crossed <- 40L

# The outcomes within each value.
crossed_section <- function(x) {
  table <- stats::xtabs(probability ~ value + outcome, x$crossed)[,
    unique(x$crossed$outcome[order(match(x$crossed$outcome, x$outcomes$name))]), drop = FALSE]
  all <- rowSums(table)
  shown <- seq_len(min(nrow(table), most_crossed))
  cells <- lapply(colnames(table), crossed_cells, x = x, values = rownames(table)[shown])
  section(table = c(stats::setNames(list(rownames(table)[shown]), x$crossed_with),
                    list(share = percent_text(all[shown], 2)), stats::setNames(cells, colnames(table))),
          notes = c(if (!is.null(x$crossed$standard_error)) "  (with one standard error)",
                    if (nrow(table) > most_crossed)
                      sprintf("  and %d more values (all of them with --format json)", nrow(table) - most_crossed)))
}

crossed_cells <- function(outcome, x, values) {
  rows <- x$crossed[x$crossed$outcome == outcome, ]
  rows <- rows[match(values, rows$value), ]
  share <- ifelse(is.na(rows$within), 0, rows$within)
  error <- rows$within_standard_error
  if (is.null(error)) return(percent_text(share, 2))
  digits <- vapply(100 * error, error_digits, 1L)
  ifelse(is.na(error) | error == 0, percent_text(share, 0),
         sprintf("%.*f%% +- %.*f%%", digits, 100 * share, digits, 100 * error))
}

trust_sections <- function(x) {
  list(if (!is.null(x$checked))
         section(notes = sprintf("Checked against %s sampled %s of seed %s: at most %.1f standard errors apart.",
                                 whole_text(x$checked$rounds), units_in_words(x$unit), plain_number(x$checked$seed),
                                 x$checked$largest_z)),
       if (!is.null(x$reached)) section(notes = reached_line(x$reached))
       else if (!is.null(x$why) && x$engine == "sample") section(notes = sprintf("Sampled: %s.", x$why)))
}

# The precision of the requested quantity.
reached_line <- function(reached) {
  if (is.na(reached$width))
    return(sprintf("%s took one value in all of them: its precision is unknown.", reached$measure))
  more <- if (reached$width > reached$wanted)
    sprintf("; %.2g would take more rounds than --rounds allows", reached$wanted) else ""
  sprintf("%s is known to %.2g to either side%s.", reached$measure, reached$width, more)
}

how_found <- function(x) {
  if (x$engine == "sample") {
    in_rounds <- if (x$unit == "round") "" else sprintf(" (%s rounds)", whole_text(x$rounds * x$rounds_in_unit))
    return(sprintf("%s %s sampled%s, seed %s", whole_text(x$rounds), units_in_words(x$unit), in_rounds,
                   plain_number(x$seed)))
  }
  if (!x$complete)
    return(sprintf("the count stopped at %s states (%s), %s of the weight counted", whole_text(x$states), x$limit,
                   percent_text(x$counted, 1)))
  if (x$states <= 1) "counted exactly" else sprintf("counted exactly over %s states", whole_text(x$states))
}

#' @export
sections.basanos_odds <- function(x, distributions = FALSE, ...) {
  sampled <- x$engine == "sample"
  head <- section(sprintf("%s: %s", title_of(x), how_found(x)), notes = c(choices_lines(x), question_lines(x)))
  if (!x$complete)
    return(do.call(all_sections, c(list(head), bound_sections(x), list(section(notes = paste0(
      "Sampling gives estimates instead (--engine sample); --max-states and --max-seconds let it count on."))))))
  all_sections(
    head, if (x$unit == "round") outcome_section(x$outcomes, sampled),
    if (!is.null(x$answers)) answer_section(x$answers),
    if (x$unit != "round") unit_sections(x, sampled),
    money_sections(x),
    if (!is.null(x$measures)) measure_section(x$measures, sampled),
    record_sections(x, sampled), if (!is.null(x$beside)) beside_sections(x$beside),
    if (!is.null(x$hole)) hole_sections(x$hole, sampled), if (distributions) distribution_sections(x),
    if (!is.null(x$crossed) && x$crossed_with != "outcome") crossed_section(x),
    if (!is.null(x$crossed_measures)) measures_by_value_section(x$crossed_measures, x$crossed_with),
    if (!is.null(x$crossed) && !is.null(x$measures) && is.null(x$crossed_measures))
      section(notes = sprintf("  (measures by value: for at most %d values)", most_values_by)),
    if (!is.null(x$crossed_money)) money_by_value_section(x$crossed_money, x$crossed_with),
    if (isTRUE(x$residual > 0))
      section(notes = sprintf("This game has no longest round: a share of %.1e was left out.", x$residual)),
    trust_sections(x))
}

# Stakes and returns of seats and bets, and the contents of pots.
money_sections <- function(x) {
  sampled <- x$engine == "sample"
  all_sections(if (nrow(x$pays) > 0) pay_section(x$pays, sampled), if (!is.null(x$bets)) bet_section(x$bets, sampled),
               if (!is.null(x$pots)) pot_section(x$pots, if (sampled) x$rounds * x$rounds_in_unit))
}

# The records of a round: numbers in one table, yes or no in another, labels in one each.
record_sections <- function(x, sampled) {
  of_type <- function(type) x$records[x$records$type == type, , drop = FALSE]
  c(list(if (any(x$records$type == "number")) record_section(of_type("number"), sampled),
         if (any(x$records$type == "yes or no")) yes_section(of_type("yes or no"), sampled)),
    lapply(of_type("name")$name, function(name) share_section(name, x$distributions[[name]], x$rounds)))
}

# The records left out of an exact count, from a sample.
beside_sections <- function(beside) {
  c(list(section(notes = sprintf("Left out of the count, from %s sampled %s of seed %s:", whole_text(beside$rounds),
                                 units_in_words(beside$unit), plain_number(beside$seed)))),
    record_sections(beside, TRUE))
}

choices_lines <- function(x) {
  pairs <- function(what, values) if (length(values) > 0)
    sprintf("  %-9s %s", what, paste(names(values), vapply(values, plain_number, ""), sep = " = ", collapse = ", "))
  c(pairs("settings", x$settings),
    if (length(x$modes) > 0) sprintf("  %-9s %s", "modes", paste(x$modes, collapse = ", then ")),
    pairs("players", x$players))
}

outcome_section <- function(outcomes, sampled, heading = "outcome", title = NULL) {
  p <- outcomes$probability
  if (!sampled) {
    cells <- list(outcomes$name, probability = percent_text(p, 4), "one in" = one_in(p))
  } else {
    digits <- error_digits(100 * max(outcomes$standard_error))
    percent <- function(v) percent_text(v, digits)
    cells <- c(list(outcomes$name, probability = percent(p), "standard error" = percent(outcomes$standard_error),
                    "95% interval" = interval_text(outcomes$lower, outcomes$upper, percent)),
               if (any(p > 0 & p < 0.01)) list("one in" = one_in(p, outcomes$standard_error)))
  }
  names(cells)[[1]] <- heading
  section(title, cells)
}

# Who wins the match, or how it ends, and how many rounds it takes; then how its rounds end.
unit_sections <- function(x, sampled) {
  of_unit <- function(heading, outcomes, title = NULL)
    if (!is.null(outcomes)) outcome_section(outcomes, sampled, heading, title)
  tables <- Filter(Negate(is.null), list(of_unit("match", x$units$winners),
    of_unit(paste(x$unit, "ends"), x$units$endings), of_unit(paste(x$unit, "is"), x$units$shares)))
  if (!is.null(x$given) && length(tables) > 0)
    tables[[1]]$title <- sprintf("  (of all %s, not of what is given)", units_in_words(x$unit))
  c(tables, list(record_section(rbind(x$units$rounds, x$units$measures), sampled, x$unit),
                 of_unit("outcome", x$outcomes, "Of a round:")))
}

pay_section <- function(pays, sampled) {
  digits <- if (sampled) error_digits(max(pays$standard_error)) else 5L
  number <- function(v) fixed_text(v, digits, sign = TRUE)
  percent <- function(v) percent_text(v, max(0L, digits - 2L))
  cells <- list(seat = pays$seat, "mean pay" = number(pays$mean), sd = fixed_text(pays$sd, min(3L, digits)))
  if (sampled) cells <- c(cells, list("95% interval" = interval_text(pays$lower, pays$upper, number)))
  if (all(is.na(pays$stake))) return(section(table = cells))
  if (any(pays$put_in != pays$stake, na.rm = TRUE))
    cells <- c(cells, list("first stake" = fixed_text(pays$stake, 3), "put in" = fixed_text(pays$put_in, 3)))
  cells <- c(cells, list(return = percent(pays$return)))
  if (sampled) cells <- c(cells, list("95% interval" = interval_text(pays$return_lower, pays$return_upper, percent)))
  cells <- c(cells, list(edge = percent(pays$edge)))
  if (any(pays$put_in != pays$stake, na.rm = TRUE)) cells <- c(cells, list("per token" = percent(pays$edge_per_token)))
  section(table = cells)
}

# A line a bet: how often it is placed and for how much, what comes of it.
bet_section <- function(bets, sampled) {
  digits <- if (sampled) error_digits(100 * max(0, bets$return_upper - bets$return_lower, na.rm = TRUE) / 4) else 4L
  percent <- function(v) percent_text(v, digits)
  cells <- list(bet = bets$bet, "put in" = fixed_text(bets$put_in, 3), placed = percent(bets$staked),
                hit = percent(bets$hit), gains = percent(bets$gain), return = percent(bets$return))
  if (sampled) cells <- c(cells, list("95% interval" = interval_text(bets$return_lower, bets$return_upper, percent)))
  cells <- c(cells, list(edge = percent(bets$edge), volatility = fixed_text(bets$volatility, 2)))
  if (any(bets$breakage > 0)) cells <- c(cells, list(breakage = fixed_text(bets$breakage, if (sampled) 3 else 5)))
  section(table = cells, notes = if (sampled && anyNA(bets$return_lower[bets$staked > 0 & bets$sd > 0]))
    "  (no interval: a few rounds decide it)")
}

# Rounding noise counts as zero.
without_noise <- function(value) ifelse(abs(value) < 1e-15, 0, signif(value, 7))

measure_section <- function(measures, sampled) {
  if (!sampled)
    return(section(table = list(measure = measures$name, value = plain_number(without_noise(measures$value)))))
  digits <- vapply(measures$standard_error, function(e) if (isTRUE(e > 0)) error_digits(e) else 4L, 1L)
  number <- function(v) mapply(fixed_text, v, digits)
  section(table = list(measure = measures$name, value = number(measures$value),
                       "95% interval" = interval_text(measures$lower, measures$upper, number)))
}

# Of `rounds` sampled as many digits as the number of times that the pot was emptied lets one know.
pot_section <- function(pots, rounds = NULL) {
  error <- if (is.null(rounds)) 0 else 1 / sqrt(pmax(1, pots$emptied * rounds))
  number <- function(x, digits) if (is.null(rounds)) fixed_text(x, digits)
    else fixed_text(x, min(digits, error_digits(max(abs(x) * error, na.rm = TRUE))))
  cells <- list(pot = pots$pot, fed = number(pots$fed, 4), paid = number(pots$paid, 4),
                "emptied, one in" = one_in(pots$emptied, if (!is.null(rounds)) pots$emptied * error))
  if (all(is.na(pots$long_run_return))) return(section(table = cells))
  long <- list("level when paid" = number(pots$level_when_paid, 2),
               "worth playing from" = number(pots$worth_from, 2),
               "return in the long run" = percent_text(pots$long_run_return, if (is.null(rounds)) 3 else 1))
  section(table = c(cells, long))
}

record_section <- function(records, sampled, heading = "record") {
  digits <- if (sampled) error_digits(max(records$standard_error)) else 5L
  number <- function(v) fixed_text(v, digits)
  mean <- number(records$mean)
  constant <- sampled & records$standard_error %in% 0  # one value in all rounds: that is as it is
  mean[constant] <- plain_numbers(records$mean[constant])
  cells <- list(records$name, mean = mean, sd = fixed_text(records$sd, min(3L, digits)))
  if (sampled) cells <- c(cells, list("95% interval" = interval_text(records$lower, records$upper, number)))
  names(cells)[[1]] <- heading
  section(table = c(cells, list(least = plain_numbers(records$least),
                                most = ifelse(is.na(records$most), "no limit", plain_numbers(records$most)))))
}

# The state at a hole of the rules.
hole_sections <- function(hole, sampled) {
  numbers <- hole$records[hole$records$type == "number", , drop = FALSE]
  others <- hole$records$name[hole$records$type != "number"]
  head <- if (nrow(numbers) > 0) record_section(numbers, sampled, "      ") else section()
  head$title <- sprintf("Where the rules are not written yet (%s of rounds):", percent_text(hole$share, 2))
  c(list(head), lapply(others, function(name) share_section(name, hole$distributions[[name]], hole$rounds)))
}

# A yes or no is a share.
yes_section <- function(records, sampled) {
  digits <- if (sampled) error_digits(100 * max(records$standard_error)) else 4L
  percent <- function(v) percent_text(v, digits)
  section(table = c(list(record = records$name, share = percent(records$mean)),
                    if (sampled) list("95% interval" = interval_text(records$lower, records$upper, percent)),
                    list("one in" = one_in(records$mean, records$standard_error))))
}

# A record of labels has no mean: how often each came up.
share_section <- function(name, distribution, rounds) {
  p <- distribution$probability
  digits <- if (is.null(rounds)) 4L else error_digits(100 * max(sqrt(p * (1 - p) / rounds)))
  section(table = stats::setNames(list(distribution$value, sprintf("%.*f%%", digits, 100 * p)), c(name, "share")))
}
