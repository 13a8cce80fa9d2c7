# Best play as sections, rows and JSON.

#' @export
sections.basanos_best <- function(x, ...) {
  all_sections(section(best_title(x)), best_worths(x), best_decisions(x), best_firsts(x), best_rule_section(x),
               best_position_section(x), best_charts(x),
               section(notes = best_notes(x)))
}

best_title <- function(x) {
  if (!is.null(x$exploits)) return(sprintf("%s: the best answer to %s", title_of(x), x$exploits$against[[1]]))
  if (length(x$seats) == 2) return(sprintf("%s: best play of %s and %s against each other", title_of(x), x$seats[[1]],
                                           x$seats[[2]]))
  against <- if (length(x$against) > 0) sprintf(", against %s", paste(names(x$against), x$against, sep = " = ",
                                                                      collapse = ", "))
  sprintf("%s: the best that %s can do%s", title_of(x), x$seats[[1]], if (is.null(against)) "" else against)
}

worth_text <- function(v) ifelse(is.na(v), "-", fixed_text(v, 6))

best_worths <- function(x) {
  if (!is.null(x$exploits)) {
    e <- x$exploits
    return(section(sprintf("Worth of a %s", x$unit), stats::setNames(
      list(e$seat, paste(e$objective), worth_text(e$value)), c("best answer of", "measure", "worth"))))
  }
  both <- length(x$seats) == 2
  l <- x$losses
  counted <- l$engine == "exact"
  some <- any(!counted)
  rows <- list(
    list(player = if (both) "both play as well as can be" else "best play",
         worth = bounds_text(x$value, x$lower, x$upper), loses = "-", error = "-"),
    list(player = paste0(if (both) paste(l$player, "as", l$seat, recycle0 = TRUE) else l$player,
                         ifelse(l$peeks, " (peeks)", ""), recycle0 = TRUE),
         worth = ifelse(counted, bounds_text(l$value, l$lower, l$upper), worth_text(l$value)),
         loses = worth_text(l$loss), error = ifelse(counted, "-", fixed_text(l$standard_error, 6))),
    if (!is.na(x$worst)) list(player = "worst play", worth = worth_text(x$worst),
                              loses = worth_text(abs(x$value - x$worst)), error = "-"))
  cells <- lapply(c(player = "player", worth = "worth", loses = "loses", "standard error" = if (some) "error"),
                  function(name) unlist(lapply(rows, `[[`, name)))
  section(sprintf("Worth of a %s, by %s", x$unit, x$objective), cells, c(
    if (both && NROW(l) > 0) "Of a player: what is left where the other seat gives the best answer to it.",
    if (x$best == "lowest") "The lowest is best.",
    if (any(l$peeks)) "A player that peeks looks at what its seat does not see: it may do better.",
    if (some) sprintf("Players with a standard error are sampled: %s %s.", whole_text(rounds_of_losses),
                      units_in_words(x$unit))))
}

# One number where the bounds have met.
bounds_text <- function(value, lower, upper)
  ifelse(!is.na(value), worth_text(value), sprintf("%s to %s", worth_text(lower), worth_text(upper)))

best_decisions <- function(x) {
  d <- x$decisions
  if (NROW(d) == 0) return(NULL)
  cells <- list(decision = if (length(unique(d$seat)) > 1) paste(d$decision, "of", d$seat) else d$decision,
                met = fixed_text(d$met, 3), matters = ifelse(is.na(d$matters), "-", percent_text(d$matters, 1L)),
                "next best loses" = worth_text(d$next_loss), "worst loses" = worth_text(d$worst_loss))
  section("Where it matters", cells, sprintf(
    "\"met\": times a %s with more than one answer; \"matters\": the share of these where the answers differ in worth.",
    x$unit))
}

