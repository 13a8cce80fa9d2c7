# The odds from a position on, and what each answer there leads to.

odds_from_position <- function(game, job) {
  base <- odds_there(game, job)
  if (is.null(base)) {
    game$position$wander <- TRUE
    base <- odds_there(game, job, stop_on_never)
  }
  base$position <- list(text = game$position$text, decision = game$position$decision, reached = base$given_share,
                        wandered = isTRUE(game$position$wander))
  base$given_share <- NULL
  answers <- possible_answers(game, job)
  if (length(answers) > most_answers) base$position$skipped <- length(answers)
  else base$answers <- answers_there(game, job, answers)
  base
}

# NULL, or what `otherwise` gives, where no round comes there.
odds_there <- function(game, job, otherwise = function(e, game) NULL) {
  tryCatch(odds_by_engine(game, job), basanos_given_never = function(e) otherwise(e, game))
}

# Only an exact count knows that a position can never come up.
stop_on_never <- function(e, game) {
  check <- "check the position; `basanos trace` shows what is remembered when"
  if (is.null(e$sampled)) {
    abort_input("position_never",
                sprintf("`%s` never holds when `%s` is asked, whatever is answered before.", game$position$text,
                        game$position$decision), check)
  }
  position_unseen(game, e$sampled, " with every legal answer alike", paste0(check, "; --rounds tries more"))
}

most_answers <- 50L

# One row for each legal answer: the outcomes, the mean pays.
answers_there <- function(game, job, answers) {
  type <- game$decisions[[game$position$decision]]$type
  rows <- lapply(answers, function(answer) {
    game$position$answer <- answer
    found <- tryCatch(odds_there(game, job), basanos_illegal_answer = function(e) NULL)
    if (is.null(found)) return(NULL)
    row <- data.frame(answer = value_text(game, answer, type),
                      rbind(stats::setNames(found$outcomes$probability, found$outcomes$name)), check.names = FALSE)
    if (nrow(found$pays) > 0)
      row <- cbind(row, rbind(stats::setNames(found$pays$mean, paste("pay of", found$pays$seat))))
    if (found$engine == "sample") row <- cbind(row, "standard error" = max(found$outcomes$standard_error))
    row
  })
  do.call(rbind, rows)
}

# The answers that may be legal there, as numbers; none where an answer is several things at once. Where they are not
# known by name every legal answer is given alike, and the one given is recorded.
possible_answers <- function(game, job) {
  type <- game$decisions[[game$position$decision]]$type
  if (is_kind(type, "label")) return(type$members)
  if (!is_kind(type, "whole", "card", "word")) return(integer())
  given <- list2env(list(id = "answer at the position", type = t_whole), parent = emptyenv())
  at <- c(1L, 1L, 1L, 1L)
  game$position$any <- given
  game$records <- list(answer = list(name = "answer", node = typed("var", t_whole, at, var = given), at = at))
  odds_there(game, job)$distributions$answer$value
}
