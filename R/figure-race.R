#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_rounds <- function(object, ...) {
  scores <- scores_by_round(object)
  bands <- do.call(rbind, lapply(split(scores, list(scores$seat, scores$round), drop = TRUE), function(own)
    data.frame(own[1, c("seat", "round")], low = stats::quantile(own$score, 0.1),
               high = stats::quantile(own$score, 0.9),
               mean = mean(own$score))))
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
  do.call(rbind, lapply(seats, function(seat) do.call(rbind, lapply(units, function(own) {
    gained <- if (is.null(wins)) own[[paste0("pay_", seat)]] else own$outcome %in% wins[[seat]]
    score <- cumsum(gained)
    data.frame(seat = seat, round = seq_len(last), score = c(score, rep(score[[length(score)]], last - length(score))))
  }))))
}
