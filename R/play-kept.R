# Rounds played, kept in a CSV file by the player's name, and summed up.

kept_columns <- c("name", "game", "hash", "seat", "seed", "unit", "outcome", "won", "pay")

keep_round <- function(path, name, game, table, result, seed, unit) {
  seat <- table$game$seats[[table$people[[1]]]]
  winner <- if (is.null(result$number)) 0L else outcome_winner(game, result$number)
  pay <- pay_of(table, result)
  won <- if (winner > 0) winner == table$people[[1]] else if (is.na(pay)) NA else pay > 0
  row <- data.frame(name = name, game = sub("\\.game$", "", game$source$name), hash = table$program$hash, seat = seat, seed = seed, unit = unit, outcome = result$outcome, won = won, pay = pay)
  fresh <- !file.exists(path)
  if (!fresh) read_kept(path)  # never add to a file that is something else
  wrote <- tryCatch({ utils::write.table(row, path, append = !fresh, sep = ",", row.names = FALSE, col.names = fresh, qmethod = "double"); TRUE }, error = function(e) FALSE, warning = function(w) FALSE)
  if (!wrote) abort_input("file_written", sprintf("`%s` could not be written.", path), "check the folder and its permissions")
}

read_kept <- function(path) {
  if (!file.exists(path)) abort_input("file_missing", sprintf("There is no file `%s`.", path), "play with --keep to make one")
  kept <- tryCatch(utils::read.csv(path), error = function(e) NULL, warning = function(w) NULL)
  if (is.null(kept) || !identical(names(kept), kept_columns)) abort_input("kept_wrong", sprintf("`%s` is not a file of rounds played.", path), "give the file that play --keep wrote")
  kept
}

#' Sum up the rounds that people have played
#'
#' @param path The CSV file that [play_game()] kept.
#' @param model Work out the odds of the game beside it, where it is one of the fair's? The model is the game's
#'   first player at that seat.
#' @return A data frame with one row a player, game and seat: `name`, `game`, `seat`, `rounds`, `won` (share),
#'   `lower`, `upper` (Wilson's 95% interval), `longest_streak` (rounds won in a row), `pay` (the mean), and with
#'   `model` the `odds` of winning and the mean pay by the rules.
#' @section Errors: `file_missing`, `kept_wrong`.
#' @export
played_rounds <- function(path, model = TRUE) {
  kept <- read_kept(path)
  rows <- lapply(split(kept, list(kept$name, kept$game, kept$seat), drop = TRUE), function(k) {
    won <- sum(k$won %in% TRUE)
    interval <- wilson_interval(won, nrow(k))
    runs <- rle(k$won %in% TRUE)
    row <- data.frame(name = k$name[[1]], game = k$game[[1]], seat = k$seat[[1]], rounds = nrow(k), won = won / nrow(k), lower = interval$lower, upper = interval$upper,
                      longest_streak = max(c(0L, runs$lengths[runs$values])), pay = mean(k$pay))
    if (model) cbind(row, model_of(k$game[[1]], k$seat[[1]])) else row
  })
  do.call(rbind, unname(rows))
}

# The odds of winning, and the mean pay, of the seat when the game's first player plays it.
model_of <- function(name, seat) {
  if (!name %in% fair_games()) return(data.frame(model_won = NA_real_, model_pay = NA_real_))
  o <- odds(name, "sample", rounds = 1e5)
  own <- o$outcomes$name[startsWith(o$outcomes$name, paste0(seat, "_"))]
  pay <- o$pays$mean[o$pays$seat == seat]
  data.frame(model_won = if (length(own) > 0) sum(o$outcomes$probability[o$outcomes$name %in% own]) else NA_real_, model_pay = if (length(pay) == 1) pay else NA_real_)
}
