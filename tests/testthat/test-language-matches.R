# Matches and sittings: what lasts, when they end, and intervals by unit.

throws <- function(..., state = NULL, play = "ask(seats, throw = one_of(sign))")
  game_of("seats(left, right)", "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)", state,
          sprintf("play({ %s })", play),
  "outcomes(wins = who(beats(throw[it], throw[other(it)])), draw = otherwise)", "even <- player(throw = pick(choices))",
  ...)

test_that("first to n, best of n and a number of rounds follow the binomial", {
  first <- odds(throws("match(first_to = 2, counts = wins)"))
  # each decisive round is fair; rounds: 2 or 3 decisive ones, each taking 1.5 on average
  expect_equal(first$units$winners$probability, c(0.5, 0.5), tolerance = 1e-9)
  expect_equal(first$units$rounds$mean, (2 * 0.5 + 3 * 0.5) * 1.5, tolerance = 1e-9)
  expect_equal(probabilities(first)[["draw"]], 1 / 3, tolerance = 1e-9)
  best <- odds(throws("match(best_of = 3, counts = wins)"))
  one <- dmultinom(c(1, 1, 1), prob = rep(1, 3)) + dmultinom(c(0, 0, 3), prob = rep(1, 3))
  expect_equal(best$units$winners$probability[[3]], one, tolerance = 1e-12)
  ten <- odds(throws("match(rounds = 4, counts = wins)"))
  level <- sum(vapply(0:2, function(k) dmultinom(c(k, k, 4 - 2 * k), prob = rep(1, 3)), 0))
  expect_equal(ten$units$winners$probability[[3]], level, tolerance = 1e-12)
  expect_equal(ten$units$rounds$mean, 4)
})

test_that("until an outcome; past answers; what lasts a match starts fresh in the next", {
  g <- throws("match(until = draw)", state = "state(rounds_so_far = 0, lasts = match)",
              play = "add(1, to = rounds_so_far)\n ask(seats, throw = one_of(sign))", "record(n = rounds_so_far)")
  exact <- odds(g)
  expect_equal(exact$units$rounds$mean, 3, tolerance = 1e-9)
  expect_equal(exact$distributions$n$probability[1:3], (1 / 3) * (2 / 3)^(0:2), tolerance = 1e-9)
  copycat <- throws("match(rounds = 3, counts = wins)",
                    paste0("copier <- player(throw = { seen <- past(other(me), throw)\n if (size(seen) == 0) reef ",
                           "else seen[size(seen)] })"))
  o <- odds(copycat, players = list(left = "copier", right = "copier"))
  expect_equal(probabilities(o)[["draw"]], 1)
  expect_true(check_game(throws("match(first_to = 2, counts = wins)",
                                paste0('example("two in a row", given(throw = c(reef, boat, reef, reef, reef, boat)), ',
                                       'expect(match = left, rounds = 3))'),
    'example("one round of it", given(throw = c(boat, reef)), expect(outcome = right_wins))'))$ok)
  wrong <- check_game(throws("match(first_to = 2, counts = wins)",
                             paste0('example("wrong", given(throw = c(reef, boat, reef, boat)), ',
                                    'expect(match = right, rounds = 4))')))
  expect_match(wrong$examples$got, "expected match right, got left; expected rounds 4, got 2")
})

test_that("sampled matches agree with exact, their intervals go by match, and shards merge", {
  g <- throws("match(first_to = 3, counts = wins)", "pays(winner, 1)", "pays(others, -1)",
              "fond <- player(throw = pick(reef = 3, boat = 1, squall = 1))")
  players <- list(left = "fond", right = "fond")
  exact <- odds(g, players = players)
  s <- odds(g, engine = "sample", rounds = 2e5, players = players)
  expect_lt(max(abs(s$outcomes$probability - exact$outcomes$probability) / s$outcomes$standard_error), 4)
  expect_lt(abs(s$units$rounds$mean - exact$units$rounds$mean) / s$units$rounds$standard_error, 4)
  expect_lt(max(abs(s$pays$mean - exact$pays$mean) / s$pays$standard_error), 4)
  covered <- vapply(1:300, function(seed) {
    o <- odds(g, engine = "sample", rounds = 400, seed = seed, players = players)$outcomes
    o$lower[[1]] <= exact$outcomes$probability[[1]] && o$upper[[1]] >= exact$outcomes$probability[[1]]
  }, NA)
  expect_gt(mean(covered), 0.95 - 4 * sqrt(0.95 * 0.05 / 300))
  whole <- sample_tally(g, 1000, players = players, threads = 2)
  parts <- merge_tallies(sample_tally(g, 300, players = players),
                         sample_tally(g, 700, first = 301, players = players))
  expect_identical(result_json(as_odds(whole)), result_json(as_odds(parts)))
})

test_that("outcomes by label, and seats that stay empty", {
  g <- game_of("seats(a, b, c, at_least = 2)", "kind <- names(low, high)", "cube <- die(1:6)",
               "state(n = 0, score = each(seat, 0))",
               "play({ for (mover in turns(each = 1)) add(1, to = score[mover])\n n <- roll(cube) })",
               "outcomes(if (n > 4) high else low)", "record(turns_had = sum(score))",
               "pays(everyone, high = 1, low = 0)")
  expect_equal(probabilities(odds(g)), c(low = 2 / 3, high = 1 / 3))
  expect_equal(odds(g, set = list(seated = 2))$records$mean, 2)
  expect_error(odds(g, set = list(seated = 1)), class = "basanos_setting_range")
})

