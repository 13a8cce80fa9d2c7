# The mistakes that people made who wrote their first games, and the mend that each is told.

guest_game <- function(..., play = "n <- roll(cube)", outcomes = "outcomes(win = n > 3, lose = otherwise)")
  c("seats(guest)", "cube <- die(1:6)", "state(n = 0)", "play({", play, "})", outcomes, ...)

two_seats <- function(..., play = "n <- roll(cube)", outcomes = "outcomes(win = n > 3, lose = otherwise)")
  c("seats(a, b)", "cube <- die(1:6)", "state(n = 0)", "play({", play, "})", outcomes, ...)

# What is written, the id of the first problem, and what its message and hint say.
mistakes <- list(
  list("one = in an outcome", guest_game(outcomes = "outcomes(win = n = 3, lose = otherwise)"), "habit_equals", "`==`"),
  list("one = in brackets", guest_game(outcomes = "outcomes(win = (n = 3), lose = otherwise)"), "habit_equals", "`==`"),
  list("a percent", guest_game("lucky <- chance(20%)", play = "won <- chance(20%)"), "habit_percent", "0.2 for 20%"),
  list("curly quotes", guest_game(play = c("say(\u201chello\u201d)", "n <- 1")), "habit_quotes", "straight quotes"),
  list("a name with a hyphen", guest_game("gull-toll <- die(1:6)"), "habit_name", "write gull_toll"),
  list("a name with a space", guest_game("gull toll <- die(1:6)"), "habit_name", "write gull_toll"),
  list("a state with a hyphen", c("seats(guest)", "state(gull-toll = 0)", "play({ end_round() })",
                                  "outcomes(over = otherwise)"), "habit_name", "write gull_toll"),
  list("If", guest_game(play = c("n <- roll(cube)", "If (n > 3) n <- 2")), "habit_case", "write `if`"),
  list("Else", guest_game(play = c("n <- roll(cube)", "if (n > 3) { n <- 2 } Else { n <- 1 }")), "habit_case",
       "write `else`"),
  list("}) left out", c("seats(guest)", "cube <- die(1:6)", "state(n = 0)", "play({", "n <- roll(cube)",
                        "outcomes(win = n > 3, lose = otherwise)"), "bracket_open", "add `}\\)`"),
  list("otherwize", guest_game(outcomes = "outcomes(win = n > 3, lose = otherwize)"), "unknown_name",
       "did you mean `otherwise`"),
  list("a number as a case", guest_game(play = "n <- switch(n, 3 = 12, otherwise = 1)"), "switch_form",
       "write \"3\" = "),
  list("a name as a case of a number", guest_game(play = "n <- switch(n, \"1\" = 4, \"two\" = 5, otherwise = 1)"),
       "never_equal", "a number in quotes"),
  list("a seat that is not remembered",
       two_seats(play = "for (s in turns(each = 2)) { n <- roll(cube); mover <- s }",
                 outcomes = "outcomes(win = mover == a, lose = otherwise)"), "unknown_name",
       "state\\(mover = one\\(seats\\)\\)"),
  list("deal to the place of one card",
       c("seats(a, b)", "cards <- deck(rank = 1:4)", "state(board = each(seat, one(cards)))",
         "play({ for (p in seats) deal(1, to = board[p]) })", "outcomes(over = otherwise)"), "wrong_type",
       "write board\\[p\\] <- draw\\(cards\\)"),
  list("a function without brackets", guest_game("total <- function() n + 1", play = "if (total > 3) n <- 2"),
       "function_uncalled", "write `total\\(\\)`"),
  list("lowest of numbers", guest_game(play = "n <- lowest(1, 2, 3)"), "argument_missing", "min\\(2, 3\\)"),
  list("lowest alone", guest_game(play = "n <- lowest(roll(cube, 3))"), "argument_missing", "min\\(faces\\)"),
  list("die(1-6)", c("seats(guest)", "cube <- die(1-6)", "state(n = 0)", "play({ n <- roll(cube) })",
                     "outcomes(win = n > 3, lose = otherwise)"), "habit_range_minus", "die\\(1:6\\)"),
  list("a record by a word of the language", guest_game("record(choices = n)"), "name_taken", "another name"),
  list("an if too deep", guest_game(play = paste0("n <- ", paste(sprintf("if (n == %d) %d else ", 1:150, 1:150),
                                                                 collapse = "\n"), "n")), "nested_too_deep", "chain"))

test_that("each mistake of a first rules file is told with the mend that helps", {
  for (m in mistakes) {
    path <- tempfile(fileext = ".game")
    writeLines(enc2utf8(m[[2]]), path, useBytes = TRUE)
    found <- check_game(path)$problems
    expect_identical(found$id[[1]], m[[3]], info = m[[1]])
    expect_match(paste(found$message[[1]], found$hint[[1]]), m[[4]], info = m[[1]])
  }
})

test_that("what follows from an open bracket is not told beside it", {
  path <- tempfile(fileext = ".game")
  writeLines(mistakes[[10]][[2]], path)
  expect_identical(check_game(path)$problems$id, "bracket_open")
})

