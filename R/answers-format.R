most_situations_shown <- 40
most_answers_shown <- 8

#' @export
sections.basanos_answers <- function(x, ...) {
  groups <- like_situations(x)
  shown <- utils::head(groups, most_situations_shown)
  answers <- unique(x$rows$answer)
  cells <- stats::setNames(lapply(seq_along(x$by), function(k) vapply(shown, function(g) g$texts[[k]], "")), x$words)
  if (length(x$by) == 0) cells <- list(" " = "always")
  cells$met <- vapply(shown, function(g) percent_text(g$met, 1L), "")
  often <- tapply(x$rows$times, factor(x$rows$answer, levels = answers), sum)
  columns <- if (length(answers) <= most_answers_shown) seq_along(answers)
    else sort(utils::head(order(-often), most_answers_shown))
  for (k in columns) cells[[answers[[k]]]] <- vapply(shown, function(g) percent_text(g$shares[[k]], 1L), "")
  if (length(columns) < length(answers))
    cells[[sprintf("%d others", length(answers) - length(columns))]] <-
      vapply(shown, function(g) percent_text(sum(g$shares[-columns]), 1L), "")
  all_sections(
    section(sprintf("%s: what %s does as %s, asked for `%s`", title_of(x), x$player, x$seat, x$decision)),
    section(table = cells, notes = if (length(groups) > length(shown))
      sprintf("  ... and %d more situations (--format csv has all)", length(groups) - length(shown))),
    section(notes = c(
      if (length(answers) == 1) "Its answer is always the same."
      else if (length(x$by) == 0)
        "Nothing that the seat sees explains its answers. Its own earlier answers are not looked at."
      else sprintf("Situations by %s. \"met\" is the share of all times that it is asked.", enumerated(x$by)),
      sprintf("Watched: %s, seed %s.", count_text(x$rounds, "round"), plain_number(x$seed)))))
}

# Neighbouring numbers at which the player does the same are one row: list(texts, met, shares).
like_situations <- function(x) {
  rows <- x$rows
  n <- length(unique(rows$answer))
  k <- length(x$by)
  groups <- lapply(seq_len(nrow(rows) / n), function(i) {
    own <- rows[(i - 1) * n + seq_len(n), ]
    list(values = lapply(x$by, function(name) own[[name]][[1]]), met = own$met[[1]], shares = own$share,
         times = sum(own$times), ends = if (k > 0) rep(own[[x$by[[k]]]][[1]], 2))
  })
  merged <- list()
  for (g in groups) {
    last <- if (length(merged) > 0) merged[[length(merged)]]
    if (!is.null(last) && alike(last, g, k)) {
      all <- last$times + g$times
      last$shares <- (last$shares * last$times + g$shares * g$times) / all
      last$times <- all
      last$met <- last$met + g$met
      last$ends[[2]] <- g$ends[[2]]
      merged[[length(merged)]] <- last
    } else merged <- c(merged, list(g))
  }
  lapply(merged, function(g) {
    texts <- vapply(g$values, function(v) if (is.numeric(v)) plain_number(v) else v, "")
    if (k > 0 && g$ends[[1]] != g$ends[[2]]) texts[[k]] <- sprintf("%s to %s", plain_number(g$ends[[1]]),
                                                                   plain_number(g$ends[[2]]))
    g$texts <- texts
    g
  })
}

# The same but for the last thing, which is a number, and no difference beyond three errors.
alike <- function(a, b, k) {
  if (k == 0 || !is.numeric(b$ends) || !identical(a$values[-k], b$values[-k])) return(FALSE)
  p <- (a$shares * a$times + b$shares * b$times) / (a$times + b$times)
  error <- sqrt(p * (1 - p) * (1 / a$times + 1 / b$times))
  which.max(a$shares) == which.max(b$shares) && all(abs(a$shares - b$shares) <= 3 * error + 1e-9)
}

#' @export
as.data.frame.basanos_answers <- function(x, ...) {
  r <- x$rows
  by <- intersect(x$by, names(r))
  situation <- if (length(by) == 0) NA_character_
    else do.call(paste, c(unname(Map(function(name, v) paste(name, "=", v), by, lapply(r[by], format, trim = TRUE))),
                          sep = ", "))
  result_rows(x, "answer", r$answer, r$share, situation, lower = r$lower, upper = r$upper, decision = x$decision,
              seat = x$seat, player = x$player, r[c(by, "met", "times")], engine = "sample")
}
