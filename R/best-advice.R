# Advice: the worth of every answer in every situation, for those who play or look on.

# The question whose program tells at each ask of these seats what describes the situation, with `advice`: see
# advice_at(). `game` is that of the question, as it was read. Who takes another seat as `best` is solved for together
# with them.
with_advice <- function(question, game, seats) {
  solving <- sort(union(seats, which(seats_with(question$players, "best"))))
  if (length(solving) > 1) two_seats(game, solving)
  others <- setdiff(which(!is.na(question$players)), solving)
  task <- list(game = game, set = question$settings, most = 0, max_states = 3e7, max_seconds = Inf, policy = "worths")
  found <- solved(task, solving, as.list(stats::setNames(question$players[others], game$seats[others])),
                  objective_of(game, solving, NULL))
  books <- Filter(function(book) book$seat %in% seats, found$books)
  question$advised <- seats
  for (book in books) question <- with_situations(question, stats::setNames(list(book$things), book$decision), TRUE)
  names(books) <- vapply(books, function(book) paste(game$seats[[book$seat]], book$decision), "")
  question$advice <- list(objective = found$objective$text, books = books)
  question
}

# For each decision of the seats: list(seat, decision, things, keys, from, to, answers, worth). `keys` are situations,
# `answers` and `worth` from `from` to `to` are those of a key.
worths_of_play <- function(question, program, run, found) {
  refuse_unknown_play(run, found)
  game <- question$game
  all <- lapply(found$seats, function(seat) lapply(asked_of(game, seat), function(decision) {
    sign <- found$objective$sign * (if (seat == found$seats[[1]]) 1 else -1)
    book_of_decision(game, question, run$policy[sites_of(game, program, seat, decision)], seat, decision, sign)
  }))
  Filter(Negate(is.null), unlist(all, recursive = FALSE))
}

book_of_decision <- function(game, question, tables, seat, decision, sign) {
  tables <- Filter(function(site) length(site$reach) > 0, tables)
  if (length(tables) == 0) return(NULL)
  rows <- do.call(rbind, lapply(tables, function(site) data.frame(
    key = keys_of_situations(site)[site$row],
    answer = key_of_answer(texts_of_values(game, site$answers, game$decisions[[decision]]$type)),
    worth = sign * site$worth)))
  rows <- clear_worths(rows)
  keys <- unique(rows$key)
  rows <- rows[order(match(rows$key, keys)), ]
  to <- cumsum(tabulate(match(rows$key, keys), length(keys)))
  list(seat = seat, decision = decision, things = names(question$situations[[decision]]), keys = keys,
       from = c(1L, utils::head(to, -1) + 1L), to = to, answers = rows$answer, worth = rows$worth)
}

keys_of_situations <- function(site) {
  parts <- lapply(site$things, function(thing) {
    if (all(thing$sizes == 1)) return(key_of_numbers(thing$values))
    vapply(relist_by(thing$values, thing$sizes), key_of_items, "")
  })
  if (length(parts) == 0) rep("", length(site$reach)) else do.call(paste, c(unname(parts), sep = "|"))
}

# Each answer of a situation once. Where the same situation is met with different worths, as it depends on more of what
# came before, its worths are not known.
clear_worths <- function(rows) {
  pair <- paste(rows$key, rows$answer, sep = "\r")
  first <- match(pair, pair)
  apart <- abs(rows$worth - rows$worth[first]) > equal_in_advice * max(1, abs(rows$worth), na.rm = TRUE)
  rows$worth[rows$key %in% rows$key[is.na(apart) | apart]] <- NA_real_
  rows[first == seq_along(pair), ]
}
