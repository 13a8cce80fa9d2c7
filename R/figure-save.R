# Draws a figure and writes it whole or not at all. Width and height are in inches; with a scale of 2 all that is drawn
# is twice as large.
save_figure <- function(figure, path, width = NULL, height = NULL, scale = NULL) {
  kind <- figure_kind(path)
  width <- figure_size(width, "width", 10)
  height <- figure_size(height, "height", max(6.25, 1.8 + 0.24 * c(attr(figure, "rows"), 0)[[1]]))
  scale <- figure_size(scale, "scale", 1)
  drawn <- tempfile(fileext = paste0(".", kind))
  on.exit(unlink(drawn))
  if (kind == "png") grDevices::png(drawn, 128 * width, 128 * height, res = 128 * scale, type = "cairo")
  else grDevices::svg(drawn, width / scale, height / scale)
  tryCatch(print(figure), finally = grDevices::dev.off())
  if (kind == "svg" && scale != 1) enlarge_svg(drawn, width, height)
  bytes <- readBin(drawn, "raw", file.size(drawn))
  # The devices say nothing where the disk is full: a whole picture ends as pictures of its kind do.
  end <- if (kind == "png") "IEND" else "</svg>"
  if (!grepl(end, rawToChar(utils::tail(bytes[bytes != as.raw(0)], 40)), fixed = TRUE, useBytes = TRUE)) {
    abort_input("file_written", sprintf("`%s` could not be drawn whole.", path),
                "check the room on the disk for temporary files")
  }
  write_bytes(bytes, path)
}

figure_size <- function(x, name, usual) {
  if (is.null(x)) return(usual)
  if (is.numeric(x) && length(x) == 1 && !is.na(x) && x > 0.1 && x <= 100) return(x)
  abort_input("argument_wrong", sprintf("`%s` of a figure is a number from 0.1 to 100, not `%s`.", name, given_text(x)),
              "write 8, or leave it out")
}

figure_kind <- function(path) {
  kind <- tolower(tools::file_ext(path))
  if (kind %in% c("png", "svg")) return(kind)
  abort_input("format_unknown", sprintf("A figure is a .png or a .svg file, not `%s`.", basename(path)),
              "end the name with .png or .svg")
}

# The size that it says at its head; what is inside follows by its view box.
enlarge_svg <- function(path, width, height) {
  lines <- readLines(path)
  head <- grep("<svg ", lines, fixed = TRUE)[[1]]
  lines[[head]] <- sub("width=\"[^\"]*\" height=\"[^\"]*\"", sprintf("width=\"%gpt\" height=\"%gpt\"", 72 * width,
                                                                 72 * height), lines[[head]])
  writeLines(lines, path)
}
