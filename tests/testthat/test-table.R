# A table at which everyone has a wallet: who is out of money drops out, and the others play on.

ring_marks <- function(at_least = 1, ...) game_of(
  'title("Ring Marks", "Who rolls a two marks the next seat; one mark doubles the ante.")',
  "seats(ann, bo, cy)", "coin <- die(1:2)",
  sprintf("wallet(everyone, 2, needs = 1, at_least = %d)", at_least), "bets(everyone, ante = 1)",
  "state(mark = each(seat, 0))",
  "play({ for (mover in turns(each = 1)) if (roll(coin) == 2) add(1, to = mark[next_seat(mover)]) })",
  "settle(ante, if (mark[it] == 1) 1 %to% 1, otherwise = lost)",
  "outcomes(alone = size(seats) == 1, wins = leader(mark[it]), level = otherwise)",
  "pays(everyone, level = 1, otherwise = 0)",
  "record(here = size(seats), place = place_of(it, mark[it]), first = who(mark[it] == 1))", "sitting(rounds = 4)", ...)

# The same, gone through by hand: lists of wallets with their probabilities.
ring_by_hand <- function(at_least) {
  now <- list(list(w = c(2, 2, 2), p = 1))
  told <- list(rounds = 0, here = 0, alone = 0, level = 0, place = 0, first = 0)
  ended <- list()
  for (round in 1:4) {
    after <- list()
    for (at in now) {
      playing <- which(at$w >= 1)
      k <- length(playing)
      rolls <- as.matrix(expand.grid(rep(list(0:1), k)))
      told$rounds <- told$rounds + at$p
      told$here <- told$here + at$p * k
      for (r in seq_len(nrow(rolls))) {
        p <- at$p / nrow(rolls)
        mark <- numeric(3)
        mark[playing[seq_len(k) %% k + 1]] <- rolls[r, ]
        most <- sum(mark[playing] == max(mark[playing]))
        won <- ifelse(mark[playing] == 1, 1, -1)
        if (k == 1) told$alone <- told$alone + p else if (most > 1) {
          told$level <- told$level + p
          won <- won + 1
        }
        told$place <- told$place + p * (1 + if (1 %in% playing) sum(mark[playing] > mark[[1]]) else k)
        told$first <- told$first + p * identical(playing[mark[playing] == 1], 1L)
        w <- at$w
        w[playing] <- w[playing] + won
        if (sum(w >= 1) < at_least || round == 4) ended <- c(ended, list(list(w = w, p = p)))
        else after <- c(after, list(list(w = w, p = p)))
      }
    }
    now <- after
  }
  share <- function(f) sum(vapply(ended, function(e) e$p * f(e$w), 0))
  c(told, list(ruin = share(function(w) w[[2]] < 1), final = share(function(w) w[[3]])))
}

test_that("who is out of money drops out of seats, turns, bets, pays, places and leaders", {
  for (at_least in 1:3) {
    o <- odds(ring_marks(at_least), engine = "exact", measure = "ruin(bo)")
    hand <- ring_by_hand(at_least)
    of <- function(table, name) table[match(name, table$name), ]
    expect_equal(o$measures$value[[1]], hand$ruin, tolerance = 1e-12)
    expect_equal(of(o$outcomes, c("alone", "level"))$probability, c(hand$alone, hand$level) / hand$rounds,
                 tolerance = 1e-12)
    expect_equal(of(o$records, c("here", "place[ann]"))$mean, c(hand$here, hand$place) / hand$rounds,
                 tolerance = 1e-12)
    final <- of(o$units$measures, "final wallet[cy]")
    expect_equal(final$mean, hand$final, tolerance = 1e-12)
  }
})

test_that("a sample of a table agrees with its count, interpreted and compiled", {
  exact <- odds(ring_marks(2), engine = "exact")$outcomes
  sampled <- odds(ring_marks(2), engine = "sample", rounds = 5e4)$outcomes
  expect_true(all(sampled$lower - 0.003 <= exact$probability & exact$probability <= sampled$upper + 0.003))
})

test_that("the sitting ends with too few seats: two where they share a pot", {
  pot <- game_of('title("Pot", "The highest takes the pot.")', "seats(ann, bo, cy)", "cube <- die(1:6)",
                 "state(thrown = each(seat, 0))", "wallet(everyone, 1, needs = 1)", "kitty <- pot(0)",
                 "play({ for (s in seats) { stake(s, 1, on = kitty); thrown[s] <- roll(cube) }",
                 "  taker <- leader(thrown[it], ties = chance)", "  share(kitty, among = taker) })",
                 "outcomes(wins = leader(thrown[it]), level = otherwise)", "sitting(rounds = 9)")
  o <- odds(pot, engine = "exact", measure = c("ruin(ann)", "mean(rounds)"))
  expect_equal(o$measures$value, c(2 / 3, 1), tolerance = 1e-12)  # one takes all three tokens at once
  expect_match(format(trace_round(pot)), "drops out: nothing is left", all = FALSE)
  expect_match(format(trace_round(pot)), "wallets ann [03], bo [03], cy [03]", all = FALSE)
  expect_match(format(trace_round(pot)), "(ann|bo|cy) gets 3 from kitty", all = FALSE)
  expect_error(game_of('title("One", "x")', "seats(ann)", "wallet(ann, 3, needs = 1, at_least = 2)", "play({})",
                       "outcomes(over = otherwise)", "sitting(rounds = 2)"), class = "basanos_argument_unknown")
})

test_that("who is out has no first turn", {
  late <- game_of('title("Late", "The first is out before the turns begin.")', "seats(ann, bo)",
                  "state(first = one(seats))",
                  "play({ out(ann); for (mover in turns(each = 1)) if (first == nobody) first <- mover })",
                  "outcomes(begins = first, nobody_begins = otherwise)")
  expect_equal(odds(late, engine = "exact")$outcomes$probability, c(0, 1, 0))
})

test_that("the house adds to a pot beside a full bet", {
  fed <- game_of('title("Fed Glow", "The house feeds the glow with a fiftieth of the bet.")', "tokens(piece = 0.1)",
                 "seats(guest)", "cube <- die(1:20)", "state(face = 0)", "bets(guest, line = 10)",
                 "glow <- pot(5, lasts = always)",
                 "play({", "  move(0.02 * line, from = house, to = glow)", "  face <- roll(cube)",
                 "  if (face == 20) share(glow, among = guest)", "})",
                 "outcomes(hit = face == 1, glow_won = face == 20, miss = otherwise)",
                 "settle(line, hit = 18 %to% 1, otherwise = lost)")
  o <- odds(fed, engine = "exact", measure = "long_run_return(guest)")
  expect_equal(o$bets$return, 0.95, tolerance = 1e-12)  # 19 tokens back for ten, in one round of twenty
  # 0.2 a round, and the seed of 5 each twentieth round
  expect_equal(o$measures$value, 0.95 + (0.2 + 5 / 20) / 10, tolerance = 1e-12)
  expect_equal(o$pots$fed, 0.2, tolerance = 1e-12)
  expect_match(format(trace_round(fed)), "0.2 goes from the house to glow: 5.2 there", all = FALSE)
})
