# The words of the language, by what a round makes of them.

test_that("numbers: whole ones stay whole, division gives a fraction, both ends of a range count", {
  expect_equal(result_of("result <- 7 %/% 2 + 7 %% 2"), 4)
  expect_equal(result_of("result <- -7 %/% 2"), -4)
  expect_equal(result_of("result <- 7 / 2"), 3.5)
  expect_equal(result_of("result <- 2 ^ 10"), 1024)
  expect_equal(result_of("result <- round_down(7 / 2) * 10 + round_up(7 / 2)"), 34)
  expect_equal(result_of("for (i in 2:4) add(i, to = result)"), 9)
  expect_equal(result_of("for (i in 4:2) add(i, to = result)"), 0)
  expect_equal(result_of("low <- 3\n for (i in low:(low + 1)) add(i, to = result)"), 7)
  expect_equal(result_of("result <- max(3, 1, 2) - min(5, 4) + abs(-2)"), 1)
  expect_equal(result_of("result <- sqrt(16) + log(exp(2))"), 6)
})

test_that("a whole number that is given a fraction becomes a fraction everywhere", {
  expect_equal(result_of("half <- 1\n result <- half\n half <- half / 2\n result <- result + half"), 1.5)
  expect_equal(result_of("result <- share(3)", "share <- function(n) { if (n > 5) return(1)\n n / 4 }"), 0.75)
})

test_that("conditions, as statements and as values, with all their ways", {
  for (a in 0:1) for (b in 0:1) {
    said <- sprintf("a <- %d == 1\n b <- %d == 1\n", a, b)
    expect_equal(result_of(paste0(said, "result <- if (a && b) 1 else 0")), as.numeric(a && b))
    expect_equal(result_of(paste0(said, "if (a || b) result <- 1")), as.numeric(a || b))
    expect_equal(result_of(paste0(said, "if (!(a && !b)) result <- 1")), as.numeric(!(a && !b)))
    expect_equal(result_of(paste0(said, "both <- (a || b) && !(a && b)\n result <- if (both) 1 else 0")),
                 as.numeric(xor(a, b)))
  }
  expect_equal(result_of("result <- if (no && 1 / 2 > 3) 1 else 2"), 2)
  expect_equal(result_of("x <- 3\n if (x %in% c(1, 3)) add(1, to = result)\n if (x %in% 1:2) add(10, to = result)"), 1)
})

test_that("loops: while, repeat, for, break and next", {
  expect_equal(result_of("n <- 10\n while (n > 3) { n <- n - 2\n add(1, to = result) }"), 4)
  expect_equal(result_of("repeat { add(1, to = result)\n if (result >= 5) break }"), 5)
  expect_equal(result_of("for (i in 1:10) { if (i %% 2 == 0) next\n if (i > 7) break\n add(i, to = result) }"), 16)
  expect_equal(result_of("for (i in 1:3) for (j in 1:3) { if (j > i) break\n add(1, to = result) }"), 6)
  expect_equal(result_of("for (i in 1:3) { i <- i + 10\n add(i, to = result) }"), 36)
  expect_equal(result_of("x <- 0.5\n while (x < 3) { x <- x + 1\n add(1, to = result) }"), 3)
})

test_that("functions: parameters, defaults, return, functions in functions, effects", {
  expect_equal(result_of("result <- twice(twice(3))", "twice <- function(n) 2 * n"), 12)
  expect_equal(result_of("result <- scaled(3) + scaled(3, by = 10)", "scaled <- function(n, by = 2) n * by"), 36)
  expect_equal(result_of("result <- sign_of(-4) + 10 * sign_of(9)",
                         "sign_of <- function(n) { if (n < 0) return(-1)\n if (n == 0) return(0)\n 1 }"), 9)
  expect_equal(result_of("n <- 5\n result <- upto(n)\n result <- result * 100 + n",
                         paste0("upto <- function(n) { total <- 0\n while (n > 0) { add(n, to = total)\n n <- n - 1 ",
                                "}\n total }")), 1505)
  expect_equal(result_of("bump(4)\n bump(5)", "bump <- function(n) add(n, to = result)"), 9)
  expect_equal(result_of("result <- first(3) + first(4)", "first <- function(n) second(n) + 1",
                         "second <- function(n) n * n"), 27)
})

