# Best play: against published values, values found by other programs, and brute force; what is told of it.

worth <- function(...) best_play(...)$value

# The same race by value iteration over all (own score, other's score, pot): the chance of who is to roll.
race_by_sweeps <- function(goal) {
  v <- matrix(0.5, goal, goal)  # own score, other's score, before the turn
  repeat {
    before <- v
    for (own in (goal - 1):0) for (other in (goal - 1):0) {
      kept <- numeric(goal - own + 7)
      for (pot in (goal - own + 5):0) {
        roll <- (1 - v[other + 1, own + 1]) / 6
        for (face in 2:6) {
          there <- pot + face
          bank <- if (own + there >= goal) 1 else 1 - v[other + 1, own + there + 1]
          roll <- roll + (if (own + there >= goal) 1 else max(bank, kept[there + 1])) / 6
        }
        kept[pot + 1] <- roll
      }
      v[own + 1, other + 1] <- kept[1]
    }
    if (max(abs(v - before)) < 1e-13) return(v[1, 1])
  }
}

test_that("a race of two seats is worth what sweeps over its scores give", {
  for (goal in c(7, 15)) {
    b <- best_play(race(goal), both = TRUE, objective = early_wins)
    close_to(b$value, race_by_sweeps(goal))
    expect_true(b$lower <= b$value && b$value <= b$upper && b$gap < 1e-9 && b$complete)
  }
})

test_that("the best answer to a player is at least as good as best play of both, and no player beats it", {
  g <- race(20)
  both <- best_play(g, both = TRUE, objective = early_wins)
  first <- best_play(g, objective = early_wins, players = list(late = "hold"))
  second <- best_play(g, seat = "late", objective = "probability(late_wins)", players = list(early = "hold"))
  expect_gte(first$value, both$value - 1e-12)
  expect_gte(second$value, 1 - both$value - 1e-12)
  expect_true(all(both$losses$loss > -1e-12))
  left <- both$losses[both$losses$seat == "early", ]
  close_to(left$value, 1 - second$value)  # what is left to `hold` against the best answer
  exploited <- best_play(g, exploit = "hold")
  expect_equal(exploited$exploits$value, c(first$value, second$value), tolerance = 1e-12)
  expect_equal(first$losses$value, odds(g, engine = "exact")$outcomes$probability[[1]], tolerance = 1e-12)
})

test_that("five dice thrown three times come up alike as often as is published", {
  g <- game_of("seats(guest)", "cube <- die(1:6)", "state(dice = bag(cube, room = 5))",
               "play({ dice <- roll(cube, 5)", "  for (more in 1:2) { ask(guest, keep = some_of(dice))",
               "    dice <- keep + roll(cube, 5 - size(keep)) } })",
               "outcomes(alike = groups(dice) == c(5), else_ = otherwise)", "all <- player(keep = dice)")
  close_to(worth(g), 347897 / 7558272, 1e-12)  # published for five dice and three throws
})

ruin <- function(brought) game_of(
  "seats(guest)", "state(won = no)", sprintf("wallet(guest, %d, needs = 1)", brought),
  "bets(guest, line = bet(0, least = 1, most = 8))",
  "play({ ask(guest, amount = one_of(limits(line)))", "  stake(guest, amount, on = line)", "  won <- chance(0.49) })",
  "settle(line, if (won) 1 %to% 1, otherwise = lost)", "outcomes(win = won, lose = otherwise)",
  "sitting(until = wallet(guest) >= 8)", "timid <- player(amount = 1)")

test_that("a gambler against the odds does best by bold play", {
  # bold play from 2, 4, 6 of 8: Dubins and Savage 1965, as 10, 20, 30 of 40
  for (k in 1:3) close_to(worth(ruin(2 * k), objective = "goal()"), c(0.2401, 0.49, 0.7399)[[k]], 1e-12)
  ruined <- best_play(ruin(4), objective = "ruin(guest)")
  close_to(ruined$value, 0.51, 1e-12)
  expect_identical(ruined$best, "lowest")
  p <- 0.49 / 0.51
  close_to(best_play(ruin(4), objective = "goal()")$losses$value, (1 - p^-4) / (1 - p^-8))  # one at a time
})

