tide <- function(...)
  game_of(grep("^example|^  given", readLines(system.file("games", "tide-signs.game", package = "basanos")),
               invert = TRUE, value = TRUE), ...)
tiles <- function(...)
  game_of(grep("^example|^  given", readLines(system.file("games", "lantern-tiles.game", package = "basanos")),
               invert = TRUE, value = TRUE), ...)
got <- function(game) check_game(game)$examples$got

test_that("a failing example says what was expected and what came", {
  expect_match(got(tide('example("wrong", given(throw = c(reef, boat)), expect(outcome = draw))')),
               "expected outcome draw, got left_wins")
  expect_match(got(tiles('example("wrong", given(tile = c(10, 8, 6)), expect(pay = 1, tiles = 4))')),
               "expected pay of guest 1, got 2; expected tiles 4, got 3")
  expect_match(got(tiles('example("wrong", expect(is_bust(24) == yes))')),
               "expected is_bust(24) == yes, got no against yes", fixed = TRUE)
  expect_false(check_game(tide('example("wrong", given(throw = c(reef, boat)), expect(outcome = draw))'))$ok)
})

test_that("a family of outcomes by seat may be expected by its name", {
  expect_identical(got(tide('example("someone wins", given(throw = c(reef, boat)), expect(outcome = wins))')), "")
})

test_that("draws and answers too few, too many or impossible are complaints", {
  expect_match(got(tiles('example("few", given(tile = c(10, 8)), expect(outcome = bright))')),
               "`tile` is drawn once more in line [0-9]+ than is given \\(2 given\\)")
  expect_match(got(tiles('example("many", given(tile = c(10, 8, 6, 1, 1)), expect(outcome = bright))')),
               "2 of the 5 given draws of `tile` were never needed")
  expect_match(got(tiles('example("beyond", given(tile = c(10, 8, 13)), expect(outcome = bright))')),
               "`tile` cannot show 13")
  expect_match(got(tiles('example("answers", given(tile = c(1, 1, 1), choice = draw), expect(outcome = bright))')),
               "`choice` is asked once more")
  expect_match(got(tide('example("chance", given(left = even, right = steady), expect(outcome = draw))')),
               "leaves it to chance")
})

test_that("a seat's player, settings and starts may be given", {
  expect_identical(got(tide('example("both steady", given(left = steady, right = steady), expect(outcome = draw))')),
                   "")
  expect_identical(got(tiles(paste0('example("short", given(aim = 10, guest_stands = 9, tile = c(3, 3, 4)), ',
                                    'expect(outcome = bright))'))), "")
  expect_identical(got(tiles(paste0('example("from 5", given(guest_total = 5, tile = c(9, 5, 12, 9), choice = stand), ',
                                    'expect(outcome = keeper_high))'))), "")
})

test_that("an illegal answer can be the thing expected", {
  lines <- 'example("no such answer", given(choice = guest, tile = c(1, 1)), expect(error = illegal_answer))'
  expect_identical(got(tiles(lines)), "")
  expect_match(got(tiles(sub("guest,", "stand,", sub("c\\(1, 1\\)", "c(1, 1, 9, 9)", lines)))),
               "expected error illegal_answer, got none")
})

test_that("an example may stop where the given draws end", {
  expect_identical(got(tiles(paste0('example("so far", given(tile = c(3, 4), rest = stop), ',
                                    'expect(guest_total == 7, guest_tiles == 2))'))), "")
})

test_that("checks as text and as data", {
  check <- check_game("lantern-tiles")
  expect_true(check$ok)
  expect_identical(nrow(check$examples), 6L)
  expect_match(format(check), "all 6 examples hold", all = FALSE)
  bad <- check_game(test_path("rules-bad", "unknown_name.game"))
  data <- jsonlite::fromJSON(format_result(bad, "json"))
  expect_false(data$ok)
  expect_identical(data$problems$id, "unknown_name")
  expect_equal(c(data$problems$line, data$problems$column), c(6, 11))
})
