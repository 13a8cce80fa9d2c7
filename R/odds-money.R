# The results of bets, seats and pots. Ledgers hold stakes and net result of each round.

# Taken apart: list(put, net, weight), in tokens.
ledger_pairs <- function(counts, piece) {
  if (any(abs(counts$value) >= 2^53)) stop_on_much_money(piece)
  put <- round(counts$value / ledger_base)
  in_tokens <- piece$num / piece$den
  list(put = put * in_tokens, net = (counts$value - put * ledger_base) * in_tokens, weight = counts$weight)
}

# The stake and the net result of a unit are kept as one number, exact up to 2^53.
stop_on_much_money <- function(piece) {
  most <- 2^53 / ledger_base * piece$num / piece$den
  abort_input("money_too_large",
              sprintf("More than %s tokens are put in, or a billion pieces won, in one round, match or sitting.",
                      whole_text(floor(most))),
              "count in larger pieces, as in tokens(piece = 1), or play fewer rounds")
}

# Sums over units must be those over rounds: a sum too large to be taken apart shows in them.
check_sums <- function(rounds, units, piece) {
  total <- function(d) sum(d$net * d$weight) + sum(d$put * d$weight)
  if (abs(total(rounds) - total(units)) > 1e-6 * max(1, abs(total(rounds)))) stop_on_much_money(piece)
}

# Of each outcome and net result: what was put in. list(outcome, put, net, weight), by the ledger kept for a par table.
par_counts <- function(entry, program) {
  places <- length(program$outcomes) + 1
  outcome <- entry$counts$value %% places
  pairs <- ledger_pairs(list(value = (entry$counts$value - outcome) / places, weight = entry$counts$weight),
                        program$piece)
  c(list(outcome = program$outcomes[outcome]), pairs)
}

ledger_numbers <- function(counts, piece) {
  list(value = counts$value * piece$num / piece$den, weight = counts$weight)
}

# The ledgers of a run by kind and name: list(kind, name, seat, rounds, units), that of a par table as it is counted;
# `units` are the sums over units, where
# a unit has several rounds and the run kept them.
ledgers_of <- function(program, counts, first) {
  sums <- stats::setNames(counts$unit_quantities, program$measures)
  lapply(seq_along(program$ledgers), function(k) {
    entry <- program$ledgers[[k]]
    read <- if (entry$pair) ledger_pairs else ledger_numbers
    unit <- sums[[sprintf("ledger %d", k)]]
    piece <- if (entry$kind == "cases") whole_tokens else program$piece
    if (entry$kind == "par") return(c(entry, list(counts = counts$quantities[[first + k]])))
    ledger <- list(return_range = program$return_range[[k]],
                   rounds = read(counts$quantities[[first + k]], piece), units = if (!is.null(unit)) read(unit, piece))
    if (entry$pair && !is.null(unit)) check_sums(ledger$rounds, ledger$units, piece)
    c(entry, ledger)
  })
}

ledger_named <- function(ledgers, kind, name) {
  for (entry in ledgers) if (entry$kind == kind && entry$name == name) return(entry)
}

# A return or an edge, over rounds or, where those of a unit depend on each other, over units.
ledger_ratio <- function(ledger, top, sampled) {
  d <- if (is.null(ledger$units)) ledger$rounds else ledger$units
  ratio_of(top(d), d$put, d$weight, sampled, range(top(list(put = 1, net = ledger$return_range - 1))))
}

# One row a bet: see odds().
bet_table <- function(ledgers, sampled) {
  bets <- Filter(function(entry) entry$kind == "bet", ledgers)
  if (length(bets) == 0) return(NULL)
  table_of_rows(lapply(bets, function(entry) {
    row <- c(list(bet = entry$name, seat = entry$seat), money_row(entry, sampled))
    rounding <- ledger_named(ledgers, "rounding", entry$name)
    row$breakage <- if (is.null(rounding)) 0 else weighted(rounding$rounds$value, rounding$rounds$weight)
    row
  }))
}

# Rounding noise is zero.
tidy <- function(x) ifelse(abs(x) < 1e-13, 0, x)

weighted <- function(value, weight) sum(value * weight) / sum(weight)

