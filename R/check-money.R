# Money: what it is counted in, and where it lies. Every amount is a whole number of pieces, and is held as one; rules
# say and read tokens. Bets, pots and wallets change by words that move money, never by `add` or `<-`.

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

is_bet_family <- function(d) !is.null(d$each)

which_bet_wanted <- function(context, d, at) {
  report(context, "index_wrong", at, sprintf("`%s` is one bet for each of several.", d$name),
         sprintf("say which, as in %s", d$each[[1]]))
}

# A value by a key that may only be known in the round: nothing for one that has none.
value_by <- function(key, keys, values, at) {
  type <- values[[1]]$type
  chosen <- literal(0, type, at)
  for (k in rev(seq_along(keys))) {
    same <- calculation("==", t_yesno, at, list(key, literal(keys[[k]], key$type, at)))
    chosen <- if (same$const) (if (key$value == keys[[k]]) values[[k]] else chosen)
      else typed("choose", type, at, cond = same, yes = values[[k]], no = chosen)
  }
  chosen
}

wallet_ids <- function(money) vapply(unname(money$wallets), function(w) w$variable$id, 0L)
