# Bets, pots and wallets against figures worked out by other means.

money_game <- function(...) {
  path <- tempfile(fileext = ".game")
  writeLines(c(...), path)
  path
}

told_by <- function(...) paste(at_command_line(...)$out, collapse = "\n")

# Dice with a line and odds behind it: what the first throw decides, else a mark before a seven.
line_game <- function(behind, piece) money_game(
  "seats(guest)", "cube <- die(1:6)", "state(mark = 0, last = 0)", sprintf("tokens(piece = %s)", piece),
  "bets(guest, line = 1, behind = 0)",
  "play({", "  repeat {", "    last <- sum(roll(cube, 2))",
  "    if (mark == 0) {", "      if (last %in% c(2, 3, 7, 11, 12)) break", "      mark <- last",
  sprintf("      stake(guest, %d, on = behind)",
          behind), "    } else if (last == mark || last == 7) break", "  }", "})",
  "outcomes(natural = mark == 0 && last %in% c(7, 11), crap = mark == 0, made = last == mark, out = otherwise)",
  "settle(line, natural = 1 %to% 1, made = 1 %to% 1, otherwise = lost)",
  "settle(behind, made = 6 %to% (min(mark, 14 - mark) - 1), otherwise = lost)")

test_that("a line with k behind it at true odds", {
  for (k in 1:3) {
    o <- odds(line_game(k, 0.1), engine = "exact")
    expect_equal(o$pays$put_in, 1 + 2 * k / 3, tolerance = 1e-12)
    expect_equal(o$pays$stake, 1)
    expect_equal(o$pays$edge, 7 / 495, tolerance = 1e-9)
    expect_equal(o$bets$edge[o$bets$bet == "behind"], 0, tolerance = 1e-9)
    expect_equal(o$bets$staked[o$bets$bet == "behind"], 2 / 3, tolerance = 1e-12)
    expect_equal(o$bets$breakage, c(0, 0))
  }
  two <- odds(line_game(2, 0.1), engine = "exact")$pays
  expect_equal(two$edge_per_token, 1 / 165, tolerance = 1e-9)
  marks <- c(3, 4, 5, 5, 4, 3)  # ways to throw each mark, against six of a seven
  made <- marks / (marks + 6)
  chance <- c(8 / 36, 4 / 36, marks / 36 * made, marks / 36 * (1 - made))
  net <- c(1, -1, 1 + 2 * 6 / marks, rep(-3, 6))
  expect_equal(two$sd, sqrt(sum(chance * net^2) - sum(chance * net)^2), tolerance = 1e-10)
})

test_that("what rounding keeps is told: one whole token behind the line", {
  o <- odds(line_game(1, 1), engine = "exact")
  behind <- o$bets[o$bets$bet == "behind", ]
  # a mark of 5 or 9 pays 1 instead of 1.5, of 6 or 8 pays 1 instead of 1.2
  marked <- c(3, 4, 5) / 12
  made <- c(1 / 3, 2 / 5, 5 / 11)
  expect_equal(behind$edge, sum(marked * (1 - made * (1 + c(2, 1, 1)))), tolerance = 1e-9)
  expect_equal(round(behind$edge, 4), 0.1045)
  expect_equal(behind$breakage, 2 / 3 * sum(marked * made * c(0, 0.5, 0.2)), tolerance = 1e-9)
  expect_equal(behind$breakage / behind$put_in, behind$edge, tolerance = 1e-9)
})

