# Every engine on every game of the fair, or on those named, a little: for running under a memory checker.
library(basanos)
named <- commandArgs(trailingOnly = TRUE)
for (name in if (length(named) > 0) named else fair_games()) {
  g <- game(name)
  heavy <- length(g$words$texts) > 1000
  odds(g, engine = "sample", rounds = if (heavy) 3 else 200)
  try(odds(g, engine = "exact", max_states = if (heavy) 5 else 500), silent = TRUE)
  trace_round(g, unit = 2)
  same_results(g, g, rounds = if (heavy) 2 else 50)
  cat(name, "\n")
}
