# Figures of results: what is drawn where, with the fair's data and with awkward data.

skip_if_not_installed("ggplot2")
figure_of <- basanos:::figure_of
drawn <- function(figure, layer) ggplot2::ggplot_build(figure)$data[[layer]]

test_that("bars are the probabilities, in the order of the rules, beside what was sampled", {
  o <- odds("lantern-tiles")
  s <- odds("lantern-tiles", engine = "sample", rounds = 2000)
  figure <- expect_silent(ggplot2::autoplot(o, beside = list(s, odds("dice-duel"))))
  figure <- expect_silent(ggplot2::autoplot(o, beside = s))
  bars <- drawn(figure, 1)
  expect_equal(rev(bars$x[order(bars$y)]), o$outcomes$probability)
  points <- drawn(figure, 3)
  expect_equal(rev(points$x[order(points$y)]), s$outcomes$probability)
  labels <- drawn(figure, 4)
  expect_true(all(labels$x > pmax(bars$xmax[order(bars$y)],
                                  drawn(figure, 2)$xmax[order(drawn(figure, 2)$y)])[labels$y]))
})

test_that("what each answer leads to adds up", {
  o <- odds("lantern-tiles", at = "guest_total = 16")
  bars <- drawn(figure_of(o, show = "answers"), 1)
  expect_equal(as.vector(tapply(bars$xmax - bars$xmin, bars$y, sum)), c(1, 1))
  expect_error(figure_of(odds("lantern-tiles"), show = "answers"), class = "basanos_argument_wrong")
})

test_that("awkward data are drawn as well: one outcome, forty, rare ones, long names, no interval", {
  one <- game_of("seats(guest)", "cube <- die(1:100)", "state(a = 0)", "play({ a <- roll(cube) })",
                 "outcomes(always = otherwise)")
  name <- function(k) sprintf("%s_%d", strrep("long_", 7), k)
  forty <- game_of("seats(guest)", "cube <- die(1:40)", "state(a = 0)", "play({ a <- roll(cube) })",
                   paste0("outcomes(", paste0(name(1:39), " = a == ", 1:39, collapse = ",\n"), ", last = otherwise)"))
  rare <- game_of("seats(guest)", "cube <- die(1:1000)", "state(a = 0, b = 0)",
                  "play({ a <- roll(cube)\n b <- roll(cube) })",
                  "outcomes(rare = a == 1 && b == 1, usual = otherwise)")
  for (x in list(odds(one), odds(one, engine = "sample", rounds = 100), odds(forty), odds(rare))) {
    path <- tempfile(fileext = ".svg")
    expect_silent(basanos:::save_figure(figure_of(x), path))
    expect_gt(file.size(path), 1000)
  }
  height <- function(x) {
    path <- tempfile(fileext = ".svg")
    basanos:::save_figure(figure_of(x), path)
    as.numeric(sub(".*height=\"([0-9.]+)pt\".*", "\\1", grep("<svg ", readLines(path), value = TRUE)[[1]]))
  }
  expect_gt(height(odds(forty)), 1.5 * height(odds(one)))
})

test_that("width, height and scale", {
  folder <- tempfile()
  dir.create(folder)
  size <- function(...) {
    path <- file.path(folder, "a.svg")
    run <- at_command_line("odds", "tide-signs", "--figure", path, ...)
    expect_identical(run$code, 0L)
    head <- grep("<svg ", readLines(path), value = TRUE)[[1]]
    c(as.numeric(sub(".*width=\"([0-9.]+)pt\".*", "\\1", head)),
      as.numeric(sub(".*viewBox=\"0 0 ([0-9.]+) .*", "\\1", head)))
  }
  expect_equal(size(), c(720, 720))
  expect_equal(size("--width", "5"), c(360, 360))
  expect_equal(size("--width", "5", "--scale", "2"), c(360, 180))
  expect_identical(at_command_line("odds", "tide-signs", "--figure", file.path(folder, "a.png"), "--width", "no")$code,
                   2L)
})

