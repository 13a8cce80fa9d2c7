# Games whose best play is known.

# Is a worth as near as that to the value?
close_to <- function(x, value, within = 1e-9) testthat::expect_lt(abs(x - value), within)

# Race to a goal: a one loses the turn's points.
race <- function(goal = 100) game_of(
  sprintf("goal <- setting(%d, from = 5, to = 200)", goal), "seats(early, late)", "cube <- die(1:6)",
  "state(score = each(seat, 0))", "state(pot = 0, lasts = turn)",
  "play({ for (mover in turns(until = max(score) >= goal)) {",
  "  repeat {", "    face <- roll(cube)", "    if (face == 1) { pot <- 0; break }", "    add(face, to = pot)",
  "    ask(mover, press = one_of(on, bank))", "    if (press == bank) break", "  }",
  "  add(pot, to = score[mover])", "} })", "outcomes(wins = who(score[it] >= goal), impossible = otherwise)",
  "hold <- player(press = if (pot >= 20 || score[me] + pot >= goal) bank else on)")
early_wins <- "probability(early_wins)"

# Two seats that gain or lose together.
paid_alike <- function() game_of(
  "seats(a, b)", "state(n = 0)",
  "play({ for (s in seats) { ask(s, go = one_of(on, off))", "  if (go == on) add(1, to = n) } })",
  "outcomes(both_on = n == 2, other_ways = otherwise)", "pays(everyone, both_on = 1, other_ways = 0)",
  "steady <- player(go = on)")

# Sittings with no number of rounds, in which the wallet goes up and down.
paid_on_the_way <- function() game_of(
  "seats(guest)", "wallet(guest, 4, needs = 1)", "bets(guest, line = 1)", "state(heads = no)",
  "play({ ask(guest, go = one_of(left, right))", "  heads <- chance(0.5) })",
  "settle(line, if (heads) 1 %to% 1, otherwise = lost)", "outcomes(won = heads, lost = otherwise)",
  "sitting(until = wallet(guest) >= 8)", "steady <- player(go = left)")
