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

most_outcomes_drawn <- 6L

# The outcomes after each answer at a position, the best answer first.
figure_of_answers <- function(odds) {
  answers <- odds$answers
  if (is.null(answers))
    abort_input("argument_wrong", "Only odds from a position tell where answers lead.",
                "write odds(game, at = \"guest_total = 16\")")
  names <- intersect(odds$outcomes$name, names(answers))
  often <- vapply(answers[names], max, 0)
  kept <- names[rank(-often, ties.method = "first") <= most_outcomes_drawn & often > 0]
  data <- do.call(rbind, lapply(kept, function(name)
    data.frame(answer = answers$answer, outcome = name, share = answers[[name]])))
  rest <- pmax(0, 1 - rowSums(answers[kept]))
  if (any(rest > 1e-9)) data <- rbind(data, data.frame(answer = answers$answer, outcome = "others", share = rest))
  data$answer <- factor(data$answer, levels = rev(unique(answers$answer)))
  data$outcome <- factor(data$outcome, levels = unique(data$outcome))
  data$label <- ifelse(data$share < 0.05, "", percent_text(data$share, 0))
  with_rows(ggplot2::ggplot(data, ggplot2::aes(x = .data$share, y = .data$answer, fill = .data$outcome)) +
    ggplot2::geom_col(position = ggplot2::position_stack(reverse = TRUE), width = 0.68, colour = "white") +
    ggplot2::geom_text(ggplot2::aes(label = .data$label), size = 3.4, fontface = "bold",
                       colour = ifelse(data$outcome %in% levels(data$outcome)[dark_fills], "white", "grey10"),
                       position = ggplot2::position_stack(vjust = 0.5, reverse = TRUE)) +
    ggplot2::scale_fill_manual(values = fills(nlevels(data$outcome)), name = NULL) +
    ggplot2::scale_x_continuous(labels = function(v) percent_text(v, 0), expand = ggplot2::expansion(c(0, 0.02))) +
    ggplot2::labs(x = "share of rounds from here", y = NULL,
                  title = sprintf("%s: what each answer leads to", title_of(odds)),
                  subtitle = sprintf("From %s; the best answer on top.", odds$position$text)) +
    panel_theme(panel.grid.major.y = ggplot2::element_blank()), nrow(answers))
}

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
