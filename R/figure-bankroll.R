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
