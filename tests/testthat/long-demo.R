# The demo of the README.

test_that("the demo tells the whole story and leaves a figure and a page", {
  skip_if_not_installed("ggplot2")
  skip_if_not_installed("htmltools")
  path <- tempfile(fileext = ".png")
  page <- tempfile(fileext = ".html")
  demo <- at_command_line("demo", "--rounds", "20000", "--out", path, "--report", page)
  expect_identical(demo$code, 0L)
  expect_match(demo$out, "all 6 examples hold", all = FALSE)
  expect_identical(readBin(path, "raw", 4)[2:4], charToRaw("PNG"))
  expect_match(readLines(page, n = 1), "<!DOCTYPE html>", fixed = TRUE)
  ends <- c("The figure: ", "Now the fair on one page, of 5 games", normalizePath(page), "Now try: exec/basanos odds")
  lines <- vapply(ends, function(text) max(grep(text, demo$out, fixed = TRUE)), 0)
  expect_identical(order(lines), 1:4)
  expect_identical(lines[[4]], as.numeric(length(demo$out)))
})
