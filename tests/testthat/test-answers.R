# What players do, and where they part: against enumeration.

# Roll up to nine: draw while below a number; the total is paid, past nine nothing.
climb_game <- function() {
  game_of("seats(guest)", "cube <- die(1:6)", "state(total = 0, hidden = one(1:6, seen_by = nobody))", "play({",
          "  hidden <- roll(cube)", "  add(roll(cube), to = total)", "  while (total <= 9) {",
          "    ask(guest, choice = one_of(draw, stand))", "    if (choice == stand) break",
          "    add(roll(cube), to = total)", "  }", "})", "outcomes(past = total > 9, within = otherwise)",
          "pays(guest, past = 0, within = total)", "careful <- player(choice = if (total < 5) draw else stand)",
          "bold <- player(choice = if (total < 7) draw else stand)",
          "wild <- player(choice = if (total < 7) pick(draw = 3, stand = 1) else stand)")
}

# By hand: the chance of being asked at each total, and the worth of each answer when one draws below `stands`.
reached_at <- function(stands) {
  p <- c(rep(1 / 6, 6), 0, 0, 0)
  for (total in 1:9) if (total < stands) for (face in 1:6) if (total + face <= 9)
    p[[total + face]] <- p[[total + face]] + p[[total]] / 6
  p
}
worth_of <- function(stands) {
  going <- numeric(15)
  draw <- numeric(9)
  for (total in 9:1) {
    draw[[total]] <- mean(going[total + 1:6])
    going[[total]] <- if (total < stands) draw[[total]] else total
  }
  list(draw = draw, start = mean(going[1:6]))
}

test_that("how often each answer is given in which situation", {
  a <- player_answers(climb_game(), rounds = 4000)
  expect_identical(a$by, "total")
  expect_setequal(a$rows$total, 1:9)
  p <- reached_at(5)
  for (total in 1:9) {
    own <- a$rows[a$rows$total == total, ]
    expect_equal(own$met[[1]], p[[total]] / sum(p), tolerance = 0.15)
    expect_identical(own$share[own$answer == "draw"], as.numeric(total < 5))
  }
  expect_match(paste(format(a), collapse = "\n"), "1 to 4 .*100.0%")
  wild <- player_answers(climb_game(), players = list(guest = "wild"), rounds = 3000)$rows
  draw <- wild[wild$answer == "draw" & wild$total < 7, ]
  expect_gte(mean(draw$lower <= 0.75 & draw$upper >= 0.75), 5 / 6)
  # what is not seen explains nothing
  expect_false(any(c("hidden") %in% names(a$rows)))
  by <- player_answers(climb_game(), by = "total < 5", rounds = 500)
  expect_identical(by$rows$share, c(0, 1, 1, 0))
})

test_that("differences and their costs add up to the difference of the two players", {
  g <- climb_game()
  p <- player_partings(g, player = "careful", other = "bold", rounds = 3000)
  own <- worth_of(5)
  expect_equal(p$difference, own$start - worth_of(7)$start)
  expect_equal(p$explained, p$difference)
  expect_setequal(p$rows$situation, c("total = 5", "total = 6"))
  reach <- reached_at(7)
  for (total in 5:6) {
    row <- p$rows[p$rows$situation == sprintf("total = %d", total), ]
    expect_equal(row$reached, reach[[total]])
    expect_equal(c(row$worth, row$other_worth), c(total, own$draw[[total]]))
    expect_identical(c(row$answer, row$other), c("stand", "draw"))
  }
  expect_equal(nrow(player_partings(g, player = "careful", other = "careful", rounds = 50)$rows), NULL)
  expect_error(player_partings(g, player = "wild", other = "bold"), class = "basanos_argument_wrong")
  sets <- player_partings("nine-shutters", player = "few", other = "many", rounds = 20, most = 2)
  expect_identical(sets$explained, NA_real_)
  expect_match(format(sets), "The cost of an answer of several items is not known.", all = FALSE, fixed = TRUE)
  expect_false(any(grepl("cost$", format(sets))))
})

test_that("a second game: cards, a situation of one's own, two seats", {
  g <- game_of("cards <- deck(rank = 1:5, copies = 1)", "seats(red, blue)",
               "state(card = each(seat, bag(cards, room = 1, seen_by = owner)))",
               "play({ deal(1, to = card[red]); deal(1, to = card[blue]); ask(red, choice = one_of(keep, drop)) })",
               "outcomes(dropped = choice == drop, red_wins = max(card[red], rank) > max(card[blue], rank),",
               "  blue_wins = otherwise)",
               "pays(red, dropped = -1, red_wins = 2, blue_wins = -2)",
               "timid <- player(choice = if (max(card[me], rank) >= 4) keep else drop)",
               "keen <- player(choice = if (max(card[me], rank) >= 2) keep else drop)")
  p <- player_partings(g, player = "timid", other = "keen", by = "max(card[me], rank)", rounds = 2000)
  wins <- function(rank) (rank - 1) / 4
  cost <- function(rank) (-1 - (2 * wins(rank) - 2 * (1 - wins(rank)))) / 5
  for (rank in 2:3) expect_equal(p$rows$cost[p$rows$situation == sprintf("max(card[red], rank) == %d", rank)],
                                 cost(rank))
  expect_equal(p$explained, cost(2) + cost(3))
  expect_equal(p$difference, p$explained)
  # without a situation of its own each card is one
  whole <- player_partings(g, player = "timid", other = "keen", rounds = 2000)
  expect_equal(sum(whole$rows$cost), p$explained)
  a <- player_answers(g, seat = "red", rounds = 300)
  expect_identical(a$by, "card[red]")
  expect_error(player_answers(g, seat = "blue"), class = "basanos_seat_unasked")
  expect_error(player_answers(g, decision = "mve"), class = "basanos_position_none")
})

