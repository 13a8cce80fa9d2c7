#' A figure of every answer of a decision
#'
#' What comes back for each token put in, by answer, with its interval where it is sampled.
#'
#' @param each What [odds_each()] gives.
#' @return A ggplot2 plot.
#' @section Errors: `package_needed`, `argument_wrong`.
#' @export
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' figure_each(odds_each("moon-wheel", "field", set = list(spins = 1)))
figure_each <- function(each) {
  need_package("ggplot2", "draws the figures")
  if (!inherits(each, "basanos_each"))
    abort_input("argument_wrong", "`figure_each()` takes what odds_each() gives.", "write odds_each(game, \"field\")")
  data <- each$rows
  data$answer <- factor(data$answer, levels = rev(data$answer))
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$return, y = .data$answer)) +
    ggplot2::geom_vline(xintercept = 1, linetype = "dashed", colour = "grey35") +
    ggplot2::geom_segment(ggplot2::aes(x = 1, xend = .data$return, yend = .data$answer), colour = "#9fb3c8",
                          linewidth = 2.2)
  if (!is.null(data$return_lower))
    plot <- plot + ggplot2::geom_linerange(ggplot2::aes(xmin = .data$return_lower, xmax = .data$return_upper),
                                           colour = "#1d3557", na.rm = TRUE)
  plot + ggplot2::geom_point(colour = "#1d3557", size = 2.8) +
    ggplot2::geom_text(ggplot2::aes(label = percent_text(.data$return, 2),
                                    hjust = ifelse(.data$return < 1, 1.25, -0.25)),
                       size = 3.4, colour = "grey20") +
    ggplot2::scale_x_continuous(labels = function(v) percent_text(v, 0), expand = ggplot2::expansion(c(0.12, 0.12))) +
    ggplot2::labs(x = "what comes back of all that is put in", y = gsub("_", " ", each$decision),
                  title = sprintf("%s: the return by %s", title_of(each),
                                  gsub("_", " ", each$decision)),
                  subtitle = "Dashed: as much as is put in.") +
    figure_theme(panel.grid.major.y = ggplot2::element_blank())
}
