# Best play of two seats that hide something from each other, or answer at once: mixes.

# The mix of one situation, by answer.
mix_of <- function(b, seat, ...) {
  rows <- b$policy[b$policy$seat == seat, ]
  for (name in names(list(...))) rows <- rows[rows[[name]] == list(...)[[name]], ]
  basanos:::mix_shares(rows$mix[[1]])
}

test_that("three signs, a win by one of them pays 2: solved by hand", {
  signs <- game_of(
    "seats(left, right)", "state(idle = 0)", "play({ ask(seats, sign = one_of(rock, shell, net)) })",
    "over <- function(a, b) (a == rock && b == shell) || (a == shell && b == net) || (a == net && b == rock)",
    "outcomes(wins = who(over(sign[it], sign[other(it)])), tie = otherwise)",
    "pays(winner, if (sign[it] == rock) 2 else 1)", "pays(others, if (sign[other(it)] == rock) -2 else -1)",
    "dull <- player(sign = rock)")
  b <- best_play(signs, both = TRUE)
  close_to(b$value, 0, 1e-12)
  for (seat in c("left", "right"))
    expect_equal(mix_of(b, seat)[c("rock", "shell", "net")], c(rock = 0.25, shell = 0.25, net = 0.5), tolerance = 1e-9)
  expect_identical(b$way, "two seats, answers at once, nothing else hidden")
  expect_identical(b$losses$value, c(-1, 1))  # `dull` is beaten each time
  expect_length(b$seen$places, 0)
})

test_that("one card each of three ranks: the value and the family of mixes that are known", {
  b <- best_play(one_raise(), both = TRUE)
  close_to(b$value, -1 / 18, 1e-9)
  expect_lt(b$gap, 1e-9)
  expect_true(b$lower <= -1 / 18 + 1e-12 && b$upper >= -1 / 18 - 1e-12)
  expect_identical(b$losses$value, c(-1, 1))
  # the second seat: raises the lowest with 1/3, calls with the middle in 1/3 (Kuhn 1950)
  second <- best_play(one_raise(), both = TRUE, by = "rank(card[me])")
  after <- second$policy[second$policy$decision == "after", ]
  expect_equal(basanos:::mix_shares(after$mix[after[["rank(card[me])"]] == 1])[["raise"]], 1 / 3, tolerance = 1e-4)
  reply <- second$policy[second$policy$decision == "reply", ]
  expect_equal(basanos:::mix_shares(reply$mix[reply[["rank(card[me])"]] == 2])[["call"]], 1 / 3, tolerance = 1e-4)
})

test_that("lantern-bluff has the value that a linear program gave", {
  b <- best_play("lantern-bluff", both = TRUE)
  close_to(b$value, -347 / 5580, 1e-9)
  expect_identical(b$seats, c("early", "late"))
  l <- b$losses
  close_to(l$value[l$seat == "late" & l$player == "timid"], 11 / 90, 1e-12)
  close_to(l$value[l$seat == "early" & l$player == "timid"], -19 / 90, 1e-12)
  expect_true(all(l$loss[!l$peeks] > 0))
  expect_match(paste(format(b), collapse = "\n"), "check 67%, raise 33%|raise 33%, check 67%")
  json <- jsonlite::fromJSON(paste(at_command_line("best", "lantern-bluff", "--both", "--format", "json")$out,
                                   collapse = "\n"))
  expect_equal(json$value, b$value)
  expect_true(all(c("mix", "reach") %in% names(json$policy)))
})

test_that("at once, again and again: a match, and a game that may start anew", {
  winds <- best_play("five-winds", both = TRUE)
  close_to(winds$value, 0, 1e-12)
  l <- winds$losses
  # against reef in every second throw one can win two of three throws that are decided: 3 of up to 5
  won <- sum(dnbinom(0:2, 3, 2 / 3))
  close_to(l$value[l$seat == "right" & l$player == "reef_fond"], 2 * won - 1, 1e-9)
  # v = value of (v/2, 1; 1, 0), hence 2 - sqrt(2)
  again <- game_of(
    "seats(left, right)", "coin <- die(0:1)", "state(gets = 0)",
    "play({ repeat {", "  ask(seats, go = one_of(up, down))",
    "  if (go[left] == up && go[right] == up) { if (roll(coin) == 1) break } else {",
    "    gets <- if (go[left] != go[right]) 1 else 0", "    break } } })",
    "outcomes(over = otherwise)", "pays(left, over = gets)", "pays(right, over = -gets)", "high <- player(go = up)")
  b <- best_play(again, both = TRUE)
  close_to(b$value, 2 - sqrt(2), 1e-11)
  v <- 2 - sqrt(2)
  expect_equal(mix_of(b, "left")[["up"]], 1 / (2 - v / 2), tolerance = 1e-9)
})

test_that("what a seat cannot know it does not use", {
  # the second seat guesses what the first has hidden; where it is told, or where `between` gives it away, it knows
  hides <- function(between = "", seen_by = "nobody") game_of(
    "seats(first, second)", sprintf("state(spot = one(1:3, seen_by = %s), told = 0)", seen_by),
    "play({", "  ask(first, where = one_of(1:3))", "  spot <- where", between,
    "  ask(second, guess = one_of(1:3))", "})", "outcomes(right = guess == spot, wrong = otherwise)",
    "pays(first, right = -1, wrong = 1)", "pays(second, right = 1, wrong = -1)", "low <- player(where = 1, guess = 1)")
  seen <- best_play(hides(), both = TRUE)  # an answer is seen by everyone
  close_to(seen$value, -1, 1e-9)
  hidden <- function(between = "") game_of(
    "seats(first, second)", "coin <- die(1:3)", "state(spot = one(1:3, seen_by = first), told = 0)",
    "play({", "  spot <- roll(coin)", "  ask(first, go = one_of(stay, shout))", between,
    "  ask(second, guess = one_of(1:3))", "})",
    "outcomes(right = guess == spot, wrong = otherwise)", "pays(first, right = -1, wrong = 1)",
    "pays(second, right = 1, wrong = -1)", "low <- player(go = stay, guess = 1)")
  close_to(best_play(hidden(), both = TRUE)$value, 1 / 3, 1e-9)
  close_to(best_play(hidden("  say(\"it is {spot}\")"), both = TRUE)$value, -1, 1e-9)
  close_to(best_play(hidden("  show(spot, to = first)"), both = TRUE)$value, 1 / 3, 1e-9)
  # that nothing is said tells as much
  close_to(best_play(hidden("  if (spot == 1) say(\"warm\")"), both = TRUE)$value, 2 / 3 * 0 + 1 / 3 * -1, 1e-9)
})

test_that("answers after which a round cannot go on are never chosen, at once and hidden", {
  breaks <- function(ask) game_of(
    "seats(left, right)", "cards <- deck(rank = 1:2)", "state(n = 0, card = each(seat, one(cards, seen_by = owner)))",
    "play({", "  for (s in seats) card[s] <- draw(cards)", ask,
    "  if (any_broken()) n <- 1 %/% n", "  n <- if (go[left] == go[right]) 1 else -1", "})",
    "any_broken <- function() go[left] == broken || go[right] == broken",
    "outcomes(over = otherwise)", "pays(left, over = n)", "pays(right, over = -n)", "one <- player(go = heads)")
  close_to(best_play(breaks("  ask(seats, go = one_of(broken, heads, tails))"), both = TRUE)$value, 0, 1e-9)
})

test_that("a game that is too large for it is refused with its size", {
  expect_error(best_play("two-buckets", both = TRUE, max_states = 20000), "20 000 states",
               class = "basanos_best_large")
})
