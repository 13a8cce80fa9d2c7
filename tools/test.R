# Runs tests of the installed package, a file to a process on all cores, then says how many passed and failed.
# Arguments: nothing for the tests of every day, `long` for those that take long.

.libPaths(c(".lib", .libPaths()))
Sys.setenv(R_LIBS = paste(.libPaths(), collapse = .Platform$path.sep), NOT_CRAN = "true")
suppressMessages(library(testthat))
# What most files need is loaded and read once, before the processes part.
for (package in c("basanos", "ggplot2", "htmltools", "processx", "knitr"))
  requireNamespace(package, quietly = TRUE)
for (name in basanos::fair_games()) basanos::game(name)
wanted <- if ("long" %in% commandArgs(TRUE)) "^long-.*[.]R$" else "^test-.*[.]R$"
files <- list.files("tests/testthat", wanted, full.names = TRUE)
# The slowest first, as they were timed; then by size.
slowest <- c("test-report.R", "test-odds-question.R", "test-bankroll.R", "test-question.R", "test-part-results.R",
             "test-command.R", "test-engine-native.R", "test-balance.R", "test-trace.R", "test-engine-sample.R",
             "test-rules-around.R", "test-engine-agree.R", "test-fairness.R", "long-best.R", "long-calibration.R",
             "long-choices.R", "long-balance.R", "long-demo.R")
files <- files[order(match(basename(files), slowest), -file.size(files))]

run_file <- function(path) {
  took <- system.time(results <- tryCatch(
    test_file(path, package = "basanos", load_package = "installed", reporter = "silent", stop_on_failure = FALSE),
    error = function(e) conditionMessage(e)))[[3]]
  list(path = path, took = took, results = results)
}

# The lines about a file, and its counts.
report_file <- function(run) {
  if (is.character(run$results)) {
    cat(sprintf("%s could not be run: %s\n", basename(run$path), run$results))
    return(c(passed = 0, failed = 1, skipped = 0))
  }
  table <- as.data.frame(run$results)
  for (test in run$results) for (x in test$results) if (inherits(x, c("expectation_failure", "expectation_error"))) {
    cat(sprintf("%s: %s\n%s\n\n", basename(run$path), test$test, conditionMessage(x)))
  }
  counts <- c(passed = sum(table$passed), failed = sum(table$failed) + sum(table$error), skipped = sum(table$skipped))
  cat(sprintf("%-34s %5d passed %3d failed %3d skipped %6.1f s\n", basename(run$path), counts[[1]], counts[[2]],
              counts[[3]], run$took))
  counts
}

runs <- parallel::mclapply(files, run_file, mc.cores = max(1L, parallel::detectCores()), mc.preschedule = FALSE)
broken <- vapply(runs, inherits, NA, "try-error")
totals <- rowSums(vapply(runs[!broken], report_file, numeric(3)))
if (any(broken)) cat(paste(basename(files[broken]), "ended its process", collapse = "\n"), "\n")
failed <- totals[["failed"]] + sum(broken)
cat(sprintf("%d passed, %d failed, %d skipped\n", totals[["passed"]], failed, totals[["skipped"]]))
quit(status = if (failed > 0) 1L else 0L)
