# Every word's example is run: in a game that has what the examples speak of.

around <- function(top = character(), play = "result <- 1", state = character(), sign = TRUE, cube = TRUE, seats = TRUE,
                   record = TRUE, outcomes = TRUE, player = TRUE) {
  c(if (seats) "seats(left, right)",
    if (cube) "cube <- die(1:6)",
    if (sign) "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)",
    "state(result = 0, face = 0, faces = list(cube, room = 9))",
    state,
    top,
    "play({", play, "})",
    if (outcomes) "outcomes(high = face > 4, low = otherwise)")
}

runs <- function(lines) {
  path <- tempfile(fileext = ".game")
  on.exit(unlink(path))
  writeLines(lines, path)
  odds(path, engine = "sample", rounds = 20)
}

deck_line <- "cards <- deck(rank = c(2:10, J, Q, K, A), for_each(suit = c(clubs, cups)))"
with_cards <- function(play)
  around(top = deck_line, state = "state(hand = bag(cards), pile = bag(cards), top = one(cards))", play = play)
with_words <- function(play)
  around(top = c('secrets <- words("reef", "free")', "letter <- alphabet(secrets)"),
         state = "state(tried = bag(letter))", play = play)
with_letters <- function(e)
  around(top = c('secrets <- words("reef", "free")', "letter <- alphabet(secrets)"), sign = FALSE,
         play = sprintf("if (%s) result <- 1", e))
with_throw <- function(play)
  around(top = "even <- player(throw = pick(choices))", play = c("ask(seats, throw = one_of(sign))", play))
with_grid <- function(e)
  around(top = sprintf("calm <- player(choice = %s)", e), state = "state(low = 1, high = 3)", outcomes = FALSE,
         play = "ask(left, choice = one_of(hit, stand))") |> c("outcomes(over = otherwise)")

# A visitor with bets, over a sitting.
with_bets <- function(top = character(), play = "face <- roll(cube)", bets = "bets(guest, line = 1)", sits = TRUE,
                      settle = "settle(line, high = 1 %to% 1, otherwise = lost)")
  c("seats(guest)", "cube <- die(1:6)", "state(face = 0)", bets, top, "play({", "face <- roll(cube)", play, "})",
    "outcomes(high = face > 4, low = otherwise)", settle, if (sits) "sitting(rounds = 3)")
with_value <- function(e) with_bets(play = sprintf("if (%s != 99) face <- 1", e))
with_settle <- function(e) with_bets(settle = e)

