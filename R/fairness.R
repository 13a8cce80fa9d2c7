#' Is a game fair to its seats?
#'
#' Seats the same player everywhere and tells what each seat comes to: how far each is ahead of the others, and what
#' would even it. Where the count is exact and all seats are equal, the game is proved fair.
#'
#' @inheritParams compare_players
#' @param rounds Rounds to sample, where a count does not fit; by default 100 000.
#' @param knobs Handicaps to try, as knobs of [balance_game()]: `"head_start in 0..5"`.
#' @return An object of class `basanos_fairness`: a list with
#'   * `rows`: a data frame with one row a player and seat: `player`, `seat`, `value`, `advantage` (over the mean of the
#'     other seats), `sure` (1: surely ahead, -1: surely behind, 0: neither) and `payment` (tokens a round that this
#'     seat pays the others, or takes from them, so that all come out even; where seats are measured by what they are
#'     paid); where any player is sampled also `standard_error` of the value (0 of those counted exactly).
#'   * `advantage`: one row a player: `player`, `advantage` (of the first seat over the mean of the others),
#'     `standard_error`, `fair` (`proved`, `not told apart` or `unfair`: some seat is surely ahead or behind), `payment`
#'     (from the first seat to each other) and `stake_ratio` (tokens that the first of two seats puts in for each of the
#'     other's, the winner taking all, so that it is even).
#'   * `handicap`: with `knobs` the answer of [balance_game()] that evens the first two seats best.
#' @inheritSection odds Stopped
#' @section Formulas: Sampled seats are told apart at 5%, two-sided, by the paired differences of units, with Holm's
#'   procedure over all seats and players (Holm 1979, "A simple sequentially rejective multiple test procedure").
#' @section Errors: `seats_few`, those of [compare_players()].
#' @export
#' @examples
#' seat_fairness("dice-duel")
seat_fairness <- function(game, set = list(), players = NULL, mode = NULL, measure = NULL, knobs = NULL,
                          engine = c("auto", "exact", "sample"), rounds = 1e5, seed = 1, threads = 1, ...) {
  asked <- asked_here("seat_fairness", odds)
  seed <- given_seed(seed)
  game <- game_with(game, set)
  engine <- one_of_names(engine[[1]], c("auto", "exact", "sample"), "engine_unknown", "engine")
  check_rounds(rounds)
  seats <- seats_taken_at(game, set, mode)
  if (length(seats) < 2)
    abort_input("seats_few", "A game is fair to its seats, and this one has fewer than two.",
                "ask `basanos odds` for the edge of one seat against the house")
  deciding <- seats[vapply(seats, function(seat) length(asked_of(game, seat)) > 0, NA)]
  names <- if (length(deciding) == 0) NA_character_ else players_of_all_seats(game, players, deciding)
  measure <- if (is.null(measure)) usual_seat_measure(game, seats) else one_text(measure, "measure")
  task <- list(game = game, measure = measure, engine = engine, rounds = rounds, seed = seed, threads = threads,
               set = as.list(set), mode = mode, more = list(...), seats = seats, workers = 1)
  results <- worked_out(names, function(name) results_of_ways(matrix(name, 1, length(seats)), task), what = "players",
                         so_far = function(results, after, stop) fairness_so_far(names, results, task, after))
  fair <- fairness_result(names, results, task)
  fair$handicap <- if (!is.null(knobs)) with_part_result(
    evening_handicap(game, knobs, measure, seats, names[[1]], task),
    function(stop) list(fairness = utils::modifyList(fair, list(stopped = "the players, before a handicap was found"))))
  with_call(fair, asked)
}

fairness_so_far <- function(names, results, task, after) {
  done <- !vapply(results, is.null, NA)
  if (any(done)) list(fairness = fairness_result(names[done], results[done], task, after)) else list()
}

fairness_result <- function(names, results, task, stopped = NULL) {
  game <- task$game
  exact <- vapply(results, `[[`, "", "engine") == "exact"
  rows <- fairness_rows(names, results, exact, game$seats[task$seats], startsWith(task$measure, "mean_pay"))
  structure(list(game = name_of_file(game$source), title = game$title, measure = task$measure,
                 engine = if (all(exact)) "exact" else "sample", unit = program_span(game),
                 rounds = if (!all(exact)) task$rounds, seed = task$seed,
                 seats = game$seats[task$seats], rows = rows, advantage = fairness_advantage(rows, results, exact,
                                                                                             task$measure),
                 stopped = stopped), class = result_class("fairness"))
}

# Some players may be counted exactly where others are sampled.
fairness_rows <- function(names, results, exact, seats, by_pay) {
  n <- length(seats)
  rows <- lapply(seq_along(names), function(k) {
    values <- results[[k]]$values[1, ]
    pull <- results[[k]]$pulls[[1]]
    ahead <- (values - mean(values)) * n / (n - 1)
    off <- (pull - rowMeans(pull)) * n / (n - 1)
    data.frame(player = names[[k]], seat = seats, value = values, advantage = ahead, counted = exact[[k]],
               z = vapply(seq_len(n), function(seat) difference_z(ahead[[seat]], off[, seat]), 0),
               payment = if (by_pay) values - mean(values) else NA_real_,
               standard_error = if (exact[[k]]) 0 else apply(pull, 2, stats::sd) / sqrt(nrow(pull)))
  })
  rows <- do.call(rbind, rows)
  rownames(rows) <- NULL
  rows$sure <- surely_differ(rows$advantage, rows$z, rows$counted)
  rows[c("player", "seat", "value", "advantage", "sure", "payment", if (!all(exact)) "standard_error")]
}

