# Pools: lists and bags made by an expression.

kinds <- c("five_alike", "four_alike", "full", "run", "three_alike", "rest")

five_dice <- function(...)
  game_of("seats(guest)", "cube <- die(1:6)", "state(dice = bag(cube, room = 5))", "play({ dice <- roll(cube, 5) })",
  paste0("outcomes(five_alike = groups(dice) == c(5), four_alike = groups(dice) == c(4, 1), ",
         "full = groups(dice) == c(3, 2), run = longest_run(dice) == 5, three_alike = ",
         "max(groups(dice)) == 3, rest = otherwise)"),
  "record(total = sum(dice), high = max(dice), sixes = count(dice, it == 6), run = longest_run(dice))", ...)

test_that("five dice at once: exact is what listing all 7776 throws gives", {
  throws <- as.matrix(expand.grid(rep(list(1:6), 5)))
  sizes <- t(apply(throws, 1, function(t) sort(c(tabulate(t, 6)), decreasing = TRUE)))
  runs <- apply(throws, 1, function(t) { r <- rle(diff(sort(unique(t)))); max(c(0, r$lengths[r$values == 1])) + 1 })
  end <- ifelse(sizes[, 1] == 5, "five_alike",
                ifelse(sizes[, 1] == 4, "four_alike",
                       ifelse(sizes[, 1] == 3 & sizes[, 2] == 2, "full",
                              ifelse(runs == 5, "run", ifelse(sizes[, 1] == 3, "three_alike", "rest")))))
  exact <- odds(five_dice())
  expect_equal(probabilities(exact)[kinds], table(end)[kinds] / 7776, ignore_attr = TRUE)
  expect_equal(exact$records$mean,
               c(mean(rowSums(throws)), mean(apply(throws, 1, max)), mean(rowSums(throws == 6)), mean(runs)))
  expect_lt(exact$states, 2000)  # equal bags are equal states
  expect_agrees(odds(five_dice(), engine = "sample", rounds = 2e5), probabilities(exact))
})

test_that("highest and lowest: exact is what listing all throws of four dice gives", {
  throws <- t(apply(expand.grid(rep(list(1:6), 4)), 1, sort))
  g <- game_of("seats(guest)", "cube <- die(1:6)", "state(dice = bag(cube, room = 4))",
               "play({ dice <- roll(cube, 4) })", "outcomes(much = sum(highest(dice, 3)) > 14, little = otherwise)",
               "record(best = sum(highest(dice, 2)), least = sum(lowest(dice, 2)), second_best = highest(dice, 2)[2])")
  exact <- odds(g)
  expect_equal(probabilities(exact)[["much"]], mean(rowSums(throws[, 2:4]) > 14))
  expect_equal(exact$records$mean, c(mean(rowSums(throws[, 3:4])), mean(rowSums(throws[, 1:2])), mean(throws[, 3])))
  expect_agrees(odds(g, engine = "sample", rounds = 2e5), probabilities(exact))
})

test_that("highest and lowest look at an expression, take all of fewer, and give way to what a game calls so", {
  digits <- function(rows) result_of(sprintf("for (f in %s) result <- result * 10 + f", rows))
  expect_equal(digits("highest(c(3, 6, 1, 6, 2), 3)"), 663)
  expect_equal(digits("lowest(c(3, 6, 1, 6, 2), 3)"), 123)
  expect_equal(digits("highest(c(3, 6, 1), 2, 7 - it)"), 64)
  expect_equal(digits("lowest(4:9, 2, abs(it - 6))"), 1)
  expect_equal(digits("highest(c(3, 6), 5)"), 63)
  expect_equal(result_of("result <- size(highest(c(3, 6), 0))"), 0)
  expect_equal(result_of("result <- highest(4, 3)", "highest <- function(a, b) a * b"), 12)
  wrong <- tryCatch(result_of("result <- sum(highest(c(3, 6), 1, it > 3))"), error = identity)
  expect_match(conditionMessage(wrong), "`highest` compares numbers, not yes or no.*write an expression")
  wrong <- tryCatch(result_of("result <- sum(sort(c(3, 6)))"), error = identity)
  expect_match(conditionMessage(wrong), "no function `sort`.*write highest\\(x, n\\)")
})

test_that("draws of a pool are forced one by one", {
  g <- five_dice(paste0('example("a full house", given(cube = c(2, 5, 2, 5, 5)), ',
                        'expect(outcome = full, total = 19, sixes = 0, dice == c(5, 2, 5, 2, 5)))'))
  expect_true(check_game(g)$ok)
})

