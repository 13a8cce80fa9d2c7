#' Play a game at the keyboard
#'
#' People take seats and play against computer players, or one another. Each sees only what its seat may
#' see; what was hidden is shown when the round is over.
#'
#' @inheritParams trace_round
#' @param seats The seats that people take; by default the first that decides anything. The others are played
#'   by `players`.
#' @param seed The seed of the luck; `NULL` takes a new one.
#' @param given Forced draws, for testing: see [trace_round()].
#' @param reveal Show everything all the time, for testing.
#' @param rounds Stop after this number of rounds (matches, sittings); `NULL` asks each time.
#' @param keep A CSV file to which each round played is added, and `name` the player's name in it: see
#'   [kept_rounds()].
#' @param read A function that gives the next line typed, or `character()` at the end of input.
#' @param write A function that shows lines of text.
#' @param name The name under which the rounds are kept.
#' @return Invisibly a data frame with one row a round: `unit`, `outcome`, and the pay of the first person's seat.
#' @section Errors: Those of [trace_round()], and `seat_unasked` for a seat that decides nothing.
#' @export
play_game <- function(game, seats = NULL, seed = NULL, set = list(), players = list(), mode = NULL, given = NULL,
                      reveal = FALSE, rounds = NULL,
                      keep = NULL, name = "guest", read = read_typed(), write = writeLines) {
  game <- game(game)
  if (is.null(seed)) seed <- sample_seed()
  check_seed(seed)
  table <- new_table_of_play(game, traced_program(game, set, players, mode), taken_seats(game, seats), reveal, read,
                             write)
  table$forced <- if (!is.null(given)) forced_by(game, given, set, players, mode)
  table$hash <- if (!is.null(keep)) compile_game(game, set, players, mode)$hash  # not that of a program that is watched
  table$write(play_opening(table))
  results <- list()
  unit <- 1
  repeat {
    result <- play_unit(table, seed, unit)
    if (is.null(result)) break
    results <- c(results, list(result))
    if (!is.null(keep)) keep_round(keep, name, game, table, result, seed, unit)
    table$write(c("", running_score(table, results)))
    if (!is.null(rounds) && unit >= rounds) break
    if (is.null(rounds) && !asks_again(table)) break
    unit <- unit + 1
  }
  table$write("Goodbye.")
  invisible(data.frame(unit = seq_along(results), outcome = vapply(results, `[[`, "", "outcome"),
                       pay = vapply(results, function(r) pay_of(table, r), 0)))
}

# A number of the clock, so that R's own generator stays as it is.
sample_seed <- function() floor((as.numeric(Sys.time()) * 1000) %% 1e9)

# Lines typed at the terminal or piped in, one at a time. What is piped in is shown, as a terminal shows what is typed.
read_typed <- function() {
  connection <- NULL
  function() {
    if (interactive()) return(readline())
    if (is.null(connection)) connection <<- file("stdin", "r")
    line <- readLines(connection, n = 1L)
    if (length(line) > 0 && !isatty(stdin())) writeLines(paste(">", line))
    line
  }
}

taken_seats <- function(game, seats) {
  deciding <- which(vapply(seq_along(game$seats), function(s) length(asked_of(game, s)) > 0, NA))
  if (length(deciding) == 0)
    abort_input("seat_unasked", "Nobody decides anything in this game: there is nothing to play.",
                "see a round with trace instead")
  if (is.null(seats)) return(deciding[[1]])
  numbers <- match(seats, game$seats)
  if (anyNA(numbers))
    abort_input("seat_unknown", sprintf("This game has no seat `%s`.", seats[is.na(numbers)][[1]]),
                or_spelling(did_you_mean(seats[is.na(numbers)][[1]], game$seats)))
  if (!all(numbers %in% deciding))
    abort_input("seat_unasked", sprintf("The seat `%s` decides nothing.", seats[!numbers %in% deciding][[1]]),
                paste("take", some_of_names(game$seats[deciding])))
  numbers
}

new_table_of_play <- function(game, program, people, reveal, read, write) {
  table <- new.env(parent = emptyenv())
  table$game <- game
  table$program <- program
  table$people <- people
  table$reveal <- reveal
  table$read <- read
  table$write <- write
  table
}

play_opening <- function(table) {
  game <- table$game
  people <- game$seats[table$people]
  others <- Filter(Negate(is.na), table$program$players[setdiff(seq_along(game$seats), table$people)])
  c(if (is.null(game$title)) game$source$name else game$title, if (!is.null(game$line)) paste0("  ", game$line),
    sprintf("  You play %s%s.", paste(people, collapse = " and "),
            if (length(others) > 0) paste0(", against ", paste(names(others), others, sep = " = ", collapse = ", "))
            else ""),
    if (!is.null(game$words$mark_length))
      sprintf("  Marks: %s.", paste(mark_shapes(), names(mark_shapes()), collapse = ", ")),
    "  Answers may be shortened; `rules` tells the rules, `look` what you see, `quit` ends.", "")
}

asks_again <- function(table) {
  repeat {
    table$write("Play again? yes or no")
    line <- table$read()
    if (length(line) == 0 || is_short_for(line, c("no", "quit"))) return(FALSE)
    if (is_short_for(line, "yes")) return(TRUE)
    table$write("Please answer yes or no.")
  }
}

is_short_for <- function(line, words) {
  line <- tolower(trimws(line))
  nzchar(line) && any(startsWith(words, line))
}

pay_of <- function(table, result) {
  pay <- result$pays[[table$game$seats[[table$people[[1]]]]]]
  if (is.null(pay)) NA_real_ else pay
}

running_score <- function(table, results) {
  own <- vapply(results, pay_of, 0, table = table)
  counts <- table(vapply(results, `[[`, "", "outcome"))
  sprintf("Played %d: %s%s", length(results), paste(names(counts), counts, collapse = ", "),
          if (!anyNA(own)) sprintf("; pays so far %+g", sum(own)) else "")
}
