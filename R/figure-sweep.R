#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_sweep <- function(object, ...) {
  sweep <- object
  if (!length(sweep$varied) %in% 1:3)
    abort_input("argument_wrong", "A figure of a sweep is over one to three things.",
                "write sweep_game(game, set = list(aim = 20:26), measure = \"edge(guest)\")")
  plot <- if (length(sweep$varied) == 1) sweep_line(sweep) else sweep_map(sweep)
  naming_players(plot + panel_theme(legend.key.width = ggplot2::unit(2.2, "cm")), list(object))
}

sweep_title <- function(sweep) {
  sprintf("%s: %s by %s", title_of(sweep),
          paste(if (length(sweep$varied) == 1) sweep$measure else sweep$measure[[1]], collapse = ", "),
          paste(gsub("_", " ", sweep$varied), collapse = ", "))
}

sweep_line <- function(sweep) {
  data <- sweep$rows
  data$at <- numbers_of_players(data[[sweep$varied]])
  data$measure <- factor(data$measure, levels = sweep$measure)
  if (!is.numeric(data$at)) data$at <- factor(data$at, levels = unique(data$at))
  ggplot2::ggplot(data, ggplot2::aes(x = .data$at, y = .data$value, group = 1)) +
    (if (is.numeric(data$at)) ggplot2::geom_ribbon(ggplot2::aes(ymin = .data$lower, ymax = .data$upper),
                                                   fill = shade("pale"),
                                                    na.rm = TRUE)) +
    (if (is.numeric(data$at)) ggplot2::geom_line(colour = shade("ink"), linewidth = 1)) +
    ggplot2::geom_linerange(ggplot2::aes(ymin = .data$lower, ymax = .data$upper), colour = shade("mist"),
                            na.rm = TRUE) +
    ggplot2::geom_point(colour = shade("ink"), size = 2.4) +
    ggplot2::facet_wrap(ggplot2::vars(.data$measure), ncol = 1, scales = "free_y") +
    (if (is.numeric(data$at) && length(unique(data$at)) <= 25) ggplot2::scale_x_continuous(breaks = unique(data$at))) +
    ggplot2::labs(x = gsub("_", " ", sweep$varied), y = NULL, title = sweep_title(sweep))
}

# banker(15), banker(16), ... as 15, 16, ...; anything else as it is.
numbers_of_players <- function(values) {
  if (is.numeric(values)) return(values)
  parts <- regmatches(values, regexec("^(\\w+\\((?:\\w+=)?)([0-9.]+)\\)$", values, perl = TRUE))
  if (any(lengths(parts) == 0) || length(unique(vapply(parts, `[`, "", 2))) > 1) return(values)
  as.numeric(vapply(parts, `[`, "", 3))
}

