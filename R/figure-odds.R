# The outcomes: bars for exact odds, points with intervals for sampled ones, bounds of a count that stopped early.
figure_of_outcomes <- function(all) {
  data <- do.call(rbind, lapply(all, figure_rows))
  # Games share names of outcomes but not their order: a row is a game and an outcome.
  data$row <- paste(data$name, data$game, sep = "\n")
  data$row <- factor(data$row, levels = rev(unique(data$row)))
  data$game <- factor(data$game, levels = unique(data$game))
  exact <- data[data$kind == "exact", ]
  sampled <- data[data$kind == "sample", ]
  bounds <- data[data$kind == "bounds", ]
  with_rows(ggplot2::ggplot(data, ggplot2::aes(x = .data$probability, y = .data$row)) +
    (if (nrow(bounds) > 0)
      ggplot2::geom_linerange(data = bounds,
                              ggplot2::aes(xmin = .data$lower, xmax = .data$upper,
                                           colour = "bounds of a count that stopped"), linewidth = 5)) +
    ggplot2::geom_col(data = exact, ggplot2::aes(fill = "counted exactly"), width = 0.62) +
    ggplot2::geom_errorbar(data = sampled,
                           ggplot2::aes(xmin = .data$lower, xmax = .data$upper, colour = "sampled, with 95% interval"),
                           width = 0.3, linewidth = 0.6, orientation = "y") +
    ggplot2::geom_point(data = sampled, ggplot2::aes(colour = "sampled, with 95% interval"), size = 2) +
    ggplot2::geom_text(data = figure_labels(data), ggplot2::aes(x = .data$end, label = .data$label), hjust = 0,
                       nudge_x = max(data$end) * 0.02, size = 3.4, colour = "grey25") +
    ggplot2::facet_wrap(ggplot2::vars(.data$game), scales = "free_y", ncol = 1, space = "free_y") +
    ggplot2::scale_y_discrete(labels = function(x) sub("\n.*", "", x)) +
    ggplot2::scale_x_continuous(labels = function(x) sprintf("%g%%", 100 * x),
                                expand = ggplot2::expansion(mult = c(0, 0.14))) +
    ggplot2::expand_limits(x = 0) +
    (if (nrow(exact) > 0)
      ggplot2::scale_fill_manual(values = c("counted exactly" = shade("gold")), name = NULL,
                                 guide = ggplot2::guide_legend(order = 1))) +
    (if (nrow(exact) < nrow(data))
      ggplot2::scale_colour_manual(values = c("sampled, with 95% interval" = shade("ink"),
                                              "bounds of a count that stopped" = shade("mist")), name = NULL,
                                              guide = ggplot2::guide_legend(order = 2))) +
    ggplot2::labs(x = paste("share of", data$of[[1]]), y = NULL, title = sprintf("How the %s end", data$of[[1]])) +
    panel_theme(panel.grid.major.y = ggplot2::element_blank()), nlevels(data$row) + 2L * nlevels(data$game))
}

utils::globalVariables(".data")  # the pronoun that ggplot2 puts in place

figure_rows <- function(x) {
  of_units <- !x$complete && x$unit != "round"
  o <- if (!of_units) x$outcomes else if (is.null(x$units$winners)) x$units$endings else x$units$winners
  data.frame(game = title_of(x), kind = if (x$complete) x$engine
    else "bounds", of = units_in_words(if (of_units) x$unit else "round"), name = o$name, probability = o$probability,
             lower = if (is.null(o$lower)) NA_real_ else o$lower, upper = if (is.null(o$upper)) NA_real_ else o$upper,
             end = if (is.null(o$upper)) o$probability else o$upper)
}

# One label for each outcome, beyond all that is drawn of it: the exact value where there is one.
figure_labels <- function(data) {
  data$end <- stats::ave(data$end, paste(data$game, data$name), FUN = max)
  data <- data[order(data$kind != "exact"), ]
  data <- data[!duplicated(data[c("game", "name")]), ]
  data$label <- ifelse(data$kind == "bounds", paste(percent_text(data$lower, 1), "to", percent_text(data$upper, 1)),
                       percent_text(data$probability, 2))
  data
}
