# Rules as code blocks of a document, and the guides.

skip_if_not_installed("knitr")

knitted <- function(...) {
  folder <- tempfile()
  dir.create(folder)
  old <- setwd(folder)
  on.exit(setwd(old))
  writeLines(c(...), "text.Rmd")
  knitr::knit("text.Rmd", quiet = TRUE, envir = new.env())
  readLines("text.md")
}

rules <- c("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "play({ face <- roll(cube) })",
           "outcomes(high = face > 4, low = otherwise)", "example(\"a five\", given(cube = 5), expect(outcome = high))")

test_that("a block is checked, its examples are told, and a game is left", {
  lines <- knitted("```{r}", "library(basanos)", "```", "", "```{basanos high-cube}", rules, "```", "",
                   "The chance is `r round(odds(high_cube)$outcomes$probability[[1]], 4)`.", "",
                   "```{basanos other, game = \"named\"}", rules, "```", "", "`r is_game(named)`")
  expect_match(lines, "holds  a five", all = FALSE, fixed = TRUE)
  expect_match(lines, "The rules are in order, and its example holds.", all = FALSE, fixed = TRUE)
  expect_match(lines, "The chance is 0.3333.", all = FALSE, fixed = TRUE)
  expect_match(lines, "^TRUE$", all = FALSE)
})

test_that("the options of a block may stand in it", {
  lines <- knitted("---", "title: High cube", "engine: knitr", "---", "", "```{r}", "#| include: false",
                   "library(basanos)", "```", "", "```{basanos}", "#| label: high-cube", "#| echo: false", rules,
                   "```", "", "The chance is `r round(odds(high_cube)$outcomes$probability[[1]], 4)`.")
  expect_match(lines, "holds  a five", all = FALSE, fixed = TRUE)
  expect_match(lines, "The chance is 0.3333.", all = FALSE, fixed = TRUE)
  expect_false(any(grepl("seats(guest)", lines, fixed = TRUE)))
})

test_that("a block that does not hold stops the document with its place, or shows it", {
  wrong <- sub("face > 4", "fase > 4", rules)
  stopped <- function() suppressMessages(
    knitted("```{r}", "library(basanos)", "```", "", "```{basanos bad, error = FALSE}", wrong, "```"))
  expect_error(stopped(), "bad.game:5:17.*did you mean `face`")
  shown <- knitted("```{r}", "library(basanos)", "```", "", "```{basanos bad, error = TRUE}", wrong, "```")
  expect_match(shown, "did you mean `face`", all = FALSE, fixed = TRUE)
  expect_silent(knitted("```{basanos unread, eval = FALSE}", wrong, "```"))
})

test_that("every block of the guides runs", {
  folder <- testthat::test_path("..", "..", "vignettes")
  skip_if_not(dir.exists(folder), "the guides are not here")
  skip_if_not_installed("ggplot2")
  guides <- list.files(folder, "[.]Rmd$", full.names = TRUE)
  texts <- lapply(guides, readLines)
  expect_gte(length(guides), 7)
  for (k in seq_along(guides)) {
    lines <- knitted(texts[[k]])
    expect_false(any(grepl("Error", lines)), info = guides[[k]])
    expect_true(any(grepl("^#> ", lines)), info = guides[[k]])
  }
})

test_that("the example document says what docs/document.md shows", {
  folder <- testthat::test_path("..", "..", "docs")
  skip_if_not(dir.exists(folder), "the docs are not here")
  skip_if_not_installed("ggplot2")
  written <- readLines(file.path(folder, "document.Rmd"))
  shown <- readLines(file.path(folder, "document.md"))[-1]
  lines <- knitted(written)
  bare <- function(x) x[grepl("^#>", x) | grepl("^#> *holds", x)]
  expect_identical(bare(lines), bare(shown))
  expect_gt(length(bare(shown)), 10)
})
