#' A figure of the odds
#'
#' Bars for the exact odds; points with their 95% intervals for the sampled ones; of a count that stopped early the
#' bounds, for a match or sitting those of who wins it or how it ends.
#'
#' @param ... Odds of one or several games: see [odds()]. Odds of the same game, exact and sampled,
#'   are drawn together.
#' @return A ggplot2 plot.
#' @section Errors: `package_needed` where ggplot2 is not installed.
#' @export
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' figure_odds(odds("tide-signs"))
figure_odds <- function(...) {
  need_package("ggplot2", "draws the figures")
  all <- list(...)
  if (length(all) == 0 || !all(vapply(all, inherits, NA, "basanos_odds")))
    abort_input("argument_wrong", "`figure_odds()` takes odds, as odds() gives them.")
  data <- do.call(rbind, lapply(all, figure_rows))
  # Games share names of outcomes but not their order: a row is a game and an outcome.
  data$row <- paste(data$name, data$game, sep = "\n")
  data$row <- factor(data$row, levels = rev(unique(data$row)))
  data$game <- factor(data$game, levels = unique(data$game))
  exact <- data[data$kind == "exact", ]
  sampled <- data[data$kind == "sample", ]
  bounds <- data[data$kind == "bounds", ]
  ggplot2::ggplot(data, ggplot2::aes(x = .data$probability, y = .data$row)) +
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
      ggplot2::scale_fill_manual(values = c("counted exactly" = "#e3b23c"), name = NULL,
                                 guide = ggplot2::guide_legend(order = 1))) +
    (if (nrow(exact) < nrow(data))
      ggplot2::scale_colour_manual(values = c("sampled, with 95% interval" = "#1d3557",
                                              "bounds of a count that stopped" = "#9fb3c8"), name = NULL,
                                              guide = ggplot2::guide_legend(order = 2))) +
    ggplot2::labs(x = paste("share of", data$of[[1]]), y = NULL, title = sprintf("How the %s end", data$of[[1]])) +
    ggplot2::theme_minimal(base_size = 13) +
    ggplot2::theme(legend.position = "top", legend.justification = "left",
                   panel.grid.major.y = ggplot2::element_blank(),
                   strip.text = ggplot2::element_text(face = "bold", hjust = 0), plot.title.position = "plot",
                   plot.margin = ggplot2::margin(8, 24, 8, 8))
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

# One label for each outcome: the exact value where there is one.
figure_labels <- function(data) {
  data <- data[order(data$kind != "exact"), ]
  data <- data[!duplicated(data[c("game", "name")]), ]
  data$label <- ifelse(data$kind == "bounds", paste(percent_text(data$lower, 1), "to", percent_text(data$upper, 1)),
                       percent_text(data$probability, 2))
  data
}

#' @export
plot.basanos_odds <- function(x, ...) print(figure_odds(x, ...))

# Draws a figure and writes it whole or not at all.
save_figure <- function(figure, path, width = 10, height = 6.25) {
  kind <- figure_kind(path)
  drawn <- tempfile(fileext = paste0(".", kind))
  on.exit(unlink(drawn))
  if (kind == "png") grDevices::png(drawn, width, height, units = "in", res = 128, type = "cairo")
  else grDevices::svg(drawn, width, height)
  tryCatch(print(figure), finally = grDevices::dev.off())
  bytes <- readBin(drawn, "raw", file.size(drawn))
  # The devices say nothing where the disk is full: a whole picture ends as pictures of its kind do.
  end <- if (kind == "png") "IEND" else "</svg>"
  if (!grepl(end, rawToChar(utils::tail(bytes[bytes != as.raw(0)], 40)), fixed = TRUE, useBytes = TRUE)) {
    abort_input("file_written", sprintf("`%s` could not be drawn whole.", path),
                "check the room on the disk for temporary files")
  }
  write_bytes(bytes, path)
}

figure_kind <- function(path) {
  kind <- tolower(tools::file_ext(path))
  if (kind %in% c("png", "svg")) return(kind)
  abort_input("format_unknown", sprintf("A figure is a .png or a .svg file, not `%s`.", basename(path)),
              "end the name with .png or .svg")
}
