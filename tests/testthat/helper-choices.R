# How often what is said of a choice is wrong: "may be the best", "surely ahead", "met" and "missed". Used by the test and
# by bench/calibration.R.

# Points of a wheel whose wins lie elsewhere for each: alike but for `bonus` more faces of a thousand at point 3.
shifted_game <- function(bonus = 0) {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "point <- setting(0, from = 0, to = 20)", "wheel <- die(1:1000)", "state(n = 0)",
               "stakes(guest, 1)", "play({ n <- roll(wheel) })",
               sprintf("outcomes(win = (n + 50 * point) %%%% 1000 < 400 + (if (point == 3) %d else 0), loss = otherwise)",
                       as.integer(bonus)),
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

# list(wrong, size): how often the best is left out, and the mean size of the set.
best_kept <- function(game, set, best, rounds, runs) {
  game <- game(game)
  found <- lapply(seq_len(runs), function(seed)
    sweep_settings(game, set = set, of = "edge(guest)", best = "lowest", engine = "sample", rounds = rounds,
                   seed = seed)$may_be_best)
  list(wrong = mean(!vapply(found, function(set) best %in% set, NA)), size = mean(lengths(found)))
}

# Signs of which each player throws one more often: a circle, or all alike.
fond_signs_game <- function(fond = 1) {
  path <- tempfile(fileext = ".game")
  player <- function(name, weights) sprintf("%s <- player(throw = pick(reef = %g, boat = %g, squall = %g))", name,
                                            weights[[1]], weights[[2]], weights[[3]])
  writeLines(c("seats(left, right)", "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)",
               "play({ ask(seats, throw = one_of(sign)) })",
               "outcomes(wins = who(beats(throw[it], throw[other(it)])), draw = otherwise)",
               player("reefer", c(fond, 1, 1)), player("boater", c(1, fond, 1)), player("squaller", c(1, 1, fond))), path)
  path
}

# How often something false is sure, and how often all three pairs are.
sure_pairs <- function(game, rounds, runs, until = NULL) {
  game <- game(game)
  truth <- compare_players(game, engine = "exact")$advantage$sure
  found <- vapply(seq_len(runs), function(seed)
    compare_players(game, engine = "sample", rounds = rounds, seed = seed, until = until)$advantage$sure, truth)
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

choice_calibrations <- function(runs) {
  row <- function(what, rounds, found, power) data.frame(what = what, units = rounds, wrong = found$wrong, power = power)
  size <- function(found) sprintf("a set of %.2f", found$size)
  equal <- best_kept(shifted_game(), list(point = 0:7), 1, 500, runs)
  two <- best_kept(shifted_game(80), list(point = 0:7), 4, 500, runs)
  five <- best_kept(shifted_game(200), list(point = 0:7), 4, 500, runs)
  varied <- best_kept(one_in_game(), list(one_in = c(2, 4, 5, 10, 20)), 1, 2000, runs)
  rare <- best_kept(one_in_game(), list(one_in = c(2, 100, 200, 500)), 3, 2000, runs)
  alike <- sure_pairs(fond_signs_game(), 1000, runs)
  circle <- sure_pairs(fond_signs_game(3), 1000, runs)
  looks <- sure_pairs(fond_signs_game(), 8000, runs, until = 0.001)
  step <- judged_wrongly("edge(guest) at most 0.199", FALSE, 5000, runs)
  far <- judged_wrongly("edge(guest) at most 0.16", FALSE, 5000, runs)
  met <- judged_wrongly("edge(guest) at most 0.2", TRUE, 5000, runs)
  list(row("may be the best: eight equals", 500, equal, size(equal)),
       row("may be the best: one better by two errors", 500, two, size(two)),
       row("may be the best: one better by five errors", 500, five, size(five)),
       row("may be the best: equals of unequal variance", 2000, varied, size(varied)),
       row("may be the best: equals with rare prizes", 2000, rare, size(rare)),
       row("surely ahead: three alike", 1000, alike, "-"),
       row("surely ahead: a circle", 1000, circle, sprintf("whole in %.1f%%", 100 * circle$all)),
       row("surely ahead: three alike, looked at until 0.001", 8000, looks, "-"),
       row("met or missed: missed by a thousandth", 5000, step, sprintf("decided in %.1f%%", 100 * step$decided)),
       row("met or missed: missed by 0.04, three errors", 5000, far, sprintf("decided in %.1f%%", 100 * far$decided)),
       row("met or missed: met exactly", 5000, met, sprintf("decided in %.1f%%", 100 * met$decided)))
}
