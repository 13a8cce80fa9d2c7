# Random small games with money, each as the text of its rules and as a plain R function that plays one round from given
# throws. All throws are gone through, so every number of such a game is known without the package: no parser, no
# program, no engine is shared. Conditions and amounts are R expressions in both.

one_of <- function(x) x[[sample.int(length(x), 1)]]
maybe <- function(p) stats::runif(1) < p

# A number or a condition over the names that have a value.
random_number <- function(names) {
  a <- one_of(names)
  switch(sample.int(5, 1), a, sprintf("%s + %s", a, one_of(names)), sprintf("2 * %s - %s", a, one_of(names)),
         sprintf("max(%s, %s)", a, one_of(names)), sprintf("(%s - %s) %%%% 3", a, one_of(names)))
}
random_condition <- function(names) {
  one <- function() sprintf("%s %s %d", random_number(names), one_of(c(">", "<", "==", ">=", "!=")), sample(0:5, 1))
  switch(sample.int(4, 1), one(), sprintf("%s && %s", one(), one()), sprintf("%s || %s", one(), one()),
         sprintf("!(%s)", one()))
}

# One line of a settlement: list(text, back): what comes back of an amount in pieces, before it is rounded down.
random_odds <- function() {
  n <- sample(1:7, 1)
  m <- sample(1:4, 1)
  switch(sample.int(4, 1),
         list(text = sprintf("%d %%to%% %d", n, m), back = function(amount) amount + amount * n / m),
         list(text = sprintf("%d %%for%% %d", n, m), back = function(amount) amount * n / m),
         list(text = "push", back = function(amount) amount),
         list(text = "lost", back = function(amount) 0))
}

random_settle <- function(bet, names) {
  lines <- lapply(seq_len(sample(1:3, 1)), function(k) c(list(when = random_condition(names)), random_odds()))
  last <- random_odds()
  text <- sprintf("settle(%s, %s, otherwise = %s)", bet,
                  paste(vapply(lines, function(l) sprintf("if (%s) %s", l$when, l$text), ""), collapse = ", "),
                  last$text)
  list(text = text, back = function(amount, values) {
    for (l in lines) if (eval(str2lang(l$when), values)) return(l$back(amount))
    last$back(amount)
  })
}

