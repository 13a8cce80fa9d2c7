# Games whose best play is known.

# Is a worth as near as that to the value?
close_to <- function(x, value, within = 1e-9) testthat::expect_lt(abs(x - value), within)

# Race to a goal: a one loses the turn's points.
race <- function(goal = 100) game_of(race_rules(goal))
race_rules <- function(goal) c(
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

# One card each of three ranks, one raise: who folds loses 1, who is called wins or loses 2.
one_raise <- function() game_of(
  "seats(first, second)", "cards <- deck(rank = 1:3)",
  "state(card = each(seat, one(cards, seen_by = owner)), paid = each(seat, 1), folder = one(seats))",
  "play({", "  for (s in seats) card[s] <- draw(cards)", "  ask(first, open = one_of(wait, raise))",
  "  if (open == wait) {", "    ask(second, after = one_of(wait, raise))", "    if (after == raise) {",
  "      paid[second] <- 2", "      ask(first, last = one_of(fold, call))",
  "      if (last == fold) folder <- first else paid[first] <- 2", "    }", "  } else {", "    paid[first] <- 2",
  "    ask(second, reply = one_of(fold, call))", "    if (reply == fold) folder <- second else paid[second] <- 2",
  "  }", "})",
  "outcomes(by_fold = who(folder != none && it != folder), by_card = leader(rank(card[it])), impossible = otherwise)",
  "pays(winner, paid[other(it)])", "pays(others, -paid[it])",
  "shy <- player(open = wait, after = wait, last = fold, reply = fold)")

# One hidden die each; claims rise; who doubts wins if the claim was false.
hidden_dice <- function() game_of(
  "seats(first, second)", "cube <- die(1:6)",
  "state(hidden = each(seat, one(1:6, seen_by = owner)), last = 0, doubter = one(seats))",
  "play({", "  for (s in seats) hidden[s] <- roll(cube)", "  for (mover in turns()) {", "    if (last > 0) {",
  "      ask(mover, act = one_of(doubt, if (last < 12) claim))",
  "      if (act == doubt) { doubter <- mover; end_round() }", "    }",
  "    ask(mover, number = one_of((last + 1):12))", "    last <- number", "  }", "})",
  "wanted <- function() (last + 5) %/% 6", "face <- function() last - 6 * (wanted() - 1)",
  "there <- function() (if (hidden[first] == face()) 1 else 0) + (if (hidden[second] == face()) 1 else 0)",
  "outcomes(right_doubt = there() < wanted(), wrong_doubt = otherwise)",
  "pays(first, right_doubt = if (doubter == first) 1 else -1, wrong_doubt = if (doubter == first) -1 else 1)",
  "pays(second, right_doubt = if (doubter == second) 1 else -1, wrong_doubt = if (doubter == second) -1 else 1)",
  "dull <- player(act = doubt, number = last + 1)")

# A player that looks its answer up by what was thrown, with a table t.csv beside the rules.
looking_up <- function(file, key = "thrown", more = character(), rows = "1,low") {
  folder <- new_folder()
  writeLines(c("key,answer", rows), file.path(folder, "t.csv"))
  path <- file.path(folder, "looking.game")
  writeLines(c("seats(guest)", "cube <- die(1:6)", "state(thrown = 0)", more, "play({ thrown <- roll(cube)",
               "  ask(guest, call = one_of(low, high)) })",
               "outcomes(right = (call == high) == (thrown > 3), wrong = otherwise)",
               sprintf("plan <- player(call = lookup(%s, from = \"%s\"))", key, file)), path)
  game(path)
}

# An empty folder.
new_folder <- function() {
  folder <- tempfile()
  dir.create(folder)
  folder
}
