# Advice where a round is traced or played: what each answer costs a seat, in the situation as the seat sees it.

# `advice` is list(objective, books), `books` by seat and decision, as with_advice() has them. NULL where there is
# nothing to choose; otherwise the cost of each answer by its key, which is missing where best play is not known.
advice_at <- function(advice, game, program, ask, ints, reals) {
  decision <- names(game$decisions)[[ask$decision + 1L]]
  book <- advice$books[[paste(game$seats[[ask$seat]], decision)]]
  if (is.null(book)) return(NULL)
  things <- vapply(ask$observed$things, function(thing) {
    if (is_collection(thing$type)) return(key_of_items(collection_items(program, thing$list, ints)))
    key_of_numbers(if (thing$real) reals[[thing$register + 1L]] else ints[[thing$register + 1L]])
  }, "")
  k <- match(paste(things, collapse = "|"), book$keys)
  if (is.na(k) || !book$clear[[k]]) return(c(unknown = NA_real_))
  places <- book$from[[k]]:book$to[[k]]
  if (length(places) > 1) stats::setNames(book$cost[places], book$answers[places])
}

key_of_numbers <- function(x) sprintf("%.15g", x)
key_of_items <- function(items) paste(c(length(items), items), collapse = ",")

# The items of an answer in any order.
key_of_answer <- function(text) {
  vapply(strsplit(text, ", ", fixed = TRUE), function(items) paste(sort(items), collapse = ", "), "")
}

# Costs below this are none: mixes are found by coming nearer.
equal_in_advice <- 1e-5

best_of_costs <- function(costs) names(costs)[costs <= equal_in_advice]

# What an answer costs; missing where it is not known.
cost_of_answer <- function(costs, answer) {
  cost <- unname(costs[key_of_answer(answer)])
  if (anyNA(costs) || is.na(cost)) NA_real_ else if (cost <= equal_in_advice) 0 else cost
}

# What is best, before an answer is given.
advice_text <- function(costs) {
  if (anyNA(costs)) return("best play is not known here")
  best <- best_of_costs(costs)
  rest <- sort(costs[setdiff(names(costs), best)])
  if (length(rest) == 0) return("all answers are worth the same")
  texts <- sprintf("%s costs %s", names(rest), cost_text(rest))
  shown <- if (length(rest) <= 3) texts else c(texts[[1]], sprintf("the worst, %s", texts[[length(texts)]]))
  best <- if (length(best) <= 4) paste(best, collapse = " or ") else sprintf("one of %d", length(best))
  paste0(best, "; ", paste(shown, collapse = ", "))
}

cost_text <- function(costs) vapply(signif(costs, 4), plain_number, "")

# What was chosen, after the answer.
judged_text <- function(costs, answer) {
  cost <- cost_of_answer(costs, answer)
  if (is.na(cost)) "best play is not known here"
  else if (cost == 0) "as good as can be"
  else sprintf("costs %s against %s", cost_text(cost), paste(utils::head(best_of_costs(costs), 3), collapse = " or "))
}

# What the answers of a seat cost in a unit: `costs` one by one, missing where best play is not known.
costs_text <- function(costs, objective) {
  unknown <- sum(is.na(costs))
  sprintf("%s%s, by %s.", if (sum(costs, na.rm = TRUE) == 0) "cost nothing"
          else sprintf("cost %s in all", cost_text(sum(costs, na.rm = TRUE))),
          if (unknown > 0) sprintf(", and %s not judged", count_text(unknown, "is", "are")) else "", objective)
}