# The answers at the position that was asked for.
best_position_section <- function(x) {
  p <- x$position
  if (is.null(p)) return(NULL)
  all_sections(lapply(unique(p$answers$seat), function(seat)
    answers_section(x, p, p$answers[p$answers$seat == seat, ], if (length(x$seats) > 1) sprintf(", as %s", seat))),
    section(notes = c(
      "\"worth\" is what is still to come, where play goes on as well as can be.",
      if (any(p$answers$known_in < p$answers$legal_in - 1e-9))
        "Where an answer ends it with the most there can be, the others are not looked at: their means leave that out.",
      if (p$reached == 0) "Best play never comes here. Its situations count alike."
      else sprintf("Best play comes here %s times a %s%s.", plain_number(signif(p$reached, 4)), x$unit,
                   if (p$situations > 1) sprintf(", in %s situations", whole_text(p$situations)) else ""))))
}

answers_section <- function(x, p, a, seat) {
  cells <- list(answer = a$answer, worth = worth_text(a$worth), loses = worth_text(a$loss))
  if (p$situations > 1) cells[["best in"]] <- percent_text(a$best_in, 1L)
  if (x$kind == "secret") cells[["played"]] <- percent_text(a$share, 1L)
  if (any(a$legal_in < 1 - 1e-9)) cells[["legal in"]] <- percent_text(a$legal_in, 1L)
  section(sprintf("At %s: %s%s", if (nzchar(p$text)) p$text else "every situation", p$decision,
                  if (is.null(seat)) "" else seat), cells)
}

most_firsts_shown <- 10L

# What each first answer is worth.
best_firsts <- function(x) {
  f <- x$firsts
  if (NROW(f) == 0) return(NULL)
  shown <- utils::head(f, most_firsts_shown)
  one_side <- if (x$best == "lowest") sprintf("at least %s", worth_text(shown$lower))
    else sprintf("at most %s", worth_text(shown$upper))
  section("What each first answer is worth", list(answer = shown$answer, worth = ifelse(
    is.na(shown$value), one_side, worth_text(shown$value))),
    if (nrow(f) > nrow(shown)) sprintf("... and %s more (--format csv has all)", whole_text(nrow(f) - nrow(shown))))
}

# A chart for each decision of each seat.
best_charts <- function(x) {
  lapply(unique(paste(x$policy$seat, x$policy$decision)), function(key) {
    rows <- x$policy[paste(x$policy$seat, x$policy$decision) == key, ]
    by <- chart_things(x, rows)
    chart <- as_shares(rows, by)
    groups <- like_situations(chart)
    shown <- utils::head(groups, most_situations_shown)
    cells <- stats::setNames(lapply(seq_along(by), function(k) vapply(shown, function(g) g$texts[[k]], "")), by)
    if (length(by) == 0) cells <- list(" " = "always")
    answers <- unique(chart$rows$answer)
    cells$met <- vapply(shown, function(g) percent_text(g$met, 1L), "")
    cells$best <- vapply(shown, function(g) best_in_words(answers, g$shares), "")
    section(sprintf("What to do: %s%s", rows$decision[[1]],
                    if (length(x$seats) > 1 || !is.null(x$exploits)) sprintf(", as %s", rows$seat[[1]]) else ""),
            cells, if (length(groups) > length(shown)) sprintf("... and %d more situations (--format csv has all)",
                                                               length(groups) - length(shown)))
  })
}

# What describes the situations of these rows.
chart_things <- function(x, rows) {
  things <- unlist(x$by)
  things <- intersect(unique(things), names(rows))
  things[vapply(things, function(name) !all(is.na(rows[[name]])), NA)]
}

