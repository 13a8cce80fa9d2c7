# Writes the words that move money out as code. Each is a few plain statements over the variables of bets, pots and
# wallets, all of them in pieces.

op_stake <- op_feed <- op_share <- op_settle <- op_buy <- function(asm, s) {
  money <- asm$rules$money
  steps <- switch(s$op, stake = stake_steps(money, s),
                  feed = if (is.null(s$from)) house_feed_steps(money, s)
                    else by_key_steps(s$from, function(name) feed_steps(money, s, name), s$at),
                  share = share_steps(money, s), buy = buy_steps(money, s),
                  settle = list(decide_step(money, s$line), pay_back_step(money, s$line, TRUE)))
  write_statements(asm, steps)
}

# --- small statements ---------------------------------------------------------------------------------

# A trace does not show these statements: `money_note` tells what moves.
set_money <- function(variable, value, at)
  typed("assign", t_nothing, at, target = typed("var", variable$type, at, var = variable), value = value, quiet = TRUE)

change_money <- function(fn, variable, by, at) set_money(variable, whole_of(fn, money_read(variable, at), by, at), at)

whole_of <- function(fn, a, b, at) calculation(fn, t_whole, at, list(a, b))
money_test <- function(fn, a, b, at) calculation(fn, t_yesno, at, list(a, b))
pieces_of <- function(n, at) literal(n, t_whole, at)

# Tells an amount between two texts, and how much lies there now. An amount of zero is told by `nothing`, or not at all.
money_note <- function(at, name, plain, amount, total = NULL, nothing = NULL)
  typed("money_note", t_nothing, at, name = name, plain = plain, amount = amount, total = total, nothing = nothing)

only_if <- function(cond, yes, no = list(), at) typed("if", t_nothing, at, cond = cond, yes = yes, no = no,
                                                      quiet = TRUE)

fail_if <- function(cond, id, at)
  only_if(cond, list(typed("effect", t_nothing, at, x = typed("fail", t_whole, at, id = id))), at = at)

# Takes money out of the seat's wallet, where it has one.
out_of_wallet <- function(money, seat, amount, at) {
  wallet <- money$wallets[[as.character(seat)]]
  if (is.null(wallet)) return(list())
  left <- money_read(wallet$variable, at)
  list(fail_if(money_test("<", left, amount, at), "wallet_too_small", at),
       change_money("-", wallet$variable, amount, at),
       keep_lowest(wallet, at))
}

# Only for samples: the lowest wallet, and its greatest fall from an earlier high.
keep_lowest <- function(wallet, at) {
  if (is.null(wallet$lowest)) return(in_order(list(), at))
  least <- whole_of("min", money_read(wallet$lowest, at), money_read(wallet$variable, at), at)
  set_money(wallet$lowest, least, at)
}

keep_drawdown <- function(wallet, at) {
  if (is.null(wallet$highest)) return(in_order(list(), at))
  left <- money_read(wallet$variable, at)
  high <- money_read(wallet$highest, at)
  fall <- whole_of("max", money_read(wallet$drawdown, at), whole_of("-", high, left, at), at)
  in_order(list(set_money(wallet$highest, whole_of("max", high, left, at), at), set_money(wallet$drawdown, fall, at)),
           at)
}

without_extremes <- function(wallet) {
  wallet[c("lowest", "highest", "drawdown")] <- NULL
  wallet
}

into_wallet <- function(money, seat, amount, at) {
  wallet <- money$wallets[[as.character(seat)]]
  if (is.null(wallet)) list() else list(change_money("+", wallet$variable, amount, at))
}

# --- stakes ---------------------------------------------------------------------------------------------

stake_steps <- function(money, s) {
  if (s$onto == "pot") return(steps_by(s$who, s$who$type$members, function(seat) pot_stake_steps(money, s, seat), s$at))
  by_key_steps(s$on, function(name) bet_stake_steps(money, s, money$bets[[name]]), s$at)
}

# Steps for a bet of a family, or for a seat, that may only be known in the round.
by_key_steps <- function(target, steps_of, at) {
  if (is.null(target$key)) return(steps_of(target$bets))
  keys <- target$d$axis$keys
  steps_by(target$key, keys, function(key) steps_of(target$bets[[match(key, keys)]]), at)
}

