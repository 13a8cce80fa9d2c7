# Rounds one by one, as a data frame.

#' Play rounds of a game, one row a round
#'
#' @param object A game: see [game()].
#' @param nsim How many rounds; of a game that goes over several rounds, how many matches or sittings.
#' @param seed The seed, a whole number; `NULL` takes one from R's own random numbers, so that `set.seed()` decides.
#' @param ... `set`, `players` and `mode`, as in [odds()].
#' @return A data frame with one row a round: `round` (its number), `outcome`, `pay_SEAT` for each seat that is paid (in
#'   tokens), and each record under its name: a number, `TRUE` or `FALSE`, or a text. Of a match or sitting one row
#'   each: `match` or `sitting`, `rounds`, `outcome_NAME` (in how many of its rounds), and the sums over its rounds of
#'   pays and of records that are numbers. The seed is the attribute `seed`; the same seed gives the same rounds as
#'   [odds()] samples.
#' @section Errors: `argument_wrong`, those of [odds()].
#' @importFrom stats simulate
#' @export
#' @examples
#' simulate(game("dice-duel"), nsim = 3, seed = 1)
simulate.basanos_game <- function(object, nsim = 1, seed = NULL, ...) {
  check_count(nsim, "nsim", 1e7, "write nsim = 1000")
  if (is.null(seed)) seed <- sample.int(.Machine$integer.max, 1)
  check_seed(seed)
  program <- compile_for_simulation(object, ...)
  run <- run_units(object, program, seed, 1, nsim)
  table <- if (program$unit == "round") rows_of_rounds(object, program, run$rows)
    else rows_of_units(program, run$rows)
  attr(table, "seed") <- seed
  table
}

# As for games compared: every pay is kept, also one that follows from the outcome.
compile_for_simulation <- function(game, set = list(), players = list(), mode = NULL) {
  game$compared <- TRUE
  compile_game(game, set, players, mode)
}

# After the count of rounds the rows have a column an outcome, then the pays, then the records.
rows_of_rounds <- function(game, program, rows) {
  outcomes <- length(program$outcomes)
  happened <- rows[, 1 + seq_len(outcomes), drop = FALSE]
  table <- list(round = seq_len(nrow(rows)), outcome = program$outcomes[max.col(happened, "first")])
  measured <- measured_names(program)
  for (k in seq_along(measured$name)) {
    value <- rows[, 1 + outcomes + k]
    name <- measured$name[[k]]
    if (startsWith(name, " ")) next
    if (measured$kind[[k]] == "pay") table[[paste0("pay_", name)]] <- value
    else table[[name]] <- record_values(game, value, program$records[[name]])
  }
  list2DF(table)
}

record_values <- function(game, value, record) {
  if (record$type == "yesno") value != 0
  else if (!is_named_value(record)) value
  else vapply(value, value_text, "", rules = game, type = list(kind = record$type, set = record$set))
}

rows_of_units <- function(program, rows) {
  outcomes <- length(program$outcomes)
  table <- stats::setNames(list(seq_len(nrow(rows)), rows[, 1]), c(program$unit, "rounds"))
  for (k in seq_len(outcomes)) table[[paste0("outcome_", program$outcomes[[k]])]] <- rows[, 1 + k]
  measured <- measured_names(program)
  for (k in which(measured$number))
    table[[paste0(if (measured$kind[[k]] == "pay") "pay_", measured$name[[k]])]] <- rows[, 1 + outcomes + k]
  list2DF(table)
}
