#' The command line
#'
#' What `exec/basanos` runs. Results go to standard output, messages and progress to standard error.
#'
#' @param args A character vector: the arguments after the command's name.
#' @return The exit code, a whole number: 0 done; 1 the answer is no (an example fails); 2 the input
#'   or the call is wrong; 3 a fault of basanos itself; 130 stopped by Ctrl-C.
#' @export
#' @examples
#' command_main(c("odds", "tide-signs", "--format", "csv"))
command_main <- function(args = commandArgs(trailingOnly = TRUE)) {
  in_utf8(withCallingHandlers(
    tryCatch(run_command(args), basanos_error = function(e) {
      message(conditionMessage(e))
      2L
    }, interrupt = function(e) {
      message(stop_text(e))
      130L
    }, error = function(e) {
      if (grepl("SIGPIPE", conditionMessage(e))) return(141L)  # who read the output has gone
      message(fault_text(e))
      3L
    }),
    warning = function(w) {
      message(fault_text(w))
      invokeRestart("muffleWarning")
    }))
}

# A stop in one line: nothing was written, or what was kept, or the result so far was told.
stop_text <- function(stop) {
  said <- if (inherits(stop, "basanos_stopped")) conditionMessage(stop) else "Stopped."
  if (isTRUE(running$told)) paste(said, "The result so far is above; no file was written.")
  else if (is.null(stop$kept)) paste(said, "Nothing was written.") else said
}

# An unforeseen fault, in one line, and how to report it.
fault_text <- function(condition) {
  said <- gsub("\\s+", " ", conditionMessage(condition))
  sprintf(paste0("This is a fault of basanos (version %s), not of your rules or call: %s. Please report ",
                 "it, with the command and the rules file. [fault]"),
          utils::packageVersion("basanos"), sub("[.]$", "", said))
}

# Names may have letters beyond ASCII, whatever the locale: R's parser and its output need one that knows them.
in_utf8 <- function(work) {
  if (isTRUE(l10n_info()[["UTF-8"]])) return(work)
  before <- Sys.getlocale("LC_CTYPE")
  on.exit(suppressWarnings(Sys.setlocale("LC_CTYPE", before)))
  for (locale in c("C.UTF-8", "en_US.UTF-8")) if (nzchar(suppressWarnings(Sys.setlocale("LC_CTYPE", locale)))) break
  work
}

# The limit, and the arguments without it.
seconds_given <- function(args) {
  at <- match("--seconds", sub("=.*", "", args))
  if (is.na(at)) return(list(args = args, seconds = NULL))
  joined <- grepl("=", args[[at]], fixed = TRUE)
  text <- if (joined) sub("^[^=]*=", "", args[[at]]) else if (at < length(args)) args[[at + 1L]] else ""
  seconds <- suppressWarnings(as.numeric(text))
  if (is.na(seconds) || seconds <= 0)
    abort_input("flag_wrong", "`--seconds` takes a number of seconds.", "write --seconds 60")
  list(args = args[-(at + if (joined) 0L else 0:1)], seconds = seconds)
}

run_command <- function(args) {
  known <- commands()
  if (length(args) == 0 || args[[1]] %in% c("--help", "-h", "help")) {
    writeLines(command_overview(known))
    return(0L)
  }
  if (args[[1]] == "--version") {
    writeLines(paste("basanos", utils::packageVersion("basanos")))
    return(0L)
  }
  if (!args[[1]] %in% names(known)) {
    near <- did_you_mean(args[[1]], names(known))
    abort_input("command_unknown", sprintf("There is no command `%s`.", args[[1]]),
                if (is.null(near)) paste("the commands are", some_of_names(names(known))) else near)
  }
  rest <- args[-1]
  before <- options(basanos.verbosity = if ("--quiet" %in% rest) "quiet" else if ("--verbose" %in% rest) "verbose"
    else verbosity())
  on.exit(options(before))
  started <- proc.time()[["elapsed"]]
  given <- seconds_given(rest[!rest %in% c("--quiet", "--verbose")])
  work <- function() run_row(known[[args[[1]]]], given$args)
  status <- if (args[[1]] == "play") work() else with_heartbeat(paste("basanos", args[[1]]), given$seconds, work)
  if (verbosity() == "verbose")
    message(sprintf("basanos %s: %.1f s", utils::packageVersion("basanos"), proc.time()[["elapsed"]] - started))
  status
}
