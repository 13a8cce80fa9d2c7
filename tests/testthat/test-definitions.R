# No function is written twice under one name: the later one would quietly stand in for the earlier.

test_that("every function of the package has a name of its own", {
  skip_if_not(dir.exists("../../R"))
  names <- unlist(lapply(list.files("../../R", full.names = TRUE), function(file)
    sub(" <- function.*", "", grep("^[A-Za-z_.0-9]+ <- function", readLines(file), value = TRUE))))
  expect_gt(length(names), 1000)
  expect_identical(names[duplicated(names)], character())
})
