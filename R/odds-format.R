# Odds as text for people: the error beside every estimate, and no digits that are noise.

#' @export
format.basanos_odds <- function(x, ...) {
  sampled <- x$engine == "sample"
  how <- if (sampled) sprintf("%s %s sampled%s, seed %s", whole_text(x$rounds), units_in_words(x$unit),
                              if (x$unit == "round") "" else sprintf(" (%s rounds)", whole_text(x$rounds * x$rounds_in_unit)), plain_number(x$seed))
    else if (x$complete) sprintf("counted exactly over %s state%s", whole_text(x$states), if (x$states == 1) "" else "s")
    else sprintf("the count stopped at %s states (%s), %.1f%% of the weight counted", whole_text(x$states), x$limit, 100 * x$counted)
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
  if (isTRUE(x$residual > 0)) lines <- c(lines, "", sprintf("This game has no longest round: a share of %.1e was left out.", x$residual))
  c(lines, trust_lines(x))
}

#' @export
print.basanos_odds <- function(x, ...) {
  writeLines(format(x))
  invisible(x)
}

choices_lines <- function(x) {
  pairs <- function(what, values) if (length(values) > 0) sprintf("  %-9s %s", what, paste(names(values), vapply(values, plain_number, ""), sep = " = ", collapse = ", "))
  c(pairs("settings", x$settings), if (length(x$modes) > 0) sprintf("  %-9s %s", "modes", paste(x$modes, collapse = ", then ")), pairs("players", x$players))
}

outcome_lines <- function(outcomes, sampled, heading = "outcome") {
  p <- outcomes$probability
  if (!sampled) {
    cells <- list(outcomes$name, probability = percent_text(p, 4), "one in" = one_in(p))
  } else {
    digits <- error_digits(100 * max(outcomes$standard_error))
    percent <- function(v) percent_text(v, digits)
    cells <- list(outcomes$name, probability = percent(p), "standard error" = percent(outcomes$standard_error),
                  "95% interval" = interval_text(outcomes$lower, outcomes$upper, percent))
  }
  names(cells)[[1]] <- heading
  aligned(cells)
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

pay_lines <- function(pays, sampled) {
  digits <- if (sampled) error_digits(max(pays$standard_error)) else 5L
  number <- function(v) fixed_text(v, digits, sign = TRUE)
  percent <- function(v) percent_text(v, max(0L, digits - 2L))
  cells <- list(seat = pays$seat, "mean pay" = number(pays$mean), sd = fixed_text(pays$sd, 3))
  if (sampled) cells <- c(cells, list("95% interval" = interval_text(pays$lower, pays$upper, number)))
  aligned(c(cells, list(return = percent(pays$return), edge = percent(pays$edge))))
}

record_lines <- function(records, sampled) {
  digits <- if (sampled) error_digits(max(records$standard_error)) else 5L
  number <- function(v) fixed_text(v, digits)
  cells <- list(record = records$name, mean = number(records$mean), sd = fixed_text(records$sd, 3))
  if (sampled) cells <- c(cells, list("95% interval" = interval_text(records$lower, records$upper, number)))
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
