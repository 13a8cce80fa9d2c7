# Around the rules: claims, variants, holes, players of their own, outline, starters, findings, modes.

beside <- function(...) {
  folder <- tempfile()
  dir.create(folder)
  files <- list(...)
  for (name in names(files)) writeLines(files[[name]], file.path(folder, name))
  file.path(folder, names(files)[[1]])
}

roll_game <- c("seats(a)", "cube <- die(1:6)", "state(n = 0)", "play({ n <- roll(cube)\n n <- n + roll(cube) })",
               "outcomes(high = n > 9, low = otherwise)")

test_that("claims are proved, or broken by the shortest round", {
  check <- check_game(beside(g.game = c(roll_game, 'always("two dice", n >= 2, when = end)',
                                        'never("twelve", n == 12)')))
  expect_equal(check$claims$passed, c(TRUE, FALSE))
  expect_match(check$claims$how[[1]], "proved")
  expect_false(check$ok)
  broken <- check$broken[[2]]$events
  expect_equal(broken$value[broken$kind == "draw"], c("6", "6"))
  big <- check_game("high-water", findings = FALSE)
  expect_true(big$ok)
  turns <- check_game(beside(g.game = c("seats(a, b)", "state(n = 0)",
                                        "play({ for (mover in turns(each = 3)) add(1, to = n) })",
                                        "outcomes(over = otherwise)", 'never("four", n == 4, when = turn)')))
  expect_false(turns$claims$passed)
})

test_that("a variant adds, replaces and leaves out, and problems are placed in the file they stand in", {
  own <- c('based_on("tide-signs")', "without(reef_fond)", 'title("Calm Signs")', "even <- player(throw = reef)",
           'example("left throws a boat", given(throw = c(boat, reef)), expect(outcome = right_wins))')
  g <- game(beside(v.game = own))
  expect_equal(g$title, "Calm Signs")
  expect_setequal(names(g$players), c("steady", "even"))
  expect_equal(probabilities(odds(g))[["draw"]], 1)
  expect_length(g$examples, 4)
  base <- c("title(\"Base\")", "seats(a)", "cube <- die(1:6)", "state(n = 0, m = 0)", "", "play({ n <- roll(cubes) })",
            "outcomes(over = otherwise)")
  e <- check_game(beside(v.game = 'based_on("base")', base.game = base))
  expect_match(paste(format(e), collapse = "\n"), "base.game:6:18")
  expect_equal(game(beside(v.game = c('based_on("base.game")', "without(m)"),
                           base.game = sub("cubes", "cube", base)))$state |> names(), "n")
  expect_error(game(beside(v.game = 'based_on("v.game")')), class = "basanos_base_missing")
})

test_that("a variant changes one part of a declaration, and check tells what it changes", {
  variant <- function(...) beside(v.game = c('based_on("lantern-tiles")', ...))
  base <- odds("lantern-tiles")
  paid <- game(variant("amend(pays(guest, bright = 5))"))
  expect_equal(odds(paid)$outcomes, base$outcomes)
  expect_equal(odds(paid)$pays$mean, base$pays$mean + 3 * probabilities(base)[["bright"]])
  more <- odds(variant("amend(outcomes(twenty = guest_total == 20), before = bright)",
                       "amend(pays(guest, twenty = 7))"))
  expect_equal(more$outcomes$name, c("twenty", base$outcomes$name))
  expect_equal(probabilities(more)[["twenty"]], odds("lantern-tiles", given = "guest_total == 20")$given_share)
  last <- game(variant("amend(outcomes(near = guest_total == 20))",
                       "amend(record(tiles = 2 * (guest_tiles + keeper_tiles)))"))
  expect_equal(utils::tail(last$outcomes$names, 2), c("near", "keeper_high"))  # before `otherwise`
  expect_equal(odds(last)$records$mean[[1]], 2 * base$records$mean[[1]])
  changed <- odds(variant("amend(bold <- player(choice = if (guest_total < 19) draw else stand))"),
                  players = list(guest = "bold"))
  expect_equal(changed$outcomes, base$outcomes)
  check <- check_game(variant('title("Mine")', "amend(pays(guest, bright = 5))", "pays(guest, 1)", "pays(guest, 0)"))
  expect_equal(check$variant$changes$what, c("title", "pays", "pays"))
  expect_match(paste(format(check), collapse = "\n"), "replaced: title; replaced \\(1 by 2\\): pays; amended: pays")
  for (wrong in c("amend(5)", "amend(pays(keeper, bright = 2))", "amend(outcomes(a = aim > 3), before = brigth)"))
    expect_error(game(variant(wrong)), class = "basanos_amend_what")
  expect_error(game(beside(g.game = "amend(pays(guest, high = 2))")), class = "basanos_amend_what")
})

