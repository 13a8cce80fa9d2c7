test_that("Wilson's interval is right, also at the ends", {
  w <- wilson_interval(c(0, 3, 10), c(10, 10, 10))
  expect_equal(w$lower, c(0, 0.1077913, 0.7224672), tolerance = 1e-6)
  expect_equal(w$upper, c(0.2775328, 0.6032219, 1), tolerance = 1e-6)
})

test_that("means and spreads come from the counts", {
  x <- c(rep(2, 5), rep(-1, 7), 10)
  m <- moments(list(value = c(-1, 2, 10), weight = c(7, 5, 1)), sampled = TRUE)
  expect_equal(m$mean, mean(x))
  expect_equal(m$sd, sd(x))
  expect_equal(m$standard_error, sd(x) / sqrt(13))
  expect_equal(collect_counts(c(3, 1, 3), c(5, 6, 7)), list(value = c(1, 3), weight = c(6, 12)))
})

test_that("the JSON has the promised shape", {
  exact <- jsonlite::fromJSON(result_json(odds("lantern-tiles")), simplifyDataFrame = FALSE)
  expect_identical(exact[c("engine", "unit", "game", "format")],
                   list(engine = "exact", unit = "round", game = "lantern-tiles", format = 3L))
  expect_identical(vapply(exact$outcomes, `[[`, "", "name"),
                   c("bright", "guest_bust", "keeper_bust", "tie", "guest_high", "keeper_high"))
  expect_setequal(names(exact$outcomes[[1]]), c("name", "probability"))
  expect_identical(exact$pays[[1]]$seat, "guest")
  expect_equal(exact$pays[[1]]$edge, -exact$pays[[1]]$mean)
  expect_identical(exact$settings$guest_stands, 19L)
  expect_identical(exact$players, list(guest = "careful"))
  sampled <- jsonlite::fromJSON(result_json(odds("dice-duel", engine = "sample", rounds = 1000)),
                                simplifyDataFrame = FALSE)
  expect_setequal(names(sampled$outcomes[[1]]), c("name", "probability", "standard_error", "lower", "upper"))
  expect_identical(sampled$pays, list())
  expect_match(result_json(odds("tide-signs")), '"settings": {}', fixed = TRUE)
  expect_equal(sum(vapply(sampled$records[[1]]$distribution, `[[`, 0, "probability")), 1)
})

test_that("the hash names the game with its settings and players", {
  hash <- function(...) odds("dice-duel", ...)$hash
  expect_identical(hash(), hash(set = list(sides = 8)))
  expect_false(hash() == hash(set = list(sides = 6)))
  expect_false(odds("tide-signs")$hash == odds("tide-signs", players = list(left = "steady"))$hash)
})

test_that("CSV and data frame have a line for each outcome, pay and record", {
  o <- odds("lantern-tiles", engine = "sample", rounds = 1000)
  d <- as.data.frame(o)
  money <- c("pay", "stake", "put_in", "return", "edge", "edge_per_token")
  expect_identical(d$kind, c(rep("outcome", 6), money, rep("record", 3)))
  read <- utils::read.csv(text = format_result(o, "csv"))
  expect_equal(read$value, d$value, tolerance = 1e-12)
  expect_setequal(names(read), c("game", "engine", "kind", "name", "by", "value", "standard_error", "lower", "upper",
                                 "sd", "least", "most", "complete"))
})

test_that("the text of exact and of sampled odds", {
  expect_snapshot(odds("lantern-tiles"), cran = TRUE)
  expect_snapshot(odds("lantern-tiles", engine = "sample", rounds = 1e5, seed = 7), cran = TRUE)
  expect_snapshot(odds("tide-signs"), cran = TRUE)
  expect_snapshot(game("lantern-tiles"), cran = TRUE)
})

test_that("settings are read from numbers and from text, and kept in range", {
  expect_equal(odds("dice-duel", set = list(sides = "6"))$outcomes, odds("dice-duel", set = c(sides = 6))$outcomes)
  g <- game_of("seats(a)", "loud <- setting(no)", "share <- setting(0.5, from = 0, to = 1)", "state(n = 0)",
               "play({ lucky <- chance(share)\n if (lucky && loud) n <- 1 })",
               "outcomes(one = n == 1, none_of_it = otherwise)")
  expect_equal(odds(g, set = list(loud = "yes", share = 0.25))$outcomes$probability[[1]], 0.25)
  expect_equal(odds(g, set = list(loud = TRUE))$outcomes$probability[[1]], 0.5)
  expect_equal(odds(g)$outcomes$probability[[1]], 0)
  expect_error(odds(g, set = list(loud = "maybe")), class = "basanos_setting_type")
  expect_error(odds(g, set = list(share = 1.5)), class = "basanos_setting_range")
  expect_error(odds(g, set = list(3)), class = "basanos_argument_wrong")
})

