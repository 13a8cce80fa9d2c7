# Runs of equal outcomes, against enumeration and simulation in plain R.

longest_run_of <- function(x, what) { r <- rle(x); max(0, r$lengths[r$values %in% what]) }

test_that("short streaks agree with every sequence gone through", {
  p <- c(0.5, 0.3, 0.2)
  n <- 7
  all <- as.matrix(expand.grid(rep(list(1:3), n)))
  weight <- apply(all, 1, function(s) prod(p[s]))
  for (k in 1:3) for (l in 1:7)
    expect_equal(chance_of_run(p[[k]], n, l), sum(weight[apply(all, 1, longest_run_of, k) >= l]))
  for (l in 1:7)
    expect_equal(chance_of_any_run(p, n, l), sum(weight[apply(all, 1, function(s) max(rle(s)$lengths)) >= l]))
})

test_that("the table, the command and what it refuses", {
  o <- odds("tide-signs", engine = "exact")
  s <- streaks(o, in_rounds = 7, length = 3)$rows
  expect_identical(s$outcome, c("left_wins", "right_wins", "draw", "any"))
  all <- as.matrix(expand.grid(rep(list(1:3), 7)))
  expect_equal(s$at_least[[1]], mean(apply(all, 1, longest_run_of, 1) >= 3))
  expect_equal(s$mean_longest[[1]], mean(apply(all, 1, longest_run_of, 1)))
  expect_equal(s$mean_longest[[4]], mean(apply(all, 1, function(x) max(rle(x)$lengths))))
  within <- sort(apply(all, 1, longest_run_of, 1))
  expect_lte(mean(within > s$likely_longest[[1]]), 0.05)
  expect_gt(mean(within > s$likely_longest[[1]] - 1), 0.05)
  out <- utils::capture.output(code <- command_main(c("streaks", "tide-signs", "--in", "20", "--length", "4")))
  expect_identical(code, 0L)
  expect_match(out, "4 or more in a row", all = FALSE)
  expect_error(streaks(o, 0), class = "basanos_argument_wrong")
  expect_error(streaks(o, 5, 6), class = "basanos_argument_wrong")
  expect_error(streaks(odds("five-winds", engine = "sample", rounds = 100), 5), class = "basanos_streaks_need_rounds")
})