# Of a bet or a seat: stake and net result in tokens a round; the return with its interval.
money_row <- function(ledger, sampled) {
  d <- ledger$rounds
  staked <- d$put > 0
  of_staked <- function(holds) if (any(staked & d$weight > 0)) sum(d$weight[staked & holds]) / sum(d$weight[staked])
    else NA_real_
  mean <- weighted(d$net, d$weight)
  back <- ledger_ratio(ledger, function(x) x$put + x$net, sampled)
  decided <- d$net != 0
  off <- d$net + (1 - back$value) * d$put
  put <- weighted(d$put, d$weight)
  row <- list(put_in = put, staked = sum(d$weight[staked]) / sum(d$weight), hit = of_staked(d$put + d$net > 0),
              gain = of_staked(d$net > 0), mean = mean, sd = sqrt(max(0, weighted(d$net^2, d$weight) - mean^2)),
              return = back$value)
  if (sampled) row <- c(row, list(return_lower = back$lower, return_upper = back$upper))
  c(row, list(edge = tidy(1 - back$value),
              decided_edge = tidy(-sum(d$net * d$weight) / sum((d$put * d$weight)[decided])),
              volatility = 1.645 * sqrt(max(0, weighted(off^2, d$weight) - weighted(off, d$weight)^2)) / put))
}

# The pay of a seat, counted twice: by the amounts themselves and by its ledger.
stop_on_lost_money <- function(seat) abort_input(
  "engines_disagree", sprintf("The pay of `%s` and its ledger differ. This is a bug in basanos.", seat),
  "please report it, with the rules file")

# Beside what is paid: first stakes, all that is put in, return and edge of each seat that is paid.
with_money <- function(pays, ledgers, sampled) {
  if (nrow(pays) == 0) return(pays)
  pays$put_in <- pays$stake
  pays$stake_varies <- rep(FALSE, nrow(pays))
  pays$edge_per_token <- pays$edge
  if (sampled) {
    pays$return_lower <- 1 + pays$lower / pays$stake
    pays$return_upper <- 1 + pays$upper / pays$stake
    pays$edge_lower <- 1 - pays$return_upper
    pays$edge_upper <- 1 - pays$return_lower
  }
  for (k in seq_len(nrow(pays))) {
    ledger <- ledger_named(ledgers, "seat", pays$seat[[k]])
    if (is.null(ledger)) next
    row <- money_row(ledger, sampled)
    if (abs(row$mean - pays$mean[[k]]) > 1e-9 * max(1, abs(row$mean))) stop_on_lost_money(pays$seat[[k]])
    first <- ledger_named(ledgers, "first", pays$seat[[k]])
    if (is.null(first)) first <- ledger
    pays$stake[[k]] <- weighted(first$rounds$put, first$rounds$weight)
    pays$stake_varies[[k]] <- length(unique(first$rounds$put[first$rounds$weight > 0])) > 1
    pays$put_in[[k]] <- row$put_in
    pays$return[[k]] <- row$return
    pays$edge_per_token[[k]] <- row$edge
    if (sampled) pays[k, c("lower", "upper")] <- pay_interval(ledger, pays$mean[[k]], pays[k, c("lower", "upper")])
    edge <- ledger_ratio(first, function(x) -x$net, sampled)
    row$edge_lower <- edge$lower
    row$edge_upper <- edge$upper
    pays$edge[[k]] <- tidy(edge$value)
    for (column in intersect(c("return_lower", "return_upper", "edge_lower", "edge_upper"), names(row)))
      pays[[column]][[k]] <- row[[column]]
  }
  pays
}

# The interval of a mean pay, with what the most that was put in may still bring.
pay_interval <- function(ledger, mean, interval) {
  ends <- (ledger$return_range - 1) * max(ledger$rounds$put)
  if (!all(is.finite(ends))) return(interval)
  d <- if (is.null(ledger$units)) ledger$rounds else ledger$units
  with_unseen(as.list(interval), mean, range(ledger$rounds$net), ends, sum(d$weight))
}

# One row a pot: what is fed to it and paid out of it in tokens a round, how often it is emptied. Of one that lasts
# always also the long run, in which all that is fed is paid at some time, and the seed at each emptying: the level when
# it is paid, the return of all that is put in, and the level from which playing pays.
pot_table <- function(ledgers, program) {
  if (length(program$pots) == 0) return(NULL)
  in_tokens <- program$piece$num / program$piece$den
  mean_of <- function(kind, name) {
    x <- ledger_named(ledgers, kind, name)$rounds
    weighted(x$value, x$weight)
  }
  all <- Filter(function(entry) entry$kind == "seat", ledgers)
  sum_of_seats <- function(of) sum(vapply(all, function(entry) weighted(of(entry$rounds), entry$rounds$weight), 0))
  put <- sum_of_seats(function(d) d$put)
  back <- sum_of_seats(function(d) d$put + d$net)
  always <- vapply(program$pots, function(pot) pot$lasts == "always", NA)
  base <- back - sum(vapply(program$pots[always], function(pot) mean_of("paid", pot$name), 0))
  rows <- lapply(program$pots, function(pot) {
    fed <- mean_of("fed", pot$name)
    emptied <- mean_of("emptied", pot$name) / in_tokens
    in_parts <- !is.null(ledger_named(ledgers, "parts", pot$name))
    share <- if (in_parts) mean_of("parts", pot$name) / in_tokens else emptied
    seed <- pot$seed * in_tokens
    long <- pot$lasts == "always" && share > 0
    added <- fed + emptied * seed
    list(pot = pot$name, fed = fed, paid = mean_of("paid", pot$name), emptied = emptied, share = share, seed = seed,
         level_when_paid = if (long) added / share else NA_real_,
         worth_from = if (long && sum(always) == 1) (put - base) / share else NA_real_, long_run = long, added = added)
  })
  table <- table_of_rows(rows)
  returns <- (base + sum(table$added[table$long_run])) / put
  table$long_run_return <- ifelse(table$long_run, returns, NA_real_)
  table[setdiff(names(table), c("long_run", "added"))]
}

