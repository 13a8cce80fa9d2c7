# Draws whose value is counted as a set until the rules read it: the same odds, in fewer states.

counted_deferred <- function(question, defer, states = 60000) {
  program <- counted_program(question, program_of(question))
  core_exact(loaded(program), states, NULL, 2e7, 1e300, program$groups, 4 * states, defer = defer)
}

# The same odds both ways; gives how many draws were deferred.
same_deferred <- function(question, states = 60000, info = "") {
  deferred <- counted_deferred(question, TRUE, states)
  at_once <- counted_deferred(question, FALSE, states)
  if (deferred$end == 0L && at_once$end == 0L) {
    expect_equal(deferred$outcomes, at_once$outcomes, tolerance = 1e-12, info = info)
    for (k in seq_along(at_once$quantities)) {
      one <- deferred$quantities[[k]]
      other <- at_once$quantities[[k]]
      expect_equal(one$value[one$weight > 0], other$value[other$weight > 0], info = info)
      expect_equal(one$weight[one$weight > 0], other$weight[other$weight > 0], tolerance = 1e-12, info = info)
    }
  }
  expect_identical(at_once$deferred, 0)
  deferred$deferred
}

test_that("every player of every game counts the same with draws deferred", {
  some <- character()
  for (name in fair_games()) {
    questions <- questions_of_players(game(name))
    for (player in names(questions)) {
      if (counted_deferred(questions[[player]], TRUE, 1)$deferred == 0) next
      same_deferred(questions[[player]], 6000, paste(name, player))
      some <- c(some, name)
    }
  }
  expect_true(all(c("deep-well", "harbour-locks", "net-menders", "nine-shutters", "tide-words") %in% some))
})

# By recurrence: with m numbers left and t tries, a wild guess is right, or leaves those below or above it.
chance_of_wild_guesses <- function(numbers, tries) {
  found <- numeric(numbers + 1)
  for (t in seq_len(tries)) {
    before <- found
    for (m in seq_len(numbers)) {
      k <- seq_len(m)
      found[[m + 1]] <- sum(1 + (k - 1) * before[k] + (m - k) * before[m - k + 1]) / m^2
    }
  }
  found[[numbers + 1]]
}

test_that("a number that is guessed at random is counted by what is known of it", {
  chance <- function(top, tries)
    odds("deep-well", set = list(top = top, tries = tries), players = list(guesser = "wild"), engine = "exact")
  for (case in list(c(10, 1), c(10, 4), c(11, 20), c(60, 5), c(100, 7))) {
    o <- chance(case[[1]], case[[2]])
    expect_equal(o$outcomes$probability[[1]], chance_of_wild_guesses(case[[1]], case[[2]]), tolerance = 1e-13)
  }
  expect_equal(chance_of_wild_guesses(100, 7), 0.510179155441, tolerance = 1e-12)
  expect_identical(chance(100, 7)$states, 25394)
})

hidden <- function(play, outcomes = "high = secret > 3, low = otherwise", more = "")
  game_of(sprintf("cube <- die(1:6)
    state(secret = 0, face = 0, n = 0)
    play({
      %s
    })
    outcomes(%s)
    record(n = n)
    %s", play, outcomes, more))

test_that("where sets would be more than the values they save, draws are counted at once", {
  # who forgets what was guessed knows nothing: but the sets remember
  forgetful <- function(numbers, tries) game_of(sprintf("state(secret = 0, guess = 0, used = 0)
    play({
      secret <- pick(1:%d)
      while (used < %d) {
        guess <- pick(1:%d)
        add(1, to = used)
        if (guess == secret) break
      }
    })
    outcomes(found = guess == secret, missed = otherwise)", numbers, tries, numbers))
  for (case in list(c(40, 8), c(900, 7))) {
    o <- odds(forgetful(case[[1]], case[[2]]), engine = "exact")
    expect_equal(o$outcomes$probability[[1]], 1 - (1 - 1 / case[[1]])^case[[2]], tolerance = 1e-13)
    expect_lte(o$states, 1 + prod(case))
  }
  expect_identical(counted_deferred(new_question(forgetful(40, 8)), TRUE, 5000)$limit, "states")
})

test_that("a value is deferred where it is drawn from a fixed range and lives on", {
  deferred <- function(...) same_deferred(new_question(hidden(...)))
  throws <- "for (i in 1:5) { face <- roll(cube)\n if (face == %s) add(1, to = n) }"
  expect_identical(deferred(paste("secret <- roll(cube)\n", sprintf(throws, "secret"))), 1)
  # nothing is drawn behind it
  expect_identical(deferred("secret <- roll(cube)\n if (secret == 4) n <- 1"), 0)
  # it is written again
  expect_identical(deferred(paste("secret <- roll(cube)\n", sprintf(throws, "secret"), "\n secret <- secret + n")), 0)
  # it is recorded
  expect_identical(deferred(paste("secret <- roll(cube)\n", sprintf(throws, "secret")), more = "record(s = secret)"), 0)
  # the range of another draw goes by it: then it is known
  expect_identical(deferred("secret <- roll(cube)\n face <- pick(1:secret)\n if (face == secret) n <- 1"), 1)
  # two hidden values are compared: one of them is known
  two <- "face <- roll(cube)\n secret <- roll(cube)\n n <- roll(cube)\n if (face == secret) add(1, to = n)"
  expect_identical(deferred(two), 1)
})

test_that("a failure that hangs on a deferred value is found at its place", {
  rules <- hidden("secret <- roll(cube)\n for (i in 1:3) face <- roll(cube)\n n <- 12 %/% (secret - 4)")
  failure <- function(defer) {
    run <- counted_deferred(new_question(rules), defer)
    expect_identical(run$end, 1L)
    run$failure
  }
  expect_identical(failure(TRUE), failure(FALSE))
})

test_that("--verbose tells of deferred draws", {
  before <- options(basanos.verbosity = "verbose")
  on.exit(options(before))
  expect_message(odds("deep-well", players = list(guesser = "wild"), engine = "exact"),
                 "The values of 1 draw are counted together, until the rules read what was drawn.", fixed = TRUE)
})
