# The ledgers of money: for each bet, and each seat that has one, what was put in and the net result of a round, in
# pieces. The two are kept as one number, so that how they go together is known; over the rounds of a unit such numbers
# add up to that of the sums. A net result may be any whole number of the language; what is put in is limited by what a
# fraction holds exactly (see ledger_pairs()).

ledger_base <- 2^32

# The ledgers of a game: list(kind, name, seat, pair); `pair` where it holds two numbers.
ledger_plan <- function(question, there) {
  rules <- question$game
  asked <- question$ledgers
  if (!has_money(rules) || (isTRUE(question$by_round) && length(question$measures) == 0)) return(list())
  money <- rules$money
  entry <- function(kind, name, seat, pair = TRUE)
    list(list(kind = kind, name = name, seat = rules$seats[[seat]], number = seat, pair = pair))
  of_bets <- lapply(unname(money$bets), function(bet)
    c(entry("bet", bet$name, bet$seat), if (rounds_profits(rules, bet$name)) entry("rounding", bet$name, bet$seat,
                                                                                   FALSE)))
  of_seats <- lapply(intersect(seats_with_money(money), there), function(seat)
    c(entry("seat", rules$seats[[seat]], seat),
      if (any(vapply(bets_of_seat(money, seat), function(b) isTRUE(b$adds_later), NA)))
        entry("first", rules$seats[[seat]], seat),
      if (isTRUE(asked$aside)) entry("aside", rules$seats[[seat]], seat)))
  of_pots <- lapply(unname(money$pots), function(pot)
    c(entry("fed", pot$name, 1L, FALSE), entry("paid", pot$name, 1L, FALSE), entry("emptied", pot$name, 1L, FALSE),
      if (!is.null(pot$parts)) entry("parts", pot$name, 1L, FALSE)))
  kept <- c(if (isTRUE(asked$cases)) list(entry("cases", "", 1L, FALSE)),
            if (!is.null(asked$par)) list(entry("par", asked$par, match(asked$par, rules$seats))),
            if (!is.null(asked$together)) list(entry("together", "", 1L)))
  unlist(c(of_bets, of_seats, of_pots, kept), recursive = FALSE)
}

# The plan with the register of each.
write_ledgers <- function(asm, pays) {
  lapply(ledger_plan(asm$question, which(is_there(asm, seq_along(asm$rules$seats)))), function(entry) {
    register <- new_register(asm, TRUE)
    write_into(asm, ledger_value(asm, entry, pays), register)
    c(entry, list(register = register))
  })
}

ledger_value <- function(asm, entry, pays) {
  money <- asm$rules$money
  at <- c(1L, 1L, 1L, 1L)
  seat <- entry$number
  bet <- money$bets[[entry$name]]
  of_pot <- function(field) convert(money_read(money$pots[[entry$name]][[field]], at), t_fraction)
  put_in <- function(seat = entry$number) whole_of("+", put_of_seat(money, seat, at), put_beside(asm, seat, at), at)
  net <- function(seat = entry$number) paid_in_pieces(asm, pays, seat, at)
  switch(entry$kind,
    bet = joint_number(money_read(bet$put, at), whole_of("-", money_read(bet$back, at), money_read(bet$put, at), at),
                       at),
    rounding = typed("var", t_fraction, at, var = bet$rounding),
    seat = joint_number(put_in(), net(), at),
    first = joint_number(whole_of("+", first_of_seat(money, seat, at), put_beside(asm, seat, at), at), net(), at),
    aside = joint_number(put_in(), whole_of("+", net(), set_aside(money, at), at), at),
    par = shifted_by(joint_number(put_in(), net(), at), outcome_places(asm$rules), typed("outcome", t_whole, at), at),
    cases = case_number(asm$rules, at),
    together = joint_number(sum_of(lapply(asm$question$ledgers$together, put_in), at),
                            sum_of(lapply(asm$question$ledgers$together, net), at),
                            at),
    parts = typed("var", t_fraction, at, var = money$pots[[entry$name]]$parts),
    of_pot(entry$kind))
}

# What a round adds to the pots that last: what is fed, and the seed after each emptying, less what is paid.
set_aside <- function(money, at) {
  sum_of(lapply(Filter(function(pot) pot$lasts == "always", money$pots), function(pot)
    whole_of("+", whole_of("-", money_read(pot$fed, at), money_read(pot$paid, at), at),
             whole_of("*", money_read(pot$emptied, at), pot$seed, at), at)), at)
}

joint_number <- function(put, net, at) {
  high <- calculation("*", t_fraction, at, list(convert(put, t_fraction), literal(ledger_base, t_fraction, at)))
  calculation("+", t_fraction, at, list(high, convert(net, t_fraction)))
}

# The stake of a seat by `stakes`.
put_beside <- function(asm, seat, at) {
  stake <- stake_of(asm, seat)
  piece <- asm$rules$money$piece
  pieces_of(if (is.na(stake)) 0 else round(stake * piece$den / piece$num), at)
}

# The stake of a seat before the first draw of the round.
first_of_seat <- function(money, seat, at) {
  sum_of(lapply(bets_of_seat(money, seat), function(b) if (!is.null(b$keeps_first)) money_read(b$first, at)
    else if (isTRUE(b$adds_later)) pieces_of(0, at) else money_read(b$put, at)), at)
}

