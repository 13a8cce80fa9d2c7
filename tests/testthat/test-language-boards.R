# Boards and tracks, neighbours and places, rings of signs, answers from one's own hand, ties by chance.

exact_of <- function(...) odds(game_of(...), engine = "exact")
recorded <- function(...) { o <- exact_of(...); stats::setNames(o$records$mean, o$records$name) }
# How likely a yes is at the end of a round of a board game without decisions.
share_of <- function(state, play, condition, top = character())
  exact_of("seats(guest)", "cube <- die(1:6)", "pair <- die(1:2)", top, sprintf("state(%s)", state),
           sprintf("play({ %s })", paste(play, collapse = "\n")),
           sprintf("outcomes(yes_it_is = %s, no_it_is_not = otherwise)", condition))$outcomes$probability[[1]]

test_that("a board of two axes is written, read, counted by row, column and whole", {
  board <- "board = each(1:2, 1:3, 0)"
  third <- "third <- die(1:3)"
  fill <- "for (i in 1:3) { r <- roll(pair)\n k <- roll(third)\n board[r, k] <- board[r, k] + 1 }"
  # Three throws on six places: all in one row, none twice, in one column.
  expect_equal(share_of(board, fill, "sum(board[1, ]) == 3", third), 1 / 8)
  expect_equal(share_of(board, fill, "max(board) == 1", third), 6 * 5 * 4 / 6^3)
  expect_equal(share_of(board, fill, "sum(board[, 2]) == 3", third), 1 / 27)
  expect_equal(share_of(board, fill, "any(1:3, as = k, sum(board[, k]) == 3)", third), 3 / 27)
  expect_equal(share_of(board, fill, "board[1, ] == board[2, ]", third), 0)
  expect_equal(share_of(board, fill, "size(board) == 6 && size(board[1, ]) == 3 && count(board, it == 0) >= 3", third),
               1)
  expect_equal(share_of(board, fill, "board[1, ] == c(1, 1, 1)", third), 6 / 6^3)
})

test_that("axes may be seats, names, dice, cards and ranges up to a setting", {
  expect_equal(recorded("seats(ann, bo)", "box <- names(low, high)", "cube <- die(c(2, 4, 6))",
                        "cards <- deck(rank = 1:3)", "reach <- setting(4, from = 2, to = 9)",
                        "state(a = each(seat, box, 0), b = each(cube, 0), c = each(cards, 0), d = each(1:reach, 1))",
                        paste("play({ for (s in seats) a[s, low] <- a[s, low] + 1; n <- roll(cube); b[n] <- n;",
                              "card <- draw(cards); c[card] <- rank(card); d[4] <- 5 })"),
                        "outcomes(over = otherwise)",
                        "record(a = sum(a), ann = sum(a[ann, ]), high = sum(a[, high]), b = sum(b), c = sum(c),",
                        "  d = sum(d))"),
               c(a = 2, ann = 1, high = 0, b = 4, c = 2, d = 8))
  reach <- c("seats(ann)", "reach <- setting(4, from = 2, to = 9)", "state(d = each(1:reach, 0))",
             "play({ d[4] <- 5 })",
             "outcomes(over = otherwise)", "record(places = size(d))")
  expect_equal(odds(game_of(reach), set = list(reach = 7))$records$mean, 7)
  expect_error(odds(game_of(reach), set = list(reach = 3)), class = "basanos_position_outside")
  nested <- c("seats(ann, bo)", "state(d = each(seat, each(1:3, 0)))", "play({ d[bo, 2] <- 5 })",
              "outcomes(over = otherwise)",
              "record(all = sum(d), own = sum(d[it, ]), middle = d[bo, ][2])")
  expect_equal(recorded(nested), c(all = 5, "own[ann]" = 0, "own[bo]" = 5, middle = 5))
})

test_that("a place that is not there stops the round, also where another row has it", {
  walk <- function(key) share_of("board = each(1:2, 1:3, 0)", sprintf("x <- roll(cube)\n board[%s] <- 1", key), "yes")
  expect_error(walk("1, x"), class = "basanos_position_outside")
  expect_error(walk("x, 1"), class = "basanos_position_outside")
  odd <- function(x) share_of("odd = each(uneven, 0)", sprintf("x <- roll(%s)\n odd[x] <- 1", x), "sum(odd) == 1",
                              "uneven <- die(c(1, 3, 5))")
  expect_equal(odd("uneven"), 1)
  expect_error(odd("pair"), class = "basanos_position_outside")
})

