# The choice of the engine, and the checks of one engine against the other.

odds_by_engine <- function(question, effort) {
  delayedAssign("program", program_of(question))
  run <- if (!is.null(effort$precision)) sample_to_precision(question, program, effort)
    else switch(effort$engine,
      exact = list(tally = exact_tally(question, counted_program(question, program), effort)),
      sample = list(tally = sampled_tally(question, program, effort)),
      auto = count_or_sample(question, program, effort))
  result <- as_odds(run$tally)
  if (effort$engine == "auto" && result$engine == "exact")
    result$checked <- check_against_sample(result, question, program, effort)
  result$why <- run$why
  result$reached <- run$reached
  result
}

# list(tally, why, checked): exact where it takes no more than a second or so, else sampled.
count_or_sample <- function(question, program, effort) {
  game <- question$game
  counted <- counted_program(question, program)
  run <- run_exact_quickly(game, counted)
  why <- "an exact count is quick"
  rounds <- rounds_of_effort(effort, counted)
  if (!run$complete && run$limit == "steps") {
    work <- steps_to_sample(game, counted, rounds)
    if (work > slow_to_sample) {
      run <- run_exact(game, counted, quick_states, work / 4, max_frontier = 4 * quick_states)
      why <- sprintf("an exact count takes less than sampling %s rounds", whole_text(rounds))
    }
  }
  if (run$complete) return(list(tally = new_tally(question, counted, "exact", exact_counts(run)), why = why))
  needs <- if (run$limit == "steps") "a second or so"
    else sprintf("%s states", whole_text(max(run$states, quick_states)))
  list(tally = sampled_tally(question, program, effort),
       why = sprintf("an exact count needs more than %s; `--engine exact` tries anyway", needs))
}

# With slow rounds and few states, counting may be quicker than sampling: it may take a quarter of the steps.
slow_to_sample <- 1e9

# The estimated number of backward jumps, from the first rounds: the same on any machine.
steps_to_sample <- function(game, program, rounds) {
  first <- 20
  (1 + run_units(game, program, 1, 1, first)$steps / first) * rounds
}

# Players who go through all the words for every guess are slow.
usual_rounds <- function(program) if (program$step_budget > step_budget) 2e4 else 1e6
rounds_of_effort <- function(effort, program) if (is.null(effort$rounds)) usual_rounds(program) else effort$rounds

sampled_tally <- function(question, program, effort) {
  rounds <- rounds_of_effort(effort, program)
  if (!is.null(effort$checkpoint)) return(sample_with_checkpoint(question, program, rounds, effort))
  play <- function(tick) {
    counts <- if (!is.null(question$position)) sample_there(question, program, rounds, effort, tick)
    if (is.null(counts)) run_sample(question$game, program, rounds, effort$seed, effort$threads, 1, tick) else counts
  }
  tally <- sampled_as_tally(question, program, rounds, effort)
  tally(with_part_result(with_progress(rounds, "rounds", effort$progress, play), tally_so_far(tally)))
}

sampled_as_tally <- function(question, program, rounds, effort) function(counts)
  new_tally(question, program, "sample", counts, seed = effort$seed, spans = list(c(1, rounds)))

exact_tally <- function(question, program, effort) {
  tally <- function(counts) new_tally(question, program, "exact", counts)
  tally(with_part_result(exact_counts(exact_run(question, program, effort)), tally_so_far(tally)))
}

exact_run <- function(question, program, effort)
  with_progress(effort$max_states, "states", effort$progress, function(tick)
    run_exact(question$game, program, effort$max_states, max_seconds = effort$max_seconds, progress = tick))

tally_so_far <- function(tally) function(stop) list(tally = if (!is.null(stop$counts)) tally(stop$counts))

# Without what only sampling keeps: it would keep states apart that are otherwise the same. `program` is built only
# where it is that one.
counted_program <- function(question, program) {
  if (!has_money(question$game) || program_span(question$game) == "round") program
  else program_of(question, counting = TRUE)
}

checking_rounds <- 2e4
fewest_checking_rounds <- 1e3  # also of each of many points
checking_steps <- 2e8  # what a check may take, where rounds are slow
disagreement <- stats::pnorm(-5)

# Plays some rounds and sets them beside the exact odds: nothing may lie as far out as 5 standard errors would.
# list(rounds, seed, largest_z): the largest difference in standard errors.
check_against_sample <- function(exact, question, program, effort) {
  wanted <- if (is.null(effort$checking)) checking_rounds else effort$checking
  rounds <- if (program$step_budget > step_budget) fewest_checking_rounds
    else signif(wanted / max(1, exact$rounds_in_unit), 2)  # as many rounds, in units of several
  affordable <- checking_steps / steps_to_sample(question$game, program, 1)
  rounds <- max(fewest_checking_rounds, min(rounds, signif(affordable, 1)))
  sampled <- as_odds(sampled_tally(question, program, new_effort(rounds = rounds, seed = effort$seed,
                                                             threads = effort$threads)))
  tails <- c(outcome_tails(exact$outcomes, sampled),
             unlist(Map(value_tails, exact$distributions, sampled$distributions, MoreArgs = list(sampled = sampled))),
             unlist(Map(value_tails, money_values(exact), money_values(sampled), MoreArgs = list(sampled = sampled))))
  worst <- min(1, tails)
  if (worst < disagreement) {
    abort_input("engines_disagree",
                sprintf(paste0("The exact odds of %s and %s sampled rounds of seed %s lie %.1f standard errors apart. ",
                               "This is a bug in basanos: neither can be trusted."), exact$game, whole_text(rounds),
                               plain_number(effort$seed), -stats::qnorm(worst)),
                "please report it, with the rules file and this seed")
  }
  list(rounds = rounds, seed = effort$seed, largest_z = max(0, -stats::qnorm(worst)))
}

# The stakes and the net result of each seat, as one value.
money_values <- function(odds) {
  lapply(odds$results, function(of) data.frame(value = paste(round(of$rounds$put, 6), round(of$rounds$net, 6)),
                                               probability = of$rounds$probability))
}

# The tail probability of a sampled share if the exact one is true: binomial where rounds are independent.
outcome_tails <- function(exact, sampled)
  share_tails(exact$probability, sampled$outcomes$probability, sampled$outcomes$standard_error, sampled)

share_tails <- function(p, got, error, sampled) {
  # rounds of a unit depend on each other: by their standard error
  if (sampled$rounds_in_unit != 1 || sampled$unit != "round") {
    z <- abs(got - p) / error
    return(stats::pnorm(-z[is.finite(z) & p * sampled$rounds > 50]))
  }
  n <- sampled$rounds
  k <- round(got * n)
  p <- pmin(1, pmax(0, p))
  pmin(stats::pbinom(k, n, p), stats::pbinom(k - 1, n, p, lower.tail = FALSE))
}

# The same for each value that a record took; Bonferroni for the number of them.
value_tails <- function(exact, sampled_distribution, sampled) {
  if (sampled$rounds_in_unit != 1 || sampled$unit != "round") return(NULL)
  values <- union(exact$value, sampled_distribution$value)
  share <- function(d) { p <- d$probability[match(values, d$value)]; ifelse(is.na(p), 0, p) }
  pmin(1, share_tails(share(exact), share(sampled_distribution), NULL, sampled) * length(values))
}
