# Rounds one by one, as a data frame.

#' Play rounds of a game, one row a round
#'
#' @param object A game: see [game()].
#' @param nsim How many rounds; of a game that goes over several rounds, how many matches or sittings.
#' @param seed The seed, a whole number; `NULL` draws one by R's own random numbers, so that `set.seed()` decides.
#' @param ... `set`, `players` and `mode`, as in [odds()].
#' @return A data frame of class `basanos_rounds` with one row a round: `round` (its number), `outcome`, `pay_SEAT` for
#'   each seat that is paid (in tokens), and each record under its name: a number, `TRUE` or `FALSE`, or a text. Of a
#'   match or sitting `match` or `sitting` goes before, and `round` begins anew in each. The seed is the attribute
#'   `seed`; the same seed gives the same rounds as [odds()] samples. `autoplot()` and `plot()` draw the race: see
#'   [figures].
#' @section Errors: `argument_wrong`, those of [odds()].
#' @importFrom stats simulate
#' @export
#' @examples
#' simulate(game("dice-duel"), nsim = 3, seed = 1)
simulate.basanos_game <- function(object, nsim = 1, seed = NULL, ...) {
  check_count(nsim, "nsim", 1e7, "write nsim = 1000")
  seed <- given_seed(seed)
  program <- compile_for_simulation(object, ...)
  table <- if (program$unit == "round") rows_of_rounds(object, program, run_units(object, program, seed, 1, nsim)$rows)
    else rows_of_units(object, program, seed, nsim)
  structure(table, seed = seed, title = game_title(object), unit = program$unit, seats = object$seats,
            wins = outcomes_that_count(object), class = c("basanos_rounds", "data.frame"))
}

# The names of the outcomes that count for each seat, in a match that counts them.
outcomes_that_count <- function(game) {
  counts <- game$match$counts
  if (is.null(counts)) return(NULL)
  stats::setNames(lapply(counts, function(k) game$outcomes$names[k]), game$seats[seq_along(counts)])
}

# As for games compared: every pay is kept, also one that follows from the outcome.
compile_for_simulation <- function(game, set = list(), players = list(), mode = NULL) {
  game <- game_with(game, set)
  round_by_round(new_question(game, set, players, mode))$program
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

# Matches and sittings are played one by one, watched at the end of each round.
rows_of_units <- function(game, program, seed, nsim) {
  rows <- list()
  for (unit in seq_len(nsim)) {
    before <- length(rows)
    run <- watch_unit(program, seed, unit, list(
      draw = function(...) NULL, ask = function(...) NULL, trace = function(...) NULL,
      round = function(ints, reals) {
        rows[[length(rows) + 1L]] <<- c(list(unit = unit, round = length(rows) - before + 1L),
                                        row_of_result(program, round_result(game, program, ints, reals)))
        NULL
      }))
    if (run$end == 1L) stop_on_failed_unit(game, program, run$failure, unit, seed)
  }
  table <- table_of_rows(rows)
  names(table)[[1]] <- program$unit
  table
}

# Records are told as texts where a round is told; here they are values again.
row_of_result <- function(program, result) {
  pays <- stats::setNames(result$pays, paste0("pay_", names(result$pays), recycle0 = TRUE))
  records <- result$records
  values <- Map(function(value, name) switch(program$records[[name]]$type, yesno = value == "yes",
                                             whole = , fraction = as.numeric(value), value), records, names(records))
  c(list(outcome = result$outcome), pays, values)
}