# list(text, throws: a data frame of all throws with their chances, play: function(throw) what came of it, in tokens).
random_game <- function(seed) {
  set.seed(seed)
  piece <- one_of(c(1, 0.5, 0.1, 0.05))
  faces <- sample(2:5, sample(2:3, 1), replace = TRUE)
  dice <- paste0("d", seq_along(faces))
  thrown <- paste0("t", seq_along(faces))
  late <- length(faces)  # the last die is thrown after the decision
  before <- c("x", thrown[-late])
  whole <- function(amount) amount * round(1 / piece)  # tokens in pieces
  line <- sample(1:3, 1)
  side_most <- sample(1:3, 1)
  side_amount <- sample(seq_len(side_most), 1)
  behind_when <- if (maybe(0.6)) random_condition(before)
  slips <- maybe(0.3)
  go_when <- random_condition(before)
  with_pot <- maybe(0.6)
  fed <- piece * sample(seq_len(max(1, round(0.5 / piece))), 1)
  pot_seed <- sample(0:6, 1)
  share_when <- random_condition(c("x", thrown))
  settles <- list(line = random_settle("line", c("x", thrown)), side = random_settle("side", c("x", thrown)),
                  behind = if (!is.null(behind_when)) random_settle("behind", c("x", thrown)))
  ends <- vapply(1:2, function(k) random_condition(c("x", thrown)), "")
  recorded <- c(r1 = random_number(c("x", thrown)), r2 = random_number(c("x", thrown)))
  first <- random_number(thrown[1])
  text <- c(
    sprintf("title(\"Random %d\", \"A game that nobody made.\")", seed), sprintf("tokens(piece = %s)", format(piece)),
    "seats(guest)", sprintf("%s <- die(1:%d)", dice, faces),
    if (with_pot) sprintf("kitty <- pot(%d)", pot_seed),
    sprintf("state(x = 0, %s)", paste(thrown, "= 0", collapse = ", ")),
    sprintf("bets(guest, line = %d, side = bet(0, most = %d)%s)", line, side_most,
            if (is.null(behind_when)) "" else ", behind = bet(0, most = 2)"),
    "play({", sprintf("  %s <- roll(%s)", thrown[-late], dice[-late]), sprintf("  x <- %s", first),
    "  ask(guest, go = one_of(on, off))", sprintf("  if (go == on) stake(guest, %d, on = side)", side_amount),
    if (with_pot) sprintf("  move(%s, from = line, to = kitty)", format(fed)),
    if (!is.null(behind_when)) sprintf("  if (%s) stake(guest, 2, on = behind)", behind_when),
    sprintf("  %s <- roll(%s)", thrown[late], dice[late]),
    if (with_pot) sprintf("  if (%s) share(kitty, among = guest)", share_when), "})",
    vapply(Filter(Negate(is.null), settles), `[[`, "", "text"),
    sprintf("outcomes(one = %s, two = %s, three = otherwise)", ends[[1]], ends[[2]]),
    sprintf("record(%s)", paste(names(recorded), "=", recorded, collapse = ", ")),
    sprintf("usual <- player(go = %s)", if (slips) "if (chance(0.25)) on else off"
            else sprintf("if (%s) on else off", go_when)))
  throws <- do.call(expand.grid, c(stats::setNames(lapply(faces, seq_len), thrown), if (slips) list(luck = 1:4)))
  throws$chance <- 1 / nrow(throws)
  play <- function(throw) {
    v <- c(list(x = 0), as.list(throw[thrown]))
    v$x <- eval(str2lang(first), v)
    on <- if (slips) throw$luck == 1 else eval(str2lang(go_when), v)
    staked <- c(line = whole(line), side = if (on) whole(side_amount) else 0,
                behind = if (!is.null(behind_when) && eval(str2lang(behind_when), v)) whole(2) else 0)
    put <- staked
    to_pot <- if (with_pot) whole(fed) else 0
    staked[["line"]] <- staked[["line"]] - to_pot
    shared <- if (with_pot && eval(str2lang(share_when), v)) whole(pot_seed) + to_pot else 0
    bets <- names(Filter(Negate(is.null), settles))
    owed <- vapply(bets, function(b) if (staked[[b]] == 0) 0 else settles[[b]]$back(staked[[b]], v), 0)
    back <- floor(owed + 1e-9)
    list(outcome = if (eval(str2lang(ends[[1]]), v)) "one" else if (eval(str2lang(ends[[2]]), v)) "two" else "three",
         put = put[bets] * piece, back = back * piece, kept = (owed - back) * piece,
         first = whole(line) * piece, fed = to_pot * piece,
         paid = shared * piece, emptied = shared > 0 || (with_pot && eval(str2lang(share_when), v)),
         records = vapply(recorded, function(r) as.numeric(eval(str2lang(r), v)), 0))
  }
  list(text = text, throws = throws, play = play, bets = names(Filter(Negate(is.null), settles)), with_pot = with_pot)
}

# All numbers of a random game, by going through its throws.
numbers_of <- function(g) {
  rounds <- lapply(seq_len(nrow(g$throws)), function(k) g$play(g$throws[k, , drop = FALSE]))
  w <- g$throws$chance
  of <- function(f) vapply(rounds, f, 0)
  mean_of <- function(x) sum(w * x)
  sd_of <- function(x) sqrt(sum(w * (x - mean_of(x))^2))
  put <- of(function(r) sum(r$put))
  back <- of(function(r) sum(r$back) + r$paid)
  net <- back - put
  bets <- lapply(stats::setNames(nm = g$bets), function(b) {
    p <- of(function(r) r$put[[b]])
    n <- of(function(r) r$back[[b]]) - p
    on <- p > 0
    decided <- on & n != 0
    c(put_in = mean_of(p), staked = sum(w[on]), hit = sum(w[on & n + p > 0]) / sum(w[on]),
      gain = sum(w[on & n > 0]) / sum(w[on]), mean = mean_of(n), sd = sd_of(n),
      return = mean_of(n + p) / mean_of(p), edge = -mean_of(n) / mean_of(p),
      decided_edge = -sum(w * n) / sum((w * p)[decided]),
      volatility = 1.645 * sd_of(n + p - mean_of(n + p) / mean_of(p) * p) / mean_of(p))
  })
  list(outcomes = vapply(c(one = "one", two = "two", three = "three"),
                         function(o) sum(w[vapply(rounds, function(r) r$outcome == o, NA)]), 0),
       pay = c(mean = mean_of(net), sd = sd_of(net), stake = mean_of(of(function(r) r$first)), put_in = mean_of(put),
               return = mean_of(back) / mean_of(put), edge = -mean_of(net) / mean_of(of(function(r) r$first)),
               edge_per_token = -mean_of(net) / mean_of(put)),
       gain = sum(w[net > 0]), hit = sum(w[back > 0]),
       bets = bets, pot = c(fed = mean_of(of(function(r) r$fed)), paid = mean_of(of(function(r) r$paid)),
                            emptied = mean_of(of(function(r) r$emptied))),
       records = lapply(c(r1 = "r1", r2 = "r2"), function(name) {
         x <- of(function(r) r$records[[name]])
         c(mean = mean_of(x), sd = sd_of(x), least = min(x), most = max(x))
       }))
}