test_that("a function's argument is worked out once, before what the function changes", {
  expect_equal(result_of("result <- 5\n grow(result)",
                         "grow <- function(by) { add(by, to = result)\n add(by, to = result) }"), 15)
})

test_that("one value for each seat", {
  two <- function(play, record)
    odds(game_of("seats(a, b, c)", "state(score = each(seat, 1), mover = a, total = 0)", "play({", play, "})",
                 "outcomes(wins = leader(score[it]), tied = otherwise)", sprintf("record(result = %s)", record)))
  expect_equal(two("score[b] <- 5", "sum(score)")$distributions$result$value, 7)
  expect_equal(probabilities(two("score[b] <- 5", "1"))[["b_wins"]], 1)
  expect_equal(probabilities(two("score[b] <- 5\n score[c] <- 5", "1"))[["tied"]], 1)
  expect_equal(two("for (s in seats) { mover <- s\n add(10, to = score[mover]) }",
                   "score[c]")$distributions$result$value, 11)
  expect_equal(two("mover <- c\n score[mover] <- 7\n total <- max(score) + min(score)",
                   "total")$distributions$result$value, 8)
  expect_equal(two("score[a] <- 4",
                   "count(seats, score[it] == 1) * 10 + max(seats, score[it] * 2)")$distributions$result$value, 28)
  expect_equal(two("score[a] <- 4",
                   "if (any(seats, score[it] > 3) && !all(seats, score[it] > 3)) 1 else 0")$distributions$result$value,
                   1)
})

test_that("one value for each seat may start as a label in quotes", {
  g <- game_of("seats(a, b)", 'suit <- die("10 hearts", knave)', 'state(held = each(seat, "10 hearts"))',
               "play({ held[b] <- roll(suit) })", "outcomes(same = held[a] == held[b], other_cards = otherwise)")
  expect_equal(odds(g)$outcomes$probability, c(0.5, 0.5))
})

test_that("`who` is the only seat for which it holds", {
  only <- function(...)
    probabilities(odds(game_of("seats(a, b, c)", "state(score = each(seat, 0))", "play({", ..., "})",
                               "outcomes(has = who(score[it] > 0), nobody_has = otherwise)")))
  expect_equal(only("score[c] <- 1")[["c_has"]], 1)
  expect_equal(only("score[c] <- 1\n score[a] <- 2")[["nobody_has"]], 1)
  expect_equal(only("score[c] <- 0")[["nobody_has"]], 1)
  expect_equal(only("for (s in seats) score[s] <- 1")[["nobody_has"]], 1)
})

test_that("lists keep their order, bags none", {
  filled <- "put(4, into = faces)\n put(2, into = faces)\n put(4, into = faces)\n"
  with_list <- function(kind, then)
    result_of(paste0(filled, then), state = sprintf("result = 0, faces = %s(cube, room = 6)", kind))
  expect_equal(with_list("list", "result <- faces[2] * 10 + size(faces)"), 23)
  expect_equal(with_list("bag", "result <- faces[1]"), 2)
  expect_equal(with_list("list", "remove(4, from = faces)\n result <- faces[1] * 10 + faces[2]"), 24)
  expect_equal(with_list("bag",
                         paste0("result <- sum(faces) + count(faces, it == 4) * 100 + max(faces) * 1000 + min(faces, ",
                                "it * it) * 10000")), 44210)
  expect_equal(with_list("bag",
                         paste0("if (any(faces, it == 2) && all(faces, it > 1) && 4 %in% faces && !(3 %in% faces)) ",
                                "result <- 1")), 1)
  expect_equal(with_list("list", "for (f in faces) result <- result * 10 + f"), 424)
  expect_equal(with_list("bag", "result <- sum(faces)"), 10)
})

