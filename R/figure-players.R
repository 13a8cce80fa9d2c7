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

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_best <- function(object, ...) {
  all <- object$policy
  if (NROW(all) == 0) return(figure_of_worths(object))
  rows <- each_answer(all[all$seat == all$seat[[1]] & all$decision == all$decision[[1]], ])
  rows$answer <- most_frequent(rows$answer, rows$reach)
  chart <- as_shares(rows, chart_things(object, rows))
  chart$rows$answer <- factor(chart$rows$answer, levels = unique(chart$rows$answer))
  drawn <- if (length(chart$by) == 2) figure_of_situations(chart$rows, chart$by)
    else figure_of_shares(chart$rows, chart$by)
  if (length(chart$by) != 2) drawn <- drawn + ggplot2::labs(x = "share of the times that it is met")
  pale <- if (length(chart$by) == 2 && any(chart$rows$share > 0.01 & chart$rows$share < 0.99))
    " Pale: one answer of several." else ""
  drawn + ggplot2::labs(title = best_title(object), fill = NULL, subtitle = sprintf(
    "What to do: %s%s. Worth of a %s: %s, by %s.%s", gsub("_", " ", rows$decision[[1]]),
    if (length(object$seats) > 1) paste(" as", rows$seat[[1]]) else "", object$unit,
    bounds_text(object$value, object$lower, object$upper), object$objective, pale))
}

# As many as there are fills, the last of them for all the others.
most_frequent <- function(answers, weight) {
  often <- names(sort(-tapply(weight, answers, sum)))
  if (length(often) <= 7) answers else ifelse(answers %in% often[1:6], answers, "another")
}

most_firsts_drawn <- 12L

# What each first answer is worth, the best first; a ring is a bound.
figure_of_firsts <- function(object) {
  f <- utils::head(object$firsts, most_firsts_drawn)
  lowest <- object$best == "lowest"
  bound <- if (lowest) "at least" else "at most"
  data <- data.frame(answer = factor(f$answer, levels = rev(f$answer)), known = ifelse(is.na(f$value), bound, "exact"),
                     worth = ifelse(is.na(f$value), if (lowest) f$lower else f$upper, f$value))
  more <- nrow(object$firsts) - nrow(f)
  ggplot2::ggplot(data, ggplot2::aes(x = .data$worth, y = .data$answer, shape = .data$known)) +
    ggplot2::geom_point(size = 3, colour = shade("ink")) +
    ggplot2::scale_shape_manual(values = stats::setNames(c(16, 1), c("exact", bound))) +
    ggplot2::labs(x = sprintf("worth of a %s, by %s", object$unit, object$objective), y = NULL, shape = NULL,
                  title = best_title(object), subtitle = paste0(
                    "What each first answer is worth", if (more > 0) sprintf("; %d more are not drawn", more), ".")) +
    panel_theme()
}

# Where there is no chart: the worth, and what named players come to.
figure_of_worths <- function(object) {
  if (NROW(object$firsts) > 0) return(figure_of_firsts(object))
  data <- data.frame(player = c("best play", object$losses$player), lower = c(object$lower, object$losses$lower),
                     upper = c(object$upper, object$losses$upper))
  data$player <- factor(data$player, levels = rev(unique(data$player)))
  ggplot2::ggplot(data, ggplot2::aes(y = .data$player)) +
    ggplot2::geom_segment(ggplot2::aes(x = .data$lower, xend = .data$upper, yend = .data$player),
                          colour = shade("ink"), linewidth = 3, lineend = "round") +
    ggplot2::labs(title = best_title(object), x = sprintf("worth of a %s, by %s", object$unit, object$objective),
                  y = NULL) + figure_theme()
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