# May a profit of this bet come out uneven?
rounds_profits <- function(rules, name) {
  uneven <- function(line) identical(line$bet, name) && any(vapply(line$cases, function(case)
    case$brings$how != "stands" && !pays_even(case$brings), NA))
  any(vapply(settlements(rules), uneven, NA))
}

# The least and the greatest return of one token, as far as the settlements say; infinite where they do not. A sample
# may not have shown it yet. For a seat: over all its bets, unless something else is staked or paid as well.
return_range <- function(ledger, rules, of) {
  money <- rules$money
  if (ledger$kind == "bet") return(bet_return_range(rules, ledger$name, of))
  seat <- match(ledger$seat, rules$seats)
  beside <- Filter(function(pay) !isTRUE(pay$of_bets), rules$pays)
  if (ledger$kind != "seat" || length(money$pots) > 0 || length(beside) > 0 || length(rules$stakes) > 0) return(no_ends)
  ends <- lapply(bets_of_seat(money, seat), function(bet) bet_return_range(rules, bet$name, of))
  if (length(ends) == 0) no_ends else range(unlist(ends))
}

bet_return_range <- function(rules, name, of) {
  lines <- Filter(function(line) identical(line$bet, name), settlements(rules))
  cases <- unlist(lapply(lines, `[[`, "cases"), recursive = FALSE)
  if (length(cases) == 0) return(no_ends)
  range(0, vapply(cases, function(case) {
    if (case$brings$how == "stands") return(c(1, 1))
    ratio <- ends_of_calculation(list(fn = "/", args = case$brings[c("a", "b")]), of)
    if (is.null(ratio)) no_ends else ratio + if (case$brings$how == "for") 0 else 1
  }, c(0, 0)))
}

# Every line of settle, at the end of a round and in play.
settlements <- function(rules) {
  lines <- rules$money$settles
  walk(rules$play, function(n) if (n$op == "settle") lines <<- c(lines, list(n$line)))
  lines
}

# The sum of each ledger over a unit with several rounds. An exact count does not need it.
start_ledger_sums <- function(asm) {
  if (isTRUE(asm$counting)) return(invisible())
  asm$ledger_sums <- lapply(ledger_plan(asm$question, which(is_there(asm, seq_along(asm$rules$seats)))),
                            function(entry) {
    register <- new_register(asm, TRUE)
    move(asm, register, list(const = 0, real = TRUE))
    register
  })
}

add_to_ledger_sums <- function(asm, ledgers) {
  for (k in seq_along(asm$ledger_sums)) {
    sum <- asm$ledger_sums[[k]]
    emit(asm, "DADD", sum$register, sum$register, ledgers[[k]]$register$register)
  }
}

named_ledger_sums <- function(asm)
  stats::setNames(lapply(asm$ledger_sums, added_quantity), sprintf("ledger %d", seq_along(asm$ledger_sums)))

# Which case of its settlement each bet came to, what lay on it, and the outcome, as one number: from it follows what a
# round brings whatever the cases pay.
case_number <- function(rules, at) {
  digits <- c(list(typed("outcome", t_whole, at)), unlist(lapply(rules$money$settles, function(line)
    list(case_reached(line), money_read(rules$money$bets[[line$bet]]$variable, at))), recursive = FALSE))
  number <- literal(0, t_fraction, at)
  for (k in rev(seq_along(digits))) number <- shifted_by(number, case_places(rules)[[k]], digits[[k]], at)
  number
}

# The number with one more digit at its end; the digit has `places` values.
shifted_by <- function(number, places, digit, at) {
  shifted <- calculation("*", t_fraction, at, list(number, literal(places, t_fraction, at)))
  calculation("+", t_fraction, at, list(shifted, convert(digit, t_fraction)))
}

outcome_places <- function(rules) length(rules$outcomes$names) + 1

case_reached <- function(line) {
  number <- pieces_of(0, line$at)
  for (k in rev(seq_along(line$cases))) {
    pieces <- pieces_of(k, line$at)
    cond <- line$cases[[k]]$cond
    number <- if (is.null(cond)) pieces else typed("choose", t_whole, line$at, cond = cond, yes = pieces, no = number)
  }
  number
}

# The base of each digit of that number.
case_places <- function(rules) {
  c(outcome_places(rules), unlist(lapply(rules$money$settles, function(line)
    c(length(line$cases) + 1, most_on_bet(rules$money$bets[[line$bet]]) + 1))))
}

most_on_bet <- function(bet) {
  known <- if (!is.null(bet$most)) bet$most else if (!isTRUE(bet$staked)) bet$opening
  if (!is.null(known) && known$op == "lit") known$value else 4095
}

# The digits of such numbers: one row a number, a column for the outcome and two for each settlement.
case_digits <- function(value, rules) {
  places <- case_places(rules)
  digits <- matrix(0, length(value), length(places))
  for (k in seq_along(places)) {
    digits[, k] <- value %% places[[k]]
    value <- value %/% places[[k]]
  }
  digits
}
