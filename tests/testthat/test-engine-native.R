# The program printed as C, and units along the trail, against the interpreter alone: the same tally, to the last bit.

interpreted <- function(program, units, seed = 5) core_sample(program, seed, 1, units, 1L, NULL, caching = 0L)

both_ways <- function(program, units, seed = 5) {
  force(program)
  play <- native_program(program)
  testthat::expect_type(play, "externalptr")
  list(interpreted = interpreted(program, units, seed), compiled = core_sample(program, seed, 1, units, 1L, NULL, play, caching = 0L))
}

skip_without_compiler <- function() {
  program <- compile_game(game("tide-signs"))
  testthat::skip_if(is.null(native_program(program)), "no C compiler here")
}

test_that("every game of the fair plays the same compiled", {
  skip_without_compiler()
  for (name in fair_games()) {
    program <- compile_game(game(name))
    runs <- both_ways(program, if (length(game(name)$words$texts) > 0) 300 else 5000)
    expect_identical(runs$compiled, runs$interpreted, info = name)
    expect_gt(runs$compiled$units, 0)
  }
})

test_that("every game of the fair plays the same along the trail, and with whatever is quickest", {
  for (name in fair_games()) {
    program <- compile_game(game(name))
    units <- if (length(game(name)$words$texts) > 0) 300 else 5000
    run <- interpreted(program, units)
    for (caching in 1:2) expect_identical(core_sample(program, 5, 1, units, 2L, NULL, caching = caching), run, info = name)
  }
})

test_that("fractions, far values and rare faces are counted alike", {
  skip_without_compiler()
  far <- game_with("result <- roll(cube) * 100000 - 250000\nlamp <- chance(0.001)\nif (lamp) result <- 7", "record(part = result / 7)")
  runs <- both_ways(compile_game(far), 20000)
  expect_identical(runs$compiled, runs$interpreted)
  expect_gt(length(runs$compiled$quantities[[2]]$value), 5)
})

test_that("what cannot go on fails in the same unit, for the same reason, at the same place", {
  skip_without_compiler()
  for (body in c("face <- roll(cube)\nwhile (face - result == 6) result <- face - 6",
                 "for (k in 1:12) result <- 6 + result * roll(cube) * 4000",
                 "result <- 6 %/% (roll(cube) + roll(cube) - 12)")) {
    runs <- both_ways(compile_game(game_with(body)), 5000)
    expect_gt(runs$interpreted$failure$fail, 0)
    expect_identical(runs$compiled[c("failure", "failed_unit")], runs$interpreted[c("failure", "failed_unit")], info = body)
  }
})

test_that("a long run is compiled on the way; without a compiler, or when told not to, it goes on as it is", {
  skip_without_compiler()
  program <- compile_game(game("harbour-dice"))
  asked <- NULL
  run <- core_sample(program, 1, 1, 3e4, 2L, NULL, function(seconds) { asked <<- c(asked, seconds); native_program(program) }, ask_after = 0)
  expect_length(asked, 1)
  expect_gt(asked, 0)
  expect_identical(run, interpreted(program, 3e4, 1))
  before <- options(basanos.compile = FALSE)
  on.exit(options(before))
  expect_null(compiled_if_worth(program))
  options(basanos.compile = TRUE)
  expect_null(compiled_if_worth(program)(0.01))
  forget_native()
  path <- Sys.getenv("PATH")
  on.exit(Sys.setenv(PATH = path), add = TRUE)
  Sys.setenv(PATH = tempdir())
  expect_silent(nothing <- compiled_if_worth(program)(1e6))
  expect_null(nothing)
  forget_native()
})
