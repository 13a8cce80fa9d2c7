# Every player in every seat that it can play: what stops a round there, and which outcomes it gets to.

tried_work <- finding_work / 30  # operations for each of the players tried

# The players by seat that are tried besides the first ones: one seat at a time has another player.
other_line_ups <- function(game, players, settings) {
  first <- resolve_players(game, players, settings)
  unlist(lapply(which(!is.na(first)), function(seat) {
    decisions <- asked_of(game, seat)
    able <- Filter(function(p) player_can(p, seat, decisions), game$players)
    lapply(setdiff(vapply(able, `[[`, "", "name"), first[[seat]]), function(name) {
      line_up <- players
      line_up[[game$seats[[seat]]]] <- name
      list(seat = game$seats[[seat]], player = name, players = line_up)
    })
  }), recursive = FALSE)
}

# For each of them list(line_up, share: of the outcomes) or list(line_up, error).
try_line_ups <- function(game, settings, players, mode) {
  lapply(other_line_ups(game, players, resolve_settings(game, settings, mode)), function(line_up) {
    resolved <- resolve_settings(game, settings, mode)
    seated <- resolve_players(game, line_up$players, resolved)
    share <- tryCatch(with_failure_told(game, resolved, seated, {
      program <- program_of(game, resolved, seated)
      run <- run_sample(game, program, finding_units(game, program, tried_work), 1, 1)
      run$outcomes / run$rounds
    }), basanos_error = identity)
    list(line_up = line_up, share = if (is.numeric(share)) share, error = if (!is.numeric(share)) share)
  })
}

# What stops a player is told once, with the first seat in which it does.
line_up_findings <- function(tried) {
  stopped <- Filter(function(t) !is.null(t$error), tried)
  what <- vapply(stopped, function(t) paste(t$line_up$player, t$error$ids, collapse = " "), "")
  unlist(lapply(stopped[!duplicated(what)], function(t)
    stopped_findings(t$error, sprintf("With `%s` as %s: ", t$line_up$player, t$line_up$seat))), recursive = FALSE)
}
