# Diagnostics and the errors that carry them. A diagnostic in a rules file has a place; a diagnostic with a
# call (a flag, an argument) has none. Every diagnostic has a stable id, says what is wrong and, in
# `hint`, how to put it right.

sort_diagnostics <- function(diagnostics) {
  place <- function(k) vapply(diagnostics, function(p) if (is.null(p$at)) 0 else p$at[[k]], 0)
  diagnostics[order(place(1), place(2))]
}

diagnostic <- function(id, message, hint = NULL, at = NULL) {
  stopifnot(id %in% diagnostic_ids())
  structure(list(id = id, message = message, hint = hint, at = at), class = "basanos_diagnostic")
}

# Stops with one diagnostic that has no place in a rules file.
abort_input <- function(id, message, hint = NULL) {
  abort_diagnostics(list(diagnostic(id, message, hint)), NULL)
}

abort_diagnostics <- function(diagnostics, source) stop_with_diagnostics(diagnostics, source)

# `...`: more fields of the condition.
stop_with_diagnostics <- function(diagnostics, source, ...) {
  diagnostics <- unique(diagnostics)
  ids <- vapply(diagnostics, `[[`, "", "id")
  text <- paste(vapply(diagnostics, format_diagnostic, "", source = source), collapse = "\n\n")
  stop(structure(
    class = c(paste0("basanos_", unique(ids)), "basanos_error", "error", "condition"),
    list(message = text, call = callers_call(), diagnostics = diagnostics, ids = ids, source = source, ...)
  ))
}

# The call of the user: the outermost of a function that the package exports; NULL from the command line, which has no
# call in R.
callers_call <- function() {
  exported <- mget(getNamespaceExports("basanos"), asNamespace("basanos"), inherits = FALSE)
  for (k in seq_len(sys.nframe())) {
    f <- sys.function(k)
    if (identical(f, exported[["command_main"]])) return(NULL)
    if (identical(environment(f), asNamespace("basanos")) && any(vapply(exported, identical, NA, f)))
      return(sys.call(k))
  }
  NULL
}

# "file:line:column", the line with a caret below, what is wrong, a hint.
format_diagnostic <- function(diagnostic, source = NULL) {
  lines <- sprintf("%s [%s]", diagnostic$message, diagnostic$id)
  if (!is.null(diagnostic$at) && !is.null(source)) {
    file <- place_in_file(source, diagnostic$at[[1]])
    place <- sprintf("%s:%d:%d", file$name, file$line, diagnostic$at[[2]])
    lines <- c(paste0(place, ": ", lines), excerpt(diagnostic$at, source))
  } else if (!is.null(source)) {
    lines <- paste0(source$name, ": ", lines)
  }
  if (!is.null(diagnostic$hint)) lines <- c(lines, paste0("  hint: ", diagnostic$hint))
  paste(lines, collapse = "\n")
}

# The same diagnostics as data, for tools.
diagnostics_table <- function(diagnostics) {
  place <- function(k) vapply(diagnostics, function(p) if (is.null(p$at)) NA_integer_ else as.integer(p$at[[k]]), 1L)
  data.frame(
    id = vapply(diagnostics, `[[`, "", "id"),
    line = place(1), column = place(2), last_line = place(3), last_column = place(4),
    message = vapply(diagnostics, `[[`, "", "message"),
    hint = vapply(diagnostics, function(p) if (is.null(p$hint)) NA_character_ else p$hint, "")
  )
}

# The nearest of the known names, or nothing when none is near.
nearest <- function(name, known) {
  known <- known[!is.na(known)]
  if (length(known) == 0 || is.na(name) || !nzchar(name)) return(NULL)
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

or_spelling <- function(hint, else_hint = "check its spelling, or declare it") if (is.null(hint)) else_hint else hint

some_of_names <- function(x, most = 8) enumerated(paste0("`", x, "`", recycle0 = TRUE), most)

enumerated <- function(x, most = 8) {
  shown <- paste(utils::head(x, most), collapse = ", ")
  if (length(x) > most) paste0(shown, sprintf(" and %d more", length(x) - most)) else shown
}

shift_diagnostic <- function(p, by) {
  p$at <- p$at + c(by, 0L, by, 0L)
  p
}
