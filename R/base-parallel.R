# lapply(), by several processes for more than one worker, where the system can fork (Windows cannot).
# `what` names the items, to say how many of them are done; `each(values)` is called after each of them. Where it is
# stopped, `so_far(values, after, stop)` gives fields that the stop takes along: `values` has NULL for an item that was
# not done, `after` says how many were.
worked_out <- function(items, work, workers = 1, what = "parts", so_far = NULL, each = NULL, progress = FALSE) {
  values <- stats::setNames(vector("list", length(items)), names(items))
  done <- 0
  by_processes <- workers > 1 && length(items) > 1 && .Platform$OS.type != "windows"
  run <- function() with_progress(length(items), what, progress, function(tick) {
    keep <- function(k, value) {
      values[k] <<- list(value)
      done <<- done + 1
      if (!is.null(each)) each(values)
      if (is.function(tick)) tick(done)
    }
    if (by_processes) in_processes(items, work, workers, keep)
    else for (k in seq_along(items)) keep(k, work(items[[k]]))
  })
  if (is.null(so_far)) run()
  else with_part_result(run(), function(stop)
    so_far(values, sprintf("%s of %s %s", whole_text(done), whole_text(length(items)), what), stop))
  values
}

poll_seconds <- 0.2

# One item a process, at most `workers` of them at once. `keep(k, value)` takes what the item `k` came to. An error or
# a stop goes through to the caller. Only this process tells how far the work is.
in_processes <- function(items, work, workers, keep) {
  jobs <- list()
  on.exit(for (job in jobs) tools::pskill(job$pid))
  left <- seq_along(items)
  while (length(left) + length(jobs) > 0) {
    started <- utils::head(left, workers - length(jobs))
    jobs[as.character(started)] <- lapply(started, function(k)
      parallel::mcparallel(ended_work(work(items[[k]])), name = k, mc.set.seed = FALSE))
    left <- setdiff(left, started)
    heartbeat()
    ended <- suppressWarnings(parallel::mccollect(jobs, wait = FALSE, timeout = poll_seconds))
    jobs[names(ended)] <- NULL
    for (k in names(ended)) keep(as.integer(k), value_of_ended(ended[[k]]))
  }
}

# The end of work in another process: a value, an error or a stop.
ended_work <- function(work) {
  running$silent <- TRUE
  tryCatch(list(value = work), error = function(e) list(error = e), interrupt = function(e) list(stop = unclass(e)))
}

value_of_ended <- function(ended) {
  if (!is.null(ended$error)) stop(ended$error)
  if (!is.null(ended$stop)) signal_stopped(ended$stop[setdiff(names(ended$stop), c("message", "call"))])
  if (!is.list(ended))
    abort_input("worker_lost", "A process that worked out a part was ended from outside, or had no memory left.",
                "work it out by one process: workers = 1 (--workers 1)")
  ended$value
}
