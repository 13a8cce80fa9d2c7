# Best play written as players: their odds are the worth that was found.

written_best <- function(rules, ..., file = "best.R") {
  path <- file.path(new_folder(), file)
  list(best = best_play(rules, ..., quick = TRUE, write = path), path = path)
}

mean_pay <- function(w, rules, seat, players) {
  o <- odds(game(rules, w$path), players = players, measure = sprintf("mean_pay(%s)", seat), engine = "exact")
  o$measures$value[[1]]
}

test_that("one seat", {
  for (rules in c("lantern-tiles", "harbour-dice", "nine-shutters")) {
    w <- written_best(rules)
    close_to(mean_pay(w, rules, "guest", list(guest = "best")), w$best$value)
  }
  w <- written_best("lantern-bluff", players = list(late = "timid"))
  close_to(mean_pay(w, "lantern-bluff", "early", list(early = "best", late = "timid")), 11 / 90)
  expect_match(paste(format(w$best), collapse = "\n"), "--player early=best", fixed = TRUE)
  # only what tells the answers apart is a column
  tiles <- written_best("lantern-tiles")
  table <- utils::read.csv(tiles$best$written$tables)
  expect_named(table, c("guest_total", "answer"))
  expect_true(all((table$answer == "draw") == (table$guest_total < 19)))
})

test_that("two seats, mixes too", {
  w <- written_best("lantern-bluff", both = TRUE)
  players <- list(early = "best_early", late = "best_late")
  close_to(mean_pay(w, "lantern-bluff", "early", players), -347 / 5580)
  # neither can be beaten: the best answer to each comes to the same
  g <- game("lantern-bluff", w$path)
  close_to(best_play(g, "late", players = list(early = "best_early"), quick = TRUE)$value, 347 / 5580, 1e-8)
  close_to(best_play(g, "early", players = list(late = "best_late"), quick = TRUE)$value, -347 / 5580, 1e-8)
  w <- written_best("tide-signs", both = TRUE)
  o <- odds(game("tide-signs", w$path), players = list(left = "best_left", right = "steady"))
  expect_equal(o$outcomes$probability, rep(1 / 3, 3), tolerance = 1e-9)
  # a race: best play of both against another player is worse than the best answer to that player
  folder <- new_folder()
  rules <- file.path(folder, "race.game")
  writeLines(race_rules(12), rules)
  both <- best_play(rules, both = TRUE, objective = early_wins, write = file.path(folder, "best.R"))
  wins <- function(early, late) {
    o <- odds(game(rules, file.path(folder, "best.R")), players = list(early = early, late = late), engine = "exact")
    o$outcomes$probability[o$outcomes$name == "early_wins"]
  }
  close_to(wins("best_early", "best_late"), both$value)
  best_answer <- best_play(rules, objective = early_wins, players = list(late = "hold"), quick = TRUE)$value
  expect_gt(wins("best_early", "hold"), both$value)
  expect_lt(wins("best_early", "hold"), best_answer + 1e-12)
})

test_that("what cannot be written is refused, and nothing is left behind", {
  folder <- new_folder()
  path <- file.path(folder, "best.R")
  expect_error(best_play("moon-wheel", objective = "goal()", quick = TRUE, write = path), "wallet",
               class = "basanos_best_unclear")
  expect_error(best_play("last-pebble", exploit = "wild", write = path), class = "basanos_argument_wrong")
  expect_error(best_play("harvest-sheet", max_states = 50, write = path), class = "basanos_best_large")
  expect_length(list.files(folder), 0)
  writeLines("mine", path)
  expect_error(best_play("lantern-tiles", write = path), class = "basanos_file_there")
  expect_identical(readLines(path), "mine")
})
