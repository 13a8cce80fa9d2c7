# Rounds a second of each game, side by side in one run: the machine on one and two threads, the program compiled
# from C, the same game written by hand in C++ (build/hand), vectorised R, and a plain R loop. Ratios are taken pair
# by pair within a pass, so that a drift in the speed of the computer does not matter. The median and the range
# over the passes are written to bench/results/rounds.md.

.libPaths(c(".lib", .libPaths()))
source("bench/loops.R")
passes <- 7

# What is played, and how many rounds in a pass: by the machine and by hand, by one and two threads, and in R.
games <- list(
  "open-shoe" = list(rules = "bench/games/open-shoe.game", rounds = 2e7, in_r = 4e5),
  "six-packs" = list(rules = "bench/games/six-packs.game", rounds = 8e6, in_r = 2e5),
  "high-water" = list(rules = "high-water", set = list(seated = 2, faces = 6, target = 100), rounds = 3e6, in_r = 5e4,
                      plain = 2e3),
  "three-rolls" = list(rules = "bench/games/three-rolls.game", rounds = 1e7, in_r = 2e5),
  "five-signs" = list(rules = "bench/games/five-signs.game", rounds = 1e8, in_r = 2e6),
  "tide-words" = list(rules = "tide-words", players = list(guesser = "sorter"), rounds = 1e4, by_two = 4e5),
  "six-shells" = list(rules = "six-shells", set = list(target = 10000), rounds = 2e4),
  "three-crabs" = list(rules = "three-crabs", rounds = 5e5, by_two = 2e6))

# Processor seconds, which other work on the computer disturbs least; elapsed ones for two threads.
seconds <- function(work, clock = "user.self") {
  start <- proc.time()[[clock]]
  work()
  proc.time()[[clock]] - start
}

# The words of a game, one a line, for the C++, and how many of them are secrets: those come first.
words_of <- function(game) {
  if (length(game$words$texts) == 0) return(NULL)
  path <- tempfile()
  writeLines(game$words$texts, path)
  c(path, sum(game$words$texts %in% readLines("inst/games/six-secret.txt")))
}

by_hand <- function(name, rounds, words) {
  said <- as.numeric(strsplit(system2("build/hand", c(name, format(rounds, scientific = FALSE), "1", words),
                                      stdout = TRUE), " ")[[1]])
  list(seconds = said[[1]], record_sum = said[[2]], outcomes = said[-(1:2)])
}

# Rounds a second of a version in R, where there is one; it must come to what the machine does.
in_r <- function(version, rounds, expected, few) {
  if (is.null(version)) return(NA_real_)
  took <- seconds(function() ends <<- version(rounds))
  expected <- expected[seq_along(ends)]
  share <- ends / rounds
  stopifnot(abs(share - expected) < 5 * sqrt(expected * (1 - expected) * (1 / rounds + 1 / few)))
  rounds / took
}

measure <- function(name) {
  job <- games[[name]]
  game <- basanos::game(job$rules)
  program <- basanos:::compile_game(game, if (is.null(job$set)) list() else job$set, if (is.null(job$players)) list()
    else job$players)
  words <- words_of(game)
  machine <- function(threads, rounds, compiled = NULL)
    basanos:::core_sample(program, 1, 1, rounds, threads, NULL, compiled)
  compiled <- basanos:::native_program(program)
  rounds <- job$rounds
  by_two <- if (is.null(job$by_two)) rounds else job$by_two

  few <- min(rounds, 1e5)
  hand <- by_hand(name, few, words)
  run <- machine(1L, few)
  stopifnot(hand$outcomes[seq_along(program$outcomes)] == run$outcomes)  # unit by unit the same game
  if (hand$record_sum > 0)
    stopifnot(hand$record_sum %in% vapply(run$quantities, function(q) sum(q$value * q$weight), 0))
  if (!is.null(compiled)) stopifnot(identical(machine(1L, few, compiled), run))
  expected <- run$outcomes / few

  rows <- lapply(seq_len(passes), function(pass) {
    by_machine <- rounds / seconds(function() machine(1L, rounds))
    hand <- rounds / by_hand(name, rounds, words)$seconds
    data.frame(machine = by_machine, of_hand = by_machine / hand,
               compiled = if (is.null(compiled)) NA_real_
                 else rounds / seconds(function() machine(1L, rounds, compiled)) / hand,
               threads = seconds(function() machine(1L, by_two), "elapsed") / seconds(function() machine(2L, by_two),
                 "elapsed"),
               vectorised = by_machine / in_r(vectorised[[name]], job$in_r, expected, few),
               plain = by_machine / in_r(plain[[name]], if (is.null(job$plain)) 2e4 else job$plain, expected, few))
  })
  cbind(data.frame(game = name), do.call(rbind, rows))
}

median_and_range <- function(x, format) {
  if (anyNA(x)) return("")
  sprintf(paste0(format, " (", format, " to ", format, ")"), stats::median(x), min(x), max(x))
}

line <- function(rows) {
  with(rows,
       sprintf("| %s | %s | %s | %s | %s | %s | %s |", game[[1]], median_and_range(machine / 1e6, "%.3f"),
               median_and_range(of_hand, "%.2f"), median_and_range(compiled, "%.2f"),
               median_and_range(threads, "%.2f"), median_and_range(vectorised, "%.1f"),
               median_and_range(plain, "%.0f")))
}

overall <- function(measured, column)
  stats::median(vapply(measured, function(rows) stats::median(rows[[column]]), 0), na.rm = TRUE)

measured <- lapply(names(games), measure)
text <- c("# Rounds a second", "",
          sprintf(paste0("Median of %d passes, with the least and the greatest; step budget and bounds checks ",
                         "on. The C++ is scalar, by hand, with"), passes),
          paste0("the same generator and streams: it ends every round as basanos does. Compiled is the ",
                 "program printed as C; what"),
          "compiling takes is not in it. With and without it the transition cache is used where that is",
          paste0("quicker; each thread fills its own, anew in every run. In tide-words and six-shells ",
                 "basanos recalls what a player answered before in the same place; the C++ does so"),
          "for the first guess of tide-words alone.", "",
          paste0("| game | million rounds a second, one thread | of hand-written C++ | compiled, of ",
                 "hand-written C++ | two threads of one | times vectorised R | times a plain R loop |"),
          "|---|---|---|---|---|---|---|", vapply(measured, line, ""),
          sprintf("| median | | %.2f | %.2f | %.2f | | |", overall(measured, "of_hand"), overall(measured, "compiled"),
                  overall(measured, "threads")))
dir.create("bench/results", showWarnings = FALSE)
writeLines(text, "bench/results/rounds.md")
writeLines(text)
