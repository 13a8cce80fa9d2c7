#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_each <- function(object, ...) {
  each <- object
  data <- each$rows
  data$answer <- factor(data$answer, levels = rev(data$answer))
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$return, y = .data$answer)) +
    ggplot2::geom_vline(xintercept = 1, linetype = "dashed", colour = "grey35") +
    ggplot2::geom_segment(ggplot2::aes(x = 1, xend = .data$return, yend = .data$answer), colour = shade("mist"),
                          linewidth = 2.2)
  if (!is.null(data$return_lower))
    plot <- plot + ggplot2::geom_linerange(ggplot2::aes(xmin = .data$return_lower, xmax = .data$return_upper),
                                           colour = shade("ink"), na.rm = TRUE)
  plot <- plot + ggplot2::geom_point(colour = shade("ink"), size = 2.8) +
    ggplot2::geom_text(ggplot2::aes(label = percent_text(.data$return, 2),
                                    hjust = ifelse(.data$return < 1, 1.25, -0.25)),
                       size = 3.4, colour = "grey20") +
    ggplot2::scale_x_continuous(labels = function(v) percent_text(v, 0), expand = ggplot2::expansion(c(0.12, 0.12))) +
    ggplot2::labs(x = "what comes back of all that is put in", y = gsub("_", " ", each$decision),
                  title = sprintf("%s: the return by %s", title_of(each),
                                  gsub("_", " ", each$decision)),
                  subtitle = "Dashed: as much as is put in.") +
    figure_theme(panel.grid.major.y = ggplot2::element_blank())
  naming_players(with_rows(plot, nrow(data)), list(object))
}
