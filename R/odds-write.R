# Odds as JSON, and as the rows of a data frame.

#' @export
json_fields.basanos_odds <- function(x) {
  odds <- x
  named <- function(x) if (length(x) == 0) stats::setNames(list(), character()) else as.list(x)
  table <- function(x) if (nrow(x) == 0) list() else x
  records <- lapply(seq_len(nrow(odds$records)),
                    function(k) c(as.list(odds$records[k, ]), distribution_json(odds$distributions[[k]])))
  pays <- lapply(seq_len(nrow(odds$pays)), function(k)
    c(as.list(odds$pays[k, ]), distribution_json(odds$pay_distributions[[k]])))
  list(basanos = as.character(utils::packageVersion("basanos")), game = odds$game,
                title = odds$title,
                hash = odds$hash, engine = odds$engine, unit = odds$unit, rounds = odds$rounds, seed = odds$seed,
                states = odds$states, residual = odds$residual, settings = named(odds$settings), modes = odds$modes,
                players = named(odds$players),
                units = unit_json(odds), complete = odds$complete, limit = odds$limit, counted = odds$counted,
                why = odds$why, checked = odds$checked, precision = odds$reached,
                given = odds$given, given_share = odds$given_share, position = odds$position, answers = odds$answers,
                hole = if (!is.null(odds$hole)) odds$hole[c("share", "records", "distributions")],
                beside = if (!is.null(odds$beside)) odds$beside[c("rounds", "seed", "records")],
                crossed_with = odds$crossed_with, crossed = odds$crossed, crossed_money = odds$crossed_money,
                crossed_measures = odds$crossed_measures,
                outcomes = table(odds$outcomes), pays = pays, bets = odds$bets, pots = odds$pots,
                measures = odds$measures, records = records)
}

distribution_json <- function(distribution) {
  parts <- list(quantiles = as.list(quantiles_of(distribution)), distribution = distribution)
  parts[lengths(parts) > 0]
}

# Of a match or sitting: who won it or how it ended, and its rounds.
unit_json <- function(odds) {
  if (is.null(odds$units)) return(NULL)
  Filter(Negate(is.null),
         list(winners = odds$units$winners, endings = odds$units$endings, shares = odds$units$shares,
              measures = odds$units$measures,
              distributions = if (length(odds$units$distributions) > 0) odds$units$distributions,
    rounds = if (!is.null(odds$units$rounds))
      c(as.list(odds$units$rounds), list(distribution = odds$units$distribution))))
}

#' @export
as.data.frame.basanos_odds <- function(x, row.names = NULL, optional = FALSE, distributions = FALSE, ...) {
  refuse_unknown(...names(), character(), "as.data.frame")
  if (distributions) return(distribution_rows(x))
  rows <- bind_result_rows(
    rows_of_table(x, "winner", x$units$winners), rows_of_table(x, "ending", x$units$endings),
    rows_of_table(x, "outcome", x$outcomes), pay_rows(x), bet_rows(x), pot_rows(x),
    rows_of_table(x, "measure", x$measures, value = "value"), rows_of_table(x, "record", x$records, value = "mean"),
    unit_rows(x), crossed_rows(x), answer_rows(x))
  # The same columns for every game, so that odds of several can be bound with `rbind()`.
  rows[setdiff(c("sd", "least", "most"), names(rows))] <- NA_real_
  rows$complete <- x$complete
  rows[c(setdiff(names(rows), odds_columns), odds_columns)]
}

odds_columns <- c("sd", "least", "most", "complete")

# The mean pay of each seat, then what it stakes and what comes back.
pay_rows <- function(x) {
  p <- x$pays
  if (nrow(p) == 0) return(NULL)
  ends <- lapply(x$pay_distributions[p$seat], function(d) if (is.numeric(d$value)) range(d$value) else c(NA, NA))
  at <- function(k) if (length(ends) == nrow(p)) vapply(ends, `[[`, 0, k)
  staked <- p[!is.na(p$stake), ]
  bind_result_rows(
    rows_of_table(x, "pay", p, "seat", "mean", least = at(1), most = at(2)),
    rows_of_columns(x, staked, c("stake", "put_in"), staked$seat),
    money_rows(x, c(return = "return", edge = "edge", edge_per_token = "edge_per_token"), staked, staked$seat))
}

bet_rows <- function(x) {
  b <- x$bets
  if (is.null(b)) return(NULL)
  bind_result_rows(
    rows_of_columns(x, b, c(bet_put_in = "put_in", bet_staked = "staked", bet_hit = "hit", bet_gain = "gain"), b$bet),
    result_rows(x, "bet_pay", b$bet, b$mean, sd = b$sd),
    money_rows(x, c(bet_return = "return", bet_edge = "edge"), b, b$bet),
    rows_of_columns(x, b, c(bet_decided_edge = "decided_edge", bet_volatility = "volatility",
                            bet_breakage = "breakage"), b$bet))
}