steps_by <- function(key, keys, steps_of, at) {
  if (key$op == "lit") return(steps_of(key$value))
  if (is_kind(key$type, "label")) keys <- intersect(keys, key$type$members)
  lapply(keys, function(k) only_if(money_test("==", key, literal(k, key$type, at), at), steps_of(k), at = at))
}

bet_stake_steps <- function(money, s, bet) {
  at <- s$at
  amount <- money_read(bet$won, at)
  lies <- money_read(bet$variable, at)
  after <- whole_of("+", lies, amount, at)
  some <- money_test(">", amount, pieces_of(0, at), at)
  beyond <- function(cond) fail_if(cond, "stake_outside", at)
  c(list(set_money(bet$won, s$amount, at),
         fail_if(money_test("<", amount, pieces_of(0, at), at), "stake_below_zero", at)),
    if (!is.null(bet$most)) list(beyond(money_test(">", after, bet$most, at))),
    if (!is.null(bet$least)) list(beyond(both_hold(some, money_test("<", after, bet$least, at), at))),
    if (!is.null(bet$step))
      list(beyond(both_hold(some, money_test("!=", whole_of("%%", after, bet$step, at), pieces_of(0, at), at), at))),
    out_of_wallet(money, bet$seat, amount, at),
    if (isTRUE(s$site$first) && !is.null(bet$keeps_first)) list(change_money("+", bet$first, amount, at)),
    list(change_money("+", bet$variable, amount, at), stake_note(money, bet$seat, bet$name, amount, lies, at)))
}

# "ann puts 1 on line: 2 there"
stake_note <- function(money, seat, place, amount, lies, at)
  money_note(at, place, c(sprintf("%s puts ", money$seats[[seat]]), sprintf(" on %s", place)), amount, lies)

both_hold <- function(a, b, at) calculation("&&", t_yesno, at, list(a, b))

pot_stake_steps <- function(money, s, seat) {
  pot <- money$pots[[s$on$bets]]
  key <- as.character(seat)
  c(list(fail_if(money_test("<", s$amount, pieces_of(0, s$at), s$at), "stake_below_zero", s$at)),
    out_of_wallet(money, seat, s$amount, s$at),
    list(change_money("+", pot$put[[key]], s$amount, s$at), change_money("+", pot$fed, s$amount, s$at),
         change_money("+", pot$variable, s$amount, s$at),
         stake_note(money, seat, pot$name, s$amount, money_read(pot$variable, s$at), s$at)))
}

feed_steps <- function(money, s, name) {
  bet <- money$bets[[name]]
  pot <- money$pots[[s$pot]]
  at <- s$at
  list(fail_if(money_test("<", s$amount, pieces_of(0, at), at), "stake_below_zero", at),
       fail_if(money_test("<", money_read(bet$variable, at), s$amount, at), "stake_outside", at),
       change_money("-", bet$variable, s$amount, at), change_money("+", bet$put, s$amount, at),
       change_money("+", pot$fed, s$amount, at), change_money("+", pot$variable, s$amount, at),
       feed_note(pot, sprintf("from %s", name), s$amount, at))
}

house_feed_steps <- function(money, s) {
  pot <- money$pots[[s$pot]]
  at <- s$at
  list(fail_if(money_test("<", s$amount, pieces_of(0, at), at), "stake_below_zero", at),
       change_money("+", pot$fed, s$amount, at), change_money("+", pot$variable, s$amount, at),
       feed_note(pot, "from the house", s$amount, at))
}

feed_note <- function(pot, from, amount, at)
  money_note(at, pot$name, c("", sprintf(" goes %s to %s", from, pot$name)), amount, money_read(pot$variable, at))

buy_steps <- function(money, s) {
  wallet <- money$wallets[[as.character(s$seat)]]
  list(fail_if(money_test("<", s$amount, pieces_of(0, s$at), s$at), "stake_below_zero", s$at),
       change_money("+", wallet$variable, s$amount, s$at),
       change_money("+", wallet$brought, s$amount, s$at),
       money_note(s$at, wallet$variable$name, c(sprintf("%s brings ", wallet$name), " more"), s$amount))
}

# --- pots -------------------------------------------------------------------------------------------------

