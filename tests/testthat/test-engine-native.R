# The program printed as C, and units along the trail, against the interpreter alone: the same tally, to the last bit.

# A few games whose programs have every operation that a game of the fair has; the long tests take all games.
games_with_every_operation <- function() {
  operations <- lapply(stats::setNames(nm = fair_games()), function(name) unique(compile_game(game(name))$code[1, ]))
  wanted <- unique(unlist(operations))
  chosen <- character()
  while (length(wanted) > 0) {
    chosen <- c(chosen, names(which.max(vapply(operations, function(own) sum(own %in% wanted), 0L))))
    wanted <- setdiff(wanted, unlist(operations[chosen]))
  }
  chosen
}

test_that("games that have every operation of the fair play the same compiled", {
  skip_without_compiler()
  chosen <- games_with_every_operation()
  expect_lt(length(chosen), length(fair_games()) / 2)
  for (name in chosen) expect_same_compiled(name)
})

test_that("every game of the fair plays the same along the trail, and with whatever is quickest", {
  for (name in fair_games()) {
    program <- compile_game(game(name))
    units <- if (length(game(name)$words$texts) > 0) 300 else 5000
    run <- interpreted(program, units)
    for (caching in 1:2)
      expect_identical(core_sample(program, 5, 1, units, 2L, NULL, caching = caching), run, info = name)
  }
})

test_that("fractions, far values and rare faces are counted alike", {
  skip_without_compiler()
  far <- game_with("result <- roll(cube) * 100000 - 250000\nlamp <- chance(0.001)\nif (lamp) result <- 7",
                   "record(part = result / 7)")
  runs <- both_ways(compile_game(far), 20000)
  expect_identical(runs$compiled, runs$interpreted)
  expect_gt(length(runs$compiled$quantities[[2]]$value), 5)
})

test_that("a word that no game of the fair has is counted alike", {
  skip_without_compiler()
  body <- "faces <- roll(cube, 5)\nresult <- highest(faces, 3)[2] * 10 + lowest(faces, 1)[1]"
  runs <- both_ways(compile_game(game_with(body, state = "result = 0, faces = bag(cube, room = 5)")), 5000)
  expect_identical(runs$compiled, runs$interpreted)
  expect_gt(length(runs$compiled$quantities[[1]]$value), 12)
})

test_that("what cannot go on fails in the same unit, for the same reason, at the same place", {
  skip_without_compiler()
  for (body in c("face <- roll(cube)\nwhile (face - result == 6) result <- face - 6",
                 "for (k in 1:12) result <- 6 + result * roll(cube) * 4000",
                 "result <- 6 %/% (roll(cube) + roll(cube) - 12)")) {
    runs <- both_ways(compile_game(game_with(body)), 5000)
    expect_gt(runs$interpreted$failure$fail, 0)
    expect_identical(runs$compiled[c("failure", "failed_unit")], runs$interpreted[c("failure", "failed_unit")],
                     info = body)
  }
})

test_that("a long run goes on as native code; the compiler runs in the background, and where it can repay", {
  skip_without_compiler()
  program <- compile_game(game("harbour-dice"))
  said <- list()
  offer <- function(seconds) {
    said <<- c(said, list(seconds))
    if (length(said) < 3) NULL else native_program(program)
  }
  run <- core_sample(program, 1, 1, 2e7, 2L, NULL, offer, ask_after = 0)
  expect_length(said, 3)  # asked again while there is none yet, and then no more
  expect_true(all(unlist(said) > 0))
  expect_identical(run, interpreted(program, 2e7, 1))
  asked <- 0
  core_sample(program, 1, 1, 1e6, 1L, NULL, function(seconds) { asked <<- asked + 1; FALSE }, ask_after = 0)
  expect_identical(asked, 1)
})

test_that("no compiler where there is nothing to gain, where it is not wanted, or where there is none", {
  program <- compile_game(game("harbour-dice"))
  expect_false(native_offer(program)$offer(1.9))
  before <- options(basanos.compile = FALSE)
  on.exit(options(before))
  expect_null(native_offer(program)$offer)
  options(basanos.compile = TRUE)
  forget_native()
  path <- Sys.getenv("PATH")
  on.exit(Sys.setenv(PATH = path), add = TRUE)
  Sys.setenv(PATH = tempdir())
  expect_null(native_program(program))
  forget_native()
})

test_that("a compiler that is not waited for is ended, and no file stays behind", {
  skip_without_compiler()
  forget_native()
  program <- compile_game(game("six-shells"))
  native <- native_offer(program)
  expect_null(native$offer(1e6))
  folder <- environment(native$offer)$build$folder
  expect_true(dir.exists(folder))
  native$cancel()
  expect_false(dir.exists(folder))
  expect_false(is.null(native_program(program)))
  expect_identical(list.files(tempdir(), "^game-.*[.](c|so)$", recursive = TRUE), character())
})

test_that("R's limit of time stops a run with its counts, wherever it strikes", {
  skip_without_compiler()
  strike <- function(...) stop("reached elapsed time limit")
  stopped <- with_replaced("poll_build", strike, tryCatch(
    odds("salt-draw", engine = "sample", rounds = 1e9, progress = FALSE), interrupt = identity))
  expect_s3_class(stopped, "basanos_stopped")
  expect_gt(stopped$odds$rounds, 0)
  struck <- FALSE
  end <- end_build
  at_the_end <- function(build) {
    if (!struck) {
      struck <<- TRUE
      strike()
    }
    end(build)
  }
  never <- function(build) NULL
  o <- with_replaced("poll_build", never, with_replaced("end_build", at_the_end,
    odds("salt-draw", engine = "sample", rounds = 1e6, progress = FALSE)))
  expect_true(struck)
  expect_identical(o$rounds, 1e6)
})