test_that("values are worked out before what uses them, wherever they stand", {
  filled <- "put(4, into = faces)\n put(2, into = faces)\n"
  expect_equal(result_of(paste0(filled, "result <- sum(faces, it * it + 1) + count(faces, it %% 4 == 0) * 100"),
                         state = "result = 0, faces = list(cube, room = 6)"), 122)
  expect_equal(result_of(paste0(filled, "put(faces[1] - 1, into = faces)\n remove(faces[2] * 2, from = faces)\n ",
                                "result <- faces[1] * 10 + faces[2]"),
                         state = "result = 0, faces = list(cube, room = 6)"), 23)
  d <- odds(game_with("put(roll(cube), into = faces)\n put(roll(cube), into = faces)\n result <- sum(faces)",
                      state = "result = 0, faces = bag(cube, room = 6)"))$distributions$result
  expect_equal(d, data.frame(value = 2:12, probability = c(1:6, 5:1) / 36))
})

test_that("draws: ranges, lists of faces, weights, labels, picks and chance", {
  d <- function(die, record = "result")
    odds(game_of("seats(guest)", die, "state(result = 0)", "play({", "face <- roll(it_shows)",
                 if (record == "result") "result <- face", "})", "outcomes(over = otherwise)",
                 "record(result = result)"))$distributions$result
  expect_equal(d("it_shows <- die(3:5)"), data.frame(value = c(3, 4, 5), probability = rep(1 / 3, 3)))
  expect_equal(d("it_shows <- die(c(1, 1, 5, -2))"), data.frame(value = c(-2, 1, 5), probability = c(1, 2, 1) / 4))
  expect_equal(d("it_shows <- die(c(1:3, 3, 5))"), data.frame(value = c(1, 2, 3, 5), probability = c(1, 1, 2, 1) / 5))
  reel <- game_of("seats(guest)", "reel <- die(lantern = 1, bell = 3, weed = 4)", "state(x = lantern, y = nobody)",
                  "play({ x <- roll(reel)\n y <- pick(lantern = 2, weed = 2) })",
                  "outcomes(same = x == y, other = otherwise)", "record(x = x, lit = x == lantern)")
  exact <- odds(reel)
  expect_equal(exact$outcomes$probability[[1]], (1 + 4) / 16)
  expect_equal(exact$distributions$x, data.frame(value = c("lantern", "bell", "weed"), probability = c(1, 3, 4) / 8))
  expect_equal(exact$distributions$lit, data.frame(value = c("no", "yes"), probability = c(7, 1) / 8))
  expect_agrees(odds(reel, engine = "sample", rounds = 1e5), probabilities(exact))
  lucky <- game_with("p <- 1 / 4\n lucky <- chance(p)\n if (lucky) result <- pick(2, 4, 8)")
  expect_equal(odds(lucky)$distributions$result, data.frame(value = c(0, 2, 4, 8), probability = c(9, 1, 1, 1) / 12))
  expect_lt(abs(odds(lucky, engine = "sample", rounds = 1e5)$records$mean - 14 / 12), 0.05)
})

test_that("turns go round the seats, what lasts for a turn starts fresh, and they end by rule", {
  race <- function(turns, body)
    odds(game_of("seats(red, blue)", "state(score = each(seat, 0), moves = 0)", "state(pot = 0, lasts = turn)",
    sprintf("play({ for (mover in turns(%s)) {", turns), "add(1, to = moves)", body, "} })",
    "outcomes(wins = leader(score[it]), tied = otherwise)",
    "record(moves = moves, red = score[red], blue = score[blue])"))
  r <- race("until = max(score) >= 3", "add(1, to = pot)\n add(pot, to = score[mover])")
  expect_equal(r$records$mean, c(5, 3, 2))
  r <- race("each = 4, from = blue", "add(1, to = score[mover])\n if (mover == red) next\n add(1, to = score[mover])")
  expect_equal(r$records$mean, c(8, 4, 8))
  expect_equal(race("at_most = 3", "add(1, to = score[mover])")$records$mean, c(3, 2, 1))
  expect_equal(race("until = moves >= 100", "if (moves == 4) break")$records$mean[[1]], 4)
})

