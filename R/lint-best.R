# A visitor who plays as well as can be, where that takes more than is put in: no player of the file need be so good.

best_findings <- function(game, settings, players, mode) {
  visitor <- game$paid
  if (length(visitor) != 1 || !puts_in(game, visitor) || length(asked_of(game, visitor)) == 0) return(NULL)
  name <- game$seats[[visitor]]
  best <- best_in_short(game, visitor, settings, players[setdiff(names(players), name)], mode, names = character())
  if (is.null(best) || best$value <= 1e-9) return(NULL)
  list(finding("best_gains", game$decisions[[asked_of(game, visitor)[[1]]]]$at, sprintf(
    "As `%s`, who plays as well as can be takes %s more than is put in, a %s.", name,
    plain_number(signif(best$value, 4)), best$unit)))
}
