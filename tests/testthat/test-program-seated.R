# One player or another by chance at a seat.

outcome_odds <- function(...) { o <- odds(...); stats::setNames(o$outcomes$probability, o$outcomes$name) }

test_that("a mix of players is the mixture of what each comes to", {
  fond <- outcome_odds("tide-signs", engine = "exact", players = list(left = "reef_fond", right = "reef_fond"))
  even <- outcome_odds("tide-signs", engine = "exact", players = list(left = "even", right = "reef_fond"))
  mixed <- odds("tide-signs", engine = "exact", players = list(left = "reef_fond:3, even:1", right = "reef_fond"))
  expect_equal(stats::setNames(mixed$outcomes$probability, mixed$outcomes$name), fond * 3 / 4 + even / 4)
  expect_equal(mixed$players$left, "reef_fond:3, even:1")
  tiles <- lapply(c("careful", "bold", "bold:0.5,careful:1.5"),
                  function(guest) odds("lantern-tiles", engine = "exact", players = list(guest = guest)))
  expect_equal(tiles[[3]]$pays$mean, tiles[[1]]$pays$mean * 0.75 + tiles[[2]]$pays$mean * 0.25)
  expect_equal(tiles[[3]]$records$mean, tiles[[1]]$records$mean * 0.75 + tiles[[2]]$records$mean * 0.25)
  sampled <- odds("lantern-tiles", engine = "sample", rounds = 1e5, players = list(guest = "bold:0.5,careful:1.5"))
  expect_lt(max(abs(sampled$outcomes$probability - tiles[[3]]$outcomes$probability) / sampled$outcomes$standard_error),
            4.5)
})

test_that("who sits down stays for the match", {
  game <- game_of("seats(a, b)", "play({ ask(a, x = one_of(hot, cold)) })",
                  "outcomes(warm = x == hot, chilly = otherwise)", "match(rounds = 3)", "record(hot = x == hot)",
                  "summer <- player(a, x = hot)", "winter <- player(a, x = cold)")
  mixed <- odds(game, engine = "sample", rounds = 1000, players = list(a = "summer:1, winter:1"))
  run <- sample_tally(game, 1000, players = list(a = "summer:1, winter:1"))
  # Three alike in every match: the spread of a match's share is that of its one seating.
  expect_equal(run$counts$rounds, 3000)
  expect_equal(sum(run$counts$outcomes %% 3), 0)
  expect_equal(mixed$outcomes$standard_error[[1]], sqrt(0.25 / 1000), tolerance = 0.02)
})

test_that("a trace tells who sits there, and holds as an example", {
  traces <- lapply(1:12,
                   function(unit)
                     trace_round("lantern-tiles", unit = unit, players = list(guest = "careful:1, bold:1")))
  seated <- vapply(traces, function(t) t$events$value[t$events$kind == "seated"], "")
  expect_setequal(seated, c("careful", "bold"))
  expect_match(paste(format(traces[[1]]), collapse = "\n"), sprintf("guest is %s", seated[[1]]), fixed = TRUE)
  lines <- unlist(lapply(traces[1:4], as_example))
  expect_match(paste(lines, collapse = " "), sprintf("given(guest = %s, ", seated[[1]]), fixed = TRUE)
  path <- file.path(tempdir(), "with-traces.game")
  writeLines(c(readLines(system.file("games", "lantern-tiles.game", package = "basanos")), lines), path)
  expect_true(check_game(path)$ok)
})

test_that("a mix that is none says how to write one", {
  wrong <- function(mix, class)
    expect_error(odds("lantern-tiles", players = list(guest = mix)), class = paste0("basanos_", class))
  for (mix in c("careful:", "careful:x", "careful:1,bold", "careful:0, bold:0", "careful:-1, bold:2",
                "careful:1, careful:2", "careful:1:2")) wrong(mix, "mix_wrong")
  wrong("careful:1, bald:2", "player_unknown")
})
