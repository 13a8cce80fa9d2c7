# The intervals cover what they say they cover: 95% intervals over 2 000 seeded runs of games with exact odds. All
# the cases, with more games and the sampling to a precision, are in docs/calibration.md (`make calibration`).

runs <- 2000

# Where a right interval's share would fall outside less than once in ten thousand tries.
coverage_bounds <- stats::qbinom(c(5e-5, 1 - 5e-5), runs, 0.95) / runs

test_that("intervals of outcomes, pays and records cover the exact odds, 94 to 96% on average and none far off", {
  rows <- covered_share("lantern-tiles", 2000, runs, "lantern-tiles")
  expect_identical(nrow(rows), 10L)
  expect_true(all(rows$covered >= coverage_bounds[[1]] & rows$covered <= coverage_bounds[[2]]),
              info = paste(rows$covered, collapse = " "))
  expect_gt(mean(rows$covered), 0.94)
  expect_lt(mean(rows$covered), 0.96)
})

test_that("rare outcomes and skewed pays are covered too, where a normal interval would not be", {
  wheel <- wheel_game(1e4, 8000)
  rows <- covered_share(wheel, 2e5, runs, "wheel")
  expect_gt(min(rows$covered), 0.94)
  expect_lt(max(rows$covered), 0.96)
  hits <- stats::dpois(0:60, 10)  # what a normal interval would make of counts of about ten
  expect_lt(sum(hits[abs(0:60 - 10) <= stats::qnorm(0.975) * sqrt(0:60)]), 0.94)
})