# In the form of watched answers: the share of each best answer in each situation.
as_shares <- function(rows, by) {
  rows <- each_answer(rows)
  seen <- rows[c(by, "answer")]
  answers <- unique(rows$answer)
  key <- do.call(paste, c(unname(as.list(rows[by])), list(sep = "\r"), if (length(by) == 0) list(rep("", nrow(rows)))))
  groups <- split(seq_len(nrow(rows)), factor(key, unique(key)))
  firsts <- vapply(groups, `[[`, 0L, 1L)
  order <- if (length(by) > 0) do.call(order, unname(as.list(rows[firsts, by, drop = FALSE]))) else seq_along(groups)
  table <- do.call(rbind, lapply(groups[order], function(group) {
    weight <- rows$reach[group]
    share <- vapply(answers, function(a) sum(weight[rows$answer[group] == a]), 0) / sum(weight)
    cbind(list2DF(lapply(as.list(seen[group[[1]], by, drop = FALSE]), rep, length(answers)), nrow = length(answers)),
          data.frame(met = sum(weight) / sum(rows$reach), answer = answers, share = share,
                     times = share * sum(weight) * 1e9))
  }))
  list(rows = table, by = by)
}

answers_in_a_cell <- 3

# "bank", or "bank 72%, on 28%".
best_in_words <- function(answers, shares) {
  order <- order(-shares)
  kept <- order[shares[order] > 5e-4]
  if (length(kept) <= 1 || shares[[kept[[1]]]] > 0.9995) return(answers[[order[[1]]]])
  shown <- utils::head(sprintf("%s %s", answers[kept], percent_text(shares[kept], 0L)), answers_in_a_cell)
  more <- length(kept) - length(shown)
  paste(c(shown, if (more > 0) sprintf("%d more", more)), collapse = ", ")
}

how_solved <- function(x) {
  if (!x$complete) return(sprintf("Bounds, at the limit of %s (%s)", limit_in_words(x$limit), x$way))
  if (x$kind != "secret" || x$gap <= bounds_met * max(1, abs(x$value), na.rm = TRUE))
    return(sprintf("Solved exactly (%s)", x$way))
  sprintf("Solved by coming nearer (%s); the worth is between %s and %s", x$way, plain_numbers(x$lower),
          plain_numbers(x$upper))
}

written_in_words <- function(w) if (!is.null(w))
  sprintf("Written to %s: %s, with %s. To play so: --players-file %s --player %s=%s.", w$path,
          paste(w$players, collapse = ", "), enumerated(basename(w$tables)), w$path, names(w$players)[[1]],
          w$players[[1]])

best_notes <- function(x) {
  c(written_in_words(x$written),
    if (isTRUE(x$searched)) sprintf("%s: %s situations, %s answers looked at.", how_solved(x), whole_text(x$states),
                                    whole_text(x$edges))
    else sprintf("%s: %s states, %s ways between them%s.", how_solved(x), whole_text(x$states), whole_text(x$edges),
                 if (isTRUE(x$sums > 0)) "; sums that only grow are counted beside them" else ""),
    if (x$complete && is.na(x$value) && x$kind != "secret")
      "Play need not end where both bounds are: what lies between them depends on when it is broken off.",
    sprintf("Taken as seen: %s.", if (length(x$seen$places) > 0) enumerated(x$seen$places, 12)
            else "nothing matters but what is drawn next"),
    if (length(x$seen$hidden) > 0)
      sprintf("Hidden, and judged by what was seen on the way: %s.", enumerated(x$seen$hidden, 12)),
    if (length(x$seen$draws) > 0)
      sprintf("%s: what is drawn in %s.", if (length(x$seats) == 1) "Not seen" else "Taken as seen as well",
              lines_in_words(x$seen$draws)))
}

lines_in_words <- function(lines) sprintf("line%s %s", if (length(lines) > 1) "s" else "", enumerated(lines))

