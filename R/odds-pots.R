# A pot that lasts is not the stall's: what is fed to it goes to a visitor at some time. So it counts as paid when it is
# fed, and of a pot that is won only the new seed costs the stall. Rounds are independent then, whatever the pot holds.

# The game with a ledger of its seat in which pots that last are set aside, where it has such pots.
with_pots_set_aside <- function(game, seat) {
  lasting <- lasting_pots(game)
  if (length(lasting) == 0) return(game)
  others <- other_bettors(game, seat)
  if (length(others) > 0)
    abort_input("pot_shared", sprintf("`%s` and `%s` may both feed `%s`: what one of them leaves is not told.",
                                      seat, others[[1]], lasting[[1]]),
                "look at the pots in the odds, or give the pot lasts = sitting")
  game$sets_aside <- TRUE
  game
}

other_bettors <- function(game, seat) setdiff(game$seats[unique(vapply(game$money$bets, `[[`, 0L, "seat"))], seat)

# The edge on a seat, as a measure: where a pot lasts, the one over many rounds.
kept_measure <- function(game, seat) {
  long <- length(lasting_pots(game)) > 0 && length(other_bettors(game, seat)) == 0
  sprintf(if (long) "long_run_edge(%s)" else "edge(%s)", seat)
}

long_run_words <- c("long_run_return", "long_run_edge")

lasting_pots <- function(game) names(Filter(function(pot) pot$lasts == "always", game$money$pots))

# The mean level of lasting pots before a round, over time, in tokens by name, whole in pieces. A round adds `fed`
# and, where it empties the pot, the seed; it pays what it pays from the seed, and `share` of all that is there beyond
# the seed: the level at which the two are equal. A pot that is never paid has none.
mean_levels <- function(pots, game) {
  pots <- pots[pots$pot %in% lasting_pots(game) & pots$share > 0, ]
  piece <- game$money$piece$num / game$money$piece$den
  level <- pots$seed + (pots$fed + pots$emptied * pots$seed - pots$paid) / pots$share
  stats::setNames(round(level / piece) * piece, pots$pot)
}
