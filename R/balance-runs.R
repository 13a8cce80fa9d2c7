# What is run at each point of a balance: which measures, and who plays.

# All that is measured, each once; `columns` of a target says which are its own.
with_wanted_measures <- function(task, targets) {
  game <- task$game
  staked <- staked_seat_of(game, targets)
  task$unit <- program_span(game)
  elsewhere <- c(if (!is.null(staked)) sprintf(c("volatility(%s)", "hit(%s)", "gain(%s)"), staked),
                 if (task$unit != "round") "mean(rounds)" else first_number_recorded(game))
  task$runs <- runs_of_targets(targets, elsewhere)
  task$measures <- unlist(lapply(task$runs, function(run) vapply(run$measures, with_seated, "", run$seated)))
  task$targets <- lapply(targets, function(t) {
    t$measures <- vapply(t$measures, with_seated, "", t$seated, USE.NAMES = FALSE)
    c(t, list(columns = match(t$measures, task$measures)))
  })
  task$staked <- staked
  task$elsewhere <- elsewhere
  with_questions(task, game)
}

# What is run at a point: list(seated, measures), once with the players as they are, once for each player of a target.
runs_of_targets <- function(targets, elsewhere) {
  seatings <- unique(c(list(NULL), lapply(targets, `[[`, "seated")))
  runs <- lapply(seatings, function(seated) {
    of_these <- Filter(function(t) identical(t$seated, seated), targets)
    list(seated = seated, measures = unique(c(unlist(lapply(of_these, `[[`, "measures")),
                                              if (is.null(seated)) elsewhere)))
  })
  Filter(function(run) length(run$measures) > 0, runs)
}

# Each run as a question about these rules.
with_questions <- function(task, game) {
  task$runs <- lapply(task$runs, function(run)
    replace(run, "measured", list(with_measures(question_of(game), run$measures))))
  task$measured <- with_measures(question_of(game), unique(unlist(lapply(task$runs, `[[`, "measures"))))
  task
}

players_of_run <- function(task, run) replace(task$players, names(run$seated), run$seated)

# The seat whose ups and downs are measured: the first that puts something in, one of a target before others.
staked_seat_of <- function(game, targets) {
  staked <- Filter(function(name) puts_in(game, match(name, game$seats)), game$seats)
  named <- Filter(function(name) any(grepl(sprintf("\\b%s\\b", name), unlist(lapply(targets, `[[`, "measures")))),
                  staked)
  first <- c(named, staked)
  if (length(first) > 0) first[[1]]
}
