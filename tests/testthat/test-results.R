# Every result turns into a data frame of one shape, is written in full, and draws itself where it has numbers.

first_columns <- c("game", "engine", "kind", "name", "by", "value", "standard_error", "lower", "upper")

some_results <- function() {
  kept <- system.file("story", "evening.csv", package = "basanos")
  list(
    exact = odds("lantern-tiles"), sampled = odds("dice-duel", engine = "sample", rounds = 200),
    bets = odds("buoy-line"), sitting = odds("moon-wheel", engine = "sample", rounds = 50),
    by = odds("lantern-tiles", engine = "sample", rounds = 2000, by = "guest_tiles", measure = "edge(guest)"),
    by_outcome = odds("dice-duel", by = "outcome"), at = odds("lantern-tiles", at = "guest_total = 16"),
    bounds = odds("lantern-tiles", engine = "exact", max_states = 200),
    match = odds("five-winds", engine = "sample", rounds = 200),
    par = par_table("lantern-tiles"), each = odds_by_answer("moon-wheel", "field", set = list(spins = 2)),
    streaks = streaks(odds("lantern-tiles"), 20, 3), bankroll = bankroll("lantern-tiles", evening_rounds = 5),
    played = bankroll("three-bells", evenings = 50, evening_rounds = 5, round_seconds = 10,
                      over_time = TRUE),
    takings = takings(c("lantern-tiles", "salt-draw"), visits = 2, hours = 1, visit_rounds = 3, cap = 1,
                      engine = "sample", rounds = 500),
    till = check_till("lantern-tiles", -60, 900), players = compare_players("tide-signs"),
    answers = player_answers("lantern-tiles", rounds = 100),
    partings = player_partings("lantern-tiles", player = "bold", other = "careful", rounds = 50),
    best = best_play("lantern-tiles"), best_both = best_play("last-pebble", both = TRUE),
    best_bounds = best_play("five-winds", max_states = 2000), exploit = best_play("last-pebble", exploit = "wild"),
    fairness = seat_fairness("dice-duel"), modes = audit_modes("deep-well", rounds = 500),
    list = secret_odds("deep-well", rounds = 200),
    compare = compare_games("lantern-tiles", "lantern-tiles", set_new = list(aim = 23)),
    same = same_play("tide-signs", "tide-signs"),
    balance = balance_game("lantern-tiles", "edge(guest) in 0..10%", "aim in 22..26"),
    sweep = sweep_game("lantern-tiles", list(aim = 23:24, keeper_stands = 17:18), measure = "edge(guest)"),
    check = check_game("lantern-tiles"), trace = trace_round("lantern-tiles"), kept = played_rounds(kept),
    people = played_people(kept))
}
results <- some_results()
with_figure <- setdiff(names(results), c("same", "check", "trace", "kept", "people", "bounds"))

test_that("every result turns into rows that begin with the same columns", {
  for (name in names(results)) {
    rows <- as.data.frame(results[[name]])
    expect_identical(names(rows)[seq_along(first_columns)], first_columns, info = name)
    expect_gt(nrow(rows), 0)
    expect_true(all(nzchar(rows$game)) && !anyNA(rows$game), info = name)
    expect_no_match(rows$kind, " ", info = name)
    for (number in c("value", "standard_error", "lower", "upper")) expect_type(rows[[number]], "double")
    known <- rows$engine %in% "exact" & !is.na(rows$value)
    expect_true(all(rows$standard_error[known] == 0 & rows$lower[known] == rows$value[known] &
                      rows$upper[known] == rows$value[known]), info = name)
    inside <- !is.na(rows$lower) & !is.na(rows$value)
    expect_true(all(rows$lower[inside] <= rows$value[inside] & rows$value[inside] <= rows$upper[inside]), info = name)
  }
  bound <- rbind(as.data.frame(results$exact)[first_columns], as.data.frame(results$sweep)[first_columns])
  expect_identical(unique(bound$game), "lantern-tiles")
})

test_that("odds of all games of the fair have the same columns", {
  frames <- lapply(fair_games(), function(g) as.data.frame(odds(g, engine = "sample", rounds = 100, seed = 1)))
  bound <- do.call(rbind, frames)
  expect_identical(unique(bound$game), fair_games())
  expect_identical(names(bound), c(first_columns, "sd", "least", "most", "complete"))
})