test_that("those, c, +, == and size on lists and bags", {
  collection <- function(then)
    result_of(paste0("put(4, into = faces)\n put(2, into = faces)\n put(4, into = faces)\n", then),
              state = "result = 0, faces = bag(cube, room = 9), row = list(cube, room = 9)")
  expect_equal(collection("result <- sum(those(faces, it > 3))"), 8)
  expect_equal(collection("faces <- those(faces, it != 4)\n result <- size(faces) * 10 + faces[1]"), 12)
  expect_equal(collection("faces <- faces + c(6, 1)\n result <- faces[1] * 1000 + size(faces) * 100 + sum(faces)"),
               1517)
  expect_equal(collection("row <- faces + faces\n result <- size(row) * 10 + row[6]"), 64)
  expect_equal(collection(paste0("if (faces == c(2, 4, 4)) add(1, to = result)\n if (faces == c(4, 4, 2)) add(10, to ",
                                 "= result)\n if (faces != c(4, 2)) add(100, to = result)")), 111)
  expect_equal(collection(paste0("row <- c(4, 2, 4)\n if (row == c(2, 4, 4)) add(1, to = result)\n if (row == c(4, 2, ",
                                 "4)) add(10, to = result)")), 10)
  expect_equal(collection("kept <- those(faces, it == 4)\n kept <- kept + kept\n result <- size(kept)"), 4)
  expect_equal(collection("for (f in c(1, 5, 2)) result <- result * 10 + f"), 152)
  expect_equal(collection(paste0("result <- size(c(3, 1, 2)) + size(those(1:10, it %% 3 == 0)) * 10 + count(c(1, 2, ",
                                 "2), it == 2) * 100")), 233)
})

test_that("most and least, with the first on a tie, also of choices", {
  expect_equal(result_of("result <- most(c(3, 9, 4)) * 10 + least(c(3, 9, 2, 4))"), 92)
  expect_equal(result_of("result <- most(c(3, 5, 4), abs(it - 4)) * 10 + least(1:9, abs(it - 7))"), 37)
  g <- game_of("seats(a)", "state(n = 3)",
               "play({ ask(a, x = one_of(low, mid, if (n > 5) high))\n ask(a, y = one_of(1:n)) })",
               "outcomes(lows = x == low, mids = x == mid, highs = otherwise)", "record(y = y)",
               "rank_of <- function(l) if (l == high) 3 else if (l == mid) 2 else 1",
               "one <- player(x = most(choices, rank_of(it)), y = least(choices, abs(it - 2)))")
  o <- odds(g)
  expect_equal(probabilities(o)[["mids"]], 1)
  expect_equal(o$records$mean, 2)
})

test_that("functions take and give pools", {
  expect_equal(result_of("result <- worth(c(2, 2, 2, 5)) * 100 + worth(those(c(1, 6, 6), it > 1))",
                         paste0("worth <- function(d) { total <- 0\n for (x in d) add(x, to = total)\n if ",
                                "(max(groups(d)) >= 3) return(total * 10)\n total }")), 11012)
  expect_equal(result_of("result <- size(evens(evens(c(2, 3, 4, 6))))", "evens <- function(d) those(d, it %% 2 == 0)"),
               3)
  expect_equal(result_of(paste0("n <- 2\n kept <- if (n > 1) c(1, 2, 3) else c(4)\n result <- size(kept) + size(if (n ",
                                "> 5) kept else evens(kept) + kept)"), "evens <- function(d) those(d, it %% 2 == 0)"),
                                7)
  expect_equal(result_of("n <- 2\n result <- size(roll(cube, n + 1))"), 3)
})

test_that("pools outgrow their room with an error, and mixed ones are refused", {
  expect_error(odds(game_with("faces <- roll(cube, 5)", state = "result = 0, faces = bag(cube, room = 4)")),
               class = "basanos_room_exceeded")
  expect_error(odds(game_with("many <- 70\n result <- size(roll(cube, many))"), engine = "sample", rounds = 10),
               class = "basanos_room_exceeded")
  expect_error(game_with("result <- most(faces)\n result <- faces", state = "result = 0, faces = bag(cube, room = 4)"),
               class = "basanos_wrong_type")
  expect_error(game_with("if (result == c(1, 2)) result <- 1"), class = "basanos_never_equal")
  expect_error(game_with("if (c(1) < c(2)) result <- 1"), class = "basanos_not_comparable")
})