test_that("bell cards, hand by hand", {
  cards <- data.frame(rank = rep(1:10, 4), suit = rep(1:4, each = 10))
  hands <- t(combn(40, 2))
  a <- cards[hands[, 1], ]
  b <- cards[hands[, 2], ]
  same <- a$suit == b$suit
  kind <- ifelse(same & abs(a$rank - b$rank) == 1, 3, ifelse(a$rank == b$rank, 2, ifelse(same, 1, 0)))
  high <- pmax(a$rank, b$rank)
  low <- pmin(a$rank, b$rank)
  strength <- kind * 1000 + high * 100 + low
  counts <- kind > 0 | high >= 7
  raise <- ifelse(kind > 0, 2, ifelse(high >= 8, 1, 0))  # the cautious player
  chime <- c(-1, 0, 4, 6)[kind + 1]
  sums <- c(ante = 0, ante_square = 0, raise = 0, put = 0, net = 0, net_square = 0, n = 0)
  shares <- c(folded = 0, unqualified = 0, better = 0, worse = 0, equal = 0)
  for (i in seq_len(nrow(hands))) {
    j <- which(hands[, 1] != hands[i, 1] & hands[, 1] != hands[i, 2] & hands[, 2] != hands[i, 1] &
                 hands[, 2] != hands[i, 2])
    outcome <- if (raise[[i]] == 0) rep("folded", length(j)) else
      ifelse(!counts[j], "unqualified", ifelse(strength[[i]] > strength[j], "better",
        ifelse(strength[[i]] < strength[j], "worse", "equal")))
    win <- if (kind[[i]] == 3) 2 else 1
    ante <- c(folded = -1, unqualified = 0, better = win, worse = -1, equal = 0)[outcome]
    more <- raise[[i]] * c(folded = 0, unqualified = 0, better = 1, worse = -1, equal = 0)[outcome]
    net <- ante + more + chime[[i]]
    sums <- sums + c(sum(ante), sum(ante^2), sum(more), (2 + raise[[i]]) * length(j), sum(net), sum(net^2), length(j))
    found <- table(factor(outcome, names(shares)))
    shares <- shares + as.vector(found)
  }
  o <- odds("bell-cards", engine = "exact", players = list(guest = "cautious"))
  n <- sums[["n"]]
  expect_equal(stats::setNames(o$outcomes$probability, o$outcomes$name), shares / n, tolerance = 1e-12)
  expect_equal(o$pays$mean, sums[["net"]] / n, tolerance = 1e-12)
  expect_equal(o$pays$sd, sqrt(sums[["net_square"]] / n - (sums[["net"]] / n)^2), tolerance = 1e-12)
  expect_equal(o$pays$put_in, sums[["put"]] / n, tolerance = 1e-12)
  expect_equal(o$pays$stake, 2)
  expect_equal(o$pays$edge, -sums[["net"]] / n / 2, tolerance = 1e-12)
  expect_equal(o$pays$edge_per_token, -sums[["net"]] / sums[["put"]], tolerance = 1e-12)
  by_bet <- stats::setNames(o$bets$mean, o$bets$bet)
  expect_equal(by_bet[["ante"]], sums[["ante"]] / n, tolerance = 1e-12)
  expect_equal(by_bet[["raise"]], sums[["raise"]] / n, tolerance = 1e-12)
  expect_equal(by_bet[["chime"]], mean(chime), tolerance = 1e-12)
  expect_equal(o$bets$hit[o$bets$bet == "chime"], mean(chime >= 0), tolerance = 1e-12)
  expect_equal(o$bets$gain[o$bets$bet == "chime"], mean(chime > 0), tolerance = 1e-12)
  expect_equal(o$bets$volatility[o$bets$bet == "chime"], 1.645 * sqrt(mean(chime^2) - mean(chime)^2), tolerance = 1e-12)
  expect_equal(o$bets$decided_edge[o$bets$bet == "chime"], -sum(chime) / sum(chime != 0), tolerance = 1e-12)
  without <- odds("bell-cards", engine = "exact", players = list(guest = "cautious"), set = list(with_side = FALSE))
  expect_equal(without$pays$mean, o$pays$mean - mean(chime), tolerance = 1e-12)
  expect_equal(without$bets$staked[without$bets$bet == "chime"], 0)
})

test_that("buoy line, in closed form", {
  o <- odds("buoy-line", engine = "exact")
  marks <- c(4:7, 9:12)
  ways <- pmin(marks, 16 - marks) - 1
  made <- ways / (ways + 7)
  wins <- (2 + 7 + 1) / 49 + sum(ways / 49 * made)
  bets <- o$bets
  expect_equal(bets$return[bets$bet == "line"], 2 * wins, tolerance = 1e-12)
  profit <- floor(20 * 7 / ways + 1e-9) / 10
  back <- sum(ways / 49 * made * (2 + profit))
  expect_equal(bets$return[bets$bet == "behind"] * 2 * sum(ways) / 49, back, tolerance = 1e-12)
  expect_equal(bets$breakage[bets$bet == "behind"], sum(ways / 49 * made * (2 * 7 / ways - profit)), tolerance = 1e-9)
  expect_equal(bets$return[bets$bet == "lamp"], 0)
  lit <- sum(ways / 49 * made * (1 - (ways + 7) / 49)^7)  # seven throws that decide nothing, then the mark
  pot <- o$pots
  expect_equal(pot$fed, 0.3, tolerance = 1e-12)
  expect_equal(pot$emptied, lit, tolerance = 1e-9)
  expect_equal(pot$paid, lit * 3.3, tolerance = 1e-9)
  expect_equal(pot$level_when_paid, 3 + 0.3 / lit, tolerance = 1e-9)
  put <- 1.5 + 2 * sum(ways) / 49
  base <- 2 * wins + back
  expect_equal(pot$worth_from, (put - base) / lit, tolerance = 1e-9)
  expect_equal(pot$long_run_return, (base + 0.3 + 3 * lit) / put, tolerance = 1e-9)
})

# The wallet of the wheel, in half tokens, as a chain of our own.
wheel_evening <- function(results, chance, from = 40, goal = 80, spins = 40, needs = 2) {
  at <- numeric(goal + 200)
  at[[from + 1]] <- 1
  ended <- c(ruined = 0, goal = 0)
  for (spin in seq_len(spins)) {
    after <- numeric(length(at))
    for (w in which(at > 0) - 1) for (k in seq_along(results))
      after[[w + results[[k]] + 1]] <- after[[w + results[[k]] + 1]] + at[[w + 1]] * chance[[k]]
    if (spin == spins) {
      w <- seq_along(after) - 1
      return(c(ended + c(sum(after[w < needs]), sum(after[w >= goal])),
               losing = ended[["ruined"]] + sum(after[w < from])))
    }
    poor <- seq_len(needs)
    rich <- seq(goal + 1, length(after))
    ended <- ended + c(sum(after[poor]), sum(after[rich]))
    after[c(poor, rich)] <- 0
    at <- after
  }
}

