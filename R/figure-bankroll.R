#' A figure of the wallet over an evening
#'
#' The middle wallet after each round, with the bands that hold 50% and 90% of the evenings.
#'
#' @param bankroll What [bankroll()] gives, with a limit of rounds.
#' @return A ggplot2 plot.
#' @section Errors: `package_needed`, `argument_wrong`.
#' @export
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' figure_bankroll(bankroll("lantern-tiles", rounds = 50))
figure_bankroll <- function(bankroll) {
  need_package("ggplot2", "draws the figures")
  if (!inherits(bankroll, "basanos_bankroll") || any(vapply(bankroll$over_time, is.null, NA)))
    abort_input("argument_wrong", "`figure_bankroll()` takes an evening with a limit of rounds.",
                "write bankroll(game, rounds = 100)")
  data <- do.call(rbind, lapply(names(bankroll$over_time), function(name) {
    table <- bankroll$over_time[[name]]
    data.frame(rule = name, round = table$round, low = table[["5%"]], lower = table[["25%"]], middle = table[["50%"]],
               upper = table[["75%"]], high = table[["95%"]])
  }))
  data$rule <- factor(data$rule, levels = names(bankroll$over_time))
  ggplot2::ggplot(data, ggplot2::aes(x = .data$round)) +
    ggplot2::geom_ribbon(ggplot2::aes(ymin = .data$low, ymax = .data$high, fill = "9 evenings in 10")) +
    ggplot2::geom_ribbon(ggplot2::aes(ymin = .data$lower, ymax = .data$upper, fill = "half of the evenings")) +
    ggplot2::geom_line(ggplot2::aes(y = .data$middle, colour = "the middle evening"), linewidth = 1) +
    ggplot2::geom_hline(yintercept = bankroll$terms$wallet, linetype = "dashed", colour = "grey35") +
    ggplot2::facet_wrap(ggplot2::vars(.data$rule)) +
    ggplot2::scale_fill_manual(values = c("9 evenings in 10" = "#dfe6ee", "half of the evenings" = "#9fb3c8"),
                               name = NULL, breaks = c("9 evenings in 10", "half of the evenings")) +
    ggplot2::scale_colour_manual(values = c("the middle evening" = "#1d3557"), name = NULL) +
    ggplot2::labs(x = "rounds played", y = "tokens in the wallet",
                  title = sprintf("%s: the wallet over an evening", title_of(bankroll)),
                  subtitle = sprintf("The dashed line is what was brought: %s tokens.",
                                     plain_number(bankroll$terms$wallet))) +
    panel_theme()
}
