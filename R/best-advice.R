# Advice: the worth of every answer in every situation, for those who play or look on.

# The question whose program tells at each ask of these seats what describes the situation, with `advice`: see
# advice_at(). `game` is that of the question, as it was read. Who takes another seat as `best` is solved for together
# with them.
with_advice <- function(question, game, seats) {
  solving <- sort(union(seats, which(seats_with(question$players, "best"))))
  if (length(solving) > 1) two_seats(game, solving)
  others <- setdiff(which(!is.na(question$players)), solving)
  task <- list(game = game, set = question$settings, most = 0, max_states = 3e7, max_seconds = Inf, policy = "costs")
  found <- solved(task, solving, as.list(stats::setNames(question$players[others], game$seats[others])),
                  objective_of(game, solving, NULL))
  books <- Filter(function(book) book$seat %in% seats, found$books)
  question$advised <- seats
  for (book in books) question <- with_situations(question, stats::setNames(list(book$things), book$decision), TRUE)
  names(books) <- vapply(books, function(book) paste(game$seats[[book$seat]], book$decision), "")
  question$advice <- list(objective = found$objective$text, books = books)
  question
}