test_that("examples start boards and compare them whole", {
  got <- check_game(game_of(
    "seats(ann, bo)", "cube <- die(1:3)", "state(net = each(1:2, 1:3, one(seats)), score = each(seat, 0))",
    "play({ for (s in seats) { x <- roll(cube)\n if (net[1, x] == none) net[1, x] <- s\n add(x, to = score[s]) } })",
    "outcomes(wins = leader(score[it]), level = otherwise)",
    'example("rows in order", given(net = list(c(bo, none, none)), cube = c(1, 2)),',
    "  expect(net[1, ] == c(bo, bo, none), net[2, ] == c(none, none, none), outcome = bo_wins))",
    'example("a row by its number", given(net = list(`2` = c(ann, ann, none)), cube = c(1, 2)),',
    "  expect(net[2, ] == c(ann, ann, none), net[1, ] == c(ann, bo, none)))",
    'example("seats by name", given(score = c(bo = 10), cube = c(3, 1)), expect(score[bo] == 11, score[ann] == 3))',
    'example("and in order", given(score = c(4, 1), cube = c(3, 1)), expect(score == c(7, 2)))'))$examples$got
  expect_identical(got, rep("", 4))
})

test_that("what each seat has of a board is hidden with it", {
  rules <- function(rule) game_of("seats(ann, bo)", "cube <- die(1:6)", "box <- names(low, high)",
    "state(dice = each(seat, box, one(cube, seen_by = owner)))",
    "play({ for (s in seats) dice[s, low] <- roll(cube)\n ask(bo, go = one_of(yes, no)) })",
    "outcomes(over = otherwise)", sprintf("calm <- player(go = %s)", rule))
  expect_error(rules("dice[me, low] > 3"), NA)
  expect_error(rules("dice[ann, low] > 3"), class = "basanos_peek")
  expect_error(rules("any(dice[ann, ], it > 3)"), class = "basanos_peek")
  text <- format(trace_round(rules("yes"), sees = "bo"))
  expect_true(any(grepl("dice[ann, low] becomes (unseen)", text, fixed = TRUE)))
  expect_true(any(grepl("dice\\[bo, low\\] becomes [1-6]", text)))
})

test_that("a board is shown as a table to who plays", {
  g <- game_of("seats(ann, bo)", "state(net = each(1:2, 1:3, one(seats)))",
               "play({ net[2, 3] <- bo\n ask(ann, go = one_of(yes, no)) })", "outcomes(over = otherwise)",
               "calm <- player(go = yes)")
  out <- character()
  play_game(g, seats = "ann", rounds = 1, read = function() "yes", write = function(x) out <<- c(out, x))
  lines <- strsplit(paste(out, collapse = "\n"), "\n")[[1]]
  expect_true(any(grepl("net +1 +2 +3$", lines)))
  expect_true(any(grepl("^ +2 +[.] +[.] +bo$", lines)))
})

test_that("neighbours go round the seats that are taken", {
  rules <- c("seats(a, b, c, at_least = 2)", "state(after = each(seat, one(seats)), before = each(seat, one(seats)))",
             "play({ for (s in seats) { after[s] <- next_seat(s)\n before[s] <- previous_seat(s) } })",
             "outcomes(over = otherwise)",
             "record(round = if (next_seat(previous_seat(it)) == it) 1 else 0, ring = if (after[a] == b) 1 else 0,",
             "  back = if (before[a] == c) 1 else 0)")
  all <- odds(game_of(rules))$records
  expect_equal(all$mean, c(1, 1, 1, 1, 1))
  expect_identical(all$name[1:3], c("round[a]", "round[b]", "round[c]"))
  expect_equal(odds(game_of(rules), set = list(seated = 2))$records$mean, c(1, 1, 1, 0))
})

test_that("places are shared by seats that are equal", {
  place <- function(...) unname(recorded("seats(a, b, c)", sprintf("state(n = each(seat, 0), x = %s)", "0.5"),
    sprintf("play({ n[a] <- %d\n n[b] <- %d\n n[c] <- %d })", ...), "outcomes(over = otherwise)",
    "record(placed = place_of(it, n[it] * x))"))
  expect_equal(place(3L, 1L, 2L), c(1, 3, 2))
  expect_equal(place(2L, 2L, 1L), c(1, 1, 3))
  expect_equal(place(1L, 2L, 1L), c(2, 1, 2))
  expect_equal(place(0L, 0L, 0L), c(1, 1, 1))
})

test_that("a record for every seat is expected by seat", {
  example <- function(expected) check_game(game_of("seats(a, b)", "state(n = each(seat, 0))", "play({ n[b] <- 4 })",
    "outcomes(over = otherwise)", "record(points = n[it])", sprintf('example("points", expect(%s))',
                                                                    expected)))$examples$got
  expect_identical(example("points = c(a = 0, b = 4)"), "")
  expect_match(example("points = c(a = 1)"), "expected points[a] 1, got 0", fixed = TRUE)
  expect_error(example("points = 4"), class = "basanos_unknown_seat")
})

