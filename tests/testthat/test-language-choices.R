# Decisions about items: one of a list, some of a bag, what is legal, and passes.

asked <- function(ask, rule, then = "", ..., state = "n = 0, bag5 = bag(cube)", after = "n <- sum(bag5)") {
  d <- odds(game_of("seats(ann, bo)", "cube <- die(1:6)", sprintf("state(%s)", state), "play({\n bag5 <- c(1, 2, 2, 5)",
                    ask, then, after, "})", ..., sprintf("calm <- player(%s)", rule), "outcomes(over = otherwise)",
                    "record(n = n)"))$distributions$n
  expect_equal(nrow(d), 1)
  d$value
}

test_that("one_of a list or bag, with what is legal, and choices as a collection", {
  expect_equal(asked("ask(ann, x = one_of(bag5))", "x = most(choices, it)", "remove(x, from = bag5)"), 5)
  expect_equal(asked("ask(ann, x = one_of(bag5), legal = x < 5)", "x = most(choices, it)", "remove(x, from = bag5)"), 8)
  expect_equal(asked("ask(ann, x = one_of(1:9), legal = x %% 3 == 0)", "x = size(choices)", after = "n <- x"), 3)
  expect_equal(asked("ask(ann, x = one_of(those(bag5, it > 1)))", "x = least(choices)", after = "n <- x"), 2)
  expect_equal(asked("ask(ann, x = one_of(1:20), legal = x %% 7 == 0)", "x = sum(choices) - 7", after = "n <- x"), 14)
})

test_that("no legal answer is a pass, and is counted", {
  none <- "ask(ann, x = one_of(bag5), legal = x > 5)"
  expect_equal(asked(none, "x = most(choices, it)", after = "n <- if (x == pass) 7 else 1"), 7)
  expect_equal(asked(none, "x = most(choices, it)", after = "n <- passes * 10 + asks"), 10)
  expect_equal(asked("ask(ann, x = some_of(bag5), legal = sum(x) > 50)", "x = most(choices, sum(it))",
                     after = "n <- if (x == pass) 7 else 1"), 7)
  expect_equal(asked("ask(ann, x = some_of(bag5), legal = sum(x) > 8)", "x = most(choices, sum(it))",
                     after = "n <- if (x != pass) size(x) else 0"), 4)
})

test_that("some_of goes through every subset once", {
  expect_equal(asked("ask(ann, x = some_of(bag5))\n ask(ann, y = one_of(1:99))", "x = c(2, 5), y = 1",
                     after = "n <- size(x) * 10 + sum(x)"), 27)
  expect_equal(asked("ask(ann, k = one_of(1:99))\n ask(ann, x = some_of(bag5))",
                     "x = most(choices, 100 * size(it) + sum(it)), k = 1", after = "n <- sum(x)"), 10)
  expect_equal(asked("ask(ann, x = some_of(bag5, at_least = 2, at_most = 2))", "x = least(choices, sum(it))",
                     after = "n <- sum(x)"), 3)
  picked <- odds(game_of("seats(ann)", "cube <- die(1:6)", "state(bag5 = bag(cube))",
                         "play({\n bag5 <- c(1, 2, 2, 5)\n ask(ann, x = some_of(bag5)) })",
                         "outcomes(over = otherwise)", "record(n = sum(x) * 10 + size(x))",
                         "wild <- player(x = pick(choices))"))
  expect_equal(nrow(picked$distributions$n), 12)  # 1, 2, 2, 5: 2 * 3 * 2 different subsets
  expect_equal(picked$distributions$n$probability, rep(1 / 12, 12))
})

test_that("an answer that is not among the choices is refused, also of several items", {
  refused <- function(ask, rule, ...) expect_error(asked(ask, rule, ...), class = "basanos_illegal_answer")
  refused("ask(ann, x = one_of(bag5))", "x = 4")
  refused("ask(ann, x = one_of(bag5), legal = x < 5)", "x = 5")
  refused("ask(ann, x = some_of(bag5))", "x = c(5, 5)")
  refused("ask(ann, x = some_of(bag5, at_least = 1))", "x = those(bag5, it > 9)")
  refused("ask(ann, x = some_of(bag5), legal = all(x, it < 5))", "x = c(5)")
})

