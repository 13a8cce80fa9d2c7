most_outcomes_drawn <- 6L

# The outcomes after each answer at a position, the best answer first.
figure_of_answers <- function(odds) {
  answers <- odds$answers
  if (is.null(answers))
    abort_input("argument_wrong", "Only odds from a position tell where answers lead.",
                "write odds(game, at = \"guest_total = 16\")")
  names <- intersect(odds$outcomes$name, names(answers))
  often <- vapply(answers[names], max, 0)
  kept <- names[rank(-often, ties.method = "first") <= most_outcomes_drawn & often > 0]
  data <- do.call(rbind, lapply(kept, function(name)
    data.frame(answer = answers$answer, outcome = name, share = answers[[name]])))
  rest <- pmax(0, 1 - rowSums(answers[kept]))
  if (any(rest > 1e-9)) data <- rbind(data, data.frame(answer = answers$answer, outcome = "others", share = rest))
  data$answer <- factor(data$answer, levels = rev(unique(answers$answer)))
  data$outcome <- factor(data$outcome, levels = unique(data$outcome))
  data$label <- ifelse(data$share < 0.05, "", percent_text(data$share, 0))
  with_rows(ggplot2::ggplot(data, ggplot2::aes(x = .data$share, y = .data$answer, fill = .data$outcome)) +
    ggplot2::geom_col(position = ggplot2::position_stack(reverse = TRUE), width = 0.68, colour = "white") +
    ggplot2::geom_text(ggplot2::aes(label = .data$label), size = 3.4, fontface = "bold",
                       colour = ifelse(data$outcome %in% levels(data$outcome)[dark_fills], "white", "grey10"),
                       position = ggplot2::position_stack(vjust = 0.5, reverse = TRUE)) +
    ggplot2::scale_fill_manual(values = fills(nlevels(data$outcome)), name = NULL) +
    ggplot2::scale_x_continuous(labels = function(v) percent_text(v, 0), expand = ggplot2::expansion(c(0, 0.02))) +
    ggplot2::labs(x = "share of rounds from here", y = NULL,
                  title = sprintf("%s: what each answer leads to", title_of(odds)),
                  subtitle = sprintf("From %s; the best answer on top.", odds$position$text)) +
    panel_theme(panel.grid.major.y = ggplot2::element_blank()), nrow(answers))
}
