# Convergence: the estimate and its interval at each stage of sampling to a precision.
figure_of_convergence <- function(odds) {
  if (is.null(odds$reached))
    abort_input("argument_wrong", "How an estimate settles is known of odds that were sampled to a precision.",
                "write odds(game, precision = 0.001)")
  reached <- odds$reached
  low <- utils::tail(reached$stages$value, 1) - reached$wanted
  high <- low + 2 * reached$wanted
  span <- range(reached$stages$rounds) * c(0.9, 1.1)
  what <- sprintf(switch(reached$kind, outcome = "probability of %s", pay = "mean pay of %s", "mean of %s"),
                  reached$measure)
  ggplot2::ggplot(reached$stages, ggplot2::aes(x = .data$rounds, y = .data$value)) +
    ggplot2::annotate("rect", xmin = span[[1]], xmax = span[[2]], ymin = low, ymax = high, fill = shade("gold"),
                      alpha = 0.35) +
    ggplot2::geom_linerange(ggplot2::aes(ymin = .data$lower, ymax = .data$upper), linewidth = 0.9,
                            colour = shade("ink")) +
    ggplot2::geom_point(size = 2.6, colour = shade("ink")) +
    ggplot2::scale_x_log10(labels = whole_text) +
    ggplot2::labs(x = sprintf("%s sampled", units_in_words(odds$unit)), y = what,
                  title = sprintf("%s: %s, with 95%% intervals", title_of(odds), what),
                  subtitle = sprintf("The band is the precision asked for: %g to either side.", reached$wanted)) +
    figure_theme()
}
