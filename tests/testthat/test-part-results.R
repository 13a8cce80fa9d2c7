# What a stopped question has come to: the stop takes it along.

# The stop of the work when it is asked for the n-th time whether it is late.
stopped_at <- function(n, work) {
  left <- n
  late <- function() {
    left <<- left - 1
    left < 0
  }
  run <- function() tryCatch(suppressMessages(with_heartbeat("test", 1e6, function() work)),
                             interrupt = function(stop) stop)
  with_replaced("is_late", late, run())
}

test_that("a stopped sample tells the rounds until then: the same as so many rounds asked for", {
  stop <- stopped_at(6, odds("salt-draw", "sample", rounds = 1e9))
  expect_s3_class(stop, "basanos_stopped")
  n <- stop$odds$rounds
  expect_gt(n, 1000)
  expect_match(stop$odds$stopped, "of 1 000 000 000 rounds")
  whole <- odds("salt-draw", "sample", rounds = n)
  expect_identical(stop$odds$outcomes, whole$outcomes)
  expect_identical(stop$odds$pays, whole$pays)
  expect_match(format(stop$odds), "Stopped after [0-9 ]+ of 1 000 000 000 rounds", all = FALSE)
  expect_true(grepl("\"stopped\":", paste(format_result(stop$odds, "json"), collapse = "")))
})

test_that("a stopped sample to a precision tells all its stages", {
  stop <- stopped_at(8, odds("salt-draw", "sample", precision = 1e-6))
  whole <- odds("salt-draw", "sample", rounds = stop$odds$rounds)
  expect_identical(stop$odds$outcomes, whole$outcomes)
})

test_that("a stopped count tells bounds that hold, with nothing lost", {
  stop <- stopped_at(6, odds("salt-draw", "exact", max_states = 1e9))
  expect_false(stop$odds$complete)
  expect_identical(stop$odds$limit, "stopped")
  sampled <- odds("salt-draw", "sample", rounds = 2e4)$outcomes
  expect_true(all(stop$odds$outcomes$lower <= sampled$upper & stop$odds$outcomes$upper >= sampled$lower))
  tiles <- game("lantern-tiles")
  for (polls in c(1, 3, 10)) {
    seen <- 0
    run <- core_exact(compile_game(tiles), 1e9, function(done) { seen <<- seen + 1; seen < polls })
    if (run$end == exact_ends[["done"]]) next
    expect_equal(run$rounds + run$residual, 1, tolerance = 1e-12)
    expect_true(all(run$outcomes <= odds(tiles, "exact")$outcomes$probability + 1e-12))
  }
})

test_that("a stopped sweep tells the points until then", {
  stop <- stopped_at(60, sweep_settings("lantern-tiles", list(aim = 15:40, keeper_stands = 10:30), of = "edge(guest)"))
  sweep <- stop$sweep
  done <- nrow(sweep$points)
  expect_gt(done, 0)
  expect_lt(done, 26 * 21)
  expect_identical(unlist(sweep$points[done, ], use.names = FALSE)[[1]], 15L + (done - 1L) %/% 21L)
  expect_null(sweep$best)
  expect_match(format(sweep), sprintf("Stopped after %s of 546 points", whole_text(done)), all = FALSE)
  one <- sweep_settings("lantern-tiles", list(aim = sweep$points$aim[[1]],
                                              keeper_stands = sweep$points$keeper_stands[[1]]), of = "edge(guest)")
  expect_identical(sweep$rows$value[[1]], one$rows$value)
})

test_that("a stopped list of words tells the rounds until then", {
  stop <- stopped_at(12, list_rows("tide-words", rounds = 1e6))
  n <- stop$list$rounds
  expect_gt(n, 100)
  expect_identical(stop$list$rows, list_rows("tide-words", rounds = n)$rows)
  expect_match(format(stop$list), "Stopped after [0-9 ]+ of 1 000 000 rounds", all = FALSE)
})

test_that("what is stopped before there is anything has nothing to tell", {
  stop <- stopped_at(0, sweep_settings("lantern-tiles", list(aim = 20:21), of = "edge(guest)"))
  expect_s3_class(stop, "basanos_stopped")
  expect_null(stop$sweep)
  run <- at_command_line("sweep", "lantern-tiles", "--set", "aim=20:30", "--of", "edge(guest)", "--seconds", "0.000001")
  expect_identical(run$code, 130L)
  expect_match(run$said, "Nothing was written")
  expect_length(run$out, 0)
})
