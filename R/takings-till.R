# The till against the odds: luck, or a crooked wheel?

#' Does the till fit the odds?
#'
#' The chance, by the exact tail, that a stall shows as much or less, or as much or more, after so many rounds.
#'
#' @inheritParams takings
#' @param game A game with a stake.
#' @param shows What the till shows: takings since it was empty, in tokens; below zero where it has paid out more.
#' @param played After how many rounds (of a game with sittings: how many sittings).
#' @return An object of class `basanos_till`: a list with `shows`, `rounds`, `expected` and `sd` of the takings,
#'   `at_most` and `at_least` (the chance of as little, and of as much), `two_sided` (twice the smaller of the two, at
#'   most 1), `verdict`, `game`, `engine`, `players`, `rounded` (pays have no common part, and each is rounded to 0.0001
#'   tokens), and `set_aside`, the pots that last: what they hold is not in what the till shows.
#' @section Formulas: The distribution of the takings is the convolution of that of one round, as in [takings()], tilted
#'   towards what the till shows, so that far tails keep their digits (Esscher 1932, "On the probability function in the
#'   collective theory of risk").
#' @section Errors: `no_stake`, `takings_wrong`, `pot_shared`, `takings_large`, `rounds_linked`, those of [odds()].
#' @export
#' @examples
#' check_till("lantern-tiles", shows = -60, played = 900)
check_till <- function(game, shows, played, stake = 1, prize_cost = 1, seat = NULL, ...) {
  asked <- asked_here("check_till", odds)
  check_terms(list(stake = stake, prize_cost = prize_cost, played = played))
  if (!is.numeric(shows) || length(shows) != 1 || is.na(shows))
    abort_input("takings_wrong", "What the till shows is a number of tokens.", "write shows = -412 (--till -412)")
  game <- game_with(game, list(...)$set)
  seats <- visiting_seats(game, seat)
  o <- odds_from(question_of_visitors(game, seats), ...)
  results <- visit_results(o, seats, prize_cost)
  take <- stall_take(results, list(stake = stake, prize_cost = prize_cost))
  play <- on_lattice(take, results$probability)
  mean <- played * weighted(take, results$probability)
  low <- tail_of_sum(play, played, shows, -1)
  high <- tail_of_sum(play, played, shows, 1)
  two_sided <- min(1, 2 * min(low, high))
  structure(list(game = o$game, title = o$title, shows = shows, played = played, unit = o$unit, expected = mean,
                 sd = sqrt(played * weighted((take - mean / played)^2, results$probability)), at_most = low,
                 at_least = high, two_sided = two_sided,
                 verdict = till_verdict(two_sided), engine = o$engine,
                 rounded = is.null(common_step(take)), players = o$players, set_aside = lasting_pots(game),
                 play = play, asked = asked),
            class = result_class("till"))
}

till_verdict <- function(p) if (p >= 0.05) "luck" else if (p >= 0.001) "unusual" else "not luck"

#' @export
sections.basanos_till <- function(x, ...) {
  side <- if (x$at_most <= x$at_least) list(p = x$at_most, word = "or less") else list(p = x$at_least, word = "or more")
  chance <- if (side$p < 1e-9) "less than one in a thousand million"
    else sprintf("%s, one in %s", percent_text(side$p, if (side$p < 1e-4) 7L else 3L), one_in(side$p))
  all_sections(section(sprintf("%s: the till shows %s after %s", title_of(x), fixed_text(x$shows, 1, sign = TRUE),
                               count_text(x$played, x$unit))), section(notes = c(
    sprintf("  By the odds it shows %s on average, with a standard deviation of %s.",
            fixed_text(x$expected, 1, sign = TRUE), fixed_text(x$sd, 1)),
    sprintf("  The chance of %s %s: %s.", fixed_text(x$shows, 1, sign = TRUE), side$word, chance),
    switch(x$verdict,
      luck = "  Luck: that far off, to either side, is nothing out of the way.",
      unusual = "  Unusual, but luck can do it: count on before you blame the wheel.",
      "  Not luck: look at the wheel, the rules in use, or the till."),
    if (length(x$set_aside) > 0)
      sprintf("  Set aside, and not in what the till shows: what %s holds.", enumerated(sprintf("`%s`", x$set_aside))),
    if (length(x$players) > 0) paste0("  ", players_line(x$players)),
    if (x$rounded) "  Pays have no common part: each is rounded to 0.0001 tokens.",
    if (x$engine != "exact") "  (the odds of a round are sampled; a tail this far out is only as good as they are)")))
}

#' @export
json_fields.basanos_till <- function(x) unclass(x)[setdiff(names(x), c("title", "play"))]

#' @export
as.data.frame.basanos_till <- function(x, ...) {
  columns <- c("expected", "at_most", "at_least", "two_sided")
  bind_result_rows(lapply(columns, function(kind)
    result_rows(x, kind, "till", x[[kind]], sd = if (kind == "expected") x$sd else NA_real_, shows = x$shows,
                played = x$played, verdict = x$verdict)))
}
