# Figures with a row for each number: a point with its 95% interval, or a bar from zero.

# `data` has label, value, lower, upper, text, and panel where there are several panels. `zero`: where bars begin, or
# NULL for points alone.
figure_of_rows <- function(data, zero = 0, panels = NULL, axis = ggplot2::waiver()) {
  if (is.null(data$panel)) data$panel <- ""
  data$row <- paste(data$label, data$panel, sep = "\n")
  data$row <- factor(data$row, levels = rev(unique(data$row)))
  if (!is.null(panels)) data$panel <- factor(data$panel, levels = panels)
  several <- length(unique(data$panel)) > 1
  interval <- data[!is.na(data$lower) & data$upper > data$lower, ]
  # A number stands on the outer side of its bar and interval.
  left <- !is.null(zero) & data$value < c(zero, 0)[[1]]
  data$end <- ifelse(left, pmin(data$value, data$lower, na.rm = TRUE), pmax(data$value, data$upper, na.rm = TRUE))
  data$side <- ifelse(left, 1, 0)
  data$text <- paste0("  ", data$text, "  ")
  room <- 0.06 + 0.011 * max(nchar(data$text))  # for the texts, on the sides that have some
  figure <- ggplot2::ggplot(data, ggplot2::aes(x = .data$value, y = .data$row)) +
    ggplot2::geom_blank()  # all rows first: the layers with some of them do not change the order
  if (!is.null(zero)) figure <- figure +
    ggplot2::geom_vline(xintercept = zero, linetype = "dashed", colour = "grey35") +
    ggplot2::geom_segment(ggplot2::aes(x = zero, xend = .data$value, yend = .data$row), colour = shade("mist"),
                          linewidth = 2.2)
  if (nrow(interval) > 0) figure <- figure +
    ggplot2::geom_errorbar(data = interval, ggplot2::aes(xmin = .data$lower, xmax = .data$upper),
                           colour = shade("ink"), width = 0.3, linewidth = 0.6, orientation = "y")
  figure <- figure + ggplot2::geom_point(colour = shade("ink"), size = 2.6) +
    ggplot2::geom_text(ggplot2::aes(x = .data$end, label = .data$text, hjust = .data$side), size = 3.4,
                       colour = "grey20") +
    ggplot2::scale_y_discrete(labels = function(x) sub("\n.*", "", x)) +
    ggplot2::scale_x_continuous(labels = axis, expand = ggplot2::expansion(c(if (any(left)) room else 0.06, room))) +
    panel_theme(panel.grid.major.y = ggplot2::element_blank())
  if (several) figure <- figure +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free", ncol = 1, space = "free_y")
  with_rows(figure, nrow(data) + 3L * several * length(unique(data$panel)))
}

percent_axis <- function(v) sprintf("%g%%", 100 * v)