test_that("a figure is drawn from odds, and written whole", {
  skip_if_not_installed("ggplot2")
  figure <- figure_of(odds("tide-signs"), beside = list(odds("tide-signs", engine = "sample", rounds = 1000)))
  expect_s3_class(figure, "ggplot")
  built <- ggplot2::ggplot_build(figure)
  expect_equal(sort(built$data[[1]]$x), rep(1 / 3, 3))
  path <- tempfile(fileext = ".svg")
  save_figure(figure, path)
  expect_gt(file.size(path), 1000)
  expect_error(save_figure(figure, tempfile(fileext = ".jpg")), class = "basanos_format_unknown")
  expect_error(figure_of(3), class = "basanos_argument_wrong")
  settled <- odds("lantern-tiles", precision = 0.004)
  expect_equal(ggplot2::ggplot_build(figure_of(settled))$data[[3]]$y, settled$reached$stages$value)
  expect_error(figure_of(odds("tide-signs"), show = "convergence"), class = "basanos_argument_wrong")
})

test_that("distributions are told by value, with quantiles, in every format", {
  o <- odds("dice-duel")
  d <- as.data.frame(o, distributions = TRUE)
  first <- d[d$name == "first_score", ]
  expect_equal(sum(first$value), 1)
  expect_equal(first$cumulative, pmin(1, cumsum(first$value)))
  # Definition: the least value whose cumulative share is at least p.
  by_hand <- vapply(c(0.05, 0.25, 0.5, 0.75, 0.95), function(p) first$at[first$cumulative >= p][[1]], 0)
  json <- jsonlite::fromJSON(result_json(o), simplifyVector = FALSE)
  expect_equal(unlist(json$records[[1]]$quantiles, use.names = FALSE), by_hand)
  expect_named(json$records[[1]]$quantiles, c("5%", "25%", "50%", "75%", "95%"))
  text <- format(o, distributions = TRUE)
  expect_true(any(grepl("^first_score: 5% 1, 25% 2, 50% 3, 75% 4, 95% 5$", text)))
  said <- at_command_line("odds", "dice-duel", "--distributions", "--format", "csv")
  expect_match(said$out[[1]], '"upper","at","cumulative"$')
  expect_length(said$out, 1 + nrow(d))
  wide <- game_of("seats(guest)", "wheel <- die(0:999)", "state(n = 0)", "play({ n <- roll(wheel) })",
                  "outcomes(over = otherwise)", "record(n = n)")
  lines <- format(odds(wide), distributions = TRUE)
  table <- lines[(grep("^n: ", lines) + 2):length(lines)]
  table <- table[seq_len(which(table == "")[[1]] - 1L)]
  expect_length(table, 20)  # classes of fifty
  expect_match(table[[1]], "^ *0 to 49 +5[.]000% +5[.]00%$")
})

test_that("the par table takes return and variance apart", {
  t <- par_table("lantern-tiles")
  expect_equal(sum(t$rows$of_return), t$return)
  expect_equal(sum(t$rows$of_variance), 1)
  expect_equal(sum(t$rows$probability), 1)
  expect_equal(t$rows$of_return[t$rows$outcome == "bright"], 3 * t$rows$probability[t$rows$outcome == "bright"])
  expect_match(paste(format(t), collapse = "\n"), "the par table of guest.*guest_high +[+]1 .*Stake 1, return 103.")
  sampled <- par_table("lantern-twenty-one", engine = "sample", rounds = 2000)
  expect_equal(sum(sampled$rows$of_return), sampled$return)
  out <- capture.output(code <- command_main(c("odds", "three-bells", "--par", "--format", "csv")))
  expect_equal(code, 0)
  table <- utils::read.csv(text = out)
  expect_equal(sum(table$of_return), odds("three-bells")$pays$return)
  expect_error(par_table("lantern-tiles", "nobody_here"), class = "basanos_seat_unknown")
})
