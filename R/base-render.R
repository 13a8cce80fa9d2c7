# A result as text, Markdown, HTML, CSV or JSON: one writer for each, whatever the result.

result_formats <- c("text", "markdown", "html", "csv", "json")

#' A result as text
#'
#' @param x A result, such as [odds()] gives.
#' @param format `"text"` as in the terminal; `"markdown"` and `"html"` (a fragment, without a page around it), written
#'   from [sections()]; `"csv"`, the rows that `as.data.frame()` gives; `"json"`, all numbers in full, as described in
#'   `docs/json.md`.
#' @param ... For `sections()`.
#' @return A character vector, one line of the text an element.
#' @section Errors: `format_unknown`.
#' @export
#' @examples
#' writeLines(format_result(odds("tide-signs"), "markdown"))
format_result <- function(x, format = "text", ...) {
  x$asked <- NULL
  format <- one_of_names(format, result_formats, "format_unknown", "format")
  switch(format,
    text = format(x, ...),
    markdown = markdown_of(told_sections(x, ...)),
    html = html_of(told_sections(x, ...)),
    csv = csv_lines(as.data.frame(x, ...)),
    json = json_text(c(list(format = json_version(kind_of_result(x)), kind = kind_of_result(x)), json_fields(x),
                       list(stopped = stopped_after(x)))))
}

# The version of the JSON of a kind of result: it rises with each change.
json_version <- function(kind) {
  versions <- c(odds = 3L, sweep = 2L, players = 2L, partings = 2L, fairness = 2L, modes = 2L, list = 2L, takings = 2L,
                till = 2L, streaks = 2L, check = 2L)
  if (kind %in% names(versions)) versions[[kind]] else 1L
}

kind_of_result <- function(x) sub("^basanos_", "", class(x)[[1]])

# The numbers of a result as JSON has them: by default its fields, but its title.
json_fields <- function(x) UseMethod("json_fields")

#' @export
json_fields.default <- function(x) unclass(x)[setdiff(names(x), "title")]

# All JSON is written here: in full, what is missing as null, fields that are NULL left out.
# jsonlite writes 15 digits at the most, so numbers go through it as marked texts.
json_text <- function(fields) {
  fields <- Filter(Negate(is.null), fields)
  marked <- rapply(fields, function(x) replace(paste0(number_mark, full_number(x)), !is.finite(x), NA), "numeric",
                   how = "replace")
  text <- jsonlite::toJSON(marked, dataframe = "rows", auto_unbox = TRUE, na = "null", pretty = TRUE)
  gsub(sprintf('"%s([^"]*)"', number_mark), "\\1", as.character(text))
}

number_mark <- "\uE000"  # of no script

# The shortest text from which the number is read back to the last bit.
full_number <- function(x) {
  text <- as.character(x)
  finite <- which(is.finite(x))
  for (digits in 15:17) {
    text[finite] <- sprintf("%.*g", digits, x[finite])
    finite <- finite[as.numeric(text[finite]) != x[finite]]
  }
  text
}

csv_lines <- function(table) {
  numbers <- vapply(table, is.double, NA)
  table[numbers] <- lapply(table[numbers], function(x) replace(full_number(x), is.na(x), NA))
  file <- tempfile()  # a text connection takes ever longer with each line
  on.exit(unlink(file))
  utils::write.csv(table, file, row.names = FALSE, na = "", quote = which(!numbers), fileEncoding = "UTF-8")
  readLines(file, encoding = "UTF-8")
}

# ---- Markdown ----

# `first` and `other` are the levels of the first heading and of those after it.
markdown_of <- function(sections, first = 2, other = first + 1) {
  unlist(lapply(seq_along(sections), function(k) {
    s <- sections[[k]]
    c(if (!is.null(s$title)) c(paste(strrep("#", if (k == 1) first else other), sub(":$", "", s$title)), ""),
      if (!is.null(s$table)) c(markdown_table(s$table), ""),
      if (!is.null(s$notes)) c(paste0(markdown_text(trimws(s$notes)), c(rep("\\", length(s$notes) - 1), "")), ""),
      if (!is.null(s$lines)) c("```text", s$lines, "```", ""))
  }))
}

markdown_text <- function(text) gsub("([|*_<>`])", "\\\\\\1", text)

markdown_table <- function(table) {
  row <- function(cells) sprintf("| %s |", paste(cells, collapse = " | "))
  columns <- lapply(table, function(v) markdown_text(trimws(v)))
  rule <- ifelse(vapply(table, is_number_column, NA), "---:", ":---")
  c(row(markdown_text(trimws(names(table)))), row(rule),
    vapply(seq_along(columns[[1]]), function(k) row(vapply(columns, `[[`, "", k)), ""))
}

# Columns of numbers stand to the right: those in which most cells begin as a number does.
is_number_column <- function(cells) {
  said <- trimws(cells)
  said <- said[!said %in% c("", "-", "never", "no limit")]
  length(said) > 0 && mean(grepl("^[-+]?[0-9]", said)) > 0.5
}

# ---- HTML ----

html_of <- function(sections) strsplit(as.character(html_sections(sections)), "\n", fixed = TRUE)[[1]]

# As tags of htmltools.
html_sections <- function(sections, first = 2, other = first + 1) {
  need_package("htmltools", "writes HTML")
  h <- htmltools::tags
  heading <- function(k, text) htmltools::tag(paste0("h", if (k == 1) first else other), list(sub(":$", "", text)))
  notes <- function(lines) h$p(class = "notes", utils::head(unlist(lapply(trimws(lines), list, h$br()),
                                                                   recursive = FALSE), -1))
  htmltools::tagList(lapply(seq_along(sections), function(k) {
    s <- sections[[k]]
    list(if (!is.null(s$title) && is.null(s$table)) heading(k, s$title),
         if (!is.null(s$table)) html_table(s$table, s$title), if (!is.null(s$notes)) notes(s$notes),
         if (!is.null(s$lines)) h$pre(tabindex = "0", paste(s$lines, collapse = "\n")))
  }))
}

# A printed table of up to this many rows is not split over pages.
most_rows_kept_together <- 25L

# The first cell of a row is its header.
html_table <- function(table, caption = NULL) {
  h <- htmltools::tags
  class <- ifelse(vapply(table, is_number_column, NA), "number", "text")
  head <- lapply(seq_along(table), function(j) h$th(scope = "col", class = class[[j]], trimws(names(table)[[j]])))
  cell <- function(i, j) {
    said <- trimws(table[[j]][[i]])
    if (j == 1) h$th(scope = "row", class = class[[j]], said) else h$td(class = class[[j]], said)
  }
  rows <- lapply(seq_along(table[[1]]), function(i) h$tr(lapply(seq_along(table), cell, i = i)))
  caption <- sub(":$", "", caption)
  label <- c(caption, sprintf("Table by %s", trimws(names(table)[[1]])))[[1]]
  whole <- length(rows) <= most_rows_kept_together
  h$div(class = if (whole) "scroll whole" else "scroll", tabindex = "0", role = "region", `aria-label` = label,
        h$table(if (length(caption) > 0) h$caption(caption), h$thead(h$tr(head)), h$tbody(rows)))
}
