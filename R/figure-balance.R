#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_balance <- function(object, ...) {
  balance <- object
  data <- balance$influence
  reach <- (data$greatest - data$least) / pmax(1e-12, stats::ave(data$greatest - data$least, data$target, FUN = max))
  data$knob <- factor(data$knob, levels = names(sort(tapply(reach, data$knob, sum))))
  data$target <- factor(data$target, levels = unique(data$target))
  answer <- balance$answers[[1]]$targets
  answer$target <- factor(answer$target, levels = levels(data$target))
  figure <- ggplot2::ggplot(data, ggplot2::aes(y = .data$knob)) +
    ggplot2::geom_rect(data = wanted_bands(balance, levels(data$target)),
                       ggplot2::aes(xmin = .data$low, xmax = .data$high, ymin = -Inf, ymax = Inf), inherit.aes = FALSE,
                       fill = shade("wanted")) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = .data$least, xmax = .data$greatest), colour = shade("ink"),
                            linewidth = 6,
                            alpha = 0.85) +
    ggplot2::geom_vline(data = answer, ggplot2::aes(xintercept = .data$value), colour = shade("ember"),
                        linewidth = 0.9) +
    ggplot2::facet_wrap(ggplot2::vars(.data$target), ncol = 1, scales = "free_x") +
    ggplot2::labs(x = NULL, y = NULL, title = sprintf("%s: how far each knob moves each target", title_of(balance)),
                  subtitle = "Shaded: the target. Line: the first answer.") +
    panel_theme()
  naming_players(figure, list(object))
}

# The targets' ranges, as far as each panel shows them: with their ends, even where no knob gets there.
wanted_bands <- function(balance, levels) {
  bands <- balance$bands
  bands$target <- factor(bands$target, levels = levels)
  for (k in seq_len(nrow(bands))) {
    own <- balance$influence[balance$influence$target == as.character(bands$target[[k]]), ]
    ends <- c(bands$low[[k]], bands$high[[k]])
    seen <- range(own$least, own$greatest, balance$answers[[1]]$targets$value[[k]], ends[is.finite(ends)])
    room <- 0.05 * if (diff(seen) > 0) diff(seen) else max(1e-3, abs(seen[[1]]))
    bands$low[[k]] <- max(ends[[1]], seen[[1]] - room)
    bands$high[[k]] <- max(min(ends[[2]], seen[[2]] + room), bands$low[[k]] + room / 5)  # one value is a thin band
  }
  bands
}
