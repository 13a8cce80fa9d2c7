# The hash names the game by what its rules mean, its settings and its players.

test_that("comments, places and names of functions do not change the hash; rules, settings and players do", {
  hash <- function(lines, ...) odds(game_of(lines), engine = "sample", rounds = 1, ...)$hash
  rules <- c("seats(a)", "sides <- setting(6)", "cube <- die(1:sides)", "state(n = 0)",
             "play({ ask(a, go = one_of(yes, no))\nif (go) n <- roll(cube) })",
             "outcomes(high = n > 4, low = otherwise)",
             "calm <- player(go = yes)", "lazy <- player(go = no)")
  same <- hash(rules)
  expect_identical(hash(c("# a comment", "", rules[1:4], "   # another", rules[5:8], "",
                          'example("x", expect(1 == 1))')), same)
  expect_false(hash(sub("n > 4", "n > 3", rules)) == same)
  expect_false(hash(rules, set = list(sides = 8)) == same)
  expect_false(hash(rules, players = list(a = "lazy")) == same)
  expect_identical(compile_game(game("lantern-tiles"))$hash, odds("lantern-tiles")$hash)
})

test_that("rounds that are kept are compared with the game as it was kept", {
  path <- tempfile(fileext = ".csv")
  quiet <- function(x) NULL
  play_game("lantern-tiles", seed = 1, rounds = 3, set = list(keeper_stands = 17), keep = path,
            read = function() "stand", write = quiet)
  kept <- played_rounds(path)$rows
  truth <- odds("lantern-tiles", engine = "exact", set = list(keeper_stands = 17))
  expect_true(is.na(kept$no_model))
  expect_identical(kept$hash, truth$hash)
  expect_lt(abs(kept$model_pay - truth$pays$mean), 5 * truth$pays$sd / sqrt(1e5))
  table <- utils::read.csv(path)
  table$hash <- "0123456789abcdef"
  utils::write.csv(table, path, row.names = FALSE)
  expect_match(played_rounds(path)$rows$no_model, "changed since")
  expect_match(format(played_rounds(path)), "no odds by the rules, for the rules have changed since", all = FALSE)
  utils::write.csv(table[kept_columns_before[[2]]], path, row.names = FALSE)
  expect_match(played_rounds(path)$rows$no_model, "earlier version")
})

test_that("every field of a program is in its hash, or known not to be", {
  beside <- c("code", "places", "empty_outcomes", "hash", "return_range", "groups", "symmetry", "recorded_of_unit")
  for (name in fair_games())
    expect_identical(setdiff(names(compile_game(game(name))), c(hashed_fields, beside)), character())
})
