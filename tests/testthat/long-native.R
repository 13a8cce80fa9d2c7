# Every game of the fair, compiled.

test_that("every game of the fair plays the same compiled", {
  skip_without_compiler()
  for (name in fair_games()) expect_same_compiled(name)
})
