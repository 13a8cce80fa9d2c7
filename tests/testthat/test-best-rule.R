# A rule to remember: few lines, and its loss is that of the player that it is.

loss_of_rule <- function(of, best, seat, ...) {
  folder <- new_folder()
  path <- file.path(folder, "rule.R")
  rules <- paste(names(best$rule$rules), best$rule$rules, sep = " = ", collapse = ", ")
  writeLines(sprintf("short <- player(%s)", rules), path)
  o <- odds(game(of, path), players = stats::setNames(list("short"), seat), engine = "exact",
            measure = best$objective, ...)
  best$value - o$measures$value[[1]]
}

test_that("a threshold, a set of cards, a remainder: nothing is lost", {
  tiles <- best_play("lantern-tiles", rule = 0, quick = TRUE)
  expect_equal(tiles$rule$lines$where, c("guest_total from 19", "otherwise"))
  expect_equal(tiles$rule$lines$answer, c("stand", "draw"))
  expect_true(tiles$rule$met)
  close_to(tiles$rule$loss, 0)
  close_to(loss_of_rule("lantern-tiles", tiles, "guest"), 0)
  bluff <- best_play("lantern-bluff", "early", rule = 0, quick = TRUE)
  expect_lte(nrow(bluff$rule$lines), 4)
  expect_match(bluff$rule$lines$where, "card[me] is 8, 9 or 10", fixed = TRUE, all = FALSE)
  close_to(loss_of_rule("lantern-bluff", bluff, "early"), 0)
  pebble <- best_play("last-pebble", "first", rule = 0, quick = TRUE)  # leave one more than a multiple of four
  expect_equal(pebble$rule$lines$where, c("left %% 4 is 0", "left %% 4 is 3", "otherwise"))
  expect_equal(pebble$rule$lines$answer, c("3", "2", "1"))
})

test_that("functions of the rules are tested, but not where they look at what is hidden", {
  lines <- c("seats(guest)", "cube <- die(1:6)", "state(shown = 0, hidden = one(1:6, seen_by = nobody))",
             "play({ shown <- roll(cube)", "  hidden <- roll(cube)", "  ask(guest, choice = one_of(stay, go)) })",
             "odd <- function(n) n %% 2 == 1", "above <- function() hidden > shown",
             "outcomes(good = (choice == go) == odd(shown), bad = otherwise)",
             "pays(guest, good = if (hidden > 3) 2 else 1, bad = 0)", "steady <- player(choice = stay)")
  best <- best_play(do.call(game_of, as.list(lines)), rule = 0, quick = TRUE)
  expect_equal(best$rule$lines$where, c("odd(shown) is yes", "otherwise"))
  close_to(best$rule$value, 1.5)
})

test_that("a longer rule loses less, and the loss that is told is that of the player", {
  losses <- vapply(c(0.1, 0.02, 0.012), function(wanted) {
    best <- best_play("harbour-dice", rule = wanted, quick = TRUE)
    expect_true(best$rule$met)
    close_to(best$rule$loss, loss_of_rule("harbour-dice", best, "guest"))
    best$rule$loss
  }, 0)
  expect_true(all(losses <= c(0.1, 0.02, 0.012)) && !is.unsorted(-losses))
  none <- best_play("harbour-dice", rule = 0, quick = TRUE)
  expect_false(none$rule$met)
  expect_match(paste(format(none), collapse = "\n"), "No rule of at most 12 lines was found that loses 0 or less",
               fixed = TRUE)
})

test_that("what is sampled is met only where that is sure", {
  bell <- best_play("bell-cards", rule = 0.03, quick = TRUE)$rule
  expect_equal(bell$engine, "sample")
  expect_lte(bell$loss + 1.96 * bell$standard_error, 0.03 + 1e-4)
  expect_match(bell$lines$where, "strength(hand)", fixed = TRUE, all = FALSE)
})

test_that("wrong calls", {
  expect_error(best_play("lantern-tiles", rule = -1), class = "basanos_argument_wrong")
  expect_error(best_play("lantern-tiles", rule = "short"), class = "basanos_argument_wrong")
  expect_error(best_play("last-pebble", both = TRUE, rule = 0), class = "basanos_argument_wrong")
  expect_error(best_play("nine-shutters", rule = 0), "too many", class = "basanos_best_rule")
})
