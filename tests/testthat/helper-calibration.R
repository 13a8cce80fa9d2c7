# Coverage of the intervals over seeded runs of games with exact odds: used by the test and by bench/calibration.R.

# The share of `runs` seeded runs in which each interval covers the exact value.
covered_share <- function(g, units, runs, prefix, pick = function(kind, name) TRUE) {
  g <- game(g)
  estimates <- function(o) subset(as.data.frame(o), kind %in% c("outcome", "pay", "bet_return", "measure", "record"))
  truth <- estimates(odds(g, engine = "exact"))
  kept <- Map(pick, truth$kind, truth$name) == TRUE
  question <- new_question(g)
  program <- program_of(question)
  inside <- vapply(seq_len(runs), function(seed) {
    counts <- core_sample(program, seed + 5000, 1, units, 1L, NULL)
    got <- estimates(as_odds(new_tally(question, program, "sample", counts, seed = seed)))
    (got$lower <= truth$value + 1e-12 & got$upper >= truth$value - 1e-12)[kept]
  }, logical(sum(kept)))
  data.frame(what = sprintf("%s: %s %s", prefix, truth$kind[kept], truth$name[kept]), units = units,
             covered = rowMeans(matrix(inside, ncol = runs)))
}

wheel_game <- function(faces, prize) {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", sprintf("wheel <- die(1:%d)", as.integer(faces)), "state(n = 0)",
               "play({ n <- roll(wheel) })", "outcomes(jackpot = n == 1, nothing = otherwise)",
               sprintf("pays(guest, jackpot = %d, nothing = -1)", as.integer(prize))), path)
  path
}

# A wheel with a prize that is rare, as a record of two values and as one of three.
rare_prize_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "wheel <- die(1:1000)", "state(n = 0)", "play({ n <- roll(wheel) })",
               "outcomes(prize = n <= 3, nothing = otherwise)",
               "record(jackpot = if (n <= 3) 1000 else 0, won = if (n <= 3) 1000 else if (n <= 400) 1 else 0)"), path)
  path
}

# A wheel that pays on its lowest faces: a setting says on how many.
lucky_faces_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "wheel <- die(1:1000)", "lucky <- setting(100)", "state(n = 0)",
               "play({ n <- roll(wheel) })", "outcomes(prize = n <= lucky, nothing = otherwise)",
               "pays(guest, prize = 9, nothing = -1)"), path)
  path
}

# The share of `runs` seeded comparisons in which each interval covers the exact difference.
covered_differences <- function(g, set_new, units, runs, prefix) {
  sides <- two_sides(g, g, list(), list(), NULL, set_new, list())
  truth <- exact_differences(lapply(sides, exact_side))
  truth <- truth[truth$difference != 0, ]
  inside <- vapply(seq_len(runs), function(seed) {
    got <- paired_differences(paired_tables(sides, units, seed + 5000), units)
    got <- got[match(paste(truth$kind, truth$name), paste(got$kind, got$name)), ]
    got$lower <= truth$difference + 1e-12 & got$upper >= truth$difference - 1e-12
  }, logical(nrow(truth)))
  data.frame(what = sprintf("%s: %s %s", prefix, truth$kind, truth$name), units = units,
             covered = rowMeans(matrix(inside, ncol = runs)))
}

# The share of `runs` seeded runs to a precision whose last interval covers the exact value.
covered_at_precision <- function(g, precision, measure, runs, prefix) {
  question <- with_measures(new_question(game(g)), measure)
  truth <- estimate_of(odds(g, engine = "exact", measure = measure), measure)$value
  inside <- vapply(seq_len(runs), function(seed) {
    found <- sample_to_precision(question, program_of(question), new_effort(precision = precision, seed = seed))
    at <- utils::tail(found$reached$stages, 1)
    at$lower <= truth && at$upper >= truth
  }, NA)
  data.frame(what = sprintf("%s to a precision of %g: %s", prefix, precision, measure), units = NA,
             covered = mean(inside))
}

# The share of `runs` seeded runs in which each measure's interval covers the exact value, of those that have one.
covered_measures <- function(g, measure, units, runs, prefix, players = list()) {
  question <- with_measures(new_question(game(g), players = players), measure)
  truth <- odds(g, engine = "exact", players = players, measure = measure)$measures$value
  program <- program_of(question)
  inside <- vapply(seq_len(runs), function(seed) {
    counts <- core_sample(program, seed + 5000, 1, units, 1L, NULL)
    got <- as_odds(new_tally(question, program, "sample", counts, seed = seed))$measures
    got$lower <= truth + 1e-12 & got$upper >= truth - 1e-12
  }, logical(length(measure)))
  inside <- matrix(inside, ncol = runs)
  without <- rowMeans(is.na(inside))
  data.frame(what = sprintf("%s: %s%s", prefix, measure, ifelse(without > 0.5 / runs, sprintf(
    " (none in %.1f%% of the runs)", 100 * without), "")), units = units, covered = rowMeans(inside, na.rm = TRUE))
}

