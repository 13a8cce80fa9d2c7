# What the desk does without a page: its files, its door, its jobs. The page in a browser is in long-desk.R.

tiles_text <- function() desk_text(system.file("games", "lantern-tiles.game", package = "basanos"))
at_tiles <- function(job, ..., text = tiles_text()) job(text, "lantern-tiles.game", new_folder(), ...)

test_that("only files of the folder itself are opened and written", {
  folder <- new_folder()
  outside <- new_folder()
  writeLines("seats(a)", file.path(outside, "other.game"))
  writeLines("seats(a)", file.path(folder, "mine.game"))
  writeLines("x", file.path(folder, "notes.txt"))
  file.symlink(file.path(outside, "other.game"), file.path(folder, "link.game"))
  expect_identical(desk_games(folder), "mine.game")
  expect_identical(desk_path(folder, "mine.game"), file.path(folder, "mine.game"))
  for (name in c("../other.game", "/etc/passwd", "link.game", "notes.txt", ".game", ".mine.game", "a/b.game",
                 "a\\b.game", ""))
    expect_error(desk_path(folder, name), class = "basanos_desk_name", info = name)
  expect_error(desk_path(folder, c("a.game", "b.game")), class = "basanos_desk_name")
  expect_identical(desk_path(folder, "page.html", "html"), file.path(folder, "page.html"))
})

test_that("a draft is kept until its text is that of the file", {
  folder <- new_folder()
  path <- file.path(folder, "mine.game")
  save_desk_text(path, "seats(a)")
  expect_null(draft_of(path))
  keep_draft(path, "seats(a, b)")
  expect_identical(draft_of(path), "seats(a, b)")
  expect_identical(readLines(path), "seats(a)")
  expect_identical(desk_games(folder), "mine.game")
  keep_draft(path, "seats(a)")
  expect_null(draft_of(path))
  keep_draft(path, "seats(c)")
  save_desk_text(path, "seats(c)")
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), "mine.game")
  writeBin(charToRaw("seats(a)\r\nx\r\n\r\n"), path)
  expect_identical(desk_text(path), "seats(a)\nx")
})

test_that("the door opens with the secret, on this machine alone", {
  door <- list(secret = new_secret(), port = 7000L)
  expect_match(door$secret, "^[0-9a-f]{48}$")
  expect_false(door$secret == new_secret())
  request <- function(host = "127.0.0.1:7000", query = paste0("?key=", door$secret), cookie = NULL, origin = NULL)
    list(HTTP_HOST = host, QUERY_STRING = query, HTTP_COOKIE = cookie, HTTP_ORIGIN = origin)
  expect_true(may_enter(request(), door))
  expect_true(may_enter(request("localhost:7000", origin = "http://localhost:7000"), door))
  cookie <- paste0("a=b; basanos_desk_7000=", door$secret)
  expect_true(may_enter(request(query = "", cookie = cookie), door))
  expect_false(may_enter(request(query = ""), door))
  expect_false(may_enter(request(query = "?key="), door))
  expect_false(may_enter(request(query = NULL, cookie = "basanos_desk_7000=0"), door))
  expect_false(may_enter(request(query = paste0("?other=", door$secret)), door))
  for (host in list("evil.example:7000", "127.0.0.1:7001", "127.0.0.1", NULL))
    expect_false(may_enter(request(host), door))
  for (origin in c("http://evil.example", "null", "https://127.0.0.1:7000"))
    expect_false(may_enter(request(origin = origin), door))
})

test_that("a page of the folder is shown to who has the secret, shut off from the desk", {
  skip_if_not_installed("shiny")
  folder <- new_folder()
  writeLines("<p>caf\u00e9</p>", file.path(folder, "my stall.html"), useBytes = TRUE)
  writeLines("secret", file.path(folder, "notes.txt"))
  dir.create(file.path(folder, "inner.html"))
  file.symlink(file.path(new_folder(), "other.html"), file.path(folder, "link.html"))
  door <- list(secret = new_secret(), port = 7000L)
  desk <- with_door(list(httpHandler = function(request) shiny::httpResponse(200L, "text/plain", "the desk")), door,
                    folder)
  got <- function(path, key = door$secret)
    desk$httpHandler(list(HTTP_HOST = "127.0.0.1:7000", PATH_INFO = path, QUERY_STRING = paste0("?key=", key)))
  expect_identical(got("/")$content, "the desk")
  page <- got("/pages/my%20stall.html")
  expect_identical(page$status, 200L)
  expect_identical(page$content, readBin(file.path(folder, "my stall.html"), "raw", 100))
  expect_identical(page$headers[["Content-Security-Policy"]], "sandbox allow-scripts")
  expect_null(page$headers[["Set-Cookie"]])
  for (path in c("notes.txt", "link.html", "..%2Fother.html", "none.html", "inner.html", ".html", "a/b.html",
                 "%00.html", "%ff.html", ""))
    expect_identical(got(paste0("/pages/", path))$status, 404L, info = path)
  expect_identical(got("/pages/my%20stall.html", key = "0")$status, 403L)
})

