# Sampling until an interval is narrow enough: units in stages, each stage as many as all before it, so that
# there are few looks. The interval of the stage at which it stops is the answer.

first_stage <- 1e4
most_without_interval <- 1e6  # units in which one value was seen, and nothing says what else there may be

sample_to_precision <- function(question, program, effort) {
  wanted <- effort$precision
  if (!is.numeric(wanted) || length(wanted) != 1 || is.na(wanted) || wanted <= 0)
    abort_input("precision_wrong", sprintf("`precision` must be a number above zero, not %s.", given_text(wanted)),
                "write 0.001")
  most <- if (is.null(effort$rounds)) max_rounds else effort$rounds
  size <- min(most, if (program$step_budget > step_budget) first_stage / 20 else first_stage)
  tally <- NULL
  stages <- NULL
  repeat {
    played <- if (is.null(tally)) 0 else tally$counts$units
    with_more <- function(counts) {
      more <- new_tally(question, program, "sample", counts, seed = effort$seed,
                        spans = list(c(played + 1, played + size)))
      if (is.null(tally)) more else merge_tallies(tally, more)
    }
    tally <- with_more(with_part_result(
      run_sample(question$game, program, size, effort$seed, effort$threads, played + 1),
      function(stop) stopped_stage(stop, with_more)))
    so_far <- as_odds(tally)
    at <- estimate_of(so_far, if (length(question$measures) > 0) question$measures[[1]]$text)
    stages <- rbind(stages, cbind(data.frame(rounds = tally$counts$units), at[c("value", "lower", "upper")]))
    width <- max(at$upper - at$value, at$value - at$lower)
    left <- most - tally$counts$units
    narrow <- isTRUE(width <= wanted) && decided_by_enough(so_far, at, program)
    if (narrow || left <= 0 || (is.na(width) && tally$counts$units >= most_without_interval)) break
    size <- min(left, tally$counts$units)
  }
  list(tally = tally,
       reached = list(measure = at$name, kind = at$kind, wanted = wanted, width = width, stages = stages),
       why = "a precision is sampled to")
}

# Stopped within a stage: it came as far as all stages together.
stopped_stage <- function(stop, with_more) {
  if (is.null(stop$counts)) return(list())
  tally <- with_more(stop$counts)
  list(tally = tally, after = sprintf("%s %s", whole_text(tally$counts$units), units_in_words(tally$program$unit)))
}

# Of what has no known ends a rare great value may be still to come: then enough of the rounds must decide.
decided_by_enough <- function(odds, at, program) {
  if (odds$unit != "round" || !at$kind %in% c("pay", "record")) return(TRUE)
  of <- if (at$kind == "record") program$records[[at$name]] else
    Filter(function(p) p$seat == at$name, program$pays)[[1]]
  if (all(is.finite(of$ends))) return(TRUE)
  d <- if (at$kind == "record") odds$distributions[[at$name]] else odds$pay_distributions[[at$name]]
  off <- d$value - at$value
  n <- odds$rounds
  n * sum(d$probability * off^2)^2 / max(sum(d$probability * off^4), 1e-300) >= least_deciding || length(off) == 1
}

# The row that the precision is of, the first outcome if no measure is asked for: list(kind, name, value, lower, upper).
# A mean pay, the mean of a record and the share of an outcome have rows of their own, with their distributions.
estimate_of <- function(odds, measure) {
  table <- as.data.frame(odds)
  if (is.null(measure)) row <- match("outcome", table$kind)
  else {
    forms <- c(pay = "^mean_pay\\((.*)\\)$", record = "^mean\\((.*)\\)$",
               outcome = "^probability\\(outcome == (.*)\\)$")
    kind <- names(Filter(function(form) grepl(form, measure), forms))
    name <- if (length(kind) == 1) sub(forms[[kind]], "\\1", measure)
    row <- c(which(table$kind == kind & table$name == name), which(table$kind == "measure"))[[1]]
  }
  as.list(table[row, c("kind", "name", "value", "lower", "upper")])
}
