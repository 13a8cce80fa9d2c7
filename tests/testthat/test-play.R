# Playing at the keyboard: by a script of lines, from a pipe, and at a terminal.

typed <- function(...) {
  lines <- c(...)
  function() {
    if (length(lines) == 0) return(character())
    line <- lines[[1]]
    lines <<- lines[-1]
    line
  }
}
shown_by <- function(...) {
  out <- character()
  result <- play_game(..., write = function(x) out <<- c(out, x))
  list(out = out, all = paste(out, collapse = "\n"), result = result)
}

test_that("a dice game: legal answers are listed, others asked again, the score runs, play goes on", {
  p <- shown_by("lantern-tiles", forced = "tile = c(10, 8, 6)", seed = 1, read = typed("", "fly", "dr", "stand", "no"))
  expect_match(p$all, "one of: draw, stand")
  expect_match(p$all, '"fly" is not allowed here')
  expect_match(p$all, "=> bright; pays guest \\+2")
  expect_match(p$all, "Played 1: bright 1; pays so far \\+2")
  expect_equal(p$result$outcome, "bright")
})

test_that("the luck of a seed is that of the sampled unit", {
  p <- shown_by("lantern-tiles", seed = 1, rounds = 1, read = typed(rep("stand", 9)))
  t <- trace_round("lantern-tiles", unit = 1, seed = 1, players = list(guest = "careful"),
                   forced = paste0("choice = c(", paste(rep("stand", 9), collapse = ", "), ")"))
  expect_equal(p$result$outcome, t$outcome)
})

test_that("a card game: nobody sees what is hidden, until the round is over", {
  p <- shown_by("lantern-bluff", seats = "early", seed = 3, rounds = 1, read = typed("check", "fold", "call"))
  before_end <- sub("=>.*", "", p$all)
  expect_match(before_end, "card +early: [0-9]+\\n")
  expect_false(grepl("late: [0-9]+ *\\n",
                     gsub("paid[^\\n]*|counts[^\\n]*", "", regmatches(before_end, regexpr("card[^\\n]*", before_end)))))
  expect_match(sub(".*=>", "", p$all), "card +early: [0-9]+ +late: [0-9]+")
  open <- shown_by("lantern-bluff", seats = "early", seed = 3, rounds = 1, reveal = TRUE,
                   read = typed("check", "fold", "call"))
  expect_match(sub("=>.*", "", open$all), "card +early: [0-9]+ +late: [0-9]+")
})

test_that("a sign game: the others answer unseen; a word game: marks have shapes", {
  p <- shown_by("cork-signs", seed = 2, rounds = 1, read = typed("cork"))
  expect_match(p$all, "right chooses: ")
  w <- shown_by("tide-words", seed = 1, rounds = 1, forced = 'secret = "summer"',
                read = typed("zzzzzz", "better", "summer"))
  expect_match(w$all, '"zzzzzz" is not in the list of words')
  expect_match(cli::ansi_strip(w$all), "the marks so far +[.]{4}\\^\\^")
  expect_match(w$all, "one of [0-9]+ words")
  expect_match(w$all, "=> found")
  expect_false(grepl("secret", sub("=>.*", "", w$all)))
})

test_that("several items, by what is legal; the other seat may be a person, too", {
  p <- shown_by("six-shells", forced = "shell = c(1, 5, 5, 2, 3, 4)", seed = 2,
                read = typed("7", "2", "1, 1", "1 5 5", "quit"))
  expect_match(p$all, "There is no such item \"7\"")
  expect_match(p$all, "That is not allowed here: legal = worth\\(aside\\) > 0")
  expect_match(p$all, "There is no further \"1\"")
  expect_match(p$all, "north, then: roll_on is the only answer")
  both <- shown_by("tide-signs", seats = c("left", "right"), seed = 1, rounds = 1, read = typed("reef", "boat"))
  expect_match(both$all, "=> left wins")
})

