# lapply(), by several processes where more than one worker is wanted and the system can split one (Windows cannot).
# `what` names the items, to say how many of them are done.
worked_out <- function(items, work, workers = 1, what = NULL) {
  if (!is.null(what))
    return(with_progress(length(items), what, FALSE, function(tick) {
      done <- 0
      worked_out(items, function(item) {
        if (is.function(tick)) tick(done)
        done <<- done + 1
        work(item)
      }, workers)
    }))
  if (workers == 1 || length(items) == 1 || .Platform$OS.type == "windows") return(lapply(items, work))
  ended <- parallel::mclapply(items, function(item) ended_work(work(item)), mc.cores = workers,
                              mc.preschedule = FALSE, mc.set.seed = FALSE)
  lapply(ended, value_of_ended)
}

# How work in another process ended: with a value, an error or a stop, which all go through to the caller.
ended_work <- function(work) {
  tryCatch(list(value = work), error = function(e) list(error = e), interrupt = function(e) list(stop = unclass(e)))
}

value_of_ended <- function(ended) {
  heartbeat()
  if (!is.null(ended$error)) stop(ended$error)
  if (!is.null(ended$stop)) signal_stopped(ended$stop[setdiff(names(ended$stop), c("message", "call"))])
  if (!is.list(ended))
    abort_input("worker_lost", "A process that worked out a part was ended from outside, or had no memory left.",
                "work it out by one process: workers = 1 (--workers 1)")
  ended$value
}