endless <- game_of(
  "doubling <- setting(no)", "seats(guest)", "card <- die(c(1:9, 10, 10, 10, 10))",
  "state(total = 0, soft = no, cards = 2, natural = no, up = 0, stake = 1)",
  "state(keeper = 0, keeper_soft = no, keeper_natural = no)",
  "worth <- function(sum, soft) if (soft && sum + 10 <= 21) sum + 10 else sum",
  "play({", "  a <- roll(card)", "  b <- roll(card)", "  total <- a + b", "  soft <- a == 1 || b == 1",
  "  natural <- soft && total == 11", "  up <- roll(card)",
  "  if (!natural) repeat {", "    if (total > 21) break",
  "    ask(guest, act = one_of(hit, stand, if (doubling && cards == 2) double))", "    if (act == stand) break",
  "    x <- roll(card)", "    total <- total + x", "    soft <- soft || x == 1", "    cards <- 3",
  "    if (act == double) { stake <- 2; break }", "  }",
  "  y <- roll(card)", "  keeper <- up + y", "  keeper_soft <- up == 1 || y == 1",
  "  keeper_natural <- keeper_soft && keeper == 11",
  "  if (total <= 21 && !natural) while (worth(keeper, keeper_soft) < 17) {",
  "    z <- roll(card)", "    keeper <- keeper + z", "    keeper_soft <- keeper_soft || z == 1", "  }", "})",
  "mine <- function() worth(total, soft)", "keepers <- function() worth(keeper, keeper_soft)",
  "outcomes(both_natural = natural && keeper_natural, natural_wins = natural, bust = total > 21,",
  "  keeper_natural_wins = keeper_natural, keeper_bust = keepers() > 21, won = mine() > keepers(),",
  "  push = mine() == keepers(), lost = otherwise)",
  "pays(guest, both_natural = 0, natural_wins = 1.5, bust = -stake, keeper_natural_wins = -stake,",
  "  keeper_bust = stake, won = stake, push = 0, lost = -stake)",
  "plain <- player(act = if (worth(total, soft) < 17) hit else stand)")

test_that("twenty-one from an endless deck is worth what another program gives, with its chart", {
  b <- best_play(endless, by = "total, up, soft")
  close_to(b$value, -0.0242081220)
  close_to(worth(endless, set = list(doubling = TRUE)), -0.0116768935)
  hard <- b$policy[b$policy$soft == "no" & b$policy$total >= 12 & b$policy$total <= 16, ]
  stands <- ifelse(hard$up == 1 | hard$up >= 7, "hit", ifelse(hard$total == 12 & hard$up <= 3, "hit", "stand"))
  expect_identical(hard$answer, stands)  # the chart that is published for hit and stand
  expect_setequal(b$by[[1]], c("total", "up", "soft"))
})

test_that("best play of a stall is that of a program of its own, and told in full", {
  b <- best_play("lantern-tiles")
  o <- odds("lantern-tiles", players = list(guest = "careful"), measure = "mean_pay(guest)")
  close_to(b$losses$value[b$losses$player == "careful"], o$measures$value, 1e-12)
  expect_identical(b$by, list("guest_total"))
  expect_true(all(b$policy$reach > 0 & b$policy$answer %in% c("draw", "stand")))
  expect_output(print(b), "2 to 18 +[0-9.]+% +draw")
  # without leave to see anything of it, the best is one answer for all
  expect_lt(b$worst, min(b$losses$value))
  told <- b$decisions
  expect_true(told$matters == 1 && told$worst_loss >= told$next_loss)
  expect_identical(sum(b$policy$reach), told$met)
})

test_that("sums that only grow are left out of the states, and counted", {
  rules <- function(record) game_of("seats(guest)", "cube <- die(1:6)", "state(got = 0, left = 6)", "play({",
    "  while (left > 0) { face <- roll(cube)", "    ask(guest, take = one_of(all, half))",
    "    add(if (take == all) face else 3, to = got)", "    left <- left - 1 } })", "outcomes(over = otherwise)",
    record, "greedy <- player(take = half)")
  b <- best_play(rules("record(got = got)"), objective = "mean(got)")
  close_to(b$value, 6 * (3 * 3 + 4 + 5 + 6) / 6, 1e-12)
  expect_lt(b$states, 50)
  # a question about its value keeps it in the states
  close_to(worth(rules("record(got = got)"), objective = "probability(got >= 36)"), 6^-6, 1e-15)
})