share_steps <- function(money, s) {
  pot <- money$pots[[s$pot]]
  at <- s$at
  level <- money_read(pot$variable, at)
  shares <- function(seat) {
    key <- literal(seat, if (is_collection(s$among$type)) s$among$type$of else s$among$type, at)
    if (is_collection(s$among$type)) typed("collection_has", t_yesno, at, over = s$among, x = key)
    else money_test("==", s$among, key, at)
  }
  one <- function(seat) typed("choose", t_whole, at, cond = shares(seat), yes = pieces_of(1, at), no = pieces_of(0, at))
  amount <- if (is.null(s$part)) level else part_of(level, s$part, at)
  n <- money_read(pot$sharers, at)
  each <- money_read(pot$each, at)
  rest <- money_read(pot$left, at)
  gets <- function(seat, part) c(list(change_money("+", pot$back[[as.character(seat)]], part, at)),
                                 into_wallet(money, seat, part, at),
                                 list(money_note(at, pot$name, c(sprintf("%s gets ", money$seats[[seat]]),
                                                                 sprintf(" from %s", pot$name)), part)))
  c(list(set_money(pot$sharers, sum_of(lapply(pot$seats, one), at), at),
         fail_if(money_test("==", n, pieces_of(0, at), at), "share_among_nobody", at),
         set_money(pot$left, amount, at),
         set_money(pot$each, whole_of("%/%", rest, n, at), at),
         set_money(pot$left, whole_of("-", rest, whole_of("*", each, n, at), at), at),
         change_money("-", pot$variable, whole_of("*", each, n, at), at),
         change_money("+", pot$paid, whole_of("*", each, n, at), at)),
    lapply(pot$seats, function(seat) only_if(shares(seat), gets(seat, each), at = at)),
    if (!identical(s$rest, "stays")) list(change_money("-", pot$variable, rest, at)),
    if (is.numeric(s$rest)) c(list(change_money("+", pot$paid, rest, at)), gets(s$rest, rest)),
    if (!is.null(pot$parts)) list(add_part(pot, s$part, at)),
    if (is.null(s$part)) c(list(change_money("+", pot$emptied, pieces_of(1, at), at)),
                           if (pot$lasts == "always") list(change_money("+", pot$variable, pot$seed, at))))
}

# The sum of the parts of the pot that were paid; the whole pot is 1.
add_part <- function(pot, part, at) {
  before <- typed("var", t_fraction, at, var = pot$parts)
  set_money(pot$parts, calculation("+", t_fraction, at, list(before, if (is.null(part)) literal(1, t_fraction, at)
                                                             else part)), at)
}

part_of <- function(level, part, at) {
  rounded_down(calculation("*", t_fraction, at, list(convert(level, t_fraction), part)), at)
}

# --- settling -----------------------------------------------------------------------------------------------

nothing_settled <- -1  # the bet is empty, or stands over

# The amount that comes back of a bet, by the first case that holds.
decide_step <- function(money, line) {
  bet <- money$bets[[line$bet]]
  at <- line$at
  chain <- list()
  for (case in rev(line$cases)) {
    steps <- if (case$brings$how == "stands") list() else back_steps(money, bet, case$brings, line$most)
    chain <- if (is.null(case$cond)) steps else list(settle_case_step(case, steps, chain, at))
  }
  in_order(list(set_money(bet$won, pieces_of(nothing_settled, at), at),
                only_if(money_test(">", money_read(bet$variable, at), pieces_of(0, at), at), chain, at = at)), at)
}

# A condition that the rules write is told of like any other; that of an outcome is not.
settle_case_step <- function(case, paid, others, at) {
  step <- only_if(case$cond, paid, others, at)
  step$quiet <- length(variables_in(case$cond, "outcome")) > 0
  step
}

# A profit that does not come out even is rounded down; the rest stays with the house. Beyond a cap nothing is rounded.
back_steps <- function(money, bet, ratio, most) {
  at <- ratio$at
  lies <- money_read(bet$variable, at)
  even <- pays_even(ratio)
  paid <- if (even) whole_of("*", lies, ratio$a, at) else rounded_down(uneven_profit(lies, ratio, at), at)
  back <- if (ratio$how == "for") paid else whole_of("+", lies, paid, at)
  if (!is.null(most)) back <- whole_of("min", back, whole_of("+", lies, most, at), at)
  below_zero <- if (ratio$a$op != "lit")
    list(fail_if(money_test("<", ratio$a, literal(0, ratio$a$type, at), at), "odds_below_zero", at))
  c(below_zero, list(set_money(bet$won, back, at)),
    if (!even) list(add_rounding(bet, unrounded_back(lies, ratio, most, at), at)))
}

