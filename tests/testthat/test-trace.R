# A traced unit is the unit that sampling plays.

# The game with more examples, as a file.
beside_example <- function(name, lines) {
  copy <- tempfile(fileext = ".game")
  writeLines(c(sprintf('based_on("%s")', name), lines), copy)
  copy
}

test_that("a unit traced by its number ends as the sampled one, in every kind of game", {
  for (name in c("tide-signs", "lantern-tiles", "harbour-dice", "lantern-bluff", "salt-draw", "three-crabs",
                 "sunken-name", "deep-well", "high-water", "six-shells", "driftwood")) {
    for (unit in c(1, 2, 57)) {
      t <- trace_round(name, unit = unit, seed = 9)
      o <- as_odds(sample_tally(name, 1, seed = 9, first = unit))
      expect_equal(o$outcomes$name[o$outcomes$probability == 1], t$outcome, info = name)
      if (length(t$pays) > 0) expect_equal(stats::setNames(o$pays$mean, o$pays$seat), unlist(t$pays), info = name)
      if (length(t$records) > 0 && !anyNA(o$records$mean))
        expect_equal(o$records$mean, as.numeric(unname(unlist(t$records))), info = name)
    }
  }
})

test_that("a match is traced round by round", {
  t <- trace_round("five-winds", unit = 4)
  o <- as_odds(sample_tally("five-winds", 1, first = 4))
  expect_equal(sum(t$events$kind == "round"), o$units$rounds$mean)
  expect_match(paste(format(t), collapse = "\n"), "left_wins \\([a-z]+ [a-z ]+ [a-z]+\\)")  # the reason, with its verb
})

test_that("what is drawn, answered and stored is told with its line", {
  e <- trace_round("lantern-tiles", forced = "tile = c(10, 8, 6)")$events
  expect_equal(e$value[e$kind == "draw"], c("10", "8", "6"))
  expect_equal(e$name[e$kind == "answer"], c("choice", "choice")[seq_len(sum(e$kind == "answer"))])
  expect_equal(e$value[e$name == "guest_total"], c("10", "18", "24"))
  expect_true(all(grepl("roll\\(tile\\)", game("lantern-tiles")$source$lines[e$line[e$kind == "draw"]])))
})

test_that("the first unit in which something holds is found, and what is too rare is sought over all branches", {
  t <- trace_round("lantern-tiles", where = "bright")
  expect_equal(t$outcome, "bright")
  before <- sample_tally("lantern-tiles", t$unit - 1)
  expect_equal(as_odds(before)$outcomes$probability[[1]], 0)
  t <- trace_round("dice-duel", where = "score[first] == 7")
  expect_equal(t$records$first_score, "7")
  rare <- game_of("seats(a)", "wheel <- die(1:300)", "state(n = 0, m = 0)",
                  "play({ n <- roll(wheel)\n m <- roll(wheel)\n n <- n + roll(wheel) })",
                  "outcomes(top = n == 600 && m == 1, rest = otherwise)")
  t <- trace_round(rare, where = "top")
  expect_equal(t$events$value[t$events$kind == "draw"], c("300", "1", "300"))
  expect_error(trace_round("tide-signs", where = "throw[left] == throw[right] && beats(throw[left], throw[right])"),
               class = "basanos_where_never")
})

test_that("a seat's trace hides what it does not see", {
  all <- trace_round("lantern-bluff")$events
  seen <- trace_round("lantern-bluff", sees = "early")$events
  card <- function(e, seat) e$value[e$name == sprintf("card[%s]", seat)]
  expect_equal(card(seen, "early"), card(all, "early"))
  expect_equal(card(seen, "late"), "(unseen)")
  expect_error(trace_round("lantern-bluff", sees = "nobody"), class = "basanos_seat_unknown")
})

