# Files are written whole or not at all; what is no plain file is written through; links are followed.

test_that("a device stays a device, a link a link, a pipe a pipe", {
  skip_on_os("windows")
  expect_identical(at_command_line("odds", "tide-signs", "--out", "/dev/null")$code, 0L)
  expect_true(file_is_special("/dev/null"))
  there <- tempfile(fileext = ".json")
  link <- tempfile(fileext = ".json")
  file.symlink(there, link)
  expect_identical(at_command_line("odds", "tide-signs", "--format", "json", "--out", link)$code, 0L)
  expect_true(is_link(link))
  expect_identical(jsonlite::fromJSON(there)$game, "tide-signs")
  pipe <- tempfile()
  system2("mkfifo", pipe)
  read <- tempfile()
  system2("/bin/sh", c("-c", shQuote(sprintf("cat %s > %s", pipe, read))), wait = FALSE)
  expect_identical(at_command_line("odds", "tide-signs", "--format", "csv", "--out", pipe)$code, 0L)
  expect_true(file_is_special(pipe))
  for (wait in 1:50) if (file.exists(read) && file.size(read) > 0) break else Sys.sleep(0.1)
  expect_match(readLines(read)[[1]], "kind")
  expect_error(odds("tide-signs", engine = "sample", rounds = 10, checkpoint = "/dev/null"),
               class = "basanos_checkpoint_damaged")
})

test_that("a full disk is told, and leaves what was there", {
  skip_if_not(file.exists("/dev/full"), "there is no device that is full")
  for (call in list(c("odds", "tide-signs", "--out", "/dev/full"), c("outline", "tide-signs", "--out", "/dev/full"))) {
    got <- at_command_line(call)
    expect_identical(got$code, 2L)
    expect_match(got$said, "could not be written: No space left on device")
  }
  path <- tempfile(fileext = ".game")
  with_replaced("partial_file", function(path) "/dev/full", {
    expect_error(new_game_file("dice", path), class = "basanos_file_written")
    expect_false(file.exists(path))
    writeLines("before", path)
    expect_error(write_lines("after", path), class = "basanos_file_written")
  })
  expect_identical(readLines(path), "before")
})

test_that("rounds kept are added whole or not at all, and a figure is drawn whole or not", {
  path <- tempfile(fileext = ".csv")
  writeLines("one", path)
  with_replaced("file_write", function(path, bytes, append = FALSE) {
    cat("ha", file = path, append = append)
    "No space left"
  }, {
    expect_error(append_lines("half a line", path), class = "basanos_file_written")
  })
  expect_identical(readLines(path), "one")
  skip_if_not_installed("ggplot2")
  figure <- figure_of(odds("tide-signs"))
  expect_error(save_figure(figure, "/no/such/folder/x.png"), class = "basanos_file_written")
  drawn <- tempfile(fileext = ".svg")
  save_figure(figure, drawn)
  expect_match(utils::tail(readLines(drawn), 1), "</svg>", fixed = TRUE)
})

test_that("new never writes over a file, not even through a link", {
  path <- tempfile()
  writeLines("mine", path)
  link <- tempfile()
  file.symlink(path, link)
  for (there in c(path, link)) expect_error(new_game_file("dice", there), class = "basanos_file_there")
  expect_identical(readLines(path), "mine")
  expect_identical(new_game_file("dice", fresh <- tempfile()), fresh)
  expect_gt(file.size(fresh), 100)
})

test_that("rules may come through a pipe; a folder and what cannot be read are named as such", {
  skip_on_os("windows")
  pipe <- tempfile()
  system2("mkfifo", pipe)
  source <- system.file("games", "tide-signs.game", package = "basanos")
  system2("/bin/sh", c("-c", shQuote(sprintf("cat %s > %s", source, pipe))), wait = FALSE)
  expect_identical(game(pipe)$title, "Tide Signs")
  expect_error(game(tempdir()), class = "basanos_file_missing")
  expect_error(game("tide-signs", players_file = tempdir()), class = "basanos_file_missing")
  expect_error(game("tide-signs", players_file = tempfile()), class = "basanos_file_missing")
  expect_error(game("/dev/null"), class = "basanos_file_empty")
  folder <- tempfile()
  dir.create(file.path(folder, "list.txt"), recursive = TRUE)
  rules <- file.path(folder, "g.game")
  writeLines(c("seats(a)", 'book <- words("list.txt")', "play({ end_round() })", "outcomes(over = otherwise)"), rules)
  expect_error(game(rules), class = "basanos_words_file")
})

test_that("a disk that fills up is told by every command that writes, and leaves no cut file", {
  skip_on_os("windows")
  skip_if_not_installed("processx")
  folder <- tempfile("full-")
  dir.create(folder)
  old <- setwd(folder)
  on.exit(setwd(old))
  # A limit on the size of files, of one block of 512 bytes, is a disk that fills up.
  script <- file.path(folder, "limited.R")
  writeLines(sprintf(".libPaths(%s); quit(status = basanos::command_main(commandArgs(TRUE)))",
                     paste(deparse(.libPaths()), collapse = "")), script)
  calls <- list(c("odds", "lantern-tiles", "--format", "json", "--out", "odds.json"),
                c("new", "dice", "--out", "fresh.game"),
                c("odds", "tide-signs", "--figure", "odds.png"))
  for (call in calls) {
    got <- processx::run("/bin/sh", c("-c", "trap '' XFSZ; ulimit -f 1; exec \"$@\"", "sh",
                                      file.path(R.home("bin"), "Rscript"), script, call), error_on_status = FALSE)
    expect_identical(got$status, 2L, info = call[[1]])
    expect_match(got$stderr, "could not be (written|drawn).*\\[file_written\\]", info = call[[1]])
    expect_identical(list.files(folder), "limited.R", info = call[[1]])
  }
})
