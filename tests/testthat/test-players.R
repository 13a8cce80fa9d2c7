# Players compared: against enumeration, and how sure the ranking is.

test_that("two seats: every pairing, seats swapped, as odds() has them", {
  p <- compare_players("tide-signs")
  expect_identical(p$engine, "exact")
  k <- length(p$players)
  expect_equal(nrow(p$pairs), k^2)
  for (row in c(2, k + 1, k^2)) {
    pair <- p$pairs[row, ]
    o <- odds("tide-signs", engine = "exact", players = list(left = pair$left, right = pair$right))
    expect_equal(c(pair$of_left, pair$of_right),
                 o$outcomes$probability[match(c("left_wins", "right_wins"), o$outcomes$name)])
  }
  one <- p$advantage[1, ]
  value <- function(a, b, seat) p$pairs[[paste0("of_", seat)]][p$pairs$left == a & p$pairs$right == b]
  by_hand <- ((value(one$player, one$against, "left") - value(one$player, one$against, "right")) +
                (value(one$against, one$player, "right") - value(one$against, one$player, "left"))) / 2
  expect_equal(one$advantage, by_hand)
  expect_true(all(p$advantage$standard_error == 0))
})

signs_game <- function() {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(left, right)", "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)",
               "play({ ask(seats, throw = one_of(sign)) })", "state(x = 0)",
               "outcomes(wins = who(beats(throw[it], throw[other(it)])), draw = otherwise)",
               "only_reef <- player(throw = reef)", "only_boat <- player(throw = boat)",
               "only_squall <- player(throw = squall)",
               "even <- player(throw = pick(choices))"), path)
  path
}

test_that("a circle is shown, not hidden in one number", {
  p <- compare_players(signs_game())
  circle <- p$ranking$player[!is.na(p$ranking$cycle)]
  expect_setequal(circle, c("only_reef", "only_boat", "only_squall"))
  expect_equal(p$advantage$advantage[p$advantage$player == "only_reef" & p$advantage$against == "only_boat"], 1)
  text <- paste(format(p), collapse = "\n")
  expect_match(text, "only_reef beats only_boat")
  expect_s3_class(figure_of(p, show = "ranking"), "ggplot")
  even <- p$advantage[p$advantage$player == "even" | p$advantage$against == "even", ]
  expect_true(all(abs(even$advantage) < 1e-12 & even$sure == 0))
  expect_equal(p$ranking$rank_to[p$ranking$player == "even"], 4)
  expect_equal(p$ranking$rank_from[p$ranking$player == "even"], 1)
})

test_that("of a match who wins it counts; what goes on for ever is told, and the rest ranked; less may be better", {
  path <- tempfile(fileext = ".game")
  writeLines(c(readLines(signs_game()), "match(first_to = 2, counts = wins)"), path)
  p <- compare_players(path)
  expect_identical(p$measure, "probability(match == {seat})")
  alike <- p$pairs$left == p$pairs$right & p$pairs$left != "even"
  expect_identical(is.na(p$pairs$of_left), alike)
  of <- function(a, b) p$pairs$of_left[p$pairs$left == a & p$pairs$right == b]
  expect_equal(of("only_reef", "only_boat"), 1)
  expect_equal(of("even", "only_reef"), 0.5)  # a draw of either counts for nobody
  expect_setequal(p$ranking$player[!is.na(p$ranking$cycle)], c("only_reef", "only_boat", "only_squall"))
  expect_match(format(p), "goes on for ever", all = FALSE)
  sampled <- compare_players(path, players = c("even", "only_reef"), engine = "sample", rounds = 2000)
  expect_lt(abs(sampled$advantage$advantage), 5 * sampled$advantage$standard_error)
  # matches won, sampled unit by unit as counted
  question <- with_measures(new_question(game("five-winds")), "probability(match == left)")
  side <- list(question = question, program = program_of(question))
  won <- matches_won(question$game, unit_table(side, 1, 1, 400), 1)
  kept <- odds("five-winds", engine = "sample", rounds = 400, measure = "probability(match == left)")
  expect_equal(mean(won), kept$measures$value)
  expect_equal(kept$units$winners$probability[kept$units$winners$name == "left"], kept$measures$value)
  high <- compare_players("lantern-tiles", measure = "mean(guest_tiles)")
  low <- compare_players("lantern-tiles", measure = "mean(guest_tiles)", best = "lowest")
  expect_identical(low$ranking$player, rev(high$ranking$player))
  expect_equal(low$advantage$advantage, -high$advantage$advantage)
  expect_match(format(low), "The lowest value is the best", all = FALSE)
})