test_that("a hole checks, outlines and plays up to there", {
  path <- beside(g.game = c("seats(a)", "cube <- die(1:6)", "state(n = 0)",
                            "play({ n <- roll(cube)\n if (n == 6) later(\"roll the six again\") })",
                            "outcomes(over = otherwise)", 'example("a two", given(cube = 2), expect(outcome = over))'))
  check <- check_game(path)
  expect_true(check$ok)
  expect_true("hole" %in% check$findings$id)
  expect_match(paste(outline_game(path), collapse = "\n"), "not written yet: roll the six again")
  o <- odds(path)
  expect_equal(probabilities(o), c(over = 5 / 6, not_written_yet = 1 / 6))
  expect_equal(o$hole$records$mean, 6)
  expect_match(paste(format(o), collapse = "\n"), "not written yet .16.67% of rounds.:\n *mean.*\n *n +6")
  expect_equal(odds(path, engine = "sample", rounds = 6e4)$hole$share, 1 / 6, tolerance = 0.05)
  paid <- beside(g.game = c("seats(a)", "cube <- die(1:6)", "state(n = 0)", "play({ n <- roll(cube)",
                            " if (n > 3) later(\"more\") })", "outcomes(low = n < 2, mid = otherwise)",
                            "pays(a, low = 6, otherwise = -2)",
                            "pays(a, 1)"))
  expect_equal(odds(paid)$pays$mean, (7 - 1 - 1) / 6)
  match <- beside(g.game = c("seats(a)", "play({ later(\"all\") })", "outcomes(over = otherwise)",
                             "sitting(rounds = 3)"))
  expect_error(odds(match), class = "basanos_not_written")
  t <- trace_round(path, forced = "cube = 6")
  expect_equal(t$diagnostic$id, "not_written")
})

test_that("players may live in a file of their own", {
  path <- beside(mine.game = c("# two ways of mine", "twice <- function(x) 2 * x",
                               "keen <- player(choice = if (guest_total < twice(11)) draw else stand)"))
  g <- game("lantern-tiles", players_file = path)
  expect_true("keen" %in% names(g$players))
  expect_gt(odds(g, players = list(guest = "keen"))$outcomes$probability[[2]], odds(g)$outcomes$probability[[2]])
  out <- capture.output(command_main(c("odds", "lantern-tiles", "--players-file", path, "--player", "guest=keen")))
  expect_match(paste(out, collapse = "\n"), "guest = keen")
  bad <- beside(bad.game = c("keen <- player(choice = drw)", "seats(other)"))
  e <- tryCatch(game("lantern-tiles", players_file = bad), error = identity)
  expect_setequal(e$ids, c("unknown_name", "players_only"))
  expect_match(conditionMessage(e), "bad.game:1:25")
})

test_that("modes are bundles of settings", {
  shallow <- odds("deep-well", mode = "shallow")
  expect_equal(unlist(shallow$settings[c("top", "tries")]), c(top = 40, tries = 5))
  expect_equal(odds("deep-well", mode = "shallow", set = list(tries = 6))$settings$tries, 6)
  expect_equal(probabilities(shallow)[["found"]], 31 / 40)  # five halvings tell 31 numbers apart
})

