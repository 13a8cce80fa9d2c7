# A visitor who plays as well as can be, where that takes more than is put in: no player of the file need be so good.

best_finding_states <- 20000  # no limit of time: what is found is the same on any machine

best_findings <- function(game, settings, players, mode) {
  visitor <- game$paid
  if (length(visitor) != 1 || !puts_in(game, visitor) || length(asked_of(game, visitor)) == 0) return(NULL)
  name <- game$seats[[visitor]]
  best <- tryCatch(best_play(game, name, set = settings, players = players[setdiff(names(players), name)], mode = mode,
                             quick = TRUE, max_states = best_finding_states, most = 1),
                   basanos_error = function(e) NULL)
  if (is.null(best) || !isTRUE(best$lower > 1e-9)) return(NULL)
  list(finding("best_gains", game$decisions[[asked_of(game, visitor)[[1]]]]$at, sprintf(
    "As `%s`, who plays as well as can be takes %s%s more than is put in, a %s.", name,
    if (is.na(best$value)) "at least " else "", plain_number(signif(best$lower, 4)), best$unit)))
}
