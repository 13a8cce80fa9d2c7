# The lines about what was asked, and how far the answer can be trusted.

# What is given, or the position, and how often that comes about.
question_lines <- function(x) {
  share <- function(p) if (is.na(p)) "a share that is not known" else if (p >= 0.001) sprintf("%.2f%% of rounds", 100 * p) else sprintf("1 in %.0f rounds", 1 / p)
  c(if (!is.null(x$given)) sprintf("  %-9s %s%s", "given", x$given, if (is.null(x$given_share)) "" else sprintf(" (%s)", share(x$given_share))),
    if (!is.null(x$position)) sprintf("  %-9s %s, where %s is asked (%s)", "from", x$position$text, x$position$decision,
      if (x$position$wandered) "the players were not seen to come there: it is reached with every legal answer alike" else paste("occurs in", share(x$position$reached))))
}

bound_lines <- function(x) {
  percent <- function(p) sprintf("%.4f%%", 100 * p)
  shares <- function(heading, table) if (!is.null(table)) aligned(stats::setNames(list(table$name, percent(table$lower), percent(table$upper)), c(heading, "at least", "at most")))
  outcomes <- if (x$unit == "round") shares("outcome", x$outcomes) else c(shares(x$unit, x$units$winners), shares(paste(x$unit, "ends"), x$units$endings))
  if (nrow(x$pays) == 0) return(outcomes)
  c(outcomes, "", aligned(list(seat = x$pays$seat, "mean pay at least" = sprintf("%+.5f", x$pays$lower), "at most" = sprintf("%+.5f", x$pays$upper))))
}

# What each answer at the position leads to.
answer_lines <- function(answers) {
  columns <- lapply(names(answers)[-1], function(name) if (startsWith(name, "pay of ")) fixed_text(answers[[name]], 5, sign = TRUE) else percent_text(answers[[name]], 3))
  aligned(c(list(answer = answers$answer), stats::setNames(columns, names(answers)[-1])))
}

most_crossed <- 40L

# The outcomes within each value.
crossed_lines <- function(x) {
  table <- stats::xtabs(probability ~ value + outcome, x$crossed)[, unique(x$crossed$outcome[order(match(x$crossed$outcome, x$outcomes$name))]), drop = FALSE]
  all <- rowSums(table)
  shown <- seq_len(min(nrow(table), most_crossed))
  cells <- lapply(seq_len(ncol(table)), function(k) sprintf("%.2f%%", 100 * table[shown, k] / all[shown]))
  lines <- aligned(c(stats::setNames(list(rownames(table)[shown]), x$crossed_with), list(share = sprintf("%.2f%%", 100 * all[shown])), stats::setNames(cells, colnames(table))))
  c(lines, if (nrow(table) > most_crossed) sprintf("  and %d more values (all of them with --format json)", nrow(table) - most_crossed))
}

trust_lines <- function(x) {
  c(if (!is.null(x$checked)) c("", sprintf("Checked against %s sampled %s of seed %s: at most %.1f standard errors apart.", whole_text(x$checked$rounds), units_in_words(x$unit), plain_number(x$checked$seed), x$checked$farthest)),
    if (!is.null(x$reached)) c("", reached_line(x$reached)),
    if (is.null(x$reached) && !is.null(x$why) && x$engine == "sample") c("", sprintf("Sampled: %s.", x$why)))
}

# How precisely the quantity asked for is known.
reached_line <- function(reached) {
  if (is.na(reached$width)) return(sprintf("%s took one value in all of them: how precisely it is known cannot be told.", reached$of))
  more <- if (reached$width > reached$wanted) sprintf("; %.2g would take more rounds than --rounds allows", reached$wanted) else ""
  sprintf("%s is known to %.2g to either side%s.", reached$of, reached$width, more)
}
