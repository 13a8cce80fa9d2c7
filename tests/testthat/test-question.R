# A result knows the call and the command line that make it again.

# The words of a command line, as the shell takes them apart.
shell_words <- function(text) scan(text = text, what = "", quote = "'", quiet = TRUE)

# Every kind of result, asked with arguments that are not as usual wherever there is one.
asked_results <- function() {
  mine <- tempfile(fileext = ".game")
  file.copy(system.file("games", "lantern-tiles.game", package = "basanos"), mine)
  pays <- list(keeper_stands = 17, "pay(bright)" = 2.5)
  bold <- list(guest = "bold")
  list(
    odds("lantern-tiles", pays, bold, measure = c("edge(guest)", "mean(tiles)"), record = c(more = "tiles - 1"),
         given = "guest_tiles > 1", by = "guest_tiles > 3", engine = "sample", rounds = 2000, seed = 5, threads = 2),
    odds(mine, engine = "exact", max_states = 3000, max_seconds = 100), odds("dice-duel", without = "first_score"),
    odds("lantern-tiles", pays, bold, at = "guest_total = 16"), odds("deep-well", mode = "shallow", engine = "sample",
                                                                    rounds = 50, precision = 0.2),
    odds(c("tide-signs", "dice-duel"), engine = "sample", rounds = 100, seed = 2),
    par_table("lantern-tiles", set = pays, players = bold, engine = "sample", rounds = 1000),
    odds_by_answer("moon-wheel", "field", set = list(spins = 2), engine = "sample", rounds = 60, seed = 9),
    streaks(odds("tide-signs", players = list(left = "steady"), engine = "exact"), 20, 3),
    compare_games("lantern-tiles", mine, pays, bold, set_new = list(aim = 23), players_new = list(guest = "careful"),
                  measure = "edge(guest)", engine = "sample", rounds = 700, seed = 3),
    same_play("tide-signs", "tide-signs", players_new = list(left = "steady"), rounds = 300, seed = 4),
    sweep_game("lantern-tiles", list(aim = c(22, 24), "pay(bright)" = c(2, 1.5)), list(guest = c("bold", "careful")),
               measure = "edge(guest)", best = 0.1, engine = "sample", rounds = 400, seed = 6, threads = 2),
    balance_game("lantern-tiles", "edge(guest) in 0..10%", c("aim in 22..26 by 2", "pay(bright) in 1..3"),
                 set = list(keeper_stands = 17), players = bold, answers = 2, slip = 0.1, engine = "exact", seed = 2),
    audit_modes("deep-well", measure = "mean(tries_used)", engine = "sample", rounds = 200, seed = 3),
    audit_modes("deep-well", levels = 0.8, knobs = "tries in 6..8", rounds = 200),
    secret_odds("deep-well", mode = "shallow", measure = "mean(tries_used)", keep = c(1, 4.5), rounds = 300, seed = 8),
    trace_round("lantern-tiles", 3, pays, bold, sees = "guest", seed = 4),
    compare_players("lantern-tiles", pays, c("careful", "bold"), measure = "mean(tiles)", best = "lowest",
                    engine = "sample", rounds = 500, seed = 2),
    player_answers("lantern-tiles", "guest", "choice", pays, bold, by = "guest_total", rounds = 100, seed = 2),
    player_partings("lantern-tiles", "guest", "choice", "bold", "careful", pays, most = 3, rounds = 60, seed = 2),
    best_play("last-pebble", "second", players = list(first = "wild"), objective = "mean(turns_taken)",
              best = "lowest", decision = "take", by = "left", most = 5, max_states = 5000),
    best_play("last-pebble", exploit = "wild"), best_play("lantern-tiles", set = pays, at = "guest_total = 18"),
    seat_fairness("last-pebble", players = c("wild", "careful"), measure = "mean_pay({seat})", engine = "sample",
                  rounds = 600, seed = 3),
    bankroll("lantern-tiles", 18, c(flat = "1", up = "if (last_net < 0) 2 else 1"), 12, 22, 1, 3, "leave",
             round_seconds = 20, minutes = 3, method = "play", evenings = 50, path = 2, seed = 5, set = pays,
             engine = "sample", rounds = 900),
    takings(c("lantern-tiles", "salt-draw"), 6, 2, 3, 20, 50, 2, 0.5, 4, engine = "sample", rounds = 500, seed = 3),
    takings("lantern-tiles", visits = 4, hours = 1, visit_rounds = 5,
            visitors = list(list(weight = 3, players = list(guest = "careful"), stake = 2), list(players = bold))),
    check_till("lantern-tiles", -60, 90, stake = 2, prize_cost = 0.8, seat = "guest", players = bold),
    check_game("lantern-tiles", findings = TRUE, players = bold))
}

test_that("a result is made again by its call, and by its command line", {
  for (result in asked_results()) {
    call <- call_of(result)
    said <- paste(deparse(call), collapse = " ")
    expect_identical(result_json(eval(call)), result_json(result), info = said)
    again <- at_command_line(c(shell_words(command_of(result))[-1], "--format", "json", "--quiet"))
    expect_identical(paste(again$out, collapse = "\n"), result_json(result), info = command_of(result))
  }
})

test_that("the command line names the file, the players' file and nothing that is as usual", {
  folder <- tempfile("my stall")
  dir.create(folder)
  file.copy(system.file("games", "tide-signs.game", package = "basanos"), file.path(folder, "tide signs.game"))
  writeLines("shy <- player(throw = boat)", file.path(folder, "shy.game"))
  mine <- game(file.path(folder, "tide signs.game"), file.path(folder, "shy.game"))
  o <- odds(mine, players = list(left = "shy"), engine = "auto", seed = 1)
  expect_identical(command_of(o), sprintf("basanos odds '%s/tide signs.game' --players-file '%s/shy.game' --player %s",
                                          folder, folder, "left=shy"))
  expect_identical(eval(call_of(o))$outcomes, o$outcomes)
  expect_identical(command_of(odds("tide-signs")), "basanos odds tide-signs")
  inline <- odds(game({
    seats(guest)
    cube <- die(1:6)
    state(n = 0)
    play({ n <- roll(cube) })
    outcomes(six = n == 6, other = otherwise)
  }), engine = "exact")
  expect_identical(deparse(call_of(inline)), 'odds(game = rules, engine = "exact")')
  expect_error(command_of(inline), class = "basanos_argument_wrong")
  expect_error(call_of(as_odds(sample_tally("tide-signs", 10))), class = "basanos_argument_wrong")
})

test_that("a seed of NULL is a new one, by R's own random numbers, and the result has it", {
  seeded <- function(f) {
    set.seed(4)
    f(seed = NULL)
  }
  ask <- list(function(...) odds("tide-signs", engine = "sample", rounds = 100, ...),
              function(...) sweep_game("lantern-tiles", list(aim = 23:24), measure = "edge(guest)", engine = "sample",
                                       rounds = 100, ...),
              function(...) player_answers("lantern-tiles", rounds = 50, ...),
              function(...) trace_round("tide-signs", ...))
  for (f in ask) {
    one <- seeded(f)
    expect_true(one$seed > 1 && one$seed == round(one$seed))
    expect_identical(result_json(seeded(f)), result_json(one))
    expect_false(identical(f(seed = NULL)$seed, one$seed))
  }
})
