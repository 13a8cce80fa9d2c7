#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_players <- function(object, show = c("pairs", "ranking"), ...) {
  players <- object
  if (one_of_names(show[[1]], c("pairs", "ranking"), "argument_wrong", "show") == "ranking")
    return(figure_of_ranking(players))
  a <- players$advantage
  data <- rbind(data.frame(player = a$player, against = a$against, advantage = a$advantage, sure = a$sure != 0),
                data.frame(player = a$against, against = a$player, advantage = -a$advantage, sure = a$sure != 0))
  best <- players$ranking$player
  data$player <- factor(data$player, levels = rev(best))
  data$against <- factor(data$against, levels = best)
  digits <- if (players$engine == "sample") error_digits(max(a$standard_error, 1e-9)) else 3L
  data$ahead <- ifelse(data$advantage < 0, "behind", "ahead")
  data$strength <- abs(data$advantage) / max(abs(data$advantage), 1e-9)
  ggplot2::ggplot(data, ggplot2::aes(x = .data$against, y = .data$player)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$ahead, alpha = .data$strength), colour = NA, width = 0.97,
                       height = 0.94) +
    ggplot2::geom_text(ggplot2::aes(label = fixed_text(.data$advantage, digits, sign = TRUE), colour = .data$sure),
                       size = 3.8) +
    ggplot2::scale_colour_manual(values = c("TRUE" = "grey10", "FALSE" = "grey55"), guide = "none") +
    ggplot2::scale_alpha_continuous(range = c(0.12, 0.75), limits = c(0, 1), guide = "none") +
    ggplot2::scale_fill_manual(values = c(ahead = shade("mist"), behind = shade("ember")), name = NULL) +
    ggplot2::scale_x_discrete(position = "top") +
    ggplot2::labs(x = "against", y = NULL,
                  title = sprintf("%s: who is better", title_of(players)),
                  subtitle = sprintf("By %s%s. Grey: cannot be told apart.", any_seat(players$measure),
                                     if (length(players$seats) > 1) ", seats swapped" else "")) +
    figure_theme(panel.grid = ggplot2::element_blank(), axis.ticks.x.top = ggplot2::element_blank(),
                 axis.title.x.top = ggplot2::element_text(margin = ggplot2::margin(b = 6)))
}

figure_of_ranking <- function(players) {
  r <- players$ranking
  r$player <- factor(r$player, levels = rev(r$player))
  r$rank <- ifelse(r$rank_from == r$rank_to, sprintf("rank %d", r$rank_from),
                   sprintf("rank %d to %d", r$rank_from, r$rank_to))
  r$kind <- ifelse(is.na(r$cycle), "alone", "in a circle")
  span <- if (any(abs(r$mean) > 1e-9)) max(abs(r$mean)) else 1
  ggplot2::ggplot(r, ggplot2::aes(x = .data$mean, y = .data$player)) +
    ggplot2::geom_vline(xintercept = 0, colour = "grey70") +
    ggplot2::geom_segment(ggplot2::aes(x = 0, xend = .data$mean, yend = .data$player), colour = shade("mist"),
                          linewidth = 1.2) +
    ggplot2::geom_point(ggplot2::aes(colour = .data$kind), size = 4) +
    ggplot2::geom_text(ggplot2::aes(label = .data$rank, hjust = ifelse(.data$mean < 0, 1.3, -0.3)), size = 3.8) +
    ggplot2::scale_colour_manual(values = c(alone = shade("ink"), "in a circle" = shade("ember")), name = NULL,
                                 guide = if (all(is.na(r$cycle))) "none" else "legend") +
    ggplot2::scale_x_continuous(limits = c(-1, 1) * span * 1.35) +
    ggplot2::labs(x = "mean advantage over the others", y = NULL,
                  title = sprintf("%s: the ranking of its players", title_of(players)),
                  subtitle = sprintf("By %s. Where ranks are a range, it is not sure.", any_seat(players$measure))) +
    figure_theme()
}
