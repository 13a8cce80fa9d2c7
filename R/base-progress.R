# Runs `work(tick)` under a progress bar where there is a terminal to see it.
with_progress <- function(total, what, progress, work) {
  if (is.null(progress)) progress <- isatty(stderr()) && total > 2e6 && verbosity() != "quiet"
  if (!progress) return(work(NULL))
  bar <- cli::cli_progress_bar(what, total = total, clear = TRUE, .auto_close = FALSE)
  on.exit(cli::cli_progress_done(id = bar))
  work(function(done) cli::cli_progress_update(set = min(done, total), id = bar))
}

# "quiet", "normal" or "verbose", as options(basanos.verbosity = ) or the flags of the command line say.
verbosity <- function() getOption("basanos.verbosity", "normal")

tell_progress <- function(...) if (verbosity() != "quiet") message(...)
