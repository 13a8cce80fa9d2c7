most_situations_drawn <- 60L

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_answers <- function(object, ...) {
  rows <- object$rows
  by <- intersect(object$by, names(rows))
  rows$answer <- factor(rows$answer, levels = unique(rows$answer))
  figure <- if (length(by) == 2) figure_of_situations(rows, by) else figure_of_shares(rows, by)
  figure <- figure +
    ggplot2::labs(title = sprintf("%s: what %s does as %s", title_of(object), object$player, object$seat),
                  subtitle = sprintf("Asked for %s, in %s rounds watched%s.", gsub("_", " ", object$decision),
                                     whole_text(object$rounds),
                                     if (length(by) > 0) paste(", by", paste(by, collapse = " and ")) else ""),
                  fill = NULL)
  figure
}

# The shares of the answers in each situation, as bars.
figure_of_shares <- function(rows, by) {
  situation <- if (length(by) == 0) rep("always", nrow(rows)) else do.call(paste, unname(lapply(rows[by], format)))
  kept <- unique(situation)[seq_len(min(length(unique(situation)), most_situations_drawn))]
  data <- rows[situation %in% kept, ]
  data$situation <- factor(situation[situation %in% kept], levels = rev(kept))
  with_rows(ggplot2::ggplot(data, ggplot2::aes(x = .data$share, y = .data$situation, fill = .data$answer)) +
    ggplot2::geom_col(width = if (length(kept) < 4) 0.4 else 0.8, position = ggplot2::position_stack(reverse = TRUE)) +
    ggplot2::scale_fill_manual(values = answer_fills(nlevels(data$answer))) +
    ggplot2::scale_x_continuous(labels = percent_axis, expand = ggplot2::expansion(c(0, 0.02))) +
    ggplot2::labs(x = "share of the answers", y = NULL) +
    panel_theme(panel.grid.major.y = ggplot2::element_blank()), length(kept))
}

# The most frequent answer by two expressions, as a map; pale where it is not always given.
figure_of_situations <- function(rows, by) {
  key <- paste(rows[[by[[1]]]], rows[[by[[2]]]], sep = "\r")
  data <- do.call(rbind, lapply(split(rows, key), function(r) r[which.max(r$share), ]))
  axis <- function(v) factor(v, levels = sort(unique(v)))
  data$across <- axis(data[[by[[1]]]])
  data$down <- axis(data[[by[[2]]]])
  with_rows(ggplot2::ggplot(data, ggplot2::aes(x = .data$across, y = .data$down, fill = .data$answer,
                                               alpha = .data$share)) +
    ggplot2::geom_tile(colour = "white", linewidth = 0.6) +
    ggplot2::scale_fill_manual(values = answer_fills(nlevels(data$answer)), drop = FALSE) +
    ggplot2::scale_alpha_continuous(range = c(0.25, 1), limits = c(0, 1), guide = "none") +
    ggplot2::labs(x = by[[1]], y = by[[2]]) + panel_theme(panel.grid = ggplot2::element_blank()), nlevels(data$down))
}

# Fills of any number of answers: those of groups, or colours between them.
answer_fills <- function(n) if (n <= 7) fills(n) else grDevices::colorRampPalette(fills(7))(n)
