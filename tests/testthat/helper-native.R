# Programs printed as C and compiled, against the interpreter alone.

interpreted <- function(program, units, seed = 5) core_sample(program, seed, 1, units, 1L, NULL, caching = 0L)

both_ways <- function(program, units, seed = 5) {
  force(program)
  play <- native_program(program)
  testthat::expect_type(play, "externalptr")
  list(interpreted = interpreted(program, units, seed),
       compiled = core_sample(program, seed, 1, units, 1L, NULL, play, caching = 0L))
}

expect_same_compiled <- function(name) {
  program <- compile_game(game(name))
  runs <- both_ways(program, if (length(game(name)$words$texts) > 0) 300 else 5000)
  testthat::expect_identical(runs$compiled, runs$interpreted, info = name)
  testthat::expect_gt(runs$compiled$units, 0)
}

skip_without_compiler <- function() {
  program <- compile_game(game("tide-signs"))
  testthat::skip_if(is.null(native_program(program)), "no C compiler here")
}
