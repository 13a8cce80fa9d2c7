# A record at the end of a sitting or match, as a measure like others.

long_walk <- function(...) game_of(
  'title("Long Walk", "Three throws each.")', "seats(ann, bo)", "cube <- die(1:6)",
  "state(way = each(seat, 0), lasts = sitting)", "play({ for (s in seats) add(roll(cube), to = way[s]) })",
  "outcomes(over = otherwise)",
  "record(way = way[it], lead = way[ann] - way[bo], ahead = way[ann] > way[bo], at = sitting)",
  "record(now = way[ann])", "sitting(rounds = 3)", ...)

# The sum of three dice, and both seats' sums.
sums <- rowSums(expand.grid(1:6, 1:6, 1:6))
pairs <- expand.grid(ann = sums, bo = sums)

walk_measures <- c("mean(lead)", "sd(lead)", "probability(ahead)", "probability(way[ann] > 15)",
                   "quantile(way[bo], 0.9)", "highest(lead)", "mean(final(max(way)))", "mean(final(now))", "mean(now)")
walk_truth <- c(0, sqrt(2 * mean((sums - mean(sums))^2)), mean(pairs$ann > pairs$bo), mean(sums > 15),
                sort(sums)[[ceiling(0.9 * length(sums))]], 15, mean(pmax(pairs$ann, pairs$bo)), mean(sums), 7)

test_that("what is recorded at the end of a sitting is measured over sittings, counted and sampled", {
  o <- odds(long_walk(), engine = "exact", measure = walk_measures)
  expect_equal(o$measures$value, walk_truth, tolerance = 1e-12)
  expect_equal(o$units$shares$probability[o$units$shares$name == "ahead"], walk_truth[[3]], tolerance = 1e-12)
  expect_setequal(o$units$measures$name, c("way[ann]", "way[bo]", "lead"))
  sampled <- odds(long_walk(), engine = "sample", rounds = 2e4, measure = walk_measures)$measures
  off <- abs(sampled$value - walk_truth) / sampled$standard_error
  expect_lt(max(off[is.finite(off)]), 4)
})

test_that("its distribution is told as others are", {
  o <- odds(long_walk(), engine = "exact")
  d <- as.data.frame(o, distributions = TRUE)
  own <- d[d$kind == "unit_record" & d$name == "way[ann]", ]
  expect_equal(own$value, unname(as.numeric(table(sums)) / length(sums)), tolerance = 1e-12)
  json <- jsonlite::fromJSON(result_json(o))
  expect_equal(json$units$distributions$lead$probability, as.numeric(prop.table(table(pairs$ann - pairs$bo))),
               tolerance = 1e-9)
})

test_that("games and players are compared by what a sitting comes to", {
  bold <- game_of('title("Bold", "Twice the stake or once.")', "seats(guest)", "coin <- die(1:2)", "state(face = 0)",
                  "wallet(guest, 3, needs = 1)", "bets(guest, line = bet(0, least = 1, most = 2))",
                  "play({ ask(guest, amount = one_of(limits(line)))",
                  "  stake(guest, amount, on = line); face <- roll(coin) })",
                  "outcomes(won = face == 1, lost_it = otherwise)", "settle(line, won = 1 %to% 1, otherwise = lost)",
                  "sitting(rounds = 3)", "small <- player(amount = 1)", "big <- player(amount = prefer(2, 1))")
  # three coins: the small player is ruined by three tails; the big one by two tails in a row at the start of 3 tokens
  # (2, then 1), or by heads, two tails and what is left
  by_hand <- function(stake) {
    wallets <- apply(expand.grid(0:1, 0:1, 0:1), 1, function(coins) {
      w <- 3
      for (c in coins) if (w >= 1) w <- w + (2 * c - 1) * min(stake, w)
      w
    })
    c(ruin = mean(wallets < 1), final = mean(wallets))
  }
  best <- compare_players(bold, measure = "ruin({seat})", best = "lowest")
  expect_equal(best$ranking$player, c("small", "big"))
  expect_equal(best$advantage$advantage, by_hand(2)[["ruin"]] - by_hand(1)[["ruin"]])
  rows <- compare_games(bold, bold, rounds = 4000, players_new = list(guest = "big"), engine = "sample",
                        measure = c("ruin(guest)", "mean(final_wallet(guest))"))$rows
  own <- rows[rows$kind == "measure", ]
  truth <- by_hand(2) - by_hand(1)
  expect_lt(max(abs(own$difference - truth) / pmax(own$standard_error, 1e-9)), 4)
  # a whole number of tokens: the errors of a table in half tokens are those of tokens
  halves <- c("tokens(piece = 0.5)", bold$source$lines)
  half <- compare_games(game_of(halves), game_of(halves), rounds = 4000, players_new = list(guest = "big"),
                        engine = "sample", measure = "mean(final_wallet(guest))")$rows
  expect_equal(half$standard_error[half$kind == "measure"], own$standard_error[[2]], tolerance = 1e-9)
})

test_that("what does not last the sitting, and what is no number, is refused with what helps", {
  wrong <- function(...) tryCatch(long_walk(...), error = conditionMessage)
  expect_match(wrong("record(face = fresh, at = sitting)", "state(fresh = 0)"), "does not last the sitting")
  expect_match(wrong("record(x = way[ann], at = match)"), "`round`, `sitting` here")
  expect_match(wrong("record(x = leader(way[it]), at = sitting)"), "The record of a sitting")
  expect_error(odds(long_walk(), measure = "probability(lead)"), "is not a condition")
  expect_match(tryCatch(game_of('title("One", "x")', "play({})", "outcomes(over = otherwise)",
                                "record(x = 1, at = sitting)"), error = conditionMessage), "declare how long one sits")
})