fairness_advantage <- function(rows, results, exact, measure) {
  seats <- ncol(results[[1]]$values)
  first <- seq(1, nrow(rows), by = seats)
  table <- data.frame(player = rows$player[first], advantage = rows$advantage[first],
                      standard_error = vapply(seq_along(results), function(k) if (exact[[k]]) 0 else {
                        pull <- results[[k]]$pulls[[1]]
                        stats::sd(pull[, 1] - rowMeans(pull[, -1, drop = FALSE])) / sqrt(nrow(pull))
                      }, 0))
  unequal <- vapply(first, function(from) any(rows$sure[from + seq_len(seats) - 1] != 0), NA)
  table$fair <- ifelse(unequal, "unfair", ifelse(exact, "proved", "not told apart"))
  table$payment <- rows$payment[first] / (seats - 1)
  table$stake_ratio <- if (startsWith(measure, "probability") && seats == 2) rows$value[first] / rows$value[first + 1]
    else NA_real_
  table
}

# The handicap that brings the first two seats nearest to each other.
evening_handicap <- function(game, knobs, measure, seats, player, task) {
  both <- vapply(game$seats[seats[1:2]], measure_of_seat, "", measure = measure)
  players <- if (is.na(player)) list() else stats::setNames(as.list(rep(player, length(seats))), game$seats[seats])
  balance_game(game, sprintf("%s within 0 of %s", both[[1]], both[[2]]), knobs, set = task$set, players = players,
               mode = task$mode, engine = task$engine, seed = task$seed, answers = 1, slip = 0)
}

#' @export
sections.basanos_fairness <- function(x, ...) {
  a <- x$advantage
  digits <- if (x$engine == "sample") error_digits(max(a$standard_error, 1e-9)) else 5L
  number <- function(v, sign = FALSE) fixed_text(v, digits, sign)
  players <- ifelse(is.na(a$player), "nobody decides", a$player)
  cells <- c(list(player = players), stats::setNames(lapply(x$seats, function(seat)
    number(x$rows$value[x$rows$seat == seat])), x$seats), list("first seat ahead by" = number(a$advantage, TRUE)))
  if (x$engine == "sample") cells[["standard error"]] <- ifelse(a$standard_error == 0, "-", number(a$standard_error))
  cells[[" "]] <- c(proved = "fair: proved", "not told apart" = "not told apart", unfair = "unfair")[a$fair]
  if (length(x$seats) == 2 && any(!is.na(a$payment) & a$fair != "proved"))
    cells[["evened by paying"]] <- ifelse(a$fair == "proved", "-", number(a$payment, TRUE))
  if (any(!is.na(a$stake_ratio) & a$fair != "proved")) cells[["or by stakes of"]] <- ifelse(a$fair == "proved", "-",
                                                                     sprintf("%s to 1", fixed_text(a$stake_ratio, 3)))
  how <- c(if (x$engine == "exact") "Counted exactly."
           else if (any(a$standard_error == 0)) "Counted exactly where no standard error stands.",
           if (x$engine == "sample") sprintf("Sampled: %s %s, seed %s.", whole_text(x$rounds), units_in_words(x$unit),
                                             plain_number(x$seed)))
  all_sections(section(sprintf("%s: is it fair to its seats, by %s?", title_of(x), any_seat(x$measure))),
               section(table = cells),
               if (any(a$fair != "proved"))
                 section(notes = c(if (length(x$seats) > 2) seat_lines(x, number), fairness_lines(x),
                                   handicap_lines(x))),
               section(notes = how))
}

# Of three seats and more: which of them are surely ahead or behind.
seat_lines <- function(x, number) {
  sure <- x$rows[x$rows$sure != 0, ]
  if (nrow(sure) == 0) return(NULL)
  sprintf("%s%s is %s the others by %s%s.", ifelse(is.na(sure$player), "", paste0(sure$player, ": ")), sure$seat,
          ifelse(sure$sure > 0, "ahead of", "behind"), number(abs(sure$advantage)),
          ifelse(is.na(sure$payment), "", sprintf("; even if it %s %s a round",
                                                  ifelse(sure$payment > 0, "pays", "is paid"),
                                                  number(abs(sure$payment)))))
}

fairness_lines <- function(x) c(
  if (any(!is.na(x$advantage$payment)) && length(x$seats) == 2)
    "A payment is in tokens a round, from the first seat to the other.",
  sprintf("Taking turns to go first makes the game fair: over %s each seat comes to the mean.",
          count_text(length(x$seats), "round")))

handicap_lines <- function(x) {
  h <- x$handicap
  if (is.null(h)) return(NULL)
  answer <- h$answers[[1]]
  sprintf("Nearest to even: %s; the first seat is then ahead by %s.",
          paste(names(answer$knobs), vapply(answer$knobs, value_shown, ""), sep = " = ", collapse = ", "),
          fixed_text(answer$targets$value, 5, sign = TRUE))
}

#' @export
as.data.frame.basanos_fairness <- function(x, ...) {
  r <- x$rows
  a <- x$advantage
  seat_measure <- vapply(r$seat, measure_of_seat, "", measure = x$measure)
  bind_result_rows(
    result_rows(x, "measure", seat_measure, r$value, r$player, standard_error = r$standard_error, seat = r$seat,
                payment = r$payment),
    if (!is.null(a)) result_rows(x, "advantage", x$seats[[1]], a$advantage, a$player,
                                 standard_error = a$standard_error, fair = a$fair,
                                 payment = a$payment, stake_ratio = a$stake_ratio))
}

#' @export
json_fields.basanos_fairness <- function(x) x[c("game", "measure", "engine", "rounds", "seed", "rows", "advantage")]
