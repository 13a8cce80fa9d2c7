# Odds as JSON.

#' @export
json_fields.basanos_odds <- function(x) {
  odds <- x
  named <- function(x) if (length(x) == 0) stats::setNames(list(), character()) else as.list(x)
  table <- function(x) if (nrow(x) == 0) list() else x
  records <- lapply(seq_len(nrow(odds$records)),
                    function(k) c(as.list(odds$records[k, ]), distribution_json(odds$distributions[[k]])))
  pays <- lapply(seq_len(nrow(odds$pays)), function(k)
    c(as.list(odds$pays[k, ]), distribution_json(odds$pay_distributions[[k]])))
  list(basanos = as.character(utils::packageVersion("basanos")), game = odds$name,
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
