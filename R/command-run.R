# Runs a command: its options to the arguments of its function, its result to the output.

run_row <- function(row, args) {
  read <- read_options(row, args)
  if (is.null(read)) return(0L)
  check_output(read$values)
  if (!is.null(row$run)) return(row$run(read))
  result <- told_if_stopped(do.call(row$call, c(call_arguments(read), row$more(read$values))), read$values, row$result)
  put_results(result, read)
}

# The arguments of the function: the game, what follows it, and the options of this part by name.
call_arguments <- function(read)
  c(list(read$game)[!is.null(read$game)], as.list(read$rest), option_values(read, "call"))

option_values <- function(read, part) {
  mine <- Filter(function(o) o$part == part, read$row$options)
  read$values[intersect(vapply(mine, `[[`, "", "argument"), names(read$values))]
}

# Writes the figure and the result of a command. Returns the exit code.
put_results <- function(result, read) {
  read$row$shows_figure(result, read$values)
  do.call(put_result, c(list(result, read$values), option_values(read, "show")))
  read$row$status(result)
}

# Before long work: can its result be written as asked?
check_output <- function(o) {
  if (!is.null(o$format)) one_of_names(o$format, result_formats, "format_unknown", "--format")
  if (!is.null(o$figure)) figure_kind(o$figure)
  for (size in c("width", "height", "scale")) figure_size(o[[size]], size, NULL)
}

# Draws the figure that was asked for, if any.
put_figure <- function(result, o, path = o$figure, ...)
  if (!is.null(path)) save_figure(figure_of(result, ...), path, o$width, o$height, o$scale)

# Writes to standard output, or whole to a file.
put_out <- function(text, path = NULL) {
  clear_heartbeat()
  if (is.null(path)) {
    writeLines(text)
    return(invisible())
  }
  write_lines(text, path)
  tell_progress("written: ", path)
}

# Does the work of a command. Where it is stopped, what it has until then, the field `name` of the stop, goes to
# standard output: a file is written whole or not at all.
told_if_stopped <- function(work, o, name) {
  withCallingHandlers(work, basanos_stopped = function(stop) {
    if (is.null(name) || is.null(stop[[name]])) return(invisible())
    put_result(stop[[name]], o[setdiff(names(o), "out")])
    running$told <- TRUE
  })
}

# Writes a result in the format asked for.
put_result <- function(result, o, ...) {
  format <- if (is.null(o$format)) "text" else o$format
  shown <- format == "text" && is.null(o$out)
  put_out(if (shown) format(result, ..., width = terminal_width(), titles = cli::style_bold)
          else format_result(result, format, ...), o$out)
}

run_desk <- function(read) {
  do.call(desk, c(as.list(read$rest), option_values(read, "call"), list(launch = !isTRUE(read$values$no_browser))))
  0L
}
