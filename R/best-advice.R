# Advice: what every answer costs in every situation, for those who play or look on.

# The question whose program tells at each ask of these seats what describes the situation, with `advice`: see
# advice_at(). `game` is that of the question, as it was read. Who takes another seat as `best` is solved for together
# with them.
with_advice <- function(question, game, seats) {
  solving <- sort(union(seats, which(seats_with(question$players, "best"))))
  best <- best_in_question(question, game, solving, "costs")
  books <- Filter(function(book) book$seat %in% seats, best$books)
  question$advised <- seats
  for (book in books) question <- with_situations(question, stats::setNames(list(book$things), book$decision), TRUE)
  names(books) <- vapply(books, function(book) paste(game$seats[[book$seat]], book$decision), "")
  question$advice <- list(objective = best$objective$text, books = books)
  question
}