test_that("every game of the fair has an outline in both forms, and the starters check clean", {
  for (name in fair_games()) {
    lines <- outline_game(name)
    expect_gt(length(lines), 10)
    expect_false(any(grepl("&&|==|<-|\\|\\|", lines)),
                 info = paste(name, grep("&&|==|<-|\\|\\|", lines, value = TRUE)[1]))
    expect_match(outline_game(name, "markdown")[[1]], "^# ")
  }
  for (list_array in game_families()) {
    path <- new_game_file(list_array, tempfile(fileext = ".game"))
    checked <- check_game(path)
    expect_true(checked$ok, info = list_array)
    expect_length(setdiff(checked$findings$id, usual_findings), 0)  # a starter does not warn about itself
    expect_no_error(odds(path, engine = "sample", rounds = 100))
  }
})

test_that("players who know the list of words by heart are named; of codes nobody needs to", {
  known <- function(name) {
    found <- check_game(name)$findings
    found$message[found$id == "list_known"]
  }
  expect_match(known("sunken-name"), "^`reader` goes through all 514 words of `names_list`")  # not plodder, idle, spy
  expect_match(known("tide-words"), "^`fitting`, `sorter`, `wary` go through all 420 words of `secrets`")
  expect_length(known("harbour-locks"), 0)
})

test_that("what check finds out", {
  ids <- function(...) check_game(beside(g.game = c(...)))$findings$id
  expect_true("setting_unread" %in% ids("knob <- setting(3)", roll_game))
  expect_true("function_unused" %in% ids("spare <- function(x) x + 1", roll_game))
  expect_true("near_copy" %in% ids("first_of <- function(x) if (x > 3) x * 2 else 0",
                                   "two_of <- function(x) if (x > 4) x * 2 else 0",
                                   sub("n > 9", "first_of(n) + two_of(n) > 9", roll_game)))
  expect_true("outcome_never" %in% ids(sub("n > 9", "n > 12", roll_game)))
  expect_true("outcomes_overlap" %in% ids(sub("high = n > 9", "top = n > 10, high = n > 9", roll_game)))
  expect_true("round_unbounded" %in% ids(sub("n <- n + roll(cube)", "while (n != 6) n <- roll(cube)", roll_game,
    fixed = TRUE)))
  expect_true("no_legal_answer" %in% check_game("three-crabs")$findings$id)
  expect_true("deck_empty" %in% ids("seats(a)", "cards <- deck(rank = 1:3)", "state(hand = bag(cards))",
                                    "play({ deal(4, to = hand) })", "outcomes(over = otherwise)"))
})

test_that("the outline tells how a seat wins, and who decides nothing", {
  wins <- function(outcome) outline_game(game_of(
    "seats(ann, bo)", "cube <- die(1:6)", "target <- setting(4)", "state(score = each(seat, 0))",
    "play({ for (s in seats) score[s] <- roll(cube) })", sprintf("outcomes(wins = %s, level = otherwise)", outcome)))
  expect_match(wins("leader(score[it])"), "a seat wins: the one with the most score$", all = FALSE)
  expect_match(wins("who(score[it] >= target)"), "a seat wins: the only one whose score is at least 4$", all = FALSE)
  expect_match(wins("leader(score[it])"), "ann, bo decide nothing", all = FALSE)
})

test_that("the outline tells all, what is measured and how each way of playing answers, where it is asked to", {
  card <- paste(outline_game("lantern-tiles", all = TRUE), collapse = "\n")
  expect_match(card, "What is measured:\n  - tiles: guest tiles \\+ keeper tiles")
  expect_match(card, "- bold\n    - choice: draw if the guest's total is below 19 \\+ 2, otherwise stand")
  expect_false(grepl("What is measured", paste(outline_game("lantern-tiles"), collapse = " ")))
})

