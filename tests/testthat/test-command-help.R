# What the command line says of itself.

commands <- basanos:::commands()

test_that("every command has help with usage, groups and two examples", {
  for (name in names(commands)) {
    help <- at_command_line(name, "--help")
    expect_identical(help$code, 0L)
    expect_match(help$out[[1]], paste0("basanos ", name, ": "), fixed = TRUE)
    expect_match(help$out, paste0("^  basanos ", name), all = FALSE)
    expect_true(all(nchar(help$out[!startsWith(help$out, "  basanos")]) <= 101), info = name)
    if (!name %in% c("completion", "sitrep")) expect_length(commands[[name]]$examples, 2)
  }
})

test_that("the examples work on the fair's games", {
  skip_if_not_installed("ggplot2")
  skip_if_not_installed("htmltools")
  folder <- basanos:::story_folder()
  old <- setwd(folder)
  on.exit(setwd(old))
  file.copy("evening.csv", "rounds.csv")
  for (name in setdiff(names(commands), c("play", "demo", "desk"))) for (example in commands[[name]]$examples) {
    run <- do.call(at_command_line, as.list(c(name, scan(text = example, what = "", quiet = TRUE))))
    expect_true(run$code %in% 0:1, info = paste(name, example, paste(run$said, collapse = "\n")))
    expect_gt(length(run$out) + length(run$said), 0)
  }
})

test_that("a misspelt option gets a hint", {
  run <- at_command_line("odds", "tide-signs", "--enigne", "exact")
  expect_identical(run$code, 2L)
  expect_match(run$said, "did you mean `--engine`", all = FALSE, fixed = TRUE)
})

test_that("quiet says nothing but errors, verbose says how long it took", {
  path <- tempfile(fileext = ".txt")
  expect_match(at_command_line("odds", "tide-signs", "--out", path)$said, "written", all = FALSE)
  expect_identical(paste(at_command_line("odds", "tide-signs", "--out", path, "--quiet")$said, collapse = ""), "")
  expect_match(at_command_line("odds", "tides", "--quiet")$said, "file_missing", all = FALSE)
  expect_match(at_command_line("odds", "tide-signs", "--verbose")$said, "^basanos [0-9.]+: [0-9.]+ s", all = FALSE)
  expect_identical(basanos:::verbosity(), "normal")
})

test_that("tables that are wider than the terminal are told in parts, each with the first column", {
  cells <- list(bet = c("ante", "raise"), one = c("1.00", "2.00"), two = c("10%", "20%"), three = c("+1", "-1"))
  expect_identical(basanos:::aligned(cells, 24),
                   c("  bet      one   two", "  ante    1.00   10%", "  raise   2.00   20%", "",
                                                   "  bet     three", "  ante       +1", "  raise      -1"))
  expect_identical(basanos:::aligned(cells), basanos:::aligned(cells, 200))
  expect_identical(basanos:::wrapped(c("  one two three four", "five"), 12),
                   c("  one two", "    three", "    four", "five"))
  expect_true(all(nchar(format(odds("bell-cards", engine = "sample", rounds = 500), width = 60)[-1]) <= 60))
})

test_that("completion is a script that bash reads, and it completes", {
  script <- tempfile()
  run <- at_command_line("completion", "--help")
  expect_identical(run$code, 0L)
  writeLines(at_command_line("completion")$out, script)
  skip_if(!nzchar(Sys.which("bash")), "bash is not here")
  complete <- function(...) {
    words <- c("basanos", ...)
    lines <- c(sprintf("source %s", script), sprintf("COMP_WORDS=(%s); COMP_CWORD=%d; _basanos",
                                                     paste(shQuote(words), collapse = " "), length(words) - 1),
               "printf '%s\\n' \"${COMPREPLY[@]}\"")
    system2("bash", c("-c", shQuote(paste(lines, collapse = "\n"))), stdout = TRUE)
  }
  expect_setequal(complete("ba"), c("balance", "bankroll"))
  expect_true("lantern-tiles" %in% complete("odds", "lantern-t"))
  expect_setequal(complete("odds", "tide-signs", "--max"), c("--max-states", "--max-seconds"))
})

test_that("sitrep tells what a report of a fault needs", {
  run <- at_command_line("sitrep")
  expect_identical(run$code, 0L)
  for (part in c("basanos", "R  ", "platform", "the engines agree  yes", "Rcpp"))
    expect_match(run$out, part, all = FALSE, fixed = TRUE)
  expect_identical(jsonlite::fromJSON(at_command_line("sitrep", "--format", "json")$out)$kind, "situation")
})