sweep_map <- function(sweep) {
  data <- sweep$rows[sweep$rows$measure == sweep$measure[[1]], ]
  as_axis <- function(name) factor(data[[name]], levels = unique(data[[name]]))
  data$across <- as_axis(sweep$varied[[2]])
  data$up <- as_axis(sweep$varied[[1]])
  if (length(sweep$varied) == 3) data$panel <- paste(gsub("_", " ", sweep$varied[[3]]), data[[sweep$varied[[3]]]])
  data$may_be <- rep(seq_len(nrow(sweep$points))) %in% sweep$may_be_best
  few <- nrow(data) <= 120
  middle <- mean(range(data$value))
  ggplot2::ggplot(data, ggplot2::aes(x = .data$across, y = .data$up)) +
    ggplot2::geom_tile(ggplot2::aes(fill = .data$value), colour = "white", linewidth = 0.6) +
    (if (few) ggplot2::geom_text(ggplot2::aes(label = fixed_text(.data$value, 3)), size = 3.4,
                                 colour = ifelse(data$value > middle, "white", "grey15"))) +
    (if (any(data$may_be)) ggplot2::geom_tile(data = data[data$may_be, ], fill = NA, colour = shade("ember"),
                                              linewidth = 1.1,
                                              width = 0.96, height = 0.96)) +
    ggplot2::scale_fill_gradient(low = "#eef2f6", high = shade("ink"), name = sweep$measure[[1]]) +
    (if (!is.null(data$panel)) ggplot2::facet_wrap(ggplot2::vars(.data$panel))) +
    ggplot2::labs(x = gsub("_", " ", sweep$varied[[2]]), y = gsub("_", " ", sweep$varied[[1]]),
                  title = sweep_title(sweep),
                  subtitle = if (any(data$may_be)) "Outlined: the best, and what may be as good.")
}

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
    moves <- balance$influence[balance$influence$target == as.character(bands$target[[k]]), ]
    ends <- c(bands$low[[k]], bands$high[[k]])
    seen <- range(moves$least, moves$greatest, balance$answers[[1]]$targets$value[[k]], ends[is.finite(ends)])
    room <- 0.05 * if (diff(seen) > 0) diff(seen) else max(1e-3, abs(seen[[1]]))
    bands$low[[k]] <- max(ends[[1]], seen[[1]] - room)
    bands$high[[k]] <- max(min(ends[[2]], seen[[2]] + room), bands$low[[k]] + room / 5)  # one value is a thin band
  }
  bands
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_rounds <- function(object, ...) {
  scores <- scores_by_round(object)
  bands <- do.call(rbind, lapply(split(scores, list(scores$seat, scores$round), drop = TRUE), function(of_round)
    data.frame(of_round[1, c("seat", "round")], low = stats::quantile(of_round$score, 0.1),
               high = stats::quantile(of_round$score, 0.9),
               mean = mean(of_round$score))))
  of <- attr(object, "unit")
  several <- of != "round" && max(object[[of]]) > 1
  ggplot2::ggplot(bands, ggplot2::aes(x = .data$round, colour = .data$seat, fill = .data$seat)) +
    (if (several) ggplot2::geom_ribbon(ggplot2::aes(ymin = .data$low, ymax = .data$high), alpha = 0.18, colour = NA)) +
    ggplot2::geom_line(ggplot2::aes(y = .data$mean), linewidth = 1.1) +
    ggplot2::scale_colour_manual(values = fills(length(unique(bands$seat))), name = NULL,
                                 aesthetics = c("colour", "fill"), guide = if (several) "none" else "legend") +
    (if (several) ggplot2::facet_wrap(ggplot2::vars(.data$seat))) +
    ggplot2::scale_x_continuous(breaks = whole_breaks) +
    ggplot2::labs(x = "rounds played", y = if (is.null(attr(object, "wins"))) "tokens so far" else "rounds won so far",
                  title = sprintf("%s: the race", attr(object, "title")),
                  subtitle = if (several) sprintf("The mean of %s; 8 of 10 lie within the band.",
                                                  count_text(max(object[[of]]), of, units_in_words(of)))) +
    panel_theme()
}

#' @rdname figures
#' @export
plot.basanos_rounds <- function(x, ...) plot.basanos_result(x, ...)

# seat, round, score: rounds won in a match that counts them, else tokens. What has ended stays as it is.
scores_by_round <- function(rounds) {
  wins <- attr(rounds, "wins")
  seats <- if (is.null(wins)) sub("^pay_", "", grep("^pay_", names(rounds), value = TRUE)) else names(wins)
  if (length(seats) == 0)
    abort_input("argument_wrong", "There is no race: nobody is paid, and no match counts what is won.",
                "declare pays(...), or match(first_to = 3, counts = wins)")
  of <- attr(rounds, "unit")
  units <- if (of == "round") list(rounds) else split(rounds, rounds[[of]])
  last <- max(rounds$round)
  do.call(rbind, lapply(seats, function(seat) do.call(rbind, lapply(units, function(of_unit) {
    gained <- if (is.null(wins)) of_unit[[paste0("pay_", seat)]] else of_unit$outcome %in% wins[[seat]]
    score <- cumsum(gained)
    data.frame(seat = seat, round = seq_len(last), score = c(score, rep(score[[length(score)]], last - length(score))))
  }))))
}
