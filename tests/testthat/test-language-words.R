# Word lists, marks, masks and codes.

marks_by_hand <- function(guess, secret, naive = FALSE) {
  g <- strsplit(guess, "")[[1]]
  s <- strsplit(secret, "")[[1]]
  out <- ifelse(g == s, "placed", "nowhere")
  left <- s[g != s]
  for (i in which(g != s)) if (g[[i]] %in% (if (naive) s else left)) {
    out[[i]] <- "elsewhere"
    if (!naive) left <- left[-match(g[[i]], left)]
  }
  out
}

test_that("marks are those worked out by hand, doubled letters and all", {
  set.seed(8)
  random_word <- function() paste(sample(c("a", "b", "c", "d"), 5, TRUE), collapse = "")
  for (k in 1:60) {
    pair <- c(random_word(), random_word())
    rules <- c("seats(ann)", sprintf("list5 <- words(%s)", paste0('"', unique(pair), '"', collapse = ", ")),
               "state(n = 0)", "play({ n <- 1 })", "outcomes(over = otherwise)")
    for (naive in c(FALSE, TRUE)) {
      by_hand <- marks_by_hand(pair[[1]], pair[[2]], naive)
      call <- sprintf('compare("%s", "%s", naive = %s)', pair[[1]], pair[[2]], if (naive) "yes" else "no")
      if (any(by_hand != "nowhere"))
        expect_true(try_expression(game_of(rules), sprintf('%s == "%s"', call, paste(by_hand, collapse = " "))))
      expect_equal(try_expression(game_of(rules), sprintf("placed(%s) * 10 + elsewhere(%s)", call, call)),
                   sum(by_hand == "placed") * 10 + sum(by_hand == "elsewhere"))
    }
  }
})

test_that("a file of words: comments, blank lines, case, length, duplicates, other letters", {
  folder <- tempfile()
  dir.create(folder)
  writeLines(enc2utf8(c("# words", "Reef", "", "boat  # a comment", "boat", "harbour", "m\u00f6we")),
             file.path(folder, "w.txt"), useBytes = TRUE)
  path <- file.path(folder, "g.game")
  rules <- function(line)
    writeLines(c("seats(ann)", line, "letter <- alphabet(list4)", "state(n = 0, secret = one(list4))",
                 "play({ secret <- pick(list4)\n n <- size(secret) })", "outcomes(over = otherwise)",
                 "record(n = n, secret = secret)"), path)
  rules('list4 <- words("w.txt", length = 4)')
  o <- odds(path)
  expect_setequal(o$distributions$secret$value, c("reef", "boat", "m\u00f6we"))
  expect_true("\u00f6" %in% game(path)$labels)
  expect_equal(game(path)$notes[[1]]$id, "words_twice")
  rules('list4 <- words("w.txt", length = 4:7)')
  expect_equal(nrow(odds(path)$distributions$secret), 4)
  writeLines(c("two words", "ok"), file.path(folder, "w.txt"))
  expect_error(game(path), class = "basanos_words_letters")
})

test_that("letters: mask, calls, members", {
  g <- game_of("seats(ann)", 'list4 <- words("reef", "boat", "beef")', "letter <- alphabet(list4)",
               "state(tried = bag(letter), n = 0, secret = one(list4), shown = list(letter))",
    paste0("play({ secret <- pick(list4)\n while (any(mask(secret, tried), it == blank)) {\n ",
           "ask(ann, call = one_of(those(letter, !(it %in% tried))))\n put(call, into = tried)\n ",
           "add(1, to = n) }\n shown <- mask(secret, tried) })"),
    "outcomes(over = otherwise)", "record(n = n)", "abc <- player(call = prefer(e, f, r, b, o, a, t))",
    paste0('example("three calls", given(secret = "reef", call = c(e, f, r)), ',
           'expect(n = 3, shown == c(r, e, e, f), e %in% secret, !(o %in% secret)))'),
    'example("once only", given(secret = "reef", call = c(e, e)), expect(error = illegal_answer))')
  expect_true(check_game(g)$ok)
  expect_equal(odds(g)$records$mean, (3 + 7 + 4) / 3)
  expect_equal(length(asNamespace("basanos")$set_named(list2env(c(as.list(g), list(seats = g$seats))), "letter")$ids),
               26)
})

