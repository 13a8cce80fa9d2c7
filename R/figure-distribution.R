# Records and pays by value: a panel for each record of numbers and each pay.
figure_of_distributions <- function(odds) {
  all <- number_distributions(odds)
  if (length(all) == 0)
    abort_input("argument_wrong", "Nothing here has a distribution of numbers: no record, and no pays.",
                "add one, as in record = c(high = \"max(score)\")")
  panels <- names(all)
  seen <- lapply(all, function(d) d[d$probability > 1e-5, ])  # rarer ones could not be seen
  data <- do.call(rbind, lapply(panels, function(name) data.frame(panel = name, seen[[name]])))
  lines <- do.call(rbind, lapply(panels, function(name)
    data.frame(panel = name, at = unname(quantiles_of(all[[name]])), middle = quantile_points == 0.5)))
  data$panel <- factor(data$panel, panels)
  lines$panel <- factor(lines$panel, panels)
  ggplot2::ggplot(data, ggplot2::aes(x = .data$value, y = .data$probability)) +
    ggplot2::geom_vline(data = lines, ggplot2::aes(xintercept = .data$at, linewidth = .data$middle),
                        colour = shade("mist")) +
    ggplot2::geom_segment(ggplot2::aes(xend = .data$value, yend = 0), linewidth = 1.6, colour = shade("ink")) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free") +
    ggplot2::scale_linewidth_manual(values = c("FALSE" = 0.5, "TRUE" = 1.2), guide = "none") +
    ggplot2::scale_x_continuous(breaks = whole_breaks) +
    ggplot2::scale_y_continuous(labels = function(x) sprintf("%g%%", 100 * x)) +
    ggplot2::labs(x = NULL, y = "share of rounds",
                  title = sprintf("%s: what is recorded and paid", title_of(odds)),
                  subtitle = "Lines: 5, 25, 50 (thick), 75 and 95% of the rounds have this value or less.") +
    panel_theme()
}
