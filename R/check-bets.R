# Bets: declared by seat, filled by `stake`, settled by `settle`.

# bets(guest, ante = 1, side = bet(0, least = 1, most = 5))
check_bets <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  for_all <- is_everyone(args$who)
  seat <- if (args$who$kind == "name") match(args$who$name, context$seats) else NA
  if (is.na(seat) && !for_all)
    return(report(context, "unknown_seat", args$who$at, "A bet belongs to a seat, or there is one for everyone.",
                  or_spelling(if (args$who$kind == "name") did_you_mean(args$who$name, context$seats),
                              "name the seat, as in bets(guest, line = 1)")))
  if (length(args$dots) == 0)
    report(context, "argument_missing", node$at, "`bets` needs at least one bet.", vocabulary_word("bets")$example)
  for (i in seq_along(args$dots)) {
    name <- args$dot_names[[i]]
    if (!nzchar(name)) {
      report(context, "name_wanted", args$dots[[i]]$at, "A bet needs a name, and what lies on it at the start.",
             "write bets(guest, line = 1)")
      next
    }
    part <- args$dots[[i]]
    if (for_all) declare_bets_each(context, NULL, name, part, args$dot_at[[i]])
    else if (is_call(part, "each")) declare_bets_each(context, seat, name, part, args$dot_at[[i]])
    else if (declare(context, name, args$dot_at[[i]], "bet", seat = seat))
      declare_one_bet(context, seat, name, part, args$dot_at[[i]])
  }
}

declare_one_bet <- function(context, seat, name, node, at) {
  scope <- new_scope("a bet")
  parts <- list(start = node)
  if (is_call(node, "bet")) parts <- match_arguments(context, node)
  if (is.null(parts)) parts <- list()
  amounts <- lapply(parts[intersect(c("start", "least", "most", "step"), names(parts))], function(part)
    pieces_value(context, scope, part, sprintf("The stake on `%s`", name)))
  ends <- lapply(amounts[c("least", "most")], `[[`, "value")
  if (is.numeric(ends$least) && is.numeric(ends$most) && ends$least > ends$most)
    report(context, "bet_limits", node$at, sprintf("The least stake on `%s` is above the most.", name),
           "write the smaller number as `least`")
  start <- if (is.null(amounts$start)) no_money(at) else amounts$start
  variable <- money_variable(context, name, start, "round", at, shown = TRUE)
  declared <- function(what, type = t_whole)
    money_variable(context, paste(what, name), literal(0, type, at), "round", at, type)
  bet <- list(name = name, seat = seat, variable = variable, opening = start, least = amounts$least,
              most = amounts$most, step = amounts$step,
              put = declared("put on"), back = declared("back of"), won = declared("come of"),
              first = declared("first on"), rounding = declared("kept by rounding of", t_fraction), at = at,
              staked = FALSE)
  context$money$bets[[name]] <- bet
}

bet_value <- function(context, d, at) {
  if (!is_bet_family(d)) return(in_tokens(context$money$piece, money_read(context$money$bets[[d$name]]$variable, at)))
  which_bet_wanted(context, d, at)
  broken(at)
}

# stake(guest, 1, on = ante)
statement_stake <- function(context, scope, node) {
  empty <- in_order(list(), node$at)
  args <- match_arguments(context, node)
  if (is.null(args) || !may_write(context, scope, node$at, "A bet")) return(empty)
  target <- bet_target(context, scope, args$on, c("bet", "pot"))
  who <- value_of(context, scope, args$who, seat_type(context), "Who stakes")
  amount <- pieces_value(context, scope, args$amount, "A stake")
  if (is_unknown(who$type) || is_unknown(amount$type)) return(empty)
  target <- target_with_key(context, target, args$on, who)
  if (is.null(target)) return(empty)
  d <- target$d
  if (d$kind == "bet" && !is.null(d$seat) && !identical(as.numeric(who$value), as.numeric(d$seat))) {
    report(context, "bet_owner", args$who$at,
           sprintf("`%s` is a bet of %s.", d$name,
                   context$seats[[d$seat]]), "name that seat, or stake on a bet of its own")
    return(empty)
  }
  if (d$kind == "bet") for (name in target$bets) context$money$bets[[name]]$staked <- TRUE
  places <- context$money[[paste0(d$kind, "s")]][target$bets]
  first <- if (!is.null(args$first)) yes_or_no(context, args$first, "`first`")
  typed("stake", t_nothing, node$at, first = first, on = target, onto = d$kind, who = who, amount = amount,
        site = new.env(parent = emptyenv()),
        writes = c(vapply(unname(places), function(place) place$variable$id, 0L), wallet_ids(context$money)))
}