test_that("one seat: a table of players, sampled on the same luck or counted", {
  p <- compare_players("lantern-tiles")
  pay <- function(player) odds("lantern-tiles", engine = "exact", players = list(guest = player))$pays$mean
  first <- p$advantage[1, ]
  expect_equal(first$advantage, pay(first$player) - pay(first$against))
  expect_identical(p$ranking$player[[1]], p$pairs$guest[[which.max(p$pairs$of_guest)]])
  s <- compare_players("bell-cards", engine = "sample", rounds = 3000)
  expect_identical(s$ranking$player[[1]], "cautious")
  expect_true(all(s$advantage$standard_error > 0))
  o <- odds("bell-cards", engine = "sample", rounds = 3000, players = list(guest = "brave"))
  expect_equal(s$pairs$of_guest[s$pairs$guest == "brave"], o$pays$mean)
  # a difference d with a standard deviation of s in a round shows in (2.8 s / d)^2 rounds
  row <- s$advantage[s$advantage$player == "cautious" & s$advantage$against == "brave", ]
  expect_gt(row$rounds_by_hand, 20)
  expect_equal(rounds_to_notice(0.5, 2), ceiling(((1.959964 + 0.8416212) * 2 / 0.5)^2))
})

test_that("three seats: each against a field of the others", {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(a, b, c)", "cube <- die(1:6)", "state(score = each(seat, 0))",
               "play({ for (s in seats) { ask(s, n = one_of(1:2)); for (k in 1:n) add(roll(cube), to = score[s]) } })",
               "outcomes(wins = leader(score[it]), tied = otherwise)", "pays(winner, 2)", "pays(others, -1)",
               "one <- player(n = 1)", "two <- player(n = 2)"), path)
  p <- compare_players(path)
  expect_equal(nrow(p$pairs), 2 + 2 * 3)
  expect_identical(p$ranking$player, c("two", "one"))
  pay <- function(...) odds(path, engine = "exact", players = list(...))$pays$mean
  lone_two <- pay(a = "two", b = "one", c = "one")
  lone_one <- pay(a = "one", b = "two", c = "two")
  expect_equal(abs(p$advantage$advantage),
               ((lone_two[[1]] - mean(lone_two[2:3])) - (lone_one[[1]] - mean(lone_one[2:3]))) / 2)
})

test_that("equal players are called apart in at most one run of twenty", {
  path <- tempfile(fileext = ".game")
  writeLines(c("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "stakes(guest, 1)",
               "play({ ask(guest, on = one_of(1:6)); face <- roll(cube) })",
               "outcomes(hit = face == on, miss = otherwise)",
               "pays(guest, hit = 5, miss = -1)", sprintf("p%d <- player(on = %d)", 1:4, 1:4)), path)
  wrong <- vapply(1:60, function(seed)
    any(compare_players(path, engine = "sample", rounds = 400, seed = seed)$advantage$sure != 0), NA)
  expect_lte(mean(wrong), 0.05 + 3 * sqrt(0.05 * 0.95 / 60))
})

