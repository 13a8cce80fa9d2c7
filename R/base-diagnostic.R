# Problems and the errors that carry them. A problem in a rules file has a place; a problem with a
# call (a flag, an argument) has none. Every problem has a stable id, says what is wrong and, in
# `mend`, how to put it right.

sort_problems <- function(problems) {
  place <- function(k) vapply(problems, function(p) if (is.null(p$at)) 0 else p$at[[k]], 0)
  problems[order(place(1), place(2))]
}

problem <- function(id, message, mend = NULL, at = NULL) {
  stopifnot(id %in% problem_ids())
  structure(list(id = id, message = message, mend = mend, at = at), class = "basanos_problem")
}

# Stops with one problem that has no place in a rules file.
abort_input <- function(id, message, mend = NULL) {
  abort_problems(list(problem(id, message, mend)), NULL)
}

abort_problems <- function(problems, source) stop_with_problems(problems, source)

# `...`: more fields of the condition.
stop_with_problems <- function(problems, source, ...) {
  problems <- unique(problems)
  ids <- vapply(problems, `[[`, "", "id")
  text <- paste(vapply(problems, format_problem, "", source = source), collapse = "\n\n")
  stop(structure(
    class = c(paste0("basanos_", unique(ids)), "basanos_error", "error", "condition"),
    list(message = text, call = NULL, problems = problems, ids = ids, source = source, ...)
  ))
}

# "file:line:column", the line with a caret below, what is wrong, how to mend it.
format_problem <- function(problem, source = NULL) {
  lines <- sprintf("%s [%s]", problem$message, problem$id)
  if (!is.null(problem$at) && !is.null(source)) {
    file <- place_in_file(source, problem$at[[1]])
    place <- sprintf("%s:%d:%d", file$name, file$line, problem$at[[2]])
    lines <- c(paste0(place, ": ", lines), excerpt(problem$at, source))
  } else if (!is.null(source)) {
    lines <- paste0(source$name, ": ", lines)
  }
  if (!is.null(problem$mend)) lines <- c(lines, paste0("  mend: ", problem$mend))
  paste(lines, collapse = "\n")
}

# The same problems as data, for tools.
problems_table <- function(problems) {
  place <- function(k) vapply(problems, function(p) if (is.null(p$at)) NA_integer_ else as.integer(p$at[[k]]), 1L)
  data.frame(
    id = vapply(problems, `[[`, "", "id"),
    line = place(1), column = place(2), last_line = place(3), last_column = place(4),
    message = vapply(problems, `[[`, "", "message"),
    mend = vapply(problems, function(p) if (is.null(p$mend)) NA_character_ else p$mend, "")
  )
}

# The nearest of the known names, or nothing when none is near.
nearest <- function(name, known) {
  if (length(known) == 0 || !nzchar(name)) return(NULL)
  asked <- list(name, known)
  if (identical(asked, guessed$asked)) return(guessed$near)  # a function is read at each of its calls
  away <- utils::adist(name, known, ignore.case = TRUE)[1, ]
  guessed$asked <- asked
  guessed$near <- if (min(away) <= max(1, nchar(name) %/% 3)) known[[which.min(away)]]
  guessed$near
}

# The last question and its answer.
guessed <- new.env(parent = emptyenv())

did_you_mean <- function(name, known) {
  near <- nearest(name, known)
  if (is.null(near)) NULL else sprintf("did you mean `%s`?", near)
}

or_spelling <- function(mend) if (is.null(mend)) "check its spelling, or declare it" else mend

some_of_names <- function(x, most = 8) {
  shown <- paste0("`", utils::head(x, most), "`", collapse = ", ")
  if (length(x) > most) paste0(shown, sprintf(" and %d more", length(x) - most)) else shown
}

shift_problem <- function(p, by) {
  p$at <- p$at + c(by, 0L, by, 0L)
  p
}