test_that("an evening at the moon wheel, and every field of it", {
  o <- odds("moon-wheel", engine = "exact")
  wanted <- wheel_evening(c(2, 0, -1, -2), c(7, 1, 1, 7) / 16)
  shares <- stats::setNames(o$units$shares$probability, o$units$shares$name)
  expect_equal(shares[["ruined[guest]"]], wanted[["ruined"]], tolerance = 1e-12)
  expect_equal(shares[["goal"]], wanted[["goal"]], tolerance = 1e-12)
  expect_equal(shares[["losing[guest]"]], wanted[["losing"]], tolerance = 1e-12)
  final <- o$units$measures$mean[o$units$measures$name == "final wallet[guest]"]
  expect_equal(final, 20 + o$rounds_in_unit * o$pays$mean, tolerance = 1e-12)
  text <- readLines(system.file("games", "moon-wheel.game", package = "basanos"))
  return_of <- function(field, amount = 1) {
    text <- sub("steady  <- player(field = low, amount = 1)",
                sprintf("steady <- player(field = %s, amount = %d)", field,
                                                                       amount), text, fixed = TRUE)
    path <- money_game(sub("setting(40,", "setting(2,", text, fixed = TRUE)[!grepl("^example", text)])
    odds(path, engine = "exact", players = list(guest = "steady"))$bets
  }
  expect_equal(return_of("7")$return, 15 / 16)
  expect_equal(return_of("reef")$return, 15 / 16)
  expect_equal(return_of("high")$return, 31 / 32)
  expect_equal(return_of("even", 5)$return, 7 / 16 * 11 / 5)
  expect_equal(return_of("even")$return, 7 / 16 * 2)  # 1.2 tokens are two pieces of a half, and a fifth for the house
  expect_equal(return_of("even")$breakage, 7 / 16 * 0.2, tolerance = 1e-12)
})

even_money <- function(chance, wallet, rule, rounds, ...) money_game(
  "seats(guest)", "state(won = no)", "bets(guest, line = bet(0))", sprintf("wallet(guest, %d, needs = 1)", wallet),
  "play({", "ask(guest, amount = one_of(limits(line)))", "stake(guest, amount, on = line)",
  sprintf("won <- chance(%.17g)", chance), "})", "outcomes(win = won, loss = otherwise)",
  "settle(line, win = 1 %to% 1, otherwise = lost)", sprintf("usual <- player(amount = %s)", rule),
  sprintf("sitting(%s)", rounds), ...)

# The same with a second bet that may be placed.
with_side_staked <- function(path) {
  text <- readLines(path)
  text <- sub("^bets\\(guest, line = bet\\(0\\)\\)$", "bets(guest, line = bet(0, most = 4))", text)
  writeLines(sub("^stake\\(guest, amount, on = line\\)$",
                 "stake(guest, amount, on = line)\nif (wallet(guest) > 90) stake(guest, 1, on = side)", text),
             path)
  path
}

share_named <- function(o, name) o$units$shares$probability[o$units$shares$name == name]
mean_named <- function(o, name) o$units$measures$mean[o$units$measures$name == name]

test_that("sittings for a goal, of many rounds, and by rules that look back", {
  goal <- odds(even_money(0.48, 20, "1", "until = wallet(guest) >= 40"), engine = "exact")
  expect_equal(share_named(goal, "goal"), 1 / (1 + (13 / 12)^20), tolerance = 1e-9)
  expect_equal(goal$units$rounds$mean, 332.137731008778, tolerance = 1e-9)
  long <- odds(even_money(0.48, 20, "1", "rounds = 200"), engine = "exact")
  expect_equal(share_named(long, "ruined[guest]"), 0.317877021467, tolerance = 1e-11)
  expect_equal(long$rounds_in_unit * long$pays$put_in, 176.850263033, tolerance = 1e-10)
  quarter <- odds(even_money(0.48, 10, "max(1, wallet(guest) %/% 4)", "rounds = 3"), engine = "exact")
  expect_equal(quarter$rounds_in_unit * quarter$pays$put_in, 161 / 25, tolerance = 1e-12)
  tenth <- odds(even_money(0.48, 20, "max(1, wallet(guest) %/% 10)", "rounds = 50"), engine = "exact")
  expect_equal(share_named(tenth, "ruined[guest]"), 0.015498722487, tolerance = 1e-10)
  expect_equal(mean_named(tenth, "final wallet[guest]"), 17.146517817, tolerance = 1e-9)
  doubling <- "min(wallet(guest), if (last_net(guest) < 0) min(8, 2 * last_stake(guest)) else 1)"
  o <- odds(even_money(18 / 37, 63, doubling, "rounds = 100"), engine = "exact")
  expect_equal(share_named(o, "ruined[guest]"), 0.144354312038, tolerance = 1e-10)
  expect_equal(mean_named(o, "final wallet[guest]"), 56.549206762, tolerance = 1e-10)
  expect_equal(o$rounds_in_unit * o$pays$put_in, 238.679349806, tolerance = 1e-10)
  expect_equal(share_named(o, "losing[guest]"), 0.522885809968, tolerance = 1e-10)
  expect_equal(o$pays$edge, 1 / 37, tolerance = 1e-12)
})

