# Balance: against complete enumeration, and every answer proved by the odds of the file that was written.

# All combinations by odds() alone.
enumerated <- function(game, grid, measures, turn) {
  t(apply(grid, 1, function(row) odds(turn(row), engine = "exact", measure = measures)$measures$value))
}

coin_game <- function(win = 2, draw = 0, loss = -1, copies = 1, extra = NULL) {
  game_of(sprintf("cards <- deck(rank = 1:3, copies = c(4, 2, %d))", copies), "seats(guest)",
          "state(a = bag(cards, room = 1))", "play({ deal(1, to = a) })", "stakes(guest, 1)",
          "outcomes(win = max(a, rank) == 3, draw = max(a, rank) == 2, loss = otherwise)",
          sprintf("pays(guest, win = %g, draw = %g, loss = %g)", win, draw, loss), extra)
}

test_that("pays and copies: the answers are those of complete enumeration", {
  grid <- expand.grid(win = 1:6, draw = c(-1, -0.5, 0, 0.5), copies = 1:3)
  values <- enumerated(NULL, grid, c("edge(guest)", "gain(guest)", "volatility(guest)"),
                       function(row) coin_game(row[["win"]], row[["draw"]], copies = row[["copies"]]))
  met <- values[, 1] >= 0.02 - 1e-9 & values[, 1] <= 0.2 + 1e-9 & values[, 2] >= 0.3 - 1e-9
  steps <- cbind(abs(grid$win - 2), abs(grid$draw) / 0.5, grid$copies - 1)
  first <- order(!met, rowSums(steps > 0), rowSums(steps))[[1]]
  b <- balance_game(coin_game(), c("edge(guest) in 0.02..0.2", "gain(guest) at least 0.3"),
                    c("pay(win) in 1..6", "pay(draw) in -1..0.5 by 0.5", "copies(cards, 3) in 1..3"), answers = 20)
  expect_identical(b$status, "satisfied and complete")
  expect_equal(b$explored, list(combinations = 72, fits = sum(met), runs = 3, complete = TRUE))
  knobs <- b$answers[[1]]$knobs
  expect_equal(unlist(knobs[c("pay(guest, win)", "pay(guest, draw)", "copies(cards, 3)")], use.names = FALSE),
               unlist(grid[first, ], use.names = FALSE))
  expect_equal(b$answers[[1]]$targets$value, unname(values[first, 1:2]))
  # the least ups and downs of all that satisfy
  calm <- Filter(function(a) a$kind == "least ups and downs", b$answers)
  if (length(calm) > 0) expect_equal(calm[[1]]$elsewhere[["volatility(guest)"]], min(values[met, 3]))
  for (a in b$answers) {
    row <- which(grid$win == a$knobs[[2]] & grid$draw == a$knobs[[3]] & grid$copies == a$knobs[[1]])
    expect_true(met[[row]])
  }
})

test_that("where none satisfies, the nearest and the targets that fight are told", {
  wants <- c("edge(guest) at least 0.3", "gain(guest) at least 0.4", "mean(max(a, rank)) at most 3")
  b <- balance_game(coin_game(), wants, c("pay(win) in 0..4", "pay(draw) in 0..1"))
  expect_identical(b$status, "impossible")
  expect_setequal(b$conflicts, wants[1:2])
  grid <- expand.grid(win = 0:4, draw = 0:1)
  values <- enumerated(NULL, grid, c("edge(guest)", "gain(guest)"),
                       function(row) coin_game(row[["win"]], row[["draw"]]))
  miss <- pmax(0, pmax((0.3 - values[, 1]) / 0.3, (0.4 - values[, 2]) / 0.4))
  a <- b$answers[[1]]
  row <- which(grid$win == a$knobs[[1]] & grid$draw == a$knobs[[2]])
  expect_equal(miss[[row]], min(miss))
  expect_match(paste(format(b), collapse = "\n"), "No combination meets these 2 together")
  # weights say which counts
  heavy <- balance_game(coin_game(), c(paste(wants[[1]], "weight 9"), wants[[2]]),
                        c("pay(win) in 0..4", "pay(draw) in 0..1"))
  expect_lte(abs(0.3 - heavy$answers[[1]]$targets$value[[1]]), abs(0.3 - a$targets$value[[1]]))
})

