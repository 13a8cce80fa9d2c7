# Sums that only grow on the way are counted beside the states: the same odds in fewer of them.

counted_with_sums <- function(question, leave_out, states = 60000) {
  program <- counted_program(question, program_of(question))
  core_exact(program, states, NULL, 2e7, 1e300, program$groups, 4 * states, TRUE, leave_out)
}

# Where rounds have no longest one, weights below 1e-12 may be missing; else the values are the same, however rare.
expect_same_weights <- function(got, wanted, info, whole) {
  if (whole) expect_identical(sort(got$value[got$weight > 0]), sort(wanted$value[wanted$weight > 0]), label = info)
  values <- union(got$value, wanted$value)
  weight <- function(x) {
    w <- x$weight[match(values, x$value)]
    ifelse(is.na(w), 0, w)
  }
  expect_lt(max(0, abs(weight(got) - weight(wanted))), 1e-12, label = info)
}

expect_same_sums <- function(beside, within, info) {
  expect_identical(beside$end, within$end, info = info)
  expect_equal(beside$outcomes, within$outcomes, tolerance = 1e-12, info = info)
  expect_equal(beside$rounds, within$rounds, tolerance = 1e-12, info = info)
  for (part in c("quantities", "unit_quantities")) for (k in seq_along(within[[part]]))
    expect_same_weights(beside[[part]][[k]], within[[part]][[k]], info, within$residual == 0)
}

test_that("every player of every game counts the same with sums beside the states", {
  some <- character()
  for (name in fair_games()) {
    questions <- questions_of_players(game(name))
    for (player in names(questions)) {
      if (counted_with_sums(questions[[player]], TRUE, 1)$sums == 0) next
      beside <- counted_with_sums(questions[[player]], TRUE, 15000)
      if (beside$end != 0L) next
      within <- counted_with_sums(questions[[player]], FALSE, 60000)
      if (within$end == 0L) expect_same_sums(beside, within, paste(name, player))
      some <- c(some, name)
    }
  }
  expect_true(all(c("lantern-tiles", "two-buckets") %in% some))
})

thrown <- function(play, more = "", span = "")
  game_of(sprintf("cube <- die(1:3)
    state(face = 0, n = 0, total = 0, twos = 0)
    play({
      %s
    })
    outcomes(odd = face == 1 || face == 3, even = otherwise)
    record(n = n, total = total, both = total + twos)
    %s
    %s", play, more, span))

sums_beside <- function(rules, states = 60000) {
  question <- new_question(rules)
  beside <- counted_with_sums(question, TRUE, states)
  within <- counted_with_sums(question, FALSE, states)
  expect_same_sums(beside, within, "sums")
  expect_identical(within$sums, 0)
  beside$sums
}

test_that("what is added to, and read by nothing but a record, is left out of the states", {
  eight <- "for (i in 1:8) { face <- roll(cube)\n if (face > 1) add(1, to = n)\n add(face, to = total) }"
  expect_identical(sums_beside(thrown(eight)), 2)
  expect_lt(counted_with_sums(new_question(thrown(eight)), TRUE)$states, 30)
  # by hand: the number of twos and threes in eight throws, and the sum of eight dice
  o <- odds(thrown(eight), engine = "exact")
  expect_equal(o$distributions$n$probability, stats::dbinom(0:8, 8, 2 / 3), tolerance = 1e-12)
  one_more <- function(p, k) (c(p, 0, 0) + c(0, p, 0) + c(0, 0, p)) / 3
  sums <- Reduce(one_more, 1:8, 1)
  expect_equal(o$distributions$total$probability, sums, tolerance = 1e-12)
  # until a one: the game is cyclic, and throws have no greatest number
  until <- "repeat { face <- roll(cube)\n add(1, to = n)\n if (face == 1) break }"
  o <- odds(thrown(until), engine = "exact")
  expect_equal(o$distributions$n$probability[1:20], (2 / 3)^(0:19) / 3, tolerance = 1e-12)
})

test_that("a sum that something reads, or that starts again, stays in the states", {
  n_read <- "for (i in 1:6) { face <- roll(cube)\n add(face, to = n)\n if (n > 9) break }"
  expect_identical(sums_beside(thrown(n_read)), 0)
  # one is recorded by itself and in a sum with the other: only one of them can be left out
  two <- "for (i in 1:5) { face <- roll(cube)\n add(face, to = total)\n if (face == 2) add(1, to = twos) }"
  expect_identical(sums_beside(thrown(two)), 1)
  # of each round of a match, which starts again, while the match goes on
  match <- thrown("for (i in 1:2) { face <- roll(cube)\n add(face, to = total) }", span = "sitting(rounds = 4)")
  expect_identical(sums_beside(match), 0)
  # doubled, not added to
  doubled <- "for (i in 1:4) { face <- roll(cube)\n total <- 2 * total + face }"
  expect_identical(sums_beside(thrown(doubled)), 0)
})

test_that("passing-shells is counted with its number of turns", {
  small <- odds("passing-shells", set = list(seated = 2, shells_each = 1), engine = "exact")
  # Of two who throw two dice each with one shell, as enumerated step by step: who throws, and who has shells.
  turn <- function(mine, theirs) {  # the states behind one turn, with their chances
    step <- function(from) do.call(rbind, lapply(seq_len(nrow(from)), function(k) {
      s <- from[k, ]
      if (s$mine == 0) return(s)
      data.frame(mine = s$mine - c(0, 1, 1), theirs = s$theirs + c(0, 1, 0), p = s$p * c(4, 3, 1) / 8)
    }))
    both <- step(step(data.frame(mine = mine, theirs = theirs, p = 1)))
    stats::aggregate(p ~ mine + theirs, both, sum)
  }
  at <- data.frame(mine = 1, theirs = 1, p = 1)
  ended <- numeric(60)
  for (n in seq_along(ended)) {
    after <- do.call(rbind, lapply(seq_len(nrow(at)), function(k) {
      s <- at[k, ]
      if (s$mine == 0) return(s)
      t <- turn(s$mine, s$theirs)
      t$p <- t$p * s$p
      t
    }))
    over <- (after$mine > 0) + (after$theirs > 0) == 1
    ended[[n]] <- sum(after$p[over])
    at <- after[!over, ]
    names(at)[1:2] <- c("theirs", "mine")  # the other one's turn
    at <- at[c("mine", "theirs", "p")]
    if (nrow(at) > 0) at <- stats::aggregate(p ~ mine + theirs, at, sum)
    if (nrow(at) == 0) break
  }
  turns <- small$distributions$turns
  expect_equal(turns$probability[match(1:20, turns$value)], ended[1:20], tolerance = 1e-9)
})

test_that("a measure of what is recorded anyway is counted by that record", {
  question <- new_question(game("lantern-tiles"))
  measured <- with_measures(question, c("mean(tiles)", "mean(guest_tiles)", "mean(guest_tiles + keeper_tiles)"))
  plain <- counted_with_sums(question, TRUE)
  counted <- counted_with_sums(measured, TRUE)
  expect_identical(counted[c("states", "sums")], plain[c("states", "sums")])
  o <- odds("lantern-tiles", engine = "exact",
            measure = c("mean(tiles)", "mean(guest_tiles)", "mean(guest_tiles + keeper_tiles)"))
  tiles <- o$distributions$tiles
  expect_equal(o$measures$value, c(sum(tiles$value * tiles$probability), o$records$mean[2],
                                   sum(tiles$value * tiles$probability)), tolerance = 1e-12)
})
