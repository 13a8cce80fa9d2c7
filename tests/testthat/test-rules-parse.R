source_of <- function(...) source_of_text(paste(c(...), collapse = "\n"), "test.game")
ids_of <- function(...) vapply(parse_rules(source_of(...))$diagnostics, `[[`, "", "id")

test_that("every node knows its place, and operators are calls", {
  node <- parse_rules(source_of("x <- 1", "score <- f(a = 2,", "           b[c]) + 1"))$nodes[[2]]
  expect_identical(node$fn, "<-")
  sum <- node$args[[2]]
  expect_identical(sum$fn, "+")
  expect_equal(sum$at, c(2, 10, 3, 20))
  call <- sum$args[[1]]
  expect_identical(call$names, c("a", ""))
  expect_equal(call$name_at[[1]], c(2, 12, 2, 12))
  expect_equal(call$args[[2]]$at, c(3, 12, 3, 15))
})

test_that("columns count letters, not bytes", {
  problems <- parse_rules(source_of('title("\u00c9t\u00e9 \u2603", x = $y)'))$diagnostics
  expect_equal(problems[[1]]$at[[2]], 20)
})

test_that("a problem in one chunk does not hide those in the next", {
  expect_setequal(ids_of("a <- 1 2", "b <- (1", "c <- 1", "d <- 3 +", "e <- x++"),
                  c("syntax", "bracket_open", "syntax", "habit_increment"))
})

test_that("brackets and quotes inside texts and comments do not count", {
  expect_length(ids_of('title("( [ {", "it\'s }")  # ( and "', "x <- 1"), 0)
  expect_identical(ids_of('title("never ends', "x <- 1"), "text_unclosed")
})

test_that("numbers that are not plain are refused", {
  for (number in c("1e400", "0x10", "5L", "010", "3000000000", "Inf", "NA"))
    expect_identical(ids_of(paste("x <-", number)), "not_in_language", info = number)
  expect_length(ids_of("x <- 1e3"), 0)
})

test_that("what R has and the language has not is refused by name", {
  for (text in c("a$b", "a@b", "a::b", "~a", "?a", "\\(x) x", "a |> f()", "a[[1]]", "NULL", "a -> b", "a <<- b",
                 "a & b", "a | b", "f(x)(y)")) {
    expect_identical(unique(ids_of(paste("x <-", text))), "not_in_language", info = text)
  }
})

test_that("habits are not seen where there are none", {
  fine <- c("if (x == 1 && y <= 2) a <- b - -1", "for (i in 1:6) z <- i", "f(from = 1, to = 2)", "x <- c(2:10, J, Q)",
            'say("a += 1; x++ and y")', "y <- x %% 2", "if (f(a = 1) >= 2) b <- 3", "x <- 1e5", "else_case <- 3")
  for (line in fine) expect_length(find_habits(scan_brackets(line)$masked), 0)
})

test_that("line ends of other systems, a byte order mark and tabs are read", {
  lines <- readLines(system.file("games", "tide-signs.game", package = "basanos"))
  path <- tempfile(fileext = ".game")
  writeBin(c(as.raw(c(0xef, 0xbb, 0xbf)), charToRaw(paste(gsub("  ", "\t", lines), collapse = "\r\n"))), path)
  expect_equal(odds(path)$outcomes, odds("tide-signs")$outcomes)
})