test_that("pays of bets need one run: each measure is what odds() says of the changed rules", {
  wanted <- c("edge(guest)", "hit(guest)", "gain(guest)", "volatility(guest)", "return_of(line)")
  targets <- paste(wanted, "in -9..9")
  rules <- function(six, five) {
    cases <- sprintf("if (face == 6) %g %%to%% 1, if (face == 5) %g %%for%% 2, high = push, otherwise = lost", six,
                     five)
    c("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "bets(guest, line = bet(2), side = 1)",
      "play({ face <- roll(cube) })", "outcomes(high = face > 3, low = otherwise)", sprintf("settle(line, %s)", cases),
      "settle(side, high = 1 %to% 1, otherwise = lost)")
  }
  b <- balance_game(do.call(game_of, as.list(rules(3, 3))), targets,
                    c("pay(line, 1) in 0..4", "pay(line, 2) in 1..7", "pay(side, high) in 1..2"), answers = 6)
  expect_equal(b$explored$runs, 1)
  expect_equal(b$explored$combinations, 70)
  expect_true(all(b$influence$least <= b$influence$greatest))
  expect_s3_class(figure_of(b), "ggplot")
  expect_error(figure_of(1), class = "basanos_argument_wrong")
  own <- b$influence[b$influence$knob == "pay(line, 1)", ]
  ends <- lapply(c(0, 4), function(six) odds(do.call(game_of, as.list(rules(six, 3))), engine = "exact",
                                             measure = wanted)$measures$value)
  expect_equal(own$from, ends[[1]])
  expect_equal(own$to, ends[[2]])
})

test_that("what is written is the same file with other numbers, and its odds are those of the answer", {
  path <- tempfile(fileext = ".game")
  b <- balance_game("lantern-tiles", c("edge(guest) in 4%..6%", "mean(tiles) at most 6"),
                    c("pay(bright) in 1..6", "keeper_stands in 15..21", "aim in 20..26 by 2"), write = path)
  before <- readLines(system.file("games", "lantern-tiles.game", package = "basanos"))
  after <- readLines(path)
  expect_length(after, length(before))
  expect_equal(sum(before != after), length(b$written$changes))
  o <- odds(path, engine = "exact", measure = c("edge(guest)", "mean(tiles)"))
  expect_equal(o$measures$value, b$answers[[1]]$targets$value)
  expect_error(balance_game(path, "edge(guest) in 0..1", "aim in 20..26 by 2", write = path),
               class = "basanos_file_there")
  expect_identical(readLines(path), after)
  # a variant says again what changes of its base
  variant <- tempfile(fileext = ".game")
  writeLines(c('based_on("lantern-tiles")', "aim <- setting(22, from = 3, to = 200)  # lower"), variant)
  out <- tempfile(fileext = ".game")
  v <- balance_game(variant, "edge(guest) in 4%..6%", c("pay(bright) in 1..6", "keeper_stands in 15..21"), write = out)
  expect_identical(readLines(out)[1:2], readLines(variant))
  expect_equal(odds(out, engine = "exact", measure = "edge(guest)")$measures$value, v$answers[[1]]$targets$value)
})

