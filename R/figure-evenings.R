#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_bankroll <- function(object, ...) {
  bankroll <- object
  if (any(vapply(bankroll$over_time, is.null, NA)))
    abort_input("argument_wrong", "A figure of an evening needs a limit of rounds, and the wallet after each.",
                sprintf("write bankroll(game, evening_rounds = 100%s)", if (is.null(bankroll$evenings)) ""
                  else ", over_time = TRUE"))
  data <- do.call(rbind, lapply(names(bankroll$over_time), function(name) {
    table <- bankroll$over_time[[name]]
    data.frame(rule = name, round = table$round, low = table[["5%"]], lower = table[["25%"]], middle = table[["50%"]],
               upper = table[["75%"]], high = table[["95%"]])
  }))
  data$rule <- factor(data$rule, levels = names(bankroll$over_time))
  figure <- ggplot2::ggplot(data, ggplot2::aes(x = .data$round)) +
    ggplot2::geom_ribbon(ggplot2::aes(ymin = .data$low, ymax = .data$high, fill = "9 evenings in 10")) +
    ggplot2::geom_ribbon(ggplot2::aes(ymin = .data$lower, ymax = .data$upper, fill = "half of the evenings")) +
    ggplot2::geom_line(ggplot2::aes(y = .data$middle, colour = "the middle evening"), linewidth = 1) +
    ggplot2::geom_hline(yintercept = bankroll$terms$wallet, linetype = "dashed", colour = "grey35") +
    ggplot2::facet_wrap(ggplot2::vars(.data$rule)) +
    ggplot2::scale_fill_manual(values = c("9 evenings in 10" = shade("pale"), "half of the evenings" = shade("mist")),
                               name = NULL, breaks = c("9 evenings in 10", "half of the evenings")) +
    ggplot2::scale_colour_manual(values = c("the middle evening" = shade("ink")), name = NULL) +
    ggplot2::labs(x = "rounds played", y = "tokens in the wallet",
                  title = sprintf("%s: the wallet over an evening", title_of(bankroll)),
                  subtitle = sprintf("The dashed line is what was brought: %s tokens.",
                                     plain_number(bankroll$terms$wallet))) +
    panel_theme()
  naming_players(figure, list(object))
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_takings <- function(object, ...) {
  takings <- object
  data <- do.call(rbind, lapply(names(takings$distributions), function(name)
    cbind(stall = name, takings_bars(takings$distributions[[name]]))))
  data$stall <- factor(data$stall, levels = names(takings$distributions))
  marks <- data.frame(stall = factor(takings$rows$game, levels = levels(data$stall)),
                      value = unlist(takings$rows[c("5%", "50%", "95%")], use.names = FALSE))
  marks$label <- fixed_text(marks$value, 0, sign = TRUE)
  figure <- bars_with_marks(data, marks, c("the stall loses" = shade("ember"), "the stall gains" = shade("mist"))) +
    ggplot2::facet_wrap(ggplot2::vars(.data$stall), ncol = 1, scales = "free_y") +
    ggplot2::labs(x = "tokens taken in an evening", y = "share of evenings", title = "The stall's evening",
                  subtitle = "Dashed: 5%, half and 95% of evenings take this or less.") +
    panel_theme()
  naming_players(figure, list(object))
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_till <- function(object, ...) {
  till <- object
  data <- takings_bars(list2DF(convolved(till$play, till$played)))
  first <- data$value - data$width / 2  # the least of what a bar holds
  far <- if (till$at_most <= till$at_least) first <= till$shows + 1e-9 else first >= till$shows - 1e-9
  data$side <- ifelse(far, "as far off, or further, on that side", "nearer")
  marks <- data.frame(value = c(till$expected, till$shows), label = c("expected", "the till"))
  marks$label <- sprintf("%s: %s", marks$label, fixed_text(marks$value, 0, sign = TRUE))
  figure <- bars_with_marks(data, marks, c("as far off, or further, on that side" = shade("ember"),
                                           "nearer" = shade("mist")), lines_above = c(0, 1)) +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(c(0.05, 0.15))) +
    ggplot2::labs(x = sprintf("tokens in the till after %s", count_text(till$played, till$unit)), y = "chance",
                  title = sprintf("%s: is the till plausible?", title_of(till)),
                  subtitle = sprintf("As far off, to either side: %s.", percent_text(till$two_sided, 3))) +
    panel_theme()
  naming_players(figure, list(till))
}

# Bars by value, coloured by `side`, with a dashed line and a label at each mark; `lines_above`: how many lines of text
# are left free above a label.
bars_with_marks <- function(data, marks, colours, lines_above = 0) {
  ggplot2::ggplot(data, ggplot2::aes(x = .data$value, y = .data$probability)) +
    ggplot2::geom_col(ggplot2::aes(fill = .data$side), width = data$width) +
    ggplot2::geom_vline(data = marks, ggplot2::aes(xintercept = .data$value), linetype = "dashed", colour = "grey35") +
    ggplot2::geom_text(data = marks, ggplot2::aes(x = .data$value, y = Inf, label = .data$label),
                       vjust = 1.4 + 1.8 * lines_above, hjust = -0.1, size = 3.6, colour = "grey20") +
    ggplot2::scale_fill_manual(values = colours, name = NULL) +
    ggplot2::scale_y_continuous(labels = function(v) percent_text(v, 1), expand = ggplot2::expansion(c(0, 0.15)))
}

takings_bars_shown <- 60

# Neighbours joined in bars of one width, none across zero; what has next to no chance left out.
takings_bars <- function(distribution) {
  up_to <- cumsum(distribution$probability)
  shown <- distribution[up_to > 5e-4 & up_to - distribution$probability < 1 - 5e-4, ]
  step <- if (nrow(shown) > 1) min(diff(shown$value)) else 1
  width <- max(step, ceiling(diff(range(shown$value)) / takings_bars_shown / step) * step)
  class <- floor(shown$value / width + 1e-9)
  probability <- rowsum(shown$probability, class)
  at <- (as.numeric(rownames(probability)) + 0.5) * width
  data.frame(value = at, probability = as.vector(probability), width = width,
             side = ifelse(at < 0, "the stall loses", "the stall gains"))
}
