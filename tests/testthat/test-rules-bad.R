# Each id of a problem has a bad file in rules-bad/, or a bad call below. The messages are pinned by
# a snapshot, the places by rules-bad/places.csv.

bad_file <- function(id) test_path("rules-bad", paste0(id, ".game"))
bad_ids <- sort(sub("\\.game$", "", list.files(test_path("rules-bad"), pattern = "\\.game$")), method = "radix")

checks <- lapply(stats::setNames(nm = bad_ids), function(id) check_game(bad_file(id)))

test_that("each bad file is refused with its id, at its place, with a hint", {
  places <- utils::read.csv(test_path("rules-bad", "places.csv"))
  expect_setequal(places$id, bad_ids)
  for (k in seq_len(nrow(places))) {
    id <- places$id[[k]]
    check <- checks[[id]]
    expect_false(check$ok, info = id)
    expect_false(anyNA(check$problems$hint), info = id)
    hit <- check$problems[check$problems$id == id, ]
    expect_gt(nrow(hit), 0)
    expect_equal(c(hit$line[[1]], hit$column[[1]]), c(places$line[[k]], places$column[[k]]), info = id)
    e <- expect_error(odds(bad_file(id)), class = "basanos_error", info = id)
    if (id %in% e$ids) expect_s3_class(e, paste0("basanos_", id))
  }
})

test_that("the messages of bad files", {
  expect_snapshot(for (id in bad_ids) writeLines(format(checks[[id]])))
})

bad_bytes <- function(bytes) {
  path <- tempfile(fileext = ".game")
  writeBin(bytes, path)
  path
}

betting <- function(play, ..., settle = "settle(line, high = 1 %to% 1, otherwise = lost)")
  game_of("seats(guest, rival)", "cube <- die(1:6)", "state(face = 0)", "bets(guest, line = bet(1, most = 5))", ...,
          "play({", "face <- roll(cube)", play, "})", "outcomes(high = face > 4, low = otherwise)", settle)