test_that("decisions: conditional answers, prefer, pass, ranges, a player for each seat", {
  asking <- function(one_of, rule, ..., play = "")
    odds(game_of("seats(a, b)", "state(n = 0)", "play({", play, sprintf("ask(b, act = one_of(%s))", one_of), "})",
                 "outcomes(bets = act == bet, folds = act == fold, passes = act == pass, holds = otherwise)",
                 sprintf("one <- player(act = %s)", rule), ...))
  expect_equal(probabilities(asking("bet, fold, hold", "pick(choices)")),
               c(bets = 1, folds = 1, passes = 0, holds = 1) / 3)
  expect_equal(probabilities(asking("bet, fold, if (n > 0) hold", "prefer(hold, fold)"))[["folds"]], 1)
  expect_equal(probabilities(asking("bet, fold, if (n > 0) hold", "prefer(hold, fold)", play = "n <- pick(0:1)")),
               c(bets = 0, folds = 0.5, passes = 0, holds = 0.5))
  expect_equal(probabilities(asking("if (n > 1) bet, if (n > 0) fold, if (n > 2) hold", "pick(choices)",
                                    play = "n <- pick(0:3)")),
                                    c(bets = 1 / 8 + 1 / 12, folds = 1 / 4 + 1 / 8 + 1 / 12, passes = 1 / 4,
                                      holds = 1 / 12))
  ranged <- game_of("seats(a)", "state(n = 0)", "play({ ask(a, guess = one_of(2:5))\n n <- guess })",
                    "outcomes(over = otherwise)", "wild <- player(guess = pick(choices))",
                    "bold <- player(guess = prefer(9, 5))", "record(n = n)")
  expect_equal(odds(ranged)$distributions$n$value, 2:5)
  expect_equal(odds(ranged, players = list(a = "bold"))$records$mean, 5)
  mixed <- game_of("seats(a, b)", "state(n = 0)",
                   "play({ for (s in seats) { ask(s, step = one_of(1:9))\n n <- n * 10 + step } })",
                   "outcomes(over = otherwise)", "one <- player(a, step = 3)",
                   "two <- player(b, step = if (me == b) 7 else 1)", "record(n = n)")
  expect_equal(odds(mixed)$records$mean, 37)
  taken_over <- game_of("seats(a)", "state(n = 0)",
                        "play({ ask(a, x = one_of(1:9))\n ask(a, y = one_of(1:9))\n n <- x * 10 + y })",
                        "outcomes(over = otherwise)", "first <- player(x = 1, y = 2)",
                        "second <- player(like = first, y = 5)", "record(n = n)")
  expect_equal(odds(taken_over, players = list(a = "second"))$records$mean, 15)
})

test_that("pays by outcome and by seat add up, and may depend on the state", {
  g <- game_of("seats(red, blue)", "cube <- die(1:6)", "state(face = 0)", "play({ face <- roll(cube) })",
               "outcomes(wins = if (face > 4) red else if (face > 2) blue else nobody, draw = otherwise)",
               "pays(winner, face)", "pays(others, -1)", "pays(everyone, draw = 0.5, otherwise = 0)", "stakes(red, 2)")
  o <- odds(g)
  expect_equal(o$pays$seat, c("red", "blue"))
  expect_equal(o$pays$mean, c((5 + 6 - 2 + 1) / 6, (3 + 4 - 2 + 1) / 6))
  expect_equal(o$pays$return, 1 + o$pays$mean / c(2, NA))
  expect_equal(o$pays$edge, -o$pays$mean / c(2, NA))
})

test_that("labels: unknown comparisons, typos and set mixing are found", {
  expect_no_error(game_with("if (result == 1) result <- 2", "reel <- die(lantern, bell)",
                            state = "result = 0, x = lantern"))
  expect_error(game_with("if (x == bel) result <- 2", "reel <- die(lantern, bell)", state = "result = 0, x = lantern"),
               class = "basanos_unknown_name")
})

test_that("rules written inline are the same game as in a file", {
  inline <- game({
    seats(guest)
    cube <- die(1:6)
    state(face = 0)
    play({
      face <- roll(cube)
    })
    outcomes(high = face > 4, low = otherwise)
  })
  filed <- game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "play({", "face <- roll(cube)", "})",
                   "outcomes(high = face > 4, low = otherwise)")
  expect_equal(odds(inline)$outcomes, odds(filed)$outcomes)
  expect_s3_class(game(inline), "basanos_game")
})

