# The worked story: every command of it runs and says what the docs show.

test_that("the story says what docs/story.md shows", {
  told <- test_path("..", "..", "docs", "story.md")
  skip_if_not(file.exists(told), "the sources are not here")
  lines <- readLines(told, encoding = "UTF-8")
  opens <- which(lines == "```text")
  steps <- Filter(function(s) !is.null(s$command), story_steps())
  expect_length(opens, length(steps))
  expect_gte(length(steps), 9)
  folder <- story_folder()
  for (k in seq_along(steps)) {
    expect_identical(lines[opens[[k]] - 3], steps[[k]]$command)
    shown <- lines[(opens[[k]] + 1):(min(which(lines == "```" & seq_along(lines) > opens[[k]])) - 1)]
    expect_identical(story_output(steps[[k]]$command, folder), shown, info = steps[[k]]$command)
  }
  # the file that balance wrote gives back what was wanted
  o <- odds(file.path(folder, "net-toss-balanced.game"), engine = "exact",
            measure = c("return_of(guest)", "gain(guest)", "mean(thrown)"))
  expect_true(all(o$measures$value >= c(0.92, 1 / 3, 0) & o$measures$value <= c(0.94, 1, 4)))
})

test_that("the word list of the demo has comments, and is read", {
  folder <- story_folder()
  path <- file.path(folder, "market.game")
  writeLines(c('stalls <- words("market-words.txt", length = 5)', "seats(guest)", "state(w = one(stalls))",
               "play({ w <- pick(stalls) })", "outcomes(over = otherwise)"), path)
  expect_true(check_game(path, findings = FALSE)$ok)
})
