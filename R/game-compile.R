# The program of a game with chosen settings and players.
# `...`: what it is built for; see build_program().
compile_game <- function(game, set = list(), players = list(), mode = NULL, ...) {
  settings <- resolve_settings(game, set, mode)
  program_of(game, settings, resolve_players(game, players, settings), ...)
}

# The program that was built when the game was read, where that is the one.
program_of <- function(game, settings, players, ...) {
  known <- game$built
  as_read <- ...length() == 0 && identical(known$settings, settings) && identical(known$players, players) &&
    identical(known$rules, unclass(game)[names(known$rules)]) && length(game) == length(known$rules) + 1L
  if (as_read) known$program else build_program(game, settings, players, ...)
}
