# What all figures have in common; `...` is what one has besides.

figure_theme <- function(...) {
  ggplot2::theme_minimal(base_size = 13) +
    ggplot2::theme(plot.title.position = "plot", panel.grid.minor = ggplot2::element_blank(),
                   plot.margin = ggplot2::margin(10, 24, 10, 10), ...)
}

# Panels have their name in bold on the left, the legend stands above.
panel_theme <- function(...) {
  figure_theme(legend.position = "top", legend.justification = "left",
               strip.text = ggplot2::element_text(face = "bold", hjust = 0), ...)
}
