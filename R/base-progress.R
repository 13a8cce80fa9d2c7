# Progress of long work. In R, a bar on a terminal. On the command line a heartbeat: every two seconds what is
# being done and how much of it is left, and a look at the limit of seconds. The core calls it when it polls.

# "quiet", "normal" or "verbose", as options(basanos.verbosity = ) or the flags of the command line say.
verbosity <- function() getOption("basanos.verbosity", "normal")

tell_progress <- function(...) if (verbosity() != "quiet") {
  clear_heartbeat()
  message(...)
  running$said <- seconds_now()
}

# Runs `part(tick)`, `tick` being told how much of `total` is done.
with_progress <- function(total, what, progress, part) {
  if (heartbeat_is_on()) return(with_task(total, what, part))
  if (is.null(progress)) progress <- isatty(stderr()) && total > 2e6 && verbosity() != "quiet"
  if (!progress) return(part(NULL))
  bar <- cli::cli_progress_bar(what, total = total, clear = TRUE, .auto_close = FALSE)
  on.exit(cli::cli_progress_done(id = bar))
  part(function(done) cli::cli_progress_update(set = min(done, total), id = bar))
}

# Stopping is no error of the input: it is an interrupt, which no handler of errors takes for one. `after` says how far
# it came, as "12 of 100 rounds", `kept` what is left of it. More fields are what was worked out until then.
signal_stop <- function(after = NULL, kept = NULL, ...) signal_stopped(list(after = after, kept = kept, ...))

signal_stopped <- function(fields) {
  by <- if (is_late()) sprintf(" by the limit of %s s", plain_number(running$seconds))
  after <- if (!is.null(fields$after)) paste(" after", fields$after)
  fields$message <- paste0("Stopped", by, after, if (!is.null(fields$kept)) paste(";", fields$kept), ".")
  signalCondition(structure(c(fields, list(call = NULL)), class = c("basanos_stopped", "interrupt", "condition")))
  message(fields$message)
  invokeRestart("abort")  # nobody waits for it: back to the top level, as Ctrl-C does
}

# Does the work. Should it be stopped, `so_far(stop)` gives fields that the stop takes along: what was worked out until
# then.
with_part_result <- function(work, so_far) {
  withCallingHandlers(work, interrupt = function(stop) {
    fields <- unclass(stop)[setdiff(names(stop), c("message", "call"))]
    more <- so_far(stop)
    fields[names(more)] <- more
    signal_stopped(fields)
  })
}

# --- the heartbeat ----------------------------------------------------------------

heartbeat_seconds <- 1.7
start_up_seconds <- 0.5  # that R took before the command began

# The current tasks, the outermost first, the time of the last message, and the deadline.
running <- new.env(parent = emptyenv())
running$tasks <- list()
running$said <- 0
running$deadline <- Inf
running$polled <- FALSE  # does the core run, which is stopped by its answer?
running$silent <- FALSE  # is this a process of several, whose parent tells how far the work is?

seconds_now <- function() proc.time()[["elapsed"]]
is_late <- function() seconds_now() > running$deadline
heartbeat_is_on <- function() isTRUE(getOption("basanos.heartbeat"))

# Does the work of a command under a heartbeat.
with_heartbeat <- function(command, seconds, part) {
  before <- options(basanos.heartbeat = TRUE)
  kept <- mget(c("tasks", "said", "deadline"), running)
  on.exit({
    clear_heartbeat()
    options(before)
    list2env(kept, running)
  })
  running$said <- seconds_now() - start_up_seconds
  running$deadline <- if (is.null(seconds)) Inf else seconds_now() + seconds
  running$seconds <- seconds
  running$told <- FALSE
  running$tasks <- list(list(what = command, total = NA, done = 0, start = seconds_now()))
  part()
}

with_task <- function(total, what, part) {
  depth <- length(running$tasks) + 1L
  running$tasks[[depth]] <- list(what = what, total = total, done = 0, start = seconds_now())
  on.exit(running$tasks <- utils::head(running$tasks, depth - 1L))
  part(function(done) {
    running$tasks[[depth]]$done <- done
    heartbeat()
  })
}

# Runs `part(progress)`, a call of the core that takes a while: with the caller's own function where there is one, else
# as a task of its own. An answer of FALSE stops the core, which then returns its counts so far.
polled <- function(total, what, progress, part) {
  if (!heartbeat_is_on()) return(part(progress))
  if (is.null(progress))
    return(with_task(total, what, function(tick) polled(total, what, tick, part)))
  running$polled <- TRUE
  on.exit(running$polled <- FALSE)
  part(function(done) {
    if (is_late()) return(FALSE)
    progress(done)
    heartbeat()
  })
}

heartbeat <- function() {
  if (!heartbeat_is_on()) return(invisible())
  if (!running$polled && is_late()) signal_stop()
  now <- seconds_now()
  if (now - running$said < heartbeat_seconds || running$silent || verbosity() == "quiet") return(invisible())
  running$said <- now
  line <- heartbeat_line(now)
  if (isatty(stderr())) cat("\r\033[K", line, sep = "", file = stderr()) else message(line)
  running$shown <- TRUE
}

clear_heartbeat <- function() {
  if (isTRUE(running$shown) && isatty(stderr())) cat("\r\033[K", file = stderr())
  running$shown <- FALSE
}

# "basanos sweep: points 3 of 12, rounds 40%; about 20 s left"
heartbeat_line <- function(now) {
  tasks <- running$tasks
  counted <- Filter(function(task) !is.na(task$total) && task$total > 1, tasks)
  parts <- vapply(counted, function(task) if (is_limit(task))
    sprintf("%s states of at most %s", whole_text(min(task$done, task$total)), whole_text(task$total))
    else if (task$total > 1e4) sprintf("%s %.0f%%", task$what, 100 * min(1, task$done / task$total))
    else sprintf("%s %s of %s", task$what, whole_text(min(task$done, task$total)), whole_text(task$total)), "")
  left <- if (length(counted) > 0) seconds_left(counted[[1]], now)
  paste0("  ", tasks[[1]]$what, ": ", if (length(parts) > 0) paste(parts, collapse = ", ") else
    sprintf("%.0f s so far", now - tasks[[1]]$start),
    if (!is.null(left)) sprintf("; about %s left", if (left < 100) sprintf("%.0f s", left)
                                else sprintf("%.0f min", left / 60)))
}

# States are counted up to a limit that most games never reach: it does not say how much is left.
is_limit <- function(task) task$what == "states"

# By the pace so far; NULL before there is one.
seconds_left <- function(task, now) {
  if (is_limit(task) || task$done < task$total / 50) return(NULL)
  (now - task$start) * max(0, task$total / task$done - 1)
}
