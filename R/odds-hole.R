# The odds of rules with holes: how many rounds get to where the rules are not written yet, and how things stand there.

hole_outcome <- "not_written_yet"

# The game in which a round that comes to a hole ends there, in an outcome of its own. Of matches and sittings a round
# may not end so: the next one would begin from what is not written.
with_holes <- function(game) {
  if (!any(vapply(game$notes, function(n) n$id == "hole", NA)) || program_span(game) != "round") return(game)
  game$outcomes$names <- c(game$outcomes$names, hole_outcome)
  game$hole <- length(game$outcomes$names)
  game
}

# The odds, with `hole`: the share of rounds that come there, and what is remembered there.
odds_with_hole <- function(game, job) {
  odds <- odds_by_engine(game, job)
  share <- utils::tail(odds$outcomes$probability, 1)
  if (!isTRUE(share > 0) || !odds$complete || !is.null(game$given)) return(odds)
  at <- c(1L, 1L, 1L, 1L)
  game$given <- list(node = outcome_is(game$hole, at), text = hole_outcome)
  plain <- Filter(function(part) is_plain(part$variable$type) && !isTRUE(part$money), game$state)
  game$records <- lapply(plain, function(part)
    list(name = part$name, node = typed("var", part$variable$type, at, var = part$variable), at = at))
  names(game$records) <- vapply(game$records, `[[`, "", "name")
  there <- odds_by_engine(game, job)
  odds$hole <- c(list(share = share), there[c("records", "distributions", "rounds")])
  odds
}
