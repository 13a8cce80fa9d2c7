# Branches that no example goes through, with a round that does; branches and answers that nothing reaches.

reach <- function(...) {
  found <- check_game(game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0, stake = 0)", ...,
                              "outcomes(high = face > 4, low = otherwise)"))$findings
  found[found$id %in% c("branch_untried", "branch_unreached", "answer_never"), ]
}

test_that("a branch without an example comes with draws and answers that lead to it", {
  play <- paste0("play({ face <- roll(cube)\n if (face == 6) face <- 5 else face <- 1\n ask(guest, ",
                 "choice = one_of(stay, double))\n if (choice == double && face == 5) stake <- 2 })")
  even <- "even <- player(choice = stay)"
  none <- reach(play, even)
  expect_identical(none$id, rep("branch_untried", 3))
  expect_match(none$message[[1]], "`face == 6` holds. This round does: given(cube = 6, rest = stop)", fixed = TRUE)
  expect_match(none$message[[2]], "`face == 6` does not hold. This round does: given(cube = 1, rest = stop)",
               fixed = TRUE)
  expect_match(none$message[[3]], "given(cube = 6, choice = double, rest = stop)", fixed = TRUE)
  some <- reach(play, even, 'example("six", given(cube = 6, choice = double), expect(stake == 2))')
  expect_match(some$message, "`face == 6` does not hold", fixed = TRUE)
  given <- sub(".*This round does: ", "", none$message[[3]])
  expect_identical(nrow(reach(play, even, sprintf('example("found", %s, expect(stake == 2))', given),
                              'example("else", given(cube = 1, choice = stay), expect(face == 1))')), 0L)
})

test_that("what no round reaches is told, also answers that are never legal", {
  never <- reach(paste0("play({ face <- roll(cube)\n if (face > 6) face <- 1\n ask(guest, choice = ",
                        "one_of(stay, if (face > 7) double, if (face == 3) split)) })"),
                        "even <- player(choice = stay)")
  expect_setequal(never$id, c("branch_unreached", "answer_never"))
  expect_match(never$message[never$id == "branch_unreached"], "No round gets to where `face > 6` holds.", fixed = TRUE)
  expect_identical(never$message[never$id == "answer_never"], "The answer `double` is never legal.")
})

test_that("branches of functions and of values count, what the settings decide does not", {
  found <- reach("bonus <- setting(no)", "worth <- function(n) if (n > 5) 10 else n",
                 "play({ face <- roll(cube)\n if (bonus) face <- 6\n stake <- worth(face) })",
                 'example("five", expect(worth(5) == 5))')
  expect_identical(found$id, "branch_untried")
  expect_match(found$message, "`n > 5` holds. This round does: given(cube = 6, rest = stop)", fixed = TRUE)
})

test_that("a branch too deep for the shortest way is found by playing rounds", {
  found <- reach(paste0("play({ for (i in 1:60) { face <- roll(cube)\n add(face, to = stake) }\n if (stake > ",
                        "215) face <- 1 })"))
  expect_identical(found$id, "branch_untried")
  expect_match(found$message, "A round of many draws does.", fixed = TRUE)
})

test_that("check names the record without which an exact count is quick, and gives shares with their interval", {
  slow <- function(records) check_game(game_of("cube <- die(1:6)", "state(x = 0, rolls = 0, high = 0)",
    "play({ while (x < 900) {\n f <- roll(cube)\n add(1, to = rolls)\n if (f > 3) add(1, to = high)\n",
    " add(f, to = x)\n } })",
    "outcomes(over = x > 904, nearly = x == 904, level = otherwise)", records))$findings
  # squared: sums as they are can be counted beside the states
  both <- slow("record(rolls = rolls * rolls, high = high * high)")
  expect_match(both$message[both$id == "record_slow"],
               "Without recording `rolls`, `high`, an exact count takes 7 275 states.")
  expect_match(both$message[both$id == "outcome_rest"], "85.71% of the rounds fall to `level = otherwise`",
               fixed = TRUE)
  expect_false("record_slow" %in% slow("")$id)
})

test_that("an answer that is not legal is told with the legal ones and how things stand, by check and by odds", {
  game <- game_of("seats(a, b)", "cube <- die(1:6)", "state(n = 0, left = 5)",
    "play({ for (mover in turns(until = left == 0)) {\n n <- roll(cube)\n ask(mover, take = one_of(1:min(3, left)))",
    " add(-take, to = left) } })", "outcomes(low = n < 2, mid = otherwise)", "ok <- player(take = 1)",
    "bad <- player(take = if (left < 3) 3 else 2)")
  found <- check_game(game)$findings
  told <- found$message[found$id == "illegal_answer"]
  expect_length(told, 1)  # once, not for each seat
  expect_match(told,
               "With `bad` as a:.*The answer is 3; legal is a whole number from 1 to 2. There n is [1-6]; left is 2.")
  for (engine in c("exact", "sample")) {
    e <- tryCatch(odds(game, engine = engine, players = list(a = "bad")), error = identity)
    expect_s3_class(e, "basanos_illegal_answer")
    expect_match(conditionMessage(e), "The answer is 3; legal is a whole number from 1 to [12]")
  }
  endless <- game_of("seats(a)", "state(n = 0)",
    "play({ repeat {\n ask(a, go = one_of(left, right))\n if (go == left) n <- (n + 1) %% 3 else break } })",
    "outcomes(over = otherwise)", "ok <- player(go = right)", "stuck <- player(go = left)")
  found <- check_game(endless)$findings
  expect_match(found$message[found$id == "loop_endless"], "With `stuck` as a: .* There n is [012][.]")
})

test_that("signs that are not even, and one that is never better than another, are named", {
  found <- check_game("cork-signs")$findings
  expect_match(found$message[found$id == "signs_uneven"], "`cork` beats 0 and loses to 3")
  expect_match(found$message[found$id == "sign_dominated"], "`cork` is never better than `reef`")
  expect_false(any(c("signs_uneven", "sign_dominated") %in% check_game("tide-signs")$findings$id))
})

test_that("an answer that is never better than another is named", {
  rules <- function(pay) game_of("seats(guest)", "cube <- die(1:6)", "state(n = 0)",
    "play({ n <- roll(cube)\n ask(guest, go = one_of(keep, burn, double)) })",
    "outcomes(high = n > 3, low = otherwise)",
    sprintf("pays(guest, %s)", pay), "p <- player(go = keep)")
  found <- check_game(rules("if (go == double) 2 * (n - 3) else if (go == keep) n - 3 else n - 4"))$findings
  expect_match(found$message[found$id == "answer_dominated"],
               "At `go`, `burn` is never better than `keep`: in 1 000 rounds")
  even <- check_game(rules("if (go == double) 2 * (n - 3) else if (go == keep) n - 3 else 3 - n"))$findings
  expect_false("answer_dominated" %in% even$id)
})