# limits(spot): what may still be staked on a bet, in whole tokens; as far as the wallet goes.
value_limits <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  target <- target_with_key(context, bet_target(context, scope, args$bet, "bet"), args$bet)
  if (is.null(target)) return(broken(node$at))
  d <- target$d
  bet <- context$money$bets[[target$bets[[1]]]]
  lies <- by_key(target, function(name) money_read(context$money$bets[[name]]$variable, node$at), node$at)
  wallet <- context$money$wallets[[as.character(bet$seat)]]
  if (is.null(bet$most) && is.null(wallet)) {
    report(context, "limits_open", node$at, sprintf("Nothing limits what is staked on `%s`.", d$name),
           sprintf("declare it with a limit: bets(%s, %s = bet(0, most = 5))", context$seats[[bet$seat]], d$name))
    return(broken(node$at))
  }
  range <- typed("range", t_range, node$at, low = least_stake(context, bet, lies, node$at),
                 high = most_stake(context, bet, lies, wallet, node$at))
  if (is.null(bet$step)) range else in_steps(context, range, bet, lies, node$at)
}

# Those of the range with which the bet holds a whole number of steps, or nothing.
in_steps <- function(context, range, bet, lies, at) {
  it <- new_variable(context, "it", t_whole, at, "bound")
  amount <- as_pieces(context, typed("var", t_whole, at, var = it))
  after <- calculation("+", t_whole, at, list(lies, amount))
  zero <- literal(0, t_whole, at)
  fits <- calculation("==", t_yesno, at, list(calculation("%%", t_whole, at, list(after, bet$step)), zero))
  nothing <- calculation("==", t_yesno, at, list(amount, zero))
  typed("collection_filter", t_collection("list", t_whole), at, over = range, it = it,
        body = calculation("||", t_yesno, at, list(nothing, fits)))
}

least_stake <- function(context, bet, lies, at) {
  if (is.null(bet$least)) return(no_money(at))
  open <- calculation("max", t_whole, at, list(no_money(at), calculation("-", t_whole, at, list(bet$least, lies))))
  tokens_up(context$money$piece, open)
}

most_stake <- function(context, bet, lies, wallet, at) {
  ends <- list(if (!is.null(bet$most)) calculation("-", t_whole, at, list(bet$most, lies)),
               if (!is.null(wallet)) money_read(wallet$variable, at))
  ends <- Filter(Negate(is.null), ends)
  most <- if (length(ends) == 1) ends[[1]] else calculation("min", t_whole, at, ends)
  piece <- context$money$piece
  calculation("%/%", t_whole, at, list(times(most, piece$num), literal(piece$den, t_whole, at)))
}

# Whole tokens, at least as much as these pieces.
tokens_up <- function(piece, v) {
  if (piece$den == 1) return(times(v, piece$num))
  up <- calculation("+", t_whole, v$at, list(v, literal(piece$den - 1, t_whole, v$at)))
  calculation("%/%", t_whole, v$at, list(up, literal(piece$den, t_whole, v$at)))
}

# gained(guest): what its bets and pots have brought so far in the round, less what was put in.
value_gained <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  seat <- value_of(context, scope, args$seat, seat_type(context), "Who gained")
  if (is_unknown(seat$type)) return(seat)
  seats <- seats_with_money(context$money)
  if (length(seats) == 0) {
    report(context, "bet_unknown", node$at, "Nobody has a bet in this game.",
           "declare one, as in bets(guest, line = 1)")
    return(broken(node$at))
  }
  sums <- lapply(seats, function(s) net_of_seat(context$money, s, node$at))
  value_by(seat, seats, lapply(sums, in_tokens, piece = context$money$piece), node$at)
}

seats_with_money <- function(money) {
  sort(unique(c(vapply(money$bets, `[[`, 0L, "seat"), unlist(lapply(money$pots, function(p) p$seats)))))
}

bets_of_seat <- function(money, seat) Filter(function(b) b$seat == seat, money$bets)

sum_of <- function(parts, at) {
  if (length(parts) == 0) no_money(at) else Reduce(function(a, b) calculation("+", t_whole, at, list(a, b)), parts)
}

# In pieces: what a seat has put in so far, and what it has got back.
put_of_seat <- function(money, seat, at) {
  sum_of(c(lapply(bets_of_seat(money, seat), function(b) money_read(b$put, at)),
           lapply(pots_of_seat(money, seat), function(p) money_read(p$put[[as.character(seat)]], at))), at)
}

back_of_seat <- function(money, seat, at) {
  sum_of(c(lapply(bets_of_seat(money, seat), function(b) money_read(b$back, at)),
           lapply(pots_of_seat(money, seat), function(p) money_read(p$back[[as.character(seat)]], at))), at)
}

