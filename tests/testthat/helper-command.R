# The command line, as a function and as a process.

# list(code, out, said): the exit code, the lines of output, the messages as one text.
at_command_line <- function(...) {
  messages <- character()
  out <- utils::capture.output(code <- withCallingHandlers(command_main(c(...)), message = function(m) {
    messages <<- c(messages, conditionMessage(m))
    invokeRestart("muffleMessage")
  }))
  list(code = code, out = out, said = paste(messages, collapse = ""))
}

script_of <- function(...) {
  code <- sprintf(".libPaths(%s); quit(status = basanos::command_main(c(%s)))",
                  paste(deparse(.libPaths()), collapse = ""), paste(shQuote(c(...), type = "cmd"), collapse = ", "))
  processx::process$new(file.path(R.home("bin"), "Rscript"), c("-e", code), stdout = "|", stderr = tempfile("said-"))
}

# What a process has said on standard error: a file, which stays readable however the process ended.
said_by <- function(p) paste(readLines(p$get_error_file(), warn = FALSE), collapse = "\n")

# A result as one text of JSON.
result_json <- function(x) paste(format_result(x, "json"), collapse = "\n")
