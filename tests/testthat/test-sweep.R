# Sweeps: every point is what odds() says of it; the best, and what may be the best.

test_that("a sweep has a row for each combination and measure, each as odds() has it", {
  s <- sweep_game("lantern-tiles", set = list(keeper_stands = 17:18, aim = c(22, 24)),
                      players = list(guest = c("careful", "bold")), measure = c("edge(guest)", "mean(tiles)"))
  expect_equal(nrow(s$rows), 2 * 2 * 2 * 2)
  expect_identical(s$varied, c("keeper_stands", "aim", "guest"))
  for (k in c(1, 4, 7)) {
    point <- s$points[k, ]
    o <- odds("lantern-tiles", engine = "exact", set = list(keeper_stands = point$keeper_stands, aim = point$aim),
              players = list(guest = point$guest))
    own <- s$rows[2 * k - 1:0, ]
    expect_equal(own$value, c(o$pays$edge, o$records$mean[o$records$name == "tiles"]))
    expect_identical(own$engine, c("exact", "exact"))
  }
  edge <- s$rows[s$rows$measure == "edge(guest)", ]
  expect_equal(s$best, which.max(edge$value))
  expect_equal(s$may_be_best, s$best)
  near <- sweep_game("lantern-tiles", set = list(keeper_stands = 15:20), measure = "edge(guest)", best = 0.02)
  expect_equal(near$best, which.min(abs(near$rows$value - 0.02)))
  expect_null(sweep_game("lantern-tiles", set = list(keeper_stands = 17:18), measure = "edge(guest)", best = NULL)$best)
})

test_that("sampled points share their luck, and the best is a set", {
  ask <- function(...) sweep_game("bell-cards", set = list(qualifies_at = 6:8), measure = "edge(guest)",
                                      engine = "sample",
                                      rounds = 4000, ...)
  s <- ask(best = "lowest")
  expect_equal(s$best, 1)
  expect_equal(s$may_be_best, 1)  # a difference of twenty paired errors
  o <- odds("bell-cards", engine = "sample", rounds = 4000, set = list(qualifies_at = 7), measure = "edge(guest)")
  expect_equal(s$rows$value[[2]], o$measures$value)
  expect_equal(s$rows$lower[[2]], o$measures$lower)
  # players that play alike cannot be told apart
  path <- tempfile(fileext = ".game")
  writeLines(c('based_on("bell-cards")', "again <- player(like = cautious)"), path)
  alike <- sweep_game(path, players = list(guest = c("cautious", "again", "timid")), measure = "edge(guest)",
                          best = "lowest",
                          engine = "sample", rounds = 4000)
  expect_setequal(alike$may_be_best, 1:2)
  two <- ask(workers = 2)
  expect_equal(two$rows, s$rows)
})

test_that("the best is left out in at most one run of twenty, also where all are equal", {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "lucky <- setting(0, from = 0, to = 20)", "wheel <- die(1:100)", "state(n = 0)",
               "stakes(guest, 1)", "play({ n <- roll(wheel) })",
               "outcomes(win = (n + 5 * lucky) %% 100 < 40, loss = otherwise)",
               "pays(guest, win = 1, loss = -1)"), path)
  kept <- vapply(1:60, function(seed) {
    s <- sweep_game(path, set = list(lucky = 0:7), measure = "edge(guest)", engine = "sample", rounds = 500,
                    seed = seed)
    mean(1:8 %in% s$may_be_best)  # any of them may be called the best
  }, 0)
  expect_gte(mean(kept), 0.95 - 0.02)
  expect_lt(mean(kept), 1)
})

