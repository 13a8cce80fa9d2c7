most_points_shown <- 60L

#' @export
format.basanos_sweep <- function(x, ...) {
  rows <- x$rows
  n <- length(x$of)
  points <- x$points
  shown <- seq_len(min(nrow(points), most_points_shown))
  cells <- lapply(points[shown, , drop = FALSE], function(v) if (is.numeric(v)) plain_number(v) else as.character(v))
  for (k in seq_len(n)) {
    own <- rows[rows$measure == x$of[[k]], ][shown, ]
    digits <- if (all(is.na(own$standard_error))) 5L
      else error_digits(max(own$standard_error[own$standard_error > 0], 1e-9, na.rm = TRUE))
    cells[[x$of[[k]]]] <- fixed_text(own$value, digits)
    if (any(!is.na(own$lower)))
      cells[[paste0("95% interval", strrep(" ", k - 1))]] <- interval_text(own$lower, own$upper,
                                                                           function(v) fixed_text(v, digits))
  }
  if (!is.null(x$best)) {
    may_be <- shown %in% x$may_be_best
    cells[[" "]] <- ifelse(shown == x$best, "best", ifelse(may_be, "may be best", ""))
  }
  engines <- unique(rows$engine)
  c(sprintf("%s: %s", title_of(x), count_text(nrow(points), "point")), "",
    aligned(cells),
    if (nrow(points) > length(shown)) sprintf("  ... and %s more (--format csv has all)",
                                              whole_text(nrow(points) - length(shown))),
    "", best_lines(x), if (identical(engines, "exact")) "Counted exactly." else sprintf(
      "%sSampled: %s %s a point on the same luck, seed %s.",
      if (length(engines) > 1) "Counted exactly where that is quick. "
      else "", whole_text(x$rounds), units_in_words(x$unit), plain_number(x$seed)))
}

best_lines <- function(x) {
  if (is.null(x$best)) return(NULL)
  point <- vapply(x$points[x$best, , drop = FALSE], function(v) if (is.numeric(v)) plain_number(v)
                  else as.character(v), "")
  wanted <- if (is.numeric(x$wanted)) sprintf("nearest to %s", plain_number(x$wanted)) else x$wanted
  others <- length(x$may_be_best) - 1
  c(sprintf("%s is %s at %s%s.", x$of[[1]], wanted, paste(names(x$points), point, sep = " = ", collapse = ", "),
            if (others == 0) "" else sprintf("; %s may be as good", count_text(others, "other point"))), "")
}

#' @export
print.basanos_sweep <- print_text