test_that("turns that skip, come again, go back, and seats that are out", {
  order_of <- function(body, until = "at_most = 8") {
    g <- game_of("seats(a, b, c)", "state(n = 0)",
                 sprintf(paste0("place <- function(s) switch(s, a = 1, b = 2, c = 3)\nplay({ for (mover in turns(%s)) ",
                                "{\n n <- 10 * n + place(mover)\n %s } })"), until, body), "outcomes(over = otherwise)",
                                "record(n = n)")
    odds(g)$records$mean
  }
  expect_equal(order_of(""), 12312312)
  expect_equal(order_of("if (mover == a) skip_next()"), 13131313)
  expect_equal(order_of("if (turns_played == 2) again()"), 12231231)
  expect_equal(order_of("if (turns_played == 2 || turns_played == 5) reverse()"), 12132312)
  expect_equal(order_of("if (turns_played == 2) out(b)"), 12313131)
  expect_equal(order_of("out(mover)"), 123)
  expect_equal(order_of("if (turns_played == 2) out(b)", "until = count(seats, playing(it)) < 3"), 12)
  expect_equal(order_of("if (turn_number(b) == 2) break"), 12312)
})

test_that("prefer with conditions, switch, grid, names with columns, one value for each name", {
  rule <- function(x, n)
    asked("ask(ann, x = one_of(hit, stand, if (n > 3) double))", sprintf("x = %s", x),
          after = "n <- switch(x, hit = 1, stand = 2, double = 3)", state = sprintf("n = %d, bag5 = bag(cube)", n))
  expect_equal(rule("prefer(double, stand)", 1), 2)
  expect_equal(rule("prefer(double, stand)", 4), 3)
  expect_equal(rule("prefer(if (n > 8) hit, stand)", 4), 2)
  table <- "grid(n, n + 1, cols(0:3, 4:9), row(0:2, hit, stand), row(3:9, stand, prefer(double, hit)))"
  expect_equal(vapply(c(1, 3, 4), function(n) rule(table, n), 0), c(1, 1, 3))
  expect_equal(asked("ask(ann, x = one_of(1:3))", "x = 1", "for (b in box) add(face(b), to = sheet[b])",
                     "box <- names(ones, twos, other, face = c(1, 2, 0))",
                     state = "n = 0, bag5 = bag(cube), sheet = each(box, 0)",
                     after = "n <- sum(sheet) * 100 + sheet[twos] * 10 + size(sheet)"), 323)
})

# --- a decision of several parts -----------------------------------------------------

rising <- "prefer(if (claim != none && many(claim) == 2) doubt, most(choices, if (it == doubt) 0 else 1))"
claims_game <- function(..., rule = rising)
  game_of("seats(ann, bo)", "claims <- names(for_each(many = 1:2), for_each(face = 1:3))",
          "state(claim = one(claims), bids = 0)",
          "play({ for (mover in turns()) {",
          "ask(mover, bid = one_of(claims, if (claim != none) doubt), legal = bid == doubt || bid > claim)",
          "if (bid == doubt) end_round()", "claim <- bid", "add(1, to = bids) } })",
          "outcomes(low = many(claim) == 1, high = otherwise)", "record(bids = bids, face = face(claim))",
          sprintf("rising <- player(bid = %s)", rule), ...)