test_that("streaks count wins and losses in a row", {
  o <- odds(even_money(0.5, 200, "if (streak(guest) <= -2) 4 else if (streak(guest) >= 2) 2 else 1", "rounds = 3"),
            engine = "exact")
  # the third round stakes 4 after two losses and 2 after two wins, each a quarter of the time
  expect_equal(o$units$rounds$mean * o$pays$put_in, 2 + (4 + 2 + 1 + 1) / 4)
})

test_that("money is conserved: what the seats gain, the house and the pot lose", {
  path <- money_game(
    "seats(ann, bo, cy)", "cube <- die(1:6)", "state(face = each(seat, 0))", "kitty <- pot(5, lasts = sitting)",
    "play({", "for (s in seats) stake(s, 2, on = kitty)", "for (s in seats) face[s] <- roll(cube)",
    "share(kitty, among = those(seats, face[it] == max(face)), part = 0.5, rest = bo)", "})",
    "outcomes(wins = leader(face[it]), shared = otherwise)", "sitting(rounds = 2)", "record(left = kitty)")
  o <- odds(path, engine = "exact")
  rows <- odds(path, engine = "sample", rounds = 2000)
  expect_equal(sum(o$pays$mean), o$pots$paid - o$pots$fed, tolerance = 1e-12)
  # 11 in the first round, half of it is paid: 5; then 12, of which 6
  expect_equal(o$records$mean, (6 + 6) / 2)
  expect_equal(o$pots$paid, (5 + 6) / 2)
  expect_equal(rows$pots$paid, (5 + 6) / 2)
  expect_gt(o$pays$mean[[2]], o$pays$mean[[1]])  # what does not divide
})

test_that("a bet that stands over lies there again, and counts as put in when it is decided", {
  o <- odds(money_game("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "bets(guest, line = 1)",
                       "wallet(guest, 5)", "play({ face <- roll(cube) })",
                       "outcomes(high = face > 4, mid = face == 4, low = otherwise)",
                       "settle(line, high = 1 %to% 1, mid = stands, otherwise = lost)", "sitting(rounds = 2)"),
            engine = "exact")
  expect_equal(o$bets$staked, 5 / 6)
  expect_equal(o$bets$return, 2 * (2 / 6) / (5 / 6))
  # the last stake that stands comes back
  expect_equal(mean_named(o, "final wallet[guest]"), 5 + 2 * (2 / 6 - 3 / 6))
})

test_that("a bet settled in play is empty afterwards and counts at once", {
  o <- odds(money_game("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "bets(guest, line = 2, side = 1)",
                       "play({", "face <- roll(cube)", "settle(side, if (face == 6) 4 %to% 1, otherwise = lost)",
                       "if (gained(guest) > 0) end_round()", "face <- roll(cube)", "})",
                       "outcomes(high = face > 4, low = otherwise)",
                       "settle(line, high = 3 %to% 2, low = 1 %for% 2, most = 2)"), engine = "exact")
  high <- 1 / 6 + 5 / 6 * 2 / 6
  expect_equal(o$bets$mean, c(high * 2 - (1 - high) * 1, 4 / 6 - 5 / 6), tolerance = 1e-12)
  expect_equal(o$pays$mean, sum(o$bets$mean), tolerance = 1e-12)
})

test_that("returns have intervals, unless a few rounds decide", {
  o <- odds("buoy-line", engine = "sample", rounds = 20000)
  exact <- odds("buoy-line", engine = "exact")
  ok <- o$bets$return_lower <= exact$bets$return & exact$bets$return <= o$bets$return_upper
  expect_true(all(ok[o$bets$bet != "lamp"]))
  expect_lte(o$pays$return_lower, exact$pays$return)
  expect_gte(o$pays$return_upper, exact$pays$return)
  rare <- money_game("seats(guest)", "n <- die(1:1000)", "state(face = 0)", "bets(guest, line = 1, more = 0)",
                     "play({", "face <- roll(n)", "if (face > 990) stake(guest, 1, on = more)", "})",
                     "outcomes(hit = face == 1000, miss = otherwise)",
                     "settle(line, hit = 900 %to% 1, otherwise = lost)",
                     "settle(more, hit = 90 %to% 1, otherwise = push)")
  few <- odds(rare, engine = "sample", rounds = 3000)
  expect_true(is.na(few$pays$return_lower))
  expect_match(paste(format(few), collapse = "\n"), "a few rounds decide it")
})

