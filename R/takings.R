# The stall's evening: what many visits leave in the till, from the odds of a round (or of a visit, where the rules say
# how long one sits).

#' The stall's evening
#'
#' What a stall takes in an evening of visits: its quantiles, the chance that the float runs dry, and how large it must
#' be. Several stalls stand side by side. What is fed to a pot that lasts is not the stall's: it counts as paid when it
#' is fed, and a pot that is won costs the stall its new seed.
#'
#' @param games A game, or several: see [game()].
#' @param visits Visits an hour.
#' @param hours How long the stall is open.
#' @param visit_rounds Rounds a visit; of a game with sittings a visit is a sitting.
#' @param round_seconds Seconds a round: no more rounds are played than there is time for. `NULL`: time does not matter.
#' @param float Tokens in the box when the stall opens.
#' @param stake Tokens for each token that the rules say is put in.
#' @param prize_cost What a token that is paid out costs the stall: below 1 where prizes are worth more to a visitor.
#' @param cap The most that a round may pay, in tokens of profit at the stake that is played, to see what a cap would
#'   change; or `NULL`.
#' @param seat The seat the visitors take, the others being the stall's; by default visitors take all seats that put
#'   something in, and what these win from each other is not the stall's.
#' @param visitors A mix of visitors, or `NULL` for one kind: a list of lists, each with `weight` (1), `players` (as in
#'   [odds()]), `stake` (1; with a wallet also a rule, as in [bankroll()]), and `wallet` and `goal`, with which a
#'   visitor leaves early. Levels of the box are then looked at after each visit.
#' @param ... More arguments of [odds()]: `players = list(guest = "careful:3, bold:1")` is a mix of visitors.
#' @return An object of class `basanos_takings`: a list with `rows`, a data frame with one row a stall: `game`,
#'   `visits`, `rounds`, `an_hour` and `evening` (mean takings in tokens), `sd`, `5%`, `50%`, `95%`, `losing` (the
#'   chance of an evening below zero), `dry` (the chance that the box cannot pay a prize in full: that what is in it
#'   falls below zero at some time), `float_needed` (the smallest float with `dry` below 1%), `hold` (what is kept of
#'   all that is put in), `worst` (the most that one `play` can cost: a round, a sitting, or a visit of a mix of
#'   visitors) and `worst_one_in`; `evening_best`, the mean evening where every visitor plays as well as can be (missing
#'   where that takes long to find, and with several seats of visitors, a mix, a cap or a prize cost); with a cap
#'   `hold_capped`, `5% capped` and `float_capped`; `terms`; `set_aside`, the pots that last; `players`, by game, who
#'   plays; `rounded`, whether pays had to be rounded to 0.0001 tokens, having no common part; and `distributions` of
#'   the evening, by game.
#' @inheritSection odds Stopped
#' @section Formulas: Takings of n rounds are the n-fold convolution of those of one, by fast Fourier transform. The
#'   lowest level of the box follows from Lindley's recursion (Lindley 1952, "The theory of queues with a single
#'   server"): over independent rounds the lowest partial sum of n has the law of min(0, X + the lowest of n - 1).
#' @section Errors: `no_stake`, `takings_wrong`, `pot_shared`, `takings_large`, `rounds_linked`, those of [odds()].
#' @export
#' @examples
#' takings(c("lantern-tiles", "salt-draw"), visits = 6, hours = 1, visit_rounds = 5, engine = "sample",
#'         rounds = 2000)
takings <- function(games, visits = 12, hours = 4, visit_rounds = 10, round_seconds = 30, float = 100, stake = 1,
                    prize_cost = 1, cap = NULL, seat = NULL, visitors = NULL, ...) {
  asked <- asked_here("takings", odds)
  terms <- list(visits = visits, hours = hours, visit_rounds = visit_rounds, round_seconds = round_seconds,
                float = float, stake = stake, prize_cost = prize_cost, cap = cap)
  check_terms(terms)
  games <- if (inherits(games, "basanos_game")) list(games) else as.list(games)
  stalls <- worked_out(games, function(game) stall_evening(game, terms, seat, visitors, ...),
                       what = "stalls", so_far = function(stalls, after, stop) {
    stalls <- Filter(Negate(is.null), stalls)
    if (length(stalls) > 0) list(takings = takings_result(stalls, terms, after)) else list()
  })
  with_call(takings_result(stalls, terms), asked)
}