# A return with its interval, and the edges that follow from it where they have none of their own.
money_rows <- function(x, columns, table, name, by = NA_character_) {
  bind_result_rows(lapply(which(columns %in% names(table)), function(k) {
    end <- function(side, other) {
      column <- table[[paste(columns[[k]], side, sep = "_")]]
      if (!is.null(column) || columns[[k]] == "edge" && !is.null(table$edge_lower)) return(column)
      if (!is.null(table$return_lower)) 1 - table[[paste("return", other, sep = "_")]]
    }
    result_rows(x, names(columns)[[k]], name, table[[columns[[k]]]], by, lower = end("lower", "upper"),
                upper = end("upper", "lower"))
  }))
}

pot_rows <- function(x) {
  columns <- setdiff(names(x$pots), "pot")
  if (length(columns) == 0) return(NULL)
  rows_of_columns(x, x$pots, stats::setNames(columns, paste0("pot_", columns)), x$pots$pot)
}

# Of a match or sitting: its rounds, shares such as ruin, and values at its end.
unit_rows <- function(x) {
  named <- function(table) {
    if (!is.null(table)) table$name <- gsub(" ", "_", table$name, fixed = TRUE)
    table
  }
  bind_result_rows(rows_of_table(x, "unit_rounds", x$units$rounds, value = "mean"),
                   rows_of_table(x, "unit_share", named(x$units$shares)),
                   rows_of_table(x, "unit_record", named(x$units$measures), value = "mean"))
}

# Within each value of the expressions of `by`: the outcomes, money and measures, and how frequent the value is.
crossed_rows <- function(x) {
  c <- x$crossed
  if (is.null(c)) return(NULL)
  values <- unique(as.character(c$value))
  share <- tapply(c$probability, factor(as.character(c$value), values), sum)
  money <- x$crossed_money
  measured <- x$crossed_measures
  bind_result_rows(
    result_rows(x, "share", "by", share, values),
    result_rows(x, "outcome", c$outcome, c$within, c$value, standard_error = c$within_standard_error),
    if (!is.null(money)) bind_result_rows(lapply(c("seat", "bet"), function(kind) {
      of_kind <- money[money$kind == kind, ]
      prefix <- if (kind == "bet") "bet_" else ""
      columns <- stats::setNames(c("return", "edge_per_token"), paste0(prefix, c("return", "edge_per_token")))
      if (nrow(of_kind) > 0) bind_result_rows(
        result_rows(x, paste0(prefix, "put_in"), of_kind$name, of_kind$put_in, of_kind$value),
        money_rows(x, columns, of_kind, of_kind$name, of_kind$value))
    })),
    if (!is.null(measured)) result_rows(x, "measure", measured$name, measured$measured, measured$value,
                                        lower = measured$lower, upper = measured$upper))
}

# After each answer at the position: outcomes, pays, who wins the match, and where the answer is legal.
answer_rows <- function(x) {
  a <- x$answers
  if (is.null(a)) return(NULL)
  column <- function(name) {
    pay <- "^pay of (.*)$"
    wins <- "^(.*) wins the match$"
    if (name %in% c("answer", "standard error") || startsWith(name, "error of ")) NULL
    else if (name == "legal in") result_rows(x, "legal", "answer", a[[name]], a$answer)
    else if (grepl(pay, name)) result_rows(x, "pay_after", sub(pay, "\\1", name), a[[name]], a$answer,
                                           standard_error = a[[paste("error of", name)]])
    else if (grepl(wins, name)) result_rows(x, "winner_after", sub(wins, "\\1", name), a[[name]], a$answer)
    else result_rows(x, "outcome_after", name, a[[name]], a$answer)
  }
  bind_result_rows(lapply(names(a), column))
}

# The values of records, pays and what is kept of a match or sitting, each with its probability.
distribution_rows <- function(x) {
  rows <- function(kind, distributions) lapply(names(distributions), function(name) {
    d <- distributions[[name]]
    number <- is.numeric(d$value)
    result_rows(x, kind, name, d$probability, d$value, at = if (number) d$value else rep(NA_real_, nrow(d)),
                cumulative = if (number) pmin(1, cumsum(d$probability)) else rep(NA_real_, nrow(d)))
  })
  bind_result_rows(c(rows("record", x$distributions), rows("pay", x$pay_distributions),
                     rows("unit_record", x$units$distributions)))
}
