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
  rows <- covered_share(wheel_game(500, 400), 1e4, runs, "wheel")  # a wheel of 10 000 faces: docs/calibration.md
  expect_gt(min(rows$covered), 0.94)
  expect_lt(max(rows$covered), 0.96)
  hits <- stats::dpois(0:60, 10)  # what a normal interval would make of counts of about ten
  expect_lt(sum(hits[abs(0:60 - 10) <= stats::qnorm(0.975) * sqrt(0:60)]), 0.94)
})

test_that("a record with a rare value is covered, at few units by more and never by less", {
  is_record <- function(kind, name) kind == "record"
  many <- covered_share(rare_prize_game(), 2e4, runs, "rare", is_record)
  expect_true(all(many$covered >= coverage_bounds[[1]] & many$covered <= coverage_bounds[[2]]))
  few <- covered_share(rare_prize_game(), 1000, runs, "rare", is_record)
  expect_true(all(few$covered >= coverage_bounds[[1]]))
  stopped <- covered_at_precision(rare_prize_game(), 0.2, "mean(won)", runs / 4, "rare")
  expect_gt(stopped$covered, stats::qbinom(5e-5, runs / 4, 0.95) * 4 / runs)
})

test_that("a difference between paired runs is covered, where few units differ by more and never by less", {
  many <- covered_differences(lucky_faces_game(), list(lucky = 101), 2e4, runs / 4, "one face more")
  bounds <- stats::qbinom(c(5e-5, 1 - 5e-5), runs / 4, 0.95) * 4 / runs
  expect_true(all(many$covered >= bounds[[1]] & many$covered <= bounds[[2]]))
  few <- covered_differences(lucky_faces_game(), list(lucky = 101), 1000, runs / 4, "one face more")
  expect_true(all(few$covered >= bounds[[1]]))
})
