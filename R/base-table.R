# Columns under their headings: the first to the left, the others to the right.
aligned <- function(cells) {
  columns <- Map(function(name, values, first) {
    values <- c(name, trimws(values))
    formatC(values, width = if (first) -max(nchar(values)) else max(nchar(values)))
  }, names(cells), cells, seq_along(cells) == 1)
  paste0("  ", do.call(paste, c(unname(columns), sep = "   ")))
}