test_that("a target for all of some players holds for each of them", {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "prize <- setting(2, from = 0, to = 9)", "top <- setting(10, from = 6, to = 14)",
               "tile <- die(1:6)", "state(total = 0)", "stakes(guest, 1)",
               "play({ repeat { add(roll(tile), to = total)", "  if (total > top) break",
               "  ask(guest, press = one_of(on, stop))", "  if (press == stop) break } })",
               "outcomes(bust = total > top, good = total >= top - 1, low = otherwise)",
               "pays(guest, bust = -1, good = prize, low = -1)",
               "stopper <- function(at = 9) player(press = if (total >= at) stop else on)",
               "timid <- player(press = stop)"), path)
  knobs <- c("prize in 0..4", "top in 8..12")
  b <- balance_game(path, "edge(guest) at least 2% for all of stopper(5:7), timid", knobs,
                    players = list(guest = "stopper(9)"))
  named <- c(sprintf("stopper(%d)", 5:7), "timid")
  expect_identical(b$today$target, sprintf("edge(guest) at least 2%% with guest = %s", named))
  # one combination after the other, one player after the other
  edges <- function(set, players) vapply(players, function(player) odds(path, set = set, players = list(
    guest = player), engine = "exact", measure = "edge(guest)")$measures$value, 0, USE.NAMES = FALSE)
  all <- expand.grid(prize = 0:4, top = 8:12)
  met <- apply(all, 1, function(set) all(edges(as.list(set), named) >= 0.02))
  expect_equal(b$explored$fits, sum(met))
  expect_gt(sum(met), 0)
  expect_equal(b$explored$runs, 5 * (1 + 4))  # for each `top`: as today, and each of the four
  for (answer in b$answers) {
    expect_equal(answer$targets$value, edges(answer$knobs, named), tolerance = 1e-12)
    expect_true(met[all$prize == answer$knobs$prize & all$top == answer$knobs$top])
    expect_equal(answer$slipping, edges(answer$knobs, paste0(named, "~0.05")), tolerance = 1e-12)
    expect_null(answer$players)
  }
  # pays that follow from one run and those that need one each come to the same; what is written keeps its word
  both <- balance_game(path, c("gain(guest) at least 10%", "edge(guest) in 2%..60% for all of stopper(7:8)"),
                       c("top in 8..12", "pay(guest, bust) in -2..0"), players = list(guest = "stopper(9)"),
                       write = out <- tempfile(fileext = ".game"))
  expect_equal(both$answers[[1]]$targets$value[-1], vapply(c("stopper(7)", "stopper(8)"), function(player)
    odds(out, players = list(guest = player), engine = "exact", measure = "edge(guest)")$measures$value, 0),
    tolerance = 1e-12, ignore_attr = TRUE)
  sampled <- balance_game(path, "edge(guest) at least 2% for all of stopper(5), timid", knobs, engine = "sample",
                          rounds = 4000, players = list(guest = "stopper(9)"))
  expect_lt(abs(sampled$answers[[1]]$targets$value[[1]] - edges(sampled$answers[[1]]$knobs, "stopper(5)")), 0.1)
  wrong <- function(want, class, game = path) expect_error(
    balance_game(game, want, "top in 8..12", players = list(guest = "timid")), class = paste0("basanos_", class))
  wrong("edge(guest) at least 2% for all of nobody", "player_unknown")
  wrong("edge(guest) at least 2% for all of stopper(7:5)", "sweep_grid")
  wrong("edge(guest) at least 2% for all of ", "target_wrong")
  wrong("mean(first_score) at least 2 for all of best", "target_wrong", "dice-duel")
  expect_identical(target_sentence("edge(guest) at least 2% with guest = stopper(5)"),
                   "the stall keeps at least 2% when guest plays stopper(5)")
})

test_that("modes, letters, seats in step, players that slip", {
  b <- balance_game("deep-well", "probability(outcome == found) near 80%", "mode in shallow, middling, fathomless")
  expect_identical(b$answers[[1]]$knobs$mode, "shallow")
  expect_lt(b$answers[[1]]$slipping, b$answers[[1]]$targets$value)
  o <- odds("deep-well", engine = "exact", players = list(guesser = "halver~0.05"), mode = "shallow")
  expect_equal(b$answers[[1]]$slipping, o$outcomes$probability[[1]])
  fair <- balance_game("dice-duel",
                       "probability(outcome == first_wins) within 0.001 of probability(outcome == second_wins)",
                       "rounds in 5..9")
  expect_equal(fair$answers[[1]]$targets$value, 0)
  folder <- tempfile()
  dir.create(folder)
  writeLines(c("net", "ten", "reef", "boat", "gull"), file.path(folder, "some.txt"))
  path <- file.path(folder, "letters.game")
  writeLines(c('secrets <- words("some.txt", length = 3)', "seats(guest)", "state(w = one(secrets), n = 0)",
               "play({ w <- pick(secrets); n <- 1 })", "stakes(guest, 1)", "outcomes(over = otherwise)",
               "record(letters = size(w))", "pays(guest, over = 0)"), path)
  by_length <- balance_game(path, "mean(letters) at least 3.5", "letters(secrets) in 3, 4")
  expect_equal(by_length$answers[[1]]$knobs[["letters(secrets)"]], 4)
  expect_equal(by_length$today$value, 3)
  writeLines(c("net", "sea"), file.path(folder, "few.txt"))
  out <- file.path(folder, "fewer.game")
  writeLines(c("net", "sea", "oar", "bay"), file.path(folder, "more.txt"))
  out <- file.path(folder, "more.game")
  by_file <- balance_game(path, "probability(w == \"net\") at most 0.3", "words(secrets) in some.txt, more.txt",
                          write = out)
  expect_identical(by_file$answers[[1]]$knobs[["words(secrets)"]], "more.txt")
  expect_match(readLines(out)[[1]], "more.txt")
  expect_equal(odds(out, engine = "exact", measure = "probability(w == \"net\")")$measures$value, 1 / 4)
})