test_that("guessing by what fits ends, and codes are all rows of their items", {
  g <- game_of("seats(ann)", "code <- codes(1:3, length = 2)",
               "state(secret = one(code, seen_by = nobody), told = list(marks), guesses = list(code), n = 0)",
    "fits <- function(w) { for (i in 1:size(guesses)) if (compare(guesses[i], w) != told[i]) return(no)\n yes }",
    paste0("play({ secret <- pick(code)\n repeat {\n ask(ann, guess = one_of(code))\n add(1, to = ",
           "n)\n put(guess, into = guesses)\n put(compare(guess, secret), into = told)\n if ",
           "(guess == secret) break } })"),
    "outcomes(over = otherwise)", "record(n = n)",
    "fitting <- player(guess = { left <- those(code, fits(it))\n pick(left) })")
  expect_equal(length(g$words$texts), 9)
  exact <- odds(g)
  s <- odds(g, engine = "sample", rounds = 1e5)
  expect_lt(abs(s$records$mean - exact$records$mean) / s$records$standard_error, 4)
  expect_equal(nrow(game_of("seats(a)", "state(n = 0)", "code <- codes(0:9, length = 3, repeats = no)",
                            "play({ n <- 1 })", "outcomes(over = otherwise)")$words$texts |> data.frame()), 720)
})

test_that("words are looked at from inside: letters, length, beginnings and ends", {
  g <- game_of('book <- words("reef", "reeds", "rope", "sand", "cod")', "letter <- alphabet(book)", "seats(guest)",
               "state(so_far = list(letter, room = 9))", "play({ end_round() })", "outcomes(over = otherwise)")
  value <- function(text) unname(unlist(try_expression(g, text)))
  expect_true(value('begins_with("reef", "re")'))
  expect_false(value('begins_with("reef", "rop") || ends_with("sand", "nds")'))
  expect_true(value('ends_with("reeds", s)'))
  expect_true(value("begins_with(\"sand\", so_far)"))
  expect_true(value("begins_with(c(1, 2, 3), c(1, 2)) && ends_with(c(1, 2, 3), 3)"))
  expect_false(value("begins_with(c(1, 2), c(1, 2, 3))"))
  expect_equal(value('count(book, begins_with(it, "re"))'), 2)
  expect_equal(value('count(book, as = w, any(w, it == e))'), 3)
  expect_equal(value('size("reeds")'), 5)
  expect_true(value('"sand"[2] == a'))
  expect_true(value("c(c, o, d) %in% book"))
  expect_false(value("so_far %in% book"))
  expect_error(value('begins_with("reef", 3)'), class = "basanos_error")
})

test_that("a row of letters grows one by one, and is looked up in the list", {
  rules <- c('book <- words("reef", "reeds", "rope", "sand", "cod")', "letter <- alphabet(book)", "seats(ann, bo)",
             "state(so_far = list(letter, room = 7))",
             "play({ for (mover in turns(until = so_far %in% book)) {",
             "ask(mover, next_letter = one_of(letter), legal = any(book, begins_with(it, so_far + next_letter)))",
             "put(next_letter, into = so_far) } })", "outcomes(over = otherwise)", "record(length = size(so_far))",
             "random <- player(next_letter = pick(choices))")
  # r (then e: d or f after the second e, or o), s, c: each a third.
  expect_equal(odds(game_of(rules))$records$mean, (4 + 3 + (1 / 2) * 4 + (1 / 2) * (4 + 5) / 2) / 3)
})