# Where an example needs other company than the plain game gives it.
company <- list(
  bettors = function(e)
    c("seats(left, right)", e, "cube <- die(1:6)", "state(face = 0)", "bets(guest, line = 1)",
      "play({ for (s in seats) face <- roll(cube) })", "outcomes(high = face > 4, low = otherwise)",
      "settle(line, high = 1 %to% 1, otherwise = lost)"),
  tokens = function(e) with_bets(e),
  bets = function(e)
    with_bets(bets = e, play = "stake(guest, 1, on = side)",
              settle = "settle(line, high = 1 %to% 1, otherwise = lost)\nsettle(side, otherwise = lost)"),
  bet = function(e) with_bets(bets = e, play = "stake(guest, 1, on = side)", settle = "settle(side, otherwise = lost)"),
  settle = with_settle, "%to%" = with_settle, "%for%" = with_settle, push = with_settle, lost = with_settle,
  stands = with_settle,
  pot = function(e) with_bets(e),
  wallet = function(e) with_bets(e),
  stake = function(e) with_bets(play = e),
  buy = function(e) with_bets("wallet(guest, 20)", play = e),
  share = function(e) with_bets("glow <- pot(3)", play = e),
  limits = function(e)
    with_bets("low <- player(more = least(choices, it))", play = c(e, "stake(guest, more, on = line)"),
              bets = "bets(guest, line = bet(0, most = 5))"),
  gained = function(e) with_bets(play = sprintf("if (%s) face <- 1", e)),
  last_stake = with_value, last_net = with_value,
  streak = function(e) with_bets(play = sprintf("if (%s) face <- 1", e)),
  based_on = function(e) e,
  amend = function(e) c('based_on("tide-signs")', e),
  without = function(e) c('based_on("tide-signs")', e),
  later = function(e) around(play = sprintf("if (result > 99) %s", e)),
  mode = function(e) around(top = c("sides <- setting(6)", e)),
  alphabet = function(e) around(top = c('secrets <- words("reef", "free")', e)),
  match = function(e) around(top = e, outcomes = FALSE, play = "face <- 5") |>
  c("outcomes(wins = left, none_wins = otherwise)"),
  for_each = function(e) around(top = e),
  plus = function(e) around(top = e),
  one = function(e) around(top = e),
  cols = with_grid,
  row = with_grid,
  grid = with_grid,
  some_of = function(e) around(top = "calm <- player(kept = most(choices, size(it)))", play = sub("guest", "left", e)),
  verb = function(e) around(play = e),
  deal = with_cards,
  move = function(e) with_cards(c("deal(2, to = hand)", e)),
  shuffle = with_cards,
  burn = with_cards,
  draw = with_cards,
  compare = function(e) with_words(sprintf("m <- %s\n result <- placed(m)", e)),
  placed = function(e) with_words(paste("result <-", e)),
  elsewhere = function(e) with_words(paste("result <-", e)),
  mask = function(e) with_words(sprintf("result <- size(%s)", e)),
  blank = function(e) with_words(sprintf("if (%s) result <- 1", e)),
  successes = function(e) around(play = e),
  turn_number = function(e) around(play = e),
  past = function(e) with_throw(paste("result <-", e)),
  turns_played = function(e) around(play = sprintf("if (%s) result <- 1", e)),
  passes = function(e) around(play = sprintf("if (%s) result <- 1", e)),
  asks = function(e) around(play = sprintf("if (%s) result <- 1", e)),
  seats = function(e) around(top = e, seats = FALSE),
  die = function(e) around(top = e, cube = FALSE),
  signs = function(e) around(top = e, sign = FALSE),
  play = function(e)
    c("seats(guest)", "cube <- die(1:6)", "state(face = 0)", e, "outcomes(high = face > 4, low = otherwise)"),
  outcomes = function(e) around(top = e, outcomes = FALSE),
  pays = function(e) around(top = sub("guest", "left", e)),
  stakes = function(e) around(top = c(sub("guest", "left", e), "pays(left, high = 1, otherwise = -1)")),
  state = function(e) around(top = e),
  record = function(e) around(top = e),
  player = function(e)
    around(top = c(e, "calm <- player(choice = stand)"), play = "ask(left, choice = one_of(draw, stand))"),
  example = function(e) around(top = e, play = "face <- roll(cube)"),
  given = function(e) around(top = e, play = "face <- roll(cube)"),
  expect = function(e)
    around(top = c("pays(left, high = 1, otherwise = -1)", sprintf('example("six", given(cube = 6), %s)', e)),
           play = "face <- roll(cube)"),
  each = function(e) around(top = e),
  list = function(e) around(top = sub("faces", "more", e)),
  bag = function(e) around(top = sub("faces", "more", e)),
  one_of = function(e) around(top = "calm <- player(choice = stand)", play = sub("guest", "left", e)),
  turns = function(e) around(state = "state(score = each(seat, 0))", play = e),
  ask = function(e) around(top = "even <- player(throw = pick(choices))", play = e),
  add = function(e) around(state = "state(score = each(seat, 0))", play = e),
  remove = function(e) around(play = paste("put(6, into = faces)\n", e)),
  pick = function(e) around(play = e),
  chance = function(e) around(play = e),
  prefer = function(e)
    around(top = sprintf("calm <- player(choice = %s)", e),
           play = "ask(left, choice = one_of(hit, if (result > 0) double))"),
  lookup = function(e) {
    writeLines(c("total,answer", "0,hit"), file.path(tempdir(), "chart.csv"))  # beside the rules
    around(top = sprintf("calm <- player(choice = %s)", e), state = "state(total = 0)",
           play = "ask(left, choice = one_of(hit, stand))")
  },
  me = function(e)
    around(top = sprintf("calm <- player(n = %s)", e), state = "state(score = each(seat, 1))",
           play = "ask(left, n = one_of(1:6))"),
  choices = function(e) around(top = sprintf("calm <- player(n = %s)", e), play = "ask(left, n = one_of(1:6))"),
  pass = function(e)
    around(top = "calm <- player(choice = pick(choices))",
           play = sprintf(paste0("ask(left, choice = one_of(if (result > 3) draw, if (result > 5) stand))\n if (%s) ",
                                 "result <- 1"), e)),
  winner = function(e) around(top = e, outcomes = FALSE, play = "face <- 5") |>
  c("outcomes(wins = left, none_wins = otherwise)"),
  others = function(e) around(top = e, outcomes = FALSE, play = "face <- 5") |>
  c("outcomes(wins = left, none_wins = otherwise)"),
  everyone = function(e) around(top = e),
  otherwise = function(e) around(top = e, outcomes = FALSE),
  roll = function(e) around(play = paste("result <- sum(", e, ")")),
  most = function(e) around(play = paste("put(6, into = faces)\n result <-", e)),
  least = function(e) around(play = paste("put(6, into = faces)\n result <-", e)),
  max = function(e) around(state = "state(score = each(seat, 2))", play = paste("result <-", e)),
  those = function(e) around(play = paste0("result <- size(", e, ")")),
  groups = function(e) around(play = sprintf("if (%s) result <- 1", e)),
  who = function(e) around(state = "state(score = each(seat, 2))", play = sprintf("if (%s == nobody) result <- 1", e)),
  leader = function(e)
    around(state = "state(score = each(seat, 2))", play = sprintf("if (%s == nobody) result <- 1", e)),
  ring = function(e) around(top = e, sign = FALSE),
  begins_with = with_letters,
  ends_with = with_letters,
  place_of = function(e) around(state = "state(score = each(seat, 2))", play = sprintf("if (%s) result <- 1", e)),
  other = function(e) around(play = sprintf("if (%s == right) result <- 1", e)),
  nobody = function(e) around(play = sprintf("if (leader(result) == %s) result <- 1", e)),
  none = function(e) around(play = sprintf("if (leader(result) == %s) result <- 1", e)))

