# The files of R/ stand in layers: a file uses its own layer and those below, as ARCHITECTURE lists them.

layers <- c("base", "vocabulary", "rules", "check", "settings", "question", "program", "engine", "game", "outline",
            "example", "try", "trace",
            "odds", "situation", "best", "compare", "simulate", "bankroll", "takings", "sweep", "balance", "answers",
            "fairness", "modes",
            "lists", "log", "play", "lint", "new", "figure", "report", "knitr", "desk", "command", "basanos")

layer_of <- function(path) sub("[-.].*", "", basename(path))

# The names that each file defines at its top.
defined_in <- function(parsed) {
  is_definition <- function(e) is.call(e) && identical(e[[1]], as.name("<-")) && is.name(e[[2]])
  unlist(lapply(parsed, function(e) if (is_definition(e)) as.character(e[[2]])))
}

# The names that code uses: functions that are called, and other names unless the file gives them a value of its own.
# What stands after `$` is the name of a field.
used_in <- function(parsed) {
  called <- other <- own <- character()
  walk <- function(e) {
    if (is.name(e)) other <<- c(other, as.character(e))
    if (is.pairlist(e)) {
      own <<- c(own, names(e))
      for (k in seq_along(e)) if (!identical(e[[k]], quote(expr = ))) walk(e[[k]])
    }
    if (!is.call(e)) return(invisible())
    if (is.name(e[[1]])) called <<- c(called, as.character(e[[1]])) else walk(e[[1]])
    if (identical(e[[1]], as.name("$"))) return(walk(e[[2]]))
    if (identical(e[[1]], as.name("<-")) && is.name(e[[2]])) own <<- c(own, as.character(e[[2]]))
    for (k in seq_along(e)[-1]) if (!identical(e[[k]], quote(expr = ))) walk(e[[k]])
  }
  for (e in parsed) walk(e)
  unique(c(called, setdiff(other, own)))
}

# A data frame with a row for each name of another file that a file uses: file, name, owner.
uses_of_files <- function(files) {
  parsed <- lapply(files, parse, keep.source = FALSE)
  defined <- lapply(parsed, defined_in)
  owner <- stats::setNames(rep(files, lengths(defined)), unlist(defined))
  do.call(rbind, lapply(seq_along(files), function(k) {
    names <- intersect(used_in(parsed[[k]]), names(owner))
    data.frame(file = rep(files[[k]], length(names)), name = names, owner = unname(owner[names]))
  }))
}

uses_upwards <- function(files) {
  uses <- uses_of_files(files)
  up <- uses[match(layer_of(uses$owner), layers) > match(layer_of(uses$file), layers), ]
  if (nrow(up) > 0) sprintf("%s uses %s of %s", basename(up$file), up$name, basename(up$owner))
}

# The sets of files that use each other in a circle.
circles_of <- function(files) {
  uses <- unique(uses_of_files(files)[c("file", "owner")])
  reach <- matrix(FALSE, length(files), length(files), dimnames = list(files, files))
  reach[cbind(uses$file, uses$owner)] <- TRUE
  for (k in files) reach <- reach | outer(reach[, k], reach[k, ], "&")
  together <- lapply(files, function(k) basename(files[reach[k, ] & reach[, k]]))
  unique(Filter(function(circle) length(circle) > 1, together))
}

test_that("every file has a layer, and none uses a layer above its own", {
  folder <- testthat::test_path("..", "..", "R")
  skip_if_not(dir.exists(folder), "the sources are not here")
  files <- setdiff(list.files(folder, "[.]R$", full.names = TRUE), file.path(folder, "RcppExports.R"))
  expect_gt(length(files), 100)
  expect_identical(setdiff(layer_of(files), layers), character())
  expect_identical(uses_upwards(files), NULL)
  expect_identical(Filter(function(circle) length(circle) > 5, circles_of(files)), list())
})

test_that("no name is defined in two files", {
  folder <- testthat::test_path("..", "..", "R")
  skip_if_not(dir.exists(folder), "the sources are not here")
  files <- list.files(folder, "[.]R$", full.names = TRUE)
  expect_identical(anyDuplicated(unlist(lapply(lapply(files, parse, keep.source = FALSE), defined_in))), 0L)
})

test_that("a use of a layer above is found", {
  folder <- tempfile()
  dir.create(folder)
  writeLines("low <- function(x) high(x)", file.path(folder, "base-a.R"))
  writeLines(c("high <- function(x) x", "other <- function(x) low(x)"), file.path(folder, "odds-b.R"))
  files <- list.files(folder, full.names = TRUE)
  expect_identical(uses_upwards(files), "base-a.R uses high of odds-b.R")
  expect_identical(circles_of(files), list(c("base-a.R", "odds-b.R")))
})
