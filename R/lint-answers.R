# An answer that is never better than another: each answer of a decision is given in the same rounds, on the same luck.

answer_rounds <- 1000L
fewest_answer_rounds <- 200L
most_answers_tried <- 6L

answer_findings <- function(game, settings, players, mode) {
  if (program_span(game) != "round") return(NULL)
  question <- new_question(game, settings, players, mode)
  tried <- Filter(function(d) is_tried_by_answer(d) && d$asked %in% game$paid, game$decisions)
  found <- lapply(tried, function(d)
    worst_answer(game, d, lapply(d$type$members, pays_of_answer, question = question, d = d)))
  unname(Filter(Negate(is.null), found))
}

# A choice between a few names, by one seat.
is_tried_by_answer <- function(d) {
  is_kind(d$type, "label") && !d$together && length(d$asked) == 1 &&
    length(d$type$members) >= 2 && length(d$type$members) <= most_answers_tried
}

# The pay of each round in which the seat first gives this answer; missing where the round does not come there, or the
# answer is not legal.
pays_of_answer <- function(answer, question, d) {
  question$game$position <- list(decision = d$name, conditions = list(), text = d$name, answer = answer)
  question$game$records <- list()
  game <- question$game
  program <- program_of(question)
  rounds <- min(answer_rounds, finding_units(game, program, tried_work))
  rows <- tryCatch(run_units(game, program, 1, 1, rounds)$rows, basanos_error = function(e) NULL)
  if (is.null(rows) || nrow(rows) < fewest_answer_rounds) return(NULL)
  column <- 1L + length(program$outcomes) + match(d$asked, game$paid)
  ifelse(rows[, 1] == 1, rows[, column], NA)
}

worst_answer <- function(game, d, pays) {
  worst <- NULL
  for (i in seq_along(pays)) for (j in seq_along(pays)) {
    if (i == j || is.null(pays[[i]]) || is.null(pays[[j]])) next
    gain <- pays[[j]] - pays[[i]]
    gain <- gain[!is.na(gain)]
    if (length(gain) < fewest_answer_rounds || any(gain < 0) || mean(gain > 0) < 0.01) next
    if (is.null(worst) || mean(gain) > worst$gain)
      worst <- list(gain = mean(gain), rounds = length(gain), less = i, more = j, share = mean(gain > 0))
  }
  if (is.null(worst)) return(NULL)
  name <- function(k) game$labels[[d$type$members[[k]]]]
  finding("answer_dominated", d$at,
          sprintf(paste("At `%s`, `%s` is never better than `%s`: in %s rounds on the same luck it paid less in %s,",
                        "and never more."),
                  d$name, name(worst$less), name(worst$more), whole_text(worst$rounds), percent_text(worst$share, 1)))
}
