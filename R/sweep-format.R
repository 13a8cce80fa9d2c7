most_points_shown <- 60L

#' @export
sections.basanos_sweep <- function(x, ...) {
  rows <- x$rows
  n <- length(x$measure)
  points <- x$points
  shown <- seq_len(min(nrow(points), most_points_shown))
  cells <- lapply(points[shown, , drop = FALSE], function(v) if (is.numeric(v)) plain_number(v) else as.character(v))
  for (k in seq_len(n)) {
    of_measure <- rows[rows$measure == x$measure[[k]], ][shown, ]
    digits <- if (all(is.na(of_measure$standard_error))) 5L
      else error_digits(max(of_measure$standard_error[of_measure$standard_error > 0], 1e-9, na.rm = TRUE))
    cells[[x$measure[[k]]]] <- fixed_text(of_measure$value, digits)
    if (any(!is.na(of_measure$lower)))
      cells[[paste0("95% interval", strrep(" ", k - 1))]] <- interval_text(of_measure$lower, of_measure$upper,
                                                                           function(v) fixed_text(v, digits))
  }
  if (!is.null(x$best)) {
    may_be <- shown %in% x$may_be_best
    cells[[" "]] <- ifelse(shown == x$best, "best", ifelse(may_be, "may be best", ""))
  }
  engines <- unique(rows$engine)
  how <- if (identical(engines, "exact")) "Counted exactly." else sprintf(
    "%sSampled: %s %s a point on the same luck, seed %s.",
    if (length(engines) > 1) "Counted exactly where that is quick. "
    else "", whole_text(x$rounds), units_in_words(x$unit), plain_number(x$seed))
  all_sections(section(sprintf("%s: %s", title_of(x), count_text(nrow(points), "point"))),
               section(table = cells, notes = if (nrow(points) > length(shown))
                 sprintf("  ... and %s more (--format csv has all)", whole_text(nrow(points) - length(shown)))),
               best_section(x), section(notes = c(players_line(x$players), how)))
}

best_section <- function(x) {
  if (is.null(x$best)) return(NULL)
  point <- vapply(x$points[x$best, , drop = FALSE], function(v) if (is.numeric(v)) plain_number(v)
                  else as.character(v), "")
  wanted <- if (is.numeric(x$wanted)) sprintf("nearest to %s", plain_number(x$wanted)) else x$wanted
  others <- length(x$may_be_best) - 1
  section(notes = sprintf("%s is %s at %s%s.", x$measure[[1]], wanted,
                          paste(names(x$points), point, sep = " = ", collapse = ", "),
                          if (others == 0) "" else sprintf("; %s may be as good", count_text(others, "other point"))))
}

#' @export
json_fields.basanos_sweep <- function(x) {
  n <- length(x$measure)
  named <- function(columns, k) stats::setNames(lapply(columns, function(name) x$points[[name]][[k]]), columns)
  is_seat <- names(x$points) %in% x$seats
  rows <- lapply(seq_len(nrow(x$points)), function(k) {
    block <- x$rows[(k - 1) * n + seq_len(n), ]
    measures <- lapply(seq_len(n), function(i) {
      m <- list(name = block$measure[[i]], value = block$value[[i]])
      if (is.na(block$standard_error[[i]]) && is.na(block$lower[[i]])) m
      else c(m, as.list(block[i, c("standard_error", "lower", "upper")]))
    })
    mode <- if (!is.null(x$points$mode)) x$points$mode[[k]]
    Filter(Negate(is.null), list(settings = named(setdiff(names(x$points)[!is_seat], "mode"), k),
                                 players = named(names(x$points)[is_seat], k), mode = mode, measures = measures,
                                 engine = block$engine[[1]]))
  })
  list(game = x$game, measure = x$measure, rows = rows, best = x$best, may_be_best = x$may_be_best)
}
