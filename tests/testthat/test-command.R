# The command line, as a function and as a process.

test_that("odds prints text, JSON and CSV", {
  text <- at_command_line("odds", "lantern-tiles")
  expect_identical(text$code, 0L)
  expect_match(text$out, "bright +3\\.9352%", all = FALSE)
  json <- at_command_line("odds", "lantern-tiles", "--engine", "sample", "--rounds", "20000", "--seed", "9",
                          "--threads", "2",
              "--set", "guest_stands=18", "--player", "guest=bold", "--format", "json")
  data <- jsonlite::fromJSON(json$out)
  expect_identical(paste(json$out, collapse = "\n"),
                   result_json(odds("lantern-tiles", engine = "sample", rounds = 20000, seed = 9,
                                  set = list(guest_stands = 18),
                                  players = list(guest = "bold"))))
  expect_identical(data$engine, "sample")
  expect_identical(data$settings$guest_stands, 18L)
  expect_identical(data$players$guest, "bold")
  expect_identical(json$said, "")
  csv <- at_command_line("odds", "dice-duel", "--format=csv", "--set=sides=6", "--set", "rounds=3")
  expect_equal(utils::read.csv(text = csv$out)$value,
               as.data.frame(odds("dice-duel", set = list(sides = 6, rounds = 3)))$value)
})

test_that("results go whole to a file", {
  path <- tempfile(fileext = ".json")
  expect_identical(at_command_line("odds", "tide-signs", "--format", "json", "--out", path)$code, 0L)
  expect_identical(paste(readLines(path), collapse = "\n"), result_json(odds("tide-signs")))
  expect_identical(at_command_line("odds", "tide-signs", "--out", "/no/such/folder/file.txt")$code, 2L)
})

test_that("exit codes: done, the answer is no, the input is wrong", {
  expect_identical(at_command_line("check", "tide-signs")$code, 0L)
  failing <- tempfile(fileext = ".game")
  writeLines(sub("outcome = left_wins", "outcome = draw",
                 readLines(system.file("games", "tide-signs.game", package = "basanos"))), failing)
  check <- at_command_line("check", failing)
  expect_identical(check$code, 1L)
  expect_match(check$out, "FAILS  reef wrecks boat", all = FALSE)
  expect_identical(at_command_line("check", test_path("rules-bad", "syntax.game"))$code, 2L)
  expect_identical(at_command_line("check", "no-such-game")$code, 2L)
  expect_identical(at_command_line("check", test_path("rules-bad", "syntax.game"), "--format", "json")$code, 2L)
})

test_that("wrong calls get a message on standard error and nothing else", {
  calls <- list(c("odd", "tide-signs"), c("odds"), c("odds", "tide-sign"),
                c("odds", "tide-signs", "--rounds", "0", "--engine", "sample"),
                c("odds", "tide-signs", "--rounds", "1e12", "--engine", "sample"),
                c("odds", "tide-signs", "--rounds", "-5", "--engine", "sample"),
                c("odds", "tide-signs", "--rounds", "many", "--engine", "sample"),
                c("odds", "tide-signs", "--engine", "guess"), c("odds", "tide-signs", "--format", "xml"),
                c("odds", "tide-signs", "--set", "sides"), c("odds", "tide-signs", "--set"),
                c("odds", "tide-signs", "--set", "sides=3"), c("odds", "tide-signs", "--player", "left=nobody"),
                c("odds", "tide-signs", "extra"),
                c("odds", "tide-signs", "--nonsense"), c("odds", "tide-signs", "--seed"),
                c("odds", "dice-duel", "--set", "sides=1"),
                c("odds", "dice-duel", "--set", "sides=3", "--set", "sides=4"),
                c("check", "tide-signs", "--format", "docx"))
  for (args in calls) {
    got <- at_command_line(args)
    expect_identical(got$code, 2L, info = paste(args, collapse = " "))
    expect_identical(got$out, character(), info = paste(args, collapse = " "))
    expect_gt(nchar(got$said), 10)
    expect_match(got$said, "\\[[a-z_]+\\]")
  }
  expect_match(at_command_line("odds", "tide-sign")$said, "did you mean `tide-signs`")
  expect_match(at_command_line("odds", "dice-duel", "--set", "side=3")$said, "did you mean `sides`")
})

test_that("help and version", {
  expect_match(at_command_line("--help")$out, "COMMAND GAME", all = FALSE)
  expect_match(at_command_line()$out, "cork-signs, deep-well, dice-duel", all = FALSE)
  expect_match(at_command_line("odds", "--help")$out, "--engine", all = FALSE)
  expect_match(at_command_line("--version")$out, "^basanos [0-9.]+$")
})

# --- as a process ---------------------------------------------------------------