test_that("a traced round becomes a worked example that holds", {
  for (name in c("lantern-tiles", "harbour-dice", "lantern-bluff", "salt-draw", "six-shells", "tide-words",
                 "driftwood")) {
    path <- system.file("games", paste0(name, ".game"), package = "basanos")
    folder <- tempfile()
    dir.create(folder)
    file.copy(list.files(dirname(path), "txt$", full.names = TRUE), folder)
    copy <- file.path(folder, "copy.game")
    set <- if (name == "six-shells") list(target = 1000) else list()
    lines <- as_example(trace_round(name, unit = 6, set = set))
    writeLines(c(readLines(path), lines), copy)
    check <- check_game(copy, findings = FALSE)
    expect_true(check$ok, info = paste(name, paste(format(check), collapse = "\n")))
  }
})

test_that("on the command line", {
  out <- capture.output(code <- command_main(c("trace", "lantern-tiles", "--unit", "3")))
  expect_equal(code, 0L)
  expect_match(out[[1]], "round 3 of seed 1")
  json <- jsonlite::fromJSON(capture.output(code <- command_main(c("trace", "lantern-tiles", "--unit", "3", "--format",
    "json"))))
  expect_equal(json$outcome, trace_round("lantern-tiles", unit = 3)$outcome)
  out <- capture.output(command_main(c("trace", "lantern-tiles", "--where", "bright", "--as-example")))
  expect_match(out[[1]], "^example\\(")
})

test_that("a roll is one line, a move shows both ends, and what stays the same is left out", {
  g <- game_of("seats(guest)", "cube <- die(1:6)", "cards <- deck(rank = 1:9)",
               "state(dice = bag(cube, room = 3), best = 0, hand = bag(cards), pile = bag(cards))",
               "play({ for (i in 1:3) { dice <- roll(cube, 3)\n best <- max(best, max(dice)) }",
               "deal(2, to = hand)\n move(hand, to = pile) })", "outcomes(over = otherwise)")
  text <- format(trace_round(g, forced = "cube = c(6, 2, 1, 3, 3, 3, 6, 1, 1), cards = c(4, 7)"))
  expect_length(grep("cube shows [1-6], [1-6], [1-6] ", text), 3)
  expect_length(grep("best becomes", text), 1)
  expect_true(any(grepl("hand becomes nothing", text)))
  expect_true(any(grepl("pile becomes 4, 7", text)))
  expect_true(all(nchar(grep(" \\| ", text, value = TRUE)) < 140))
})

test_that("one round of a match or sitting is told alone, and both become examples that hold", {
  t <- trace_round("three-bells", unit = 3, round = 2)
  expect_match(format(t)[[1]], "round 2 of 100 of sitting 3 of seed 1")
  expect_equal(sum(t$events$kind == "draw"), 3)
  whole <- trace_round("three-bells", unit = 3)
  before <- utils::head(whole$events, which(whole$events$kind == "round")[[99]])
  jar <- before$value[before$name == "jar"]
  late <- trace_round("three-bells", unit = 3, round = 100)
  expect_match(as_example(late)[[2]], sprintf("jar = %s", utils::tail(jar, 1)))
  for (name in c("three-bells", "five-winds", "last-pebble", "lantern-twenty-one")) {
    of_rounds <- lapply(c(1, 2), function(k) as_example(trace_round(name, unit = 3, round = k)))
    copy <- beside_example(name, unlist(c(of_rounds, list(as_example(trace_round(name, unit = 3))))))
    check <- check_game(copy, findings = FALSE)
    expect_true(check$ok, info = paste(name, paste(format(check), collapse = "\n")))
  }
  expect_error(trace_round("three-bells", round = 101), class = "basanos_round_none")
  expect_error(trace_round("lantern-tiles", round = 1), class = "basanos_round_none")
})

test_that("a long trace is folded, unless all of it is wanted", {
  t <- trace_round("three-bells", unit = 3)
  expect_lt(length(format(t)), 130)
  expect_match(paste(format(t), collapse = "\n"),
               "[0-9]+ steps left out, [0-9]+ ends of rounds among them; --all shows them")
  expect_gt(length(format(t, all = TRUE)), 700)
  expect_false(any(grepl("left out", format(trace_round("lantern-tiles")))))
})