test_that("the parts of a par table add up where more than a stake is put in", {
  par <- par_table("bell-cards", engine = "sample", rounds = 5000)
  expect_equal(sum(par$rows$of_return), par$return, tolerance = 1e-12)
  expect_equal(sum(par$rows$of_variance), 1, tolerance = 1e-3)
})

test_that("bets are told as CSV, JSON and text, by the command line", {
  json <- jsonlite::fromJSON(told_by("odds", "bell-cards", "--engine", "sample", "--rounds", "2000", "--format",
                                     "json"))
  expect_identical(json$bets$bet, c("ante", "raise", "chime"))
  expect_true(all(c("put_in", "staked", "hit", "gain", "return", "return_lower", "edge",
                    "volatility") %in% names(json$bets)))
  csv <- utils::read.csv(text = told_by("odds", "bell-cards", "--engine", "sample", "--rounds", "2000", "--format",
                                        "csv"))
  expect_identical(csv$name[csv$kind == "bet_return"], c("ante", "raise", "chime"))
  text <- told_by("odds", "moon-wheel")
  expect_match(text, "ruined[guest]", fixed = TRUE)
  trace <- told_by("trace", "buoy-line")
  expect_match(trace, "guest gets 2 back from line", fixed = TRUE)
  expect_match(trace, "guest loses lamp", fixed = TRUE)
  outline <- told_by("outline", "moon-wheel")
  expect_match(outline, "the guest may put 1 to 5 on the field chosen", fixed = TRUE)
  expect_match(outline, "the bet comes back if", fixed = TRUE)
})

test_that("a variant replaces and amends settlements by bet", {
  path <- money_game('based_on("bell-cards")', "amend(settle(raise, equal = lost))",
                     "settle(chime, if (kind_of(hand) == run) 12 %to% 1, otherwise = lost)",
                     "bets(guest, ante = 1, raise = bet(0, most = 2), chime = 2)")
  o <- odds(path, engine = "sample", rounds = 5000)
  before <- odds("bell-cards", engine = "sample", rounds = 5000)
  ante <- function(o) o$bets$return[o$bets$bet == "ante"]
  expect_equal(ante(o), ante(before))
  expect_lt(o$bets$return[o$bets$bet == "raise"], before$bets$return[before$bets$bet == "raise"])
  expect_equal(o$bets$put_in[o$bets$bet == "chime"], 2)
  changes <- game(path)$variant$changes
  expect_identical(changes$change[changes$what %in% c("settle", "bets")], c("replaced", "replaced", "amended"))
})

test_that("examples give what is in a wallet and in a pot, and a later round becomes such an example", {
  path <- money_game('based_on("moon-wheel")',
                     'example("with four tokens", given(wallet = 4, wheel = 2, field = low, amount = 3),',
                     "  expect(outcome = ahead, pay = 3, wallet(guest) == 7))",
                     'example("too much", given(wallet = 2, wheel = 5, field = low, amount = 3),',
                     "  expect(error = illegal_answer))")
  expect_true(all(check_game(path, findings = FALSE)$examples$passed))
  lamp <- money_game('based_on("buoy-line")', 'example("a fuller lamp", given(glow = 40, cube = c(2, 3), rest = stop),',
                     "expect(glow == 40.3))")
  expect_true(all(check_game(lamp, findings = FALSE)$examples$passed))
  text <- as_example(trace_round("moon-wheel", round = 4))
  expect_match(paste(text, collapse = ""), "given(wallet = ", fixed = TRUE)
  again <- money_game('based_on("moon-wheel")', text)
  expect_true(all(check_game(again, findings = FALSE)$examples$passed))
})

test_that("buying in again", {
  o <- odds(money_game("seats(guest)", "state(won = no)", "bets(guest, line = 1)", "wallet(guest, 1, again = 2)",
                       "play({ won <- chance(0.25) })", "outcomes(win = won, loss = otherwise)",
                       "settle(line, win = 1 %to% 1, otherwise = lost)", "sitting(rounds = 3)"), engine = "exact")
  # three losses in a row: the wallet of one is spent three times, and there is no fourth
  expect_equal(share_named(o, "ruined[guest]"), 0.75^3)
  brought <- mean_named(o, "brought[guest]")
  expect_equal(mean_named(o, "final wallet[guest]"), brought + 3 * o$pays$mean)
  expect_equal(share_named(o, "losing[guest]"), 0.75^3 + 3 * 0.75^2 * 0.25)
})

test_that("check tells uneven profits, losses beyond the stake, and wallets that fall short", {
  ids <- function(...) check_game(...)$findings$id
  found <- check_game("moon-wheel")$findings
  expect_match(found$message[found$id == "breakage"], "of 1, 2, 3, 4 does not come out", fixed = TRUE)
  beyond <- money_game("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "stakes(guest, 1)",
                       "play({ face <- roll(cube) })", "outcomes(high = face > 4, low = otherwise)",
                       "pays(guest, high = 3, low = -2)")
  found <- check_game(beyond)$findings
  expect_match(found$message[found$id == "loss_beyond_stake"], "loses up to 2 in a round, more than the 1")
  expect_true("wallet_cuts" %in% ids(even_money(0.4, 6, "1", "rounds = 20", "bets(guest, side = bet(0, most = 4))",
                                                "settle(side, otherwise = lost)") |> with_side_staked()))
  expect_false(any(c("breakage", "loss_beyond_stake", "wallet_cuts") %in% ids("bell-cards")))
})

