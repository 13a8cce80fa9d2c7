# Best play: states, seconds and worth of whole games, without the losses of named players, and the race beside a program
# written by hand. Writes bench/results/best.md.

.libPaths(c(".lib", .libPaths()))
library(basanos)
inside <- asNamespace("basanos")

# `value`: the worth that other programs found, to be met.
solved <- function(name, what, wanted, objective = NULL, seats = 1L, set = list(), players = list(), best = NULL,
                   value = found$value) {
  rules <- game(name)
  task <- list(game = rules, set = set, mode = NULL, decision = NULL, by = NULL, most = 100, max_states = 3e7,
               max_seconds = 600)
  took <- system.time(found <- inside$solved(task, seats, players,
                                             inside$objective_of(rules, seats, objective, best)))[["elapsed"]]
  stopifnot(abs(found$value - value) < 1e-8)
  sprintf("| %s | %s | %.10f | %s | %.1f s | %s |", basename(name), what, found$value,
          format(found$states, big.mark = " "), took, wanted)
}

race <- file.path(tempdir(), "race-to-100.game")
writeLines(c(
  "seats(early, late)", "cube <- die(1:6)", "state(score = each(seat, 0))", "state(pot = 0, lasts = turn)",
  "play({ for (mover in turns(until = max(score) >= 100)) {",
  "  repeat {", "    face <- roll(cube)", "    if (face == 1) { pot <- 0; break }", "    add(face, to = pot)",
  "    ask(mover, press = one_of(on, bank))", "    if (press == bank) break", "  }",
  "  add(pot, to = score[mover])", "} })", "outcomes(wins = who(score[it] >= 100), impossible = otherwise)",
  "hold <- player(press = if (pot >= 20 || score[me] + pot >= 100) bank else on)"), race)

by_hand <- as.numeric(strsplit(system2("build/race", stdout = TRUE), " ")[[1]])  # the worth, the seconds
stopifnot(abs(by_hand[[1]] - 0.5305927253) < 1e-9)

rows <- c(
  sprintf("| race-to-100, written by hand | both seats | %.10f | | %.1f s | |", by_hand[[1]], by_hand[[2]]),
  solved(race, "both seats", "10.5 s", "probability(early_wins)", 1:2, value = 0.5305927253),
  solved("high-water", "both of two seats", "30 s", "probability(red_wins)", 1:2, list(seated = 2),
         value = 0.5367074167),
  solved("three-crabs", "both seats", "30 s", "probability(shore_wins)", 1:2, value = 0.5101608340),
  solved("moon-wheel", "the chance of the goal", "", "goal()", value = 0.4631397406),
  solved("lantern-bluff", "early, against late = timid", "10 s", players = list(late = "timid"),
         value = 11 / 90),
  solved("bell-cards", "guest", "10 s"),
  solved("two-buckets", "early, against late = honest", ""),
  solved("harbour-locks", "least mean of tries", "30 s", "mean(tries_used)", best = "lowest", value = 451 / 125),
  solved("harbour-locks", "least worst case of tries", "30 s", "worst(tries_used)", value = 5),
  solved("harvest-sheet", "scribe", "2 min", value = 217.8185406801))
text <- c("# Best play", "", "One solution each. Written by `bench/best.R`.", "",
          "| game | what | worth | states | took | wanted |", "|---|---|---|---|---|---|", rows)
writeLines(text, "bench/results/best.md")
writeLines(text)
