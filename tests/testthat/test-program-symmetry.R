# Seats that are alike: exact odds with and without that, and games in which seats are not alike.

exact_of <- function(g, symmetry, ...) {
  program <- compile_game(game(g), ...)
  if (!symmetry) program$symmetry <- NULL
  core_exact(program, 5e6, NULL)
}

expect_the_same <- function(g, info, ..., fewer = TRUE) {
  expect_false(is.null(compile_game(game(g), ...)$symmetry), info = info)
  with <- exact_of(g, TRUE, ...)
  without <- exact_of(g, FALSE, ...)
  expect_equal(c(with$end, without$end), c(0L, 0L), info = info)
  expect_equal(with$outcomes, without$outcomes, tolerance = 1e-11, info = info)
  for (q in seq_along(with$quantities)) {
    expect_equal(with$quantities[[q]]$value, without$quantities[[q]]$value, info = info)
    expect_equal(with$quantities[[q]]$weight, without$quantities[[q]]$weight, tolerance = 1e-9, info = info)
  }
  if (fewer) expect_lt(with$states, without$states)
}

race <- function(..., turn = "add(roll(cube), to = score[mover])", until = "max(score) >= 15",
                 seats = "seats(ann, bo, cy)", state = "score = each(seat, 0)",
                 outcomes = "wins = who(score[it] >= 15), impossible = otherwise") {
  game_of(seats, "cube <- die(1:3)", sprintf("state(%s)", state),
          sprintf("play({ for (mover in turns(until = %s)) { %s } })", until, turn), sprintf("outcomes(%s)", outcomes),
          "record(lowest = min(score))", ...)
}

test_that("games of the fair come to the same", {
  expect_the_same("high-water", "two", list(seated = 2))
  expect_the_same("high-water", "three", list(seated = 3, target = 25))
  expect_the_same("three-crabs", "counters")
})

test_that("so do games with hands, skips, the other way round, and leaders", {
  expect_the_same(race(), "race")
  expect_the_same(race(turn = "face <- roll(cube)\n if (face == 1) skip_next()\n add(face, to = score[mover])"),
                  "a turn missed")
  expect_the_same(race(turn = paste0("face <- roll(cube)\n if (face == 1) again() else if (face == 2) reverse()\n ",
                                     "add(face, to = score[mover])")), "again, and back")
  expect_the_same(race(state = "score = each(seat, 0), hand = each(seat, bag(cube, room = 15))",
                       turn = "put(roll(cube), into = hand[mover])\n score[mover] <- sum(hand[mover])"), "hands",
                       fewer = FALSE)
  expect_the_same(race(state = "score = each(seat, 0), ahead = one(seats)",
                       turn = "add(roll(cube), to = score[mover])\n ahead <- leader(score[it])",
                       outcomes = "wins = ahead, shared = otherwise"), "the one ahead is remembered")
  expect_the_same(race(turn = paste0("ask(mover, go = one_of(far, near))\n add(if (go == far) roll(cube) + roll(cube) ",
                                     "else 2, to = score[mover])"), "wild <- player(go = pick(far = 2, near = 1))"),
                  "a choice by chance")
})

test_that("seats that are not treated alike are not taken for alike", {
  apart <- function(g, info, ...) expect_null(compile_game(g, ...)$symmetry, info = info)
  apart(race(turn = "add(if (mover == ann) 1 else roll(cube), to = score[mover])"), "a seat by name")
  apart(race(turn = "for (s in seats) if (s != mover) add(roll(cube), to = score[s])"), "seats in their order")
  apart(race("record(first = score[ann])"), "a record of one seat")
  apart(race("record(ahead = leader(score[it]))"), "a record that is a seat")
  apart(race("setting_of <- setting(each(seat, ann = 1, bo = 2, cy = 1))",
             turn = "add(setting_of[mover], to = score[mover])"), "other settings")
  apart(race(turn = paste0("ask(mover, go = one_of(far, near))\n add(if (go == far) roll(cube) else 2, to = ",
                           "score[mover])"), "bold <- player(go = far)", "calm <- player(go = near)"), "other players",
                           list(), list(bo = "calm"))
  apart(race(turn = "ask(mover, rival = one_of(ann, bo, cy))\n add(1, to = score[rival])",
             "fond <- player(rival = pick(choices))"), "a seat as an answer")
  apart(race(turn = "w <- most(seats, score[it])\n add(1, to = score[w])\n add(roll(cube), to = score[mover])"),
        "ties go to the first")
  apart(race(until = "max(score) >= 15 || score[bo] == 7"), "an end by name")
  apart(race(seats = "seats(ann)"), "one seat")
  apart(race(seats = "seats(ann, bo)", outcomes = "other(if (score[ann] > score[bo]) ann else bo)"),
        "outcomes that are seats")
  expect_false(is.null(compile_game(race("pace <- setting(each(seat, ann = 2, bo = 2, cy = 2))",
                                         turn = "add(pace[mover] + roll(cube), to = score[mover])"))$symmetry))
})

test_that("every word that is not known to treat seats alike is one", {
  # the list of words names only what the checker can make
  made <- unique(unlist(lapply(fair_games(), function(name) {
    ops <- character()
    walk(game(name)[c("play", "outcomes", "decisions", "records")], function(n) ops <<- c(ops, n$op))
    ops
  })))
  expect_true(all(c("turns", "at_key", "who", "ask", "fold") %in% intersect(made, symmetric_words)))
  expect_false(any(c("for_each", "outcome", "operand", "later") %in% symmetric_words))
})