test_that("a bid of two parts is one answer, compared as a whole and read by its parts", {
  o <- odds(claims_game())  # 1 1, 1 2, 1 3, 2 1, doubt
  expect_equal(o$outcomes$probability, c(0, 1))
  expect_equal(o$records$mean, c(4, 1))
  got <- check_game(claims_game(
    'example("by parts", given(bid = c("1 3", "2 2", doubt)), expect(claim == "2 2", face = 2))',
    'example("no going back", given(bid = c("2 1", "1 3")), expect(error = illegal_answer))'))
  expect_identical(got$examples$got, c("", ""))
  expect_error(claims_game("record(wrong = many(bid))"), NA)
  expect_error(odds(claims_game("record(wrong = many(bid))")), class = "basanos_position_outside")
  picked <- odds(claims_game(rule = "pick(choices)"))
  # Of six claims in order, and doubt from the second on: the first bid is a 1 with one half.
  expect_equal(picked$records$mean[[1]], {
    expected <- numeric(7)  # bids to come above claim k
    for (k in 5:1) expected[[k]] <- sum((1 + expected[(k + 1):6])) / (6 - k + 1)
    mean(1 + expected[1:6])
  })
})

test_that("ranges and names are offered together, and a number is compared with the name that it is", {
  g <- function(rule) game_of("seats(guest)", "wheel <- die(0:9)", "state(shown = 0)",
    "play({ ask(guest, field = one_of(1:6, red, black))\n shown <- roll(wheel) })",
    "outcomes(straight = field == shown, colour = field == red && shown > 6, lost = otherwise)",
    sprintf("even <- player(field = %s)", rule))
  expect_equal(odds(g("4"))$outcomes$probability, c(0.1, 0, 0.9))
  expect_equal(odds(g("red"))$outcomes$probability, c(0, 0.3, 0.7))
  expect_equal(odds(g("pick(choices)"))$outcomes$probability, c(6 / 80, 3 / 80, 71 / 80))
  expect_error(g("7"), class = "basanos_error")
})

test_that("the best of nothing is no answer where another is preferred next", {
  g <- game_of("seats(guest)", "cube <- die(1:6)", "state(seen = 0)",
               "play({ seen <- roll(cube)\n ask(guest, n = one_of(1:6)) })",
               "outcomes(higher = n > seen, other = otherwise)",
               "above <- player(n = prefer(least(those(1:6, it > seen), it), 1))")
  expect_equal(odds(g)$outcomes$probability, c(5, 1) / 6)
})

# --- what one sees, and what one peeks at ----------------------------------------------

test_that("a player that peeks names what it peeks at, and answers after the others", {
  signs <- function(...) game_of("seats(left, right)",
    "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)",
    "play({ ask(seats, throw = one_of(sign)) })",
    "outcomes(wins = who(beats(throw[it], throw[other(it)])), draw = otherwise)",
    "even <- player(throw = pick(choices))", ...)
  cheat <- "cheat <- player(throw = most(choices, as = own, if (beats(own, throw[other(me)])) 1 else 0), peeks = throw)"
  expect_equal(odds(signs(cheat), players = list(left = "cheat"))$outcomes$probability, c(1, 0, 0))
  expect_equal(odds(signs(cheat), players = list(right = "cheat:3,even:7"))$outcomes$probability,
               c(0.7, 1.6, 0.7) / 3)  # left, right, draw: 0.7 even, 0.3 lost
  expect_error(odds(signs(cheat), players = list(left = "cheat", right = "cheat")), class = "basanos_answers_wait")
  expect_error(signs(sub(", peeks = throw", "", cheat)), class = "basanos_answer_unseen")
  by_function <- c("looks <- function(s) throw[other(s)]", "sly <- player(throw = looks(me))")
  expect_error(signs(by_function), class = "basanos_answer_unseen")
  hands <- function(player) game_of("seats(left, right)", "cube <- die(1:6)",
    "state(hand = each(seat, bag(cube, room = 3, seen_by = owner)), secret = one(cube, seen_by = nobody))",
    "play({ secret <- roll(cube)\n hand[right] <- roll(cube, 2)\n ask(left, go = one_of(yes, no)) })",
    "outcomes(gone = go == yes, stays = otherwise)", player)
  expect_error(hands("spy <- player(go = any(hand[right], it > 3), peeks = hand)"), NA)
  expect_error(hands("spy <- player(go = secret > 3, peeks = hand)"), class = "basanos_peek")
  expect_error(hands("spy <- player(go = secret > 3 && size(hand[right]) > 1, peeks = c(hand, secret))"), NA)
  expect_error(hands("fair <- player(go = size(hand[right]) > 1)"), NA)  # how many is public
  expect_error(hands("sly <- player(go = size(those(hand[right], it > 3)) > 1)"), class = "basanos_peek")
  hidden <- function(...) game_of("seats(left, right)", "cube <- die(1:6)",
    "state(hand = each(seat, bag(cube, room = 3, seen_by = owner, hide_size = yes)))",
    "play({ hand[right] <- roll(cube, 2)\n ask(left, go = one_of(yes, no)) })",
    "outcomes(gone = go == yes, stays = otherwise)", ...)
  expect_error(hidden("fair <- player(go = size(hand[right]) > 1)"), class = "basanos_peek")
  expect_error(hidden("fair <- player(go = size(hand[me]) > 1)"), NA)
})

