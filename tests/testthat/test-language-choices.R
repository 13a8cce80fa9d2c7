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
