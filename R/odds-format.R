# Odds as text for people: the error beside every estimate, and no digits that are noise.

#' @export
format.basanos_odds <- function(x, ...) {
  sampled <- x$engine == "sample"
  how <- if (sampled) sprintf("%s %s sampled%s, seed %s", format(x$rounds, big.mark = " ", scientific = FALSE), units_in_words(x$unit),
                              if (x$unit == "round") "" else sprintf(" (%s rounds)", format(x$rounds * x$rounds_in_unit, big.mark = " ", scientific = FALSE)), format(x$seed, scientific = FALSE))
    else if (x$complete) sprintf("counted exactly over %s state%s", format(x$states, big.mark = " ", scientific = FALSE), if (x$states == 1) "" else "s")
    else sprintf("the count stopped at %s states (%s), %.1f%% of the weight counted", format(x$states, big.mark = " ", scientific = FALSE), x$limit, 100 * x$counted)
  empty <- x$outcomes$probability == 0 & x$outcomes$name %in% outcomes_of_empty_seats(x)
  x$outcomes <- x$outcomes[!empty, ]
  lines <- c(sprintf("%s: %s", if (is.null(x$title)) x$name else x$title, how), choices_lines(x), question_lines(x), "", if (x$complete) outcome_lines(x$outcomes, sampled) else bound_lines(x))
  if (!x$complete) return(c(lines, "", "Sampling gives estimates instead (--engine sample); --max-states and --max-seconds let it count on."))
  if (!is.null(x$answers)) lines <- c(lines, "", answer_lines(x$answers))
  if (!is.null(x$position$untold)) lines <- c(lines, "", sprintf("%s has %d answers there: too many to tell what each leads to.", x$position$decision, x$position$untold))
  if (!is.null(x$units)) lines <- c(lines, "", unit_lines(x, sampled))
  if (nrow(x$pays) > 0) lines <- c(lines, "", pay_lines(x$pays, sampled))
  measured <- x$records[!is.na(x$records$mean), ]
  if (nrow(measured) > 0) lines <- c(lines, "", record_lines(measured, sampled))
  for (name in setdiff(x$records$name, measured$name)) lines <- c(lines, "", share_lines(name, x$distributions[[name]], x$rounds))
  if (!is.null(x$crossed)) lines <- c(lines, "", crossed_lines(x))
  if (isTRUE(x$unresolved > 0)) lines <- c(lines, "", sprintf("Rounds without a bound: weight %.1e was not followed to an end.", x$unresolved))
  c(lines, trust_lines(x))
}

#' @export
print.basanos_odds <- function(x, ...) {
  writeLines(format(x))
  invisible(x)
}

choices_lines <- function(x) {
  pairs <- function(what, values) if (length(values) > 0) sprintf("  %-9s %s", what, paste(names(values), vapply(values, format, "", scientific = FALSE), sep = " = ", collapse = ", "))
  c(pairs("settings", x$settings), if (length(x$modes) > 0) sprintf("  %-9s %s", "modes", paste(x$modes, collapse = ", then ")), pairs("players", x$players))
}

outcome_lines <- function(outcomes, sampled, heading = "outcome") {
  p <- outcomes$probability
  if (!sampled) {
    cells <- list(outcomes$name, probability = sprintf("%.4f%%", 100 * p), "one in" = one_in(p))
  } else {
    digits <- error_digits(100 * max(outcomes$standard_error))
    percent <- function(v) sprintf("%.*f%%", digits, 100 * v)
    cells <- list(outcomes$name, probability = percent(p), "standard error" = sprintf("%.*f%%", digits, 100 * outcomes$standard_error),
                  "95% interval" = paste(percent(outcomes$lower), "to", percent(outcomes$upper)))
  }
  names(cells)[[1]] <- heading
  aligned(cells)
}

# Where seats stay empty, what would be theirs is left out.
outcomes_of_empty_seats <- function(x) {
  seated <- x$settings$seated
  if (is.null(seated)) return(character())
  empty <- utils::tail(x$seats, length(x$seats) - seated)
  x$outcomes$name[vapply(x$outcomes$name, function(name) any(startsWith(name, paste0(empty, "_"))), NA)]
}

# Who wins the match, or how it ends, and how many rounds it takes.
unit_lines <- function(x, sampled) {
  table <- function(heading, outcomes) {
    if (is.null(outcomes)) return(NULL)
    lines <- outcome_lines(outcomes, sampled, heading)
    c(lines, "")
  }
  lines <- record_lines(rbind(x$units$rounds, x$units$measures), sampled)
  c(table("match", x$units$winners), table("match ends", x$units$endings), sub("record", x$unit, lines[[1]], fixed = TRUE), lines[-1])
}

units_in_words <- function(unit) c(round = "rounds", match = "matches", sitting = "sittings")[[unit]]

one_in <- function(p) ifelse(p <= 0, "never", ifelse(1 / p < 100, sprintf("%.2f", 1 / p), sprintf("%.0f", 1 / p)))

# Enough decimals to show the error with two digits.
error_digits <- function(error) if (!is.finite(error) || error <= 0) 4L else max(0L, min(8L, 1L - as.integer(floor(log10(error)))))

pay_lines <- function(pays, sampled) {
  digits <- if (sampled) error_digits(max(pays$standard_error)) else 5L
  number <- function(v) sprintf("%+.*f", digits, v)
  cells <- list(seat = pays$seat, "mean pay" = number(pays$mean), spread = sprintf("%.3f", pays$sd))
  if (sampled) cells <- c(cells, list("95% interval" = paste(number(pays$lower), "to", number(pays$upper))))
  percent_digits <- max(0L, digits - 2L)
  cells <- c(cells, list(return = sprintf("%.*f%%", percent_digits, 100 * pays$return), edge = sprintf("%.*f%%", percent_digits, 100 * pays$edge)))
  aligned(cells)
}

record_lines <- function(records, sampled) {
  digits <- if (sampled) error_digits(max(records$standard_error)) else 5L
  number <- function(v) sprintf("%.*f", digits, v)
  cells <- list(record = records$name, mean = number(records$mean), spread = sprintf("%.3f", records$sd))
  if (sampled) cells <- c(cells, list("95% interval" = paste(number(records$lower), "to", number(records$upper))))
  aligned(c(cells, list(least = format(records$least), most = ifelse(is.na(records$most), "no limit", format(records$most)))))
}

# A record of labels has no mean: how often each came up.
share_lines <- function(name, distribution, rounds) {
  p <- distribution$probability
  digits <- if (is.null(rounds)) 4L else error_digits(100 * max(sqrt(p * (1 - p) / rounds)))
  aligned(stats::setNames(list(distribution$value, sprintf("%.*f%%", digits, 100 * p)), c(name, "share")))
}

# Columns under their headings: the first to the left, the others to the right.
aligned <- function(cells) {
  columns <- Map(function(name, values, first) {
    values <- c(name, trimws(values))
    formatC(values, width = if (first) -max(nchar(values)) else max(nchar(values)))
  }, names(cells), cells, seq_along(cells) == 1)
  paste0("  ", do.call(paste, c(unname(columns), sep = "   ")))
}