test_that("problems have their places, and a hint that names a text puts it in", {
  found <- at_tiles(job_check, text = sub("roll(tile)", "rol(tile)", tiles_text(), fixed = TRUE))
  expect_false(found$ok)
  first <- found$problems[1, ]
  expect_identical(first$put_in, "roll")
  expect_identical(c(first$line, first$column, first$last_column), c(16L, 7L, 9L))
  expect_true(is.na(found$problems$put_in[[2]]))
  expect_false(at_tiles(job_check, text = " \n")$ok)
  whole <- at_tiles(job_check)
  expect_true(whole$ok)
  expect_identical(nrow(whole$problems), 0L)
  expect_true(all(whole$examples$passed))
  expect_identical(whole$seats, list(guest = c("careful", "bold", "wavering")))
  expect_match(whole$card, "On the table")
})

test_that("a title is text on the page, whatever it says", {
  hostile <- sub("\"Lantern Tiles\"", "\"<script>alert(1)</script>\"", tiles_text(), fixed = TRUE)
  expect_no_match(at_tiles(job_odds, list(), list(), text = hostile)$html, "<script", fixed = TRUE)
  expect_no_match(at_tiles(job_check, text = hostile)$card, "<script", fixed = TRUE)
})

test_that("the odds of what is turned are those of odds()", {
  told <- at_tiles(job_odds, list(aim = 22, "pay(guest, bright)" = 3), list(guest = "bold"))
  o <- odds("lantern-tiles", set = list(aim = 22, "pay(bright)" = 3), players = list(guest = "bold"))
  expect_equal(told$rows$value, as.data.frame(o)$value)
  expect_match(told$html, "<table")
})

test_that("values are written in their places, and nothing else changes", {
  set <- list(aim = 22, "pay(guest, bright)" = 3.5)
  text <- at_tiles(job_write, set)
  before <- strsplit(tiles_text(), "\n")[[1]]
  after <- strsplit(text, "\n")[[1]]
  changed <- which(before != after)
  expect_length(changed, 2)
  expect_match(after[[changed[[1]]]], "^aim +<- setting\\(22, from = 3, to = 200\\)")
  expect_equal(as.data.frame(odds(game(text)))$value, as.data.frame(odds("lantern-tiles", set = set))$value)
  yesno <- paste("seats(a)", "lit <- setting(no)  # a lamp", "c <- die(1:6)", "state(n = 0)", "play({ n <- roll(c) })",
                 "outcomes(x = lit, y = otherwise)", sep = "\n")
  expect_match(at_tiles(job_write, list(lit = 1), text = yesno), "lit <- setting(yes)  # a lamp", fixed = TRUE)
})

test_that("what can be turned lies within the range of the rules, around the value in them", {
  knobs <- at_tiles(job_check)$knobs
  names(knobs) <- vapply(knobs, `[[`, "", "name")
  expect_identical(unlist(knobs$low[c("value", "from", "to", "step")]), c(value = 1, from = 1, to = 11, step = 1))
  expect_identical(unlist(knobs$aim[c("from", "to")]), c(from = 14, to = 34))
  expect_identical(unlist(knobs[["pay(guest, otherwise)"]][c("value", "from", "to")]),
                   c(value = -1, from = -11, to = 9))
})

