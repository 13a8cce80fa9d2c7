# Best play of a seat that does not see everything: it knows what it has seen, no more and no less.

# A coin is thrown unseen; `between` stands before the guess.
coin_game <- function(between = "", kept = "list(0:1, room = 9, seen_by = nobody)", ending = character()) game_of(
  "seats(guest)", "coin <- die(0:1)", sprintf("state(secret = one(0:1, seen_by = nobody), kept = %s, shown = 2)", kept),
  "play({", "  secret <- roll(coin)", between, "  ask(guest, call = one_of(0:1))", "})",
  "outcomes(won = call == secret, lost = otherwise)", ending, "zero <- player(call = 0)")

test_that("what is hidden is judged by what was seen", {
  close_to(best_play(coin_game())$value, 0.5, 1e-12)
  b <- best_play(coin_game("  shown <- secret"))  # told
  close_to(b$value, 1, 1e-12)
  # said only where it is a one: that nothing is said tells as much
  close_to(best_play(coin_game("  if (secret == 1) say(\"warm\")"))$value, 1, 1e-12)
  # a draw that steers play and is kept nowhere is not seen
  steered <- game_of("seats(guest)", "coin <- die(0:1)", "state(right = 0)", "play({", "  if (roll(coin) == 1) {",
                     "    ask(guest, call = one_of(1:2)); right <- if (call == 1) 1 else 0", "  } else {",
                     "    ask(guest, call = one_of(1:2)); right <- if (call == 2) 1 else 0 } })",
                     "outcomes(won = right == 1, lost = otherwise)", "one <- player(call = 1)")
  b <- best_play(steered)
  close_to(b$value, 0.5, 1e-12)
  expect_identical(b$seen$draws, 5L)
  # told in one case of four
  noisy <- best_play(coin_game("  if (roll(coin) == 1 && roll(coin) == 1) say(\"it is {secret}\")"))
  close_to(noisy$value, 0.25 + 0.75 / 2, 1e-12)
})

test_that("the size of a hidden heap is seen, unless it is hidden too", {
  puts <- "  if (secret == 1) put(1, into = kept)"
  close_to(best_play(coin_game(puts))$value, 1, 1e-12)
  close_to(best_play(coin_game(puts, "list(0:1, room = 9, seen_by = nobody, hide_size = yes)"))$value, 0.5, 1e-12)
})

test_that("to be asked is to learn something", {
  asked <- function(cond) game_of(
    "seats(guest)", "coin <- die(0:1)", "state(secret = one(0:1, seen_by = nobody), answer = 0)",
    "play({", "  secret <- roll(coin)", sprintf("  if (%s) { ask(guest, call = one_of(0:1)); answer <- call }", cond),
    "})", "outcomes(won = answer == secret, lost = otherwise)", "zero <- player(call = 0)")
  close_to(best_play(asked("secret == 1"))$value, 1, 1e-12)
  close_to(best_play(asked("secret >= 0"))$value, 0.5, 1e-12)
})

test_that("what was hidden is seen at a round's end", {
  two <- coin_game(ending = c("sitting(rounds = 2)", "pays(guest, won = 1, lost = 0)"))
  close_to(best_play(two)$value, 1, 1e-12)  # a new coin each round
  kept <- game_of("seats(guest)", "coin <- die(0:1)",
                  "state(secret = one(0:1, seen_by = nobody), thrown = no, lasts = sitting)",
                  "play({", "  if (!thrown) { secret <- roll(coin); thrown <- yes }",
                  "  ask(guest, call = one_of(0:1))",
                  "})", "outcomes(won = call == secret, lost = otherwise)", "pays(guest, won = 1, lost = 0)",
                  "sitting(rounds = 2)", "zero <- player(call = 0)")
  close_to(best_play(kept)$value, 1.5, 1e-12)  # the same coin: known from the second round on
})

test_that("the best answers to a player of a bluffing game are those that linear programs gave", {
  early <- best_play("lantern-bluff", players = list(late = "timid"))
  close_to(early$value, 11 / 90, 1e-12)
  late <- best_play("lantern-bluff", "late", players = list(early = "timid"))
  close_to(late$value, 19 / 90, 1e-12)
  expect_identical(early$seen$hidden, "card[late]")
  expect_true("card[me]" %in% early$seen$places)
  cheat <- early$losses[early$losses$player == "cheat", ]
  expect_true(cheat$peeks && cheat$loss < 0)  # it sees the other's card
  expect_output(print(early), "cheat \\(peeks\\)")
  expect_true(all(early$losses$loss[!early$losses$peeks] > 0))
})

bluff <- function(...) {
  text <- readLines(system.file("games", "lantern-bluff.game", package = "basanos"))
  path <- tempfile(fileext = ".game")
  edits <- list(...)
  for (k in seq_along(edits)) text <- sub(names(edits)[[k]], edits[[k]], text, fixed = TRUE)
  writeLines(text, path)
  path
}

