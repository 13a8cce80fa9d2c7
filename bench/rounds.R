# Rounds a second of each game, side by side in one run: basanos on one and two threads, the same
# game written by hand in C++ (build/hand), vectorised R, and a plain R loop. Ratios are taken pair by
# pair within a pass, so that a drift in the machine's speed does not matter; the median and the
# spread over the passes are written to bench/results/rounds.md.

.libPaths(c(".lib", .libPaths()))
source("bench/loops.R")
passes <- 7

# Processor seconds, which other work on the machine disturbs least; elapsed ones for two threads.
seconds <- function(work, clock = "user.self") {
  start <- proc.time()[[clock]]
  work()
  proc.time()[[clock]] - start
}

by_hand <- function(game, rounds) {
  said <- strsplit(system2("build/hand", c(game, format(rounds, scientific = FALSE), "1"), stdout = TRUE), " ")[[1]]
  list(seconds = as.numeric(said[[1]]), outcomes = as.numeric(said[-c(1, length(said))]))
}

# Rounds a second of a version in R, where there is one.
in_r <- function(version, rounds) if (is.null(version)) NA_real_ else rounds / seconds(function() version(rounds))

games <- c("dice-duel" = 5e6, "lantern-tiles" = 8e6, "tide-signs" = 2e7, "high-water" = 1e6, "harbour-dice" = 2e6)

measure <- function(name) {
  game <- basanos::game(name)
  program <- basanos:::compile_game(game, if (name == "high-water") list(seated = 2) else list())
  rounds <- games[[name]]
  machine <- function(threads, rounds) basanos:::core_sample(program, 1, 1, rounds, threads, NULL)
  hand <- by_hand(name, 1e5)$outcomes
  stopifnot(hand[seq_along(program$outcomes)] == machine(1L, 1e5)$outcomes)  # unit by unit the same game
  rows <- lapply(seq_len(passes), function(pass) {
    data.frame(basanos = rounds / seconds(function() machine(1L, rounds)), two_threads = seconds(function() machine(1L, rounds), "elapsed") / seconds(function() machine(2L, rounds), "elapsed"),
               by_hand = rounds / by_hand(name, rounds)$seconds, vectorised = in_r(vectorised[[name]], 1e6), plain = in_r(plain[[name]], 5e4))
  })
  cbind(data.frame(game = name), do.call(rbind, rows))
}

spread <- function(x, format) if (anyNA(x)) "" else sprintf(paste0(format, " (", format, " to ", format, ")"), stats::median(x), min(x), max(x))

line <- function(rows) {
  with(rows, sprintf("| %s | %s | %s | %s | %s | %s |", game[[1]], spread(basanos / 1e6, "%.1f"), spread(basanos / by_hand, "%.2f"),
                     spread(two_threads, "%.2f"), spread(basanos / vectorised, "%.1f"), spread(basanos / plain, "%.0f")))
}

measured <- lapply(names(games), measure)
text <- c("# Rounds a second", "",
          sprintf("Median of %d passes, with the least and the greatest, one thread, step budget and bounds checks on. The C++ is scalar, by hand, with", passes),
          "the same generator and streams: it ends every round as basanos does.", "",
          "| game | million rounds a second | of hand-written C++ | two threads of one | times vectorised R | times a plain R loop |",
          "|---|---|---|---|---|---|", vapply(measured, line, ""))
dir.create("bench/results", showWarnings = FALSE)
writeLines(text, "bench/results/rounds.md")
writeLines(text)
