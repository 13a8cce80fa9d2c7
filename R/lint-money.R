# Findings about money, from running the game: profits that do not come out even, losses beyond what was put in, and
# wallets that do not pay for all that a round offers.

money_findings <- function(game, settings, players, mode) {
  if (!has_money(game) && length(game$stakes) == 0) return(NULL)
  question <- new_question(game, settings, players, mode)
  rounds <- money_rounds(question)
  c(uneven_findings(game), if (!is.null(rounds)) c(beyond_findings(game, rounds), short_findings(question)))
}

# The odds of some rounds, or NULL where one cannot go on (which is found elsewhere).
money_rounds <- function(question) {
  program <- program_of(question)
  effort <- new_effort(rounds = finding_units(question$game, program))
  tryCatch(as_odds(sampled_tally(question, program, effort)), basanos_error = function(e) NULL)
}

most_stakes_named <- 5L

# At which stakes a profit is rounded down, as far as odds and limits are plain numbers.
uneven_findings <- function(game) {
  unlist(lapply(settlements(game), function(line) {
    bet <- game$money$bets[[line$bet]]
    stakes <- settled_amounts(game, bet, possible_stakes(bet, game$money$piece))
    cases <- Filter(function(case) case$brings$how != "stands" && all(vapply(case$brings[c("a", "b")], function(side)
      !is.null(literal_number(side)), NA)), line$cases)
    lapply(cases, function(case) uneven_finding(bet, case$brings, stakes, game$money$piece))
  }), recursive = FALSE) |> Filter(f = Negate(is.null))
}

# In pieces: whole tokens up to the limit, or what lies there at the start.
possible_stakes <- function(bet, piece) {
  most <- if (bet$staked) bet$most else bet$opening
  most <- if (!is.null(most)) literal_number(most)
  least <- max(1, if (!is.null(bet$least)) literal_number(bet$least))
  token <- max(1, piece$den / piece$num)
  if (is.null(most) || most < 1) return(numeric())
  stakes <- if (bet$staked) seq(token, by = token, length.out = most %/% token) else most
  stakes[stakes >= least]
}

# The amount on the bet when it is settled, without what was moved to a pot; NULL if it varies.
settled_amounts <- function(game, bet, stakes) {
  moved <- list()
  walk(game$play, function(n) if (n$op == "feed" && bet$name %in% n$from$bets) moved <<- c(moved, list(n$amount)))
  amounts <- lapply(moved, literal_number)
  if (any(vapply(amounts, is.null, NA))) return(NULL)
  unique(c(if (length(amounts) == 0) stakes, unlist(lapply(amounts, function(amount) stakes - amount))))
}

uneven_finding <- function(bet, brings, stakes, piece) {
  exact <- stakes * literal_number(brings$a) / literal_number(brings$b)
  uneven <- stakes[abs(exact - round(exact)) > 1e-9]
  if (length(uneven) == 0) return(NULL)
  finding("breakage", brings$at,
          sprintf("%s on %s of %s does not come out in whole pieces: the rest stays with the house.",
                  sprintf("%s %s %s", plain_number(literal_number(brings$a)), brings$how,
                          plain_number(literal_number(brings$b))), bet$name,
                  enumerated(plain_number(uneven * piece$num / piece$den), most_stakes_named)))
}

# A seat that loses more than it puts in: then a return says little.
beyond_findings <- function(game, rounds) {
  Filter(Negate(is.null), lapply(names(rounds$results), function(seat) {
    d <- rounds$results[[seat]]$rounds
    short <- d$put + d$net < -1e-9 & d$probability > 0
    if (!any(short)) return(NULL)
    line <- Filter(function(p) p$who$how != "seat" || game$seats[[p$who$seat]] == seat, game$pays)
    finding("loss_beyond_stake", if (length(line) > 0) line[[1]]$at else c(1L, 1L, 1L, 1L),
            sprintf("%s loses up to %s in a round, more than the %s it puts in (%s of rounds).", seat,
                    plain_number(-min(d$net)), plain_number(max(d$put[short])),
                    percent_text(sum(d$probability[short]), 1)))
  }))
}

# The share of rounds that begin with a wallet too small for all that may be staked.
short_findings <- function(question) {
  game <- question$game
  Filter(Negate(is.null), lapply(unname(game$money$wallets), function(wallet) {
    all <- most_cost(game$money, wallet$seat, wallet$at)
    if (is.null(all)) return(NULL)
    share <- share_of_short_rounds(question, wallet, all)
    if (is.null(share) || share < 0.001) return(NULL)
    finding("wallet_cuts", wallet$at,
            sprintf("In %s of rounds the wallet of %s pays for the round, but not for all that may be staked in it.",
                    percent_text(share, 1), wallet$name))
  }))
}

share_of_short_rounds <- function(question, wallet, all) {
  at <- wallet$at
  left <- money_read(wallet$variable, at)
  pays <- calculation(">=", t_yesno, at, list(left, wallet$needs))
  short <- calculation("&&", t_yesno, at, list(pays, calculation("<", t_yesno, at, list(left, all))))
  question$records <- list(short = list(name = "short", node = short, at = at))
  o <- money_rounds(question)
  if (!is.null(o)) o$records$mean
}