# A random sitting with a wallet: list(text, numbers). A round is a bet of what the player lays down, won or lost by one
# throw; the wallet is followed round by round.
random_sitting <- function(seed) {
  set.seed(seed)
  faces <- sample(2:6, 1)
  repeat {
    wins <- random_condition("t")
    won <- vapply(seq_len(faces), function(t) eval(str2lang(wins), list(t = t)), NA)
    if (any(won) && !all(won)) break
  }
  pays <- sample(1:2, 1)
  brought <- sample(2:6, 1)
  rounds <- sample(3:7, 1)
  goal <- brought + sample(1:4, 1)
  most <- sample(1:3, 1)
  bold <- sample(1:3, 1)  # what is laid down more than one token, as far as the wallet goes
  raises_when <- random_condition("w")
  laid <- function(wallet) min(most, wallet, if (eval(str2lang(raises_when), list(w = wallet))) 1 + bold else 1)
  text <- c(
    sprintf("title(\"Sitting %d\", \"A sitting that nobody made.\")", seed), "tokens(piece = 1)", "seats(guest)",
    sprintf("d <- die(1:%d)", faces), "state(t = 0)", sprintf("wallet(guest, %d, needs = 1)", brought),
    sprintf("bets(guest, line = bet(0, least = 1, most = %d))", most),
    "play({", "  w <- wallet(guest)", "  ask(guest, amount = one_of(limits(line)))",
    "  stake(guest, amount, on = line)", "  t <- roll(d)", "})",
    sprintf("settle(line, if (%s) %d %%to%% 1, otherwise = lost)", wins, pays),
    "outcomes(ahead = gained(guest) > 0, behind = otherwise)",
    sprintf("sitting(rounds = %d, until = wallet(guest) >= %d)", rounds, goal),
    sprintf("usual <- player(amount = min(%d, w, if (%s) %d else 1))", most, raises_when, 1 + bold))
  list(text = text, numbers = sitting_numbers(won, pays, brought, rounds, goal, laid))
}

sitting_numbers <- function(won, pays, brought, rounds, goal, laid) {
  p <- mean(won)
  open <- list(list(wallet = brought, chance = 1))
  ended <- list()
  put <- back <- played <- 0
  for (round in seq_len(rounds)) {
    after <- list()
    for (s in open) {
      stake <- laid(s$wallet)
      played <- played + s$chance
      put <- put + s$chance * stake
      back <- back + s$chance * p * stake * (1 + pays)
      after <- c(after, list(list(wallet = s$wallet + pays * stake, chance = s$chance * p)),
                 list(list(wallet = s$wallet - stake, chance = s$chance * (1 - p))))
    }
    over <- vapply(after, function(s) s$wallet >= goal || s$wallet < 1 || round == rounds, NA)
    ended <- c(ended, lapply(after[over], c, round = round))
    open <- after[!over]
  }
  of <- function(f) sum(vapply(ended, function(s) s$chance * f(s), 0))
  mean_final <- of(function(s) s$wallet)
  c(ruin = of(function(s) s$wallet < 1), goal = of(function(s) s$wallet >= goal), losing = of(function(s)
    s$wallet < brought), final = mean_final, final_sd = sqrt(max(0, of(function(s) s$wallet^2) - mean_final^2)),
    rounds = of(function(s) s$round), return = back / put, edge = (put - back) / put, gain = p,
    ahead = p, put_in = put / played)
}
