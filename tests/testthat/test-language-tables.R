# Tables by number, dice that mix numbers and names, who moved last, players without a rule, what is shown for a moment.

ladder <- function(...) game_of(
  'title("Rope Ladder", "Twenty squares with ropes and holes.")', "seats(guest)", "cube <- die(1:6)",
  "big <- setting(5, from = 1, to = 20)",
  "jump <- table(row(4, 14), row(9, 18), row(13, 2), row(17, 7), otherwise = 0)",
  "prize <- table(row(2, big), row(3:6, 2), row(c(7, 8), 1), row(9:99, 0))",
  "half <- table(row(1:3, 0.5), row(4:6, 2), otherwise = -1)", "kind <- table(row(1:2, low), row(3:6, high))",
  "state(here = 0, throws = 0, last = one(kind))",
  "play({ while (here < 20) { face <- roll(cube); here <- min(20, here + face); last <- kind(face)",
  "  if (jump(here) > 0) here <- jump(here); add(1, to = throws) } })",
  "outcomes(quick = throws <= 5, slow = otherwise)", "pays(guest, quick = prize(throws), slow = half(throws))",
  "record(throws = throws, last = last)", ...)

# The squares walked by hand: shares of rounds by their number of throws, and of a low last throw.
ladder_by_hand <- function() {
  to <- replace(1:20, c(4, 9, 13, 17), c(14, 18, 2, 7))
  at <- c(1, rep(0, 19))
  ended <- numeric()
  low <- 0
  while (sum(at) > 1e-14) {
    after <- numeric(20)
    done <- 0
    for (square in which(at > 0)) for (face in 1:6) {
      here <- to[[min(20, square - 1 + face)]]
      p <- at[[square]] / 6
      if (here == 20) { done <- done + p; if (face < 3) low <- low + p } else after[[here + 1]] <- after[[here + 1]] + p
    }
    ended <- c(ended, done)
    at <- after
  }
  list(ended = ended, low = low)
}

test_that("tables give numbers, settings, fractions and names by number, in and beyond their rows", {
  hand <- ladder_by_hand()
  n <- seq_along(hand$ended)
  for (big in c(5, 11)) {
    o <- odds(ladder(), engine = "exact", set = list(big = big))
    prize <- c(NA, big, 2, 2, 2)[pmin(n, 5)]
    half <- ifelse(n <= 3, 0.5, ifelse(n <= 6, 2, -1))
    expect_equal(o$outcomes$probability[[1]], sum(hand$ended[2:5]), tolerance = 1e-9)
    expect_equal(o$pays$mean, sum(hand$ended * ifelse(n <= 5, ifelse(n == 1, 0, prize), half)), tolerance = 1e-9)
    expect_equal(o$distributions$last$probability[o$distributions$last$value == "low"], hand$low, tolerance = 1e-9)
  }
})

test_that("a number that a table does not have stops the round, or is an error where it is written", {
  wrong <- function(...) tryCatch(game_of("seats(guest)", "cube <- die(1:6)", ..., "state(face = 0)",
                                          "play({ face <- roll(cube) })", "outcomes(over = otherwise)"),
                                  error = conditionMessage)
  expect_match(wrong("t <- table(row(1:2, 5), row(4, 6))"), "3 is in no heading of this table")
  expect_match(wrong("t <- table(row(1:3, 5), row(3, 6))"), "3 is in two headings of this table")
  expect_match(wrong("t <- table(row(x, 5))"), "A heading of a table is a number or a range of numbers")
  expect_match(wrong("t <- table(row(1, 5), 3)"), "A table has rows of two")
  expect_match(wrong("t <- table(row(1, 5))", "record(y = t())"), "takes 1|one|`t`")
  outside <- game_of("seats(guest)", "cube <- die(1:6)", "t <- table(row(1:5, 2))", "state(face = 0)",
                     "play({ face <- t(roll(cube)) })", "outcomes(over = otherwise)")
  expect_error(odds(outside), class = "basanos_grid_outside")
})

test_that("a die mixes numbers and names, or shows the names of a set with their columns", {
  mixed <- game_of("seats(guest)", "ember <- die(1:20, spark)", "state(face = one(ember))",
                   "play({ face <- roll(ember) })", "outcomes(fire = face == spark, ten = face == 10, low = otherwise)",
                   'example("a spark", given(ember = spark), expect(outcome = fire))',
                   'example("ten", given(ember = 10), expect(outcome = ten))')
  expect_equal(odds(mixed)$outcomes$probability, c(1, 1, 19) / 21, tolerance = 1e-12)
  expect_true(all(check_game(mixed)$examples$passed))
  columns <- game_of("seats(guest)", "sides <- names(1:20, spark, points = c(1:20, 0))", "ember <- die(sides)",
                     "state(face = one(sides))", "play({ face <- roll(ember) })",
                     "outcomes(high = points(face) > 10, low = otherwise)", "record(points = points(face))")
  expect_equal(odds(columns)$records$mean, 210 / 21, tolerance = 1e-12)
  expect_equal(odds(columns)$outcomes$probability[[1]], 10 / 21, tolerance = 1e-12)
  expect_error(game_of("seats(guest)", "ember <- die(1:20, spark)", "state(face = one(ember))",
                       "play({ face <- roll(ember) })", "outcomes(high = face > 10, low = otherwise)"),
               "give the names a column of numbers")
})

