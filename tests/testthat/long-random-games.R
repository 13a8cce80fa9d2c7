# Random games with money: every number that odds tell, against all throws of the game gone through in plain R.

# The same numbers; what has no value is missing in one and no number in the other.
expect_numbers <- function(got, true, what) {
  got <- as.numeric(got)
  true <- as.numeric(true)
  expect_true(all(is.finite(got) == is.finite(true)), info = what)
  expect_lt(max(0, abs(got - true)[is.finite(true)]), 1e-9, label = what)
}

# Sampled values within so many standard errors of the true ones: of a thousand none should lie further out.
expect_within <- function(value, error, true, what) {
  far <- abs(value - true) > 4.5 * error + 1e-9
  expect_false(any(far, na.rm = TRUE), info = what)
}

compare_numbers <- function(g, seed) {
  true <- numbers_of(g)
  rules <- game_of(g$text)
  exact <- odds(rules, engine = "exact", measure = c("gain(guest)", "hit(guest)"))
  what <- function(part) sprintf("random game %d: %s", seed, part)
  expect_numbers(exact$outcomes$probability, true$outcomes[exact$outcomes$name], what("outcomes"))
  expect_numbers(exact$pays[names(true$pay)], true$pay, what("pay"))
  expect_numbers(exact$measures$value, c(true$gain, true$hit), what("measures"))
  for (bet in g$bets) {
    row <- exact$bets[exact$bets$bet == bet, ]
    expect_numbers(row[names(true$bets[[bet]])], true$bets[[bet]], what(bet))
  }
  if (g$with_pot) expect_numbers(exact$pots[names(true$pot)], true$pot, what("pot"))
  for (name in names(true$records))
    expect_numbers(exact$records[exact$records$name == name, c("mean", "sd", "least", "most")], true$records[[name]],
                   what(name))
  par <- par_table(rules, engine = "exact")
  expect_equal(sum(par$rows$probability), 1, tolerance = 1e-9)
  expect_equal(sum(par$rows$of_return), true$pay[["return"]], tolerance = 1e-9)
  sampled <- odds(rules, engine = "sample", rounds = 4000, seed = seed)
  p <- true$outcomes[sampled$outcomes$name]
  expect_within(sampled$outcomes$probability, sqrt(p * (1 - p) / 4000), p, what("sampled outcomes"))
  expect_within(sampled$pays$mean, true$pay[["sd"]] / sqrt(4000), true$pay[["mean"]], what("sampled pay"))
  for (bet in g$bets) {
    t <- true$bets[[bet]]
    if (t[["put_in"]] == 0) next
    got <- sampled$bets[sampled$bets$bet == bet, ]
    error <- t[["volatility"]] / 1.645 / sqrt(4000)  # of what comes back over what is put in
    expect_within(got$return, error, t[["return"]], what(paste("sampled", bet)))
  }
}

test_that("rounds: stakes, bets, settlements, pots and records of random games", {
  for (seed in 1:80) compare_numbers(random_game(seed), seed)
})

test_that("sittings: wallets, ruin and goals of random games", {
  asked <- c(ruin = "ruin(guest)", goal = "goal()", losing = "losing(guest)", final = "mean(final_wallet(guest))",
             final_sd = "sd(final_wallet(guest))", rounds = "mean(rounds)", return = "return_of(guest)",
             edge = "edge(guest)", gain = "gain(guest)")
  for (seed in 1:60) {
    g <- random_sitting(seed)
    rules <- game_of(g$text)
    what <- function(part) sprintf("random sitting %d: %s", seed, part)
    exact <- odds(rules, engine = "exact", measure = unname(asked))
    expect_numbers(exact$measures$value, g$numbers[names(asked)], what("measures"))
    expect_numbers(exact$outcomes$probability, c(g$numbers[["ahead"]], 1 - g$numbers[["ahead"]]), what("outcomes"))
    expect_numbers(exact$pays$put_in, g$numbers[["put_in"]], what("put in"))
    sampled <- odds(rules, engine = "sample", rounds = 2000, seed = seed, measure = unname(asked))
    n <- sampled$measures
    for (k in c("ruin", "goal", "losing")) {
      p <- g$numbers[[k]]
      expect_within(n$value[n$name == asked[[k]]], sqrt(p * (1 - p) / 2000), p, what(paste("sampled", k)))
    }
    expect_within(n$value[n$name == asked[["final"]]], g$numbers[["final_sd"]] / sqrt(2000), g$numbers[["final"]],
                  what("sampled final wallet"))
  }
})