# The amount that would come back without rounding to pieces.
unrounded_back <- function(lies, ratio, most, at) {
  lies_exactly <- convert(lies, t_fraction)
  exact <- uneven_profit(lies, ratio, at)
  if (ratio$how != "for") exact <- calculation("+", t_fraction, at, list(lies_exactly, exact))
  if (is.null(most)) return(exact)
  calculation("min", t_fraction, at, list(exact, calculation("+", t_fraction, at,
                                                             list(lies_exactly, convert(most, t_fraction)))))
}

# Do whole pieces always come out whole?
pays_even <- function(ratio) is_kind(ratio$a$type, "whole") && ratio$b$op == "lit" && ratio$b$value == 1

uneven_profit <- function(lies, ratio, at) {
  product <- calculation("*", t_fraction, at, list(convert(lies, t_fraction), convert(ratio$a, t_fraction)))
  calculation("/", t_fraction, at, list(product, convert(ratio$b, t_fraction)))
}

rounded_down <- function(exact, at) {
  calculation("round_down", t_whole, at,
              list(calculation("+", t_fraction, at, list(exact, literal(1e-9, t_fraction, at)))))
}

add_rounding <- function(bet, exact, at) {
  kept <- calculation("-", t_fraction, at, list(exact, convert(money_read(bet$won, at), t_fraction)))
  before <- typed("var", t_fraction, at, var = bet$rounding)
  set_money(bet$rounding, calculation("+", t_fraction, at, list(before, kept)), at)
}

# Moves what was decided; in play the bet is empty afterwards.
pay_back_step <- function(money, line, in_play) {
  bet <- money$bets[[line$bet]]
  at <- line$at
  won <- money_read(bet$won, at)
  lies <- money_read(bet$variable, at)
  stands <- if (!is.null(bet$standing) && !in_play) list(set_money(bet$standing, lies, at)) else list()
  only_if(money_test(">=", won, pieces_of(0, at), at),
          c(list(change_money("+", bet$put, lies, at), change_money("+", bet$back, won, at)),
            into_wallet(money, bet$seat, won, at),
            list(money_note(at, bet$name, c(sprintf("%s gets ", money$seats[[bet$seat]]),
                                            sprintf(" back from %s", bet$name)), won,
                            nothing = sprintf("%s loses %s", money$seats[[bet$seat]], bet$name))),
            if (in_play) list(set_money(bet$variable, pieces_of(0, at), at))),
          stands, at)
}

# --- a round ----------------------------------------------------------------------------------------------

# The stakes before a round begins; a bet that was carried over is there already.
write_opening <- function(asm) {
  money <- asm$rules$money
  for (bet in money$bets) {
    at <- bet$at
    lies <- money_read(bet$variable, at)
    placed <- c(out_of_wallet(money, bet$seat, lies, at),
                if (!is.null(bet$keeps_first)) list(set_money(bet$first, lies, at)),
                list(stake_note(money, bet$seat, bet$name, lies, lies, at)))
    if (!is.null(bet$standing)) {
      stood <- money_read(bet$standing, at)
      placed <- list(only_if(money_test(">", stood, pieces_of(0, at), at), list(set_money(bet$variable, stood, at),
                                                                       set_money(bet$standing, pieces_of(0, at), at)),
                             placed, at))
    }
    write_if_playing(asm, bet$seat, function() write_statements(asm, placed),
                     otherwise = function() write_statement(asm, set_money(bet$variable, pieces_of(0, at), at)))
  }
}

# All bets are decided before any is paid: conditions may read what lies on the others.
write_settlement <- function(asm) {
  money <- asm$rules$money
  for (line in money$settles) write_statement(asm, decide_step(money, line))
  for (line in money$settles) write_statement(asm, pay_back_step(money, line, in_play = FALSE))
  settled <- vapply(money$settles, `[[`, "", "bet")
  for (bet in money$bets[!names(money$bets) %in% settled])
    write_statement(asm, fail_if(money_test(">", money_read(bet$variable, bet$at), pieces_of(0, bet$at), bet$at),
                                 "bet_lies", bet$at))
}

