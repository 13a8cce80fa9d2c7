# What a stopped question has come to: the stop takes it along.

# The stop of the work when it is asked for the n-th time whether it is late.
stopped_at <- function(n, work) {
  left <- n
  late <- function() {
    left <<- left - 1
    left < 0
  }
  run <- function() tryCatch(suppressMessages(with_heartbeat("test", 1e6, function() work)),
                             interrupt = function(stop) stop)
  with_replaced("is_late", late, run())
}

# The stop of the work at the call of the function `name` that comes after `calls` of them.
stopped_after <- function(name, calls, work) {
  made <- 0
  whole <- getFromNamespace(name, "basanos")
  counted <- function(...) if ((made <<- made + 1) > calls) signal_stop() else whole(...)
  run <- function() tryCatch(suppressMessages(work), interrupt = function(stop) stop)
  with_replaced(name, counted, run())
}

test_that("a stopped sample tells the rounds until then: the same as so many rounds asked for", {
  stop <- stopped_at(6, odds("salt-draw", engine = "sample", rounds = 1e9))
  expect_s3_class(stop, "basanos_stopped")
  n <- stop$odds$rounds
  expect_gt(n, 1000)
  expect_match(stop$odds$stopped, "of 1 000 000 000 rounds")
  whole <- odds("salt-draw", engine = "sample", rounds = n)
  expect_identical(stop$odds$outcomes, whole$outcomes)
  expect_identical(stop$odds$pays, whole$pays)
  expect_match(format(stop$odds), "Stopped after [0-9 ]+ of 1 000 000 000 rounds", all = FALSE)
  expect_true(grepl("\"stopped\":", paste(format_result(stop$odds, "json"), collapse = "")))
})

test_that("stopped odds from a position tell how often it occurs, with what was sampled or counted from there", {
  at <- "guest_total = 16"
  stop <- stopped_at(6, odds("lantern-tiles", at = at, engine = "sample", rounds = 1e9))
  whole <- odds("lantern-tiles", at = at, engine = "sample", rounds = stop$odds$rounds)
  expect_identical(stop$odds$position, whole$position)
  expect_identical(stop$odds$outcomes, whole$outcomes)
  expect_null(stop$odds$answers)
  in_answers <- stopped_after("answers_there", 0, odds("lantern-tiles", at = at, engine = "exact"))
  expect_identical(in_answers$odds$outcomes, odds("lantern-tiles", at = at, engine = "exact")$outcomes)
  # of a sitting the share is not known before all sittings have been looked at
  sitting <- stopped_at(6, odds("five-winds", at = "throw: ", engine = "sample", rounds = 1e9))
  expect_true(is.na(sitting$odds$position$reached))
  expect_match(format(sitting$odds), "a share that is not known", all = FALSE)
})

test_that("a stopped sample to a precision tells all its stages", {
  stop <- stopped_at(8, odds("salt-draw", engine = "sample", precision = 1e-6))
  whole <- odds("salt-draw", engine = "sample", rounds = stop$odds$rounds)
  expect_identical(stop$odds$outcomes, whole$outcomes)
})

test_that("a stopped count tells bounds that hold, with nothing lost", {
  stop <- stopped_at(6, odds("salt-draw", engine = "exact", max_states = 1e9))
  expect_false(stop$odds$complete)
  expect_identical(stop$odds$limit, "stopped")
  sampled <- odds("salt-draw", engine = "sample", rounds = 2e4)$outcomes
  expect_true(all(stop$odds$outcomes$lower <= sampled$upper & stop$odds$outcomes$upper >= sampled$lower))
  tiles <- game("lantern-tiles")
  for (polls in c(1, 3, 10)) {
    seen <- 0
    run <- core_exact(compile_game(tiles), 1e9, function(done) { seen <<- seen + 1; seen < polls })
    if (run$end == exact_ends[["done"]]) next
    expect_equal(run$rounds + run$residual, 1, tolerance = 1e-12)
    expect_true(all(run$outcomes <= odds(tiles, engine = "exact")$outcomes$probability + 1e-12))
  }
})

test_that("a stopped sweep tells the points until then", {
  stop <- stopped_at(60, sweep_game("lantern-tiles", list(aim = 15:40, keeper_stands = 10:30), measure = "edge(guest)"))
  sweep <- stop$sweep
  done <- nrow(sweep$points)
  expect_gt(done, 0)
  expect_lt(done, 26 * 21)
  expect_identical(unlist(sweep$points[done, ], use.names = FALSE)[[1]], 15L + (done - 1L) %/% 21L)
  expect_null(sweep$best)
  expect_match(format(sweep), sprintf("Stopped after %s of 546 points", whole_text(done)), all = FALSE)
  one <- sweep_game("lantern-tiles", list(aim = sweep$points$aim[[1]],
                                              keeper_stands = sweep$points$keeper_stands[[1]]), measure = "edge(guest)")
  expect_identical(sweep$rows$value[[1]], one$rows$value)
})

