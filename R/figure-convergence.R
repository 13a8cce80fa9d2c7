#' A figure of how an estimate settles
#'
#' The estimate and its 95% interval at each stage of sampling to a precision.
#'
#' @param odds Odds sampled with a `precision`: see [odds()].
#' @return A ggplot2 plot.
#' @section Errors: `package_needed`, `argument_wrong`.
#' @export
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' figure_convergence(odds("lantern-tiles", precision = 0.005))
figure_convergence <- function(odds) {
  need_package("ggplot2", "draws the figures")
  if (!inherits(odds, "basanos_odds") || is.null(odds$reached))
    abort_input("argument_wrong", "`figure_convergence()` takes odds that were sampled to a precision.",
                "write odds(game, precision = 0.001)")
  reached <- odds$reached
  low <- utils::tail(reached$stages$estimate, 1) - reached$wanted
  high <- low + 2 * reached$wanted
  what <- sprintf(switch(reached$kind, outcome = "probability of %s", pay = "mean pay of %s", "mean of %s"), reached$of)
  ggplot2::ggplot(reached$stages, ggplot2::aes(x = .data$rounds, y = .data$estimate)) +
    ggplot2::geom_ribbon(ggplot2::aes(ymin = low, ymax = high), fill = "#e3b23c", alpha = 0.35) +
    ggplot2::geom_errorbar(ggplot2::aes(ymin = .data$lower, ymax = .data$upper), width = 0.04, linewidth = 0.7,
                           colour = "#1d3557") +
    ggplot2::geom_point(size = 2.6, colour = "#1d3557") +
    ggplot2::scale_x_log10(labels = whole_text) +
    ggplot2::labs(x = sprintf("%s sampled", units_in_words(odds$unit)), y = what,
                  title = sprintf("%s: %s, with 95%% intervals", title_of(odds), what),
                  subtitle = sprintf("The band is the precision asked for: %g to either side.", reached$wanted)) +
    ggplot2::theme_minimal(base_size = 14) +
    ggplot2::theme(panel.grid.minor = ggplot2::element_blank(), plot.title.position = "plot",
                   plot.margin = ggplot2::margin(10, 24, 10, 10))
}
