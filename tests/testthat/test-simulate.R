# Rounds one by one.

test_that("rows are the rounds that odds sample", {
  g <- game("lantern-tiles")
  rows <- simulate(g, nsim = 3000, seed = 5)
  o <- odds(g, engine = "sample", rounds = 3000, seed = 5)
  expect_identical(rows$round, 1:3000)
  expect_equal(as.vector(table(factor(rows$outcome, o$outcomes$name))) / 3000, o$outcomes$probability)
  expect_equal(mean(rows$pay_guest), o$pays$mean)
  expect_equal(mean(rows$tiles), o$records$mean[[1]])
  expect_identical(attr(rows, "seed"), 5)
  expect_identical(simulate(g, nsim = 3000, seed = 5), rows)
})

test_that("labels are texts, yes or no is logical, settings and players count", {
  cards <- simulate(game("bell-cards"), 200, seed = 1)
  expect_true(all(cards$kind %in% c("plain", "suited", "pair", "run")))
  yes <- game_of("seats(guest)", "cube <- die(1:6)", "state(a = 0)", "play({ a <- roll(cube) })",
                 "outcomes(all = otherwise)",
                 "record(high = a > 4)")
  expect_type(simulate(yes, 5, seed = 1)$high, "logical")
  bold <- simulate(game("lantern-tiles"), 2000, seed = 1, players = list(guest = "bold"), set = list(aim = 30))
  expect_equal(mean(bold$pay_guest), odds("lantern-tiles", engine = "sample", rounds = 2000,
                                          players = list(guest = "bold"),
                                          set = list(aim = 30))$pays$mean)
})

test_that("of a match every round; without a seed R's own decides", {
  rows <- simulate(game("five-winds"), 200, seed = 2)
  o <- odds("five-winds", engine = "sample", rounds = 200, seed = 2)
  expect_equal(nrow(rows) / 200, o$rounds_in_unit)
  expect_equal(unname(table(rows$outcome)[o$outcomes$name] / nrow(rows)), o$outcomes$probability, ignore_attr = TRUE)
  expect_identical(rows$round[rows$match == 3], seq_len(sum(rows$match == 3)))
  bells <- simulate(game("three-bells"), 3, seed = 2)
  expect_equal(mean(bells$pay_spinner), odds("three-bells", engine = "sample", rounds = 3, seed = 2)$pays$mean)
  set.seed(3)
  a <- simulate(game("dice-duel"), 20)
  set.seed(3)
  expect_identical(simulate(game("dice-duel"), 20), a)
  expect_error(simulate(game("dice-duel"), 0), class = "basanos_argument_wrong")
})