test_that("of a sitting found by an outcome, the round that ended in it becomes the example", {
  t <- trace_round("three-bells", where = "jar_emptied")
  expect_match(format(t)[[1]], sprintf("round %d of 100 of sitting", t$found_round))
  expect_lt(nrow(t$events), 20)
  all <- trace_round("three-bells", where = "jar_emptied", round = "all")
  expect_match(format(all)[[1]], sprintf("found in its round %d", t$found_round))
  expect_gt(nrow(all$events), 500)
  example <- as_example(t)
  expect_match(example[[3]], "outcome = jar_emptied")
  expect_match(example[[1]], sprintf("round %d of sitting", t$found_round))
  expect_true(check_game(beside_example("three-bells", example), findings = FALSE)$ok)
})

test_that("a condition is sought where there are bets and pots, which stand behind it", {
  trace <- trace_round("bell-cards", where = "size(hand) == 2 && kind_of(hand) == run")
  expect_match(paste(trace$records, collapse = " "), "run")
  expect_error(trace_round(game_of("seats(guest)", "cube <- die(1:6)", "state(n = 0)", "bets(guest, line = 1)",
                                   "play({ n <- roll(cube) })", "outcomes(high = n > 3, low = otherwise)",
                                   "settle(line, high = push, otherwise = lost)"), where = "n > 6"),
               class = "basanos_where_never")
})

test_that("a name of play is not shown to a seat, and each round is told from its own start", {
  g <- game_of("seats(ann, bo)", "cube <- die(1:6)", "state(face = 0)", "play({ remembers <- chance(0.5)",
               "face <- 3", "ask(ann, guess = one_of(1:6)) })", "outcomes(right = guess == face, wrong = otherwise)",
               "match(rounds = 2)", "forgetful <- player(guess = 3)")
  seen <- trace_round(g, sees = "bo")$events
  expect_true(all(seen$value[seen$name == "remembers"] == "(unseen)"))
  lines <- format(trace_round(g))
  expect_length(grep("face becomes 3", lines), 2)
})

test_that("of a sitting or match found by a condition, the first round in which it holds is told, and its records", {
  t <- trace_round("moon-wheel", where = "moon")
  expect_identical(t$round, t$found_round)
  expect_identical(t$records$moon, "yes")
  for (k in seq_len(t$round - 1)) expect_identical(trace_round("moon-wheel", round = k)$records$moon, "no")
  example <- as_example(trace_round("buoy-line", where = "throws > 8"))
  expect_match(example[[3]], "expect[(]outcome = [a-z_]+, pay = [-0-9.]+, throws = [0-9]+[)][)]")
  expect_true(check_game(beside_example("buoy-line", example), findings = FALSE)$ok)
  expect_match(as_example(trace_round("bell-cards", where = "better"))[[3]], "kind = [a-z]+")
  expect_no_match(as_example(trace_round("moon-wheel"))[[3]], "moon =")  # of a whole sitting no record
})

test_that("a round is told in the words of the rule card", {
  steps <- function(...) unlist(lapply(sections(trace_round(...), words = TRUE), `[[`, "lines"))
  tiles <- steps("lantern-tiles", forced = "tile = c(12, 9, 3), choice = draw")
  expect_identical(tiles[1:3], c("  tile shows 12", "  the guest's total: 12", "  guest tiles: 1"))
  expect_true("  the guest chooses: draw" %in% tiles)
  expect_match(tiles, "^  => bright; pays guest [+]2$", all = FALSE)
  expect_no_match(tiles, "[|_]")
  expect_match(steps("high-water", set = list(seated = 2)), "^  the score of red: ", all = FALSE)
  expect_match(steps("bell-cards"), "^  the guest's cards: ", all = FALSE)
  told <- at_command_line("trace", "tide-signs", "--words")$out
  expect_match(told, "^  left chooses: ", all = FALSE)
})
