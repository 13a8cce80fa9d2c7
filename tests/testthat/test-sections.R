# One source for every form: sections as text, Markdown and HTML; the numbers as CSV and JSON.

results <- list(odds("lantern-tiles", by = "guest_tiles"), odds("dice-duel", engine = "sample", rounds = 500),
                par_table("lantern-tiles"), odds_by_answer("moon-wheel", "field", set = list(spins = 1)),
                streaks(odds("tide-signs"), 20, 3), sweep_game("lantern-tiles", list(aim = 23:24),
                                                                   measure = "edge(guest)"),
                balance_game("lantern-tiles", "edge(guest) in 0.04..0.06", "pay(bright) in 1..6"),
                bankroll("lantern-tiles", evening_rounds = 5), takings("lantern-tiles", visits = 2, hours = 1,
                                                                       visit_rounds = 3),
                check_till("lantern-tiles", -5, 20), compare_players("tide-signs"), player_answers("lantern-tiles",
                                                                                                   rounds = 50),
                player_partings("lantern-tiles", player = "careful", other = "bold", rounds = 50),
                best_play("harbour-dice"), best_play("last-pebble", exploit = "wild"),
                best_play("lantern-bluff"), seat_fairness("dice-duel"), audit_modes("deep-well"),
                secret_odds("deep-well", rounds = 200),
                compare_games("lantern-tiles", "lantern-tiles", set_new = list(aim = 23)), check_game("tide-signs"),
                trace_round("lantern-tiles"),
                played_people(system.file("story", "evening.csv", package = "basanos")))

test_that("every result has each form, and all say the same", {
  skip_if_not_installed("htmltools")
  for (x in results) {
    of <- class(x)[[1]]
    parts <- sections(x)
    expect_s3_class(parts, "basanos_sections")
    text <- format_result(x)
    expect_identical(text, format(x), info = of)
    words <- function(lines) sort(unique(toupper(unlist(strsplit(trimws(lines), "[[:space:]]+")))))
    expect_identical(words(format(x, width = 70, titles = toupper)), words(text), info = of)
    cells <- trimws(unlist(lapply(parts, function(s) s$table)))
    bare <- function(lines) gsub("\\", "", paste(lines, collapse = "\n"), fixed = TRUE)
    markdown <- bare(format_result(x, "markdown"))
    html <- paste(format_result(x, "html"), collapse = "\n")
    for (cell in unique(cells[nzchar(cells)])) {
      expect_true(grepl(cell, paste(text, collapse = "\n"), fixed = TRUE), info = paste(of, cell))
      expect_true(grepl(cell, markdown, fixed = TRUE), info = paste(of, cell))
      expect_true(grepl(htmltools::htmlEscape(cell), html, fixed = TRUE), info = paste(of, cell))
    }
    json <- jsonlite::fromJSON(paste(format_result(x, "json"), collapse = "\n"), simplifyVector = FALSE)
    expect_true(json$format %in% 1:3, info = of)
    rows <- as.data.frame(x)
    expect_identical(class(rows), "data.frame", info = of)
    expect_identical(anyDuplicated(names(rows)), 0L, info = of)
    expect_identical(nrow(utils::read.csv(text = format_result(x, "csv"))), nrow(rows), info = of)
  }
})

test_that("print shows the text, summary its head", {
  x <- results[[1]]
  expect_output(print(x), "Lantern Tiles: counted exactly", fixed = TRUE)
  s <- summary(x)
  expect_s3_class(s, "basanos_sections")
  expect_length(s, 2)
  expect_identical(names(s[[2]]$table), c("outcome", "probability", "one in"))
})

test_that("Markdown tables escape what would break them, and numbers stand to the right", {
  lines <- basanos:::markdown_of(basanos:::all_sections(
    basanos:::section("A title:", list(name = c("a|b", "c_d"), n = c("1.5", "-")), "note")))
  expect_identical(lines[1:5], c("## A title", "", "| name | n |", "| :--- | ---: |", "| a\\|b | 1.5 |"))
  expect_identical(lines[[6]], "| c\\_d | - |")
})

test_that("an unknown form is refused", {
  expect_error(format_result(results[[1]], "pdf"), class = "basanos_format_unknown")
})