test_that("the end of input ends the game quietly, in the middle or between rounds", {
  expect_match(shown_by("tide-signs", seed = 1, read = typed())$all, "Goodbye")
  p <- shown_by("tide-signs", seed = 1, read = typed("reef", "perhaps", "no"))
  expect_match(p$all, "Please answer yes or no")
})

test_that("rounds played are kept by name and summed up", {
  path <- tempfile(fileext = ".csv")
  for (seed in 1:5)
    shown_by("lantern-tiles", seed = seed, rounds = 2, keep = path, name = "mara", read = typed(rep("stand", 20)))
  shown_by("lantern-tiles", seed = 3, rounds = 1, keep = path, name = "o'neil, \"jo\"", read = typed(rep("stand", 20)))
  sums <- played_rounds(path)$rows
  expect_equal(sums$rounds[sums$name == "mara"], 10)
  expect_true(all(sums$lower <= sums$won & sums$won <= sums$upper))
  expect_equal(sums$model_pay[[1]], 0.0386, tolerance = 0.3)
  expect_match(capture.output(command_main(c("played", path)))[[1]], "player +game")
})

test_that("from a pipe and at a terminal, on the command line", {
  skip_if_not_installed("processx")
  exec <- file.path(testthat::test_path(), "..", "..", "exec", "basanos")
  skip_if_not(file.exists(exec))
  env <- c("current", R_LIBS = paste(.libPaths(), collapse = ":"))
  input <- tempfile()
  writeLines(c("reef", "no"), input)
  piped <- processx::run("Rscript", c(exec, "play", "tide-signs", "--seed", "5"), stdin = input, env = env)
  expect_equal(piped$status, 0)
  expect_match(piped$stdout, "Played 1")
  for (case in list(list("lantern-tiles", "stand"), list("lantern-bluff", "check"), list("tide-signs", "boat"),
                    list("tide-words", "mother"))) {
    p <- processx::process$new("Rscript", c(exec, "play", case[[1]], "--seed", "5"), pty = TRUE, env = env)
    out <- ""
    wait_for <- function(text) {
      until <- Sys.time() + 60
      while (!grepl(text, out) && p$is_alive() && Sys.time() < until) {
        p$poll_io(500)
        out <<- paste0(out, p$read_output())
      }
      expect_match(out, text)
    }
    wait_for("\\?")
    p$write_input("nonsense\n")
    wait_for("not allowed|not in the list")
    p$write_input(paste0(case[[2]], "\n"))
    Sys.sleep(0.3)
    p$write_input("quit\n")
    p$wait(20000)
    expect_false(p$is_alive())
    p$kill()
  }
})

test_that("reasons are in the stall's words: why an answer is not legal, and why somebody passes", {
  g <- game_of("seats(ann, bo)", "state(left = 5)", "play({ for (mover in turns(each = 3)) {",
               "ask(mover, take = one_of(1:3), legal = take <= left, because = \"there are not so many pebbles left\",",
               "pass = \"no pebble is left\")", "if (take != pass) left <- left - take } })",
               "outcomes(none_left = left == 0, some_left = otherwise)", "greedy <- player(take = most(choices, it))")
  p <- shown_by(g, seats = "bo", rounds = 1, read = typed("3", "2"))
  expect_match(p$all, '"3" is not allowed here: there are not so many pebbles left. Choose one of: 1, 2', fixed = TRUE)
  expect_match(p$all, "bo passes: no pebble is left", fixed = TRUE)
  text <- paste(format(trace_round(g)), collapse = "\n")
  expect_match(text, "ann passes: no pebble is left", fixed = TRUE)
  expect_match(paste(outline_game(g), collapse = "\n"),
               "where the take is at most left (there are not so many pebbles left), or a pass (no pebble is left)",
               fixed = TRUE)
})

