# lapply(), by several processes of the future package where more than one worker is wanted. `what` names the items, to
# say how many of them are done.
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
  if (workers == 1 || length(items) == 1) return(lapply(items, work))
  need_package("future", "works several things out at once")
  plan <- if (future::supportsMulticore()) "multicore" else "multisession"
  old <- future::plan(plan, workers = workers)
  on.exit(future::plan(old))
  waiting <- lapply(items, function(item)
    future::future(work(item), globals = list(work = work, item = item), packages = "basanos", seed = NULL))
  lapply(waiting, future::value)
}
