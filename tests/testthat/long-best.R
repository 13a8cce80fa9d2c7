# Values of best play that two programs found which share nothing with this one and with each other; larger games.

test_that("a race to a hundred: best play of both, and the best answers to a player", {
  g <- race(100)
  both <- best_play(g, both = TRUE, objective = early_wins)
  close_to(both$value, 0.5305927253)
  close_to(best_play(g, objective = early_wins, players = list(late = "hold"))$value, 0.5873676212)
  close_to(best_play(g, "late", objective = "probability(late_wins)", players = list(early = "hold"))$value,
           0.5223819724)
  # what is left to `hold` in either seat
  close_to(both$losses$value[both$losses$seat == "late"], 0.5873676212)
})

test_that("values of the fair", {
  water <- best_play("high-water", set = list(seated = 2), both = TRUE, objective = "probability(red_wins)")
  close_to(water$value, 0.5367074167)
  crabs <- best_play("three-crabs", both = TRUE, objective = "probability(shore_wins)")
  close_to(crabs$value, 0.5101608340)
  close_to(best_play("moon-wheel", objective = "goal()")$value, 0.4631397406)
})

test_that("a sheet of nine boxes", {
  close_to(best_play("harvest-sheet")$value, 217.8185406801, 1e-8)
})
