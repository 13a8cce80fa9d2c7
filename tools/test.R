# Runs the tests of the installed package, then says how many passed and failed.

.libPaths(c(".lib", .libPaths()))
Sys.setenv(R_LIBS = paste(.libPaths(), collapse = .Platform$path.sep), NOT_CRAN = "true")
results <- as.data.frame(testthat::test_dir("tests/testthat", package = "basanos", load_package = "installed",
                                            reporter = testthat::ProgressReporter$new(show_praise = FALSE, max_failures = 100), stop_on_failure = FALSE))
failed <- sum(results$failed) + sum(results$error)
cat(sprintf("%d passed, %d failed, %d skipped\n", sum(results$passed), failed, sum(results$skipped)))
quit(status = if (failed > 0) 1L else 0L)
