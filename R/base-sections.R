# The sections of a result, each with a title, a table and notes. They are the one source of the text in a
# terminal, of Markdown and of HTML.

#' What is shown of a result
#'
#' A result holds its numbers; what is shown of it is a list of sections. Text, Markdown and HTML are written from them:
#' see [format_result()].
#'
#' @param x A result, such as [odds()] gives.
#' @param ... For odds `distributions = TRUE` (the values of every record as well), for a check `all = TRUE` (every
#'   finding).
#' @return A list of class `basanos_sections`. A section is a list with `title` (a text), `table` (a named list of
#'   columns, each a character vector), `notes` (lines of text under it) and `lines` (a text whose spaces count). What a
#'   section does not have is `NULL`.
#' @export
#' @examples
#' sections(odds("tide-signs"))[[2]]$table
sections <- function(x, ...) UseMethod("sections")

section <- function(title = NULL, table = NULL, notes = NULL, lines = NULL)
  list(title = title, table = table, notes = notes, lines = lines)

# Those that are empty are left out.
all_sections <- function(...) {
  parts <- list(...)
  is_section <- function(p) is.list(p) && identical(names(p), c("title", "table", "notes", "lines"))
  parts <- unlist(lapply(parts, function(p) if (is_section(p)) list(p) else p), recursive = FALSE)
  parts <- Filter(function(p) !all(vapply(p, is.null, NA)), parts)
  structure(as.list(parts), class = "basanos_sections")
}

# With what every result says at its end where it is that of a run that was stopped.
told_sections <- function(x, ...) {
  after <- stopped_after(x)
  all_sections(sections(x, ...), if (!is.null(after)) section(notes = sprintf("Stopped after %s.", after)))
}

stopped_after <- function(x) if (is.list(x)) x[["stopped"]]

# Results have format(), print(), summary() and plot() in common.
result_class <- function(kind) c(paste0("basanos_", kind), "basanos_result")

#' @export
format.basanos_sections <- function(x, width = Inf, titles = identity, ...) {
  parts <- lapply(x, function(s) c(if (!is.null(s$title)) as.character(titles(s$title)),
                                   if (!is.null(s$table)) aligned(s$table, width), wrapped(c(s$notes, s$lines), width)))
  utils::head(unlist(lapply(parts, c, "")), -1)
}

#' @export
print.basanos_sections <- function(x, ...) print_text(x, width = terminal_width())

#' @export
format.basanos_result <- function(x, ..., width = Inf, titles = identity)
  format(told_sections(x, ...), width = width, titles = titles)

#' @export
print.basanos_result <- function(x, ...) print_text(x, ..., width = terminal_width())

#' @export
summary.basanos_result <- function(object, ...) {
  parts <- sections(object, ...)
  first <- Position(function(s) !is.null(s$table), parts)
  structure(unclass(parts)[unique(c(1L, first))], class = "basanos_sections")
}

# Columns under their headings: the first to the left, the others to the right. A table that is wider than `width` is
# told in parts, each with the first column.
aligned <- function(cells, width = Inf) {
  columns <- Map(function(name, values, first) {
    values <- c(name, trimws(values))
    formatC(values, width = if (first) -max(nchar(values)) else max(nchar(values)))
  }, names(cells), cells, seq_along(cells) == 1)
  parts <- lapply(columns_that_fit(vapply(columns, function(v) nchar(v[[1]]), 1L), width), function(part)
    c(paste0("  ", do.call(paste, c(unname(columns[part]), sep = "   "))), ""))
  utils::head(unlist(parts), -1)
}

# The groups of columns: list of indices, the first in each.
columns_that_fit <- function(widths, width) {
  if (length(widths) < 3 || sum(widths + 3) <= width + 1) return(list(seq_along(widths)))
  parts <- list()
  part <- 1L
  for (k in seq_along(widths)[-1]) {
    if (length(part) > 1 && sum(widths[c(part, k)] + 3) > width + 1) {
      parts <- c(parts, list(part))
      part <- 1L
    }
    part <- c(part, k)
  }
  c(parts, list(part))
}

# The width of the terminal that output goes to; `or` where it is none.
terminal_width <- function(or = Inf) if (isatty(stdout())) cli::console_width() else or

# Lines that are wider go on below, two further in.
wrapped <- function(lines, width) {
  if (is.null(lines) || !is.finite(width)) return(lines)
  unlist(lapply(unlist(strsplit(paste0(lines, "\n"), "\n", fixed = TRUE)), function(line) {
    if (nchar(line) <= width) return(line)
    indent <- nchar(sub("[^ ].*", "", line))
    strwrap(line, width, indent, indent + 2)
  }))
}

# A data frame of rows: lists of single values, all with the same names.
table_of_rows <- function(rows) {
  column <- function(name) unlist(lapply(unname(rows), `[[`, name))
  list2DF(lapply(stats::setNames(nm = names(rows[[1]])), column))
}
