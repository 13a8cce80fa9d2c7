# Every knob of every game of the fair, turned one step: what is said to change pays alone is worked out both ways.

steps_of <- function(game, name, value) {
  s <- game$settings[[name]]
  end <- function(node, or) if (is.null(node)) or else constant_of(node, resolve_settings(game), game$source)
  if (is.null(s)) return(value + 0:1)
  if (s$type$kind == "yesno") return(NULL)
  step <- if (s$type$kind == "whole") 1 else value / 10
  values <- value + step * (-1:1)
  values[values >= end(s$from, -Inf) & values <= end(s$to, Inf)]
}

test_that("knobs of all the fair's games: a search finds what a sweep tells", {
  tried <- 0
  for (name in fair_games()) {
    g <- game(name)
    numbers <- Filter(function(n) n$kind == "pay", numbers_in_rules(g$nodes))
    knobs <- c(as.list(resolve_settings(g)),
               stats::setNames(lapply(numbers, `[[`, "value"), vapply(numbers, `[[`, "", "name")))
    seat <- Filter(function(s) puts_in(g, match(s, g$seats)), g$seats)
    of <- if (length(seat) > 0) sprintf("edge(%s)", seat[[1]]) else usual_share(g)
    rounds <- if (length(g$words$texts) > 0) 100 else 1000
    for (knob in names(knobs)) {
      values <- steps_of(g, knob, knobs[[knob]])
      if (length(values) < 2 || knob == "seated") next
      want <- sprintf("%s at least -900", of)
      text <- sprintf("%s in %s", knob, paste(format(values, digits = 12, trim = TRUE), collapse = ", "))
      b <- tryCatch(balance_game(g, want, text, engine = "sample", rounds = rounds, answers = 1, slip = 0),
                    basanos_knob_idle = function(e) NULL, basanos_setting_range = function(e) NULL,
                    basanos_tolerance_fine = function(e) NULL, basanos_knob_wrong = function(e) NULL)
      if (is.null(b)) next
      tried <- tried + 1
      ends <- b$influence[b$influence$knob == b$knobs[[1]]$name, ]
      swept <- sweep_game(g, set = stats::setNames(list(values), knob), measure = of, engine = "sample",
                          rounds = rounds,
                              best = NULL)$rows$value
      expect_equal(c(ends$least, ends$greatest), range(swept), tolerance = 1e-9, info = paste(name, knob))
    }
  }
  expect_gt(tried, 60)
})