test_that("sampled: fresh luck judges, what surely misses leaves, and nothing claims to be complete", {
  ask <- function(...) balance_game("bell-cards", "gain(guest) at least 0.38", "qualifies_at in 5..9",
                                    engine = "sample", ...)
  b <- ask(rounds = 2e4)
  expect_identical(b$status, "best found")
  expect_false(b$explored$complete)
  expect_identical(b$answers[[1]]$targets$met, "met")
  expect_lt(b$answers[[1]]$knobs$qualifies_at, 7)
  expect_identical(b$today$met, "missed")
  expect_identical(ask(rounds = 3333)$status, "best found")  # no multiple of five
  exact_free <- ask(rounds = 2e4, workers = 2)
  expect_equal(exact_free$answers, b$answers)
  expect_error(balance_game("bell-cards", "edge(guest) in 0.05..0.0501", "qualifies_at in 5..9", rounds = 1e4),
               class = "basanos_tolerance_fine")
})

test_that("nothing is written where nothing satisfies, and a sweep turns the same numbers", {
  path <- tempfile(fileext = ".game")
  b <- balance_game("lantern-tiles", "edge(guest) at least 0.9", "pay(bright) in 1..3", write = path)
  expect_identical(b$status, "impossible")
  expect_false(file.exists(path))
  expect_match(paste(format(b), collapse = "\n"), "Nothing was written")
  s <- sweep_game("lantern-tiles", set = list("pay(bright)" = 1:3, aim = c(22, 24)), measure = "edge(guest)")
  o <- balance_game("lantern-tiles", "edge(guest) in -9..9", c("pay(bright) in 1..3", "aim in 22, 24"))
  expect_equal(s$rows$value[s$points$aim == 24][c(1, 3)],
               unlist(o$influence[o$influence$knob == "pay(guest, bright)", c("from", "to")], use.names = FALSE))
  expect_error(sweep_game("lantern-tiles", set = list("pay(brigt)" = 1:3), measure = "edge(guest)"),
               class = "basanos_setting_unknown")
})

test_that("from the command line: text, JSON that can be read back, a figure, and an exit code", {
  run <- at_command_line("balance", "lantern-tiles", "--want", "edge(guest) in 0.04..0.06", "--want",
                         "volatility(guest) at most 2", "--knob", "pay(bright) in 1..6", "--knob",
                         "keeper_stands in 15..21", "--format", "json")
  expect_equal(run$code, 0L)
  json <- jsonlite::fromJSON(paste(run$out, collapse = "\n"), simplifyVector = FALSE)
  expect_identical(json$status, "satisfied and complete")
  expect_true(all(c("answers", "conflicts", "explored") %in% names(json)))
  first <- json$answers[[1]]
  o <- odds("lantern-tiles", engine = "exact", set = list(keeper_stands = first$knobs$keeper_stands))
  bright <- o$outcomes$probability[o$outcomes$name == "bright"]
  paid <- o$pays$edge - bright * (first$knobs[["pay(guest, bright)"]] - 2)
  expect_equal(first$measures[[1]]$value, paid)
  bold <- odds("lantern-tiles", engine = "exact", set = list(keeper_stands = first$knobs$keeper_stands),
               players = list(guest = "bold"))
  by_bold <- bold$pays$edge - bold$outcomes$probability[[1]] * (first$knobs[["pay(guest, bright)"]] - 2)
  expect_equal(first$targets[[1]]$players$bold, by_bold)
  none <- at_command_line("balance", "lantern-tiles", "--want", "edge(guest) in 0.4..0.6", "--knob",
                          "pay(bright) in 1..6")
  expect_equal(none$code, 1L)
  expect_match(paste(none$out, collapse = "\n"), "No combination meets all targets")
})

# A card counts as much as a setting says: worked out while compiling, not where anything is paid.
ace_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "stakes(guest, 1)", "ace_worth <- setting(14, from = 1, to = 14)",
               "cards <- deck(name = c(two, three, ace), points = c(2, 3, ace_worth))", "state(shown = one(cards))",
               "play({ shown <- draw(cards) })", "outcomes(won = points(shown) > 2, lost = otherwise)",
               "pays(guest, won = 1, lost = -1)"), path)
  path
}

test_that("a setting in a column is no pay: what it does is found", {
  b <- balance_game(ace_game(), "gain(guest) in 30%..40%", "ace_worth in 1..14")
  expect_identical(b$status, "satisfied and complete")
  expect_equal(b$explored$fits, 2)
  expect_equal(b$explored$runs, 14)
  expect_equal(b$answers[[1]]$targets$value, 1 / 3)
})