test_that("a bet on every field, and one for every seat", {
  fields <- odds(money_game(
    "seats(guest)", "cube <- die(1:6)", "fields <- names(1:6, low, high)", "state(face = 0, i = 0)",
    "bets(guest, spot = each(fields, bet(0, most = 2)))",
    "play({", "repeat {", "ask(guest, field = one_of(fields))", "ask(guest, amount = one_of(limits(spot[field])))",
    "stake(guest, amount, on = spot[field])", "add(1, to = i)", "if (i == 2) break", "}", "face <- roll(cube)", "})",
    "outcomes(ahead = gained(guest) > 0, behind = otherwise)",
    "settle(spot, if (it == face) 5 %to% 1, if (it == low && face <= 3) 1 %to% 1, otherwise = lost)",
    "record(on_field = spot[field], on_low = spot[low])",
    "a <- player(field = if (i == 0) low else 6, amount = if (i == 0) 2 else 1)"), engine = "exact",
    measure = c("edge(spot[6])", "return_of(spot[low])"))
  expect_equal(nrow(fields$bets), 8)
  expect_equal(fields$bets$put_in[fields$bets$bet %in% c("spot[6]", "spot[low]")], c(1, 2))
  expect_equal(fields$measures$value, c(0, 1))
  expect_equal(fields$records$mean, c(1, 2))
  expect_equal(fields$pays$sd, sqrt(mean(c(2 - 1, 2 - 1, 2 - 1, -3, -3, 5 - 2)^2)))
  seats <- odds(money_game(
    "seats(ann, bo)", "cube <- die(1:6)", "state(face = each(seat, 0))",
    "bets(everyone, ante = 1, more = bet(0, most = 2))",
    "play({", "for (s in seats) face[s] <- roll(cube)", "for (mover in turns(each = 1)) {",
    "ask(mover, add_on = one_of(limits(more[mover])))", "stake(mover, add_on, on = more)", "}", "})",
    "outcomes(wins = leader(face[it]), tied = otherwise)",
    "settle(ante, if (face[it] > face[other(it)]) 1 %to% 1, if (face[ann] == face[bo]) push, otherwise = lost)",
    "settle(more, if (face[it] >= 4) 1 %to% 1, otherwise = lost)",
    "p <- player(add_on = if (face[me] >= 5) 2 else 0)"), engine = "exact")
  expect_equal(seats$pays$mean, c(2 / 3, 2 / 3))
  expect_equal(seats$bets$return, c(1, 1, 2, 2))
  which <- function(...) money_game("seats(guest)", "cube <- die(1:6)", "state(face = 0)",
                                    "bets(guest, spot = each(1:3, 0))", "play({", "face <- roll(cube)", ..., "})",
                                    "outcomes(high = face > 4, low = otherwise)", "settle(spot, otherwise = lost)")
  expect_error(odds(which("stake(guest, 1, on = spot)")), class = "basanos_index_wrong")
  expect_error(odds(which("if (spot > 0) stake(guest, 1, on = spot[1])")), class = "basanos_index_wrong")
})

test_that("limits in steps, first stakes by word, and buying in by the rules", {
  path <- money_game("seats(guest)", "state(won = no)", "bets(guest, line = bet(0, most = 10, step = 3), more = 0)",
                     "wallet(guest, 13, needs = 1)",
                     "play({", "ask(guest, amount = one_of(limits(line)))", "stake(guest, amount, on = line)",
                     "won <- chance(0.5)", "if (won) stake(guest, 1, on = more, first = yes)",
                     "if (wallet(guest) < 2) buy(guest, 5)", "})", "outcomes(win = won, loss = otherwise)",
                     "settle(line, win = 1 %to% 1, otherwise = lost)", "settle(more, win = push, otherwise = lost)",
                     "sitting(rounds = 2)", "most_of <- player(amount = most(choices))", "record(amount = amount)")
  o <- odds(path, engine = "exact")
  expect_setequal(o$distributions$amount$value, c(3, 9))  # nine of thirteen; after a loss three of four
  expect_equal(o$pays$stake, o$pays$put_in)
  brought <- mean_named(o, "brought[guest]")
  expect_equal(mean_named(o, "final wallet[guest]"), brought + 2 * o$pays$mean)
  expect_equal(brought, 13 + 5 * 0.5)  # nine lost, three of four staked: one is left, or none
})

