# Rules that go through very many choices: what they answered before is given again, and nothing else changes.

guessing_game <- function(rule) {
  game_of("ball <- die(1:200)", "seats(guesser)", "state(secret = 1, tries = 0, past_sum = 0)",
    "play({", "secret <- roll(ball)", "repeat {", "ask(guesser, guess = one_of(1:200))", "add(1, to = tries)",
    "add(guess %% 7, to = past_sum)", "if (guess == secret || tries == 4) break", "}", "})",
    "outcomes(found = guess == secret, missed = otherwise)", "record(tries = tries, past_sum = past_sum)",
    "liking <- function(n) sum(1:5, it * n * (tries + 1) + past_sum) %% 23", "is_liked <- function(n) liking(n) > 18",
    sprintf("only <- player(guess = %s)", rule))
}

never_recalling <- function(program) {
  memos <- program$code[1, ] == operation_codes()[["MEMO"]]
  testthat::expect_gt(sum(memos), 0)
  program$code[1, memos] <- operation_codes()[["TRACE"]]
  program
}

test_that("a recalled answer is the one worked out, with and without chance in the rule", {
  rules <- c("most(choices, liking(it))", "if (tries == 1) pick(choices) else least(choices, liking(it))",
             "{ liked <- those(choices, is_liked(it))\n if (tries == 0) most(liked, it) else pick(liked) }")
  for (rule in rules) {
    program <- compile_game(guessing_game(rule))
    expect_identical(core_sample(program, 3, 1, 400, 1L, NULL),
                     core_sample(never_recalling(program), 3, 1, 400, 1L, NULL), info = rule)
    expect_identical(core_sample(program, 3, 1, 4000, 2L, NULL), core_sample(program, 3, 1, 4000, 1L, NULL),
                     info = rule)
  }
})

test_that("a round whose steps run out does so with a recalled answer too", {
  program <- compile_game(guessing_game("if (tries < 2) most(choices, it %% 50) else most(choices, liking(it))"))
  for (budget in c(100, 1500, 3000, 6000)) {
    program$step_budget <- budget
    plain <- core_sample(never_recalling(program), 3, 1, 50, 1L, NULL)
    expect_identical(core_sample(program, 3, 1, 50, 1L, NULL), plain)
    if (budget < 3000) expect_gt(plain$failure$fail, 0)
  }
})

test_that("words are counted exactly over all secrets", {
  exact <- odds("tide-words", engine = "exact", players = list(guesser = "wary"))
  secrets <- unique(readLines(system.file("games", "six-secret.txt", package = "basanos")))
  secrets <- secrets[grepl("^[a-z]+$", secrets)]
  expect_true(exact$complete)
  used <- exact$distributions$guesses_used
  expect_equal(used$probability * length(secrets), round(used$probability * length(secrets)))
  sampled <- odds("tide-words", engine = "sample", rounds = 2e4, players = list(guesser = "wary"))
  expect_lt(abs(sampled$records$mean - exact$records$mean) / sampled$records$standard_error, 4)
})
