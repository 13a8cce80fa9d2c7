# The par table: what each outcome and pay adds to the return and to the variance.

#' The par table of a game
#'
#' One row for each outcome and amount paid, the likeliest first: how likely, and which part of the return and of the
#' variance it makes.
#'
#' @inheritParams odds
#' @param seat The seat whose pays are told; by default the first that puts in a stake.
#' @param ... More arguments of [odds()], but `by`.
#' @return An object of class `basanos_par`: a list with `rows`, a data frame (`outcome`, `pay` in tokens,
#'   `probability`, `one_in`, `of_return`, `of_variance`; sampled also `standard_error` of the probability), `seat`,
#'   `stake`, `return`
#'   and `sd`, and `odds`, where they come from.
#' @section Formulas: With s put in on average over all rounds, back b and net result x of a row, probability p, mean m
#'   and variance v, a row adds p b / s to the return and p (x - m)^2 / v to the variance. The first add up to the
#'   return, the second to 1.
#' @section Errors: `no_stake` where nobody puts anything in, or the seat does not; those of [odds()].
#' @export
#' @examples
#' par_table("lantern-tiles")
par_table <- function(game, seat = NULL, ...) {
  asked <- asked_here("par_table", odds)
  game <- game_with(game, list(...)$set)
  seat <- staked_seat(game, seat)
  betting <- match(seat, game$seats) %in% seats_with_money(game$money)
  question <- question_of(game)
  if (betting) question$ledgers$par <- seat
  o <- odds_from(question, by = if (!betting) crossed_pay(game, seat), ...)
  pays <- staked_pays(o, seat)
  rows <- if (betting) rows_of_bets(o$par) else rows_of_pays(o$crossed, game, pays$put_in)
  variance <- sum(rows$probability * (rows$pay - pays$mean)^2)
  table <- data.frame(outcome = rows$outcome, pay = rows$pay, probability = rows$probability,
                      one_in = 1 / rows$probability, of_return = rows$back / pays$put_in,
                      of_variance = if (variance > 0) rows$probability * (rows$pay - pays$mean)^2 / variance else 0)
  if (o$engine == "sample" && o$unit == "round")
    table$standard_error <- sqrt(rows$probability * (1 - rows$probability) / o$rounds)
  table <- table[order(-table$probability), ]
  rownames(table) <- NULL
  structure(list(rows = table, seat = seat, stake = pays$put_in, return = pays$return, sd = pays$sd, odds = o,
                 asked = asked), class = result_class("par"))
}

# Values crossed with outcomes are whole numbers: fractions of a token count as ten-thousandths.
parts_of_pay <- function(game) if (any(vapply(game$pays, pays_fractions, NA))) 10000 else 1

crossed_pay <- function(game, seat) {
  pay <- sprintf("pay[%s]", seat)
  parts <- parts_of_pay(game)
  if (parts == 1) pay else sprintf("round_down(%d * %s + 0.5)", parts, pay)
}

# One row an outcome and pay: its probability and, times that, what comes back. Where the stake is always the same:
rows_of_pays <- function(crossed, game, stake) {
  rows <- crossed[crossed$probability > 0, ]
  pay <- as.numeric(rows$value) / parts_of_pay(game)
  data.frame(outcome = rows$outcome, pay = pay, probability = rows$probability, back = rows$probability * (pay + stake))
}

# If it may differ from round to round:
rows_of_bets <- function(counts) {
  share <- counts$weight / sum(counts$weight)
  rows <- stats::aggregate(cbind(probability = share, back = share * (counts$put + counts$net)),
                           list(outcome = counts$outcome, pay = counts$net), sum)
  rows[rows$probability > 0, ]
}

# The seat that is named, else the first that puts something in.
staked_seat <- function(game, seat) {
  if (is.null(seat)) first_staked(game) else game$seats[[seat_number(game, seat)]]
}

first_staked <- function(game) {
  for (seat in seats_with_money(game$money)) return(game$seats[[seat]])
  for (line in game$stakes) return(game$seats[[if (line$who$how == "seat") line$who$seat else 1L]])
  abort_input("no_stake", "Nobody puts anything in, so there is no return to take apart.",
              "declare what a seat puts in, as in stakes(guest, 1)")
}

# Does the seat put something in, by stakes, bets or a pot?
puts_in <- function(game, seat) {
  seat %in% seats_with_money(game$money) ||
    any(vapply(game$stakes, function(s) s$who$how == "everyone" || identical(s$who$seat, seat), NA))
}

# The row of the pays of a seat that puts something in.
staked_pays <- function(odds, seat) {
  need_complete(odds)
  pays <- odds$pays[odds$pays$seat == seat, ]
  if (nrow(pays) > 0 && !is.na(pays$stake)) return(pays)
  abort_input("no_stake", sprintf("The seat `%s` puts nothing in, so there is no return to tell.", seat),
              sprintf("declare what it puts in, as in stakes(%s, 1)", seat))
}

#' @export
sections.basanos_par <- function(x, ...) {
  r <- x$rows
  sampled <- x$odds$engine == "sample"
  error <- if (sampled) known_error(x)
  percent <- function(x, digits) if (is.null(error)) percent_text(x, digits)
    else known_percent(x, abs(x) * error / r$probability, digits)
  cells <- list(outcome = r$outcome, pay = fixed_text(r$pay, if (all(r$pay == round(r$pay))) 0L else 2L, sign = TRUE),
                probability = percent(r$probability, 4))
  if (!is.null(r$standard_error)) cells[["standard error"]] <- known_percent(error, error, 4)
  cells <- c(cells, list("one in" = one_in(r$probability, error), "of the return" = percent(r$of_return, 3),
                         "of the variance" = percent(r$of_variance, 2)))
  digits <- if (!sampled) 3L else error_digits(staked_pays(x$odds, x$seat)$standard_error)
  all_sections(
    section(sprintf("%s: the par table of %s", title_of(x$odds), x$seat), notes = choices_lines(x$odds)),
    section(table = cells),
    section(notes = sprintf("Stake %s, return %s, standard deviation %s.", plain_number(x$stake),
                            percent_text(x$return, max(0, if (sampled) digits - 2 else 3)),
                            fixed_text(x$sd, min(3L, digits)))))
}

# The standard errors; for dependent rounds without any, those of as many independent rounds.
known_error <- function(x) {
  p <- x$rows$probability
  if (is.null(x$rows$standard_error)) sqrt(p * (1 - p) / (x$odds$rounds * x$odds$rounds_in_unit))
  else x$rows$standard_error
}

#' @export
json_fields.basanos_par <- function(x) c(list(game = x$odds$game), x[c("seat", "stake", "return", "sd", "rows")])

#' @export
as.data.frame.basanos_par <- function(x, ...) {
  r <- x$rows
  result_rows(list(game = x$odds$game, engine = x$odds$engine), "outcome", r$outcome, r$probability,
              NA_character_, standard_error = r$standard_error, seat = x$seat, r[c("pay", "one_in", "of_return",
                                                                                   "of_variance")])
}