test_that("how much others hold is told, unless it is hidden; scratch state is not shown", {
  rules <- game_of("seats(left, right)", "cube <- die(1:6)",
    "state(hand = each(seat, bag(cube, room = 3, seen_by = owner)))",
    "state(veil = bag(cube, room = 3, seen_by = nobody, hide_size = yes))", "state(rolls = 0, scratch = yes)",
    "play({ for (s in seats) hand[s] <- roll(cube, 3)\n rolls <- 3\n veil <- roll(cube, 2)",
    " ask(left, go = one_of(1:2)) })",
    "outcomes(over = otherwise)", "even <- player(go = 1)")
  p <- shown_by(rules, seed = 3, rounds = 1, read = typed("quit"))
  expect_match(p$all, "left: [1-6], [1-6], [1-6]   right: 3 unseen")
  expect_no_match(p$all, "veil|rolls ")
  expect_error(game_of("seats(left)", "state(n = 0, scratch = 3)", "play({ n <- 1 })", "outcomes(over = otherwise)"),
               class = "basanos_not_constant")
})

test_that("a game without decisions is played by Enter", {
  p <- shown_by("dice-duel", seed = 3, read = typed("", "", "quit"))
  expect_match(p$all, "Nobody decides anything here: Enter plays a round")
  expect_equal(p$result$outcome, vapply(1:2, function(unit) trace_round("dice-duel", unit, seed = 3)$outcome, ""))
  expect_match(p$all, "  the first one's face: [1-8]")
  expect_error(shown_by("dice-duel", seats = "first"), class = "basanos_seat_unasked")
})

test_that("play begins where something comes up, or at a position", {
  p <- shown_by("lantern-tiles", seed = 3, where = "bright", rounds = 1, read = typed("draw", "draw", "draw"))
  expect_match(p$all, "Played by the players, `bright` comes up here")
  unit <- trace_round("lantern-tiles", seed = 3, where = "bright")$unit
  expect_equal(trace_round("lantern-tiles", unit, seed = 3)$outcome, "bright")
  at <- shown_by("lantern-tiles", seed = 3, at = "guest_total = 16, guest_tiles = 2", rounds = 1, read = typed("stand"))
  first <- at$out[[grep("guest's total", at$out)[[1]]]]
  expect_match(first, "the guest's total +16")
  expect_error(shown_by("lantern-tiles", at = "guest_total = 90"), class = "basanos_position_unseen")
})

# --- people beside the odds ----------------------------------------------------------------

test_that("rounds are kept with records and answers, and played again to compare them with each player", {
  path <- tempfile(fileext = ".csv")
  for (seed in 1:4) shown_by("lantern-tiles", seed = seed, rounds = 2, keep = path, name = "mara",
                             read = typed(rep("stand", 20)))
  kept <- utils::read.csv(path)
  given <- jsonlite::fromJSON(kept$answers[[1]], simplifyVector = FALSE)
  expect_identical(given[[1]]$answer, "stand")
  expect_identical(names(given[[1]]$seen)[[1]], "guest_total")
  t <- trace_round("lantern-tiles", unit = kept$unit[[1]], seed = kept$seed[[1]], forced = "choice = stand")
  expect_match(kept$records[[1]], sprintf("guest_tiles=%s", t$records$guest_tiles))
  p <- played_people(path)[[1]]
  expect_equal(sum(p$outcomes$share), 1)
  expect_equal(p$replayed, 8)
  first <- function(answers) jsonlite::fromJSON(answers, simplifyVector = FALSE)[[1]]
  totals <- vapply(kept$answers, function(answers) as.numeric(first(answers)$seen$guest_total), 0)
  careful <- p$agreement[p$agreement$player == "careful", ]
  expect_equal(c(careful$decisions, careful$same), c(8, sum(totals >= 19)))
  expect_true(all(p$partings$answer == "stand" & p$partings$other == "draw"))
  exact <- odds("lantern-tiles", engine = "exact", players = list(guest = "bold"))
  expect_equal(p$outcomes$bold, exact$outcomes$probability)
  expect_match(paste(format(structure(list(p), class = c("basanos_people", "basanos_result"))), collapse = "\n"),
               "answers as")
})

