# What is said of a choice is wrong in at most 5% of the runs: more than this comes up less than once in ten thousand.
test_that("the best is kept, nobody is called better who is not, no target is called met that is missed", {
  few <- 80
  most <- stats::qbinom(1 - 1e-4, few, 0.05) / few
  five <- best_kept(shifted_game(200), list(point = 0:7), 4, 500, few)
  expect_lte(five$wrong, most)
  expect_lt(five$size, 1.5)  # at five errors the others are left out
  expect_lte(best_kept(shifted_game(), list(point = 0:7), 1, 500, few)$wrong, most)
  expect_lte(best_kept(one_in_game(), list(one_in = c(2, 100, 200, 500)), 3, 2000, few)$wrong, most)
  expect_lte(sure_pairs(fond_signs_game(), 1000, few)$wrong, most)
  circle <- sure_pairs(fond_signs_game(3), 1000, few)
  expect_lte(circle$wrong, most)
  expect_gt(circle$all, 0.8)
  expect_lte(sure_pairs(fond_signs_game(), 8000, few / 2, until = 0.001)$wrong, most)
  expect_lte(judged_wrongly("edge(guest) at most 0.199", FALSE, 5000, few)$wrong, most)
})
