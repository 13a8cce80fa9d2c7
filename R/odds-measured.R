# The values of the measures asked for, from the counts of a run.

# A data frame: name, value; sampled also standard_error, lower, upper.
measured_table <- function(measures, counted, sampled) {
  rows <- lapply(seq_along(measures), function(k) {
    row <- measured_row(measures[[k]], k, counted, sampled)
    c(list(name = measures[[k]]$text, value = row$value),
      if (sampled) list(standard_error = or_missing(row$standard_error), lower = or_missing(row$lower),
                        upper = or_missing(row$upper)))
  })
  table_of_rows(rows)
}

or_missing <- function(x) if (is.null(x)) NA_real_ else x

# `counted` has the odds so far, and the ledgers; `added` are the records that measures added, by name.
measured_row <- function(measure, k, counted, sampled) {
  if (!is.null(measure$expression)) return(measured_record(measure, counted$added[[record_of_measure(k)]], sampled))
  if (!is.null(measure$unit)) return(measured_unit(measure, counted, sampled))
  if (measure$word %in% c("ruin", "losing", "goal")) return(measured_share(measure, counted))
  if (measure$word == "mean_pay") return(measured_pay(measure, counted))
  measured_money(measure, counted, sampled)
}

# Of a record: list(counts, record, moments, n, error_of).
measured_record <- function(measure, counted, sampled) {
  if (is_named_value(counted$record))
    abort_input("measure_wrong", sprintf("`%s` is a name, not a number.", measure$expression),
                "ask for the share of one, as in probability(kind == pair)")
  if (measure$word == "probability" && counted$record$type != "yesno") stop_on_no_condition(measure$expression)
  distribution_measure(measure, counted$counts, counted$moments, sampled, counted$n)
}

# Mean, standard deviation, quantile, ends of a distribution; `n` is how many independent values it rests on.
distribution_measure <- function(measure, counts, moments, sampled, n) {
  of_mean <- moments[c("standard_error", "lower", "upper")]
  switch(measure$word,
    probability = , mean = c(list(value = moments$mean), of_mean),
    sd = c(list(value = moments$sd), if (sampled) sd_interval(counts, moments$sd, n)),
    quantile = quantile_interval(counts, measure$numbers$p, sampled, n),
    lowest = list(value = min(counts$value)),
    highest = list(value = max(counts$value)))
}

# Of a standard deviation, on the logarithmic scale, from the spread of the squared differences.
sd_interval <- function(counts, sd, n) {
  if (!isTRUE(sd > 0)) return(NULL)
  weight <- counts$weight / sum(counts$weight)
  squares <- (counts$value - sum(counts$value * weight))^2
  error <- sqrt(sum(weight * (squares - sd^2)^2) / n) / (2 * sd^2)
  list(standard_error = sd * error, lower = sd * exp(-confidence_z * error), upper = sd * exp(confidence_z * error))
}

# The least value that a share p is at or below; its interval has the values whose share's interval holds p.
quantile_interval <- function(counts, p, sampled, n) {
  order <- order(counts$value)
  value <- counts$value[order]
  share <- pmin(1, cumsum(counts$weight[order]) / sum(counts$weight))
  first <- function(share) value[[min(which(share >= p - 1e-12), length(value))]]
  if (!sampled) return(list(value = first(share)))
  interval <- wilson_interval(share * n, n)
  list(value = first(share), lower = first(interval$upper), upper = first(interval$lower))
}

measured_unit <- function(measure, counted, sampled) {
  counts <- counted$unit[[measure$unit]]
  if (is.null(counts))
    abort_input("measure_wrong", sprintf("`%s` is not kept of this game%s.", measure$text,
                                         if (sampled) "" else " in an exact count"),
                if (sampled) "give the seat a wallet, as in wallet(guest, 20)" else "sample it (--engine sample)")
  if (!is.null(measure$value)) counts <- collect_counts(1 * (counts$value == measure$value), counts$weight)
  ends <- if (is.null(measure$value)) no_ends else c(0, 1)
  distribution_measure(measure, counts, moments(counts, sampled, ends = ends), sampled, sum(counts$weight))
}

# The name of the measured quantity of a whole match or sitting; NULL for measures over rounds.
unit_column <- function(measure) {
  switch(measure$word, ruin = sprintf("ruined[%s]", measure$about$name),
         losing = sprintf("losing[%s]", measure$about$name), goal = "goal", measure$unit)
}

measured_share <- function(measure, counted) {
  name <- unit_column(measure)
  row <- counted$shares[match(name, counted$shares$name), ]
  if (is.null(counted$shares) || is.na(row$probability))
    abort_input("measure_wrong", sprintf("`%s` is not told of this game.", measure$text),
                "give the rules a wallet, and a sitting with `until`")
  list(value = row$probability, standard_error = row$standard_error, lower = row$lower, upper = row$upper)
}

measured_pay <- function(measure, counted) {
  row <- counted$pays[match(measure$about$name, counted$pays$seat), ]
  if (is.na(row$mean))
    abort_input("measure_wrong", sprintf("`%s` is paid nothing.", measure$about$name),
                "declare what it is paid, as in pays(...)")
  list(value = row$mean, standard_error = row$standard_error, lower = row$lower, upper = row$upper)
}