#' @export
as.data.frame.basanos_best <- function(x, ...) {
  e <- x$exploits
  d <- x$decisions
  p <- x$policy
  things <- intersect(unique(unlist(x$by)), names(p))
  situation <- if (NROW(p) > 0 && length(things) > 0) apply(p[things], 1, function(values) {
    known <- !is.na(values)
    paste(things[known], trimws(values[known]), sep = " = ", collapse = ", ")
  }) else rep(NA_character_, NROW(p))
  bind_result_rows(
    if (is.null(e)) worth_rows(x, x$objective, x, x$seats[[1]]) else worth_rows(x, e$objective, e, e$seat, e$against),
    if (!is.na(x$worst)) result_rows(x, "worst", x$objective, x$worst, x$seats[[1]]),
    losses_as_rows(x, x$losses),
    rows_of_position(x, x$position),
    if (NROW(x$firsts) > 0) result_rows(x, "first", x$firsts$answer, x$firsts$value, x$seats[[1]],
                                        lower = x$firsts$lower, upper = x$firsts$upper),
    rows_of_columns(x, d, c("met", "matters", "next_loss", "worst_loss"), d$decision, d$seat),
    if (NROW(p) > 0) result_rows(x, "situation", p$decision, p$worth, situation, seat = p$seat, answer = p$answer,
                                 mix = p$mix, equal = p$equal, reach = p$reach, next_answer = p$next_answer,
                                 loss = p$loss))
}

rows_of_position <- function(x, p) if (!is.null(p))
  result_rows(x, "answer", p$answers$answer, p$answers$worth, p$text, seat = p$answers$seat, loss = p$answers$loss,
              best_in = p$answers$best_in, share = p$answers$share, legal_in = p$answers$legal_in,
              known_in = p$answers$known_in)

rule_fields <- function(r) if (!is.null(r))
  c(r[c("wanted", "met", "value", "loss", "standard_error", "engine", "lines")], list(rules = as.list(r$rules)))

# Best play beside another result: its rows, and its fields in JSON.
rows_of_best <- function(x, best) if (!is.null(best))
  bind_result_rows(worth_rows(x, best$objective, best, best$seats[[1]]), losses_as_rows(best, best$losses))

best_fields <- function(best)
  if (!is.null(best)) list(objective = best$objective, unit = best$unit, value = best$value, players = best$losses)

# Bounds that have met are one value.
worth_rows <- function(x, objective, worth, seat, against = NULL) {
  met <- !is.na(worth$value)
  result_rows(x, "best", objective, worth$value, seat, lower = ifelse(met, worth$value, worth$lower),
              upper = ifelse(met, worth$value, worth$upper), against = against)
}

losses_as_rows <- function(x, l) {
  if (NROW(l) == 0) return(NULL)
  side <- if (x$best == "lowest") -1 else 1
  side <- ifelse(l$seat == x$seats[[1]], side, -side)
  sampled <- l$engine == "sample"
  end <- function(ends) ifelse(is.na(l$value) | sampled, ends, l$value)
  lost_at <- function(ends) ifelse(is.na(l$loss) | sampled, side * (x$value - ends), l$loss)
  ends <- cbind(lost_at(l$upper), lost_at(l$lower))
  bind_result_rows(
    result_rows(x, "player", l$player, l$value, l$seat, standard_error = l$standard_error, lower = end(l$lower),
                upper = end(l$upper), engine = l$engine),
    result_rows(x, "loss", l$player, l$loss, l$seat, standard_error = l$standard_error,
                lower = pmin(ends[, 1], ends[, 2]), upper = pmax(ends[, 1], ends[, 2]), engine = l$engine))
}

#' @export
json_fields.basanos_best <- function(x) {
  fields <- unclass(x)[c("game", "way", "objective", "best", "unit", "engine", "value", "lower", "upper", "gap",
                         "worst", "complete", "limit", "states", "edges")]
  c(fields, list(written = x$written, position = x$position, rule = rule_fields(x$rule), firsts = x$firsts,
                 hidden = I(x$seen$hidden), seats = I(x$seats),
                 against = as.list(x$against), players = x$losses,
                 exploits = x$exploits,
                 decisions = x$decisions, seen = I(x$seen$places), draws_not_kept = I(x$seen$draws),
                 by = I(as.character(unique(unlist(x$by)))), policy = x$policy))
}