test_that("pays that follow from one run are worked out by runs of their own as well, and a difference is a fault", {
  wrong <- function(form, index) if (nrow(index) == 1 && index[[1]] == 2) values_by_pays_as_is(form, index) else
    values_by_pays_as_is(form, index) + 0.1
  values_by_pays_as_is <- get("values_by_pays", asNamespace("basanos"))
  expect_error(with_replaced("values_by_pays", wrong,
                             balance_game(coin_game(), "edge(guest) in 0..1", "pay(win) in 1..6")),
               class = "basanos_engines_disagree")
  spread <- spread_over(c(3, 5), 3, 1)
  expect_true(all(vapply(spread, function(k) all(k >= 1 & k <= c(3, 5)), NA)))
  expect_gt(length(unique(lapply(1:20, function(seed) spread_over(c(3, 5), 1, seed)))), 8)
})

test_that("how many combinations fit, one well inside, and any answer written", {
  want <- "edge(guest) in -0.2..0.3"
  knobs <- c("pay(win) in 0..6", "pay(draw) in -1..0")
  b <- balance_game(coin_game(), want, knobs)
  grid <- expand.grid(win = 0:6, draw = -1:0)
  edge <- enumerated(NULL, grid, "edge(guest)", function(row) coin_game(row[["win"]], row[["draw"]]))
  expect_equal(b$explored$fits, sum(edge >= -0.2 - 1e-9 & edge <= 0.3 + 1e-9))
  kinds <- vapply(b$answers, `[[`, "", "kind")
  inside <- b$answers[[match("well inside the targets", kinds)]]
  expect_equal(abs(inside$targets$value - 0.05), min(abs(edge - 0.05)))
  expect_match(format(b), "[0-9]+ of 14 combinations meet them", all = FALSE)
  path <- tempfile(fileext = ".game")
  rules <- tempfile(fileext = ".game")
  writeLines(coin_game()$source$lines, rules)
  written <- balance_game(rules, want, knobs, write = path, answer = 2)
  expect_equal(written$written$answer, 2)
  expect_equal(odds(path, engine = "exact", measure = "edge(guest)")$measures$value, written$answers[[2]]$targets$value)
  expect_error(balance_game(rules, "edge(guest) at most -5", knobs, write = tempfile(), answer = 5),
               class = "basanos_argument_wrong")
  run <- at_command_line("balance", rules, "--want", want, "--knob", knobs[[1]], "--write", tempfile(), "--answer", "2")
  expect_identical(run$code, 0L)
  # today's rules are named so
  today <- balance_game(coin_game(), "edge(guest) in 0..1", "pay(win) in 1..4")
  expect_true("today's rules, unchanged" %in% vapply(today$answers, `[[`, "", "kind"))
})

test_that("the smallest set that fights: one that is impossible alone is named", {
  b <- balance_game(coin_game(), c("edge(guest) at least 0.3", "gain(guest) at least 0.4", "hit(guest) at least 99%"),
                    c("pay(win) in 0..4", "pay(draw) in 0..1"))
  expect_identical(b$conflicts, "hit(guest) at least 99%")
  expect_match(format(b), "This target cannot be met", all = FALSE)
  patterns <- rbind(c(TRUE, TRUE, FALSE, TRUE), c(TRUE, FALSE, TRUE, TRUE), c(FALSE, TRUE, TRUE, TRUE))
  targets <- lapply(letters[1:4], function(x) list(text = x, weight = 1))
  # no two of a, b, c fight, all three do
  expect_identical(conflict_of(patterns, targets), list(targets = c("a", "b", "c"), alone = FALSE))
  expect_identical(conflict_of(patterns & FALSE, targets)$targets, letters[1:4])
  expect_true(conflict_of(patterns & FALSE, targets)$alone)
})

test_that("a mode is a change, where today's rules play in none", {
  b <- balance_game("deep-well", "probability(outcome == found) in 0..1", "mode in shallow, fathomless", answers = 2)
  expect_true(all(vapply(b$answers, `[[`, 0, "changed") == 1))
})

test_that("where nothing fits, the knobs at the end of their range are named", {
  b <- balance_game("lantern-tiles", "edge(guest) at least 30%", c("aim in 22..26", "keeper_stands in 17..19"))
  expect_identical(b$status, "impossible")
  expect_identical(unlist(b$answers[[1]]$knobs), c(aim = 22, keeper_stands = 19))
  expect_match(format(b), "with aim, keeper_stands at the end of their range", all = FALSE)
  inside <- balance_game("lantern-tiles", "edge(guest) is 0.0123", "aim in 22..26")
  expect_no_match(format(inside), "end of its range")
})