test_that("the rule card is told in the words of the game, with the numbers of its settings", {
  path <- beside(g.game = c(
    'title("Steps", "Walk to the gate.")', "gate <- setting(9, from = 3, to = 20)", "toll <- setting(2)",
    "seats(ann, bo)",
    "cube <- die(1:6)", "state(at = each(seat, 0), lost_all = no)", "beyond <- function(s) at[s] > gate",
    "steps <- function(s) {", "  n <- roll(cube)", "  add(n, to = at[s])", "  if (n == 1) add(-1, to = at[s])", "}",
    "play({ for (mover in turns(until = beyond(mover) || any(seats, at[it] == gate))) {",
    "  ask(mover, choice = one_of(go, rest))", "  if (!beyond(mover) && choice == go) steps(mover)",
    "  if (at[mover] %% 3 == 0) say(\"{mover} rests\") } })",
    "outcomes(home = who(at[it] == gate), past = who(beyond(it)), impossible = otherwise)",
    "pays(winner, home = toll, past = -toll)", "pays(others, 0)",
    "walker <- player(choice = go)",
    'in_words(at = "the square", beyond = "{s} is past the gate at {gate}", choice = "go on, or rest",',
    '  home = "who stands at the gate")'))
  card <- outline_game(path)
  expect_match(card, "until the mover is past the gate at 9 or the square of one seat is 9:$", all = FALSE)
  expect_match(card, "the mover chooses: go on, or rest$", all = FALSE)
  expect_match(card, "if the mover is not past the gate at 9 and the choice is go:$", all = FALSE)
  expect_match(card, "if the square of the mover is a multiple of 3:$", all = FALSE)
  expect_match(card, "home: who stands at the gate$", all = FALSE)
  expect_match(card, "a seat past: the only one who is past the gate at 9$", all = FALSE)
  expect_match(card, "home: the winner wins 2$", all = FALSE)
  expect_match(card, "past: the winner loses 2$", all = FALSE)
  expect_match(card, "steps:$", all = FALSE)  # it has no words, and is told in detail
  expect_identical(attr(card, "missing"), "steps")
  expect_match(at_command_line("outline", path)$said, "The rule card has no words for `steps`")
  expect_match(at_command_line("check", path, "--card")$said, "in_words(steps = ", fixed = TRUE)
  far <- paste(outline_game(sub("gate at 9", "gate at 9", path, fixed = TRUE)), collapse = " ")
  expect_no_match(far, "gate is|\\{")
  expect_error(game_of("seats(ann)", "play({ end_round() })", "outcomes(over = otherwise)", 'in_words(ovr = "x")'),
               "did you mean `over`")
})

test_that("every game of the fair and every starter has words for what its rule card needs", {
  for (name in fair_games()) expect_length(attr(outline_game(name), "missing"), 0)
  for (family in game_families()) {
    path <- new_game_file(family, tempfile(fileext = ".game"))
    expect_length(attr(outline_game(path), "missing"), 0)
  }
})

test_that("check tells at most three findings, each with what to do; what nearly every game has waits for --all", {
  net <- check_game(system.file("story", "net-toss.game", package = "basanos"))
  lines <- format(net)
  told <- lines[seq(match("Worth knowing:", lines) + 1, length(lines))]
  expect_lte(sum(grepl("^  line", told)), 3)
  expect_match(told, "^    hint: mend its condition, or take the outcome out$", all = FALSE)
  expect_false(any(grepl("Some outcomes can hold together", lines)))
  expect_match(format(net, all = TRUE), "Some outcomes can hold together", all = FALSE)
  expect_true("outcomes_overlap" %in% net$findings$id)
  expect_match(format(check_game("harbour-dice")), "^[(]1 note: --all[)]$", all = FALSE)
  ids <- unlist(lapply(list.files("../../R", "^lint-", full.names = TRUE), function(file) {
    text <- paste(readLines(file), collapse = "\n")
    regmatches(text, gregexpr("(?<=finding\\(\")[a-z_]+", text, perl = TRUE))[[1]]
  }))
  skip_if(length(ids) == 0)
  expect_setequal(ids, names(finding_mends))
})

test_that("words that name themselves are told once", {
  card <- outline_game(game_of(
    "seats(guest)", "cube <- die(1:6)", "state(way = 0)", "far <- function(n) n > 3", "play({ way <- roll(cube) })",
    "outcomes(high = far(way), low = otherwise)", 'in_words(way = "the {way} so far", far = "{far(n)}, indeed")'))
  expect_match(card, "roll cube: this is the way so far$", all = FALSE)
  expect_match(card, "high: far of the way so far, indeed$", all = FALSE)
})