truths <- c("last_mover", "next_seat", "previous_seat", "playing", "beats", "any", "all", "longest_run", "yes", "no")

test_that("the example of every word runs", {
  for (w in vocabulary_words) {
    lines <- if (!is.null(company[[w$name]])) company[[w$name]](w$example)
      else if (w$name %in% truths) around(play = sprintf("if (%s) result <- 1", w$example))
      else switch(w$kind,
        thing = , top = around(top = w$example),
        statement = around(play = w$example),
        around(play = paste("result <-", w$example)))
    expect_no_error(runs(lines), message = w$name)
  }
})

test_that("every argument of a word may be given by its name", {
  expect_equal(result_of("add(to = result, n = 3)"), 3)
  expect_equal(result_of("put(into = faces, x = 2)\n result <- count(condition = it == 2, of = faces)",
                         state = "result = 0, faces = list(cube, room = 2)"), 1)
  expect_equal(result_of("result <- n", "n <- setting(to = 9, from = 1, start = 4)"), 4)
})

test_that("too many, too few and unknown arguments are refused for every word alike", {
  refused <- function(play, id) expect_error(game_with(play), class = paste0("basanos_", id))
  refused("add(1, 2, to = result)", "argument_unknown")
  refused("add(1, onto = result)", "argument_unknown")
  refused("result <- size()", "argument_missing")
  refused("result <- abs(1, 2)", "argument_unknown")
  refused("result <- max()", "argument_missing")
  refused("result <- abs(x = 1, x = 2)", "argument_twice")
  refused("result <- abs(, 1)", "argument_empty")
})