test_that("a climb has one round in each mode, until it ends earlier", {
  climb <- function(...)
    game_of("seats(guest)", "sides <- setting(6, from = 2, to = 40)", "low <- mode(sides = 4)",
            "high <- mode(sides = 20)", "cube <- die(1:sides)", "state(face = 0, total = list(1:40, room = sides))",
    "play({ for (i in 1:sides) put(1, into = total)\n face <- roll(cube) })",
    "outcomes(one = face == 1, more = otherwise)", "record(size = size(total), sides = sides)",
    "pays(guest, one = 1, more = 0)", ...)
  o <- odds(climb("match(modes = c(low, high), until = more)"))
  expect_equal(o$units$rounds$mean, 1 + 1 / 4)
  expect_equal(o$units$endings$probability, c(1 / 80, 79 / 80))
  expect_equal(o$distributions$sides$value, c(4, 20))
  expect_equal(o$distributions$size, o$distributions$sides)
  expect_equal(o$distributions$sides$probability, c(4, 1) / 5)
  expect_match(format(o), "modes     low, then high", all = FALSE)
  s <- odds(climb("match(modes = c(low, high), until = more)"), engine = "sample", rounds = 1e5)
  expect_lt(max(abs(s$units$endings$probability - o$units$endings$probability) / s$units$endings$standard_error), 4)
  all <- odds(climb("match(modes = c(low, high, low))"))
  expect_equal(all$units$rounds$least, 3)
  # what is chosen goes before the mode
  chosen <- odds(climb("match(modes = c(low, high), until = more)"), set = list(sides = 10))
  expect_equal(chosen$units$endings$probability[[1]], 1 / 100)
  expect_true(check_game(climb("match(modes = c(low, high), until = more)",
                               paste0('example("both", given(cube = c(1, 17)), ',
                                      'expect(rounds = 2, outcome = more, sides = 20))')))$ok)
  expect_match(trace_round(climb("match(modes = c(high, low))"), forced = "cube = c(19, 4)")$events$value, "19",
               all = FALSE)
})

test_that("a sitting of matches: what lasts each, how many each seat won", {
  g <- throws("match(first_to = 2, counts = wins)", "sitting(matches = 2)",
              state = "state(of_match = 0, lasts = match)\n state(of_sitting = 0, lasts = sitting)",
    play = "add(1, to = of_match)\n add(1, to = of_sitting)\n ask(seats, throw = one_of(sign))",
    "record(of_match = of_match, of_sitting = of_sitting)")
  o <- odds(g, engine = "exact")
  expect_identical(o$unit, "sitting")
  expect_equal(o$units$rounds$mean, 2 * 3.75, tolerance = 1e-9)
  expect_identical(o$units$measures$name, c("matches", "matches_left_won", "matches_right_won", "final of_sitting"))
  expect_equal(o$units$measures$mean, c(2, 1, 1, 7.5), tolerance = 1e-9)
  expect_equal(o$units$measures$sd[2:3], rep(sqrt(2) / 2, 2), tolerance = 1e-9)
  expect_identical(o$records$most, c(NA_real_, NA_real_))  # draws may go on for ever
  s <- odds(g, engine = "sample", rounds = 1e5)
  expect_lt(max(abs(s$records$mean - o$records$mean) / s$records$standard_error), 4)
  until <- odds(throws("match(first_to = 1, counts = wins)", "sitting(until = right_wins)"), engine = "sample",
                rounds = 1e4)
  expect_equal(until$units$measures$mean[[1]], 2, tolerance = 0.05)
  expect_true(check_game(throws("match(first_to = 1, counts = wins)", "sitting(rounds = 3)",
                                paste0('example("the match in play is ended", given(throw = c(reef, boat, boat, boat, ',
                                       'reef, reef, reef, boat)), expect(rounds = 4, match = left))')))$ok)
})

test_that("a sitting tells how it ends and what is left, apart from what a round is", {
  # a walk between 0 and 4 from 2: the goal in half of the sittings, 4 rounds on average
  walk <- game_of("seats(guest)", "coin <- die(c(-1, 1))", "state(purse = 2, part = 0.5, lasts = sitting)",
                  "play({ add(roll(coin), to = purse)\n part <- purse / 4 })",
                  "outcomes(goal = purse == 4, ruin = purse == 0, goes_on = otherwise)",
                  "sitting(until = purse == 0 || purse == 4)")
  for (engine in c("exact", "sample")) {
    o <- odds(walk, engine = engine, rounds = 2e4)
    expect_equal(o$units$endings$probability, c(0.5, 0.5, 0), tolerance = 0.03)
    expect_equal(o$units$rounds$mean, 4, tolerance = 0.05)
    final <- stats::setNames(o$units$measures$mean, o$units$measures$name)
    expect_equal(final, c("final purse" = 2, "final part" = 0.5), tolerance = 0.05)
    expect_equal(o$outcomes$probability, c(1 / 8, 1 / 8, 6 / 8), tolerance = 0.05)
    text <- paste(format(o), collapse = "\n")
    expect_match(text, "sitting ends +probability.*final purse.*Of a round:\n *outcome")
  }
})
