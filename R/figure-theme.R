# One theme and one set of colours for figures, reports and pages. Colours differ in lightness, so that they tell apart
# without their hue.

shades <- c(ink = "#1d3557", mist = "#9fb3c8", pale = "#dfe6ee", gold = "#e3b23c", ember = "#c04f37",
            wanted = "#dfe9dc", teal = "#2f7f79", plum = "#6d4a75", stone = "#8a8f98")
shade <- function(name) shades[[name]]

# Fills of groups side by side, and which of them need light text.
fills <- function(n) unname(shades[c("ink", "gold", "teal", "mist", "ember", "plum", "pale")])[seq_len(n)]
dark_fills <- c(1L, 3L, 5L, 6L)

# A figure with many rows is saved higher: see save_figure().
with_rows <- function(figure, rows) {
  attr(figure, "rows") <- rows
  figure
}

# The figure with a line below that says who plays in it, where somebody decides: of each game where there are several.
naming_players <- function(figure, results) {
  results <- Filter(function(x) length(x$players) > 0, results)
  line <- function(x) if (inherits(x, "basanos_takings")) paste(who_plays_lines(x), collapse = " ")
    else who_plays(x$players)
  lines <- vapply(results, line, "")
  if (length(unique(lines)) > 1) lines <- sprintf("%s: %s", vapply(results, title_of, ""), lines)
  if (length(lines) == 0) return(figure)
  with_rows(figure + ggplot2::labs(caption = paste(unique(lines), collapse = "\n")), attr(figure, "rows"))
}

figure_theme <- function(...) {
  ggplot2::theme_minimal(base_size = 13) +
    ggplot2::theme(plot.title.position = "plot", plot.caption.position = "plot",
                   plot.caption = ggplot2::element_text(colour = "grey35", hjust = 0),
                   plot.title = ggplot2::element_text(face = "bold"),
                   panel.grid.minor = ggplot2::element_blank(),
                   plot.margin = ggplot2::margin(10, 24, 10, 10), ...)
}

# Panels have their name in bold on the left, the legend stands above.
panel_theme <- function(...) {
  figure_theme(legend.position = "top", legend.justification = "left",
               strip.text = ggplot2::element_text(face = "bold", hjust = 0), ...)
}

# Whole numbers along an axis, where it spans some.
whole_breaks <- function(limits) {
  breaks <- pretty(limits, 6)
  if (diff(limits) < 3) breaks else unique(round(breaks))
}
