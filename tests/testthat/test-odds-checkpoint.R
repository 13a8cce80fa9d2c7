# Long runs that are cut off and go on.

test_that("a run goes on from its checkpoint to the same bytes", {
  for (name in c("lantern-tiles", "five-winds", "lantern-twenty-one")) {
    path <- tempfile(fileext = ".json")
    part <- odds(name, engine = "sample", rounds = 1500, seed = 4, checkpoint = path)
    expect_identical(part$rounds, 1500)
    whole <- odds(name, engine = "sample", rounds = 4000, seed = 4, checkpoint = path)
    expect_identical(result_json(whole), result_json(odds(name, engine = "sample", rounds = 4000, seed = 4)),
                     info = name)
    # nothing left to play
    expect_identical(result_json(odds(name, engine = "sample", rounds = 4000, seed = 4, checkpoint = path)),
                     result_json(whole))
    expect_error(odds(name, engine = "sample", rounds = 3000, seed = 4, checkpoint = path),
                 class = "basanos_checkpoint_other")
  }
})

test_that("killed at any moment, nothing is lost", {
  skip_if_not_installed("processx")
  path <- tempfile(fileext = ".json")
  call <- c("odds", "salt-draw", "--engine", "sample", "--rounds", "600000", "--checkpoint", path, "--format", "json")
  run <- function()
    processx::process$new(file.path(R.home("bin"), "Rscript"),
                          c("-e",
                            sprintf(".libPaths(c(%s)); quit(status = basanos::command_main(commandArgs(TRUE)))",
                                    paste0("'", .libPaths(), "'", collapse = ", ")), call), stdout = "|", stderr = "|")
  for (pause in c(0.05, 0.6)) {
    p <- run()
    for (k in 1:200) { if (file.exists(path) || !p$is_alive()) break; Sys.sleep(0.1) }
    Sys.sleep(pause)
    p$kill()
    expect_true(file.exists(path))
  }
  resumed <- odds("salt-draw", engine = "sample", rounds = 6e5, checkpoint = path)
  expect_identical(result_json(resumed), result_json(odds("salt-draw", engine = "sample", rounds = 6e5)))
})

test_that("a damaged checkpoint, a folder that cannot be written, a run of another kind", {
  path <- tempfile(fileext = ".json")
  odds("tide-signs", engine = "sample", rounds = 2000, checkpoint = path)
  lines <- readLines(path)
  for (damage in list(lines[1], c(lines[1], substr(lines[2], 1, 40)), c(lines[1], sub("2000", "2001", lines[2])),
                      character())) {
    writeLines(damage, path)
    before <- readLines(path)
    expect_error(odds("tide-signs", engine = "sample", rounds = 3000, checkpoint = path),
                 class = "basanos_checkpoint_damaged")
    expect_identical(readLines(path), before)
  }
  expect_error(odds("tide-signs", engine = "sample", rounds = 10, checkpoint = "/no/such/folder/run.json"),
               class = "basanos_file_written")
  expect_error(odds("tide-signs", checkpoint = tempfile()), class = "basanos_argument_wrong")
  skip_if_not(file.exists("/dev/full"))
  kept <- tempfile(fileext = ".json")
  writeLines(lines, kept)
  with_replaced("partial_file", function(path) "/dev/full", {  # what is written first goes to a full disk
    expect_error(odds("tide-signs", engine = "sample", rounds = 3000, checkpoint = kept),
                 class = "basanos_file_written")
  })
  expect_identical(readLines(kept), lines)
})

test_that("a checkpoint is that of the whole run: odds for each value are sampled beside it", {
  asked <- function(...) odds("lantern-tiles", engine = "sample", rounds = 2000, by = "guest_tiles > 3",
                              measure = "edge(guest)", ...)
  kept <- tempfile(fileext = ".json")
  expect_identical(asked(checkpoint = kept)$crossed_measures, asked()$crossed_measures)
  expect_identical(asked(checkpoint = kept)$crossed_measures, asked()$crossed_measures)  # and taken up again
  expect_error(par_table("lantern-tiles", checkpoint = tempfile()), class = "basanos_argument_wrong")
})