test_that("the rows have all that was asked for, with the numbers of the result", {
  row <- function(name, kind, of, by = NA) {
    rows <- as.data.frame(results[[name]])
    rows$value[rows$kind == kind & rows$name == of & rows$by %in% by]
  }
  expect_equal(row("exact", "outcome", "bright"), results$exact$outcomes$probability[[1]])
  expect_equal(row("exact", "edge", "guest"), results$exact$pays$edge)
  expect_equal(row("bets", "bet_return", "behind"), results$bets$bets$return[results$bets$bets$bet == "behind"])
  expect_equal(row("bets", "pot_level_when_paid", "glow"), results$bets$pots$level_when_paid)
  expect_equal(row("sitting", "unit_record", "final_wallet[guest]"), results$sitting$units$measures$mean[[1]])
  expect_equal(row("match", "winner", "left"), results$match$units$winners$probability[[1]])
  expect_equal(row("at", "outcome_after", "bright", "draw"), results$at$answers$bright[[1]])
  expect_equal(sum(as.data.frame(results$by)$value[as.data.frame(results$by)$kind == "share"]), 1)
  expect_equal(row("by_outcome", "measure", "mean(first_score)", "first_wins"),
               results$by_outcome$crossed_measures$measured[[1]])
  expect_equal(row("sweep", "measure", "edge(guest)", "aim=24, keeper_stands=18"), results$exact$pays$edge)
  expect_equal(row("balance", "target", "edge(guest) in 0..10%", "1"), results$balance$answers[[1]]$targets$value)
  expect_equal(row("bankroll", "ruin", "guest", "flat"), results$bankroll$measures$ruin)
  bounds <- as.data.frame(results$bounds)
  expect_true(all(is.na(bounds$value[bounds$kind == "outcome"]) & !bounds$complete[bounds$kind == "outcome"]))
  # a return is 1 less the edge, and the ends of its interval are exchanged
  rows <- as.data.frame(results$by)
  return <- rows[rows$kind == "return" & is.na(rows$by), ]
  edge <- rows[rows$kind == "edge" & is.na(rows$by), ]
  expect_equal(c(return$value, return$lower, return$upper), 1 - c(edge$value, edge$upper, edge$lower))
  values <- as.data.frame(results$exact, distributions = TRUE)
  expect_equal(sum(values$value[values$name == "tiles"]), 1)
  expect_equal(sum(values$value[values$kind == "pay"] * values$at[values$kind == "pay"]), results$exact$pays$mean)
})

test_that("CSV and JSON have every number to its last bit", {
  for (name in names(results)) {
    rows <- as.data.frame(results[[name]])
    back <- utils::read.csv(text = format_result(results[[name]], "csv"))
    expect_identical(as.numeric(back$value), rows$value, info = name)
  }
  json <- jsonlite::fromJSON(result_json(results$exact))
  expect_identical(json$outcomes$probability, results$exact$outcomes$probability)
  hard <- list(format = 1L, x = c(1 / 3, 0.1, 1e300 / 7, -2^-1060, 123456789012345678), none = NA_real_, text = "0.1")
  read <- jsonlite::fromJSON(paste(basanos:::json_text(hard), collapse = "\n"))
  expect_identical(read$x, hard$x)
  expect_null(read$none)
  expect_identical(read$text, "0.1")
})

test_that("every result with numbers draws itself", {
  skip_if_not_installed("ggplot2")
  for (name in with_figure) {
    figure <- ggplot2::autoplot(results[[name]])
    expect_s3_class(figure, "ggplot")
    expect_gt(sum(vapply(ggplot2::ggplot_build(figure)$data, nrow, 0L)), 0)
  }
  expect_error(plot(results$check), class = "basanos_argument_wrong")
})

test_that("tidy and glance are the rows and the question", {
  skip_if_not_installed("generics")
  for (name in names(results)) {
    expect_identical(as.data.frame(generics::tidy(results[[name]])), as.data.frame(results[[name]]), info = name)
    expect_identical(nrow(generics::glance(results[[name]])), 1L, info = name)
  }
  glance <- generics::glance(results$sampled)
  expect_identical(c(glance$game, glance$kind, glance$engine), c("dice-duel", "odds", "sample"))
  expect_identical(c(glance$rounds, glance$seed), c(200, 1))
})