test_that("an answer is seen by the seat that gives it, however that seat is named", {
  secret_bids <- function(seen_by, rule = "pick(choices)",
                          ask = "for (s in seats) ask(s, bid = one_of(1:3)%s)") game_of(
    "seats(left, right)", "state(own = each(seat, one(0:9, seen_by = owner)))",
    sprintf("play({ %s\n})", sprintf(ask, sprintf(", seen_by = %s", seen_by))), "outcomes(over = otherwise)",
    sprintf("even <- player(bid = %s)", rule))
  for (owner in c("s", "owner", "it")) {
    traced <- trace_round(secret_bids(owner), sees = "left")
    expect_match(paste(format(traced), collapse = "\n"), "right: bid = (unseen)", fixed = TRUE)
  }
  expect_match(paste(format(trace_round(secret_bids("everyone"), sees = "left")), collapse = "\n"),
               "right: bid = [123]")
  expect_error(secret_bids("t"), class = "basanos_seen_by_whom")
  expect_error(secret_bids("s", "if (own[other(me)] > 2) 1 else 2"), class = "basanos_peek")
})

test_that("a rule reads the local values that everybody sees", {
  rules <- function(play, rule) game_of("seats(guest)", "cube <- die(1:6)",
    "state(kept = 0, secret = one(cube, seen_by = nobody))", sprintf("play({ %s\n if (go == yes) kept <- 1 })", play),
    "outcomes(kept_it = kept == 1, left_it = otherwise)", sprintf("careful <- player(go = %s)", rule))
  seen <- rules("first <- roll(cube)\n ask(guest, go = one_of(yes, no))", "first > 4")
  expect_equal(odds(seen)$outcomes$probability, c(1, 2) / 3)
  own <- rules("first <- roll(cube)\n ask(guest, go = one_of(yes, no))", "{ first <- 2\n first > 4 }")
  expect_equal(odds(own)$outcomes$probability, c(0, 1))
  hidden <- "secret <- roll(cube)\n half <- secret %/% 2\n ask(guest, go = one_of(yes, no))"
  expect_error(rules(hidden, "half > 1"), class = "basanos_unknown_name")
  unset <- "if (kept == 0) first <- roll(cube)\n ask(guest, go = one_of(yes, no))"
  expect_error(rules(unset, "first > 4"), class = "basanos_unknown_name")
})