net_of_seat <- function(money, seat, at)
  calculation("-", t_whole, at, list(back_of_seat(money, seat, at), put_of_seat(money, seat, at)))

pots_of_seat <- function(money, seat) Filter(function(p) seat %in% p$seats, money$pots)

# One bet for each key: bets(guest, spot = each(fields, 0)) has one on every field, bets(everyone, ante = 1) one for
# every seat. Each is a bet of its own, called spot[reef] or ante[ann].

most_bets_each <- 100L

declare_bets_each <- function(context, seat, name, node, at) {
  axis <- NULL
  inner <- node
  if (is.null(seat)) axis <- seat_axis(context)
  else {
    args <- match_arguments(context, node)
    if (length(args$dots) == 2) {
      axis <- axis_of(context, args$dots[[1]])
      inner <- args$dots[[2]]
    } else report(context, "argument_missing", node$at,
                  "`each` needs the set or range of bets, and the amount on each.",
                  "write bets(guest, spot = each(fields, 0))")
  }
  if (is.null(axis)) return(declare(context, name, at, "unread"))
  if (length(axis$keys) > most_bets_each) {
    report(context, "each_large", node$at, sprintf("This is more than %d bets.", most_bets_each),
           "bet on one field at a time, by a decision")
    return(declare(context, name, at, "unread"))
  }
  names <- sprintf("%s[%s]", name, key_names(context, axis))
  if (!declare(context, name, at, "bet", seat = seat, axis = axis, each = names)) return(invisible())
  for (k in seq_along(names))
    declare_one_bet(context, if (is.null(seat)) axis$keys[[k]] else seat, names[[k]], inner, at)
}

key_names <- function(context, axis) {
  if (is_kind(axis$type, "label")) context$labels[axis$keys] else format(axis$keys, trim = TRUE)
}

# What `on`, `from` and `limits` name: list(d, bets, key), `key` being NULL of a bet of its own; NULL after reporting.
bet_target <- function(context, scope, node, kinds) {
  base <- if (is_call(node, "[")) node$args[[1]] else node
  d <- money_place(context, base, kinds)
  if (is.null(d)) return(NULL)
  if (!is_call(node, "[")) return(list(d = d, bets = d$name))
  if (!is_bet_family(d) || length(node$args) != 2) {
    report(context, "index_wrong", node$at, sprintf("`%s` is one bet.", d$name), "leave the brackets out")
    return(NULL)
  }
  key <- value_of(context, scope, node$args[[2]], d$axis$type, "Which bet it is")
  if (is_unknown(key$type)) return(NULL)
  list(d = d, bets = d$each, key = key)
}

# Of a family somebody must say which; of one by seats it is that of who stakes.
target_with_key <- function(context, target, node, who = NULL) {
  if (is.null(target) || !is_bet_family(target$d) || !is.null(target$key)) return(target)
  if (is.null(target$d$seat) && !is.null(who)) return(list(d = target$d, bets = target$d$each, key = who))
  which_bet_wanted(context, target$d, node$at)
  NULL
}

# A value by bet, for the key that may only be known in the round.
by_key <- function(target, of, at) {
  if (is.null(target$key)) of(target$bets) else value_by(target$key, target$d$axis$keys, lapply(target$bets, of), at)
}

# spot[field]: what lies on the bet of that key.
bet_of_key <- function(context, scope, node) {
  target <- bet_target(context, scope, node, "bet")
  if (is.null(target)) return(broken(node$at))
  in_tokens(context$money$piece, by_key(target, function(name) money_read(context$money$bets[[name]]$variable, node$at),
                                        node$at))
}

names_bet_family <- function(context, node) {
  base <- node$args[[1]]
  base$kind == "name" && is_bet_family(context$names[[base$name]])
}

# A line of settle for each bet of a family, `it` being its key.
settle_lines <- function(context, scope, node, in_play) {
  base <- if (length(node$args) > 0) node$args[[1]]
  d <- if (identical(base$kind, "name")) context$names[[base$name]]
  if (!is_bet_family(d)) return(list(settle_line(context, scope, node, in_play)))
  outer <- scope$it
  lines <- list()
  for (k in seq_along(d$each)) {
    scope$it <- list(node = literal(d$axis$keys[[k]], d$axis$type, node$at), name = "it", where = "alias")
    before <- length(context$diagnostics)
    line <- settle_line(context, scope, node, in_play)
    if (!is.null(line)) line$bet <- d$each[[k]]
    lines <- c(lines, list(line))
    if (length(context$diagnostics) > before) break  # the others would be reported in the same words
  }
  scope$it <- outer
  lines
}
