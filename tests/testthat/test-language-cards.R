# Decks: what is dealt, where it lies, what comes back.

card_game <- function(play,
                      deck = paste0("cards <- deck(rank = c(2:10, J, Q, K, A), points = c(2:10, 10, 10, 10, 11), ",
                                    "for_each(suit = c(cups, coins)))"),
                      state = "n = 0, hand = bag(cards), pile = bag(cards), top = one(cards)", lines = character()) {
  game_of("seats(ann, bo)", deck, sprintf("state(%s)", state), "play({", play, "})", lines,
          "outcomes(over = otherwise)", "record(n = n)")
}
n_of <- function(...) {
  d <- odds(card_game(...), engine = "sample", rounds = 40)$distributions$n
  expect_equal(nrow(d), 1)
  d$value
}

test_that("draws without replacement follow the hypergeometric distribution, exactly and sampled", {
  g <- card_game("deal(5, to = hand)\n n <- count(hand, rank == A || rank == K)")
  exact <- odds(g)
  d <- exact$distributions$n
  expect_equal(d$probability, dhyper(d$value, 4, 22, 5), tolerance = 1e-12)
  s <- odds(g, engine = "sample", rounds = 2e5)
  expect_lt(abs(s$records$mean - exact$records$mean) / s$records$standard_error, 4)
})

test_that("copies and jokers: how many cards there are of each kind", {
  expect_equal(n_of("n <- size(cards)"), 26)
  expect_equal(n_of("n <- size(cards)", "packs <- setting(3)\ncards <- deck(rank = c(1:4, joker), copies = 2 * packs)"),
               30)
  expect_equal(n_of("n <- size(cards)",
                    paste0("cards <- deck(rank = c(2:4, A), for_each(suit = c(cups, coins)), plus(rank = joker, ",
                           "suit = none, copies = 3))")), 11)
  expect_equal(n_of("deal(11, to = hand)\n n <- count(hand, rank == joker) * 10 + count(hand, suit == cups)",
                    paste0("cards <- deck(rank = c(2:4, A), for_each(suit = c(cups, coins)), plus(rank = joker, ",
                           "suit = none, copies = 3))")), 34)
})

test_that("columns: worth by column, order of ranks, labels against numbers", {
  expect_equal(n_of("deal(26, to = hand)\n n <- sum(hand, points)"), 2 * (sum(2:10) + 30 + 11))
  expect_equal(n_of("deal(26, to = hand)\n n <- count(hand, rank >= 10) * 100 + count(hand, rank < 3)"), 1002)
  expect_equal(n_of("deal(26, to = hand)\n n <- size(groups(hand, suit)) * 10 + groups(hand, rank)[1]"), 22)
  expect_equal(n_of(paste0("deal(26, to = hand)\n n <- longest_run(hand, rank) * 100 + longest_run(those(hand, ",
                           "rank >= Q || rank <= 3), rank) * 10 + longest_run(those(hand, rank >= Q || rank <= ",
                           "3), rank, ends = c(A, 2))")), 1333)
  g <- card_game("deal(3, to = hand)",
                 lines = paste0('example("by name", given(cards = c("A cups", "2 coins", "10 cups"), rest = stop), ',
       'expect(sum(hand, points) == 23, hand == c("2 coins", "10 cups", "A cups"), count(hand, suit == cups) == 2))'))
  expect_true(check_game(g)$ok)
})

test_that("cards are moved, spent, and come back with shuffle", {
  expect_equal(n_of("deal(5, to = hand)\n move(hand, to = pile)\n n <- size(hand) * 100 + size(pile)"), 5)
  expect_equal(n_of("deal(5, to = hand)\n remove(hand, from = hand)\n shuffle(cards)\n n <- size(cards)"), 26)
  expect_equal(n_of("deal(5, to = hand)\n shuffle(cards)\n n <- size(cards) * 100 + size(hand)"), 2105)
  expect_equal(n_of(paste0("deal(5, to = pile)\n deal(3, to = hand)\n top <- draw(cards)\n shuffle(cards, with = ",
                           "pile)\n n <- size(cards) * 100 + size(pile) * 10 + size(hand)")), 2203)
  expect_equal(n_of("burn(cards, 4)\n n <- size(cards)\n shuffle(cards)\n n <- n * 100 + size(cards)"), 2226)
  expect_equal(n_of(paste0("top <- draw(cards)\n move(top, to = pile)\n n <- size(pile) * 10\n if (top == none) ",
                           "add(1, to = n)")), 11)
  expect_equal(n_of(paste0("deal(26, to = hand)\n move(\"A cups\", from = hand, to = top)\n n <- points(top) * ",
                           "100 + size(hand)")), 1125)
})