test_that("what a change moved is told with both values, the largest first, and noise is not told", {
  rows <- function(set, ...) as.data.frame(odds("lantern-tiles", set = set, ...))
  a <- rows(list())
  b <- rows(list(aim = 22))
  told <- changes_in_words(a, b)
  share <- function(rows, name) rows$value[rows$kind == "outcome" & rows$name == name]
  expect_true(sprintf("guest bust: %.2f%% \u2192 %.2f%%", 100 * share(a, "guest_bust"),
                      100 * share(b, "guest_bust")) %in% told)
  expect_length(changes_in_words(a, a), 0)
  one <- rows(list(), engine = "sample", rounds = 2000, seed = 1)
  other <- rows(list(), engine = "sample", rounds = 2000, seed = 2)
  expect_length(changes_in_words(one, other), 0)
  expect_gt(length(changes_in_words(one, rows(list(aim = 40), engine = "sample", rounds = 2000))), 0)
})

test_that("each panel answers with what its function says", {
  skip_if_not_installed("shiny")
  balance <- at_tiles(job_balance, "edge(guest) in 8%..12%", "aim in 20..26")
  expect_identical(balance$answers, answers(balance_game("lantern-tiles", "edge(guest) in 8%..12%", "aim in 20..26")))
  players <- at_tiles(job_players, "bold", "careful")$html
  expect_match(players, "best play", fixed = TRUE)
  expect_match(players, "where bold differs from careful", fixed = TRUE)
  expect_no_match(at_tiles(job_players)$html, "where bold differs from careful", fixed = TRUE)
  evening <- at_tiles(job_evening, 20, 12, 100)$html
  expect_match(evening, "evening of guest with 20 tokens")
  expect_match(evening, "a float of 100")
  for (panel in desk_panels()) expect_true(is.function(get(panel$job, asNamespace("basanos"))))
})

test_that("a round is gone through step by step, each with its line and what is remembered", {
  skip_if_not_installed("htmltools")
  html <- at_tiles(job_trace, 1, "bright")$html
  found <- function(pattern) regmatches(html, gregexpr(pattern, html, perl = TRUE))[[1]]
  events <- trace_round("lantern-tiles", where = "bright")$events
  expect_identical(as.integer(found("(?<=data-desk-lit=\")[0-9]+")), events$line)
  now <- found("(?<=data-desk-now=\")[^\"]*")
  total <- cumsum(as.numeric(events$value[events$kind == "draw"]))
  expect_identical(now[[1]], "")
  expect_identical(unique(now)[[3]], sprintf("guest_total = %d, guest_tiles = 1", total[[1]]))
  expect_identical(now[[length(now)]], "guest_total = 24, guest_tiles = 3")
  expect_match(html, "=&gt; bright; pays guest +2", fixed = TRUE)
  # of a variant only the lines of its own file are lit
  dusk <- "based_on(\"lantern-tiles\")\ntile <- die(2:12)"
  other <- job_trace(dusk, "dusk.game", new_folder(), 1, NULL)$html
  expect_no_match(other, "data-desk-lit")
  long <- steps_of_round(trace_round("moon-wheel"), "moon-wheel.game")
  expect_lte(length(long), most_steps_shown + 1)
})

test_that("targets and knobs are written from what was chosen, and mean that", {
  check <- at_tiles(job_check)
  measures <- stats::setNames(check$measures, vapply(check$measures, `[[`, "", "name"))
  expect_setequal(names(measures), c("edge(guest)", "gain(guest)", sprintf("probability(outcome == %s)",
    game("lantern-tiles")$outcomes$names), "mean(tiles)", "mean(guest_tiles)", "mean(keeper_tiles)"))
  knobs <- stats::setNames(check$knobs, vapply(check$knobs, `[[`, "", "name"))
  edge <- measures[["edge(guest)"]]
  expect_identical(target_line(edge, "between", c(12, 8)), "edge(guest) in 8%..12%")
  expect_identical(target_line(edge, "at least", c(8, NA)), "edge(guest) at least 8%")
  expect_identical(target_line(measures[["mean(tiles)"]], "near", c(5.5, NA)), "mean(tiles) near 5.5")
  expect_null(target_line(edge, "between", c(8, NA)))
  expect_null(target_line(edge, "at most", c(NA, 3)))
  expect_identical(knob_line(knobs$aim, c(26, 20)), "aim in 20..26")
  expect_null(knob_line(knobs$aim, c(NA, 20)))
  # values lie whole steps from today's, which is among them
  part <- list(name = "part", kind = "number", value = 0.25, step = 0.1)
  expect_identical(knob_line(part, c(0, 0.6)), "part in 0.05..0.55 by 0.1")
  expect_identical(knob_line(part, c(0.3, 0.6)), "part in 0.25..0.55 by 0.1")
  expect_identical(knob_line(list(name = "lit", kind = "yesno"), c(NA, NA)), "lit in no, yes")
  # every line that can be made of the fair's games is read
  for (name in fair_games()) {
    g <- game(name)
    for (m in measures_at_desk(g)) expect_no_error(read_target(g, target_line(m, "at least", c(1, NA))))
    for (k in knobs_at_desk(g)) expect_no_error(read_knob(g, knob_line(k, c(k$from, k$to))))
  }
})

