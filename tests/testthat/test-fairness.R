# Seats, modes and lists: what is told of each, against what odds() says and against enumeration.

test_that("a game whose seats are alike is proved fair, one that is not tells by how much", {
  f <- seat_fairness("dice-duel")
  expect_identical(f$advantage$fair, "proved")
  expect_identical(f$engine, "exact")
  # the first to roll a six of two wins: by hand 6 / 11
  g <- game_of("seats(red, blue)", "cube <- die(1:6)", "state(won = one(seats))", "play({",
               "  for (mover in turns()) { if (roll(cube) == 6) { won <- mover; break } }", "})",
               "outcomes(wins = won, impossible = otherwise)")
  race <- seat_fairness(g)
  expect_equal(race$rows$value, c(6, 5) / 11)
  expect_equal(race$advantage$advantage, 1 / 11)
  expect_identical(race$advantage$fair, "unfair")
  expect_equal(race$advantage$stake_ratio, 6 / 5)
  sampled <- seat_fairness(g, engine = "sample", rounds = 20000)
  expect_equal(sampled$advantage$advantage, 1 / 11, tolerance = 5 * sampled$advantage$standard_error / (1 / 11))
  expect_identical(sampled$advantage$fair, "unfair")
  alike <- seat_fairness("tide-signs", engine = "sample", rounds = 4000)
  expect_true(all(alike$advantage$fair == "not told apart"))
  expect_error(seat_fairness("lantern-tiles"), class = "basanos_seats_few")
  # The second player has too many states.
  winds <- seat_fairness("five-winds", players = c("even", "counterer"), rounds = 4000)
  expect_identical(winds$advantage$fair, c("proved", "not told apart"))
  expect_equal(winds$rows$value[1:2], c(0.5, 0.5))  # of matches, by symmetry
  expect_identical(winds$rows$standard_error == 0, c(TRUE, TRUE, FALSE, FALSE))
  expect_match(format(winds), "Counted exactly where no standard error stands", all = FALSE)
})

test_that("a payment evens what is paid, a handicap is sought", {
  f <- seat_fairness("last-pebble", players = "careful")
  o <- odds("last-pebble", engine = "exact", players = list(first = "careful", second = "careful"))
  expect_equal(f$rows$value, o$pays$mean)
  expect_equal(f$rows$value[[1]] - f$advantage$payment, f$rows$value[[2]] + f$advantage$payment)
  g <- game_of("seats(red, blue)", "start <- setting(0, from = 0, to = 3)", "cube <- die(1:6)", "state(a = 0, b = 0)",
               "play({ a <- roll(cube) + 1; b <- roll(cube) + start })",
               "outcomes(red_wins = a > b, blue_wins = b > a, draw = otherwise)",
               "pays(red, red_wins = 1, blue_wins = -1, draw = 0)",
               "pays(blue, blue_wins = 1, red_wins = -1, draw = 0)")
  even <- seat_fairness(g, knobs = "start in 0..3")
  expect_equal(even$handicap$answers[[1]]$knobs$start, 1)
  expect_match(paste(format(even), collapse = "\n"), "Nearest to even: start = 1")
  run <- at_command_line("fairness", "last-pebble", "--format", "json")
  expect_equal(jsonlite::fromJSON(paste(run$out, collapse = "\n"))$rows$value[1:2], c(1, -1))
})

test_that("modes: success in each, out of order, certain, alike, a limit that never binds", {
  path <- tempfile(fileext = ".game")
  writeLines(c('based_on("deep-well")', "shallow <- mode(top = 100, tries = 20)",
               "middling <- mode(top = 100, tries = 7)",
               "fathomless <- mode(top = 300, tries = 3)", "last <- mode(top = 900, tries = 8)"), path)
  m <- audit_modes(path)
  # halving finds 2^tries - 1 numbers
  expect_equal(m$rows$value, c(1, 1, 7 / 300, 255 / 900))
  said <- paste(m$findings, collapse = "\n")
  expect_match(said, "shallow: a certain win")
  expect_match(said, "shallow and middling do not differ")
  expect_match(said, "last comes after fathomless and is easier")
  expect_match(said, "tries = 20 never binds: 7 would do")
  expect_no_match(said, "middling: tries")
  set <- audit_modes("deep-well", levels = c(0.8, 0.2), knobs = c("top in 50..400 by 50", "tries in 4..10"))$set
  grid <- expand.grid(top = seq(50, 400, 50), tries = 4:10)
  found <- pmin(1, (2^grid$tries - 1) / grid$top)
  expect_equal(abs(set$value - c(0.8, 0.2)), c(min(abs(found - 0.8)), min(abs(found - 0.2))))
  g <- game_of(c('based_on("deep-well")', set$line))
  expect_equal(odds(g, engine = "exact", mode = "level_1")$outcomes$probability[[1]], set$value[[1]])
  expect_error(audit_modes("tide-signs"), class = "basanos_mode_unknown")
  run <- at_command_line("modes", path, "--level", "80%,20%", "--knob", "tries in 7..10", "--set", "top=100")
  expect_equal(run$code, 0L)
})

