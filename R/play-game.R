#' Play a game at the keyboard
#'
#' People take seats and play against computer players, or one another. Each sees only what its seat may
#' see; what was hidden is shown when the round is over. Where nobody decides anything, Enter plays a round.
#'
#' @inheritParams trace_round
#' @param seats The seats that people take; by default the first that decides anything. The others are played
#'   by `players`.
#' @param seed The seed; `NULL` draws a new one.
#' @param forced Forced draws, for testing: see [trace_round()].
#' @param where The first round is the first one in which this outcome comes up, or this condition holds, when all seats
#'   are played by their players: see [trace_round()].
#' @param at A position: see [odds()]. Up to there the players play; from there on people do.
#' @param reveal Show everything all the time, for testing.
#' @param advice Tell at each decision what is best, and what the other answers cost; after the round what the answers
#'   given cost in all: see [best_play()].
#' @param rounds Stop after this number of rounds (matches, sittings); `NULL` asks each time.
#' @param keep A CSV file to which each round played is added, and `name` the player's name in it: see
#'   [played_rounds()].
#' @param read A function that gives the next line typed, or `character()` at the end of input.
#' @param write A function that shows lines of text. Those of a question have an attribute `choices`: the answers, where
#'   they are a few names, or `several`: the items of which some are chosen.
#' @param name The name under which the rounds are kept.
#' @return Invisibly a data frame with one row a round: `unit`, `outcome`, and the pay of the first person's seat.
#' @section Errors: Those of [trace_round()], and `seat_unasked` for a seat that decides nothing.
#' @export
#' @examples
#' # A person who draws once and then stands, as if typed:
#' typed <- c("draw", "stand", "no")
#' next_line <- function() {
#'   line <- typed[1]
#'   typed <<- typed[-1]
#'   line
#' }
#' play_game("lantern-tiles", "guest", seed = 1, read = next_line)
play_game <- function(game, seats = NULL, set = list(), players = list(), mode = NULL, forced = NULL, where = NULL,
                      at = NULL, reveal = FALSE, advice = FALSE, rounds = NULL, keep = NULL, name = "guest",
                      seed = NULL, read = read_typed(), write = writeLines) {
  game <- game_with(game, set)
  seed <- given_seed(seed)
  people <- taken_seats(game, seats)
  players <- best_against_best(game, players, people)
  question <- with_choices(with_asked(question_of(game), at = at), set, players, mode)
  first_unit <- first_unit_to_play(question, where, at, seed)
  if (advice) question <- with_advice(question, game, people)
  table <- new_table_of_play(game, program_of(question, tracing = TRUE), people, reveal, read, write)
  table$advice <- question$advice
  table$words <- words_of_names(game, question$settings)
  table$forced <- if (!is.null(forced)) forced_by(game, forced, set, players, mode) else first_unit$forced
  table$hash <- if (!is.null(keep)) program_of(question)$hash  # not that of a program that is watched
  table$write(play_opening(table))
  if (!is.null(first_unit$said)) table$write(c(first_unit$said, ""))
  results <- list()
  unit <- first_unit$unit
  repeat {
    if (length(table$people) == 0 && is.null(rounds) && !enter_typed(table)) break
    result <- play_unit(table, seed, unit)
    table$forced <- if (!is.null(forced)) table$forced
    if (is.null(result)) break
    results <- c(results, list(result))
    if (!is.null(keep)) keep_round(keep, name, game, table, result, seed, unit)
    table$write(c("", running_score(table, results)))
    if (!is.null(rounds) && length(results) >= rounds) break
    if (is.null(rounds) && length(table$people) > 0 && !asks_again(table)) break
    unit <- unit + 1
  }
  table$write("Goodbye.")
  invisible(data.frame(unit = seq_along(results), outcome = vapply(results, `[[`, "", "outcome"),
                       pay = vapply(results, function(r) pay_of(table, r), 0)))
}

