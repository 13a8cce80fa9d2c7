# Plays one unit in the core with forced draws and answers: `script` has draws, answers, answered, asks.
play_script <- function(program, script, stop_when_out = FALSE, closing = 0L) {
  decisions <- vapply(script$asks, `[[`, 1L, "decision")
  several <- vapply(script$asks, function(a) a$how == "subsets", NA)
  answered <- as.logical(script$answered)
  core_script(loaded(program), script$draws, as.list(script$answers), answered, as.integer(decisions),
              as.logical(several), stop_when_out, closing)
}

script_ends <- c("done", "failed", "out_of_draws", "out_of_answers", "impossible_draw")
