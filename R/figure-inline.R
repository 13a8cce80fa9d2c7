# A page shows a figure smaller than it is drawn, so that its text is no larger than that of the page.
page_scale <- 1.2

# A figure as SVG inside a page: its colours are those of the page, light or dark; own_names() names what is in it.
drawn_svg <- function(figure, alt, width = 11.5, height = 4) {
  heartbeat()
  path <- tempfile(fileext = ".svg")
  on.exit(unlink(path))
  grDevices::svg(path, width, height * page_scale, bg = "transparent")
  tryCatch(print(figure + ggplot2::theme(plot.title = ggplot2::element_blank(),
                                         plot.background = ggplot2::element_blank(),
                                         panel.background = ggplot2::element_blank())), finally = grDevices::dev.off())
  svg <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  head <- paste0("<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" ",
                 "viewBox=\"\\1\" role=\"img\" aria-label=\"%s\">")
  alt <- gsub("\\", "\\\\", htmltools::htmlEscape(alt, attribute = TRUE), fixed = TRUE)
  svg <- sub("(?s)^.*?<svg [^>]*viewBox=\"([^\"]*)\"[^>]*>", sprintf(head, alt), svg, perl = TRUE)
  page_colours(shorter_numbers(glyphs_as_used(svg)))
}

# Letters are numbered as the session met them: here as the picture uses them, so that it is the same in any process.
glyphs_as_used <- function(svg) {
  name <- "glyph-?\\d+-\\d+"
  block <- sprintf("<(?:g|symbol)[^>]* id=\"%s\">\\s*<path [^>]*/>\\s*</(?:g|symbol)>\\s*", name)
  blocks <- regmatches(svg, gregexpr(block, svg, perl = TRUE))[[1]]
  if (length(blocks) == 0) return(svg)
  of_block <- regmatches(blocks, regexpr(name, blocks, perl = TRUE))
  used <- unique(substring(regmatches(svg, gregexpr(paste0("#", name), svg, perl = TRUE))[[1]], 2))
  first <- regexpr(block, svg, perl = TRUE)
  rest <- gsub(block, "", substring(svg, first), perl = TRUE)
  svg <- paste0(substring(svg, 1, first - 1), paste(blocks[match(used, of_block)], collapse = ""), rest)
  at <- gregexpr(name, svg, perl = TRUE)
  regmatches(svg, at) <- list(sprintf("glyph-%d", match(regmatches(svg, at)[[1]], used)))
  svg
}

# Surfaces are numbered by the session, and nothing refers to them.
own_names <- function(svg, id) {
  svg <- gsub("<g id=\"surface\\d+\">", "<g>", svg)
  svg <- gsub("(id=\"|href=\"#|url\\(#)", sprintf("\\1%s-", id), svg)
  gsub("\n\\s*", "\n", svg)
}

# Two decimals are enough for a picture.
shorter_numbers <- function(svg) gsub("(\\d+\\.\\d{2})\\d+(?![\\d%])", "\\1", svg, perl = TRUE)

# Colours by their names on the page; greys that are drawn as text go by how dark they are.
page_colours <- function(svg) {
  said <- unique(regmatches(svg, gregexpr("rgb\\([^)]*\\)", svg))[[1]])
  for (colour in said) {
    parts <- as.numeric(regmatches(colour, gregexpr("[0-9.]+", colour))[[1]]) / if (grepl("%", colour)) 100 else 255
    svg <- gsub(colour, sprintf("var(--%s)", page_colour(parts)), svg, fixed = TRUE)
  }
  svg
}

page_colour <- function(rgb) {
  known <- grDevices::col2rgb(shades) / 255
  off <- colSums(abs(known - rgb))
  if (min(off) < 0.03 || diff(range(rgb)) > 0.06) return(names(shades)[[which.min(off)]])
  light <- mean(rgb)
  if (light > 0.97) "paper" else if (light > 0.8) "grid" else if (light > 0.25) "soft" else "text"
}
