# Work in another R process, so that the page never waits: one job at a time, the latest request of each kind.

# list(ask, stop, answers, busy). `answers` holds by kind list(value, problem, seconds, args); `busy` is
# list(kind, since, waiting): what is worked on, since when, and the kinds that wait.
new_worker <- function(session, pool) {
  state <- new.env(parent = emptyenv())
  state$waiting <- list()
  state$kept <- list()
  answers <- shiny::reactiveValues()
  busy <- shiny::reactiveVal(NULL)
  ask <- function(kind, job, args) {
    if (identical(state$running$kind, kind)) interrupt_work(state)
    known <- kept_answer(state, kind, job, args)
    if (!is.null(known)) {
      state$waiting[[kind]] <- NULL
      answers[[kind]] <- known
      return(invisible())
    }
    if (is.null(state$process)) state$process <- process_of_pool(pool)
    state$waiting[[kind]] <- list(kind = kind, job = job, args = args)
    busy(list(kind = if (is.null(state$running)) kind else state$running$kind, since = Sys.time(),
              waiting = names(state$waiting)))
  }
  shiny::observe({
    if (is.null(busy())) return()
    shiny::invalidateLater(50)
    done <- work_step(state)
    if (!is.null(done)) {
      keep_answer(state, done)
      answers[[done$kind]] <- done
    }
    if (is.null(state$running) && length(state$waiting) == 0) busy(NULL)
    else if (!is.null(state$running))
      busy(c(state$running[c("kind", "since")], list(waiting = names(state$waiting))))
  })
  session$onSessionEnded(function() if (!is.null(state$process)) give_back(pool, state$process))
  list(ask = ask, stop = function() stop_work(state), answers = answers, busy = busy)
}

# Processes that wait with the package loaded, so that the first answer does not wait for one to start.
new_pool <- function(count) {
  pool <- new.env(parent = emptyenv())
  pool$count <- count
  pool$idle <- lapply(seq_len(count), function(k) new_work_process())
  pool
}

process_of_pool <- function(pool) {
  alive <- Filter(function(process) process$is_alive(), pool$idle)
  pool$idle <- alive[-1]
  if (length(alive) > 0) alive[[1]] else new_work_process()
}

# One that still works, or is one too many, is ended.
give_back <- function(pool, process) {
  ready <- process$is_alive() && process$get_state() == "idle"
  if (ready && length(pool$idle) < pool$count) pool$idle <- c(pool$idle, process) else process$kill()
}

close_pool <- function(pool) for (process in pool$idle) process$kill()

new_work_process <- function()
  callr::r_session$new(callr::r_session_options(libpath = .libPaths(), stdout = NULL, stderr = NULL,
                                                load_hook = quote(get("warm_up", asNamespace("basanos"))())),
                       wait = FALSE)

# The first job takes several times as long as the next ones: here it is done before anybody waits for it.
warm_up <- function() {
  game <- system.file("starters", "dice.game", package = "basanos")
  text <- desk_text(game)
  job_check(text, basename(game), dirname(game))
  job_odds(text, basename(game), dirname(game), list(), list())
}

# Reads what the process has to say and gives it the next job. Returns an answer, or NULL.
work_step <- function(state) {
  give_up_on_deaf(state)
  if (!state$process$is_alive()) {
    lost <- state$running
    state$process <- new_work_process()
    state$running <- NULL
    return(if (!is.null(lost)) answer_of(lost, problem = stopped_words))
  }
  said <- if (state$process$poll_process(0) == "ready") state$process$read()
  if (state$process$get_state() != "idle") return(NULL)
  ran <- state$running
  state$running <- NULL
  if (length(state$waiting) > 0) {
    state$running <- c(state$waiting[[1]], list(since = Sys.time()))
    state$waiting <- state$waiting[-1]
    state$process$call(function(job, args) do.call(get(job, asNamespace("basanos")), args),
                       state$running[c("job", "args")])
  }
  if (is.null(ran) || is.null(said) || isTRUE(ran$outdated)) return(NULL)
  answer_of(ran, said$result, if (!is.null(said$error)) problem_words(said$error))
}

answer_of <- function(job, value = NULL, problem = NULL)
  list(kind = job$kind, job = job$job, value = value, problem = problem, args = job$args, at = Sys.time(),
       seconds = as.numeric(Sys.time() - job$since, units = "secs"))

# What was worked out stays for who asks it again, as long as the files of the folder are the same.
jobs_kept <- c("job_check", "job_odds", "job_balance", "job_trace", "job_players", "job_evening")
most_kept <- 40L

keep_answer <- function(state, answer) {
  if (!answer$job %in% jobs_kept || !is.null(answer$problem)) return(invisible())
  state$kept[[key_of_job(answer$job, answer$args)]] <- answer
  state$kept <- utils::tail(state$kept, most_kept)
}

kept_answer <- function(state, kind, job, args) {
  known <- if (job %in% jobs_kept) state$kept[[key_of_job(job, args)]]
  if (!is.null(known)) c(known[setdiff(names(known), c("kind", "at"))], list(kind = kind, at = Sys.time()))
}

key_of_job <- function(job, args) {
  files <- list.files(args$folder, full.names = TRUE)
  digest::digest(list(job, args, files, file.mtime(files)))
}

stopped_words <- "This was stopped."

# The first line of what went wrong, without the id.
problem_words <- function(error) {
  error <- if (is.null(error$parent)) error else error$parent
  if (inherits(error, "interrupt") || inherits(error, "basanos_stopped")) return(stopped_words)
  sub(" \\[[a-z_]+\\]", "", conditionMessage(error))
}

# What runs is of no use any more: something newer was asked for.
interrupt_work <- function(state) {
  state$running$outdated <- TRUE
  signal_work(state)
}

# Stops what runs and forgets what waits.
stop_work <- function(state) {
  state$waiting <- list()
  if (!is.null(state$running)) signal_work(state)
}

signal_work <- function(state) {
  state$running$progressed <- Sys.time()
  state$process$interrupt()
}

# A process that does not heed an interrupt within a second is ended.
give_up_on_deaf <- function(state) {
  progressed <- state$running$progressed
  if (!is.null(progressed) && Sys.time() - progressed > 1) {
    state$process$kill()
    if (isTRUE(state$running$outdated)) state$running <- NULL
  }
}
