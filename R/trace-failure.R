# The place where a round failed: the answer, the legal answers, and what
# was remembered.

rounds_to_find_failure <- 2000
most_steps_watched <- 5000L  # of a loop without end that is enough

# Does the work; where it stops on such a round, the message tells how things stood there.
with_failure_told <- function(question, work) {
  tryCatch(work, basanos_error = function(e) {
    if (!any(e$ids %in% names(failures)) || length(e$diagnostics) != 1) stop(e)
    told <- tryCatch(failure_told(question, e), basanos_error = function(other) NULL)
    if (is.null(told)) stop(e)
    e$diagnostics[[1]]$message <- paste(e$diagnostics[[1]]$message, told)
    stop_with_diagnostics(e$diagnostics, e$source, unit = e$unit, seed = e$seed)
  })
}

# The round is played again under a watcher: the one that stopped, or else the first that is found.
failure_told <- function(question, error) {
  game <- question$game
  at <- error
  if (is.null(at$unit)) at <- tryCatch({
    run_sample(game, program_of(question), rounds_to_find_failure, 1, 1)
    NULL
  }, basanos_error = identity)
  if (is.null(at$unit) || !identical(at$ids, error$ids)) return(NULL)
  program <- program_of(question, tracing = TRUE)
  asked <- NULL
  told <- NULL
  steps <- 0L
  go_on <- function(ints, reals) {
    steps <<- steps + 1L
    if (steps < most_steps_watched || error$ids != "loop_endless") return(NULL)
    told <<- state_told(game, program, ints, reals)
    FALSE
  }
  watch_unit(program, at$seed, at$unit, list(
    draw = function(source, value, at) NULL, trace = function(point, ints, reals) go_on(ints, reals),
    round = function(ints, reals) NULL,
    ask = function(ask, again, ints, reals) {
      asked <<- list(ask = ask, legal = legal_answers(program, ask, ints))
      go_on(ints, reals)
    },
    failed = function(ints, reals) {
      told <<- c(if (error$ids == "illegal_answer" && !is.null(asked)) answer_told(game, program, asked, ints, reals),
                 state_told(game, program, ints, reals))
      NULL
    }))
  if (length(told) > 0) paste(told, collapse = " ")
}

answer_told <- function(game, program, asked, ints, reals) {
  d <- game$decisions[[asked$ask$decision + 1L]]
  values <- traced_values(game, program, program$slot[[d$name]], ints, reals)
  answer <- if (d$together) values[[game$seats[[asked$ask$seat]]]] else values
  sprintf("The answer is %s; legal is %s.", answer, choices_text(game, d, asked$legal))
}

most_state_told <- 8L

state_told <- function(game, program, ints, reals) {
  where <- Filter(function(where) where$lasts != "decision", program$slot)
  texts <- vapply(where, function(w) {
    values <- traced_values(game, program, w, ints, reals)
    if (!is.null(names(values))) values <- paste(names(values), values, sep = ": ", collapse = ", ")
    sprintf("%s is %s", w$name, cut_line(values, 80L))
  }, "")
  if (length(texts) == 0) return(NULL)
  sprintf("There %s%s.", paste(utils::head(texts, most_state_told), collapse = "; "),
          if (length(texts) > most_state_told) "; and so on" else "")
}