test_that("what is written next works, or is refused with the form that does", {
  rules <- function(...) game_of("seats(guest, keeper, third)", "cube <- die(1:6)",
    "sign <- signs(ring(reef, boat, squall, beats = 1, verb = wrecks))", "outcomes(over = otherwise)", ...)
  three_keys <- rules("state(box = each(1:3, 1:3, 1:3, 0), n = 0)",
                      "play({ box[1, 2, 3] <- 4\n n <- sum(box[1, , ]) + max(box[1, 2, ]) })", "record(n = n)")
  expect_equal(odds(three_keys)$records$mean, 8)
  small <- rules("small <- function() those(sign, it != reef)", "play({ ask(guest, go = one_of(small())) })",
                 "p <- player(go = pick(choices))", "record(boat = go == boat)")
  expect_equal(odds(small)$records$mean, 0.5)
  refused <- function(pattern, ...) {
    e <- tryCatch(rules(...), basanos_error = identity)
    expect_match(conditionMessage(e), pattern, fixed = TRUE)
  }
  refused("small <- function() those(sign, it != reef)", "small <- names(those(sign, it != reef))", "play({ n <- 1 })")
  refused("those(sign, it != reef)", "play({ ask(guest, go = one_of(sign - reef)) })")
  refused("those(seats, it != s)", "state(m = 0)", "play({ for (s in seats) for (o in others(s)) add(1, to = m) })")
  refused("one(seats)", "state(loser = 0)", "play({ for (mover in turns(each = 1)) loser <- mover })")
  refused("c(...)", "play({ n <- list(1, 2) })")
  refused("declared is `cube`", "play({ n <- roll(dice) })")
  refused("next_seat(s)", "state(n = each(seat, 0))", "play({ n[next(guest)] <- 1 })")
})

test_that("most and least take conditions", {
  path <- game_of(c('title("Most", "Pick a winning sign.")', "seats(guest)",
    "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)", "state(shown = one(sign))",
    "play({", "  shown <- pick(sign)", "  ask(guest, throw = one_of(sign))", "})",
    "outcomes(won = beats(throw, shown), same = throw == shown, lost = otherwise)",
    "clever <- player(throw = most(choices, beats(it, shown)))",
    "poor <- player(throw = least(choices, as = mine, beats(mine, shown)))",
    "chancy <- player(throw = least(choices, beats(it, shown), ties = chance))"))
  of <- function(player) unname(probabilities(odds(path, engine = "exact", players = list(guest = player))))
  expect_equal(of("clever"), c(1, 0, 0))
  expect_equal(of("poor"), c(0, 2, 1) / 3)  # the first that does not win: the reef, or beside a boat the boat
  expect_equal(of("chancy"), c(0, 1, 1) / 2)
  expect_identical(try_expression("lantern-tiles", "most(c(3, 5, 8), it > 4)"), 5L)
  expect_identical(try_expression("lantern-tiles", "most(c(3, 5, 8), it > 9)"), 3L)
})

test_that("the name of a die stands for its faces among answers", {
  game_with <- function(die, call) game_of(c('title("Call it", "Call a face before the throw.")', "seats(guest)",
    sprintf("cube <- %s", die), "spinner <- die(red = 1, blue = 2, green = 1)",
    "state(face = 0, colour = one(spinner))", "play({", "  ask(guest, call = one_of(cube))",
    "  ask(guest, shade = one_of(spinner))", "  face <- roll(cube)", "  colour <- roll(spinner)", "})",
    "outcomes(both = call == face && shade == colour, one = call == face || shade == colour, neither = otherwise)",
    sprintf("usual <- player(call = %s, shade = blue)", call)))
  expect_equal(unname(probabilities(odds(game_with("die(1:6)", "3")))), c(1, 6, 5) / 12)
  expect_equal(unname(probabilities(odds(game_with("die(c(2, 4, 8))", "4")))), c(1, 3, 2) / 6)
  expect_equal(unname(probabilities(odds(game_with("die(2, 4, 8)", "most(choices)")))), c(1, 3, 2) / 6)
  expect_equal(unname(probabilities(odds(game_with("die(1:3, 6)", "6")))), c(1, 4, 3) / 8)
  expect_equal(unname(probabilities(odds(game_with("die(6)", "6")))), c(1, 1, 0) / 2)
  expect_error(odds(game_with("die(c(2, 4, 8))", "3")), class = "basanos_illegal_answer")
  expect_error(odds(game_with("die(1:6)", "7")), class = "basanos_illegal_answer")
})