test_that("ties are broken by chance where the rules say so", {
  lead <- function(rule) exact_of("seats(a, b, c)", "cube <- die(1:2)", "state(n = each(seat, 0), first = one(seats))",
    sprintf("play({ for (s in seats) n[s] <- roll(cube)\n lucky <- %s\n first <- lucky })", rule),
    "outcomes(a_first = first == a, b_first = first == b, other_first = otherwise)")$outcomes$probability
  expect_equal(lead("leader(n[it], ties = chance)"), rep(1 / 3, 3))
  expect_equal(lead("most(seats, n[it], ties = chance)"), rep(1 / 3, 3))
  expect_equal(lead("least(seats, n[it], ties = chance)"), rep(1 / 3, 3))
  expect_equal(lead("most(seats, n[it])")[[1]], 5 / 8)  # the first: unless it has 1 and another 2
})

test_that("an item may have a name, so that words go into words", {
  value <- function(text) try_expression(game_of("seats(a)", "play({ end_round() })", "outcomes(o = otherwise)"), text)
  expect_equal(value("count(1:10, as = n, count(1:n, n %% it == 0) == 2)"), 4)  # primes below 11
  expect_equal(value("sum(1:3, as = x, sum(1:3, as = y, x * y))"), 36)
  expect_equal(as.numeric(value("those(1:6, as = n, any(1:3, it * it == n))")), c(1, 4))
  expect_error(value("count(1:3, any(1:3, it == 2))"), class = "basanos_it_inside_it")
  expect_error(value("count(1:3, as = a, it == 2)"), class = "basanos_name_taken")
})

test_that("rings and lists of signs say many pairs in one line", {
  beats <- function(signs, pair) {
    g <- game_of("seats(l, r)", sprintf("sign <- signs(%s)", signs), "play({ ask(seats, throw = one_of(sign)) })",
                 "outcomes(wins = who(beats(throw[it], throw[other(it)])), level = otherwise)",
                 "even <- player(throw = pick(choices))")
    try_expression(g, pair)
  }
  ring <- "ring(v, w, x, y, z, beats = 2)"
  for (pair in c("beats(v, w)", "beats(v, x)", "beats(y, v)", "beats(z, w)")) expect_true(beats(ring, pair))
  for (pair in c("beats(v, y)", "beats(w, v)")) expect_false(beats(ring, pair))
  listed <- "v %burns% c(w, x), w %cuts% x"
  expect_true(beats(listed, "beats(v, x)"))
  expect_error(beats("ring(v, w)", "1"), class = "basanos_ring_wrong")
  expect_error(beats("ring(v, w, x, y, beats = 2)", "1"), class = "basanos_ring_wrong")
  expect_error(beats("v %burns% c(w, x)", "1"), class = "basanos_sign_pair_missing")
})

test_that("all seats answer at once, each from its own hand", {
  rules <- c("seats(l, r)", "sign <- signs(ring(v, w, x))",
    "state(unused = each(seat, bag(sign, start = all)), points = each(seat, 0))",
    "play({ for (i in 1:3) { ask(seats, throw = one_of(unused[it]))",
    "for (s in seats) { remove(throw[s], from = unused[s])",
    "if (beats(throw[s], throw[other(s)])) add(1, to = points[s]) } } })",
    "outcomes(wins = leader(points[it]), level = otherwise)", "record(points = points[it], left = size(unused[l]))",
    "chancy <- player(throw = pick(choices))",
    "first <- player(throw = most(choices, 0))")
  o <- odds(game_of(rules))
  # A random matching of three signs: all equal, one equal and two lost and won, or all lost or all won.
  expect_equal(o$outcomes$probability, c(1, 1, 4) / 6)
  expect_equal(o$records$mean, c(1, 1, 0))
  expect_equal(odds(game_of(rules), players = list(l = "first"))$outcomes$probability, c(1, 1, 4) / 6)
  legal <- sub("one_of(unused[it])", "one_of(sign), legal = any(unused[it], as = own, own == throw)", rules,
               fixed = TRUE)
  expect_equal(odds(game_of(legal))$outcomes$probability, c(1, 1, 4) / 6)
  forced <- check_game(game_of(rules,
                               'example("taken twice", given(throw = c(v, v, v)), expect(error = illegal_answer))'))
  expect_identical(forced$examples$got, "")
})

test_that("the other of nobody is nobody, and so is the next", {
  ends <- function(who) exact_of("seats(a, b)", "state(last = one(seats))", "play({ last <- last })",
    sprintf("outcomes(wins = %s, nobody_wins = otherwise)", who))$outcomes$probability
  expect_equal(ends("other(last)"), c(0, 0, 1))
  expect_equal(ends("next_seat(last)"), c(0, 0, 1))
})