test_that("what was worked out is kept until a file of the folder changes", {
  folder <- new_folder()
  state <- new.env()
  args <- list(text = "x", folder = folder)
  answer <- list(kind = "odds", job = "job_odds", value = 1, problem = NULL, args = args, at = 1, seconds = 3)
  keep_answer(state, answer)
  expect_identical(kept_answer(state, "odds", "job_odds", args)[c("value", "seconds")], list(value = 1, seconds = 3))
  expect_null(kept_answer(state, "odds", "job_odds", list(text = "y", folder = folder)))
  keep_answer(state, utils::modifyList(answer, list(job = "job_play", args = list(text = "z", folder = folder))))
  expect_null(kept_answer(state, "play", "job_play", list(text = "z", folder = folder)))
  for (k in 1:60) keep_answer(state, utils::modifyList(answer, list(args = list(text = k, folder = folder))))
  expect_length(state$kept, most_kept)
  writeLines("net", file.path(folder, "some.txt"))
  expect_null(kept_answer(state, "odds", "job_odds", list(text = 60L, folder = folder)))
})

test_that("a round is played answer by answer, with the luck of its seed", {
  play <- function(answers, ...) at_tiles(job_play, 3, answers, ...)
  first <- play(character(), FALSE)
  expect_identical(first$choices, c("draw", "stand"))
  expect_null(first$over)
  expect_match(first$html, "the guest&#39;s total  2|the guest's total  2")
  over <- play(c("draw", "stand"), TRUE)
  typed <- c("draw", "stand")
  said <- character()
  known <- play_game("lantern-tiles", "guest", seed = 3, rounds = 1, read = function() {
    line <- typed[[1]]
    typed <<- typed[-1]
    line
  }, write = function(lines) said <<- c(said, lines))
  expect_identical(over$over, known)
  expect_match(over$html, "Your answers cost", fixed = TRUE)
  expect_match(play("nonsense", FALSE)$html, "nonsense")
  # rounds are kept beside the rules, each once
  folder <- new_folder()
  keep <- function(answers) job_play(tiles_text(), "lantern-tiles.game", folder, 3, answers, FALSE, "guest", TRUE)
  keep("draw")
  expect_false(file.exists(file.path(folder, "lantern-tiles.csv")))
  keep(c("draw", "stand"))
  kept <- utils::read.csv(file.path(folder, "lantern-tiles.csv"))
  expect_identical(kept$outcome, known$outcome)
  expect_identical(kept$pay, as.integer(known$pay))
})

test_that("cards and dice are drawn where they lie, and nothing else is", {
  of_fair <- function(name, seed, answers = character()) job_play(
    desk_text(system.file("games", paste0(name, ".game"), package = "basanos")), paste0(name, ".game"), new_folder(),
    seed, answers, FALSE)
  texts <- function(html, class) {
    found <- regmatches(html, gregexpr(sprintf("<span class=\"%s\"[^>]*>[^<]*", class), html))[[1]]
    sub("<[^>]*>", "", found)
  }
  salt <- of_fair("salt-draw", 2)
  hand <- c("3 clubs", "9 swords", "10 clubs", "10 swords", "A cups")
  expect_identical(texts(salt$html, "desk-card"), c(hand, hand))
  expect_identical(salt$several, hand)
  expect_null(salt$choices)
  expect_match(of_fair("salt-draw", 2, "A cups")$html, "=&gt; [a-z ]+; pays guest")  # one item, with a space in it
  bell <- of_fair("bell-cards", 2)
  expect_identical(texts(bell$html, "desk-card"), c("7 shells", "10 oars"))
  expect_identical(texts(bell$html, "desk-card desk-back"), "2 unseen")
  dice <- of_fair("harbour-dice", 2)$html
  expect_identical(utf8ToInt(paste(texts(dice, "desk-die"), collapse = "")) - 0x267FL, c(1L, 2L, 2L, 3L, 4L))
  expect_match(dice, "throws       1\n", fixed = TRUE)
  tiles <- of_fair("lantern-tiles", 3)$html  # numbers, but no dice
  expect_no_match(tiles, "desk-die|desk-card")
  expect_identical(with_dice("    the dice  1, 7"), "    the dice  1, 7")
  expect_identical(with_cards("A+B, A+B C, A", c("A", "A+B C")), paste0(
    "<span class=\"desk-card\">A</span>+B, <span class=\"desk-card\">A+B C</span>, ",
    "<span class=\"desk-card\">A</span>"))
  for (name in c("two-buckets", "keepers-three", "lantern-twenty-one", "pier-pins", "harvest-sheet"))
    expect_match(of_fair(name, 1)$html, "^<pre", info = name)
})