test_that("what cannot be told is refused with its cause", {
  expect_error(best_play("dice-duel"), class = "basanos_best_none")
  expect_error(best_play("lantern-tiles", both = TRUE), class = "basanos_best_seats")
  expect_error(best_play("high-water", both = TRUE), class = "basanos_best_seats")
  expect_error(best_play("lantern-tiles", objective = "edge(guest)"), "mean_pay", class = "basanos_best_ratio")
  expect_error(best_play("lantern-tiles", players = list(guest = "bold")), class = "basanos_argument_wrong")
  expect_error(best_play("harvest-sheet", max_states = 1000), "1 000 states", class = "basanos_best_large")
  expect_error(best_play(paid_alike(), both = TRUE), class = "basanos_best_unopposed")
})

test_that("play that need not end has bounds, and no number", {
  waiting <- game_of("seats(guest)", "state(n = 0)",
                     "play({ repeat { ask(guest, go = one_of(wait, stop_))", "  if (go == stop_) break }",
                     "  n <- if (chance(0.5)) 1 else 0 })", "outcomes(won = n == 1, lost = otherwise)",
                     "pays(guest, won = 1, lost = -3)",
                     "at_once <- player(go = stop_)")
  b <- best_play(waiting)
  expect_true(is.finite(b$lower) && is.finite(b$upper))
  close_to(b$lower, -1)
  expect_error(best_play(paid_on_the_way()), class = "basanos_best_circle")
})

test_that("a failing answer that is not played does not stop best play; one that must be played does", {
  rules <- function(always) game_of("seats(guest)", "state(n = 0, zero = 0)",
    "play({ ask(guest, go = one_of(good, bad))", sprintf("  n <- if (go == bad || %s) 1 %%/%% zero else 1 })", always),
    "outcomes(over = otherwise)", "pays(guest, over = n)", "x <- player(go = good)")
  b <- best_play(rules("no"))
  expect_identical(b$value, 1)
  expect_error(best_play(rules("yes")), class = "basanos_error")
})

test_that("the command tells it in every form", {
  run <- at_command_line("best", "last-pebble", "--against", "second=wild", "--format", "json")
  expect_identical(run$code, 0L)
  told <- jsonlite::fromJSON(paste(run$out, collapse = "\n"))
  expect_true(all(c("value", "lower", "upper", "gap", "seats", "policy", "players") %in% names(told)))
  expect_true("loss" %in% names(told$players))
  expect_identical(told$against$second, "wild")
  close_to(told$value, 2)
  run <- at_command_line("best", "last-pebble", "--both", "--format", "csv")
  rows <- utils::read.csv(text = run$out)
  expect_identical(rows$value[[1]], 2)  # who begins with the first of sixteen pebbles wins
  run <- at_command_line("best", "last-pebble", "--exploit", "wild")
  expect_match(paste(run$out, collapse = "\n"), "first +mean_pay\\(first\\) +2\\.000000")
})

test_that("the check and the page tell what the best visitor takes", {
  gains <- function(...) {
    found <- check_game(...)$findings
    found$message[found$id == "best_gains"]
  }
  expect_match(gains("lantern-tiles"), "takes 0.03858 more than is put in, a round", fixed = TRUE)
  expect_length(gains("harbour-dice"), 0)  # the stall keeps something of the best
  expect_length(gains("last-pebble"), 0)   # two seats that play each other
  expect_length(gains("lantern-tiles", set = list(keeper_stands = 20)), 0)
  path <- file.path(new_folder(), "page.md")
  report_games("lantern-tiles", path, parts = "players", rounds = 2000)
  page <- paste(readLines(path), collapse = "\n")
  expect_match(page, "could take at best", fixed = TRUE)
  expect_match(page, "0.338006", fixed = TRUE)  # what `wavering` loses
})

test_that("a game without players has its best play, and is played so", {
  alone <- game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0)",
                   "play({ face <- roll(cube)", "ask(guest, more = one_of(yes, no))",
                   "if (more == yes) face <- roll(cube) })", "outcomes(high = face > 3, low = otherwise)",
                   "stakes(guest, 1)", "pays(guest, high = 1, low = -1)")
  expect_equal(c(best_play(alone)$value, best_play(alone)$worst), c(1 / 2, -1 / 2))
  o <- odds(alone, players = list(guest = "best"), engine = "exact")
  expect_equal(o$outcomes$probability, c(3 / 4, 1 / 4))
  expect_error(odds(alone), class = "basanos_decision_unanswered")
  expect_identical(check_game(alone)$problems$id, "decision_unanswered")
})