takings_result <- function(stalls, terms, stopped = NULL) {
  rows <- do.call(rbind, lapply(stalls, `[[`, "row"))
  structure(list(rows = rows, terms = Filter(Negate(is.null), terms), stopped = stopped,
                 engines = vapply(stalls, `[[`, "", "engine"), rounded = any(vapply(stalls, `[[`, NA, "rounded")),
                 visitors = stats::setNames(lapply(stalls, `[[`, "seats"), rows$game),
                 players = stats::setNames(lapply(stalls, `[[`, "players"), rows$game),
                 set_aside = unlist(lapply(stalls, `[[`, "pots")),
                 distributions = stats::setNames(lapply(stalls, `[[`, "distribution"), rows$game)),
            class = result_class("takings"))
}

check_terms <- function(terms) {
  within <- function(name, least, most, hint, whole = FALSE) {
    x <- terms[[name]]
    if (is.null(x)) return(invisible())
    if (is.numeric(x) && length(x) == 1 && is.finite(x) && x >= least && x <= most && (!whole || x == round(x)))
      return(invisible())
    kind <- if (whole) "whole number" else "number"
    abort_input("takings_wrong", sprintf("`%s` must be a %s from %s to %s.", name, kind, plain_number(least),
                                         whole_text(most)), hint)
  }
  within("visits", 1e-6, 1e6, "write visits = 12 (--visits 12)")
  within("hours", 1e-6, 1e5, "write hours = 4 (--hours 4)")
  within("visit_rounds", 1, 1e6, "write visit_rounds = 10 (--visit-rounds 10)", whole = TRUE)
  within("played", 1, 1e6, "write played = 300 (--played 300)", whole = TRUE)
  within("round_seconds", 1e-6, 1e6, "write round_seconds = 30 (--round-seconds 30)")
  within("float", 0, 1e9, "write float = 100 (--float 100)")
  within("stake", 1e-6, 1e6, "write stake = 1 (--stake 1)")
  within("prize_cost", 0, 1e3, "write prize_cost = 0.6 (--prize-cost 0.6)")
  within("cap", 0, 1e9, "write cap = 50 (--cap 50)")
}

# The seats that visitors take: the one that is named, else all that put something in.
visiting_seats <- function(game, seat) {
  if (!is.null(seat)) return(staked_seat(game, seat))
  seats <- Filter(function(name) puts_in(game, match(name, game$seats)), game$seats[table_or_betting(game)])
  if (length(seats) == 0) first_staked(game) else seats
}

table_or_betting <- function(game) sort(union(table_seats(game), seats_with_money(game$money)))

# What is kept for these seats: pots that last set aside, or what several of them bring together.
question_of_visitors <- function(game, seats) {
  question <- with_pots_set_aside(question_of(game), seats[[1]])
  if (length(seats) < 2) return(question)
  if (!has_money(game))
    return(with_records(question, sprintf("paid_together = %s", paste(sprintf("pay[%s]", seats), collapse = " + "))))
  question$ledgers$together <- match(seats, game$seats)
  question
}

stall_evening <- function(name, terms, seat, visitors, ...) {
  game <- game_with(name, list(...)$set)
  seats <- visiting_seats(game, seat)
  question <- question_of_visitors(game, seats)
  play_with <- if (is.null(visitors)) {
    o <- odds_from(question, ...)
    function(terms) play_of_results(o, visit_results(o, seats, terms$prize_cost), terms)
  } else function(terms) mixed_visits(visitors, question, seats, terms, ...)
  play <- play_with(utils::modifyList(terms, list(cap = NULL)))
  n <- plays_of_evening(terms, play)
  evening <- evening_of_play(play, terms, n)
  worst <- min(play$take)
  row <- data.frame(game = name_of_file(game$source), visits = n$visits, rounds = n$rounds,
                    an_hour = evening$mean / terms$hours,
                    evening = evening$mean, sd = evening$sd, as.list(evening$quantiles), losing = evening$losing,
                    dry = evening$dry, float_needed = evening$float_needed, hold = evening$hold, play = play$unit,
                    worst = max(0, -worst), worst_one_in = 1 / sum(play$probability[play$take == worst]),
                    check.names = FALSE)
  row$evening_best <- if (is.null(visitors)) evening_of_best(game, seats, terms, play, n, ...) else NA_real_
  if (!is.null(terms$cap)) {
    lower <- evening_of_play(play_with(terms), terms, n)
    row <- cbind(row, data.frame(hold_capped = lower$hold, "5% capped" = lower$quantiles[["5%"]],
                                 float_capped = lower$float_needed, check.names = FALSE))
  }
  list(row = row, engine = play$engine, rounded = is.null(common_step(play$take)), distribution = evening$distribution,
       seats = seats, players = if (is.null(visitors)) o$players, pots = lasting_pots(game))
}