test_that("who only bets is no player at the table", {
  path <- money_game(
    "seats(left, right)", "bettors(guest)", "cube <- die(1:6)", "state(face = each(seat, 0))",
    "bets(guest, line = bet(0, most = 3))",
    "play({", "ask(guest, on = one_of(seats))", "stake(guest, 2, on = line)",
    "for (mover in turns(each = 1)) face[mover] <- roll(cube)", "})",
    "outcomes(wins = leader(face[it]), tied = otherwise)", "pays(winner, 1)", "pays(others, -1)", "pays(everyone, 3)",
    "settle(line, if (leader(face[it]) == on) 1 %to% 1, if (face[left] == face[right]) push, otherwise = lost)",
    "record(n = size(seats), turns = turns_played)", "a <- player(guest, on = left)",
    'example("left wins", given(cube = c(5, 2)), expect(outcome = left_wins, pay = c(left = 4, right = 2, guest = 2)))')
  o <- odds(path, engine = "exact")
  expect_identical(o$outcomes$name, c("left_wins", "right_wins", "tied"))
  expect_equal(o$records$mean, c(2, 2))
  expect_equal(stats::setNames(o$pays$mean, o$pays$seat), c(left = 3, right = 3, guest = 0))
  expect_equal(o$bets$hit, 7 / 12)
  expect_true(all(check_game(path, findings = FALSE)$examples$passed))
  expect_match(paste(outline_game(path), collapse = "\n"), "guest bets only")
  expect_error(odds(money_game("seats(left)", "bettors()", "play({ end_round() })", "outcomes(over = otherwise)")),
               class = "basanos_argument_missing")
})

test_that("large prizes keep their return and edge, exact and sampled", {
  prize <- function(piece, factor) game_of("seats(guest)", sprintf("tokens(piece = %s)", piece), "wheel <- die(1:1000)",
    "state(n = 0)", "bets(guest, line = 2)", "play({ n <- roll(wheel) })",
    "outcomes(grand = n == 1, small = n < 52, nothing = otherwise)",
    sprintf("settle(line, grand = %d %%for%% 1, small = 6 %%for%% 1, otherwise = lost)", factor))
  for (factor in c(200L, 150000L, 10000000L)) {
    o <- odds(prize(0.01, factor), engine = "exact")
    expect_equal(o$pays$return, (factor + 50 * 6) / 1000)
    expect_equal(o$pays$mean, 2 * (factor + 50 * 6) / 1000 - 2)
    s <- odds(prize(0.01, factor), engine = "sample", rounds = 4000)
    counts <- s$outcomes$probability
    expect_equal(s$pays$return, sum(counts[1:2] * c(factor, 6)))
  }
})

test_that("beside bets every amount is a whole number of pieces", {
  rules <- function(piece, ...) c(
    "seats(guest)", piece, "coin <- die(1:2)", "state(n = 0)", "bets(guest, line = 1)", ...,
    "play({ n <- roll(coin) })", "outcomes(high = n == 2, low = otherwise)",
    "settle(line, high = 1 %to% 1, otherwise = lost)")
  halves <- c("stakes(guest, 0.5)", "pays(guest, high = 0.25, low = -0.5)")
  expect_error(game_of(rules(character(), halves)), class = "basanos_amount_piece")
  o <- odds(game_of(rules("tokens(piece = 0.25)", halves)), engine = "exact")
  expect_equal(o$pays$return, 1 + (1.25 - 1.5) / 2 / 1.5)
  expect_error(odds(game_of(rules(character(), "pays(guest, n / 4)"))), class = "basanos_amount_piece")
  quarters <- odds(game_of(rules("tokens(piece = 0.25)", "pays(guest, n / 4)")), engine = "exact")
  expect_equal(quarters$pays$mean, (-1 + 0.25 + 1 + 0.5) / 2)
})

test_that("a par table gives each row what it brings back, over what all put in", {
  g <- game_of("seats(guest)", "cube <- die(1:6)", "state(n = 0)", "bets(guest, ante = 1, raise = 0)",
               "play({ n <- roll(cube)", "if (n > 2) stake(guest, 2, on = raise) })",
               "outcomes(folded = n <= 2, won = n > 4, lost = otherwise)",
               "settle(ante, won = 1 %to% 1, otherwise = lost)", "settle(raise, won = 2 %to% 1, otherwise = lost)")
  p <- par_table(g, engine = "exact")
  rows <- p$rows[match(c("folded", "won", "lost"), p$rows$outcome), ]
  put <- 1 / 3 * 1 + 2 / 3 * 3
  expect_equal(rows$pay, c(-1, 5, -3))
  expect_equal(rows$of_return, c(0, 1 / 3 * 8 / put, 0))
  expect_equal(sum(p$rows$of_return), p$return)
  expect_equal(sum(p$rows$of_variance), 1)
  bells <- par_table("bell-cards", rounds = 20000)
  expect_equal(sum(bells$rows$of_return), bells$return)
  expect_equal(bells$rows$of_return[bells$rows$outcome == "folded"], 0)
})