# Who plays against `best` is taken to play as well as can be.
best_against_best <- function(game, players, people) {
  at_best <- any(vapply(players, identical, NA, "best"))
  free <- setdiff(game$seats[people], names(players))
  if (at_best) c(as.list(players), stats::setNames(rep(list("best"), length(free)), free)) else players
}

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
  if (is.null(seats)) return(utils::head(deciding, 1))
  numbers <- match(seats, game$seats)
  if (anyNA(numbers))
    abort_input("seat_unknown", sprintf("This game has no seat `%s`.", seats[is.na(numbers)][[1]]),
                or_spelling(did_you_mean(seats[is.na(numbers)][[1]], game$seats)))
  if (!all(numbers %in% deciding))
    abort_input("seat_unasked", sprintf("The seat `%s` decides nothing.", seats[!numbers %in% deciding][[1]]),
                if (length(deciding) == 0) "leave the seat out: Enter plays a round"
                else paste("take", some_of_names(game$seats[deciding])))
  numbers
}

# list(unit, forced, said): the round to begin with, and what is said about it.
first_unit_to_play <- function(question, where, at, seed) {
  if (is.null(where) && is.null(at)) return(list(unit = 1))
  first_unit <- find_unit(question, where, 1, seed)
  if (!is.null(at))
    return(list(unit = first_unit$unit, said = sprintf("  The players play up to where %s; then it is your turn.", at)))
  list(unit = first_unit$unit,
       forced = if (!is.null(first_unit$draws)) list(draws = first_unit$draws, answers = list()),
       said = sprintf("  Played by the players, `%s` comes up here.", where))
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
    if (length(people) > 0) sprintf("  You play %s%s.", paste(people, collapse = " and "),
            if (length(others) > 0) paste0(", against ", paste(names(others), others, sep = " = ", collapse = ", "))
            else ""),
    if (!is.null(game$words$mark_length))
      sprintf("  Marks: %s.", paste(mark_shapes(), names(mark_shapes()), collapse = ", ")),
    if (length(people) == 0) "  Nobody decides anything here: Enter plays a round, `quit` ends."
    else "  An answer may be shortened or be its number; `?` tells what else can be typed.", "")
}

enter_typed <- function(table) {
  table$write("Enter plays a round.")
  line <- table$read()
  length(line) > 0 && !is_short_for(line, c("no", "quit"))
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
  seat <- if (length(table$people) > 0) table$people[[1]] else 1L
  pay <- if (seat <= length(table$game$seats)) result$pays[[table$game$seats[[seat]]]]
  if (is.null(pay)) NA_real_ else pay
}

running_score <- function(table, results) {
  pays <- vapply(results, pay_of, 0, table = table)
  counts <- table(vapply(results, `[[`, "", "outcome"))
  sprintf("Played %d: %s%s", length(results), paste(plain_name(names(counts)), counts, collapse = ", "),
          if (!anyNA(pays)) sprintf("; pays so far %+g", sum(pays)) else "")
}

# Adds a round that was played to a file of rounds.

keep_round <- function(path, name, game, table, result, seed, unit) {
  seat <- table$game$seats[[table$people[[1]]]]
  winner <- if (is.null(result$number)) 0L else outcome_winner(game, result$number)
  pay <- pay_of(table, result)
  won <- if (winner > 0) winner == table$people[[1]] else if (is.na(pay)) NA else pay > 0
  row <- data.frame(name = name, game = name_of_file(game$source), hash = table$hash,
                    settings = chosen_text(table$program$settings),
                    players = chosen_text(Filter(Negate(is.na), table$program$players)), seat = seat, seed = seed,
                    unit = unit,
                    outcome = result$outcome, won = won, pay = pay, records = chosen_text(result$records),
                    answers = as.character(jsonlite::toJSON(table$answers, auto_unbox = TRUE)))
  fresh <- !file.exists(path)
  if (!fresh && !identical(names(read_kept(path)), kept_columns)) {  # never add to a file that is something else
    abort_input("kept_wrong", sprintf("`%s` was kept by an earlier version, which kept less.", path),
                "keep these rounds in another file")
  }
  append_lines(utils::capture.output(utils::write.table(row, sep = ",", row.names = FALSE, col.names = fresh,
    qmethod = "double")), path)
}