test_that("as a process: results on standard output, messages on standard error, the exit code", {
  skip_if_not_installed("processx")
  p <- script_of("odds", "tide-signs", "--engine", "sample", "--rounds", "1000", "--format", "json")
  p$wait(60000)
  expect_identical(p$get_exit_status(), 0L)
  expect_identical(jsonlite::fromJSON(p$read_all_output())$rounds, 1000L)
  expect_identical(said_by(p), "")
  p <- script_of("odds", "tide-sign")
  p$wait(60000)
  expect_identical(p$get_exit_status(), 2L)
  expect_identical(p$read_all_output(), "")
})

check_quickly <- function(path) command_main(c("check", path, "--quick"))

test_that("check --watch checks again when the file is saved", {
  path <- tempfile(fileext = ".game")
  file.copy(system.file("games", "dice-duel.game", package = "basanos"), path)
  looks <- 0
  told <- capture.output(status <- watch_files(path, function() check_quickly(path), wait = 0, on = function() {
    looks <<- looks + 1
    if (looks == 2) cat("bad(\n", file = path, append = TRUE)
    looks < 5
  }))
  expect_equal(sum(grepl("waiting for a change", told)), 2)
  expect_match(paste(told, collapse = "\n"), "all 3 examples hold.*never closed")
  expect_equal(status, 2L)
})

test_that("every command that works long says what it does and how much of it is left", {
  skip_if_not_installed("ggplot2")
  skip_if_not_installed("htmltools")
  folder <- tempfile("page")
  dir.create(folder)
  said <- function(...) with_replaced("heartbeat_seconds", 0, at_command_line(...)$said)
  tiles <- function(command, ...) said(command, "lantern-tiles", ...)
  expect_match(tiles("odds", "--engine", "sample", "--rounds", "2e6"), "basanos odds: rounds [0-9]+%; about")
  expect_match(said("odds", "lantern-twenty-one", "--max-seconds", "0.5", "--rounds", "2000"),
               "basanos odds: [0-9 ]+ states of at most [0-9 ]+\n")
  expect_match(tiles("players", "--engine", "sample"), "ways of sitting 1 of 3")
  expect_match(tiles("answers", "--player", "guest=bold", "--against", "careful", "--rounds", "60"),
               "decisions valued 1 of")
  expect_match(tiles("sweep", "--set", "aim=22:24", "--measure", "edge(guest)"), "points 1 of 3")
  expect_match(tiles("balance", "--want", "edge(guest) in 0..10%", "--knob", "aim in 22..24"), "points 1 of 3")
  expect_match(tiles("compare", "lantern-tiles", "--set-new", "keeper_stands=17", "--engine", "sample", "--rounds",
                     "2e5"), "basanos compare: ")
  expect_match(said("modes", "deep-well"), "modes 1 of 3")
  expect_match(said("fairness", "three-crabs"), "players 1 of 3, rounds [0-9]+%; about")
  expect_match(said("best", "nine-shutters"), "basanos best: [0-9 ]+ states of at most|players 1 of 3")
  expect_match(said("list", "sunken-name", "--rounds", "600"), "basanos list: rounds")
  expect_match(tiles("bankroll", "--method", "play"), "evenings [0-9]+%")
  expect_match(tiles("report", "--parts", "ends,records", "--workers", "1", "--out", file.path(folder, "page.html")),
               "parts of the page 1 of 2")
  expect_match(tiles("check"), "basanos check: ")
  expect_match(tiles("trace", "--where", "guest_tiles > 9"), "basanos trace: ")
  expect_identical(tiles("players", "--quiet"), "")
})

test_that("a limit of seconds ends a command, and writes nothing", {
  out <- tempfile(fileext = ".json")
  run <- at_command_line("odds", "salt-draw", "--engine", "sample", "--rounds", "1e9", "--seconds", "2", "--out", out)
  expect_identical(run$code, 130L)
  expect_match(run$said, "Stopped by the limit of 2 s after [0-9 ]+ of 1 000 000 000 rounds. The result so far is")
  expect_false(file.exists(out))
  expect_match(run$out, "Stopped after [0-9 ]+ of 1 000 000 000 rounds", all = FALSE)
  expect_identical(at_command_line("takings", "salt-draw", "--seconds", "0.01")$code, 130L)
  expect_identical(at_command_line("odds", "tide-signs", "--seconds", "soon")$code, 2L)
})

test_that("stopping is no error: no handler of errors takes it for one", {
  seen <- tryCatch(tryCatch(signal_stop(), error = function(e) "an error"), interrupt = function(e) class(e))
  expect_identical(seen[1:2], c("basanos_stopped", "interrupt"))
  fails <- function(...) signal_stop("3 rounds")
  run <- with_replaced("heartbeat", fails, at_command_line("check", "salt-draw"))
  expect_identical(run$code, 130L)
  expect_match(run$said, "Stopped after 3 rounds")
})