# What an evening comes to, on average, if every visitor plays as well as can be: where that is found quickly, and a
# visitor and the stall want the opposite of each other.
evening_of_best <- function(game, seats, terms, play, n, set = list(), players = list(), mode = NULL, ...) {
  seat <- match(seats, game$seats)
  if (length(seat) != 1 || length(asked_of(game, seat)) == 0 || terms$prize_cost != 1 || !is.null(terms$cap))
    return(NA_real_)
  others <- as.list(players)[setdiff(names(players), seats)]
  best <- best_in_short(game, seat, set, others, mode, names = character())
  if (is.null(best) || best$unit != play$unit) NA_real_ else -best$value * terms$stake * n$plays
}

# The take of a play, a round or a sitting: list(take, probability, put, rounds, engine, unit, of_visit), `of_visit`
# being how many there are in a visit.
play_of_results <- function(odds, results, terms) {
  list(take = stall_take(capped(results, terms, odds$unit), terms), probability = results$probability,
       put = terms$stake * sum(results$put * results$probability), engine = odds$engine, unit = odds$unit,
       rounds = if (odds$unit == "round") 1 else odds$rounds_in_unit,
       of_visit = if (odds$unit == "round") terms$visit_rounds else 1)
}

# list(put, net, probability) of a round; of a game with sittings those of a whole one.
visit_results <- function(odds, seats, prize_cost) {
  need_complete(odds)
  of_seat <- if (length(seats) == 1) odds$results[[seats]] else if (!is.null(odds$together)) odds$together
    else paid_together(odds, seats)
  if (is.null(of_seat)) staked_pays(odds, seats[[1]])  # says that nothing is put in
  of <- if (odds$unit == "round") of_seat$rounds
    else if (!is.null(of_seat$units)) of_seat$units
    else if (prize_cost == 1) of_seat$evening
  if (!is.null(of)) return(lapply(of, `[`, of$probability > 0))
  abort_input("rounds_linked",
              sprintf("The rounds of %s depend on each other in a %s; these odds have no results by %s.",
                                       odds$game, odds$unit, odds$unit),
              "sample it (--engine sample), with bets in the rules: bets(guest, line = 1)")
}

# For seats with constant stakes.
paid_together <- function(odds, seats) {
  paid <- odds$distributions$paid_together
  stake <- sum(odds$pays$stake[odds$pays$seat %in% seats], na.rm = TRUE)
  list(rounds = list(put = rep(stake, nrow(paid)), net = paid$value, probability = paid$probability))
}

# The number of plays in an evening, at most as many as there is time for.
plays_of_evening <- function(terms, play) {
  of_visit <- if (is.null(play$of_visit)) 1 else play$of_visit
  most <- if (is.null(terms$round_seconds)) Inf else terms$hours * 3600 / terms$round_seconds
  rounds <- min(terms$visits * terms$hours * of_visit * play$rounds, most)
  list(visits = rounds / play$rounds / of_visit, rounds = rounds, plays = max(1, round(rounds / play$rounds)))
}

# A cap is one on what a round pays, at the stake that is played.
capped <- function(results, terms, unit) {
  if (is.null(terms$cap)) return(results)
  if (unit != "round")
    abort_input("takings_wrong", sprintf("What a cap on a round changes does not follow from whole %s.",
                                         units_in_words(unit)),
                "write the cap into the rules: settle(line, ..., most = 50)")
  results$net <- pmin(results$net, terms$cap / terms$stake)
  results
}

# The stall's take of a play: the stakes, less the cost of the prizes.
stall_take <- function(results, terms) {
  terms$stake * (results$put - terms$prize_cost * (results$put + results$net))
}

evening_of_play <- function(of, terms, n) {
  play <- on_lattice(of$take, of$probability)
  total <- convolved(play, n$plays)
  p <- total$probability
  mean <- sum(total$value * p)
  lowest <- lowest_levels(play, n$plays, terms$float)
  at <- vapply(c(0.05, 0.5, 0.95), function(q) total$value[[which(cumsum(p) >= q - 1e-12)[[1]]]], 0)
  list(mean = mean, sd = sqrt(sum((total$value - mean)^2 * p)), quantiles = stats::setNames(at, c("5%", "50%", "95%")),
       losing = tail_of_sum(play, n$plays, -play$step, -1), dry = lowest$dry, float_needed = lowest$needed,
       hold = mean / (n$plays * of$put),
       distribution = data.frame(value = total$value, probability = p))
}

