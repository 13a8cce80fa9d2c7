# How often what is said of a choice is wrong: "may be the best", "surely ahead", "met" and "missed". Used by the test
# and by bench/calibration.R.

# Points of a wheel whose wins lie elsewhere for each: alike but for `bonus` more faces of a thousand at point 3.
shifted_game <- function(bonus = 0) {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "point <- setting(0, from = 0, to = 20)", "wheel <- die(1:1000)", "state(n = 0)",
               "stakes(guest, 1)", "play({ n <- roll(wheel) })",
               sprintf("outcomes(win = (n + 50 * point) %%%% 1000 < 400 + (if (point == 3) %d else 0),",
                       as.integer(bonus)), "  loss = otherwise)",
               "pays(guest, win = 1, loss = -1)"), path)
  path
}

# Points that pay one in so many, at even odds: the rarer, the greater the variance.
one_in_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "one_in <- setting(2, from = 2, to = 1000)", "wheel <- die(1:1000)", "state(n = 0)",
               "stakes(guest, 1)", "play({ n <- roll(wheel) })", "outcomes(win = n * one_in <= 1000, loss = otherwise)",
               "pays(guest, win = one_in - 1, loss = -1)"), path)
  path
}

# list(wrong, size): how often the best, or one of several equals, is left out, and the mean size of the set.
best_kept <- function(game, set, best, rounds, runs) {
  game <- game(game)
  found <- lapply(seq_len(runs), function(seed)
    sweep_game(game, set = set, measure = "edge(guest)", best = "lowest", engine = "sample", rounds = rounds,
                   seed = seed)$may_be_best)
  list(wrong = mean(!vapply(found, function(set) all(best %in% set), NA)), size = mean(lengths(found)))
}

# Signs of which each player throws one more often: a circle, or all alike.
fond_signs_game <- function(fond = 1) {
  path <- tempfile(fileext = ".game")
  # written in different orders, so that the same luck does not make them the same
  player <- function(name, first) {
    order <- c("reef", "boat", "squall")[(0:2 + match(first, c("reef", "boat", "squall")) - 1) %% 3 + 1]
    sprintf("%s <- player(throw = pick(%s = %g, %s = 1, %s = 1))", name, order[[1]], fond, order[[2]], order[[3]])
  }
  writeLines(c("seats(left, right)", "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)",
               "play({ ask(seats, throw = one_of(sign)) })",
               "outcomes(wins = who(beats(throw[it], throw[other(it)])), draw = otherwise)",
               player("reefer", "reef"), player("boater", "boat"), player("squaller", "squall")), path)
  path
}

# How often something false is sure, and how often all three pairs are.
sure_pairs <- function(game, rounds, runs, until = NULL) {
  game <- game(game)
  truth <- compare_players(game, engine = "exact")$advantage$sure
  found <- matrix(unlist(lapply(seq_len(runs), function(seed)
    compare_players(game, engine = "sample", rounds = rounds, seed = seed, until = until)$advantage$sure)),
    length(truth))
  list(wrong = mean(apply(found, 2, function(sure) any(sure != 0 & sure != truth))),
       all = mean(apply(found, 2, function(sure) all(sure == truth))))
}

# How often the first answer is told to be met or missed and is not.
judged_wrongly <- function(target, truly_met, rounds, runs) {
  game <- game(shifted_game(20))
  found <- vapply(seq_len(runs), function(seed)
    balance_game(game, target, "point in 0..1", engine = "sample", rounds = rounds, seed = seed, answers = 1,
                 slip = 0)$answers[[1]]$targets$met, "")
  list(wrong = mean(found == if (truly_met) "missed" else "met"), decided = mean(found != "undecided"))
}

# Two players alike but for one round in 3000, and there equal on the mean: +1 with 0.9, -9 with 0.1.
rarely_apart_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "wheel <- die(1:3000)", "cube <- die(1:10)", "state(n = 0, m = 0)",
               "play({ ask(guest, bold = one_of(yes, no)); n <- roll(wheel); m <- roll(cube) })",
               "outcomes(apart = bold && n == 1, level = otherwise)",
               "pays(guest, if (n == 1) (if (!bold) 0 else if (m == 1) -9 else 1) else if (n > 1500) 1 else -1)",
               "calm <- player(bold = no)", "daring <- player(bold = yes)"), path)
  path
}

# One row a case: what, units, wrong, power. `each` goes through the cases, as lapply() does.
choice_calibrations <- function(runs, each = lapply) {
  kept <- function(what, game, set, best, rounds) function() {
    found <- best_kept(game, set, best, rounds, runs)
    data.frame(what = paste("may be the best:", what), units = rounds, wrong = found$wrong,
               power = sprintf("a set of %.2f", found$size))
  }
  sure <- function(what, game, rounds, until = NULL) function() {
    found <- sure_pairs(game, rounds, runs, until)
    data.frame(what = paste("surely ahead:", what), units = rounds, wrong = found$wrong,
               power = sprintf("all pairs right in %.1f%%", 100 * found$all))
  }
  judged <- function(what, target, truly_met) function() {
    found <- judged_wrongly(target, truly_met, 5000, runs)
    data.frame(what = paste("met or missed:", what), units = 5000, wrong = found$wrong,
               power = sprintf("decided in %.1f%%", 100 * found$decided))
  }
  each(list(
    sure("three alike, looked at until 0.001", fond_signs_game(), 8000, 0.001),
    sure("three alike", fond_signs_game(), 1000),
    sure("a circle", fond_signs_game(3), 1000),
    sure("alike but for one round in 3000", rarely_apart_game(), 20000),
    kept("six equals, any of them", shifted_game(), list(point = 0:5), 1:6, 500),
    kept("eight equals", shifted_game(), list(point = 0:7), 1, 500),
    kept("one better by two errors", shifted_game(80), list(point = 0:7), 4, 500),
    kept("one better by five errors", shifted_game(200), list(point = 0:7), 4, 500),
    kept("equals of unequal variance", one_in_game(), list(one_in = c(2, 4, 5, 10, 20)), 1, 2000),
    kept("equals with rare prizes", one_in_game(), list(one_in = c(2, 100, 200, 500)), 3, 2000),
    judged("missed by a thousandth", "edge(guest) at most 0.199", FALSE),
    judged("missed by 0.04, three errors", "edge(guest) at most 0.16", FALSE),
    judged("met exactly", "edge(guest) at most 0.2", TRUE)), function(case) case())
}
