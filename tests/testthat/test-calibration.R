# The intervals cover what they say they cover: over seeded runs of a game with exact odds, 95%
# intervals miss the truth in about one run of twenty. The bounds are where a right interval would fall
# outside less than once in ten thousand tries.

runs <- 400

coverage_bounds <- function(n) stats::qbinom(c(5e-5, 1 - 5e-5), n, 0.95) / n

test_that("intervals of outcomes, pays and records cover the exact odds", {
  exact <- odds("lantern-tiles")
  covered <- lapply(seq_len(runs), function(seed) {
    s <- odds("lantern-tiles", "sample", rounds = 2000, seed = 7000 + seed)
    inside <- function(table, truth) table$lower <= truth & truth <= table$upper
    c(inside(s$outcomes, exact$outcomes$probability), inside(s$pays, exact$pays$mean), inside(s$records, exact$records$mean))
  })
  share <- rowMeans(do.call(cbind, covered))
  bounds <- coverage_bounds(runs)
  expect_length(share, 10)
  expect_true(all(share >= bounds[[1]]), info = paste(share, collapse = " "))
  expect_true(all(share <= bounds[[2]]), info = paste(share, collapse = " "))
})

test_that("a rare outcome is covered too, where a normal interval would not be", {
  wheel <- game_of("seats(guest)", "wheel <- die(1:500)", "state(n = 0)", "play({ n <- roll(wheel) })", "outcomes(jackpot = n == 1, nothing = otherwise)")
  covered <- normal <- logical()
  for (seed in seq_len(runs)) {
    o <- odds(wheel, "sample", rounds = 500, seed = seed)$outcomes[1, ]
    covered <- c(covered, o$lower <= 1 / 500 && 1 / 500 <= o$upper)
    normal <- c(normal, abs(o$probability - 1 / 500) <= 1.96 * o$standard_error)
  }
  expect_gt(mean(covered), coverage_bounds(runs)[[1]])
  expect_lt(mean(normal), coverage_bounds(runs)[[1]])
})
