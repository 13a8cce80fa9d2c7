# Tries the claims of a game: over every branch of chance where they can be gone through, else on sampled rounds.

claim_states <- 3e5
claim_rounds <- 2e4

# One result a claim: list(text, at, passed, how, trace).
run_claims <- function(rules) lapply(rules$claims, run_claim, rules = rules)

run_claim <- function(rules, claim) {
  program <- compile_game(rules, claims = list(claim))
  counted <- core_exact(loaded(program), claim_states, NULL, quick_steps, max_frontier = 4 * claim_states)
  result <- function(passed, how, ...) list(text = claim$text, at = claim$at, passed = passed, how = how, ...)
  broken <- function(failure) failure$fail == failure_code("claim_broken")
  if (counted$end == 0L && counted$residual < 1e-12)
    return(result(TRUE, if (counted$residual == 0) "proved over every branch of chance"
      else sprintf("not broken on any branch but a share of %.0e", counted$residual)))
  if (counted$end == 1L && broken(counted$failure))
    return(result(FALSE, "broken", trace = broken_round(rules, claim, program)))
  sampled <- core_sample(loaded(program), 1, 1, claim_rounds, 1L, NULL)
  if (broken(sampled$failure))
    return(result(FALSE, "broken", trace = broken_round(rules, claim, program, sampled$failed_unit)))
  if (sampled$failure$fail > 0)
    return(result(NA, sprintf("not settled: %s", failure_diagnostic(rules, program, sampled$failure)$message)))
  result(TRUE, sprintf("not broken in %s sampled %s", whole_text(claim_rounds), units_in_words(program$unit)))
}

# The shortest round that breaks it; where that cannot be found, the sampled one.
broken_round <- function(rules, claim, program, unit = 1) {
  broken <- polled(claim_states, "states", NULL, function(tick)
    core_witness(loaded(program), claim_states, integer(), -1L, failure_code("claim_broken"), tick))
  if (broken$end == witness_stopped) signal_stop()
  forced <- if (broken$end == 0L) list(draws = witness_draws(program, broken), answers = list())
  watched <- compile_game(rules, tracing = TRUE, claims = list(claim))
  watch_trace(rules, watched, unit, 1, forced, NULL)
}

# Signs that are not even: how often each beats and is beaten, and one that is never better than another.

sign_findings <- function(game) {
  unlist(lapply(Filter(function(d) d$kind == "signs", game$names), function(d)
    c(uneven_signs(game, d), dominated_signs(game, d))), recursive = FALSE)
}

uneven_signs <- function(game, d) {
  beats <- d$verbs != ""
  wins <- rowSums(beats)
  losses <- colSums(beats)
  if (all(wins == losses)) return(NULL)
  each <- sprintf("`%s` beats %d and loses to %d", game$labels[d$members], wins, losses)
  list(finding("signs_uneven", d$at, sprintf("The signs are not even: %s.", enumerated(each, 12))))
}

# Sign i is never better than j where against every sign it does no better, and against one worse.
dominated_signs <- function(game, d) {
  score <- (d$verbs != "") - t(d$verbs != "")
  n <- nrow(score)
  dominated <- list()
  for (i in seq_len(n)) for (j in seq_len(n)) {
    if (i == j || any(score[i, ] > score[j, ]) || all(score[i, ] == score[j, ])) next
    dominated <- c(dominated, list(finding("sign_dominated", d$at,
      sprintf("`%s` is never better than `%s`, whatever the other throws: nobody who knows will throw it.",
              game$labels[[d$members[[i]]]], game$labels[[d$members[[j]]]]))))
    break
  }
  dominated
}
