# Games of more than two seats, and what is printed of games, tallies and checks.

market <- function(...) game_of(
  "title(\"Night Market\", \"Three stalls roll; the highest alone takes the pot.\")",
  "stake <- setting(2, from = 1, to = 9)",
  "seats(ash, birch, cedar)",
  "cube <- die(1:4)",
  "state(face = each(seat, 0), bold = each(seat, no))",
  "play({",
  "  ask(seats, mood = one_of(calm, loud))",
  "  for (s in seats) {",
  "    face[s] <- roll(cube)",
  "    if (mood[s] == loud) face[s] <- face[s] + 1",
  "    bold[s] <- mood[s] == loud",
  "  }",
  "})",
  "outcomes(takes = leader(face[it]), shared = otherwise)",
  "pays(winner, stake * (size(seats) - 1))",
  "pays(others, -stake)",
  "stakes(everyone, stake)",
  "record(best = max(face), loud_ones = count(seats, bold[it]), winner_is = leader(face[it]))",
  "quiet <- player(mood = calm)",
  "noisy <- player(cedar, mood = loud)",
  "moody <- player(mood = pick(calm = 1, loud = 3))",
  ...)

truth <- function(bonus = c(0, 0, 0)) {
  faces <- as.matrix(expand.grid(1:4, 1:4, 1:4))
  faces <- sweep(faces, 2, bonus, "+")
  top <- apply(faces, 1, max)
  alone <- rowSums(faces == top) == 1
  c(vapply(1:3, function(s) mean(alone & faces[, s] == top), 0), mean(!alone))
}

test_that("three seats, one rule: exact is what listing all throws gives", {
  exact <- odds(market())
  expect_identical(exact$outcomes$name, c("ash_takes", "birch_takes", "cedar_takes", "shared"))
  expect_equal(exact$outcomes$probability, truth())
  expect_agrees(odds(market(), engine = "sample", rounds = 1e5), probabilities(exact))
})

test_that("each seat may have its own player, and some players fit one seat only", {
  loud <- odds(market(), players = list(cedar = "noisy"))
  expect_equal(loud$outcomes$probability, truth(c(0, 0, 1)))
  expect_identical(unlist(loud$players), c(ash = "quiet", birch = "quiet", cedar = "noisy"))
  e <- expect_error(odds(market(), players = list(ash = "noisy")), class = "basanos_player_unfit")
  expect_match(conditionMessage(e), "cannot play the seat `ash`")
})

test_that("a weighted player is the mixture of its answers", {
  mixed <- odds(market(), players = list(birch = "moody"))
  expect_equal(mixed$outcomes$probability, truth() / 4 + 3 * truth(c(0, 1, 0)) / 4)
  expect_equal(mixed$records$mean[[2]], 0.75)
})

test_that("pays of winner and others are zero in sum, and measured by their stake", {
  o <- odds(market(), set = list(stake = 3), players = list(cedar = "noisy"))
  p <- truth(c(0, 0, 1))
  expect_equal(sum(o$pays$mean), 0)
  expect_equal(o$pays$mean, vapply(1:3, function(s) 6 * p[[s]] - 3 * sum(p[setdiff(1:3, s)]), 0))
  expect_equal(o$pays$return, 1 + o$pays$mean / 3)
})

test_that("records of labels are shares, of yes and no shares and means", {
  o <- odds(market())
  expect_true(is.na(o$records$mean[[3]]))
  expect_equal(o$distributions$winner_is$value, c("nobody", "ash", "birch", "cedar"))
  expect_equal(o$distributions$winner_is$probability, truth()[c(4, 1, 2, 3)])
  expect_match(format(o), "winner_is +share", all = FALSE)
})

test_that("examples of several seats give answers in seat order, and pays by seat", {
  g <- market(
    paste0("example(\"the loud one is ahead\", given(mood = c(calm, calm, loud), cube = c(3, 2, ",
           "3)), expect(outcome = cedar_takes, pay = c(ash = -2, cedar = 4), best = 4))"),
    paste0("example(\"level at the top\", given(mood = c(calm, calm, calm), cube = c(3, 2, 3)), ",
           "expect(outcome = shared, pay = c(birch = 0), winner_is = nobody))"),
    paste0("example(\"a player for a seat\", given(cedar = noisy, cube = c(1, 1, 1)), ",
           "expect(outcome = takes, loud_ones = 1, bold[cedar]))"))
  check <- check_game(g)
  expect_identical(check$examples$got, rep("", 3))
  wrong <- market(paste0("example(\"no\", given(mood = c(calm, calm, calm), cube = c(3, 2, 3)), ",
                         "expect(winner_is = ash, pay = c(ash = 4)))"))
  expect_match(check_game(wrong)$examples$got, "expected winner_is ash, got nobody; expected pay of ash 4, got 0")
})

test_that("games, tallies, checks and odds print as text", {
  expect_output(print(market()), "Night Market")
  expect_output(print(market()), "seats +ash, birch, cedar")
  expect_output(print(sample_tally(market(), 10)), "Tally of 10 rounds")
  expect_output(print(check_game(market())), "no worked examples")
  expect_output(print(odds(market())), "shared")
  expect_true(is_game(market()))
  expect_false(is_game("tide-signs"))
})
