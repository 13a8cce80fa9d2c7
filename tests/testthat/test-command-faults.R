# What reaches a user of the command line: results, clear errors, and where basanos itself is wrong one line that says
# so.

test_that("an error or a warning that nobody foresaw is one line that says whose fault it is, and exit code 3", {
  with_replaced("as_odds", function(tally) stop("a slip\nover two lines"), {
    got <- at_command_line("odds", "tide-signs", "--engine", "sample", "--rounds", "10")
  })
  expect_identical(got$code, 3L)
  expect_length(got$said, 1)
  expect_match(got$said, "This is a fault of basanos .*: a slip over two lines\\. Please report it.*\\[fault\\]")
  original <- outline_game
  with_replaced("outline_game", function(...) {
    warning("odd")
    original(...)
  }, got <- at_command_line("outline", "tide-signs"))
  expect_identical(got$code, 0L)
  expect_match(got$said, "This is a fault of basanos .*: odd\\.")
  expect_match(got$out, "Tide Signs", all = FALSE)
})

test_that("names of R's own lists are no trouble as names of a game", {
  for (name in c("open", "op", "type", "node", "var", "it", "at")) {
    if (name %in% c("it")) next
    body <- c("seats(a)", "book <- names(x, y)", sprintf("state(%s = bag(book, all))", name), "play({ end_round() })",
              "outcomes(over = otherwise)")
    expect_identical(odds(game_of(body))$outcomes$probability, 1, info = name)
  }
})

test_that("seats are a list like any other", {
  g <- game_of("seats(ann, bo)", "state(order = list(seats), n = 0)",
               "play({ order <- seats; for (s in seats + seats) add(1, to = n); say(\"{seats}\") })",
               "outcomes(over = otherwise)", "record(n = n)", 'always("in order", seats == order, when = end)')
  expect_identical(try_expression(g, "seats"), c("ann", "bo"))
  expect_equal(odds(g, given = "seats == order")$records$mean, 4)
  expect_true(check_game(g, findings = FALSE)$ok)
  expect_true("ann, bo" %in% trace_round(g)$events$value)
})

test_that("a position with an exact count that stops early gives bounds", {
  got <- at_command_line("odds", "lantern-tiles", "--at", "guest_total = 16", "--engine", "exact", "--max-states",
                         "200")
  expect_identical(got$code, 0L)
  expect_match(got$out, "at least", all = FALSE)
})

test_that("never is said of a position only where every way was followed", {
  expect_error(odds("lantern-tiles", engine = "exact", at = "guest_total = 500"), "never holds",
               class = "basanos_position_never")
  expect_error(odds("lantern-tiles", engine = "sample", rounds = 100, at = "guest_total = 500"), "never holds",
               class = "basanos_position_never")
  expect_error(odds("lantern-twenty-one", engine = "sample", rounds = 100, at = "action: size(hand) == 40"),
               "not met .* in 100 rounds", class = "basanos_position_unseen")
})

test_that("a figure's folder and kind are looked at, and names beyond ASCII are right in the C locale", {
  expect_identical(at_command_line("odds", "tide-signs", "--figure", "/no/such/folder/x.png")$code, 2L)
  expect_identical(at_command_line("odds", "tide-signs", "--figure", "x.pdf")$code, 2L)
  skip_if_not_installed("processx")
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(g\u00e4st)", "cube <- die(1:6)", "state(f\u00e6ce = 0)", "play({ f\u00e6ce <- roll(cube) })",
               "outcomes(h\u00f6her = f\u00e6ce > 4, nied\u0159ig = otherwise)"), path, useBytes = TRUE)
  code <- sprintf(".libPaths(%s); quit(status = basanos::command_main(c('odds', '%s', '--format', 'json')))",
                  paste(deparse(.libPaths()), collapse = ""), path)
  p <- processx::run(file.path(R.home("bin"), "Rscript"), c("-e", code),
                     env = c("current", LANG = "C", LC_ALL = "C", LANGUAGE = "en"), error_on_status = FALSE,
                     encoding = "UTF-8")
  expect_identical(p$status, 0L)
  expect_identical(jsonlite::fromJSON(p$stdout)$outcomes$name, c("h\u00f6her", "nied\u0159ig"))
})
