# Turns and seats: each seat has its turns whatever changes their order; seats that nobody takes take no part.

turns_of <- function(body, turns = "each = 3", more = character(), seats = "seats(a, b, c)", set = list()) {
  g <- game_of(seats, "state(n = each(seat, 0), k = 0)", more,
               sprintf("play({ for (mover in turns(%s)) { add(1, to = n[mover]); add(1, to = k)\n%s } })", turns, body),
               "outcomes(over = otherwise)", "record(a = n[a], b = n[b], c = n[c], all = k)")
  o <- odds(g, engine = "exact", set = set)
  stats::setNames(o$records$mean, o$records$name)
}

test_that("each = n is n turns for each seat", {
  all_alike <- c(a = 3, b = 3, c = 3, all = 9)
  expect_equal(turns_of(""), all_alike)
  expect_equal(turns_of("skip_next()"), all_alike)
  expect_equal(turns_of("if (k == 2) skip_next()"), all_alike)
  expect_equal(turns_of("if (k == 4) reverse()"), all_alike)
  expect_equal(turns_of("if (k %% 2 == 1) again()"), all_alike)
  expect_equal(turns_of("again()"), all_alike)
  expect_equal(turns_of("if (n[b] == 1) out(b)"), c(a = 3, b = 1, c = 3, all = 7))
  expect_equal(turns_of("if (k == 2) { skip_next(); reverse() }"), all_alike)
})

test_that("no turns at all where there are to be none", {
  for (turns in c("each = 0", "at_most = 0", "each = -1", "each = k", "at_most = k"))
    expect_equal(turns_of("", turns), c(a = 0, b = 0, c = 0, all = 0), info = turns)
  expect_equal(turns_of("again()", "each = k"), c(a = 0, b = 0, c = 0, all = 0))
  expect_equal(turns_of("", "at_most = 4"), c(a = 2, b = 1, c = 1, all = 4))
  expect_equal(turns_of("again()", "each = 2, at_most = 5"), c(a = 2, b = 2, c = 1, all = 5))
})

test_that("a seat that nobody takes is not paid, not listed, has no player, and cannot be written to", {
  rules <- c("seats(a, b, c, at_least = 2)", "cube <- die(1:6)", "state(n = each(seat, 0))",
             paste0("play({ for (mover in turns(each = 1)) { ask(mover, go = one_of(yes, no)); n[mover] <- ",
                    "roll(cube) } })"),
             "outcomes(wins = leader(n[it]), level = otherwise)", "pays(winner, 1)", "pays(others, -1)",
             "calm <- player(go = yes)")
  o <- odds(game_of(rules), set = list(seated = 2))
  expect_identical(o$outcomes$name, c("a_wins", "b_wins", "level"))
  expect_identical(o$pays$seat, c("a", "b"))
  expect_identical(names(o$players), c("a", "b"))
  expect_identical(jsonlite::fromJSON(result_json(o))$outcomes$name, o$outcomes$name)
  expect_identical(odds(game_of(rules))$pays$seat, c("a", "b", "c"))
  expect_error(odds(game_of(rules), set = list(seated = 2), players = list(c = "calm")), "Nobody takes the seat `c`",
               class = "basanos_seat_empty")
  for (write in c("n[c] <- 1", "add(1, to = n[c])", "who_is <- c\nn[who_is] <- 1")) {
    wrong <- game_of("seats(a, b, c, at_least = 2)", "state(n = each(seat, 0), who_is = one(seats))",
                     sprintf("play({ %s })", write), "outcomes(over = otherwise)")
    expect_error(odds(wrong, set = list(seated = 2)), "nobody takes", class = "basanos_seat_not_taken")
    expect_equal(odds(wrong)$outcomes$probability, 1)
  }
})

test_that("a hidden answer stays hidden from the other seat", {
  g <- game_of("seats(left, right)", "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)",
               "play({ ask(left, mine = one_of(sign), seen_by = left)\nask(right, yours = one_of(sign)) })",
               "outcomes(over = otherwise)", "calm <- player(mine = reef, yours = boat)")
  e <- trace_round(g, sees = "right")$events
  expect_identical(e$value[e$name == "mine"], "(unseen)")
  expect_identical(trace_round(g, sees = "left")$events$value[e$name == "mine"], "reef")
  shown <- character()
  play_game(g, seats = "right", seed = 1, rounds = 1, read = function() "boat",
            write = function(x) shown <<- c(shown, x))
  expect_false(any(grepl("mine = reef", shown[seq_len(grep("=>", shown)[[1]] - 1)])))
})

test_that("asks counts the answers given before", {
  g <- game_of("seats(a)", "state(first = 9, last = 9)",
               paste0("play({ ask(a, one_more = one_of(0:9)); first <- one_more; ask(a, one_more = ",
                      "one_of(0:9)); last <- one_more })"),
               "outcomes(over = otherwise)", "record(first = first, last = last, all = asks)",
               "counts <- player(one_more = asks)")
  expect_equal(odds(g)$records$mean, c(0, 1, 2))
})

test_that("at an ask a claim reads no answer of a turn before", {
  rules <- c("seats(a, b)", "state(n = 0)",
             paste0("play({ for (mover in turns(each = 2)) { ask(mover, go = one_of(up, down)); if (go == ",
                    "up) add(1, to = n); ask(mover, rest = one_of(yes, no)) } })"),
             "outcomes(over = otherwise)", "calm <- player(go = if (n == 0) up else down, rest = yes)")
  # Only the first turn's answer is `up`; at later asks of a turn its own answer is `down`.
  claim <- function(text) check_game(game_of(rules, text), findings = FALSE)$claims$passed
  expect_true(claim('always("after the first turn down", n == 0 || go == down || turns_played == 1, when = ask)'))
  expect_false(claim('always("never down", go == up, when = ask)'))
})

test_that("a label passed to a function can be compared there", {
  g <- game_of("seats(dealers, players)", "state(n = 0)", "take <- function(h) if (h == dealers) 1 else 2",
               "play({ n <- take(dealers) + 10 * take(players) })", "outcomes(over = otherwise)", "record(n = n)")
  expect_equal(odds(g)$records$mean, 21)
})

test_that("many tries and many dice are counted, or refused with the limit", {
  tries <- odds(game_with("result <- successes(20000, 0.5)"), engine = "exact", max_states = 1e5)
  expect_equal(sum(tries$distributions$result$probability), 1, tolerance = 1e-15)
  expect_equal(tries$records$mean, 10000)
  expect_equal(tries$records$sd, sqrt(5000), tolerance = 1e-9)
  expect_error(odds(game_with("result <- successes(200000, 0.5)")), "0 to 100000 tries", class = "basanos_tries_wrong")
  expect_error(odds(game_with("result <- sum(roll(cube, 200000))")), "the most is 100000", class = "basanos_room_wrong")
  expect_equal(odds(game_with("result <- sum(roll(cube, 20000))"), engine = "sample", rounds = 20)$records$mean, 70000,
               tolerance = 0.01)
})