test_that("the first file: that of the folder, a copy of the fair's, else a starter", {
  folder <- new_folder()
  expect_identical(file_to_start(NULL, folder), "my-stall.game")
  expect_identical(file_to_start("tide-signs", folder), "tide-signs.game")
  expect_identical(desk_games(folder), c("my-stall.game", "tide-signs.game"))
  expect_identical(file_to_start("my-stall.game", folder), "my-stall.game")
  # with its word lists, also under another name
  expect_identical(file_to_start("tide-words", folder), "tide-words.game")
  expect_identical(copied_to_desk(path_of_start("fair:sunken-name"), "lost.game", folder), "lost.game")
  for (name in c("tide-words.game", "lost.game"))
    expect_true(job_check(desk_text(file.path(folder, name)), name, folder)$ok, info = name)
  expect_setequal(list.files(folder, "txt$"), c("six-secret.txt", "six-allowed.txt", "pier-words.txt"))
  writeLines("mine", file.path(folder, "pier-words.txt"))
  copied_to_desk(path_of_start("fair:sunken-name"), "lost.game", folder)
  expect_identical(readLines(file.path(folder, "pier-words.txt")), "mine")
  expect_error(path_of_start("fair:../../secret"), class = "basanos_file_missing")
  elsewhere <- file.path(new_folder(), "other.game")
  writeLines("seats(a)", elsewhere)
  expect_error(file_to_start(elsewhere, folder), class = "basanos_desk_name")
  expect_error(file_to_start("no-such", folder), class = "basanos_file_missing")
})

test_that("work goes on in another process: the latest question of a kind is answered, and a stop is heeded", {
  skip_if_not_installed("shiny")
  skip_if_not_installed("callr")
  wait_for <- function(done, session) for (k in 1:300) {
    session$elapse(60)
    if (done()) return(invisible(TRUE))
    Sys.sleep(0.05)
  }
  pool <- new_pool(1)
  on.exit(close_pool(pool))
  shiny::testServer(function(input, output, session) session$userData$worker <- new_worker(session, pool), {
    worker <- session$userData$worker
    args <- list(text = tiles_text(), name = "lantern-tiles.game", folder = tempdir())
    worker$ask("check", "job_check", args)
    wait_for(function() !is.null(worker$answers$check), session)
    expect_true(worker$answers$check$value$ok)
    worker$ask("odds", "job_odds", c(args, list(set = list(aim = 5), players = list(guest = "nobody"))))
    wait_for(function() !is.null(worker$answers$odds), session)
    expect_match(worker$answers$odds$problem, "nobody")
    slow <- list(text = desk_text(system.file("games", "bell-cards.game", package = "basanos")),
                 name = "bell-cards.game", folder = tempdir())
    worker$ask("players", "job_players", slow)
    wait_for(function() identical(worker$busy()$kind, "players"), session)
    stopped <- Sys.time()
    worker$stop()
    wait_for(function() is.null(worker$busy()), session)
    expect_lt(as.numeric(Sys.time() - stopped, units = "secs"), 5)
    expect_identical(worker$answers$players$problem, stopped_words)
    worker$ask("check", "job_check", slow)
    wait_for(function() identical(worker$answers$check$args, slow), session)
    expect_true(worker$answers$check$value$ok)
  })
})