test_that("plot draws and gives the figure back; what has none says so", {
  grDevices::pdf(NULL)
  withr <- on.exit(grDevices::dev.off())
  expect_s3_class(plot(odds("tide-signs")), "ggplot")
  expect_s3_class(plot(odds("lantern-tiles"), show = "distributions"), "ggplot")
  expect_error(plot(check_game("tide-signs")), class = "basanos_argument_wrong")
  expect_error(plot(odds("tide-signs"), show = "pie"), class = "basanos_argument_wrong")
})

test_that("the race counts what each seat has won, and stays where a match has ended", {
  g <- game("five-winds")
  rows <- simulate(g, 40, seed = 1)
  scores <- basanos:::scores_by_round(rows)
  last <- scores[scores$round == max(scores$round), ]
  expect_identical(nrow(last), 2L * 40L)
  first <- names(attr(rows, "wins"))[[1]]
  expect_identical(sum(last$score[last$seat == first]), sum(rows$outcome %in% attr(rows, "wins")[[first]]))
  expect_s3_class(figure_of(rows), "ggplot")
  expect_error(figure_of(simulate(game("dice-duel"), 3, seed = 1)), class = "basanos_argument_wrong")
})

test_that("a picture for a page has its own names and the page's colours", {
  skip_if_not_installed("htmltools")
  svg <- own_names(drawn_svg(figure_of(odds("tide-signs")), "Bars: \"a\" & b", height = 2), "here-1")
  expect_false(grepl("rgb(", svg, fixed = TRUE))
  expect_match(svg, "var(--gold)", fixed = TRUE)
  expect_match(svg, "aria-label=\"Bars: &quot;a&quot; &amp; b\"", fixed = TRUE)
  ids <- regmatches(svg, gregexpr("id=\"[^\"]*\"", svg))[[1]]
  expect_true(all(startsWith(ids, "id=\"here-1-")))
  links <- regmatches(svg, gregexpr("href=\"#[^\"]*\"", svg))[[1]]
  expect_true(all(sub("href=\"#", "id=\"", links) %in% ids))
})

test_that("figures say who plays, where somebody decides", {
  skip_if_not_installed("ggplot2")
  caption <- function(x, ...) figure_of(x, ...)$labels$caption
  expect_identical(caption(odds("lantern-tiles")), "guest plays careful")
  expect_null(caption(odds("dice-duel")))
  bold <- odds("lantern-tiles", players = list(guest = "bold"))
  expect_identical(caption(odds("lantern-tiles"), beside = list(bold)),
                   "Lantern Tiles: guest plays careful\nLantern Tiles: guest plays bold")
  expect_identical(caption(takings("lantern-tiles", visits = 2, hours = 1)), "lantern-tiles: guest plays careful.")
  sweep <- sweep_game("lantern-tiles", list(aim = 23:24), list(guest = c("careful", "bold")), measure = "edge(guest)")
  expect_null(caption(sweep))  # they are an axis
})

test_that("a picture in a page is the same whatever was drawn before it", {
  skip_if_not_installed("ggplot2")
  drawn <- function(name) {
    svg <- drawn_svg(figure_of(odds(name)), name, height = 2)
    gsub("(surface|clip)\\d*", "\\1", svg)
  }
  one <- drawn("tide-signs")
  other <- drawn("bell-cards")
  expect_identical(drawn("tide-signs"), one)
  expect_false(identical(other, one))
  expect_match(one, "id=\"glyph-1\"", fixed = TRUE)
  used <- unique(regmatches(one, gregexpr("(?<=#)glyph-\\d+", one, perl = TRUE))[[1]])
  named <- regmatches(one, gregexpr("(?<=id=\")glyph-\\d+", one, perl = TRUE))[[1]]
  expect_identical(named, used)
})