test_that("one place for each seat, by a seat known or not", {
  hands <- "n = 0, hand = each(seat, bag(cards)), shown = each(seat, one(cards))"
  expect_equal(n_of(paste0("for (s in seats) deal(3, to = hand[s])\n for (mover in turns(each = 2)) deal(1, to = ",
                           "hand[mover])\n n <- size(hand[ann]) * 100 + size(hand[bo]) * 10 + size(cards) %/% 16"),
                           state = hands), 551)
  expect_equal(n_of(paste0("for (mover in turns(each = 1)) shown[mover] <- draw(cards)\n n <- if (shown[ann] != ",
                           "shown[bo]) 1 else 0"), "cards <- deck(rank = 1:2)", state = hands), 1)
  expect_equal(n_of(paste0("for (s in seats) deal(2, to = hand[s])\n for (mover in turns(each = 1)) ",
                           "move(hand[mover], to = hand[other(mover)])\n n <- size(hand[ann]) * 10 + ",
                           "size(hand[bo])"), state = hands), 40)
})

test_that("a shoe that lasts a sitting is not fresh every round", {
  g <- function(lasts)
    game_of("seats(ann)", sprintf("shoe <- deck(rank = 1:4, lasts = %s)", lasts), "state(card = one(shoe))",
            "play({\n if (size(shoe) == 0) shuffle(shoe)\n card <- draw(shoe)\n })",
                              "outcomes(one = rank(card) == 1, other_one = otherwise)", "sitting(rounds = 4)",
                              "record(left = size(shoe))", "pays(ann, one = 3, other_one = -1)")
  lasting <- odds(g("sitting"))
  expect_equal(lasting$distributions$left$value, 0:3)
  expect_equal(probabilities(lasting)[["one"]], 1 / 4)
  sampled <- odds(g("sitting"), engine = "sample", rounds = 1000)
  expect_equal(sampled$outcomes$standard_error, c(0, 0))  # each sitting has each card exactly once
  fresh <- odds(g("round"), engine = "sample", rounds = 1000)
  expect_equal(fresh$outcomes$standard_error[[1]], sqrt(0.25 * 0.75 / 4000), tolerance = 0.1)
  expect_equal(odds(g("round"))$distributions$left$value, 3)
})

test_that("each kind has its number of copies, and a kind said twice adds up", {
  drawn <- function(deck) {
    o <- odds(game_of("seats(guest)", sprintf("cards <- deck(%s)", deck), "state(top = one(cards))",
                      "play({ top <- draw(cards) })", "outcomes(over = otherwise)",
                      "record(rank = rank(top))"), engine = "exact")
    o$distributions[[1]]$probability
  }
  expect_equal(drawn("rank = c(1, 2, 3), copies = c(4, 2, 1)"), c(4, 2, 1) / 7)
  expect_equal(drawn("rank = c(1, 2, 3), copies = 5"), rep(1 / 3, 3))
  expect_equal(drawn("rank = c(1, 2, 2, 3, 2)"), c(1, 3, 1) / 5)
  expect_equal(drawn("rank = c(1, 2), copies = c(1, 2), plus(rank = 2, copies = 3)"), c(1, 5) / 6)
  expect_equal(drawn("rank = c(1, 2), copies = c(3, 1), for_each(suit = c(cups, coins))"), c(3, 1) / 4)
  expect_error(drawn("rank = c(1, 2, 3), copies = c(4, 2)"), class = "basanos_column_length")
  expect_error(drawn("rank = c(1, 2, 1), points = c(1, 2, 3)"), class = "basanos_deck_form")
})

