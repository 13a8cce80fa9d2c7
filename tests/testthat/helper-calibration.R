# Coverage of the intervals over seeded runs of games with exact odds: used by the test and by bench/calibration.R.

# The share of `runs` seeded runs in which each interval covers the exact value.
covered_share <- function(g, units, runs, prefix, pick = function(kind, name) TRUE) {
  g <- game(g)
  truth <- as.data.frame(odds(g, "exact"))
  kept <- Map(pick, truth$kind, truth$name) == TRUE & truth$kind != "match"
  program <- compile_game(g)
  inside <- vapply(seq_len(runs), function(seed) {
    counts <- core_sample(program, seed + 5000, 1, units, 1L, NULL)
    got <- as.data.frame(odds_of(new_tally(g, program, "sample", counts, seed = seed)))
    (got$lower <= truth$estimate + 1e-12 & got$upper >= truth$estimate - 1e-12)[kept]
  }, logical(sum(kept)))
  data.frame(what = sprintf("%s: %s %s", prefix, truth$kind[kept], truth$name[kept]), units = units,
             covered = rowMeans(matrix(inside, ncol = runs)))
}

wheel_game <- function(faces, prize) {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", sprintf("wheel <- die(1:%d)", as.integer(faces)), "state(n = 0)",
               "play({ n <- roll(wheel) })", "outcomes(jackpot = n == 1, nothing = otherwise)",
               sprintf("pays(guest, jackpot = %d, nothing = -1)", as.integer(prize))), path)
  path
}

calibrations <- function(runs) {
  varied <- function(kind, name) TRUE
  jackpot <- function(kind, name) name %in% c("jackpot", "guest")
  precise <- function(g, precision, of) {
    g <- game(g)
    truth <- estimate_of(odds(g, "exact"), of)$estimate
    program <- compile_game(g)
    inside <- vapply(seq_len(runs), function(seed) {
      found <- sample_to_precision(g, program,
                                   list(precision = precision, of = of, rounds = NULL, seed = seed, threads = 1))
      at <- utils::tail(found$reached$stages, 1)
      at$lower <= truth && at$upper >= truth
    }, NA)
    data.frame(what = sprintf("lantern-tiles to a precision of %g: %s", precision, of), units = NA,
               covered = mean(inside))
  }
  list(covered_share("lantern-tiles", 2000, runs, "lantern-tiles", varied),
       covered_share(wheel_game(1e4, 8000), 2e5, runs, "a wheel, 1 in 10 000", jackpot),
       covered_share(wheel_game(500, 400), 1e4, runs, "a wheel, 1 in 500", jackpot),
       covered_share("five-winds", 400, runs, "five-winds (matches)", varied),
       precise("lantern-tiles", 0.006, "guest_bust"), precise("lantern-tiles", 0.012, "guest"))
}
