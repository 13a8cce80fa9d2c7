#' A figure of what is recorded and paid, by value
#'
#' @param odds Odds: see [odds()].
#' @return A ggplot2 plot: a panel for each record of numbers and each pay, with the quantiles at 5, 25, 50, 75 and 95%
#'   as lines.
#' @section Errors: `package_needed`, and `argument_wrong` where nothing has a distribution of numbers.
#' @export
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' figure_distribution(odds("dice-duel"))
figure_distribution <- function(odds) {
  need_package("ggplot2", "draws the figures")
  all <- if (inherits(odds, "basanos_odds"))
    stats::setNames(c(odds$distributions, odds$pay_distributions), c(odds$records$name, pay_titles(odds)))
  all <- Filter(function(d) is.numeric(d$value), all)
  if (length(all) == 0)
    abort_input("argument_wrong", "`figure_distribution()` takes odds with a record of numbers, or pays.",
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
                        colour = "#9fb3c8") +
    ggplot2::geom_segment(ggplot2::aes(xend = .data$value, yend = 0), linewidth = 1.6, colour = "#1d3557") +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free") +
    ggplot2::scale_linewidth_manual(values = c("FALSE" = 0.5, "TRUE" = 1.2), guide = "none") +
    ggplot2::scale_y_continuous(labels = function(x) sprintf("%g%%", 100 * x)) +
    ggplot2::labs(x = NULL, y = "share of rounds",
                  title = sprintf("%s: what is recorded and paid", title_of(odds)),
                  subtitle = "Lines: 5, 25, 50 (thick), 75 and 95% of the rounds have this value or less.") +
    ggplot2::theme_minimal(base_size = 13) +
    ggplot2::theme(panel.grid.minor = ggplot2::element_blank(), plot.title.position = "plot",
                   strip.text = ggplot2::element_text(face = "bold", hjust = 0),
                   plot.margin = ggplot2::margin(10, 24, 10, 10))
}