test_that("each mistake of a call is told with the mend that helps", {
  folder <- tempfile("games")
  dir.create(folder)
  writeLines(guest_game(), file.path(folder, "pier-toss.game"))
  before <- setwd(folder)
  on.exit(setwd(before))
  said <- function(...) {
    run <- at_command_line(...)
    expect_identical(run$code, 2L)
    run$said
  }
  expect_match(said("odds", "lantern-tiles", "--given", "guest_total = 20"), "`==`")
  expect_match(said("odds", "lantern-tiles", "--given", "outcome = bright"), "`==`")
  want <- function(text) said("balance", "lantern-tiles", "--want", text, "--knob", "aim in 22..26")
  expect_match(want("edge(guest) in 8..12"), "did you mean 8%..12%")
  expect_match(want("edge(guest) at least 0/0"), "divides by zero")
  expect_match(said("sweep", "lantern-tiles", "--set", "aim=20..26", "--measure", "edge(guest)"), "--set aim=20:26")
  expect_match(said("odds", "lantern-tiles", "--set", "aim=1.8"), "setting\\(1.0\\)")
  expect_match(said("takings", "lantern-tiles", "--visit", "3"), "`--visits`, `--visit-rounds`")
  expect_match(said("odds", "pier-tos"), "did you mean `pier-toss.game`")
  expect_match(said("odds", "pier-tos.game"), "did you mean `pier-toss.game`")
  # nothing is shown that nobody wrote
  for (call in list(c("--measure", "mean(tils)"), c("--record", "x = tils"), c("--at", "guest_tot = 3")))
    expect_no_match(said("odds", "lantern-tiles", call), "measure_1|record\\(|at\\(", info = call[[2]])
  long <- sprintf("mean(%s)", paste(rep("tile", 4000), collapse = " + "))
  expect_match(said("odds", "lantern-tiles", "--measure", long), "more than 60 steps deep")
  expect_match(said("players", "dice-duel", "--measure", "mean_pay({seat})", "--measure", "x"), "given twice")
  expect_match(said("fairness", "dice-duel", "--measure", "mean_pay({seat})", "--measure", "x"), "given twice")
  expect_match(said("fairness", "dice-duel", "--rounds", "1", "--engine", "sample"), "sample more")
  expect_match(said("bankroll", "lantern-tiles", "--stake", ""), "no staking rule")
  for (call in list(c("--float", "1e300"), c("--prize-cost", "1e300"), c("--visit-rounds", "10.5"),
                    c("--visitor", "weight=1e308")))
    expect_match(said("takings", "lantern-tiles", call), "takings_wrong", info = call[[1]])
  expect_match(said("odds", "lantern-tiles", "--each", "choice", "--at", "guest_total = 9"), "cannot go with")
})

test_that("an example may expect by comparison, and says what it gave where that cannot be", {
  got <- function(...) {
    path <- tempfile(fileext = ".game")
    writeLines(c(...), path)
    check_game(path, findings = FALSE)$examples
  }
  both <- got(two_seats("pays(a, win = 1, lose = -1)", "pays(b, win = -1, lose = 1)", "record(turns = n)",
                        'example("one", given(cube = 3), expect(pay[a] == 19))',
                        'example("two", given(cube = 3), expect(pay[a] == -1, turns == 3, outcome == lose))'))
  expect_identical(both$passed, c(FALSE, TRUE))
  expect_identical(both$got[[1]], "expected pay of a 19, got -1")
  asks <- c("seats(guest)", "state(n = 0)", "play({ ask(guest, bid = one_of(1:3)); n <- bid })",
            "outcomes(win = n > 2, lose = otherwise)", "low <- player(bid = 1)")
  expect_match(got(asks, 'example("x", given(bid = 7), expect(outcome = win))')$got,
               "the example gives `bid = 7`, answer 1 of 1.*one_of\\(1:3\\)")
  cards <- c("seats(guest)", "cards <- deck(rank = 1:4, copies = 4)", "state(h = bag(cards))",
             "play({ deal(5, to = h) })", "outcomes(all = otherwise)",
             'example("x", given(cards = c(1, 1, 1, 1, 1)), expect(outcome = all))')
  expect_match(got(cards)$got, "`cards` has no 1 left in line 4: all 4 are dealt")
  spare <- guest_game('example("x", given(cube = c(4, 5), rest = stop), expect(outcome = win))')
  expect_match(got(spare)$got, "1 of the 2 given draws of `cube` were never needed")
})

test_that("long and damaged files are refused or read at once", {
  read <- function(lines) {
    path <- tempfile(fileext = ".game")
    writeLines(lines, path)
    list(ids = unique(check_game(path)$problems$id))
  }
  expect_identical(read(c("seats(guest)", rep("", 90000)))$ids, "file_large")
  expect_true("bracket_stray" %in% read(c("seats(guest)", rep("}", 500)))$ids)
  expect_true("nested_too_deep" %in% read(c("play({", sprintf("if (n == %d)", 1:300), "n <- 1", "})"))$ids)
})

test_that("a word list that is a pipe is refused, as it may never end", {
  skip_on_os("windows")
  folder <- tempfile("pipe")
  dir.create(folder)
  system2("mkfifo", file.path(folder, "all.txt"))
  writeLines(c("seats(guest)", 'secrets <- words("all.txt")', "state(w = one(secrets))", "play({ end_round() })",
               "outcomes(over = otherwise)"), file.path(folder, "a.game"))
  expect_identical(check_game(file.path(folder, "a.game"))$problems$id, "words_file")
})

test_that("a local name of play read in a question says to remember it, also one of a loop", {
  said <- tryCatch(odds("high-water", given = "face == 1"), basanos_error = conditionMessage)
  expect_match(said, "remember it in the state: state(face = 0)", fixed = TRUE)
})