test_that("what cannot be compared is refused", {
  few <- tempfile(fileext = ".game")
  writeLines(c("seats(a)", "play({ ask(a, x = one_of(p, q)) })", "outcomes(over = otherwise)", "one <- player(x = p)"),
             few)
  expect_error(compare_players(few), class = "basanos_players_few")
  expect_error(compare_players("lantern-tiles", players = c("careful", "bald")), class = "basanos_player_unknown")
  expect_error(compare_players("lantern-tiles", measure = "quantile(tiles, 0.5)"), class = "basanos_measure_wrong")
})

test_that("players as a command: text, csv, json and a figure", {
  out <- at_command_line("players", "tide-signs", "--format", "json")$out
  json <- jsonlite::fromJSON(paste(out, collapse = "\n"), simplifyVector = FALSE)
  expect_setequal(names(json$pairs[[1]]), c("seats", "measures"))
  expect_setequal(names(json$pairs[[1]]$seats), c("left", "right"))
  expect_length(json$ranking, length(compare_players("tide-signs")$players))
  csv <- utils::read.csv(text = at_command_line("players", "lantern-tiles", "--compare", "careful,bold", "--format",
                                                "csv")$out)
  expect_equal(sum(csv$kind == "advantage"), 1)
  figure <- tempfile(fileext = ".svg")
  text <- at_command_line("players", "bell-cards", "--engine", "sample", "--rounds", "2000", "--figure", figure)
  expect_match(text$out, "rounds to notice by hand", all = FALSE)
  expect_gt(file.size(figure), 2000)
  expect_identical(at_command_line("players", "lantern-tiles", "--player", "guest=bold")$code, 2L)
})

test_that("players that slip give any legal answer, with their chance", {
  o <- function(left) odds("tide-signs", engine = "exact", players = list(left = left,
                                                                          right = "steady"))$outcomes$probability
  expect_equal(o("steady~1"), o("even"))
  expect_equal(o("steady~0"), o("steady"))
  expect_equal(o("steady~0.25"), 0.75 * o("steady") + 0.25 * o("even"))
  exact <- odds("lantern-tiles", engine = "exact", players = list(guest = "careful~0.2"))$outcomes
  sampled <- odds("lantern-tiles", engine = "sample", rounds = 20000, players = list(guest = "careful~0.2"))$outcomes
  expect_true(all(abs(exact$probability - sampled$probability) < 4 * sampled$standard_error))
  mixed <- odds("lantern-tiles", engine = "exact", players = list(guest = "careful~0.2:1, bold:1"))$outcomes$probability
  bold <- odds("lantern-tiles", engine = "exact", players = list(guest = "bold"))$outcomes$probability
  expect_equal(mixed, (exact$probability + bold) / 2)
  for (wrong in c("careful~2", "careful~often"))
    expect_error(odds("lantern-tiles", players = list(guest = wrong)), class = "basanos_slip_wrong")
  expect_error(odds("lantern-tiles", players = list(guest = "carefull~0.1")), class = "basanos_player_unknown")
  p <- compare_players("lantern-tiles", players = c("careful", "careful~0.3"))
  expect_identical(p$ranking$player[[1]], "careful")
  expect_gt(abs(p$advantage$advantage), 0.01)
})

bank_game <- function(...) {
  game_of("seats(red, blue)", "cube <- die(1:6)", "goal <- setting(12, from = 5, to = 100)",
          "state(score = each(seat, 0), kept = 0)", "play({",
          "  for (mover in turns(until = max(score) >= goal)) {", "    kept <- 0", "    repeat {",
          "      face <- roll(cube)", "      if (face == 1) { kept <- 0; break }", "      add(face, to = kept)",
          "      ask(mover, choice = one_of(more, keep))", "      if (choice == keep) break", "    }",
          "    add(kept, to = score[mover])", "  }", "})", "outcomes(wins = leader(score[it]), draw = otherwise)",
          "banker <- function(at = 6, twice = no)",
          "  player(choice = if (kept < at || twice && kept < 2 * at) more else keep)",
          "at_four <- player(choice = if (kept < 4) more else keep)",
          "usual <- player(choice = if (kept < 6) more else keep)", ...)
}