test_that("a sweep goes on from what it has kept", {
  path <- tempfile(fileext = ".json")
  ask <- function(of = "edge(guest)", ...) sweep_game("lantern-tiles", set = list(keeper_stands = 16:18), measure = of,
                                                          checkpoint = path, ...)
  first <- ask()
  kept <- jsonlite::fromJSON(path, simplifyVector = FALSE)
  kept$points <- kept$points[1:2]
  kept$points[[1]]$told[[1]]$value <- 0.5  # to see that it is read and not worked out again
  writeLines(as.character(jsonlite::toJSON(kept, auto_unbox = TRUE, digits = NA, null = "null")), path)
  again <- ask()
  expect_equal(again$rows$value, c(0.5, first$rows$value[-1]))
  expect_error(ask("mean(tiles)"), class = "basanos_checkpoint_other")
  writeLines("nothing", path)
  expect_error(ask(), class = "basanos_checkpoint_damaged")
})

test_that("what is no grid is refused before anything is worked out", {
  wrong <- function(..., class = "basanos_sweep_grid")
    expect_error(sweep_game("lantern-tiles", ..., measure = "edge(guest)"), class = class)
  wrong()
  wrong(set = list(keeper_stands = numeric()))
  wrong(set = list(keeper_stands = 1:200, aim = 1:200))
  wrong(set = list(keeper_stand = 15:19), class = "basanos_setting_unknown")
  wrong(set = list(keeper_stands = c(15, 500)), class = "basanos_setting_range")
  wrong(players = list(guest = c("careful", "bald")), class = "basanos_player_unknown")
  wrong(set = list(keeper_stands = 15), best = "middle")
  expect_error(sweep_game("lantern-tiles", set = list(aim = 24)), class = "basanos_argument_missing")
  expect_error(sweep_game("lantern-tiles", set = list(aim = 24), measure = "edg(guest)"),
               class = "basanos_measure_wrong")
  for (text in c("5:3", "1:9:0")) expect_error(swept_values(text), class = "basanos_sweep_grid")
  expect_equal(unlist(swept_values("15:25:5")), c(15, 20, 25))
  expect_equal(unlist(swept_values("yes,no")), c("yes", "no"))
})

test_that("sweep as a command: text, csv, json and figures", {
  out <- at_command_line("sweep", "lantern-tiles", "--set", "keeper_stands=17:19", "--player", "guest=careful,bold",
                         "--measure",
                         "edge(guest)", "--measure", "mean(tiles)", "--format", "json")$out
  json <- jsonlite::fromJSON(paste(out, collapse = "\n"), simplifyVector = FALSE)
  expect_length(json$rows, 6)
  expect_identical(json$rows[[2]]$settings$keeper_stands, 17L)
  expect_identical(json$rows[[2]]$players$guest, "bold")
  expect_identical(vapply(json$rows[[1]]$measures, `[[`, "", "name"), c("edge(guest)", "mean(tiles)"))
  sampled <- at_command_line("sweep", "lantern-tiles", "--set", "keeper_stands=17:18", "--measure", "edge(guest)",
                             "--engine",
                             "sample", "--rounds", "2000", "--format", "json")$out
  first <- jsonlite::fromJSON(paste(sampled, collapse = "\n"), simplifyVector = FALSE)$rows[[1]]$measures[[1]]
  expect_true(all(c("standard_error", "lower", "upper") %in% names(first)))
  text <- at_command_line("sweep", "lantern-tiles", "--set", "keeper_stands=17:19", "--measure", "edge(guest)",
                          "--quiet")
  expect_match(text$out, "is highest at keeper_stands = 19", all = FALSE)
  expect_identical(text$said, "")
  expect_identical(at_command_line("sweep", "lantern-tiles", "--set", "aim=24")$code, 2L)
  path <- tempfile(fileext = ".svg")
  for (set in list("keeper_stands=17:19", c("keeper_stands=17:18", "aim=23:24"),
                   c("keeper_stands=17:18", "aim=23:24", "high=11:12"))) {
    unlink(path)
    at_command_line("sweep", "lantern-tiles", rbind("--set", set), "--measure", "edge(guest)", "--figure", path)
    expect_gt(file.size(path), 2000)
  }
})
