# A mix of visitors: who plays how, with what stake and wallet. A visit is what one of them leaves with the stall.

visitor_fields <- c("weight", "players", "stake", "wallet", "goal")

# list(take, probability, put, rounds) of a visit by one of the mix, drawn by weight.
mixed_visits <- function(visitors, question, seats, terms, ...) {
  check_visitors(visitors, terms)
  visits <- lapply(visitors, visit_of, question = question, seats = seats, terms = terms, ...)
  weight <- vapply(visitors, function(v) if (is.null(v$weight)) 1 else v$weight, 0)
  weight <- weight / sum(weight)
  mean_of <- function(field) sum(weight * vapply(visits, `[[`, 0, field))
  list(take = unlist(lapply(visits, `[[`, "take")),
       probability = unlist(Map(function(visit, w) w * visit$probability, visits, weight)),
       put = mean_of("put"), rounds = mean_of("rounds"), unit = "visit",
       engine = if (all(vapply(visits, function(v) v$engine == "exact", NA))) "exact" else "sample")
}

check_visitors <- function(visitors, terms) {
  if (!is.list(visitors) || length(visitors) == 0 || !all(vapply(visitors, is.list, NA)))
    abort_input("takings_wrong", "`visitors` is a list of lists.",
                "write visitors = list(list(weight = 3, players = list(guest = \"careful\"), stake = 2, wallet = 20))")
  for (visitor in visitors) {
    unknown <- setdiff(names(visitor), visitor_fields)
    if (length(unknown) > 0)
      abort_input("takings_wrong", sprintf("A visitor has no `%s`.", unknown[[1]]),
                  or_spelling(did_you_mean(unknown[[1]], visitor_fields),
                              sprintf("a visitor has %s", some_of_names(visitor_fields))))
    if (!is.null(visitor$weight) && !(is.numeric(visitor$weight) && visitor$weight > 0 && visitor$weight <= 1e9))
      abort_input("takings_wrong", "The weight of a visitor is a number above zero, at most a billion.",
                  "write weight = 3")
    if (!is.null(visitor$wallet) && (terms$prize_cost != 1 || !is.null(terms$cap)))
      abort_input("takings_wrong", "A visitor's wallet excludes a cap and a cost of prizes.",
                  "leave out the wallets, or cap and prize_cost")
  }
}

visit_of <- function(visitor, question, seats, terms, ...) {
  stake <- if (is.null(visitor$stake)) 1 else visitor$stake
  if (!is.null(visitor$wallet)) return(visit_with_wallet(visitor, stake, question, seats, terms, ...))
  if (!is.numeric(stake))
    abort_input("takings_wrong", "A stake that changes needs a wallet.", "give the visitor one: wallet = 20")
  o <- odds_from(question, players = as.list(visitor$players), ...)
  once <- visit_results(o, seats, terms$prize_cost)
  of_visitor <- utils::modifyList(terms, list(stake = stake * terms$stake))
  of_visit <- if (o$unit == "round") terms$visit_rounds else 1
  all <- convolved(on_lattice(stall_take(capped(once, of_visitor, o$unit), of_visitor), once$probability), of_visit)
  list(take = all$value, probability = all$probability,
       put = of_visitor$stake * of_visit * sum(once$put * once$probability),
       rounds = if (o$unit == "round") of_visit else o$rounds_in_unit, engine = o$engine)
}

# The wallet is in tokens, as the visitor counts; the rules count in units of `stake` tokens.
visit_with_wallet <- function(visitor, stake, question, seats, terms, ...) {
  if (isTRUE(question$ledgers$aside))
    abort_input("takings_wrong", "With a pot that lasts, what a visitor with a wallet leaves is not told.",
                "leave out the wallet, or give the pot lasts = sitting")
  if (length(seats) > 1)
    abort_input("takings_wrong", sprintf("A wallet is that of one seat, and visitors take %s here.", enumerated(seats)),
                "say which seat they take: seat = (in R), or leave out the wallet")
  in_stakes <- function(tokens, what) {
    if (is.null(tokens)) return(NULL)
    stakes <- round(tokens / terms$stake)
    if (abs(tokens / terms$stake - stakes) < 1e-9) return(stakes)
    abort_input("takings_wrong", sprintf("The %s of %s tokens is no whole number of stakes of %s.", what,
                                         plain_number(tokens), plain_number(terms$stake)),
                sprintf("give a multiple of %s", plain_number(terms$stake)))
  }
  wallet <- in_stakes(visitor$wallet, "wallet")
  b <- bankroll(question$game, wallet, stake, terms$visit_rounds, in_stakes(visitor$goal, "goal"), seat = seats,
                players = as.list(visitor$players), ...)
  final <- b$finals[[1]]
  list(take = terms$stake * (wallet - final$value), probability = final$probability,
       put = terms$stake * b$measures$put_in, rounds = b$measures$rounds,
       engine = if (is.null(b$evenings)) b$engine else "sample")
}
