# Money: what it is counted in, and where it lies. Every amount is a whole number of pieces, and is held as one; rules
# say and read tokens. Bets, pots and wallets change by words that move money, never by `add` or `<-`.

whole_tokens <- list(num = 1, den = 1)  # a piece is num / den tokens

new_money <- function() list(piece = whole_tokens, bets = list(), pots = list(), wallets = list(), settles = list())

# tokens(piece = 0.5)
check_tokens <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  piece <- if (args$piece$kind == "number") args$piece$value else NA
  is_whole <- function(x) !is.na(x) && x >= 1 && abs(x - round(x)) < 1e-9 && x <= 1e6
  if (is_whole(piece)) context$money$piece <- list(num = round(piece), den = 1)
  else if (!is.na(piece) && piece > 0 && is_whole(1 / piece)) context$money$piece <- list(num = 1,
                                                                                          den = round(1 / piece))
  else report(context, "piece_wrong", args$piece$at, "A piece is a whole number of tokens, or a whole part of one.",
              "write 1, 5, 0.5, 0.1 or the like")
}

# A number of tokens as a number of pieces, to be held.
pieces_value <- function(context, scope, node, what) {
  v <- number_value(context, scope, node, what)
  piece <- context$money$piece
  if (is_unknown(v$type)) return(v)
  known <- literal_number(v)
  if (!is.null(known)) {
    pieces <- known * piece$den / piece$num
    if (known < 0)
      report(context, "stake_negative", node$at, sprintf("%s is below zero.", what), "money is moved one way only")
    else if (abs(pieces - round(pieces)) > 1e-9)
      report(context, "amount_piece", node$at,
             sprintf("%s is no whole number of pieces of %s.", what, plain_number(piece$num / piece$den)),
             "change it, or the size of a piece: tokens(piece = ...)")
    return(literal(abs(round(pieces)), t_whole, v$at))
  }
  as_pieces(context, v)
}

# A number as it is written, with its sign; NULL of anything else.
literal_number <- function(v) {
  if (v$op == "lit") v$value
  else if (v$op == "calc" && v$fn == "neg" && v$args[[1]]$op == "lit") -v$args[[1]]$value
}

# The same of a value that is only known in the round.
as_pieces <- function(context, v) {
  piece <- context$money$piece
  if (piece$num == 1 && is_kind(v$type, "whole")) return(times(v, piece$den))
  exact <- calculation("/", t_fraction, v$at,
                       list(convert(times(v, piece$den), t_fraction), literal(piece$num, t_fraction, v$at)))
  amount <- new_variable(context, "amount", t_fraction, v$at, "local", key = paste("amount", v$at[[1]], v$at[[2]]))
  read <- typed("var", t_fraction, v$at, var = amount)
  half <- literal(0.5, t_fraction, v$at)
  nearest <- calculation("round_down", t_whole, v$at, list(calculation("+", t_fraction, v$at, list(read, half))))
  off <- calculation("abs", t_fraction, v$at,
                     list(calculation("-", t_fraction, v$at, list(read, convert(nearest, t_fraction)))))
  fits <- calculation("<", t_yesno, v$at, list(off, literal(1e-6, t_fraction, v$at)))
  typed("let", t_whole, v$at, bindings = list(list(var = amount, value = exact)),
        body = typed("choose", t_whole, v$at, cond = fits, yes = nearest,
                     no = typed("fail", t_whole, v$at, id = "amount_piece"), quiet = TRUE))
}

# A number of pieces as rules read it, in tokens.
in_tokens <- function(piece, v) {
  if (piece$den == 1) return(times(v, piece$num))
  calculation("/", t_fraction, v$at, list(convert(v, t_fraction), literal(piece$den, t_fraction, v$at)))
}

times <- function(v, n) {
  if (n == 1) v else calculation("*", v$type, v$at, list(v, literal(n, v$type, v$at)))
}

# The bet or pot that a word moves money to or from, by its name.
money_place <- function(context, node, kinds) {
  d <- if (node$kind == "name") context$names[[node$name]]
  if (!is.null(d) && d$kind %in% c(kinds, "unread")) return(if (d$kind != "unread") d)
  known <- names(Filter(function(d) d$kind %in% kinds, context$names))
  said <- if (node$kind == "name") sprintf("`%s`", node$name) else "This"
  report(context, "bet_unknown", node$at,
         sprintf("%s is not %s.", said, paste(lapply(kinds, kind_in_words), collapse = " or ")),
         or_spelling(if (node$kind == "name") did_you_mean(node$name, known),
                     if ("bet" %in% kinds) "declare it, as in bets(guest, line = 1)"
                     else "declare it, as in glow <- pot(20)"))
  NULL
}

# Something that is counted in pieces and lasts: a bet, a pot, a wallet, which are `shown`; or what is added up.
money_variable <- function(context, name, start, lasts, at, type = t_whole, shown = FALSE) {
  scale <- context$money$piece
  variable <- new_variable(context, name, c(type, list(scale = scale)), at, "state", key = paste("money", name))
  context$state[[name]] <- list(name = name, variable = variable, start = start, lasts = lasts, at = at,
                                scratch = !shown,
                                money = TRUE, hidden = !shown)
  variable
}

money_read <- function(variable, at) typed("var", t_whole, at, var = variable)
no_money <- function(at) literal(0, t_whole, at)

# Declared before play is read.
check_money <- function(context, declared) {
  context$money$seats <- context$seats
  if (length(declared[["tokens"]]) > 0 && one_only(context, declared[["tokens"]], "tokens"))
    check_tokens(context, declared[["tokens"]][[1]])
  for (n in declared[["bets"]]) check_bets(context, n)
  for (n in declared[["pot"]]) check_pot(context, n$name, n$value)
  for (n in declared[["wallet"]]) check_wallet(context, n)
}

# Once play and the settlement are known: what does not fit together, what was put in first, what each seat gains.
check_moved_money <- function(context) {
  check_settlement(context)
  check_wallets(context)
  context$money$bets <- first_stakes(context$money$bets, context$play)
  for (seat in seats_with_money(context$money)) context$pays <- c(context$pays, list(pay_of_money(context, seat)))
}

# The net result of a seat's bets and pots, as one more line of its pay.
pay_of_money <- function(context, seat) {
  at <- if (length(context$money$bets) > 0) context$money$bets[[1]]$at else context$money$pots[[1]]$at
  list(who = list(how = "seat", seat = seat), it = new_variable(context, "it", seat_type(context), at, "bound"),
       by_outcome = list(), otherwise = NULL, at = at,
       of_bets = TRUE, always = in_tokens(context$money$piece, net_of_seat(context$money, seat, at)))
}

draw_ops <- c("draw", "deal", "collection_roll", "chance", "successes", "deal_to", "burn", "shuffle")

# Marks each stake of play that comes before any draw, and the bets on which something is put later.
first_stakes <- function(bets, play) {
  drawn <- FALSE
  walk(play, function(n) {
    if (n$op %in% draw_ops) drawn <<- TRUE
    if (n$op != "stake" || n$onto != "bet") return(invisible())
    n$site$first <- if (is.null(n$first)) !drawn else n$first
    for (name in n$on$bets) {
      if (!n$site$first) bets[[name]]$adds_later <<- TRUE
      else bets[[name]]$adds_first <<- TRUE
    }
  })
  lapply(bets, function(bet) {
    nothing_first <- bet$opening$op == "lit" && bet$opening$value == 0 && is.null(bet$adds_first)
    if (isTRUE(bet$adds_later) && !nothing_first) bet$keeps_first <- TRUE
    bet
  })
}