test_that("what is given may be ranges and repetitions", {
  got <- check_game(game_of("seats(guest)", "cube <- die(1:6)", "cards <- deck(rank = 1:9)",
    "state(sum_of = 0, hand = list(cards, room = 9), track = each(1:4, 0))",
    "play({ for (i in 1:6) add(roll(cube), to = sum_of)\n deal(3, to = hand) })", "outcomes(over = otherwise)",
    'example("draws", given(cube = c(1:4, repeated(6, 2)), cards = c(5, 1:2)),',
    "  expect(sum_of == 22, rank(hand[1]) == 5, rank(hand[3]) == 2))",
    'example("a range alone", given(cube = 1:6, cards = 3:5), expect(sum_of == 21))',
    'example("starts", given(track = c(repeated(2, 3), 9), cube = repeated(1, 6), cards = 1:3),',
    "  expect(track == c(2, 2, 2, 9)))"))
  expect_identical(got$examples$got, c("", "", ""))
})

test_that("columns hang on settings: a range up to one, and values that are one", {
  rules <- function(...) game_of("bonus <- setting(5, from = 1, to = 9)", "top <- setting(6, from = 3, to = 12)",
                                 "seats(a)",
    "cards <- deck(rank = 1:top, for_each(suit = c(sea, land)), points = c(bonus), copies = 2)",
    "fruit <- names(apple, plum, worth = c(bonus, 2))", "state(x = one(cards), f = one(fruit))",
    "play({ x <- draw(cards); f <- pick(fruit) })", "outcomes(high = rank(x) > 3, low = otherwise)",
    "record(w = worth(f), p = points(x), left = size(cards))", ...)
  means <- function(o) stats::setNames(o$records$mean, o$records$name)
  for (engine in c("exact", "sample")) {
    o <- odds(rules(), engine = engine, rounds = 4e4)
    expect_equal(o$outcomes$probability[[1]], 0.5, tolerance = 0.03)
    expect_equal(means(o), c(w = 3.5, p = 5, left = 23), tolerance = 0.03)
  }
  other <- odds(rules(), engine = "exact", set = list(top = 4, bonus = 9))
  expect_equal(other$outcomes$probability[[1]], 1 / 4)
  expect_equal(means(other), c(w = 5.5, p = 9, left = 15))
  expect_equal(odds(rules(), set = list(bonus = 9), given = "f == apple")$records$most[[1]], 9)
  expect_error(game_of("bonus <- setting(5, from = 1, to = 9)", "seats(a)", "cards <- deck(rank = c(bonus, 2))",
                       "play({ x <- draw(cards) })", "outcomes(over = otherwise)"), class = "basanos_deck_form")
})

test_that("an item named by its place is that item, where others equal it", {
  # of 1, 2, 2 dealt in any order the last is taken away
  g <- function(statement) game_of("seats(guest)", "cards <- deck(rank = 1:2, copies = c(1, 2))",
    "state(col = list(cards, room = 5), pile = list(cards, room = 5))", "top <- function() col[size(col)]",
    sprintf("play({ deal(3, to = col); %s })", statement),
    "record(left = 10 * rank(col[1]) + rank(col[2]))", "outcomes(over = otherwise)")
  left <- function(statement) {
    d <- odds(g(statement), engine = "exact")$distributions$left
    stats::setNames(d$probability, d$value)
  }
  thirds <- c("12" = 1 / 3, "21" = 1 / 3, "22" = 1 / 3)
  for (statement in c("move(col[3], from = col, to = pile)", "move(top(), from = col, to = pile)",
                      "i <- 3; remove(col[i], from = col)")) expect_equal(left(statement), thirds)
  expect_equal(left("remove(col[1], from = col)"), thirds)
  expect_equal(left("move(col[2], from = col, to = pile)"), thirds)
  # by its value alone the first such goes
  expect_equal(left("x <- col[3]; move(x, from = col, to = pile)"), c("12" = 1 / 3, "21" = 0, "22" = 1 / 3)[c(1, 3)] +
                 c("12" = 1 / 3, "22" = 0), ignore_attr = FALSE)
  expect_error(odds(g("remove(col[4], from = col)")), class = "basanos_position_outside")
  sampled <- odds(g("move(col[3], from = col, to = pile)"), engine = "sample", rounds = 3000)$distributions$left
  expect_setequal(as.character(sampled$value), names(thirds))
})