test_that("each secret: what halving needs for it, twins, the words within a range", {
  l <- secret_odds("deep-well", set = list(top = 15, tries = 3), rounds = 600)
  expect_setequal(l$rows$secret, as.character(1:15))
  found <- l$rows$secret[l$rows$value_1 == 1]
  expect_setequal(found, as.character(c(8, 4, 12, 2, 6, 10, 14)))
  expect_identical(unique(l$rows$value_1[1:8]), 0)
  expect_null(l$rows$twins)
  words <- secret_odds("sunken-name", rounds = 1500, keep = c(0, 0.5))
  expect_equal(sum(words$rows$times), 1500)
  expect_false(is.unsorted(words$rows$value_1))
  expect_setequal(words$kept, words$rows$secret[words$rows$value_1 <= 0.5])
  dusk <- words$rows$twins[words$rows$secret == "dusk"]
  expect_identical(dusk, "duck")
  path <- tempfile(fileext = ".txt")
  run <- at_command_line("list", "sunken-name", "--rounds", "600", "--keep", "0..50%", "--write", path, "--format",
                         "csv")
  expect_equal(run$code, 0L)
  expect_match(readLines(path)[[1]], "^# sunken-name")
  expect_error(secret_odds("lantern-tiles"), class = "basanos_list_secret")
  expect_error(secret_odds("deep-well", measure = "quantile(tries_used, 0.5)"), class = "basanos_measure_wrong")
})

test_that("before and after: what changed in the rules, in words", {
  path <- tempfile(fileext = ".game")
  lines <- readLines(system.file("games", "lantern-tiles.game", package = "basanos"))
  lines <- sub("aim           <- setting(24", "aim <- setting(22", lines, fixed = TRUE)
  lines <- sub("bright = 2,", "bright = 3,", lines, fixed = TRUE)
  lines <- sub("^wavering.*$", "brave <- player(choice = draw)  # never stops", lines)
  writeLines(sub("# the keeper decides nothing", "# a comment alone changes nothing", lines), path)
  said <- compare_games("lantern-tiles", path)$changes
  expect_setequal(grep("example", said, value = TRUE, invert = TRUE),
                  c("aim: 24, now 22", "pay(guest, bright): 2, now 3",
                    "wavering is gone",
                    "brave is new: player(choice = draw)"))
  expect_length(compare_games("lantern-tiles", "lantern-tiles", set_new = list(aim = 22))$changes, 0)
})

test_that("a mode may seat players, and who is chosen goes before it", {
  g <- game_of('based_on("deep-well")', "guided <- mode(top = 15, tries = 3, guesser = wild)",
               "shallow <- mode(top = 15, tries = 3)")
  wild <- odds(g, engine = "exact", set = list(top = 15, tries = 3),
               players = list(guesser = "wild"))$outcomes$probability
  expect_equal(odds(g, engine = "exact", mode = "guided")$outcomes$probability, wild)
  expect_equal(odds(g, engine = "exact", mode = "guided",
                    players = list(guesser = "halver"))$outcomes$probability[[1]], 7 / 15)
  expect_equal(audit_modes(g)$rows$value[audit_modes(g)$rows$mode == "guided"], wild[[1]])
  expect_error(game_of('based_on("deep-well")', "guided <- mode(guesser = wld)"), class = "basanos_unknown_player")
})

test_that("every seat is tested, not the first alone", {
  # the first seat comes out even, the others pay each other
  g <- game_of("seats(a, b, c)", "cube <- die(1:6)", "state(n = 0)", "play({ n <- roll(cube) })",
               "outcomes(high = n > 3, low = otherwise)", "pays(a, high = 1, low = -1)", "pays(b, 0.5)",
               "pays(c, -0.5)")
  f <- seat_fairness(g)
  expect_equal(f$rows$advantage, c(0, 0.75, -0.75))
  expect_equal(f$rows$sure, c(0, 1, -1))
  expect_equal(f$rows$payment, c(0, 0.5, -0.5))
  expect_identical(f$advantage$fair, "unfair")
  sampled <- seat_fairness(g, engine = "sample", rounds = 4000)
  expect_identical(sampled$advantage$fair, "unfair")
  expect_equal(sampled$rows$sure[2:3], c(1, -1))
  text <- format(f)
  expect_match(text, "b is ahead of the others by 0.75000; even if it pays 0.50000 a round", all = FALSE)
  expect_match(text, "over 3 rounds each seat", all = FALSE)
})

test_that("only a count is certain; a list whose secrets decide all has no intervals", {
  g <- game_of('based_on("deep-well")', "easy <- mode(top = 12, tries = 4)", "hard <- mode(top = 40, tries = 3)")
  said <- audit_modes(g, engine = "sample", rounds = 500)$findings
  expect_match(said, "easy: won in every round sampled", all = FALSE)
  expect_no_match(paste(said, collapse = " "), "certain")
  l <- secret_odds("deep-well", set = list(top = 15, tries = 3), rounds = 600)
  expect_identical(l$rows$lower_1, l$rows$value_1)
  expect_identical(l$rows$upper_1, l$rows$value_1)
  expect_match(format(secret_odds("deep-well", measure = "mean(tries_used)", set = list(top = 15), rounds = 300)),
               "the lowest mean\\(tries_used\\) first", all = FALSE)
})
