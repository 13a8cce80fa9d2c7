#' @export
sections.basanos_players <- function(x, ...) {
  head <- section(sprintf("%s: %s compared by %s", title_of(x), count_text(length(x$players), "player"),
                          any_seat(x$measure)), notes = if (x$best == "lowest") "  The lowest value is the best.")
  how <- if (x$engine == "sample") sprintf("Sampled: %s %s for each way of sitting, on the same luck, seed %s.",
                                           whole_text(x$rounds), units_in_words(x$unit), plain_number(x$seed))
    else "Counted exactly."
  if (!is.null(x$stopped)) return(all_sections(head, seat_section(x), section(notes = how)))
  a <- x$advantage
  r <- x$ranking
  sampled <- x$engine == "sample"
  digits <- if (sampled) error_digits(max(a$standard_error, 1e-9, na.rm = TRUE)) else 5L
  number <- function(v) fixed_text(v, digits, sign = TRUE)
  rank <- ifelse(r$rank_from == r$rank_to, format(r$rank_from), sprintf("%d to %d", r$rank_from, r$rank_to))
  ranking <- list(player = r$player, rank = rank, "advantage over the others" = number(r$mean))
  if (any(!is.na(r$cycle))) ranking$"in a circle" <- ifelse(is.na(r$cycle), "", paste("circle", r$cycle))
  sure <- c("surely behind", "cannot be told apart", "surely ahead")[a$sure + 2]
  pairs <- list(player = a$player, against = a$against, advantage = number(a$advantage))
  if (sampled) pairs[["standard error"]] <- fixed_text(a$standard_error, digits)
  pairs[[" "]] <- ifelse(is.na(a$advantage), "goes on for ever", ifelse(a$advantage == 0 & !sampled, "equal", sure))
  pairs[[paste(units_in_words(x$unit), "to notice by hand")]] <- ifelse(is.finite(a$rounds_by_hand),
                                                                        whole_text(a$rounds_by_hand), "-")
  all_sections(head, section(table = ranking), circle_sections(x), section(table = pairs),
               if (length(x$seats) > 1) seat_section(x), section(notes = c(
    if (!is.null(x$until) && sampled)
      sprintf("Sampled until each pair was told apart or closer than %s: %s.", plain_number(x$until),
              count_text(x$looks, "look")), how)))
}

most_ways_shown <- 40L

# The value of each seat in each way of sitting.
seat_section <- function(x) {
  shown <- utils::head(x$pairs, most_ways_shown)
  missing <- is.na(shown[[paste0("of_", x$seats[[1]])]])
  values <- lapply(stats::setNames(nm = x$seats), function(seat)
    ifelse(missing, if (is.null(x$stopped)) "goes on for ever" else "-",
           fixed_text(shown[[paste0("of_", seat)]], if (x$engine == "sample") 3L else 5L)))
  names(values) <- vapply(x$seats, measure_of_seat, "", measure = x$measure)
  section("By seat:", c(as.list(shown[x$seats]), values), notes = if (nrow(x$pairs) > nrow(shown))
    sprintf("  ... and %s more (--format json has all)", whole_text(nrow(x$pairs) - nrow(shown))))
}

# The players of each circle, in order.
circle_sections <- function(x) {
  r <- x$ranking
  lapply(unique(r$cycle[!is.na(r$cycle)]), function(k) {
    own <- r$player[r$cycle %in% k]
    beats <- function(a, b) any((x$advantage$player == a & x$advantage$against == b & x$advantage$sure > 0) |
                                  (x$advantage$player == b & x$advantage$against == a & x$advantage$sure < 0))
    said <- unlist(lapply(own, function(a) lapply(own, function(b) if (a != b && beats(a, b)) sprintf("%s beats %s", a,
                                                                                                      b))))
    section(notes = sprintf("Circle %d: %s.", k, paste(said, collapse = ", ")))
  })
}

#' @export
as.data.frame.basanos_players <- function(x, ...) {
  seated <- do.call(paste, c(lapply(x$seats, function(seat) paste0(seat, "=", x$pairs[[seat]])), sep = ","))
  a <- x$advantage
  r <- x$ranking
  bind_result_rows(
    if (!is.null(r)) result_rows(x, "rank", r$player, r$mean, NA_character_, r[c("rank_from", "rank_to", "cycle")]),
    if (!is.null(a)) result_rows(x, "advantage", a$player, a$advantage, a$against,
                                 a[c("rounds_by_hand", "sure")], standard_error = a$standard_error),
    bind_result_rows(lapply(x$seats, function(seat)
      result_rows(x, "measure", measure_of_seat(x$measure, seat), x$pairs[[paste0("of_", seat)]], seated))))
}

#' @export
json_fields.basanos_players <- function(x) {
  pairs <- lapply(seq_len(nrow(x$pairs)), function(k) {
    measures <- lapply(x$seats, function(seat) list(name = measure_of_seat(x$measure, seat),
                                                    value = x$pairs[[paste0("of_", seat)]][[k]]))
    list(seats = as.list(x$pairs[k, x$seats, drop = FALSE]), measures = measures)
  })
  a <- x$advantage
  if (!is.null(a)) a$rounds_by_hand[!is.finite(a$rounds_by_hand)] <- NA
  list(game = x$game, measure = x$measure, engine = x$engine, rounds = x$rounds, pairs = pairs, advantage = a,
       ranking = x$ranking)
}