# The net result of several seats together, by their ledger; NULL where none is kept.
results_together <- function(ledgers) {
  ledger <- ledger_named(ledgers, "together", "")
  if (!is.null(ledger))
    list(rounds = shares_of(ledger$rounds), units = if (!is.null(ledger$units)) shares_of(ledger$units))
}

shares_of <- function(d) list(put = d$put, net = d$net, probability = d$weight / sum(d$weight))

# What a round brings by seat that puts something in: list(rounds, units, evening), each list(put, net, probability),
# with pots that last set aside where the game was asked so.
# `units` are whole matches or sittings, where a sample has kept them; `evening` those of a seat with a wallet, by what
# is left in it, with what was put in on average.
money_results <- function(pays, pay_counts, ledgers, unit_counts, rounds_in_unit) {
  staked <- which(!is.na(pays$stake))
  stats::setNames(lapply(staked, function(k) {
    ledger <- ledger_named(ledgers, "seat", pays$seat[[k]])
    counts <- pay_counts[[k]]
    aside <- ledger_named(ledgers, "aside", pays$seat[[k]])
    if (!is.null(aside))
      return(list(rounds = shares_of(aside$rounds), units = if (!is.null(aside$units)) shares_of(aside$units)))
    rounds <- if (!is.null(ledger)) ledger$rounds
      else list(put = rep(pays$stake[[k]], length(counts$value)), net = counts$value, weight = counts$weight)
    final <- unit_counts[[sprintf("final wallet[%s]", pays$seat[[k]])]]
    brought <- unit_counts[[sprintf("brought[%s]", pays$seat[[k]])]]
    list(rounds = shares_of(rounds), units = if (!is.null(ledger$units)) shares_of(ledger$units),
         evening = if (!is.null(final) && is.null(brought))
           list(put = rep(pays$put_in[[k]] * rounds_in_unit, length(final$value)),
                net = final$value - weighted(final$value, final$weight) + pays$mean[[k]] * rounds_in_unit,
                probability = final$weight / sum(final$weight)))
  }), pays$seat[staked])
}

# A pot that lasts is not the stall's: what is fed to it goes to a visitor at some time. So it counts as paid when it is
# fed, and of a pot that is won only the new seed costs the stall. Rounds are independent then, whatever the pot holds.

# The question with a ledger of its seat in which pots that last are set aside, where it has such pots.
with_pots_set_aside <- function(question, seat) {
  game <- question$game
  lasting <- lasting_pots(game)
  if (length(lasting) == 0) return(question)
  others <- other_bettors(game, seat)
  if (length(others) > 0)
    abort_input("pot_shared", sprintf("`%s` and `%s` may both feed `%s`: what one of them leaves is not told.",
                                      seat, others[[1]], lasting[[1]]),
                "look at the pots in the odds, or give the pot lasts = sitting")
  question$ledgers$aside <- TRUE
  question
}

other_bettors <- function(game, seat) setdiff(game$seats[unique(vapply(game$money$bets, `[[`, 0L, "seat"))], seat)

# The edge on a seat, as a measure: where a pot lasts, the one over many rounds.
kept_measure <- function(game, seat) {
  long <- length(lasting_pots(game)) > 0 && length(other_bettors(game, seat)) == 0
  sprintf(if (long) "long_run_edge(%s)" else "edge(%s)", seat)
}

lasting_pots <- function(game) names(Filter(function(pot) pot$lasts == "always", game$money$pots))

# The mean level of lasting pots before a round, over time, in tokens by name, whole in pieces. A round adds `fed`
# and, where it empties the pot, the seed; it pays what it pays from the seed, and `share` of all that is there beyond
# the seed: the level at which the two are equal. A pot that is never paid has none.
mean_levels <- function(pots, game) {
  pots <- pots[pots$pot %in% lasting_pots(game) & pots$share > 0, ]
  piece <- game$money$piece$num / game$money$piece$den
  level <- pots$seed + (pots$fed + pots$emptied * pots$seed - pots$paid) / pots$share
  stats::setNames(round(level / piece) * piece, pots$pot)
}