test_that("values of R are put into rules in braces", {
  prize <- 0.1 + 0.2  # more digits than are usually shown
  faces <- 3
  made <- function(top) game({
    title(!!top)
    seats(guest)
    cube <- die(1:!!(2 * faces))  # one to six
    state(face = 0, doubled = !!(faces > 5))
    play(face <- roll(cube))
    outcomes(high = face > !!(faces + 1), low = !(!(face < 2)), none_of_both = otherwise)
    pays(guest, high = !!prize,
         low = !!-1, none_of_both = 0)
  })
  g <- made("A \"quoted\" name")
  expect_identical(g$title, "A \"quoted\" name")
  o <- odds(g)
  expect_equal(o$outcomes$probability, c(2, 1, 3) / 6)
  expect_identical(o$pay_distributions$guest$value, c(-1, 0, 0.1 + 0.2))
  quoted <- quote({
    seats(guest)
    reel <- names(reef, boat, eel)
    state(shown = reef)
    play(shown <- pick(!!c("reef", "eel")))
    outcomes(shown)
  })
  expect_identical(odds(game(quoted))$outcomes, data.frame(name = c("reef", "eel"), probability = c(0.5, 0.5)))
  wrong <- function(rules) expect_error(game(rules), class = "basanos_argument_wrong")
  e <- wrong(quote({ state(n = !!nowhere) }))
  expect_match(conditionMessage(e), "!!nowhere.*not found")
  wrong(quote({ state(n = !!NA) }))
  wrong(quote({ state(n = !!mean) }))
  wrong(quote({ state(n = !!numeric()) }))
  # the place of a problem is that in the rules as they were written
  e <- expect_error(game({
    seats(guest)
    state(n = !!faces)
    play(n <- m)
    outcomes(any = otherwise)
  }), class = "basanos_unknown_name")
  expect_identical(e$diagnostics[[1]]$at[[1]], 3L)
})

test_that("faces with weights may stand in c(...)", {
  spun <- function(die) odds(game_of("seats(guest)", sprintf("spinner <- %s", die), "state(shown = one(spinner))",
                                     "play({ shown <- roll(spinner) })",
                                     "outcomes(top = shown == red, low = otherwise)"))
  expect_equal(spun("die(c(red = 3, blue = 2, grey = 1))")$outcomes$probability, c(1, 1) / 2)
  expect_equal(spun("die(red = 3, blue = 2, grey = 1)")$outcomes$probability, c(1, 1) / 2)
})

test_that("a setting of each seat is chosen for all seats, for each, or for one", {
  pins <- game("pier-pins")
  aims <- function(...) unlist(resolve_settings(pins, list(...))[c("aim[ann]", "aim[bo]")], use.names = FALSE)
  expect_identical(aims(aim = 0.5), c(0.5, 0.5))
  expect_identical(aims(aim = c(0.5, 0.25)), c(0.5, 0.25))
  expect_identical(aims(aim = "0.5, 0.25"), c(0.5, 0.25))
  expect_identical(aims(`aim[bo]` = 0.25), c(0.75, 0.25))
  expect_identical(aims(`aim[bo]` = 0.25, aim = 0.5), c(0.5, 0.25))
  expect_identical(aims(aim = 0.5, `aim[bo]` = 0.25), c(0.5, 0.25))
  expect_error(aims(aim = c(0.1, 0.2, 0.3)), "one value, or one for each of aim\\[ann\\], aim\\[bo\\]",
               class = "basanos_setting_type")
  expect_error(aims(aim = 2), class = "basanos_setting_range")
  expect_error(aims(aims = 2), class = "basanos_setting_unknown")
  expect_error(odds("tide-signs", set = list(sides = 3)), class = "basanos_setting_unknown")
  swept <- sweep_game(pins, list(aim = c(0.5, 0.6)), measure = "mean(ann_score - bo_score)", engine = "sample",
                          rounds = 500)
  one <- odds(pins, engine = "sample", rounds = 500, set = list("aim[ann]" = 0.5, "aim[bo]" = 0.5),
              measure = "mean(ann_score - bo_score)")
  expect_identical(swept$rows$value[[1]], one$measures$value)
})