test_that("last_mover is who had the last turn, and `if` without else names a seat or nobody", {
  first_six <- game_of("seats(ann, bo, cy)", "cube <- die(1:6)", "state(face = 0)",
                       "play({ for (mover in turns(until = face == 6, at_most = 5)) face <- roll(cube) })",
                       "outcomes(wins = if (face == 6) last_mover, nobody_wins = otherwise)",
                       "record(last = last_mover)")
  turn <- (5 / 6)^(0:4) / 6  # that the first six comes in this turn
  o <- odds(first_six, engine = "exact")
  expect_equal(o$outcomes$probability, c(turn[[1]] + turn[[4]], turn[[2]] + turn[[5]], turn[[3]], (5 / 6)^5),
               tolerance = 1e-12)
  expect_error(game_of("seats(ann, bo)", "cube <- die(1:6)", "state(face = 0)",
                       "play({ for (mover in turns(each = 1)) face <- roll(cube) })",
                       "outcomes(wins = if (face == 6) mover, level = otherwise)"), "write last_mover")
  idle <- game_of("seats(ann, bo)", "cube <- die(1:6)", "state(face = 0)", "play({ face <- roll(cube) })",
                  "outcomes(wins = last_mover, none_moved = otherwise)")
  expect_equal(odds(idle)$outcomes$probability, c(0, 0, 1))
})

test_that("`other` takes an answer that may be a seat or another name", {
  for (answer in c("ann", "bo", "nowhere")) {
    g <- game_of("seats(ann, bo)", "state(target = one(seats))",
                 "play({ ask(ann, who_is = one_of(ann, bo, nowhere)); target <- other(who_is) })",
                 "outcomes(hit = target, missed = otherwise)", sprintf("p <- player(who_is = %s)", answer))
    expect_equal(odds(g)$outcomes$probability, as.numeric(c("bo", "ann", "nowhere") == answer))
  }
})

test_that("check tells where `who` is nobody because several seats hold the condition", {
  sixes <- game_of("seats(ann, bo, cy)", "cube <- die(1:6)", "state(face = each(seat, 0))",
                   "play({ for (s in seats) face[s] <- roll(cube) })",
                   "outcomes(high = sum(face) == 18, wins = who(face[it] == 6), nobody_wins = otherwise)")
  found <- check_game(sixes)$findings
  # two sixes of three dice: 15 of 216 throws; three are another outcome
  expect_match(found$message[found$id == "who_several"],
               "In 6.94% of the rounds the condition of `wins` holds for several")
})

test_that("a player may leave out a decision that it never meets, and is told of one that it does", {
  rules <- c("seats(ann)", "cube <- die(1:6)", "state(face = 0)",
             "play({ ask(ann, first = one_of(go, stay))", "  if (first == stay) end_round()", "  face <- roll(cube)",
             "  ask(ann, second = one_of(keep, drop)); if (second == drop) face <- 0", "})",
             "outcomes(high = face > 4, low = otherwise)", "careful <- player(first = stay)",
             "bold <- player(first = go, second = keep)", "odd <- player(first = go)")
  g <- game_of(rules)
  expect_equal(odds(g, players = list(ann = "careful"))$outcomes$probability, c(0, 1))
  expect_identical(odds(g)$players$ann, "bold")  # the first that answers everything
  for (engine in c("exact", "sample"))
    expect_error(odds(g, engine = engine, players = list(ann = "odd")), class = "basanos_rule_missing")
  compared <- compare_players(g, players = c("careful", "bold"), measure = "probability(outcome == high)")
  expect_equal(compared$advantage$advantage, -1 / 3, tolerance = 1e-12)
})

test_that("what is shown for a moment is seen by whom it is shown to", {
  shells <- game_of("seats(ann, bo)", "cards <- deck(kind = c(sun, moon), copies = 2)",
                    "state(row = list(cards, room = 4, seen_by = nobody), found = no)",
                    "play({ deal(4, to = row); show(row[1]); show(row[2], to = bo)",
                    "  found <- kind(row[1]) == kind(row[2]) })", "outcomes(pair = found, none_found = otherwise)")
  expect_equal(odds(shells)$outcomes$probability, c(1, 2) / 3, tolerance = 1e-12)
  lines <- function(...) format(trace_round(shells, ...))
  expect_match(lines(), "everyone sees row[1]: ", fixed = TRUE, all = FALSE)
  expect_match(lines(), "bo sees row\\[2\\]: (sun|moon)", all = FALSE)
  expect_match(lines(sees = "ann"), "everyone sees row\\[1\\]: (sun|moon)", all = FALSE)
  expect_match(lines(sees = "ann"), "bo sees row[2]: (unseen)", fixed = TRUE, all = FALSE)
  expect_match(lines(sees = "bo"), "bo sees row\\[2\\]: (sun|moon)", all = FALSE)
})

test_that("a trace leaves out what keeps its value, and tells what came to a list", {
  grows <- game_of("seats(guest)", "cube <- die(1:6)", "state(faces = list(cube, room = 5), total = 0, done = no)",
                   "play({ put(4, into = faces); put(2, into = faces); total <- 0; done <- no; total <- 6 })",
                   "outcomes(over = otherwise)")
  lines <- format(trace_round(grows))
  expect_match(lines, "faces becomes 4", fixed = TRUE, all = FALSE)
  expect_match(lines, "faces gets 2: 4, 2", fixed = TRUE, all = FALSE)
  expect_false(any(grepl("total becomes 0|done becomes no", lines)))
  expect_match(lines, "total becomes 6", fixed = TRUE, all = FALSE)
  expect_identical(as.data.frame(trace_round(grows))$text[1:2], c("4", "4, 2"))
})
