# Exact against an oracle that shares no code with the core, sampled against exact.

test_that("tide-signs: exact is the oracle's, and sampled agrees", {
  truth <- oracle_tide_signs()
  expect_equal(probabilities(odds("tide-signs")), truth, tolerance = 1e-14)
  expect_agrees(odds("tide-signs", engine = "sample", rounds = 1e6), truth)
  weighted <- list(left = "reef_fond", right = "steady")
  truth <- oracle_tide_signs(c(2, 1, 1), c(1, 0, 0))
  exact <- odds("tide-signs", players = weighted)
  expect_equal(probabilities(exact), truth, tolerance = 1e-14)
  expect_agrees(odds("tide-signs", engine = "sample", rounds = 1e6, players = weighted), truth)
})

test_that("dice-duel: exact is the oracle's, and sampled agrees", {
  for (set in list(list(), list(sides = 2, rounds = 1), list(sides = 20, rounds = 12))) {
    truth <- do.call(oracle_dice_duel, set)
    exact <- odds("dice-duel", set = set)
    expect_equal(probabilities(exact), truth$outcomes, tolerance = 1e-12)
    d <- exact$distributions$first_score
    expect_equal(d$probability, truth$score[d$value + 1], tolerance = 1e-12)
    expect_agrees(odds("dice-duel", engine = "sample", rounds = 1e6, set = set, seed = 3), truth$outcomes)
  }
})

test_that("lantern-tiles: exact is the oracle's, and sampled agrees", {
  for (set in list(list(), list(guest_stands = 16),
                   list(low = 3, high = 9, aim = 20, guest_stands = 14, keeper_stands = 15),
                   list(guest_stands = 24, keeper_stands = 24))) {
    truth <- do.call(oracle_lantern_tiles, set)
    exact <- odds("lantern-tiles", set = set)
    expect_equal(probabilities(exact), truth$outcomes, tolerance = 1e-12)
    expect_equal(exact$pays$mean, truth$pay, tolerance = 1e-12)
    expect_equal(exact$records$mean[[1]], truth$tiles, tolerance = 1e-12)
    expect_equal(exact$residual, 0)
    sampled <- odds("lantern-tiles", engine = "sample", rounds = 1e6, set = set, seed = 11)
    expect_agrees(sampled, truth$outcomes)
    expect_lt(abs(sampled$pays$mean - truth$pay) / sampled$pays$standard_error, 4)
    expect_lt(max(abs(sampled$records$mean - exact$records$mean) / sampled$records$standard_error), 4)
  }
})

test_that("every game of the fair checks clean, and exact agrees with sampled for each of its players", {
  for (name in fair_games()) {
    g <- game(name)
    expect_true(check_game(g, findings = FALSE)$ok, info = name)
    expect_gte(length(g$examples), 3)
    usual <- quick_exact(g)
    if (is.null(usual)) next
    for (player in c(names(Filter(function(p) is.null(p$seat) && length(g$decisions) > 0, g$players)), NA)) {
      players <- if (!is.na(player)) stats::setNames(as.list(rep(player, length(g$seats))), g$seats) else list()
      exact <- if (is.na(player)) usual else odds(g, engine = "exact", players = players, max_states = 6e4)
      if (!exact$complete) next
      expect_equal(sum(exact$outcomes$probability), 1, tolerance = 1e-10)
      sampled <- odds(g, engine = "sample", rounds = if (length(g$words$texts) > 0) 1e4 else 1e5, players = players)
      expect_agrees(sampled, probabilities(exact), 4.5)
    }
  }
})

test_that("a game without a bound is counted to a stated remainder", {
  g <- game_with("repeat {\n add(1, to = result)\n if (roll(cube) == 6) break\n}")
  exact <- odds(g)
  expect_identical(exact$records$most, NA_real_)
  expect_gt(exact$residual, 0)
  expect_lt(exact$residual, 1e-13)
  expect_equal(exact$records$mean, 6, tolerance = 1e-9)
  d <- exact$distributions$result
  expect_equal(d$probability[1:5], (5 / 6)^(0:4) / 6, tolerance = 1e-12)
})
