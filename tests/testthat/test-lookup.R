# lookup(...): a player's answers from a table in a file.

# A game with these tables beside it, each a vector of lines.
game_beside <- function(rules, ...) {
  folder <- new_folder()
  tables <- list(...)
  for (name in names(tables)) writeLines(tables[[name]], file.path(folder, paste0(name, ".csv")))
  path <- file.path(folder, "game.game")
  writeLines(rules, path)
  game(path)
}

pick_game <- function(rule, answers = "one_of(low, high)", more = character()) c(
  "seats(guest)", "cube <- die(1:6)", "state(thrown = 0, kept = list(1:6, room = 3), half = 0.5)", more,
  "play({", "  thrown <- roll(cube)", "  half <- thrown / 2", "  put(roll(cube), into = kept)",
  "  if (thrown > 3) put(roll(cube), into = kept)", sprintf("  ask(guest, call = %s)", answers), "})",
  "outcomes(right = (call == high) == (thrown > 3), wrong = otherwise)", sprintf("plan <- player(call = %s)", rule))

right <- function(g, ...) {
  o <- odds(g, ...)
  o$outcomes$probability[o$outcomes$name == "right"]
}

test_that("an answer for each value, and otherwise", {
  rows <- c("thrown,answer", "1,low", "2,high", "4,high", "5,high")
  g <- game_beside(pick_game("lookup(thrown, from = \"t.csv\", otherwise = low)"), t = rows)
  expect_equal(right(g), 4 / 6, tolerance = 1e-12)  # wrong at 2 and at 6
  sampled <- odds(g, engine = "sample", rounds = 20000, seed = 3)
  expect_lt(abs(sampled$outcomes$probability[[1]] - 4 / 6), 0.02)
  # without `otherwise` a case that is not there is an error of the table
  g <- game_beside(pick_game("lookup(thrown, from = \"t.csv\")"), t = rows)
  expect_error(odds(g), class = "basanos_lookup_none")
  expect_error(odds(g, engine = "sample", rounds = 100), class = "basanos_lookup_none")
  g <- game_beside(pick_game("lookup(from = \"t.csv\")"), t = c("answer", "high"))  # always the same
  expect_equal(right(g), 1 / 2, tolerance = 1e-12)
})

test_that("a mix of answers", {
  rows <- c("thrown,answer", "1,low", "2,low:1; high:3", "3,low", "4,high", "5,high:0.5;low:0.5", "6,high")
  g <- game_beside(pick_game("lookup(thrown, from = \"t.csv\")"), t = rows)
  expect_equal(right(g), (1 + 0.25 + 1 + 1 + 0.5 + 1) / 6, tolerance = 1e-12)
  sampled <- odds(g, engine = "sample", rounds = 20000, seed = 3)
  expect_lt(abs(sampled$outcomes$probability[[1]] - 4.75 / 6), 0.02)
})

test_that("by fractions, and by lists in their order", {
  g <- game_beside(pick_game("lookup(half, from = \"t.csv\")"),
                   t = c("half,answer", "0.5,low", "1,low", "1.5,low", "2,high", "2.5,high", "3,high"))
  expect_equal(right(g), 1, tolerance = 1e-12)
  # one item where 3 or less was thrown, else two
  pairs <- expand.grid(1:6, 1:6)
  rows <- c("kept,answer", sprintf("%d,low", 1:6), sprintf("\"%d, %d\",high", pairs$Var1, pairs$Var2))
  g <- game_beside(pick_game("lookup(kept, from = \"t.csv\")"), t = rows)
  expect_equal(right(g), 1, tolerance = 1e-12)
  rows[rows == "\"2, 5\",high"] <- "\"2, 5\",low"  # its mirror image stays
  g <- game_beside(pick_game("lookup(kept, from = \"t.csv\")"), t = rows)
  expect_equal(right(g), 1 - 1 / 72, tolerance = 1e-12)
})

test_that("answers of several items", {
  rules <- c("seats(guest)", "cube <- die(1:3)", "state(dice = bag(1:3, room = 2), won = 0)", "play({",
             "  for (k in 1:2) put(roll(cube), into = dice)", "  ask(guest, keep = some_of(dice))",
             "  won <- sum(keep)", "})", "outcomes(over = otherwise)", "record(won = won)",
             "greedy <- player(keep = lookup(dice, from = \"t.csv\"))")
  rows <- c("dice,answer", "\"1, 1\",nothing", "\"1, 2\",2", "\"1, 3\",3", "\"2, 2\",\"2, 2\"",
            "\"2, 3\",\"2, 3:1; 3:1\"", "\"3, 3\",\"3, 3\"")
  o <- odds(game_beside(rules, t = rows), measure = "mean(won)", engine = "exact")
  mean <- (0 + 2 * 2 + 2 * 3 + 4 + 2 * (5 + 3) / 2 + 6) / 9
  expect_equal(o$measures$value[[1]], mean, tolerance = 1e-12)
})

test_that("what is wrong with a table is told", {
  wrong <- function(rows, id, rule = "lookup(thrown, from = \"t.csv\")", text = NULL)
    expect_error(game_beside(pick_game(rule), t = rows), text, class = paste0("basanos_", id))
  wrong(c("thrown,call", "1,low"), "lookup_file", text = "columns")
  wrong(c("thrown,answer"), "lookup_file")
  wrong(c("thrown,answer", "1,low", "1,high"), "lookup_file", text = "Row 2")
  wrong(c("thrown,answer", "one,low"), "lookup_file", text = "one")
  wrong(c("thrown,answer", "1,both"), "lookup_file", text = "both")
  wrong(c("thrown,answer", "1,low:-1; high:2"), "lookup_file")
  wrong(c("thrown,answer", "1,low; high"), "lookup_file")
  wrong("x", "lookup_file", "lookup(thrown, from = \"none.csv\")", "no table")
  wrong("x", "lookup_file", "lookup(thrown, from = \"../t.csv\")")
  marks <- pick_game("lookup(compare(\"ab\", \"ba\"), from = \"t.csv\")", more = "short <- words(\"ab\", \"ba\")")
  expect_error(game_beside(marks, t = c("marks,answer", "1,low")), class = "basanos_lookup_key")
  expect_error(game_beside(pick_game("lookup(thrown, from = \"t.csv\")"),
                           t = c("thrown,answer", "1,low", "30000000,high")), class = "basanos_lookup_large")
  outside <- pick_game("low")
  outside[[6]] <- "  thrown <- lookup(thrown, from = \"t.csv\")"
  expect_error(game_beside(outside, t = "answer"), class = "basanos_word_misplaced")
})
