# Every game in the guide checks clean and runs.

test_that("the games of the guide check clean and run", {
  path <- test_path("..", "..", "docs", "language.md")
  skip_if_not(file.exists(path))
  lines <- readLines(path, encoding = "UTF-8")
  fences <- grep("^```", lines)
  blocks <- Map(function(from, to) lines[(from + 1):(to - 1)], fences[c(TRUE, FALSE)], fences[c(FALSE, TRUE)])
  expect_gte(length(blocks), 7)
  for (block in blocks) {
    file <- tempfile(fileext = ".game")
    writeLines(block, file, useBytes = TRUE)
    check <- check_game(file, findings = FALSE)
    expect_true(check$ok, info = paste(format(check), collapse = "\n"))
    expect_no_error(odds(file, engine = "sample", rounds = 200))
  }
})
