# Writes a report: a page of HTML, or Markdown with its figures in a folder beside it.

write_report <- function(report, path) {
  lines <- if (report_kind(path) == "html") report_html(report) else report_markdown(report, path)
  write_lines(lines, path)
  invisible(path)
}

report_kind <- function(path) {
  kind <- tolower(tools::file_ext(path))
  if (kind %in% c("html", "md")) return(kind)
  abort_input("format_unknown", sprintf("A report is a .html or a .md file, not `%s`.", basename(path)),
              "end the name with .html or .md")
}

report_markdown <- function(report, path) {
  folder <- paste0(tools::file_path_sans_ext(path), "-figures")
  if (!dir.exists(folder) && !dir.create(folder, showWarnings = FALSE))
    abort_input("file_written", sprintf("The folder `%s` for the figures could not be made.", folder),
                "check that its place exists and can be written to")
  game_lines <- function(g) {
    parts <- lapply(parts_shown(g$parts), function(p) c(paste("##", p$title), "", markdown_figures(p, g$name, folder),
                                                        markdown_of(p$sections, 3, 3)))
    details <- lapply(parts_detailed(g$parts), function(p)
      c(paste("###", p$title), "", markdown_of(p$details, 4, 4)))
    c(paste("#", g$title), "", if (!is.null(g$line)) c(g$line, ""), paste("-", g$headlines), "",
      if (!is.null(g$board)) markdown_of(list(g$board), 2, 2), unlist(parts),
      paste("##", details_title), "", unlist(details), "### How this was made", "", markdown_of(list(g$made)))
  }
  c(if (!is.null(report$fair)) c("# The fair", "", markdown_of(list(report$fair))),
    unlist(lapply(report$games, game_lines)))
}

markdown_figures <- function(part, name, folder) {
  unlist(lapply(seq_along(part$figures), function(k) {
    f <- part$figures[[k]]
    file <- sprintf("%s-%s-%d.png", name, part$id, k)
    save_figure(f$plot, file.path(folder, file), width = 8, height = f$height)
    c(sprintf("![%s](%s/%s)", gsub("[][]", "", f$alt), basename(folder), file), "")
  }))
}