test_that("a player who follows a throw of the play is explained by it, and differs from another there", {
  path <- tempfile(fileext = ".game")
  writeLines(c('title("Throw and choose", "Keep the first throw or take the second.")', "seats(guest)",
               "cube <- die(1:6)", "state(total = 0)", "play({", "  first <- roll(cube)",
               "  ask(guest, keep = one_of(stay, again))", "  second <- roll(cube)",
               "  total <- if (keep == stay) first else second", "})", "outcomes(won = total > 3, lost = otherwise)",
               "pays(guest, won = 1, lost = -1)", "careful <- player(keep = if (first >= 4) stay else again)",
               "bold <- player(keep = if (first >= 6) stay else again)", "fixed <- player(keep = again)"), path)
  does <- player_answers(path, rounds = 300)
  expect_identical(does$by, "first")
  stay <- does$rows[does$rows$answer == "stay", ]
  expect_identical(stay$share, as.numeric(stay$first >= 4))
  expect_identical(player_answers(path, by = "first", players = list(guest = "bold"), rounds = 300)$by, "first")
  parted <- player_partings(path, player = "careful", other = "bold", rounds = 500)
  expect_setequal(parted$rows$situation, c("first = 4", "first = 5"))
  expect_equal(parted$rows$cost, c(1, 1) / 6)  # one in six each; staying wins 1, throwing again 0
  expect_equal(parted$difference, 1 / 3)
  expect_equal(odds(path, at = "first = 2")$answers$won, c(0.5, 0))
  expect_error(odds(path, at = "second = 2"), class = "basanos_unknown_name")  # not thrown yet
  always <- player_partings(path, player = "fixed", other = "careful", rounds = 500)
  expect_setequal(always$rows$situation, paste("first =", 4:6))
})

test_that("players who see nothing part always", {
  path <- tempfile(fileext = ".game")
  writeLines(c('title("Stay or go", "Nothing is known.")', "seats(guest)", "cube <- die(1:6)", "state(total = 0)",
               "play({", "  ask(guest, keep = one_of(stay, again))",
               "  total <- if (keep == stay) 4 else roll(cube)", "})", "outcomes(won = total > 3, lost = otherwise)",
               "pays(guest, won = 1, lost = -1)", "careful <- player(keep = stay)", "bold <- player(keep = again)"),
             path)
  parted <- player_partings(path, player = "careful", other = "bold", rounds = 100)
  expect_equal(parted$rows$cost, 1)
  expect_match(format(parted), "always", all = FALSE)
  expect_match(format(odds(path, at = "")), "from +where keep is asked [(]occurs in 100.00% of rounds", all = FALSE)
})

test_that("from the command line", {
  run <- at_command_line("answers", "lantern-tiles", "--rounds", "200", "--format", "csv")
  expect_equal(run$code, 0L)
  expect_match(run$out[[1]], "kind.*by.*guest_total.*met")
  run <- at_command_line("answers", "lantern-tiles", "--player", "guest=bold", "--against", "careful", "--rounds",
                         "200",
                         "--format", "json")
  rows <- jsonlite::fromJSON(paste(run$out, collapse = "\n"))$rows
  expect_true(all(rows$answer == "stand" & rows$other == "draw"))
})

test_that("what players do is told of each game of the fair where somebody decides", {
  for (name in c("two-buckets", "salt-draw", "harbour-dice", "net-menders", "sunken-name")) {
    a <- player_answers(name, rounds = 20)
    sums <- tapply(a$rows$share, rep(seq_len(nrow(a$rows) / length(unique(a$rows$answer))),
                                     each = length(unique(a$rows$answer))), sum)
    expect_equal(as.vector(sums), rep(1, length(sums)))
    expect_equal(sum(a$rows$met) / length(unique(a$rows$answer)), 1)
    expect_no_error(format(a))
  }
})

test_that("situations are headed in the words of the rule card, and named for --by", {
  tiles <- player_answers("lantern-tiles", rounds = 100)
  expect_identical(tiles$words, "the guest's total")
  expect_match(format(tiles), "^  the guest's total +met", all = FALSE)
  expect_match(format(tiles), "Situations by guest_total", all = FALSE)
  expect_identical(player_answers("three-crabs", rounds = 30, by = "sum(at[me])")$words,
                   "the sum of the crabs of shore")
})
