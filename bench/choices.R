# How long choices take: sweeps against the runs they are made of, balance, and all pairings of six players. Whole
# processes, or processor seconds against those of the rounds alone. Writes bench/results/choices.md.

.libPaths(c(".lib", .libPaths()))
library(basanos)
inside <- asNamespace("basanos")
passes <- 3

process_seconds <- function(...) {
  took <- system.time(system2("exec/basanos", shQuote(c(...)), stdout = FALSE, stderr = FALSE))
  sum(took[c("user.child", "sys.child")])
}
best_of <- function(work) min(vapply(seq_len(passes), function(k) work(), 0))
processor <- function(work) system.time(work())[["user.self"]]

one_run <- best_of(function() process_seconds("odds", "lantern-tiles", "--engine", "exact"))
hundred <- best_of(function() process_seconds("sweep", "lantern-tiles", "--set", "keeper_stands=12:21", "--set",
                                              "aim=20:29",
                                              "--measure", "edge(guest)", "--engine", "exact"))

# A sampled sweep against its rounds alone.
sampled_ratio <- function(name, set, rounds) {
  g <- game(name)
  programs <- lapply(set[[1]], function(v) inside$compile_game(inside$with_measures(g, "edge(guest)"),
                                                               stats::setNames(list(v), names(set))))
  ratios <- vapply(seq_len(passes), function(k) {
    whole <- processor(function() sweep_game(g, set = set, measure = "edge(guest)", engine = "sample", rounds = rounds))
    alone <- processor(function() for (p in programs) inside$run_sample(g, p, rounds, 1, 1))
    whole / alone
  }, 0)
  stats::median(ratios)
}

five_pays <- best_of(function() process_seconds(
  "balance", "lantern-tiles", "--want", "edge(guest) in 4%..6%", "--want", "gain(guest) at least 0.4", "--want",
  "volatility(guest) at most 2", "--knob", "pay(bright) in 1..20", "--knob", "pay(keeper_bust) in 0..5 by 0.25", "--knob",
  "pay(guest_high) in 0..5 by 0.25", "--knob", "pay(tie) in -1..1 by 0.25", "--knob", "pay(otherwise) in -2..0 by 0.25"))

six <- tempfile(fileext = ".game")
writeLines("hold <- function(at = 20) player(press = if (pot < at) on else bank)", six)
pairings <- best_of(function() process_seconds(
  "players", "high-water", "--players-file", six, "--compare", "hold(10:35:5)", "--engine", "exact", "--set", "seated=2",
  "--set", "faces=6", "--set", "target=100"))

rows <- c(
  sprintf("| sweep of 100 exact variants of lantern-tiles, to one `odds` run | %.1f times | 20 times |",
          hundred / one_run),
  sprintf("| sampled sweep of bell-cards, 5 points of 1e6 rounds, to its rounds | %.2f times | 1.3 times |",
          sampled_ratio("bell-cards", list(qualifies_at = 5:9), 1e6)),
  sprintf("| sampled sweep of lantern-tiles, 10 points of 5e6 rounds, to its rounds | %.2f times | 1.3 times |",
          sampled_ratio("lantern-tiles", list(aim = 20:29), 5e6)),
  sprintf("| balance: five pays (714 420 combinations) to three targets | %.1f s | 10 s |", five_pays),
  sprintf("| all 36 pairings of six players, two seats of high-water to 100, exact | %.1f s | 60 s |", pairings))
text <- c("# Choices", "",
          sprintf("Processor seconds, the best of %d passes; ratios are medians. Written by `bench/choices.R`.",
                                   passes), "", "| what | measured | at most |", "|---|---|---|", rows)
writeLines(text, "bench/results/choices.md")
writeLines(text)
