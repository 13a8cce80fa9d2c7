# The published schema of the JSON, where a validator is there.

schema <- system.file("schema", "results.schema.json", package = "basanos")

test_that("the schema names every kind of result", {
  read <- jsonlite::fromJSON(schema, simplifyVector = FALSE)
  expect_setequal(names(read$`$defs`), c("odds", "par", "each", "streaks", "sweep", "balance", "bankroll", "takings",
                                         "till",
                                         "players", "several", "answers", "partings", "best", "fairness", "modes",
                                         "list",
                                         "comparison",
                                         "same", "check", "trace", "people"))
  expect_length(read$oneOf, length(read$`$defs`))
})

# A command that validates, as a vector of words; NULL where none works.
validator <- function() {
  works <- function(words) isTRUE(tryCatch(
    processx::run(words[[1]], c(words[-1], "--version"),
                  error_on_status = FALSE)$status == 0, error = function(e) FALSE))
  Find(works, list(c("/usr/bin/python3", "-m", "jsonschema"), c("python3", "-m", "jsonschema")))
}

test_that("results of other games are as the schema says", {
  skip_if_not_installed("processx")
  command <- validator()
  skip_if(is.null(command), "no validator is installed")
  others <- list(odds("harbour-dice", engine = "sample", rounds = 300), odds("last-pebble", engine = "sample",
                                                                             rounds = 300),
                 odds("moon-wheel", engine = "sample", rounds = 300), odds("six-shells", engine = "sample",
                                                                           rounds = 20),
                 par_table("moon-wheel"), streaks(odds("dice-duel"), 30, 2),
                 sweep_game("dice-duel", list(sides = 4:6), measure = "mean(first_score)"),
                 balance_game("moon-wheel", "return_of(guest) in 0.8..1", "spins in 38..42", engine = "sample",
                              rounds = 500),
                 bankroll("salt-draw", evening_rounds = 3, engine = "sample"), takings("moon-wheel", visits = 2,
                                                                                       hours = 1),
                 compare_players("keepers-three", rounds = 200), player_answers("keepers-three", rounds = 20),
                 seat_fairness("last-pebble"), audit_modes("deep-well", engine = "sample",
                                                           rounds = 50), check_game("bell-cards",
                                                                                                     findings = FALSE),
                 trace_round("keepers-three"), compare_games("dice-duel", "dice-duel", set_new = list(sides = 5)))
  for (x in others) {
    path <- tempfile(fileext = ".json")
    writeLines(format_result(x, "json"), path)
    run <- processx::run(command[[1]], c(command[-1], "-i", path, schema), error_on_status = FALSE)
    expect_identical(run$status, 0L, info = paste(class(x)[[1]], substr(run$stdout, 1, 600),
                                                  substr(run$stderr, 1, 600)))
  }
})