test_that("a stopped list of words tells the rounds until then", {
  stop <- stopped_at(12, secret_odds("tide-words", rounds = 1e6))
  n <- stop$list$rounds
  expect_gt(n, 100)
  expect_identical(stop$list$rows, secret_odds("tide-words", rounds = n)$rows)
  expect_match(format(stop$list), "Stopped after [0-9 ]+ of 1 000 000 rounds", all = FALSE)
})

test_that("what is stopped before there is anything has nothing to tell", {
  stop <- stopped_at(0, sweep_game("lantern-tiles", list(aim = 20:21), measure = "edge(guest)"))
  expect_s3_class(stop, "basanos_stopped")
  expect_null(stop$sweep)
  run <- at_command_line("sweep", "lantern-tiles", "--set", "aim=20:30", "--measure", "edge(guest)", "--seconds",
                         "0.000001")
  expect_identical(run$code, 130L)
  expect_match(run$said, "Nothing was written")
  expect_length(run$out, 0)
})

test_that("of a stopped comparison of players there are the ways of sitting that were played", {
  some <- stopped_after("odds", 2, compare_players("lantern-tiles"))$players
  expect_null(some$ranking)
  expect_identical(is.na(some$pairs$of_guest), c(FALSE, FALSE, TRUE))
  whole <- compare_players("lantern-tiles")
  expect_identical(some$pairs[1:2, ], whole$pairs[1:2, ])
  expect_match(format(some), "^Stopped after 2 of 3 ways of sitting", all = FALSE)
  expect_identical(is.na(as.data.frame(some)$value), c(FALSE, FALSE, TRUE))
  expect_true(grepl("\"stopped\":", paste(format_result(some, "json"), collapse = "")))
  late <- stopped_after("seat_pulls", 1, compare_players("lantern-tiles"))$players
  expect_identical(late$pairs, whole$pairs)
})

test_that("of a stopped comparison of games both have played the same rounds", {
  compared <- function(rounds) compare_games("salt-draw", "salt-draw", players_new = list(guest = "flush_fond"),
                                             rounds = rounds, engine = "sample")
  stop <- stopped_after("run_units", 7, compared(5000))  # in the middle of the fourth part: the first three count
  expect_identical(stop$comparison$rounds, 300L)
  expect_equal(stop$comparison$rows, compared(300)$rows)
  expect_match(format(stop$comparison), "Stopped after 300 of 5 000 rounds", all = FALSE)
})

test_that("stopped after its rounds, a comparison tells all but the measures", {
  compared <- function(...) compare_games("salt-draw", "salt-draw", players_new = list(guest = "flush_fond"),
                                          rounds = 2000, engine = "sample", ...)
  stop <- stopped_after("paired_measures", 0, compared(measure = "edge(guest)"))
  expect_identical(stop$comparison$rows, compared()$rows)
})

test_that("of a stopped search for a balance the points are told that were looked at", {
  stop <- stopped_after("result_of_point", 5, balance_game("lantern-tiles", "edge(guest) in 0..1%", "aim in 20..40"))
  some <- stop$balance
  expect_identical(some$points$aim, 20:24 + 0)
  edges <- some$rows$value[some$rows$measure == "edge(guest)"]
  expect_equal(edges, sweep_game("lantern-tiles", list(aim = 20:24), measure = "edge(guest)")$rows$value)
  expect_match(format(some), "Stopped after 5 of 21 points", all = FALSE)
})

test_that("stopped between two looks, a balance tells the look before", {
  balanced <- function(game, want, knob, ...) balance_game(game, want, knob, engine = "sample", ...)
  # pays follow from one run: there are no points to tell of
  pays <- stopped_after("result_of_point", 1, balanced("salt-draw", "edge(guest) in 0..50%", "pay(four) in 20..22"))
  expect_s3_class(pays, "basanos_stopped")
  expect_null(pays$balance)
  some <- stopped_after("result_of_point", 4, balanced("deep-well", "probability(found) in 40%..60%", "tries in 4..7",
                                                     players = list(guesser = "wild")))$balance
  expect_match(some$stopped, "a first look at all 4 points")
  expect_identical(some$rounds, first_look)
})