# 95% intervals of values with standard errors.
with_interval <- function(data, error) {
  error <- if (is.null(error)) rep(NA_real_, nrow(data)) else error
  data$lower <- data$value - stats::qnorm(0.975) * error
  data$upper <- data$value + stats::qnorm(0.975) * error
  data
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_comparison <- function(object, ...) {
  r <- as.data.frame(object)
  titles <- c(outcome = "outcomes", pay = "mean pay, in tokens", record = "records", measure = "measures")
  share <- r$kind == "outcome" | startsWith(r$name, "probability(")
  number <- function(v) ifelse(share, percent_text(v, 2), fixed_text(v, 3))
  data <- data.frame(label = r$name, value = r$value, lower = r$lower, upper = r$upper,
                     panel = titles[r$kind], text = sprintf("%s to %s", number(r$old), number(r$new)))
  figure_of_rows(data, panels = unname(titles)) +
    ggplot2::labs(x = "difference: the second less the first", y = NULL,
                  title = sprintf("%s, then %s", object$names[[1]], object$names[[2]]), subtitle = if (
                    object$engine == "sample") sprintf("%s %s of each on the same luck, with 95%% intervals.",
                                                       whole_text(object$rounds), units_in_words(object$unit)))
}

fairness_words <- c(proved = "No seat has an advantage: proved.", "not told apart" = "No advantage was found.",
                    unfair = "Some seats have an advantage.")

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_fairness <- function(object, ...) {
  r <- object$rows
  share <- startsWith(object$measure, "probability")
  data <- data.frame(label = r$seat, value = r$value,
                     panel = ifelse(is.na(r$player), "nobody decides", paste("every seat plays", r$player)),
                     text = if (share) percent_text(r$value, 2) else fixed_text(r$value, 4, sign = TRUE))
  data <- with_interval(data, r$standard_error)
  figure_of_rows(data, if (share) NULL else 0, unique(data$panel), if (share) percent_axis else ggplot2::waiver()) +
    ggplot2::labs(x = any_seat(object$measure), y = NULL,
                  title = sprintf("%s: is it fair to its seats?", title_of(object)),
                  subtitle = paste(fairness_words[unique(object$advantage$fair)], collapse = " "))
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_par <- function(object, ...) {
  r <- object$rows
  label <- sprintf("%s, %s", r$outcome, fixed_text(r$pay, if (all(r$pay == round(r$pay))) 0L else 2L, sign = TRUE))
  part <- function(value, panel)
    data.frame(label = label, value = value, lower = NA_real_, upper = NA_real_, panel = panel,
               text = percent_text(value, 1))
  panels <- c("part of the return", "part of the variance")
  figure <- figure_of_rows(rbind(part(r$of_return, panels[[1]]), part(r$of_variance, panels[[2]])), 0, panels,
                           percent_axis) +
    ggplot2::labs(x = NULL, y = NULL, title = sprintf("%s: what the return of %s is made of", title_of(object$odds),
                                                      object$seat),
                  subtitle = sprintf("Return %s, standard deviation %s tokens.", percent_text(object$return, 2),
                                     fixed_text(object$sd, 2)))
  naming_players(figure, list(object$odds))
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_streaks <- function(object, ...) {
  r <- object$rows
  data <- data.frame(label = r$outcome, value = r$mean_longest, lower = r$mean_longest, upper = r$likely_longest,
                     text = sprintf("%s, up to %s", fixed_text(r$mean_longest, 1), format(r$likely_longest,
                                                                                          trim = TRUE)))
  figure <- figure_of_rows(data) +
    ggplot2::labs(x = "rounds in a row", y = NULL,
                  title = sprintf("%s: the longest run in %s rounds", title_of(object), whole_text(object$in_rounds)),
                  subtitle = "Point: the mean. Line: up to the length that 95% of such runs stay within.")
  naming_players(figure, list(object))
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_modes <- function(object, ...) {
  if (is.null(object$rows)) abort_input("argument_wrong", "There is no audit of modes to draw.",
                                        "leave out the levels (--level)")
  r <- object$rows
  share <- startsWith(object$measure, "probability")
  data <- data.frame(label = r$mode, value = r$value, lower = r$lower, upper = r$upper,
                     text = if (share) percent_text(r$value, 1) else fixed_text(r$value, 3))
  figure <- figure_of_rows(data, axis = if (share) percent_axis else ggplot2::waiver()) +
    ggplot2::labs(x = object$measure, y = NULL, title = sprintf("%s: success by mode", title_of(object)),
                  subtitle = if (length(object$findings) > 0) paste(object$findings, collapse = "\n"))
  naming_players(figure, list(object))
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_list <- function(object, ...) {
  # The first measure in which secrets differ.
  differs <- vapply(seq_along(object$measure), function(k)
    length(unique(object$rows[[sprintf("value_%d", k)]])) > 1, NA)
  k <- c(which(differs), 1)[[1]]
  column <- function(name) object$rows[[sprintf("%s_%d", name, k)]]
  share <- startsWith(object$measure[[k]], "probability")
  number <- function(v) if (share) percent_text(v, 1) else fixed_text(v, 2)
  data <- data.frame(label = object$rows$secret, value = column("value"), lower = column("lower"),
                     upper = column("upper"), text = number(column("value")))
  data <- data[order(data$value), ]
  n <- nrow(data)
  ends <- n > 2 * most_secrets_shown
  panels <- sprintf(c("the %d lowest of %s", "the %d highest of %s"), c(most_secrets_shown, most_secrets_shown / 2),
                    whole_text(n))
  if (ends) {
    data <- data[c(seq_len(most_secrets_shown), n - (most_secrets_shown / 2 - 1):0), ]
    data$panel <- rep(panels, c(most_secrets_shown, most_secrets_shown / 2))
  }
  figure <- figure_of_rows(data, NULL, if (ends) panels, if (share) percent_axis else ggplot2::waiver()) +
    ggplot2::labs(x = object$measure[[k]], y = NULL,
                  title = sprintf("%s: %s by %s", title_of(object), count_text(n, "secret"), object$measure[[k]]),
                  subtitle = sprintf("%s rounds sampled, with 95%% intervals.", whole_text(object$rounds)))
  naming_players(figure, list(object))
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_partings <- function(object, ...) {
  r <- utils::head(object$rows, most_secrets_shown)
  if (NROW(r) == 0) abort_input("argument_wrong", "The two players never differ: there is nothing to draw.")
  share <- startsWith(object$measure, "probability")
  number <- function(v) if (share) percent_text(v, 3) else fixed_text(v, 4, sign = TRUE)
  data <- data.frame(label = r$situation, value = r$cost, lower = NA_real_, upper = NA_real_,
                     text = sprintf("%s (%s, not %s)", number(r$cost), r$answer, r$other))
  figure_of_rows(data, axis = if (share) percent_axis else ggplot2::waiver()) +
    ggplot2::labs(x = sprintf("%s of %s less that of %s", object$measure, object$player, object$other), y = NULL,
                  title = sprintf("%s: where %s differs from %s", title_of(object), object$player, object$other),
                  subtitle = sprintf("The difference of all decisions together: %s.", number(object$difference)))
}

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_each <- function(object, ...) {
  r <- object$rows
  none <- rep(NA_real_, nrow(r))
  data <- data.frame(label = r$answer, value = r$return, text = percent_text(r$return, 2),
                     lower = if (is.null(r$return_lower)) none else r$return_lower,
                     upper = if (is.null(r$return_upper)) none else r$return_upper)
  figure <- figure_of_rows(data, 1, axis = percent_axis) +
    ggplot2::labs(x = "return: what comes back of all stakes", y = gsub("_", " ", object$decision),
                  title = sprintf("%s: the return by %s", title_of(object), gsub("_", " ", object$decision)),
                  subtitle = "Dashed: as much as is staked.")
  naming_players(figure, list(object))
}
