# The odds from a position on, and what each answer there leads to.

odds_from_position <- function(game, job) {
  base <- odds_there(game, job)
  if (is.null(base)) {
    game$position$wander <- TRUE
    base <- odds_there(game, job)
    if (is.null(base)) abort_input("position_never", sprintf("`%s` never holds when `%s` is asked, whatever is answered before.", game$position$text, game$position$decision), "check the position; `basanos trace` shows what is remembered when")
  }
  base$position <- list(text = game$position$text, decision = game$position$decision, reached = base$given_share, wandered = isTRUE(game$position$wander))
  base$given_share <- NULL
  base$answers <- answers_there(game, job)
  base
}

# NULL where no round comes there.
odds_there <- function(game, job) tryCatch(odds_by_engine(game, job), basanos_given_never = function(e) NULL)

# One row for each answer by name: is it legal, the outcomes, the mean pays.
answers_there <- function(game, job) {
  d <- game$decisions[[game$position$decision]]
  if (!is_kind(d$type, "label")) return(NULL)
  rows <- lapply(d$type$members, function(id) {
    game$position$answer <- id
    found <- tryCatch(odds_there(game, job), basanos_illegal_answer = function(e) NULL)
    if (is.null(found)) return(NULL)
    row <- data.frame(answer = game$labels[[id]], rbind(stats::setNames(found$outcomes$probability, found$outcomes$name)), check.names = FALSE)
    if (nrow(found$pays) > 0) row <- cbind(row, rbind(stats::setNames(found$pays$mean, paste("pay of", found$pays$seat))))
    row
  })
  do.call(rbind, rows)
}
