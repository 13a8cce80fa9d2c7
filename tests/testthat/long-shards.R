# Shards through the future package: one run, whoever plays it.

test_that("shards give the run to the last bit, one after the other or by workers", {
  skip_if_not_installed("future")
  whole <- result_json(odds("five-winds", engine = "sample", rounds = 3001, seed = 5))
  old <- future::plan("sequential")
  on.exit(future::plan(old))
  expect_identical(result_json(as_odds(sample_tally("five-winds", 3001, shards = 7, seed = 5))), whole)
  expect_identical(sample_tally("tide-signs", 3, shards = 10)$counts$units, 3)
  skip_on_cran()
  future::plan("multisession", workers = 2)
  expect_identical(result_json(as_odds(sample_tally("five-winds", 3001, shards = 3, seed = 5))), whole)
})

test_that("a shard whose worker is killed is played again; a run that cannot go on says so", {
  skip_if_not_installed("future")
  skip_on_cran()
  old <- future::plan("multisession", workers = 2)
  on.exit(future::plan(old))
  program <- compile_game(game("tide-signs"))
  marker <- tempfile()
  killed_once <- function(span) {
    if (span[[1]] == 1 || file.exists(marker)) return(future_of(program, 1, span, 1))
    file.create(marker)
    future::future(tools::pskill(Sys.getpid(), 9), seed = NULL)
  }
  runs <- sampled_in_shards(list(c(1, 500), c(501, 1000)), killed_once, tries = 3)
  expect_equal(runs[[1]]$outcomes + runs[[2]]$outcomes, core_sample(program, 1, 1, 1000, 1L, NULL)$outcomes)
  expect_error(sampled_in_shards(list(c(1, 5)),
                                 function(span) future::future(tools::pskill(Sys.getpid(), 9), seed = NULL), tries = 2),
                                 class = "basanos_shard_lost")
  stops <- game_of("seats(a)", "state(n = 0)", "cube <- die(1:6)", "play({ n <- 1 %/% (roll(cube) - 6) })",
                   "outcomes(over = otherwise)")
  expect_error(sample_tally(stops, 100), class = "basanos_division_by_zero")
})
