# The desk in a browser, as its users meet it. Skipped where there is no browser, Node.js or shiny.

driver_folder <- function() {
  folder <- file.path("..", "..", "build", "desk")
  dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  file.copy(file.path("..", "desk", "package.json"), folder, overwrite = TRUE)
  if (!dir.exists(file.path(folder, "node_modules", "playwright-core")))
    processx::run("npm", c("install", "--no-audit", "--no-fund"), wd = folder, error_on_status = FALSE, timeout = 300)
  skip_if(!dir.exists(file.path(folder, "node_modules", "playwright-core")), "the driver of the browser is not there")
  normalizePath(folder)
}

# A desk in a process of its own: list(process, address).
started_desk <- function(folder) {
  said <- tempfile()
  call <- sprintf("basanos::desk('lantern-tiles', folder = '%s', launch = FALSE)", folder)
  process <- processx::process$new(file.path(R.home("bin"), "Rscript"), c("-e", call), stderr = said)
  for (k in 1:300) {
    address <- regmatches(paste(readLines(said, warn = FALSE), collapse = "\n"),
                          regexec("http://\\S+", paste(readLines(said, warn = FALSE), collapse = "\n")))[[1]]
    if (length(address) > 0) return(list(process = process, address = address))
    Sys.sleep(0.1)
  }
  stop("the desk did not start: ", paste(readLines(said), collapse = "\n"))
}

children_of <- function(desk) {
  said <- processx::run("pgrep", c("-P", desk$process$get_pid()), error_on_status = FALSE)$stdout
  Filter(nzchar, strsplit(said, "\n")[[1]])
}

test_that("a designer writes, mends, turns, balances, saves and stops, without a command", {
  chromium <- browser()
  for (package in c("shiny", "bslib", "callr", "processx")) skip_if_not_installed(package)
  skip_if(!nzchar(Sys.which("npm")), "npm is not installed")
  driver <- driver_folder()
  folder <- new_folder()
  writeLines("<p>made</p>", file.path(folder, "made.html"))
  desk <- started_desk(folder)
  on.exit(desk$process$kill_tree())
  script <- normalizePath(file.path("..", "desk", "drive.js"))
  run <- processx::run("node", c(script, desk$address, chromium, "-"), wd = driver, error_on_status = FALSE,
                       timeout = 600)
  seen <- jsonlite::fromJSON(run$stdout)
  expect_identical(run$status, 0L, info = run$stderr)
  expect_length(seen$errors, 0)
  expect_identical(unique(seen$requests), "127.0.0.1")  # nothing comes from elsewhere
  expect_identical(seen$keyboard, rep(TRUE, 5))
  expect_match(seen$problem, "line 16 There is no word and no function `rol`. did you mean `roll`?", fixed = TRUE)
  expect_gte(seen$underlined, 1)
  expect_true(seen$stale)
  edge <- function(set) as.data.frame(odds("lantern-tiles", set = set))
  at <- function(rows) rows$value[rows$kind == "edge"]
  expect_true(sprintf("what the stall keeps of guest: %.2f%% \u2192 %.2f%%", 100 * at(edge(list())),
                      100 * at(edge(list(keeper_stands = 17)))) %in% seen$moved)
  expect_identical(seen$state, "not saved")
  expect_match(seen$written, "setting(22, from = 3, to = 200)", fixed = TRUE)
  expect_match(seen$draft[[1]], "setting(22", fixed = TRUE)
  expect_match(seen$draft[[2]], "setting(17, from = 1, to = 200)    # the keeper's", fixed = TRUE)
  expect_identical(seen$target, "edge(guest) in 8%..12%")
  expect_match(seen$balance, "of 28 combinations", fixed = TRUE)
  expect_match(seen$trace, "=> bright; pays guest +2", fixed = TRUE)
  # each step lights its line, of the text as it is now
  now <- file.path(new_folder(), "now.game")
  writeLines(sub("(keeper_stands <- setting\\()18", "\\117", sub("(aim +<- setting\\()24", "\\122", readLines(
    system.file("games", "lantern-tiles.game", package = "basanos")))), now)
  trace <- trace_round(now, where = "bright")
  lines <- trimws(readLines(now)[trace$events$line[c(1, 4, 3)]])
  expect_identical(seen$steps[, 1], sprintf("Step %d of %d", c(1, 4, 3), nrow(trace$events)))
  expect_identical(seen$steps[, 2], basanos:::event_texts(trace$events)[c(1, 4, 3)])
  expect_identical(seen$steps[, 4], lines)
  expect_match(seen$steps[2:3, 3], "guest_tiles = 1", fixed = TRUE)
  expect_match(seen$players, "where bold differs from careful", fixed = TRUE)
  expect_identical(seen$choices, c("draw", "stand"))
  expect_match(seen$played, "=> [a-z ]+; pays guest")
  expect_lt(as.numeric(seen$stopped[[1]]), 5)
  expect_match(seen$stopped[[2]], "This was stopped.")
  expect_identical(seen$page, c("200", "sandbox allow-scripts", "<p>made</p>", "403"))
  expect_identical(seen$hurried, "saved")
  expect_match(seen$asked, "The file was changed outside.")
  expect_identical(seen$hostile, 0L)
  expect_true(all(seen$wide <= 0))
  expect_length(seen$unnamed, 0)
  expect_identical(seen$cards, matrix(c("flex", "flex", "probability", "one in"), 2))
  # of the processes of a closed page two wait for the next one
  for (k in 1:50) if (length(children_of(desk)) > 2) Sys.sleep(0.1)
  expect_lte(length(children_of(desk)), 2)
  # what was saved is in the file, and nothing else is there but the draft of what was typed last
  saved <- readLines(file.path(folder, "lantern-tiles.game"))
  expect_match(saved, "^aim +<- setting\\(23,", all = FALSE)
  expect_match(saved, "^low +<- setting\\(2,", all = FALSE)
  expect_setequal(list.files(folder, all.files = TRUE, no.. = TRUE),
                  c("lantern-tiles.game", ".lantern-tiles.game.draft", "lantern-tiles.csv", "made.html"))
  expect_identical(utils::read.csv(file.path(folder, "lantern-tiles.csv"))$seat, "guest")
})

test_that("nobody enters without the secret, and the processes of a closed desk are gone", {
  for (package in c("shiny", "bslib", "callr", "processx")) skip_if_not_installed(package)
  skip_if(!nzchar(Sys.which("curl")), "curl is not installed")
  desk <- started_desk(new_folder())
  on.exit(desk$process$kill_tree())
  status <- function(...) processx::run("curl", c("-s", "-o", "/dev/null", "-w", "%{http_code}", ...),
                                        error_on_status = FALSE)$stdout
  for (k in 1:100) if (status(desk$address) == "200") break else Sys.sleep(0.1)
  expect_identical(status(desk$address), "200")
  expect_identical(status(sub("[?].*", "", desk$address)), "403")
  expect_identical(status("-H", "Host: evil.example", desk$address), "403")
  expect_identical(status("-H", "Origin: http://evil.example", desk$address), "403")
  children <- children_of(desk)
  expect_gt(length(children), 0)
  desk$process$interrupt()
  desk$process$wait(5000)
  expect_false(desk$process$is_alive())
  Sys.sleep(0.2)
  expect_false(any(dir.exists(file.path("/proc", children))))
})