bad_calls <- list(
  file_missing = function() game("no-such-game"),
  file_empty = function() game(bad_bytes(raw())),
  file_binary = function() game(bad_bytes(as.raw(c(0x73, 0, 1, 2)))),
  file_encoding = function() game(bad_bytes(as.raw(c(0x23, 0xe9, 0x0a)))),
  file_large = function() game(bad_bytes(rep(charToRaw("# more\n"), 40000))),
  file_written = function() put_out("text", file.path(tempdir(), "no", "such", "folder.txt")),
  setting_unknown = function() odds("dice-duel", set = list(side = 3)),
  setting_type = function() odds("dice-duel", set = list(sides = 2.5)),
  setting_range = function() odds("dice-duel", set = list(sides = 1)),
  family_unknown = function() new_game_file("boards"),
  file_there = function() { path <- tempfile(); writeLines("mine", path); new_game_file("dice", path) },
  desk_name = function() desk_path(tempdir(), "../mine.game"),
  seat_unasked = function() play_game("dice-duel", "first", read = function() character(), write = function(x) NULL),
  kept_wrong = function() { path <- tempfile(); writeLines("a,b", path); played_rounds(path) },
  not_written = function() odds(game_with('later("the rest")', "sitting(rounds = 2)")),
  mode_unknown = function() odds("dice-duel", mode = "easy"),
  round_none = function() trace_round("three-bells", round = 101),
  where_never = function() trace_round("lantern-tiles", where = "guest_total > 500"),
  seat_unknown = function() odds("tide-signs", players = list(lft = "even")),
  player_unknown = function() odds("tide-signs", players = list(left = "evn")),
  player_unfit = function()
    odds(game_of("seats(a, b)", "play({ ask(a, x = one_of(p, q)) })", "outcomes(over = otherwise)",
                 "one <- player(a, x = p)", "two <- player(b, x = q)"), players = list(a = "two")),
  mix_wrong = function() odds("tide-signs", players = list(left = "even:1, reef_fond")),
  draw_impossible = function()
    prepare_example(game_of("seats(guest)", "wheel <- die(1, 3, 9)", "state(n = 0)", "play({ n <- roll(wheel) })",
                            "outcomes(over = otherwise)",
                            'example("four", given(wheel = 4), expect(outcome = over))') -> g, g$examples[[1]]),
  illegal_answer = function()
    odds(game_of("seats(a)", "state(n = 5)", "play({ ask(a, x = one_of(1:3)) })", "outcomes(over = otherwise)",
                 "one <- player(x = n)")),
  room_exceeded = function()
    odds(game_with("while (result < 9) { put(1, into = faces)\n add(1, to = result) }",
                   state = "result = 0, faces = list(cube, room = 5)")),
  position_outside = function()
    odds(game_with("result <- faces[1 + result]", state = "result = 0, faces = list(cube, room = 5)")),
  nothing_to_choose = function() odds(game_with("result <- pick(1:result)")),
  outcome_impossible = function()
    odds(game_of("seats(a)", "state(n = 5)", "play({ n <- 4 })", "outcomes(five = n == 5, impossible = otherwise)")),
  deck_empty = function()
    odds(game_of("seats(a)", "cards <- deck(rank = 1:3)", "state(hand = bag(cards))", "play({ deal(4, to = hand) })",
                 "outcomes(over = otherwise)")),
  grid_outside = function()
    odds(game_of("seats(a)", "state(n = 5)", "play({ ask(a, x = one_of(1:3)) })", "outcomes(over = otherwise)",
                 "calm <- player(x = grid(n, n, cols(1:9), row(1:2, 1)))")),
  item_absent = function()
    odds(game_with("remove(4, from = faces)", state = "result = 0, faces = bag(cube, room = 5)")),
  argument_wrong = function() as_odds(3),
  command_unknown = function() run_command("odd"),
  flag_wrong = function() run_command(c("odds", "tide-signs", "--sed", "3")),
  rounds_wrong = function() odds("tide-signs", engine = "sample", rounds = 0),
  seed_wrong = function() odds("tide-signs", engine = "sample", seed = -1),
  threads_wrong = function() odds("tide-signs", engine = "sample", threads = 0),
  engine_unknown = function() odds("tide-signs", engine = "guess"),
  format_unknown = function() run_command(c("odds", "tide-signs", "--format", "xml")),
  report_part = function() run_command(c("report", "tide-signs", "--parts", "ending")),
  what_if_wrong = function() run_command(c("report", "lantern-tiles", "--parts", "what-if", "--what-if", "aims",
                                           "--quiet")),
  tallies_differ = function() { a <- sample_tally("tide-signs", 10); merge_tallies(a, a) },
  given_never = function() odds("lantern-tiles", given = "guest_total > 500"),
  rounds_linked = function() bankroll("three-bells", method = "count"),
  stake_rule_wrong = function() bankroll("lantern-tiles", stake = "purse / 2"),
  bankroll_wrong = function() bankroll("lantern-tiles", goal = 3),
  bankroll_large = function() bankroll(method = "count", game = "lantern-tiles", stake = "last_net + wallet %% 7 + run",
                                       wallet = 1e5,
                                       evening_rounds = 2000),
  bankroll_endless = function() with_replaced("most_evening_rounds", 100, play_evening(
    list(net = 0, probability = 1, cost = 1, put = 1), stake_rule(1), evening_terms(20, Inf, 40, 1, Inf, "rest"))),
  no_stake = function() par_table("two-buckets"),
  position_setting = function() odds("lantern-tiles", at = "aim = 20"),
  position_none = function() odds("lantern-tiles", at = "choose: guest_total = 3"),
  position_never = function() odds("lantern-tiles", at = "guest_total = 500"),
  streaks_need_rounds = function() streaks(odds("five-winds", engine = "sample", rounds = 10), 5),
  checkpoint_damaged = function() {
    path <- tempfile()
    writeLines("not a checkpoint", path)
    odds("tide-signs", engine = "sample", rounds = 10, checkpoint = path)
  },
  checkpoint_other = function() {
    path <- tempfile()
    odds("tide-signs", engine = "sample", rounds = 10, checkpoint = path)
    odds("tide-signs", engine = "sample", rounds = 20, seed = 2, checkpoint = path)
  },
  precision_wrong = function() odds("lantern-tiles", precision = 0),
  file_unreadable = function() with_replaced("read_bytes", function(...) NULL, game(bad_bytes(charToRaw("x")))),
  position_unseen = function()
    odds("lantern-twenty-one", engine = "sample", rounds = 100, at = "action: size(hand) == 40"),
  seat_empty = function() odds("high-water", set = list(seated = 2), players = list(gold = "chaser")),
  rule_missing = function()
    odds(game_of("seats(guest)", "play({ ask(guest, a = one_of(x, y)); ask(guest, b = one_of(x, y)) })",
                 "outcomes(over = otherwise)", "first <- player(a = x)", "second <- player(b = x)")),
  tries_wrong = function() odds(game_with("result <- successes(200000, 0.5)")),
  seat_not_taken = function()
    odds(game_of("seats(a, b, c, at_least = 2)", "state(n = each(seat, 0))", "play({ n[c] <- 1 })",
                 "outcomes(over = otherwise)"), set = list(seated = 2)),
  stake_below_zero = function() odds(betting("stake(guest, face - 2, on = line)")),
  stake_outside = function() odds(betting("stake(guest, face, on = line)")),
  wallet_too_small = function()
    odds(betting("stake(guest, 3, on = line)", "wallet(guest, 5, needs = 1)", "sitting(rounds = 9)")),
  odds_below_zero = function() odds(betting("settle(line, if (face > 1) (face - 5) %to% 1, otherwise = lost)")),
  share_among_nobody = function() odds(betting("share(glow, among = none_of())", "glow <- pot(3)",
                                                "none_of <- function() who(face > 99)")),
  bet_lies = function()
    odds(betting("if (face > 1) settle(line, otherwise = lost)", settle = NULL)),
  measure_wrong = function() odds("lantern-tiles", measure = "edg(guest)"),
  each_decision = function() odds_by_answer("lantern-tiles", "chose"),
  players_few = function() compare_players("lantern-tiles", players = "careful"),
  slip_wrong = function() odds("lantern-tiles", players = list(guest = "careful~7")),
  player_argument = function() odds("lantern-tiles", players = list(guest = "careful(3)")),
  best_none = function() best_play("dice-duel"),
  best_worst = function() best_play("lantern-tiles", objective = "worst(tiles)"),
  best_rule = function() best_play("nine-shutters", rule = 0, quick = TRUE),
  best_unclear = function() best_play("moon-wheel", objective = "goal()", quick = TRUE,
                                      write = file.path(new_folder(), "best.R")),
  lookup_file = function() looking_up("none.csv"),
  lookup_key = function() looking_up("t.csv", "compare(\"ab\", \"ba\")", "short <- words(\"ab\", \"ba\")"),
  lookup_large = function() odds(looking_up("t.csv", rows = c("1,low", "30000000,high"))),
  lookup_none = function() odds(looking_up("t.csv")),
  best_large = function() best_play("harvest-sheet", max_states = 100),
  best_ratio = function() best_play("lantern-tiles", objective = "edge(guest)"),
  best_circle = function() best_play(paid_on_the_way()),
  best_unopposed = function() best_play(paid_alike(), both = TRUE),
  best_seats = function() best_play("lantern-tiles", both = TRUE),
  seats_few = function() seat_fairness("lantern-tiles"),
  list_secret = function() secret_odds("lantern-tiles"),
  sweep_grid = function() sweep_game("lantern-tiles", set = list(aim = numeric()), measure = "edge(guest)"),
  target_wrong = function() balance_game("lantern-tiles", "edge(guest) in 6%..4%", "aim in 20..26 by 2"),
  knob_wrong = function() balance_game("lantern-tiles", "edge(guest) in 4%..6%", "aim in 20..26 by 0"),
  knob_unknown = function() balance_game("lantern-tiles", "edge(guest) in 4%..6%", "aime in 20..26"),
  knob_idle = function() balance_game(game_with("result <- 1", "unused <- setting(1)"),
                                      "probability(outcome == over) in 0..1",
                                      "unused in 1..2"),
  knob_off_grid = function() balance_game("lantern-tiles", "edge(guest) in 4%..6%", "aim in 21..27 by 2"),
  balance_large = function() balance_game("lantern-tiles", "edge(guest) in 4%..6%",
                                          c("aim in 3..200", "guest_stands in 1..200", "keeper_stands in 1..200")),
  tolerance_fine = function() balance_game("bell-cards", "edge(guest) in 0.05..0.0501", "qualifies_at in 5..9",
                                           engine = "sample", rounds = 2000),
  write_place = function() {
    path <- tempfile(fileext = ".game")
    writeLines(c('based_on("lantern-tiles")', "amend(pays(guest, tie = -1))"), path)
    balance_game(path, "edge(guest) in 0..0.01", "pay(bright) in 1..3", write = tempfile())
  },
  takings_wrong = function() takings("lantern-tiles", visits = 0),
  count_incomplete = function() seat_fairness("five-winds", players = "counterer", engine = "exact", max_states = 1000),
  pot_shared = function() takings(game_of("seats(a, b)", "glow <- pot(4, lasts = always)", "bets(a, one = 1)",
                                          "bets(b, two = 1)", "play({ move(1, from = one, to = glow) })",
                                          "state(n = 0)", "outcomes(all = otherwise)",
                                          "settle(one, otherwise = lost)", "settle(two, otherwise = lost)")),
  takings_large = function() takings("salt-draw", visits = 1000, hours = 20, round_seconds = NULL, rounds = 1000,
                                     engine = "sample", stake = 1000.001, prize_cost = 0.777),
  money_too_large = function() odds(game_of("seats(guest)", "tokens(piece = 0.01)", "bets(guest, line = 30000)",
                                            "state(won = no)", "play({ won <- chance(0.5) })",
                                            "outcomes(win = won, lose = otherwise)",
                                            "settle(line, win = push, otherwise = lost)")),
  wallet_own = function() bankroll("moon-wheel"),
  package_needed = function() need_package("no.such.package", "draws"))

