program <- function(name, ...) compile_game(game(name), ...)

test_that("a program is plain data: it prints as JSON and comes back the same", {
  p <- program("lantern-tiles")
  copy <- unserialize(serialize(p, NULL))
  expect_identical(core_exact(copy, 1e6, NULL), core_exact(p, 1e6, NULL))
  expect_false(any(rapply(p, function(x) is.environment(x) || is.function(x), how = "unlist")))
})

test_that("settings are folded into the program, and what cannot be reached is left out", {
  p <- program("dice-duel", list(rounds = 3))
  expect_true(3L %in% p$int_start)
  branch <- function(flag)
    ncol(core_optimised(compile_game(game_of("seats(a)", sprintf("loud <- setting(%s)", flag), "cube <- die(1:6)",
      "state(n = 0)", "play({ if (loud) { n <- roll(cube)\n n <- n + roll(cube) } })",
      "outcomes(zero = n == 0, more = otherwise)")))$code)
  expect_lt(branch("no"), branch("yes"))
})

test_that("optimised code gives the same odds as the code as written", {
  for (name in c("tide-signs", "dice-duel", "lantern-tiles", "harbour-dice", "lantern-bluff", "three-bells",
                 "cork-signs")) {
    p <- program(name)
    shorter <- core_optimised(p)
    expect_lt(ncol(shorter$code), ncol(p$code))
    expect_identical(core_exact(shorter, 1e6, NULL)$outcomes, core_exact(p, 1e6, NULL)$outcomes)
    # Scripted play runs the code as written: the same draws must end the same way in both.
    for (face in if (p$unit == "round") 1:3) {
      draws <- rep(list(rep(face, 40L)), length(p$sources))
      ends <- lapply(list(p, shorter),
                     function(x)
                       core_script(x, draws, rep(list(integer()), 9), rep(FALSE, 9), rep(0L, 20), rep(FALSE, 20), FALSE,
                                   0L)$ints[[p$outcome_register + 1L]])
      expect_identical(ends[[1]], ends[[2]])
    }
  }
})

test_that("a program that points outside itself is refused by the core", {
  p <- program("dice-duel")
  p$code[2, 1] <- 9999L
  expect_error(core_exact(p, 1e6, NULL), "broken program", class = "std::invalid_argument")
})

test_that("the table of words, the checker and the compiler know the same words", {
  for (w in vocabulary_words) {
    handler <- switch(w$kind, value = paste0("value_", w$name), statement = paste0("statement_", w$name), NULL)
    if (!is.null(handler)) expect_true(is.function(get0(handler)), info = w$name)
    expect_gt(nchar(w$says), 3)
    if (w$kind != "constant") expect_length(parse_rules(source_of_text(w$example, "example"))$diagnostics, 0)
  }
  expect_identical(nrow(vocabulary()), length(vocabulary_words))
  expect_length(intersect(names(vocabulary_words), kept_syntax), 0)
})
