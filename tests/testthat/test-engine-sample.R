test_that("threads and shards change nothing, to the last byte of the JSON", {
  short <- c("cork-signs", "dice-duel", "harbour-dice", "lantern-tiles", "tide-signs")
  for (name in fair_games()) {
    units <- if (name %in% short) 1e5 else 4e3  # more than one chunk in either case
    whole <- result_json(odds(name, engine = "sample", rounds = units, seed = 42, threads = 1))
    expect_identical(result_json(odds(name, engine = "sample", rounds = units, seed = 42, threads = 2)), whole)
    shards <- list(sample_tally(name, 0.3 * units + 1, seed = 42, first = 1),
                   sample_tally(name, 0.3 * units, seed = 42, first = 0.7 * units + 1, threads = 2),
                   sample_tally(name, 0.4 * units - 1, seed = 42, first = 0.3 * units + 2))
    expect_identical(result_json(as_odds(do.call(merge_tallies, shards))), whole)
  }
})

test_that("another seed plays other rounds", {
  a <- odds("dice-duel", engine = "sample", rounds = 1e4, seed = 1)
  b <- odds("dice-duel", engine = "sample", rounds = 1e4, seed = 2)
  expect_false(identical(a$outcomes$probability, b$outcomes$probability))
})

test_that("an added die leaves the luck of the others alone", {
  lines <- readLines(system.file("games", "dice-duel.game", package = "basanos"))
  more <- sub("b <- roll\\(cube\\)", "b <- roll(cube)\n    w <- roll(weather)\n    if (w == 7) end_round()", lines)
  more <- append(more, "weather <- die(1:6)", after = grep("^cube", lines) - 1)
  expect_identical(odds(game_of(more), engine = "sample", rounds = 1e5)$outcomes,
                   odds("dice-duel", engine = "sample", rounds = 1e5)$outcomes)
})

test_that("R's own random state is untouched", {
  set.seed(99)
  before <- .Random.seed
  odds("lantern-tiles", engine = "sample", rounds = 1e4)
  odds("tide-signs")
  check_game("dice-duel")
  expect_identical(.Random.seed, before)
})

test_that("rounds, seed and threads out of range are refused", {
  for (rounds in list(0, -1, 1.5, 1e12, Inf, NA_real_, "many", c(1, 2)))
    expect_error(odds("tide-signs", engine = "sample", rounds = rounds), class = "basanos_rounds_wrong")
  for (seed in list(-1, 0.5, 2^60, "x", NA_real_))
    expect_error(odds("tide-signs", engine = "sample", rounds = 10, seed = seed), class = "basanos_seed_wrong")
  for (threads in list(0, 1.5, 1000, "two"))
    expect_error(odds("tide-signs", engine = "sample", rounds = 10, threads = threads), class = "basanos_threads_wrong")
  expect_error(odds("tide-signs", engine = "exact", rounds = 0), class = "basanos_rounds_wrong")
  expect_error(odds("tide-signs", engine = "guess"), class = "basanos_engine_unknown")
  expect_error(odds("tide-signs", max_states = 0), class = "basanos_argument_wrong")
})

test_that("tallies that do not belong together are refused", {
  a <- sample_tally("tide-signs", 100)
  expect_error(merge_tallies(a, a), class = "basanos_tallies_differ")
  expect_error(merge_tallies(a, sample_tally("tide-signs", 100, seed = 2, first = 101)),
               class = "basanos_tallies_differ")
  expect_error(merge_tallies(a, sample_tally("tide-signs", 100, first = 101, players = list(left = "steady"))),
               class = "basanos_tallies_differ")
  expect_error(merge_tallies(a, 3), class = "basanos_argument_wrong")
  expect_error(as_odds(3), class = "basanos_argument_wrong")
})

test_that("a round that cannot go on is an error with its place, unit and seed", {
  runs_into <- function(id, play, ..., state = "result = 0") {
    g <- game_with(play, ..., state = state)
    for (engine in c("sample", "exact")) {
      e <- expect_error(odds(g, engine = engine, rounds = 1000, seed = 5), class = paste0("basanos_", id))
      expect_false(is.null(e$diagnostics[[1]]$at))
      if (engine == "sample") expect_match(conditionMessage(e), "round [0-9 ]+ of seed 5")
    }
  }
  runs_into("loop_endless", "repeat { result <- 1 - result\n if (result == 7) break }")
  runs_into("number_too_large", "result <- 2\n while (result > 1) result <- result * result")
  runs_into("division_by_zero", "result <- 7 %/% (result - 0)")
  runs_into("not_a_number", "result <- round_down(log(result))")
  runs_into("room_exceeded", "while (result < 9) { put(roll(cube), into = faces)\n add(1, to = result) }",
            state = "result = 0, faces = list(cube, room = 5)")
  runs_into("position_outside", "put(3, into = faces)\n result <- faces[1 + size(faces)]",
            state = "result = 0, faces = list(cube, room = 5)")
  runs_into("item_absent", "put(3, into = faces)\n remove(4, from = faces)",
            state = "result = 0, faces = bag(cube, room = 5)")
  runs_into("nothing_to_choose", "result <- pick(1:result)")
  runs_into("nothing_to_choose", "result <- max(faces)", state = "result = 0, faces = bag(cube, room = 5)")
  runs_into("probability_wrong", "lucky <- chance(2 + result)\n if (lucky) result <- 1")
  never <- game_of("seats(guest)", "state(a = 1)", "play({ a <- 2 })", "outcomes(one = a == 1, impossible = otherwise)")
  expect_error(odds(never), class = "basanos_outcome_impossible")
  cheat <- game_of("seats(guest)", "state(a = 1)", "play({ ask(guest, n = one_of(1:3)) })",
                   "outcomes(over = otherwise)", "wild <- player(n = 3 + a)")
  e <- expect_error(odds(cheat), class = "basanos_illegal_answer")
  expect_match(conditionMessage(e), "`guest` answers `n`.*player `wild`")
})

test_that("exact gives up honestly where there are too many states", {
  huge <- game_of("seats(guest)", "state(a = 0)", "wheel <- die(1:2000000000)", "play({ a <- roll(wheel) })",
                  "outcomes(low = a < 5, high = otherwise)")
  expect_identical(odds(huge, engine = "exact")$outcomes$upper, c(1, 1))
  expect_identical(odds(huge, rounds = 100)$engine, "sample")
  expect_equal(odds(huge, engine = "sample", rounds = 100)$outcomes$probability, c(0, 1))
})