# A visitor who doubles after a loss, over sittings of 30 rounds: stakes follow results.
doubling_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "state(won = no)", "bets(guest, line = bet(0, most = 16))",
               "wallet(guest, 40, needs = 1)",
               "play({", "ask(guest, amount = one_of(limits(line)))", "stake(guest, amount, on = line)",
               "won <- chance(18 / 37)", "})", "outcomes(win = won, loss = otherwise)",
               "settle(line, win = 1 %to% 1, otherwise = lost)", "sitting(rounds = 30)",
               "d <- player(amount = if (last_net(guest) < 0) min(wallet(guest), 16, 2 * last_stake(guest)) else 1)"),
             path)
  path
}

# A dear bet with a rare prize beside a cheap one: the return hangs on a few rounds.
rare_bet_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "wheel <- die(1:1000)", "state(n = 0)", "bets(guest, line = 1, more = 0)", "play({",
               "n <- roll(wheel)", "if (n > 900) stake(guest, 2, on = more)", "})",
               "outcomes(prize = n > 997, nothing = otherwise)",
               "settle(line, prize = 100 %to% 1, otherwise = lost)",
               "settle(more, prize = 20 %to% 1, otherwise = lost)"),
             path)
  path
}

# Sittings of many rounds, whose faces that win a setting says.
sitting_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c(readLines(lucky_faces_game()), "sitting(rounds = 50)"), path)
  path
}

# Two prizes, one of them so rare that a comparison may not see it.
unseen_prize_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "wheel <- die(1:10000)", "grand <- setting(100)", "state(n = 0)", "stakes(guest, 1)",
               "play({ n <- roll(wheel) })", "outcomes(grand_prize = n == 1, small = n <= 2000, nothing = otherwise)",
               "pays(guest, grand_prize = grand, small = 1, nothing = -1)"), path)
  path
}

# The share of `runs` comparisons whose interval of the edge covers the exact difference, of those that have one.
covered_edges <- function(g, set_new, units, runs, prefix) {
  edge <- function(set) odds(g, engine = "exact", set = set, measure = "edge(guest)")$measures$value
  truth <- edge(set_new) - edge(list())
  inside <- vapply(seq_len(runs), function(seed) {
    row <- compare_games(g, g, rounds = units, seed = seed + 5000, set_new = set_new, engine = "sample",
                         measure = "edge(guest)")$rows
    row <- row[row$kind == "measure", ]
    row$lower <= truth + 1e-12 & row$upper >= truth - 1e-12
  }, NA)
  without <- mean(is.na(inside))
  data.frame(what = sprintf("%s: difference of edge(guest) (none in %.1f%% of the runs)", prefix, 100 * without),
             units = units, covered = if (without < 1) mean(inside, na.rm = TRUE) else 1)
}

calibrations <- function(runs) {
  varied <- function(kind, name) TRUE
  jackpot <- function(kind, name) name %in% c("jackpot", "guest")
  is_record <- function(kind, name) kind == "record"
  list(covered_share("lantern-tiles", 2000, runs, "lantern-tiles", varied),
       covered_share(wheel_game(1e4, 8000), 2e5, runs, "a wheel, 1 in 10 000", jackpot),
       covered_share(wheel_game(500, 400), 1e4, runs, "a wheel, 1 in 500", jackpot),
       covered_share("five-winds", 400, runs, "five-winds (matches)", varied),
       covered_share(rare_prize_game(), 1000, runs, "1000 in 0.3% of the rounds", is_record),
       covered_share(rare_prize_game(), 2e4, runs, "1000 in 0.3% of the rounds", is_record),
       covered_at_precision("lantern-tiles", 0.006, "probability(outcome == guest_bust)", runs, "lantern-tiles"),
       covered_at_precision("lantern-tiles", 0.012, "mean_pay(guest)", runs, "lantern-tiles"),
       covered_at_precision(rare_prize_game(), 0.5, "mean(won)", runs, "1000 in 0.3% of the rounds"),
       covered_differences(lucky_faces_game(), list(lucky = 101), 1000, runs, "one face of 1000 more wins"),
       covered_differences(lucky_faces_game(), list(lucky = 101), 2e4, runs, "one face of 1000 more wins"),
       covered_measures("bell-cards", c("return_of(guest)", "edge(guest)", "edge(raise)", "return_of(chime)",
                                        "gain(raise)", "sd(pay[guest])"), 2000, runs, "bell-cards"),
       covered_measures(doubling_game(), c("edge(guest)", "mean_pay(guest)", "mean(final_wallet(guest))"), 400, runs,
                        "doubling after a loss (sittings)"),
       covered_measures(rare_bet_game(), c("return_of(guest)", "edge_per_token(guest)"), 2e4, runs, "a rare prize"),
       covered_differences("lantern-tiles", list(keeper_stands = 17), 1000, runs, "lantern-tiles, keeper_stands = 17"),
       covered_differences(sitting_game(), list(lucky = 120), 400, runs, "sittings, 20 faces of 1000 more win"),
       covered_differences(sitting_game(), list(lucky = 101), 200, runs, "sittings, one face of 1000 more wins"),
       covered_edges(unseen_prize_game(), list(grand = 4000), 1000, runs, "a prize of one in 10 000 raised"))
}
