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