test_that("each bad call is refused with its id", {
  for (id in names(bad_calls)) {
    e <- expect_error(bad_calls[[id]](), class = paste0("basanos_", id))
    expect_gt(nchar(conditionMessage(e)), 20)
  }
})

test_that("every id has a bad file or a bad call", {
  # see test-command-script.R, test-language-choices.R, test-rules-around.R, test-odds-engine.R, test-odds-shards.R
  covered_elsewhere <- c("answers_wait", "claim_broken", "players_only", "engines_disagree", "shard_lost",
                         "worker_lost")
  expect_setequal(diagnostic_ids(), c(bad_ids, names(bad_calls), covered_elsewhere))
})

test_that("nothing in a rules file is evaluated", {
  path <- file.path(tempdir(), "evaluated.txt")
  unlink(path)
  for (line in c(sprintf('file.create("%s")', path), sprintf('x <- setting(file.create("%s"))', path),
                 sprintf('title(system("touch %s"))', path))) {
    expect_error(game_of(line, "play({ end_round() })", "outcomes(over = otherwise)"), class = "basanos_error")
  }
  expect_false(file.exists(path))
})

test_that("what an unread outcome would be called is no second problem", {
  told <- function(state, outcomes) {
    path <- tempfile(fileext = ".game")
    writeLines(c("seats(left, right)", "cube <- die(1:6)", state, "play({ for (s in seats) pull[s] <- roll(cube) })",
                 outcomes, "example(\"six beats one\", given(cube = c(6, 1)), expect(outcome = left_wins))"), path)
    check_game(path)$problems$id
  }
  expect_identical(told("state(pull = each(seats, 0))", "outcomes(wins = leader(pull[it]), level = otherwise)"),
                   "each_of")
  expect_identical(told("state(pull = each(seat, 0))", "outcomes(wins = leader(pul[it]), level = otherwise)"),
                   "unknown_name")
  expect_identical(told("state(pull = each(seat, 0))", "outcomes(kind_of(pull))"), "unknown_name")
})
