# What is wrong with a call in R is said at the door, with the user's own call.

failed <- function(expr) tryCatch(expr, error = identity)

test_that("errors carry the call of the user, a class and fields", {
  e <- failed(odds("lantern-tiles", set = list(aim = 7000)))
  expect_s3_class(e, c("basanos_error", "error"))
  expect_identical(deparse(conditionCall(e)), "odds(\"lantern-tiles\", set = list(aim = 7000))")
  expect_true(all(c("id", "message", "hint") %in% names(e$diagnostics[[1]])))
  own <- function(g) takings(g, visits = -1)
  expect_identical(deparse(conditionCall(failed(own("lantern-tiles")))), "takings(g, visits = -1)")
})

test_that("a result in place of a game, values without names, expressions without quotes", {
  o <- odds("tide-signs")
  expect_error(odds(o), "A game is expected.*not a result \\(basanos_odds\\)", class = "basanos_file_missing")
  expect_error(trace_round(1:3), "not 3 values", class = "basanos_file_missing")
  expect_error(odds("lantern-tiles", set = list(21)), "`set` needs a name", class = "basanos_argument_wrong")
  expect_error(odds("lantern-tiles", players = "bold"), "players = list", class = "basanos_argument_wrong")
  expect_error(odds("lantern-tiles", by = guest_total), "by = \"guest_total\"", class = "basanos_argument_wrong")
  expect_error(odds("lantern-tiles", given = guest_total > 3), "in quotes: given = \"guest_total > 3\"",
               class = "basanos_argument_wrong")
  expect_error(trace_round("lantern-tiles", where = bright), "where = \"bright\"", class = "basanos_argument_wrong")
  by <- "guest_tiles"
  expect_identical(odds("lantern-tiles", by = by)$crossed_with, "guest_tiles")
})

test_that("an argument that is misspelt, given twice or of the wrong kind is an error with a hint", {
  wrong <- list(
    quote(sweep_game("lantern-tiles", list(aim = 23:24), measure = "edge(guest)",
                     roundz = 5)) ~ "did you mean `rounds`",
    quote(takings("lantern-tiles", vists = 3)) ~ "did you mean `visits`",
    quote(bankroll("lantern-tiles", walet = 3)) ~ "did you mean `wallet`",
    quote(compare_players("tide-signs", roundz = 3)) ~ "did you mean `rounds`",
    quote(par_table("lantern-tiles", ruonds = 3)) ~ "did you mean `rounds`",
    quote(as.data.frame(odds("tide-signs"), wrong = 1)) ~ "takes no argument `wrong`",
    quote(odds("lantern-tiles", set = list(aim = 21, aim = 22))) ~ "gives `aim` twice",
    quote(odds("lantern-tiles", set = list(aim = c(21, 22)))) ~ "must be one value",
    quote(odds("lantern-tiles", set = list(aim = factor(21)))) ~ "use as.character",
    quote(odds("lantern-tiles", set = list("pay(brighter)" = 3))) ~ "there is `pay\\(guest, bright\\)`",
    quote(odds("lantern-tiles", players = list(guest = c("bold", "careful")))) ~ "one of several by chance",
    quote(report_games("dice-duel", parts = "wrong")) ~ "must be one of `what_if`")
  for (case in wrong) expect_error(eval(case[[2]][[2]]), case[[3]], class = "basanos_error", info = case[[3]])
})
