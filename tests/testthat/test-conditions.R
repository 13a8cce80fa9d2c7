source_with <- function(...) list(name = "my.game", lines = c(...))

test_that("a problem shows its place, line, caret and how to mend it", {
  p <- diagnostic("unknown_name", "What is `fase`?", "did you mean `face`?", c(2L, 3L, 2L, 6L))
  expect_identical(strsplit(format_diagnostic(p, source_with("play({", "  fase", "})")), "\n")[[1]],
                   c("my.game:2:3: What is `fase`? [unknown_name]", "     2 |   fase", "       |   ^^^^",
                     "  hint: did you mean `face`?"))
})

test_that("tabs, long spans and places past the end do not break the picture", {
  shown <- function(at, ...)
    strsplit(format_diagnostic(diagnostic("syntax", "Hm.", NULL, at), source_with(...)), "\n")[[1]]
  expect_identical(shown(c(1L, 2L, 1L, 3L), "\tab"), c("my.game:1:2: Hm. [syntax]", "     1 |  ab", "       |  ^^"))
  expect_identical(shown(c(1L, 3L, 4L, 1L), "abcdef", "", "", "x")[[3]], "       |   ^^^^")
  expect_identical(shown(c(9L, 1L, 9L, 1L), "abc"), "my.game:9:1: Hm. [syntax]")
  expect_identical(shown(c(1L, 4L, 1L, 4L), "abc")[[3]], "       |    ^")
})

test_that("a problem of a call has no place, and a problem without an id cannot be made", {
  expect_identical(format_diagnostic(diagnostic("seed_wrong", "No.", "write 7")), "No. [seed_wrong]\n  hint: write 7")
  expect_error(diagnostic("no_such_id", "No."), class = "simpleError")
})

test_that("errors carry their problems as data, and a class for each id", {
  e <- expect_error(game(test_path("rules-bad", "bracket_open.game")), class = "basanos_bracket_open")
  expect_s3_class(e, "basanos_unknown_name")
  expect_identical(e$ids, vapply(e$diagnostics, `[[`, "", "id"))
  table <- diagnostics_table(e$diagnostics)
  expect_identical(names(table), c("id", "line", "column", "last_line", "last_column", "message", "hint"))
  expect_identical(table$line[[1]], 5L)
  expect_identical(nrow(diagnostics_table(list())), 0L)
})

test_that("only near names are offered", {
  expect_identical(nearest("cubes", c("cube", "tile")), "cube")
  expect_identical(nearest("CUBE", c("cube", "tile")), "cube")
  expect_null(nearest("lantern", c("cube", "tile")))
  expect_null(nearest("", c("cube")))
  expect_null(nearest("cube", character()))
  expect_identical(some_of_names(letters[1:3]), "`a`, `b`, `c`")
  expect_match(some_of_names(letters), "and 18 more")
})

test_that("options that stand several times are gathered, the rest left in order", {
  got <- gather_repeated(c("g", "--set", "a=1", "--seed", "3", "--set=b=2", "--player", "x=y"), c("--set", "--player"))
  expect_identical(got$args, c("g", "--seed", "3"))
  expect_identical(got$values, list("--set" = c("a=1", "b=2"), "--player" = "x=y"))
  expect_identical(name_values(c("a=1", "b=x=y"), "--set", ""), list(a = "1", b = "x=y"))
  expect_error(name_values("a=", "--set", "a=1"), class = "basanos_flag_wrong")
  expect_identical(number_or_text("1e6"), 1e6)
  expect_identical(number_or_text("many"), "many")
})

test_that("columns stand under their headings", {
  expect_identical(aligned(list(name = c("a", "long one"), value = c("1.5", "22"))),
                   c("  name       value", "  a            1.5", "  long one      22"))
  expect_identical(error_digits(0.0123), 3L)
  expect_identical(error_digits(12), 0L)
  expect_identical(one_in(c(0.5, 0.001, 0)), c("2.00", "1000", "never"))
})