#' @export
sections.basanos_takings <- function(x, ...) {
  r <- x$rows
  t <- x$terms
  tokens <- function(v) fixed_text(v, 1)
  percent <- function(v) percent_text(v, 2)
  cells <- list(stall = r$game, rounds = whole_text(round(r$rounds)), "an hour" = tokens(r$an_hour),
                evening = tokens(r$evening),
                sd = tokens(r$sd), "5%" = tokens(r[["5%"]]), "50%" = tokens(r[["50%"]]), "95%" = tokens(r[["95%"]]),
                losing = percent(r$losing), keeps = percent(r$hold))
  box <- list(stall = r$game, "runs dry" = percent(r$dry), "float for under 1%" = tokens(r$float_needed),
              "worst" = paste("a", r$play, tokens(-r$worst)), "one in" = one_in(1 / r$worst_one_in))
  if (!is.null(r$hold_capped))
    box <- c(box, list("keeps, capped" = percent(r$hold_capped), "5%, capped" = tokens(r[["5% capped"]]),
                       "float, capped" = tokens(r$float_capped)))
  visits <- sprintf("%s visits an hour, %s hours", plain_number(t$visits), plain_number(t$hours))
  short <- abs(r$visits - t$visits * t$hours) > 1e-9
  all_sections(
    section(sprintf("The stall's evening: %s, a float of %s", visits, plain_number(t$float))), section(table = cells),
    section(table = box),
    if (any(short)) section(notes = sprintf("%s has time for %s visits of %s only, at %s seconds a round.",
                                            r$game[short], fixed_text(r$visits[short], 1),
                                            plain_number(t$visits * t$hours), plain_number(t$round_seconds))),
    set_aside_section(x$set_aside), section(notes = c(
      who_plays_lines(x), best_visitor_lines(r), counted_or_sampled(all(x$engines == "exact") && !x$rounded),
      if (x$rounded) "Pays have no common part: each is rounded to 0.0001 tokens.")))
}

best_visitor_lines <- function(r) {
  better <- which(r$evening_best < r$evening - 1e-9 * pmax(1, abs(r$evening)))
  if (length(better) == 0) return(NULL)
  sprintf("%s: where every visitor plays as well as can be, the evening comes to %s on average.", r$game[better],
          fixed_text(r$evening_best[better], 1))
}

# The players of each stall where somebody decides, or where several seats are the visitors'.
who_plays_lines <- function(x) {
  unlist(lapply(names(x$players), function(name) {
    seats <- x$visitors[[name]]
    said <- c(if (length(seats) > 1) sprintf("visitors take %s", enumerated(seats)),
              if (length(x$players[[name]]) > 0) who_plays(x$players[[name]]))
    if (length(said) > 0) sprintf("%s: %s.", name, paste(said, collapse = "; "))
  }))
}

set_aside_section <- function(pots) {
  if (length(pots) > 0)
    section(notes = sprintf("Set aside for who wins it, and so counted as paid: what is fed to %s.",
                            enumerated(sprintf("`%s`", pots))))
}

#' @export
json_fields.basanos_takings <- function(x) {
  c(unclass(x)[c("terms", "rows")], list(set_aside = as.list(x$set_aside)), unclass(x)["distributions"])
}

#' @export
as.data.frame.basanos_takings <- function(x, ...) {
  r <- x$rows
  numbers <- names(r)[vapply(r, is.numeric, NA)]
  known <- function(k) Filter(function(column) !is.na(r[[column]][[k]]), numbers)
  bind_result_rows(lapply(seq_len(nrow(r)), function(k) bind_result_rows(lapply(known(k), function(column) {
    p <- regmatches(column, regexec("^([0-9]+)%(.*)$", column))[[1]]
    result_rows(list(game = r$game[[k]]), if (length(p) > 0) paste0("quantile", sub(" ", "_", p[[3]])) else column,
                "evening", r[[column]][[k]], p = if (length(p) > 0) as.numeric(p[[2]]) / 100 else NA_real_,
                engine = x$engines[[k]])
  }))))
}
