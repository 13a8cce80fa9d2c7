# What must surely have a value, what can be reached, what may change where.

flow <- function(play, ...) game_with(play, ...)
unsure <- function(play) expect_error(flow(play), class = "basanos_maybe_unset")
sure <- function(play) expect_s3_class(flow(play), "basanos_game")

test_that("a local name must have a value on every way to where it is read", {
  unsure("if (result > 0) x <- 1\n result <- x")
  sure("if (result > 0) x <- 1 else x <- 2\n result <- x")
  unsure("while (result < 2) { x <- 1\n add(1, to = result) }\n result <- x")
  unsure("for (i in 1:3) x <- i\n result <- x")
  sure("repeat { x <- 1\n if (x > 0) break }\n result <- x")
  unsure("repeat { if (result > 3) break\n x <- 1\n add(x, to = result) }\n result <- x")
  sure("repeat { x <- 2\n if (result > 3) break\n if (result > 2) break\n add(1, to = result) }\n result <- x")
  unsure("repeat { if (result > 2) break\n x <- 2\n if (result > 3) break\n add(1, to = result) }\n result <- x")
  sure("if (result > 0) end_round() else x <- 2\n result <- x")
  sure("if (result > 0) { x <- 1 } else { end_round() }\n result <- x")
  unsure("if (result > 0) { if (result > 1) x <- 1 } else x <- 3\n result <- x")
})

test_that("in functions too, with what they return", {
  expect_error(flow("result <- f(1)", "f <- function(n) { if (n > 0) y <- 1\n y }"), class = "basanos_maybe_unset")
  sure_function <- flow("result <- f(1)", "f <- function(n) { if (n > 0) return(1)\n y <- 2\n y }")
  expect_s3_class(sure_function, "basanos_game")
  expect_error(flow("result <- f(1)", "f <- function(n) { if (n > 0) return(1) }"), class = "basanos_no_value")
  expect_error(flow("result <- f(1)", "f <- function(n) { if (n > 0) return(1)\n guest }"),
               class = "basanos_branches_differ")
})

test_that("what cannot be reached is refused", {
  never <- function(play) expect_error(flow(play), class = "basanos_never_reached")
  never("end_round()\n result <- 1")
  never("repeat { break\n result <- 1 }")
  never("for (i in 1:2) { next\n result <- 1 }")
  never("if (result > 0) end_round() else end_round()\n result <- 1")
})

test_that("break and next stand in loops, return in functions", {
  for (play in c("break", "next", "return(1)", "if (result > 0) break"))
    expect_error(flow(play), class = "basanos_word_misplaced")
})

test_that("loops that cannot end are found before a round is played", {
  endless <- function(play) expect_error(flow(play), class = "basanos_loop_endless")
  endless("while (yes) add(1, to = result)")
  endless("repeat add(1, to = result)")
  endless("x <- 1\n while (x < 2) add(1, to = result)")
  endless("while (result < 2) x <- 1")
  sure("while (result < 2) end_round()")
  sure("x <- 1\n while (x < 2) { if (result > 3) break\n add(1, to = result) }")
})

test_that("only play changes what is remembered, and only play and players draw", {
  refused <- function(id, ...)
    expect_error(game_of("seats(guest)", "cube <- die(1:6)", "state(n = 0)", ...), class = paste0("basanos_", id))
  bump <- "bump <- function() { add(1, to = n)\n n }"
  refused("write_here", bump, "play({ n <- 1 })", "outcomes(one = bump() == 1, more = otherwise)")
  refused("write_here", bump, "play({ n <- 1 })", "outcomes(over = otherwise)", "record(n = bump())")
  refused("write_here", bump, "play({ n <- 1 })", "outcomes(over = otherwise)", "pays(guest, bump())")
  refused("write_here", bump, "play({ ask(guest, x = one_of(1:3)) })", "outcomes(over = otherwise)",
          "one <- player(x = bump())")
  refused("write_here", "play({ ask(guest, x = one_of(1:3)) })", "outcomes(over = otherwise)",
          "one <- player(x = { n <- 2\n n })")
  refused("chance_here", "play({ n <- 1 })", "outcomes(six = roll(cube) == 6, other_face = otherwise)")
  refused("chance_here", "lucky <- function() roll(cube) == 6", "play({ n <- 1 })",
          "outcomes(six = lucky(), other_face = otherwise)")
  refused("draw_here", "lucky <- function() roll(cube)", "play({ ask(guest, x = one_of(1:6)) })",
          "outcomes(over = otherwise)", "one <- player(x = lucky())")
  refused("write_here", "stop_it <- function() { end_round()\n 1 }", "play({ n <- 1 })", "outcomes(over = otherwise)",
          "record(n = stop_it())")
})

test_that("a player's own chance may be used through a function", {
  g <- game_of("seats(a)", "state(n = 0)", "coin <- function() pick(1:2)", "play({ ask(a, x = one_of(1:2))\n n <- x })",
               "outcomes(one = n == 1, two = otherwise)", "one <- player(x = coin())")
  expect_equal(odds(g)$outcomes$probability, c(0.5, 0.5))
})

test_that("one name means one thing", {
  twice <- function(...) expect_error(game_of(...), class = "basanos_name_twice")
  rest <- c("play({ n <- 1 })", "outcomes(over = otherwise)")
  twice("seats(n)", "state(n = 0)", rest)
  twice("seats(a)", "state(n = 0)", "n <- setting(3)", rest)
  twice("seats(a)", "state(n = 0)", "a <- die(1:6)", rest)
  twice("seats(a)", "state(n = 0)", "f <- function(n) { n <- n + 1\n n }", rest)
  twice("seats(a)", "state(n = 0)", "play({ for (n in 1:3) n <- 1 })", "outcomes(over = otherwise)")
  twice("seats(a, a)", "state(n = 0)", rest)
  expect_error(game_of("seats(a)", "state(n = 0)", "sum <- setting(3)", rest), class = "basanos_name_taken")
  expect_error(game_of("seats(a)", "state(n = 0)", "f <- function(it) it", rest), class = "basanos_name_taken")
  expect_error(game_of("seats(a)", "state(n = 0)", "play({ sum <- 3\n n <- 1 })", "outcomes(over = otherwise)"),
               class = "basanos_name_taken")
})

test_that("all the problems of a file are shown at once, in its order", {
  e <- expect_error(game_of("seats(a)", "state(n = 0)", "cube <- die(1:6", "play({", "  n <- m + 1", "  if (n) n <- 2",
                            "  n++", "})", "outcomes(one = k == 1, two = otherwise)", "pays(b, 1)"),
                            class = "basanos_error")
  expect_true(all(c("bracket_open", "habit_increment", "unknown_name", "unknown_seat") %in% e$ids))
  lines <- vapply(e$diagnostics, function(p) p$at[[1]], 0)
  expect_false(is.unsorted(lines))
})