test_that("a pot that is paid in part: its level when paid, and from where playing pays", {
  g <- game_of("seats(guest)", "tokens(piece = 0.01)", "glow <- pot(2, lasts = always)", "bets(guest, lamp = 1)",
               "cube <- die(1:6)", "state(n = 0)",
               "play({ move(0.5, from = lamp, to = glow)", "n <- roll(cube)", "if (n == 6) share(glow, among = guest)",
               "if (n == 5) share(glow, among = guest, part = 0.5) })", "outcomes(six = n == 6, other = otherwise)",
               "settle(lamp, otherwise = lost)")
  o <- odds(g, engine = "exact")
  share <- 1 / 6 + 1 / 12
  expect_equal(o$pots$share, share)
  expect_equal(o$pots$level_when_paid, (0.5 + 2 / 6) / share)
  expect_equal(o$pots$worth_from, 1 / share)
  expect_equal(o$pots$long_run_return, 0.5 + 2 / 6)
  # the pot itself, round after round
  set.seed(7)
  level <- 2
  weighted <- paid <- before <- 0
  n <- 3e5
  for (face in sample(6, n, TRUE)) {
    before <- before + level
    level <- level + 0.5
    part <- if (face == 6) 1 else if (face == 5) 0.5 else 0
    weighted <- weighted + part * level
    paid <- paid + part
    level <- if (face == 6) 2 else level * (1 - part)
  }
  expect_equal(weighted / paid, o$pots$level_when_paid, tolerance = 0.01)
  expect_equal(mean_levels(o$pots, g)[["glow"]], before / n, tolerance = 0.01)
})

test_that("where a cap bites nothing is lost by rounding", {
  g <- function(cap) game_of("seats(guest)", "coin <- die(1:2)", "state(n = 0)", "bets(guest, line = 3)",
    "play({ n <- roll(coin) })", "outcomes(high = n == 2, low = otherwise)",
    sprintf("settle(line, high = 3 %%to%% 2, otherwise = lost%s)", cap))
  expect_equal(odds(g(""), engine = "exact")$bets$breakage, 0.25)
  expect_equal(odds(g(", most = 5"), engine = "exact")$bets$breakage, 0.25)
  for (most in c(4, 2)) expect_equal(odds(g(sprintf(", most = %d", most)), engine = "exact")$bets$breakage, 0)
})

test_that("runs of losses are refused where rounds depend on each other", {
  for (measure in c("losing_run(guest, 3, 10)", "longest_losing_run(guest, 10)"))
    expect_error(odds("moon-wheel", engine = "sample", rounds = 50, measure = measure), class = "basanos_rounds_linked")
  # three losses of a coin within three rounds
  o <- odds(game_of("seats(guest)", "stakes(guest, 1)", "state(won = no)", "play({ won <- chance(0.5) })",
                    "outcomes(win = won, lose = otherwise)", "pays(guest, win = 1, lose = -1)"),
            measure = "losing_run(guest, 3, 3)")
  expect_equal(o$measures$value, 1 / 8)
})

test_that("an interval allows for a prize of a bet that no round has shown", {
  path <- tempfile(fileext = ".game")
  writeLines(c('title("Ticket", "A small prize often, a great one seldom.")', "seats(guest)", "wheel <- die(1:10000)",
               "state(at = 0)", "bets(guest, ticket = 1)", "play({ at <- roll(wheel) })",
               "settle(ticket, if (at == 1) 4000 %to% 1, if (at <= 4000) 1 %for% 1, otherwise = lost)",
               "outcomes(great = at == 1, small = at <= 4000, nothing = otherwise)"), path)
  g <- game(path)
  truth <- c(0.8, 0.2, -0.2)  # (4001 + 3999) / 10 000 comes back of each token
  measures <- c("return_of(ticket)", "edge(guest)", "mean_pay(guest)")
  expect_equal(odds(g, engine = "exact", measure = measures)$measures$value, truth)
  for (seed in 1:10) {
    o <- odds(g, engine = "sample", rounds = 1000, seed = seed, measure = measures)
    m <- o$measures
    expect_true(all(is.na(m$lower) | (m$lower <= truth & truth <= m$upper)), info = seed)
    if (o$outcomes$probability[[1]] == 0) expect_equal(m$upper[[1]], 0.381 + 4000 * 3.84 / 1003.84, tolerance = 0.05)
    expect_true(is.na(o$bets$return_lower) || (o$bets$return_lower <= 0.8 && o$bets$return_upper >= 0.8))
  }
  settled <- compile_game(g)$return_range
  expect_identical(settled[[1]], c(0, 4001))
  expect_identical(compile_game(game("bell-cards"))$return_range[[3]], c(0, 7))  # the chime: six to one
})

test_that("the long run of a pot with visitors of two habits is that of their mix", {
  of <- function(players) odds("buoy-line", players = list(guest = players))
  all <- lapply(c("usual", "none_behind", "usual:3,none_behind:1"), of)
  put <- vapply(all, function(o) o$pays$put_in, 0)
  back <- vapply(all, function(o) o$pots$long_run_return, 0)
  expect_equal(put[[3]], 0.75 * put[[1]] + 0.25 * put[[2]])
  expect_equal(back[[3]] * put[[3]], 0.75 * back[[1]] * put[[1]] + 0.25 * back[[2]] * put[[2]])
})