# Settlements that no outcome decides come first, so that outcomes may read what was gained.
settles_by_outcome <- function(rules) any(vapply(rules$money$settles, `[[`, NA, "by_outcome"))

# Pays beside the bets go into the wallet; then the values that the next round may read.
write_round_money <- function(asm, pays) {
  money <- asm$rules$money
  for (wallet in money$wallets) {
    at <- wallet$at
    beside <- whole_of("-", paid_in_pieces(asm, pays, wallet$seat, at), net_of_seat(money, wallet$seat, at), at)
    write_statements(asm, list(change_money("+", wallet$variable, beside, at), keep_lowest(wallet, at),
                               keep_drawdown(wallet, at)))
  }
  write_last_round(asm, pays)
}

write_last_round <- function(asm, pays) {
  money <- asm$rules$money
  of_each <- function(field, value) for (key in names(money[[field]])) {
    variable <- money[[field]][[key]]
    write_statement(asm, set_money(variable, value(as.integer(key), variable$at, variable), variable$at))
  }
  of_each("last_stake", function(seat, at, kept) put_of_seat(money, seat, at))
  of_each("last_net", function(seat, at, kept) paid_in_pieces(asm, pays, seat, at))
  of_each("streak", function(seat, at, kept) next_run(money_read(kept, at), paid_in_pieces(asm, pays, seat, at), at))
}

# Wins in a row, losses below zero; what comes out even changes nothing. Without branches, which chance would have
# guessed wrong.
next_run <- function(run, net, at) {
  zero <- literal(0, t_whole, at)
  is_so <- function(fn) typed("as_number", t_whole, at, x = number_test(fn, net, zero, at))
  times <- function(a, b) number_of("*", a, b, at)
  longer <- function(end, by) number_of("+", number_of(end, run, zero, at), literal(by, t_whole, at), at)
  changed <- number_of("+", times(is_so(">"), longer("max", 1)), times(is_so("<"), longer("min", -1)), at)
  number_of("+", changed, times(is_so("=="), run), at)
}

# Of two whole numbers or, where one is none, of two fractions.
number_of <- function(fn, a, b, at) {
  type <- if (fn != "/" && is_kind(a$type, "whole") && is_kind(b$type, "whole")) t_whole else t_fraction
  calculation(fn, type, at, list(convert(a, type), convert(b, type)))
}
number_test <- function(fn, a, b, at) {
  type <- join_types(a$type, b$type)
  calculation(fn, t_yesno, at, list(convert(a, type), convert(b, type)))
}
# The net result of a seat in the round, in pieces: bets, pots and pays.
paid_in_pieces <- function(asm, pays, seat, at) {
  pay <- Filter(function(p) p$seat == seat, pays)
  if (length(pay) == 0) return(pieces_of(0, at))
  register <- pay[[1]]$register
  piece <- asm$rules$money$piece
  if (!register$real) {
    paid <- times(typed("operand", t_whole, at, operand = register), piece$den)
    return(if (piece$num == 1) paid else whole_of("%/%", paid, pieces_of(piece$num, at), at))
  }
  exact <- calculation("*", t_fraction, at, list(typed("operand", t_fraction, at, operand = register),
                                                 literal(piece$den / piece$num, t_fraction, at)))
  calculation("round_down", t_whole, at,
              list(calculation("+", t_fraction, at, list(exact, literal(0.5, t_fraction, at)))))
}

# --- the end of a sitting --------------------------------------------------------------------------------

# A seat that cannot pay for another round buys in again, or is ruined: then the sitting ends, or at a table the others
# go on as long as there are enough of them.
write_ruin <- function(asm, out) {
  for (wallet in asm$rules$money$wallets)
    if (is_there(asm, wallet$seat)) write_if_playing(asm, wallet$seat, function() write_ruin_of(asm, wallet, out))
  if (has_table(asm$rules)) jump_if(asm, too_few_left(asm), out, when = TRUE)
}

