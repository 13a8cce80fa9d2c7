# A question is a game, with what else is asked of it, its settings and who plays: resolved and checked once. An effort
# is how hard to work for the answer. Both are values: another question is another list.

new_question <- function(game, set = list(), players = list(), mode = NULL) {
  settings <- resolve_settings(game, set, mode)
  list(game = game, settings = settings, players = resolve_players(game, players, settings))
}

# `...`: what the program is built for; see build_program(). The one that was built when the game was read is taken
# where that is the one.
program_of <- function(question, ...) {
  game <- question$game
  known <- game$built
  as_read <- ...length() == 0 && identical(known$settings, question$settings) &&
    identical(known$players, question$players) &&
    identical(known$rules, unclass(game)[names(known$rules)]) && length(game) == length(known$rules) + 1L
  if (as_read) known$program else build_program(game, question$settings, question$players, ...)
}

compile_game <- function(game, set = list(), players = list(), mode = NULL, ...)
  program_of(new_question(game, set, players, mode), ...)

# Without `rounds` as many as is usual for the game; `progress` as in with_progress().
new_effort <- function(engine = "auto", rounds = NULL, precision = NULL, seed = 1, threads = 1, max_states = 5e6,
                       max_seconds = Inf, checkpoint = NULL, progress = FALSE) {
  engine <- one_of_names(engine[[1]], c("auto", "exact", "sample"), "engine_unknown", "engine")
  if (!is.null(rounds)) check_rounds(rounds)
  seed <- given_seed(seed)
  check_threads(threads)
  check_limits(max_states, max_seconds)
  list(engine = engine, rounds = rounds, precision = precision, seed = seed, threads = threads,
       max_states = max_states, max_seconds = max_seconds, checkpoint = checkpoint, progress = progress)
}