# Of a seat or a bet: from its ledger.
measured_money <- function(measure, amounts, sampled) {
  ledger <- amounts$ledgers$of(measure$about)
  if (is.null(ledger))
    abort_input("measure_wrong", sprintf("`%s` puts nothing in.", measure$about$name),
                "declare it, as in stakes(guest, 1) or bets(guest, line = 1)")
  ratio <- ratio_of_word(measure$word)
  if (!is.null(ratio)) return(measured_ratio(ratio, ledger, sampled))
  if (measure$word %in% c("losing_run", "longest_losing_run") && amounts$span != "round")
    abort_input("rounds_linked", sprintf("The rounds of a %s depend on each other: one of them does not give `%s`.",
                                         amounts$span, measure$text),
                "record the length of a run in the rules, in a state that lasts the sitting")
  of_rounds <- function(top, counted) share_of_rounds(ledger, top, counted, sampled)
  switch(measure$word,
    put_in = mean_of_ledger(ledger, sampled),
    decided_edge = list(value = money_row(ledger, FALSE)$decided_edge),
    hit = of_rounds(function(d) d$put + d$net > 0, function(d) d$put > 0),
    gain = of_rounds(function(d) d$net > 0, function(d) d$put > 0),
    prize_share = share_of_back(ledger, measure$numbers$least, sampled),
    volatility = list(value = money_row(ledger, FALSE)$volatility),
    breakage = list(value = amounts$ledgers$breakage(measure$about)),
    losing_run = list(value = chance_of_losing_run(ledger, measure$numbers$rounds, measure$numbers$length)),
    longest_losing_run = list(value = mean_losing_run(ledger, measure$numbers$rounds)))
}

measured_ratio <- function(ratio, ledger, sampled) {
  if (!is.null(ledger$pay)) return(scaled_pay(ledger, ratio_top(ratio)))
  other <- ledger[[ratio$ledger]]
  ledger_ratio(if (is.null(other)) ledger else other, ratio_top(ratio), sampled)
}

# With a constant stake the pay is enough; `top` is a net result or what comes back.
scaled_pay <- function(ledger, top) {
  pay <- ledger$pay
  of <- function(mean) top(list(put = pay$stake, net = mean)) / pay$stake
  if (is.null(pay$lower)) return(list(value = of(pay$mean)))
  ends <- range(of(pay$lower), of(pay$upper))
  list(value = of(pay$mean), standard_error = pay$standard_error / pay$stake, lower = ends[[1]], upper = ends[[2]])
}

# The source of measures of money: a ledger of the rules, else the pays of a seat with a constant stake.
money_ledgers <- function(ledgers, pays, pay_counts) {
  list(of = function(about) {
    ledger <- ledger_named(ledgers, about$kind, about$name)
    if (!is.null(ledger)) {
      if (about$kind == "seat")
        ledger[c("first", "aside")] <- lapply(c("first", "aside"), ledger_named, ledgers = ledgers, name = about$name)
      return(ledger)
    }
    k <- match(about$name, pays$seat)
    if (about$kind == "bet" || is.na(k) || is.na(pays$stake[[k]])) return(NULL)
    counts <- pay_counts[[k]]
    list(rounds = list(put = rep(pays$stake[[k]], length(counts$value)), net = counts$value, weight = counts$weight),
         pay = as.list(pays[k, ]))
  },
  breakage = function(about) {
    rounding <- ledger_named(ledgers, "rounding", about$name)
    if (is.null(rounding)) 0 else weighted(rounding$rounds$value, rounding$rounds$weight)
  })
}

mean_of_ledger <- function(ledger, sampled) {
  d <- ledger$rounds
  means <- moments(collect_counts(d$put, d$weight), sampled)
  c(list(value = means$mean), if (is.null(ledger$units)) means[intersect(names(means),
                                                                         c("standard_error", "lower", "upper"))])
}

# A share of the rounds that count; of rounds that are units of their own with Wilson's interval.
share_of_rounds <- function(ledger, holds, counts, sampled) {
  d <- ledger$rounds
  counted <- counts(d)
  n <- sum(d$weight[counted])
  k <- sum(d$weight[counted & holds(d)])
  if (n == 0) return(list(value = NA_real_))
  if (!sampled || !is.null(ledger$units)) return(list(value = k / n))
  c(list(value = k / n, standard_error = sqrt(k / n * (1 - k / n) / n)), wilson_interval(k, n))
}

# The part of the return that comes from rounds which bring so much or more.
share_of_back <- function(ledger, least, sampled) {
  back <- ledger$rounds$put + ledger$rounds$net
  ratio <- ratio_of(back * (back >= least), back, ledger$rounds$weight, sampled)
  if (is.null(ledger$units)) ratio else ratio["value"]
}

# Rounds without gain or loss neither end nor lengthen a run.
chance_of_losing_run <- function(ledger, rounds, length) {
  chances <- loss_and_win(ledger)
  at <- c(1, numeric(length))  # how long the run is by now; the last place keeps what has come to the length
  for (k in seq_len(rounds)) {
    going <- at[seq_len(length)]
    stays <- going * (1 - sum(chances))
    lost <- going * chances[["loss"]]
    at[[length + 1]] <- at[[length + 1]] + lost[[length]]
    at[seq_len(length)] <- stays + c(sum(going) * chances[["win"]], lost[-length])
  }
  at[[length + 1]]
}

loss_and_win <- function(ledger) {
  d <- ledger$rounds
  all <- sum(d$weight)
  c(loss = sum(d$weight[d$net < 0]) / all, win = sum(d$weight[d$net > 0]) / all)
}

mean_losing_run <- function(ledger, rounds) {
  total <- 0
  for (length in seq_len(rounds)) {
    chance <- chance_of_losing_run(ledger, rounds, length)
    total <- total + chance
    if (chance < 1e-9) break
  }
  total
}
