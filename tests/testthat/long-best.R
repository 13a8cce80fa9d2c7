# Values of best play that two programs found which share nothing with this one and with each other; larger games.

test_that("a race to a hundred: best play of both, and the best answers to a player", {
  rules <- file.path(new_folder(), "race.game")
  writeLines(race_rules(100), rules)
  both <- best_play(rules, both = TRUE, objective = early_wins, write = file.path(dirname(rules), "best.R"))
  close_to(both$value, 0.5305927253)
  # what is left to `hold` in either seat
  close_to(both$losses$value[both$losses$seat == "late"], 0.5873676212)
  close_to(1 - both$losses$value[both$losses$seat == "early"], 0.5223819724)
  # best play of both is no best answer to `hold`
  wins <- function(seat, ...) {
    o <- odds(game(rules, file.path(dirname(rules), "best.R")), players = list(...), engine = "exact")
    o$outcomes$probability[o$outcomes$name == seat]
  }
  close_to(wins("early_wins", early = "best_early", late = "hold"), 0.5714984303)
  close_to(wins("late_wins", early = "hold", late = "best_late"), 0.5083420645)
})

test_that("values of the fair", {
  water <- best_play("high-water", set = list(seated = 2), both = TRUE, quick = TRUE,
                     objective = "probability(red_wins)")
  close_to(water$value, 0.5367074167)
  crabs <- best_play("three-crabs", both = TRUE, quick = TRUE, objective = "probability(shore_wins)")
  close_to(crabs$value, 0.5101608340)
  close_to(best_play("moon-wheel", objective = "goal()", quick = TRUE)$value, 0.4631397406)
})

test_that("one hidden die each", {
  b <- best_play(hidden_dice(), both = TRUE, quick = TRUE, max_seconds = 60)
  close_to(b$value, -1 / 9, 1e-6)
  expect_lt(b$gap, 1e-5)
})

test_that("a code of three pegs: least mean, least worst case", {
  mean <- best_play("harbour-locks", objective = "mean(tries_used)", best = "lowest", quick = TRUE,
                    max_seconds = 900)
  close_to(mean$value, 451 / 125)
  expect_equal(best_play("harbour-locks", objective = "worst(tries_used)", quick = TRUE,
                         max_seconds = 900)$value, 5)
})

test_that("twenty-one from one deck of 52 for each round, the keeper's second card unseen", {
  one_deck <- function(doubling) game_of(
    "seats(guest)", "cards <- deck(rank = c(2:9, T, J, Q, K, A), points = c(2:9, 10, 10, 10, 10, 1), copies = 4)",
    "state(hand = bag(cards), open = bag(cards), hole = bag(cards, seen_by = nobody), stake = 1)",
    "worth <- function(held) { t <- sum(held, points)",
    "  if (any(held, points == 1) && t + 10 <= 21) t + 10 else t }",
    "natural <- function(held) size(held) == 2 && worth(held) == 21",
    "play({", "  deal(2, to = hand)", "  deal(1, to = open)", "  deal(1, to = hole)",
    "  if (!natural(hand)) repeat {", "    if (worth(hand) > 21) break",
    sprintf("    ask(guest, act = one_of(hit, stand, if (%s && size(hand) == 2) double))", doubling),
    "    if (act == stand) break", "    deal(1, to = hand)", "    if (act == double) { stake <- 2; break }", "  }",
    "  move(hole, to = open)",
    "  if (worth(hand) <= 21 && !natural(hand)) while (worth(open) < 17) deal(1, to = open)", "})",
    "outcomes(both = natural(hand) && natural(open), natural_wins = natural(hand), bust = worth(hand) > 21,",
    "  keeper_natural = natural(open), keeper_bust = worth(open) > 21, won = worth(hand) > worth(open),",
    "  push = worth(hand) == worth(open), lost = otherwise)",
    "pays(guest, both = 0, natural_wins = 1.5, bust = -stake, keeper_natural = -stake, keeper_bust = stake,",
    "  won = stake, push = 0, lost = -stake)", "plain <- player(act = if (worth(hand) < 17) hit else stand)")
  close_to(best_play(one_deck("no"), quick = TRUE)$value, -0.0192835391)
  close_to(best_play(one_deck("yes"), quick = TRUE)$value, -0.0041926097)
})

test_that("a number of a hundred is found in 29/5 guesses on average", {
  number <- game_of(
    "seats(guest)", "number <- die(1:100)",
    "state(secret = one(1:100, seen_by = nobody), low = 1, high = 100, tries = 0)",
    "play({", "  secret <- roll(number)", "  repeat {", "    ask(guest, guess = one_of(low:high))",
    "    add(1, to = tries)", "    if (guess == secret) break",
    "    if (guess < secret) low <- guess + 1 else high <- guess - 1", "  }", "})",
    "outcomes(found = otherwise)", "record(tries = tries)", "halver <- player(guess = (low + high) %/% 2)")
  close_to(best_play(number, objective = "mean(tries)", best = "lowest", quick = TRUE)$value, 29 / 5)
})
