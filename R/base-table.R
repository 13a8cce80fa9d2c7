# Columns under their headings: the first to the left, the others to the right.
aligned <- function(cells) {
  columns <- Map(function(name, values, first) {
    values <- c(name, trimws(values))
    formatC(values, width = if (first) -max(nchar(values)) else max(nchar(values)))
  }, names(cells), cells, seq_along(cells) == 1)
  paste0("  ", do.call(paste, c(unname(columns), sep = "   ")))
}

# A data frame of rows: lists of single values, all with the same names.
table_of_rows <- function(rows) {
  column <- function(name) unlist(lapply(unname(rows), `[[`, name))
  list2DF(lapply(stats::setNames(nm = names(rows[[1]])), column))
}