test_that("a player with arguments plays as one that is written with these numbers", {
  g <- bank_game("again <- player(like = banker)",
                 'example("four is enough", given(red = banker(4), cube = c(4, 6, 2, 1, 1), rest = stop),',
                 "  expect(score[red] == 4))")
  wins <- function(...) odds(g, engine = "exact", players = list(...))$outcomes$probability[[1]]
  expect_equal(wins(red = "banker(4)", blue = "usual"), wins(red = "at_four", blue = "usual"))
  expect_equal(wins(red = "banker", blue = "banker(at = 6, twice = no)"), wins(red = "usual", blue = "usual"))
  expect_equal(wins(red = "again(3)", blue = "usual"), wins(red = "banker(3, twice = no)", blue = "usual"))
  expect_equal(wins(red = "banker(3, twice = yes)", blue = "usual"), wins(red = "usual", blue = "usual"))
  expect_equal(wins(red = "banker(4)~0", blue = "usual"), wins(red = "at_four", blue = "usual"))
  run <- at_command_line("odds", "lantern-tiles", "--player", "guest=careful(3)")
  expect_match(run$said, "takes no arguments")
  for (bad in c("banker(2.5)", "banker(x)", "banker(1, no, 3)", "banker(to = 3)", "banker(3, twice = 2)", "banker(3"))
    expect_error(wins(red = bad), class = "basanos_player_argument")
})

test_that("a player is swept over its argument, on the command line too", {
  path <- tempfile(fileext = ".game")
  writeLines(bank_game()$source$lines, path)
  run <- at_command_line("sweep", path, "--player", "red=banker(4:8:2),blue=banker(at = 6, twice = no)", "--measure",
                         "probability(outcome == red_wins)", "--format", "json")
  rows <- jsonlite::fromJSON(paste(run$out, collapse = "\n"))$rows
  expect_identical(rows$players$red, c("banker(4)", "banker(6)", "banker(8)"))
  s <- sweep_game(path, players = list(red = c("banker(4)", "banker(6)")), measure = "probability(outcome == red_wins)")
  expect_s3_class(figure_of(s), "ggplot")
  expect_equal(s$rows$value[[2]], odds(path, engine = "exact")$outcomes$probability[[1]])
})

test_that("sampling goes on until each pair is told apart or close enough, and no longer", {
  path <- tempfile(fileext = ".game")
  writeLines(c('based_on("bell-cards")', "again <- player(like = cautious)"), path)
  quick <- compare_players(path, players = c("cautious", "timid"), engine = "sample", until = 0.02, rounds = 2e5)
  expect_lt(quick$rounds, 2e5)
  expect_equal(quick$advantage$sure, 1)
  alike <- compare_players(path, players = c("cautious", "again"), engine = "sample", until = 0.05, rounds = 2e5)
  expect_equal(alike$advantage$sure, 0)
  expect_equal(alike$looks, 1)  # the same on the same luck: surely closer than anything
  most <- compare_players("bell-cards", players = c("cautious", "cautious~0.001"), engine = "sample", until = 1e-6,
                          rounds = 3000)
  expect_equal(most$rounds, 3000)
  expect_error(compare_players("bell-cards", until = 0), class = "basanos_argument_wrong")
  run <- at_command_line("players", path, "--compare", "cautious,timid", "--engine", "sample", "--until", "0.05",
                         "--rounds",
                         "20000")
  expect_match(paste(run$out, collapse = "\n"), "Sampled until each pair")
})

test_that("several workers tell the same", {
  one <- compare_players("lantern-tiles", engine = "sample", rounds = 500)
  two <- compare_players("lantern-tiles", engine = "sample", rounds = 500, workers = 2)
  expect_identical(two$advantage, one$advantage)
})