test_that("a log of somebody else is read by a map, and what does not fit is said", {
  log <- tempfile(fileext = ".csv")
  writeLines(c("who,ended,tiles", "ann,Guest high,2", "ann,tie,3", "ben,guest_bust,4"), log)
  p <- played_people(log, "lantern-tiles", c(name = "who", outcome = "ended", guest_tiles = "tiles"))
  expect_identical(vapply(p, `[[`, "", "name"), c("ann", "ben"))
  expect_equal(p[[1]]$outcomes$share[p[[1]]$outcomes$outcome %in% c("guest_high", "tie")], c(0.5, 0.5))
  expect_equal(p[[1]]$records$mean, 2.5)
  expect_null(p[[1]]$agreement)
  expect_equal(nrow(as.data.frame(p)), 2 * 6 * (1 + 3))  # the shares, and those under three players
  bad <- function(...) expect_error(played_people(log, "lantern-tiles", ...), class = "basanos_kept_wrong")
  bad(c(outcome = "endd"))
  bad(c(otcome = "ended"))
  bad(c(name = "who"))
  writeLines(c("who,ended", "ann,guest hgh"), log)
  expect_match(conditionMessage(bad(c(outcome = "ended"))), "guest_high")
  run <- at_command_line("played", system.file("story", "keepers-log.csv", package = "basanos"), "--game",
                         "lantern-tiles",
                         "--map", "name=visitor,outcome=how it ended,guest_tiles=tiles drawn")
  expect_equal(run$code, 0L)
  expect_match(paste(run$out, collapse = "\n"), "elin: ")
  run <- at_command_line("played", system.file("story", "evening.csv", package = "basanos"), "--format", "json")
  json <- jsonlite::fromJSON(paste(run$out, collapse = "\n"), simplifyVector = FALSE)
  expect_length(json$people, 5)
  expect_equal(sum(vapply(json$people[[1]]$outcomes, `[[`, 0, "share")), 1)
  expect_length(json$rounds, 5)
})

test_that("the evening of the demo: five made-up people, whom the numbers tell apart", {
  people <- played_people(system.file("story", "evening.csv", package = "basanos"))
  names(people) <- vapply(people, `[[`, "", "name")
  expect_setequal(names(people), c("ada", "bo", "cleo", "dov", "elin"))
  expect_identical(people$ada$agreement$player[[1]], "careful")
  expect_identical(people$bo$agreement$player[[1]], "bold")
  expect_true(all(vapply(people, function(p) p$replayed == 30, NA)))
})

test_that("answers go by their number, and `?` tells what can be typed, the rule card among it", {
  typed <- c("?", "card", "3", "2", "no")
  said <- character()
  play_game("lantern-tiles", seed = 3, read = function() { line <- typed[[1]]; typed <<- typed[-1]; line },
            write = function(lines) said <<- c(said, lines))
  expect_match(said, "1 draw   2 stand", fixed = TRUE, all = FALSE)
  expect_match(said, "guest: another tile, or stand?", fixed = TRUE, all = FALSE)
  expect_match(said, "card   the game in plain words", all = FALSE)
  expect_match(said, "until the guest's total is above 24:", all = FALSE)
  expect_match(said, "\"3\" is not allowed here", all = FALSE)
  expect_match(said, "=> keeper high|=> tie|=> guest high", all = FALSE)
  expect_match(said, "^    the guest's total", all = FALSE)
  order <- grep("^    the (guest|keeper)'s total", said)
  expect_match(said[order[[1]]], "the guest's total")  # what the players look at comes first
})

test_that("numbers as answers stay numbers", {
  said <- character()
  play_game("last-pebble", seed = 1, read = function() "quit", write = function(lines) said <<- c(said, lines))
  expect_match(said, "one of: 1, 2, 3", all = FALSE)
})
