# Two games on the same luck, and whether they play identically.

run_code <- function(...) { utils::capture.output(code <- command_main(c(...))); code }

rewritten <- function(find, replace, name = "lantern-tiles") {
  path <- tempfile(fileext = ".game")
  text <- paste(readLines(system.file("games", paste0(name, ".game"), package = "basanos")), collapse = "\n")
  changed <- sub(find, replace, text, fixed = TRUE)
  stopifnot(changed != text)
  writeLines(changed, path)
  path
}

test_that("differences are exact where both can be counted, and sampled ones agree with them", {
  exact <- compare_games("lantern-tiles", "lantern-tiles", set_new = list(keeper_stands = 17))
  expect_identical(exact$engine, "exact")
  a <- odds("lantern-tiles", engine = "exact")
  b <- odds("lantern-tiles", engine = "exact", set = list(keeper_stands = 17))
  expect_equal(exact$rows$difference[exact$rows$kind == "outcome"], b$outcomes$probability - a$outcomes$probability)
  expect_equal(exact$rows$difference[exact$rows$kind == "pay"], b$pays$mean - a$pays$mean)
  s <- compare_games("lantern-tiles", "lantern-tiles", rounds = 2e4, set_new = list(keeper_stands = 17),
                     engine = "sample")
  expect_lt(max(abs(s$rows$difference - exact$rows$difference) / pmax(s$rows$standard_error, 1e-9)), 4)
  moved <- s$rows[s$rows$standard_error > 0, ]
  expect_true(all(moved$gain > 2))  # the same luck pays
  expect_identical(s$rows$difference[s$rows$name == "guest_bust"], 0)
  expect_match(format(s), "20 000 rounds on the same luck", all = FALSE)
})

test_that("the interval of a paired difference covers, also of matches", {
  players <- list(left = "reef_fond")
  truth <- compare_games("tide-signs", "tide-signs", players_new = players)$rows
  covered <- vapply(1:100, function(seed) {
    r <- compare_games("tide-signs", "tide-signs", rounds = 500, seed = seed, players_new = players,
                       engine = "sample")$rows[1, ]
    r$lower <= truth$difference[[1]] && r$upper >= truth$difference[[1]]
  }, NA)
  expect_gt(mean(covered), 0.95 - 4 * sqrt(0.95 * 0.05 / 100))
  m <- compare_games("five-winds", "five-winds", rounds = 2000, set_new = list(target = 1), engine = "sample")
  wins <- m$rows[m$rows$name == "left_wins", ]
  expect_lt(abs(wins$difference - 0) / wins$standard_error, 4)  # rounds are the same, whatever the target
})

test_that("a file rewritten without a change of play is proved the same", {
  again <- same_play("lantern-tiles",
                        rewritten("while (!is_bust(guest_total)) {", "repeat {\n    if (is_bust(guest_total)) break"))
  expect_true(again$same && again$proved)
  expect_match(again$how, "proved on every branch of chance")
  expect_identical(run_code("compare", "tide-signs", "tide-signs", "--same"), 0L)
  unproved <- same_play("six-shells", "six-shells", rounds = 200)
  expect_true(unproved$same)
  expect_false(unproved$proved)
})

test_that("where they part the first unit is shown, both traced", {
  rare <- same_play("lantern-tiles",
                       rewritten("guest_total == aim && guest_tiles == 3", "guest_total == aim && guest_tiles == 2"))
  expect_false(rare$same)
  expect_false(identical(rare$old$outcome, rare$new$outcome))
  expect_identical(rare$old$events$value[rare$old$events$kind == "draw"][1:2],
                   rare$new$events$value[rare$new$events$kind == "draw"][1:2])
})

test_that("they part in what is drawn, declared, paid or recorded", {
  coin <- function(...)
    game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "play({ face <- roll(cube) })", ...)
  one <- coin("outcomes(six = face == 6, rest = otherwise)", "pays(guest, six = 5, rest = -1)")
  paid <- same_play(one,
                       coin("outcomes(six = face == 6, rest = otherwise)",
                            "pays(guest, six = 5, rest = if (face == 1) -2 else -1)"))
  expect_false(paid$same)
  expect_equal(paid$new$pays[[1]], -2)
  expect_identical(paid$old$events$value, paid$new$events$value)
  expect_match(same_play(one,
                            coin("outcomes(six = face == 6, others = otherwise)",
                                 "pays(guest, six = 5, others = -1)"))$how,
                                 "only the first has .*rest.*; only the second has .*others")
  expect_match(same_play(one, "tide-signs")$how, "outcomes")
  twice <- game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0)",
                   "play({ face <- roll(cube)\n face <- roll(cube) })", "outcomes(six = face == 6, rest = otherwise)",
                   "pays(guest, six = 5, rest = -1)")
  expect_false(same_play(one, twice)$same)
  expect_match(format(paid), "guest -1 +.*guest -2", all = FALSE)
  expect_identical(jsonlite::fromJSON(format_result(paid, "json"))$same, FALSE)
})

test_that("sittings are compared over sittings: an interval as wide as their spread says", {
  coin <- function(p) game_of("seats(guest)", sprintf("p <- setting(%s)", p), "stakes(guest, 1)", "state(won = no)",
                              "play({ won <- chance(p) })", "outcomes(win = won, lose = otherwise)",
                              "pays(guest, win = 1, lose = -1)", "sitting(rounds = 50)")
  rows <- compare_games(coin("0.5"), coin("0.52"), rounds = 1000, engine = "sample", measure = "edge(guest)")$rows
  expect_true(all(rows$upper - rows$lower < 5 * rows$standard_error))
  win <- rows[rows$name == "win", ]
  expect_true(win$lower < 0.02 && 0.02 < win$upper)
  expect_lt(win$upper - win$lower, 0.01)
})

test_that("a prize that a comparison has not seen leaves room in the interval of the edge", {
  rows <- compare_games(unseen_prize_game(), unseen_prize_game(), rounds = 1000, seed = 3, engine = "sample",
                        set_new = list(grand = 4000), measure = "edge(guest)")$rows
  edge <- rows[rows$kind == "measure", ]
  expect_true(is.na(edge$lower) || edge$lower <= -0.39)
})

test_that("returns and edges over the long run are compared with an interval, which holds the counted difference", {
  long_run <- function(first) odds("buoy-line", set = list(seed = first), engine = "exact",
                                   measure = "long_run_edge(guest)")$measures$value
  truth <- long_run(2) - long_run(3)
  rows <- compare_games("buoy-line", "buoy-line", set_new = list(seed = 2), engine = "sample", rounds = 4000, seed = 1,
                        measure = c("long_run_edge(guest)", "long_run_return(guest)"))$rows
  edge <- rows[rows$name == "long_run_edge(guest)", ]
  expect_lt(abs(edge$difference - truth), 4 * edge$standard_error)
  expect_true(edge$lower < truth && truth < edge$upper)
  back <- rows[rows$name == "long_run_return(guest)", ]
  expect_equal(back$difference, -edge$difference)
  expect_equal(back$standard_error, edge$standard_error)
})
