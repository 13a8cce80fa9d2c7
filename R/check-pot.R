# Pots: what several rounds or seats put together, and winners share.

# glow <- pot(20, lasts = always)
check_pot <- function(context, name, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(declare(context, name$name, name$at, "unread"))
  if (!declare(context, name$name, name$at, "pot")) return(invisible())
  seed <- if (is.null(args$seed)) no_money(node$at)
    else pieces_value(context, new_scope("a pot"), args$seed, "The start of a pot")
  if (!seed$const)
    report(context, "not_constant", seed$at, "A pot starts with a number or a setting.",
           "write a number, or a setting's name")
  lasts <- pot_lifetime(context, args$lasts)
  widest <- if ("sitting" %in% context$spans) "sitting" else if ("match" %in% context$spans) "match" else "round"
  kept <- if (lasts == "always") widest else lasts
  declared <- function(what, seat)
    money_variable(context, paste(what, name$name, "by", seat), no_money(node$at), "round", node$at)
  of_seats <- function(what) stats::setNames(lapply(context$seats, declared, what = what), seq_along(context$seats))
  context$money$pots[[name$name]] <- list(
    name = name$name, variable = money_variable(context, name$name, seed, kept, name$at,
                                                shown = TRUE), seed = seed, lasts = lasts,
    seats = seq_along(context$seats), put = of_seats("put into"), back = of_seats("taken from"),
    fed = money_variable(context, paste("fed to", name$name), no_money(node$at), "round", node$at),
    paid = money_variable(context, paste("paid out of", name$name), no_money(node$at), "round", node$at),
    emptied = money_variable(context, paste("times emptied", name$name), no_money(node$at), "round", node$at),
    sharers = money_variable(context, paste("sharers of", name$name), no_money(node$at), "round", node$at),
    each = money_variable(context, paste("a share of", name$name), no_money(node$at), "round", node$at),
    left = money_variable(context, paste("left of", name$name), no_money(node$at), "round", node$at),
    at = node$at)
}

is_pot <- function(context, node) node$kind == "name" && identical(context$names[[node$name]]$kind, "pot")

pot_lifetime <- function(context, node) {
  if (is.null(node)) return("round")
  if (node$kind == "name" && node$name == "always") return("always")
  known <- c("round", "match", "sitting")
  if (node$kind == "name" && node$name %in% known) return(lifetime(context, node))
  report(context, "lifetime_unknown", node$at, sprintf("`lasts` is one of %s.", some_of_names(c(known, "always"))),
         "leave it out for what lasts a round")
  "round"
}

pot_value <- function(context, d, at) in_tokens(context$money$piece,
                                                money_read(context$money$pots[[d$name]]$variable, at))

# move(0.2, from = lamp, to = glow): a part of a bet goes to a pot; from = house: the house adds to it.
feed_pot <- function(context, scope, node, args) {
  empty <- in_order(list(), node$at)
  pot <- money_place(context, args$to, "pot")
  if (is.null(args$from)) {
    report(context, "argument_missing", node$at, "A pot is fed from a bet, or by the house.",
           "write move(1, from = line, to = glow), from = house, or stake(guest, 1, on = glow)")
    return(empty)
  }
  if (is_house(context, args$from)) return(feed_by_house(context, scope, node, args, pot))
  from <- target_with_key(context, bet_target(context, scope, args$from, "bet"), args$from)
  amount <- pieces_value(context, scope, args$x, "The first argument of `move`")
  if (is.null(pot) || is.null(from) || !may_write(context, scope, node$at, "A bet")) return(empty)
  money <- context$money
  typed("feed", t_nothing, node$at, from = from, pot = pot$name, amount = amount,
        writes = c(vapply(unname(money$bets[from$bets]), function(bet) bet$variable$id, 0L),
                   money$pots[[pot$name]]$variable$id))
}

# `house` counts only where the game has no such name itself.
is_house <- function(context, node) identical(node$name, "house") && is.null(context$names[["house"]])

feed_by_house <- function(context, scope, node, args, pot) {
  amount <- pieces_value(context, scope, args$x, "The amount that the house adds")
  if (is.null(pot) || !may_write(context, scope, node$at, "A pot")) return(in_order(list(), node$at))
  typed("feed", t_nothing, node$at, pot = pot$name, amount = amount,
        writes = context$money$pots[[pot$name]]$variable$id)
}

# share(glow, among = guest, part = 1, rest = stays)
statement_share <- function(context, scope, node) {
  empty <- in_order(list(), node$at)
  args <- match_arguments(context, node)
  if (is.null(args) || !may_write(context, scope, node$at, "A pot")) return(empty)
  pot <- money_place(context, args$pot, "pot")
  among <- check_value(context, scope, args$among)
  if (is_kind(among$type, "label")) among <- value_of(context, scope, args$among, seat_type(context), "Who shares")
  else if (!is_unknown(among$type) && !(is_collection(among$type) && fits_type(among$type$of, seat_type(context))))
    among <- wrong_type(context, among, seat_type(context), "Who shares")
  part <- if (!is.null(args$part)) value_of(context, scope, args$part, t_fraction, "The part that is shared")
  if (!is.null(part) && part$op == "to_fraction" && part$x$op == "lit" && part$x$value == 1) part <- NULL
  rest <- share_rest(context, args$rest)
  if (is.null(pot) || is_unknown(among$type)) return(empty)
  if (!is.null(part) && is.null(context$money$pots[[pot$name]]$parts))
    context$money$pots[[pot$name]]$parts <- money_variable(context, paste("parts paid of", pot$name),
                                                           literal(0, t_fraction, node$at), "round", node$at,
                                                           t_fraction)
  typed("share", t_nothing, node$at, pot = pot$name, among = among, part = part, rest = rest,
        writes = c(context$money$pots[[pot$name]]$variable$id, wallet_ids(context$money)))
}

# The place of the rest of a division: "stays", "house", or the number of a seat.
share_rest <- function(context, node) {
  if (is.null(node)) return("stays")
  if (node$kind == "name" && node$name %in% c("stays", "house")) return(node$name)
  seat <- if (node$kind == "name") match(node$name, context$seats) else NA
  if (!is.na(seat)) return(seat)
  report(context, "share_rest", node$at, "`rest` is stays, house, or a seat.",
         "write rest = stays, rest = house, or a seat's name")
  "stays"
}