test_that("modes and fairness tell what was worked out before they are stopped", {
  audit <- function() audit_modes("deep-well", levels = c(0.8, 0.5), knobs = "tries in 3..12")
  some <- stopped_after("odds_in_mode", 2, audit())$modes
  whole <- audit()
  expect_identical(some$rows, whole$rows[1:2, ])
  expect_length(some$findings, 0)
  later <- stopped_after("combinations_found", 1, audit())$modes
  expect_identical(later$set, whole$set[1, ])
  expect_match(format(later), "Stopped after 1 of 2 levels", all = FALSE)

  fair <- stopped_after("results_of_ways", 2, seat_fairness("tide-signs"))$fairness
  whole <- seat_fairness("tide-signs")
  expect_identical(fair$rows, whole$rows[1:4, ])
  handicapped <- stopped_after("balance_game", 0, seat_fairness("dice-duel", knobs = "rounds in 5..7"))$fairness
  expect_identical(handicapped$rows, seat_fairness("dice-duel")$rows)
})

test_that("best play tells of the players that were counted before it was stopped", {
  whole <- best_play("nine-shutters")
  some <- stopped_after("value_of_player", 1, best_play("nine-shutters"))$best
  expect_identical(some[c("value", "policy")], whole[c("value", "policy")])
  expect_identical(nrow(some$losses), 1L)
  expect_match(some$stopped, "1 of 3 players")
})

test_that("of several answers or stalls those are told that were worked out", {
  some <- stopped_after("odds_of_answer", 3, odds_by_answer("moon-wheel", "field", set = list(spins = 2)))$each
  whole <- odds_by_answer("moon-wheel", "field", set = list(spins = 2))
  expect_equal(some$rows, whole$rows[match(some$rows$answer, whole$rows$answer), ], ignore_attr = TRUE)
  expect_length(some$illegal, 0)
  stalls <- stopped_after("stall_evening", 1, takings(list("lantern-tiles", "salt-draw")))$takings
  expect_identical(stalls$rows, takings("lantern-tiles")$rows)
})

test_that("stopped evenings are those played until then", {
  stop <- stopped_at(15, bankroll("lantern-tiles", method = "play", evenings = 1e8, stake = c(one = "1", two = "2")))
  some <- stop$bankroll
  expect_identical(some$measures$rule, "one")
  n <- some$evenings
  whole <- bankroll("lantern-tiles", method = "play", evenings = n, stake = c(one = "1"))
  expect_equal(some$measures, whole$measures)
  expect_equal(some$played, whole$played)
  expect_match(format(some), sprintf("Stopped after %s of 100 000 000 evenings", whole_text(n)), all = FALSE)
  first <- stopped_after("play_evening", 1, bankroll("lantern-tiles", stake = c(one = "1", two = "2")))$bankroll
  expect_equal(first$measures, bankroll("lantern-tiles", stake = c(one = "1"))$measures)
})

test_that("what was watched until a stop is told, and so are partings that were valued", {
  some <- stopped_after("watch_unit", 90, player_answers("bell-cards", rounds = 1e5))$answers
  expect_identical(some$rows, player_answers("bell-cards", rounds = 90)$rows)
  expect_match(format(some), "Stopped after 90 of 100 000 rounds", all = FALSE)
  asked <- function() player_partings("lantern-tiles", player = "careful", other = "bold", rounds = 300, most = 6)
  two <- stopped_after("parting_row", 2, asked())$answers
  expect_identical(nrow(two$rows), 2L)
  expect_equal(two$explained, sum(two$rows$cost))
  expect_gt(two$left, asked()$left)
})

test_that("a stopped report tells the parts and games that were ready, and writes no page", {
  path <- tempfile(fileext = ".html")
  run <- stopped_after("part_content", 4, at_command_line("report", "dice-duel", "tide-signs", "--parts",
                                                       "ends,records,rules", "--workers", "1", "--out", path))
  expect_identical(run$code, 130L)
  expect_false(file.exists(path))
  expect_match(run$out, "^Dice Duel$", all = FALSE)
  expect_match(run$out, "^Tide Signs: counted exactly", all = FALSE)
  expect_match(run$out, "Stopped after 1 of 2 games", all = FALSE)
  expect_match(run$said, "no file was written")
})

test_that("several processes give what one does; an error and a stop in one of them end all", {
  skip_on_os("windows")
  expect_identical(worked_out(c(a = 1, b = 2, c = 3), function(x) if (x > 1) x^2, 2), list(a = NULL, b = 4, c = 9))
  expect_identical(worked_out(list(), function(x) x, 2), list())
  refused <- function(x) if (x == 2) abort_input("argument_wrong", "No.", "say yes") else x
  expect_error(worked_out(1:3, refused, 2), "No.")
  stop <- tryCatch(suppressMessages(worked_out(1:4, function(x) if (x == 4) signal_stop("a while") else x, 2,
                                               so_far = function(values, after, stop) list(some = values))),
                   interrupt = function(stop) stop)
  done <- which(lengths(stop$some) > 0)
  expect_gte(length(done), 2)
  expect_identical(unlist(stop$some), done)
  expect_false(4 %in% done)
  expect_error(worked_out(1:2, function(x) if (x == 2) tools::pskill(Sys.getpid(), 9) else x, 2), "ended from outside")
})
