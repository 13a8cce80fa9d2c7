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
