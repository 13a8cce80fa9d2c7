# Ctrl-C, and errors while threads run.

# Waits until `ready()` holds, a minute at most.
wait_until <- function(ready) for (k in 1:600) if (ready()) break else Sys.sleep(0.1)

# Starts a command, interrupts it when `ready(process)` holds, and gives its exit code and what it said.
interrupted <- function(..., ready = function(p) { Sys.sleep(2); TRUE }) {
  p <- script_of(...)
  wait_until(function() ready(p))
  alive <- p$is_alive()
  p$interrupt()
  p$wait(15000)
  if (p$is_alive()) p$kill()
  list(was_alive = alive, code = p$get_exit_status(), said = said_by(p))
}

test_that("Ctrl-C stops a run of two threads and leaves no file", {
  skip_if_not_installed("processx")
  skip_on_os("windows")
  out <- tempfile(fileext = ".json")
  p <- script_of("odds", "dice-duel", "--engine", "sample", "--rounds", "1e10", "--threads", "2", "--format", "json",
                 "--out", out)
  Sys.sleep(2)
  expect_true(p$is_alive())
  p$interrupt()
  p$wait(15000)
  expect_false(p$is_alive())
  expect_identical(p$get_exit_status(), 130L)
  expect_match(said_by(p), "Stopped")
  expect_false(file.exists(out))
})

test_that("Ctrl-C stops a comparison, and an exact count", {
  skip_if_not_installed("processx")
  skip_on_os("windows")
  got <- interrupted("compare", "lantern-tiles", "lantern-tiles", "--set-new", "keeper_stands=17", "--engine", "sample",
                     "--rounds", "2e8")
  expect_true(got$was_alive)
  expect_identical(got$code, 130L)
  expect_match(got$said, "Stopped")
  got <- interrupted("odds", "salt-draw", "--engine", "exact", "--max-states", "1e9",
                     ready = function(p) grepl("states of at most", said_by(p)))
  expect_true(got$was_alive)
  expect_identical(got$code, 130L)
  expect_match(got$said, "Stopped after [0-9 ]+ states")
})

test_that("Ctrl-C is heard while the C compiler runs, and no file of it is left", {
  skip_if_not_installed("processx")
  skip_on_os("windows")
  folder <- tempfile("build-")
  dir.create(folder)
  old <- Sys.getenv("TMPDIR")
  Sys.setenv(TMPDIR = folder)
  on.exit(Sys.setenv(TMPDIR = old))
  builds <- function() list.files(folder, "^game[.]c$", recursive = TRUE)
  got <- interrupted("odds", "lantern-twenty-one", "--engine", "sample", "--rounds", "1e10",
                     ready = function(p) length(builds()) > 0)
  expect_true(got$was_alive)
  expect_identical(got$code, 130L)
  expect_match(got$said, "Stopped")
  expect_length(list.files(folder, "[.](c|so)$|^library$", recursive = TRUE), 0)
})

test_that("Ctrl-C on a run with a checkpoint tells how far the whole run is, and what is kept", {
  skip_if_not_installed("processx")
  skip_on_os("windows")
  path <- tempfile(fileext = ".json")
  got <- interrupted("odds", "salt-draw", "--engine", "sample", "--rounds", "5e8", "--checkpoint", path,
                     ready = function(p) file.exists(path))
  expect_identical(got$code, 130L)
  expect_match(got$said, "^\\s*Stopped after [0-9 ]+ of 500 000 000 rounds; the checkpoint `")
  expect_true(file.exists(path))
})

test_that("a progress callback that fails stops two threads with its own error, in both engines", {
  program <- compile_game(game("salt-draw"))
  fails <- function(...) stop("no progress today")
  for (k in 1:10)
    expect_error(core_sample(program, k, 1, 1e9, 2L, fails), "no progress today", class = "simpleError")
  expect_error(core_exact(program, 1e9, fails), "no progress today", class = "simpleError")
  expect_identical(core_sample(program, 1, 1, 100, 2L, NULL)$units, 100)
})