write_ruin_of <- function(asm, wallet, out) {
  at <- wallet$at
  fine <- new_label(asm)
  jump_if(asm, money_test("<", money_read(wallet$variable, at), wallet$needs, at), fine, when = FALSE)
  ruin <- function() {
    write_statements(asm, c(list(set_money(wallet$ruined, pieces_of(1, at), at)),
                            drop_out(asm$rules$money$table, wallet)))
    emit(asm, "JMP", if (has_table(asm$rules)) fine else out)
  }
  if (is.null(wallet$again)) ruin() else {
    broke <- new_label(asm)
    bought <- money_read(wallet$bought, at)
    jump_if(asm, money_test("<", bought, wallet$again, at), broke, when = FALSE)
    write_statements(asm, list(change_money("+", wallet$bought, pieces_of(1, at), at),
                               change_money("+", wallet$variable, wallet$start, at),
                               change_money("+", wallet$brought, wallet$start, at)))
    emit(asm, "JMP", fine)
    put_label(asm, broke)
    ruin()
  }
  put_label(asm, fine)
}

# To the end of the sitting where a seat is ruined, or too few are left at the table.
write_end_of_ruined <- function(asm, out) {
  if (has_table(asm$rules)) return(jump_if(asm, too_few_left(asm), out, when = TRUE))
  for (wallet in asm$rules$money$wallets) emit(asm, "JNZ", slot_of(asm, wallet$ruined)$register, out)
}

start_goal <- function(asm) {
  span <- if (is.null(asm$rules$sitting)) asm$rules$match else asm$rules$sitting
  if (length(asm$rules$money$wallets) > 0 && !is.null(span$until)) asm$goal <- fresh_count(asm)
}

# Bets that still stand come back, then the evening is told: measures by name, `told` saying how.
write_evening <- function(asm) {
  money <- asm$rules$money
  for (bet in money$bets) if (!is.null(bet$standing))
    write_statements(asm, into_wallet(money, bet$seat, money_read(bet$standing, bet$at), bet$at))
  goal <- if (!is.null(asm$goal)) list(goal = c(asm$goal, list(told = "share")))
  c(goal, unlist(lapply(unname(money$wallets), evening_of, asm = asm), recursive = FALSE))
}

evening_of <- function(asm, wallet) {
  at <- wallet$at
  told <- function(what, node, kind = "money") {
    register <- new_register(asm, FALSE)
    write_into(asm, node, register)
    register$told <- kind
    stats::setNames(list(register), sprintf("%s[%s]", what, wallet$name))
  }
  left <- money_read(wallet$variable, at)
  brought <- money_read(wallet$brought, at)
  c(told("ruined", money_read(wallet$ruined, at), "share"), told("losing", money_test("<", left, brought, at), "share"),
    told("final wallet", left), if (!is.null(wallet$again) || isTRUE(wallet$buys)) told("brought", brought),
    if (!is.null(wallet$lowest)) told("lowest wallet", money_read(wallet$lowest, at)),
    if (!is.null(wallet$drawdown)) told("drawdown", money_read(wallet$drawdown, at)))
}

# A sitting for a goal that the wallets meet before it begins.
refuse_met_goals <- function(asm) {
  money <- asm$rules$money
  goal <- asm$rules$sitting$until$condition
  ids <- vapply(money$wallets, function(wallet) wallet$variable$id, 0L)
  if (is.null(goal) || !any(ids %in% variables_in(goal, "var"))) return(invisible())
  at_start <- function(node) {
    if (node$op == "var" && node$var$id %in% ids) return(money$wallets[[match(node$var$id, ids)]]$start)
    node$args <- lapply(node$args, at_start)
    if (!is.null(node$x)) node$x <- at_start(node$x)
    node
  }
  start <- at_start(goal)
  if (length(variables_in(start, c("var", "at_key"))) > 0) return(invisible())
  if (isTRUE(constant_of(start, asm$settings, asm$rules$source) != 0))
    program_diagnostic(asm, "goal_met", goal$at, "The goal is met before the first round.",
                       "set a goal above what the wallet holds at the start")
}

refuse_short_wallets <- function(asm) {
  for (wallet in asm$rules$money$wallets) {
    if (!wallet$needs$const) next
    of <- function(node) constant_of(node, asm$settings, asm$rules$source)
    if (of(wallet$start) < of(wallet$needs))
      program_diagnostic(asm, "wallet_short", wallet$at, "The wallet does not pay for one round at the start.",
                         "put more in it, or lower the bets")
  }
}
