# Wallets: what a seat has, over the rounds of a sitting; and what its last round came to.

# wallet(guest, 20, needs = 1, again = 2), wallet(everyone, 30)
check_wallet <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  for_all <- is_everyone(args$seat)
  seats <- if (for_all) table_seats(context)
    else seat_named(context, args$seat, "A wallet belongs to a seat, or there is one for everyone.")
  if (anyNA(seats)) return(invisible())
  if (!"sitting" %in% context$spans)
    return(report(context, "wallet_alone", node$at, "A wallet lasts a sitting, and this game declares none.",
                  "declare how long one sits: sitting(rounds = 30)"))
  if (for_all) declare_table(context, node, args)
  else if (!is.null(args$at_least))
    report(context, "argument_unknown", args$at_least$at, "`at_least` is about all who sit at the table.",
           "write wallet(everyone, 30, at_least = 2), or leave it out")
  for (seat in seats) declare_wallet(context, node, args, seat)
}

declare_wallet <- function(context, node, args, seat) {
  if (!is.null(context$money$wallets[[as.character(seat)]]))
    return(report(context, "declared_twice", node$at, sprintf("`%s` has two wallets.", context$seats[[seat]]),
                  "join the two"))
  scope <- new_scope("a wallet")
  start <- if (is.null(args$start)) missing_argument(context, node, "start")
    else pieces_value(context, scope, args$start, "The start of a wallet")
  again <- if (!is.null(args$again)) value_of(context, scope, args$again, t_whole, "How often one buys in again")
  for (v in Filter(Negate(is.null), list(start, again))) if (!v$const && !is_unknown(v$type))
    report(context, "not_constant", v$at, "A wallet starts with a number or a setting.",
           "write a number, or a setting's name")
  needs <- if (!is.null(args$needs)) pieces_value(context, scope, args$needs, "The argument `at_least` of `wallet`")
  name <- context$seats[[seat]]
  declared <- function(what, start = no_money(node$at), shown = FALSE)
    money_variable(context, paste(what, name), start, "sitting", node$at, shown = shown)
  wallet <- list(seat = seat, name = name, variable = declared("wallet of", start, shown = TRUE), start = start,
                 again = again, needs = needs,
                 brought = declared("brought by", start), bought = declared("bought in again by"),
                 ruined = declared("ruined"),
                 lowest = declared("lowest wallet of", start), highest = declared("highest wallet of", start),
                 drawdown = declared("drawdown of"), at = node$at)
  context$money$wallets[[as.character(seat)]] <- wallet
}

# buy(guest, 20): more is brought.
statement_buy <- function(context, scope, node) {
  empty <- in_order(list(), node$at)
  args <- match_arguments(context, node)
  if (is.null(args) || !may_write(context, scope, node$at, "A wallet")) return(empty)
  seat <- seat_named(context, args$seat, "Who buys in is a seat with a wallet.")
  amount <- pieces_value(context, scope, args$amount, "The amount of a buy-in")
  wallet <- context$money$wallets[[as.character(seat)]]
  if (is.na(seat) || is_unknown(amount$type)) return(empty)
  if (is.null(wallet)) {
    report(context, "wallet_none", node$at, sprintf("`%s` has no wallet in this game.", context$seats[[seat]]),
           "declare it, as in wallet(guest, 20)")
    return(empty)
  }
  context$money$wallets[[as.character(seat)]]$buys <- TRUE
  typed("buy", t_nothing, node$at, seat = seat, amount = amount, writes = wallet$variable$id)
}

missing_argument <- function(context, node, name) {
  report(context, "argument_missing", node$at, sprintf("`%s` needs %s.", node$fn, some_of_names(name)),
         sprintf("write it like this: %s", vocabulary_word(node$fn)$example))
  no_money(node$at)
}

# The number of the seat that a bare name names, or NA after reporting.
seat_named <- function(context, node, message) {
  seat <- if (node$kind == "name") match(node$name, context$seats) else NA_integer_
  if (is.na(seat))
    report(context, "unknown_seat", node$at, message,
           or_spelling(if (node$kind == "name") did_you_mean(node$name, context$seats), "name a seat of this game"))
  seat
}

# wallet(guest), in play and in rules: how many tokens are left in it.
value_wallet <- function(context, scope, node, want) {
  about_seat_with_money(context, scope, node, context$money$wallets, "a wallet", "wallet(guest, 20)", function(wallet)
    in_tokens(context$money$piece, money_read(wallet$variable, node$at)))
}

# A word about the money of a seat; `of` gives the value of one that is a known seat.
about_seat_with_money <- function(context, scope, node, owners, what, example, of) {
  if (length(node$args) != 1) {
    report(context, "argument_missing", node$at, sprintf("`%s` takes a seat.", node$fn),
           sprintf("write %s(me)", node$fn))
    return(broken(node$at))
  }
  seat <- value_of(context, scope, node$args[[1]], seat_type(context), "Whose it is")
  if (is_unknown(seat$type)) return(seat)
  if (length(owners) == 0) {
    report(context, "wallet_none", node$at, sprintf("Nobody has %s in this game.", what),
           sprintf("declare it, as in %s", example))
    return(broken(node$at))
  }
  value_by(seat, as.integer(names(owners)), lapply(unname(owners), of), node$at)
}

# last_stake(guest), last_net(guest), streak(guest): of the round before, kept only where they are read.
last_round_value <- function(field, what, in_pieces) function(context, scope, node, want) {
  seats <- seats_with_money(context$money)
  if (!"sitting" %in% context$spans) {
    report(context, "wallet_alone", node$at, sprintf("`%s` looks back over the rounds of a sitting.", node$fn),
           "declare how long one sits: sitting(rounds = 30)")
    return(broken(node$at))
  }
  owners <- stats::setNames(as.list(seats), seats)
  about_seat_with_money(context, scope, node, owners, "a bet", "bets(guest, line = 1)", function(seat) {
    variable <- last_round_variable(context, field, what, seat, node$at)
    if (in_pieces) in_tokens(context$money$piece, money_read(variable, node$at)) else money_read(variable, node$at)
  })
}

last_round_variable <- function(context, field, what, seat, at) {
  key <- as.character(seat)
  known <- context$money[[field]][[key]]
  if (is.null(known)) known <- money_variable(context, paste(what, context$seats[[seat]]), no_money(at), "sitting", at)
  context$money[[field]][[key]] <- known
  known
}

value_last_stake <- last_round_value("last_stake", "last stake of", TRUE)
value_last_net <- last_round_value("last_net", "last result of", TRUE)
value_streak <- last_round_value("streak", "streak of", FALSE)

# The most that a round may cost a seat, in pieces; NULL where nothing limits it.
most_cost <- function(money, seat, at) {
  costs <- lapply(bets_of_seat(money, seat), function(b) if (!b$staked) b$opening else b$most)
  if (any(vapply(costs, is.null, NA)) || length(pots_of_seat(money, seat)) > 0) NULL else sum_of(costs, at)
}

check_wallets <- function(context) {
  for (key in names(context$money$wallets)) {
    wallet <- context$money$wallets[[key]]
    if (is.null(wallet$needs)) wallet$needs <- most_cost(context$money, wallet$seat, wallet$at)
    if (is.null(wallet$needs))
      report(context, "wallet_needs", wallet$at, "Nothing limits what a round costs, so nobody can tell who is ruined.",
             "say what a round needs: wallet(guest, 20, needs = 1), or limit the bets")
    context$money$wallets[[key]] <- wallet
  }
}