test_that("who sees more does better, and the order of two deals changes nothing", {
  hidden <- best_play("lantern-bluff", players = list(late = "timid"))
  open <- best_play(bluff("seen_by = owner" = "seen_by = everyone"), players = list(late = "timid"))
  expect_gt(open$value, hidden$value + 0.01)
  expect_identical(open$seen$hidden, character())
  swapped <- best_play(bluff("for (s in seats) card[s] <- draw(chips)" =
                               "card[late] <- draw(chips); card[early] <- draw(chips)"),
                       players = list(late = "timid"))
  close_to(swapped$value, hidden$value, 1e-12)
})

test_that("who sits there by chance is hidden, and answers of one ask are unseen until all are in", {
  worth <- function(right) best_play("tide-signs", players = list(right = right))$value
  close_to(worth("steady"), 1, 1e-12)
  close_to(worth("even"), 1 / 3, 1e-12)
  close_to(worth("steady:1, even:1"), (1 + 1 / 3) / 2, 1e-12)
})

test_that("a number is found in as few guesses as can be", {
  number <- function(top) game_of(
    "seats(guest)", sprintf("number <- die(1:%d)", top),
    sprintf("state(secret = one(1:%d, seen_by = nobody), low = 1, high = %d, tries = 0)", top, top),
    "play({", "  secret <- roll(number)", "  repeat {", "    ask(guest, guess = one_of(low:high))",
    "    add(1, to = tries)",
    "    if (guess == secret) break", "    if (guess < secret) low <- guess + 1 else high <- guess - 1", "  }", "})",
    "outcomes(found = otherwise)", "record(tries = tries)", "halver <- player(guess = (low + high) %/% 2)")
  # depths of a balanced tree: 1 of one guess, 2 of two, 4 of three, 8 of four, the rest of five
  b <- best_play(number(20), objective = "mean(tries)", best = "lowest")
  close_to(b$value, (1 + 2 * 2 + 4 * 3 + 8 * 4 + 5 * 5) / 20, 1e-9)
  close_to(b$losses$loss, 0, 1e-9)
})

test_that("twenty-one from one deck, with the keeper's second card unseen", {
  one_deck <- function(seen_by) game_of(
    "doubling <- setting(no)", "seats(guest)",
    "cards <- deck(rank = c(2:9, T, J, Q, K, A), points = c(2:9, 10, 10, 10, 10, 1), copies = 1)",
    sprintf("state(hand = bag(cards), open = bag(cards), hole = bag(cards, seen_by = %s))", seen_by),
    "worth <- function(held) { t <- sum(held, points)",
    "  if (any(held, points == 1) && t + 10 <= 21) t + 10 else t }",
    "natural <- function(held) size(held) == 2 && worth(held) == 21",
    "play({", "  deal(2, to = hand)", "  deal(1, to = open)", "  deal(1, to = hole)",
    "  repeat {", "    if (worth(hand) >= 21) break", "    ask(guest, act = one_of(hit, stand))",
    "    if (act == stand) break", "    deal(1, to = hand)", "  }", "  move(hole, to = open)",
    "  if (worth(hand) <= 21) while (worth(open) < 17) deal(1, to = open)", "})",
    "outcomes(bust = worth(hand) > 21, keeper_bust = worth(open) > 21, won = worth(hand) > worth(open),",
    "  push = worth(hand) == worth(open), lost = otherwise)",
    "pays(guest, bust = -1, keeper_bust = 1, won = 1, push = 0, lost = -1)",
    "plain <- player(act = if (worth(hand) < 17) hit else stand)")
  hidden <- best_play(one_deck("nobody"))
  seen <- best_play(one_deck("everyone"))
  expect_gt(seen$value, hidden$value)
  expect_gt(hidden$value, hidden$losses$value)
})

test_that("a seat that is shown everything does as well as one of which nothing is hidden", {
  for (name in c("lantern-tiles", "nine-shutters", "moon-wheel", "spell-the-sea")) {
    rules <- game(name)
    set <- if (name == "moon-wheel") list(spins = 4) else list()
    task <- list(game = rules, set = set, mode = NULL, max_states = 1e7, max_seconds = 100)
    objective <- basanos:::objective_of(rules, 1L, NULL)
    question <- basanos:::question_open(task, 1L, list(), objective)
    question$watching <- 1L
    program <- basanos:::program_of(question, counting = TRUE)
    run <- basanos:::best_run(task, program, objective, 1L, 1L, hidden = TRUE)
    close_to(run$value[[1]], best_play(rules, set = set)$value, 1e-9)
  }
})

test_that("a limit gives bounds, or is told", {
  expect_error(best_play("keepers-three", max_states = 3000), class = "basanos_best_large")
})
