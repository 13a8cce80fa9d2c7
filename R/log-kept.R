# Rounds played, kept in a CSV file by the player's name, and summed up.

kept_columns <- c("name", "game", "hash", "settings", "players", "seat", "seed", "unit", "outcome", "won", "pay",
                  "records", "answers")

# Before records and answers were kept, and before settings and players were.
kept_columns_before <- list(setdiff(kept_columns, c("records", "answers")),
                            setdiff(kept_columns, c("records", "answers", "settings", "players")))

# "aim=24;high=12", and back.
chosen_text <- function(chosen) {
  values <- vapply(chosen, function(x) if (is.numeric(x)) plain_number(x) else as.character(x), "")
  paste(names(chosen), values, sep = "=", collapse = ";")
}

chosen_from <- function(text) {
  if (is.na(text) || !nzchar(text)) return(list())
  parts <- strsplit(text, ";", fixed = TRUE)[[1]]
  stats::setNames(as.list(sub("^[^=]*=", "", parts)), sub("=.*", "", parts))
}

read_kept <- function(path) {
  if (!file.exists(path))
    abort_input("file_missing", sprintf("There is no file `%s`.", path), "play with --keep to make one")
  if (dir.exists(path) || file_is_special(path))
    abort_input("kept_wrong", sprintf("`%s` is no plain file.", path), "give the file that play --keep wrote")
  kept <- tryCatch(utils::read.csv(path), error = function(e) NULL, warning = function(w) NULL)
  if (is.null(kept) || !list(names(kept)) %in% c(list(kept_columns), kept_columns_before))
    abort_input("kept_wrong", sprintf("`%s` is not a file of rounds played.", path),
                "give the file that play --keep wrote")
  kept
}

#' Sum up the rounds that people have played
#'
#' @param path The CSV file that [play_game()] kept.
#' @param model Work out the odds of the game beside it, as it was kept: with its settings and players, and the game's
#'   own player at that seat. It is looked for among the fair's games and beside the file.
#' @return An object of class `basanos_kept`: a list with `rows`, a data frame with one row a player, game (with its
#'   settings and players) and seat: `name`, `game`, `hash`,
#'   `seat`, `rounds`, `won` (share), `lower`, `upper` (Wilson's 95% interval), `longest_streak` (rounds won in a row),
#'   `pay` (the mean), and with `model` the odds of winning `model_won`, the mean pay by the rules `model_pay`, and
#'   `no_model`: why they are missing, where they are.
#' @section Errors: `file_missing`, `kept_wrong`.
#' @export
#' @examples
#' played_rounds(system.file("story", "evening.csv", package = "basanos"), model = FALSE)
played_rounds <- function(path, model = TRUE) {
  kept <- read_kept(path)
  rows <- lapply(split(kept, list(kept$name, kept$game, kept$hash, kept$seat), drop = TRUE), function(k) {
    won <- sum(k$won %in% TRUE)
    interval <- wilson_interval(won, nrow(k))
    runs <- rle(k$won %in% TRUE)
    row <- data.frame(name = k$name[[1]], game = k$game[[1]], hash = k$hash[[1]], seat = k$seat[[1]], rounds = nrow(k),
                      won = won / nrow(k), lower = interval$lower, upper = interval$upper,
                      longest_streak = max(c(0L, runs$lengths[runs$values])), pay = mean(k$pay))
    if (model) cbind(row, model_of(k[1, ], dirname(path))) else row
  })
  structure(list(rows = do.call(rbind, unname(rows)), people = NULL), class = result_class("kept"))
}

# Among the fair's games, or beside the file; NULL where it is neither.
rules_of_kept <- function(name, folder) {
  beside <- file.path(folder, paste0(name, ".game"))
  if (name %in% fair_games()) name else if (file.exists(beside)) beside
}

model_rounds <- 1e5

# The odds of winning, and the mean pay, of the seat in the game as it was kept.
model_of <- function(kept, folder) {
  none <- function(why) data.frame(model_won = NA_real_, model_pay = NA_real_, no_model = why)
  if (is.null(kept$settings)) return(none("kept without settings and players, by an earlier version"))
  rules <- rules_of_kept(kept$game, folder)
  if (is.null(rules)) return(none(sprintf("there is no rules file `%s.game` beside it", kept$game)))
  tryCatch({
    o <- odds(rules, engine = "sample", rounds = model_rounds, set = chosen_from(kept$settings),
              players = chosen_from(kept$players))
    if (o$hash != kept$hash) return(none("the rules have changed since"))
    of_seat <- o$outcomes$name[startsWith(o$outcomes$name, paste0(kept$seat, "_"))]
    pay <- o$pays$mean[o$pays$seat == kept$seat]
    won <- if (length(of_seat) > 0) sum(o$outcomes$probability[o$outcomes$name %in% of_seat]) else NA_real_
    data.frame(model_won = won, model_pay = if (length(pay) == 1) pay else NA_real_, no_model = NA_character_)
  }, basanos_error = function(e) none("the rules do not fit any more"))
}

#' @export
sections.basanos_kept <- function(x, ...) {
  table <- x$rows
  percent <- function(x) percent_text(x, 1)
  number <- function(x) fixed_text(x, 3, sign = TRUE)
  cells <- list(player = table$name, game = table$game, seat = table$seat, rounds = format(table$rounds),
                won = percent(table$won),
                "95% interval" = interval_text(table$lower, table$upper, percent),
                "longest streak" = format(table$longest_streak), "mean pay" = number(table$pay))
  if (is.null(table$model_won)) return(all_sections(section(table = cells)))
  without <- !is.na(table$no_model)
  notes <- unique(sprintf("  %s: no odds by the rules, for %s.", table$game[without], table$no_model[without]))
  cells <- c(cells, list("by the rules" = percent(table$model_won), "pay by the rules" = number(table$model_pay)))
  all_sections(section(table = cells), if (any(without)) section(notes = notes),
               if (!is.null(x$people)) sections(x$people))
}

#' @export
json_fields.basanos_kept <- function(x) list(rounds = x$rows, people = unclass(x$people))

#' @export
as.data.frame.basanos_kept <- function(x, ...) {
  r <- x$rows
  r$person <- r$name
  extras <- r[intersect(c("person", "hash", "rounds", "no_model"), names(r))]
  bind_result_rows(
    result_rows(r, "won", r$seat, r$won, NA_character_, extras, lower = r$lower, upper = r$upper, engine = NULL),
    result_rows(r, "longest_streak", r$seat, r$longest_streak, NA_character_, extras, engine = NULL),
    result_rows(r, "pay", r$seat, r$pay, NA_character_, extras, engine = NULL),
    if (!is.null(r$model_won)) bind_result_rows(
      result_rows(r, "model_won", r$seat, r$model_won, NA_character_, extras, engine = "sample"),
      result_rows(r, "model_pay", r$seat, r$model_pay, NA_character_, extras, engine = "sample")))
}

# Rounds that were kept by something else: a CSV file whose columns are named by a map.

# The same columns as read_kept(), as far as the file has them; `records` is a list, one a row.
read_mapped <- function(path, game, map, seat) {
  if (is.null(game)) abort_input("argument_missing", "Which game are these rounds of?",
                                 "name it: game = \"lantern-tiles\" (--game)")
  rules <- game(game)
  if (!file.exists(path)) abort_input("file_missing", sprintf("There is no file `%s`.", path),
                                      "check its name and folder")
  log <- tryCatch(utils::read.csv(path, check.names = FALSE, comment.char = "#"), error = function(e) NULL,
                  warning = function(w) NULL)
  wrong <- function(message, hint) abort_input("kept_wrong", sprintf("`%s`: %s", path, message), hint)
  if (is.null(log) || nrow(log) == 0) wrong("this is no table of rounds.", "give a CSV file with a line of names first")
  records <- names(rules$records)
  map <- as.list(map)
  unknown <- setdiff(names(map), c("name", "outcome", "pay", records))
  if (length(unknown) > 0 || is.null(names(map)))
    wrong(sprintf("`%s` is nothing that rounds have.", c(unknown, "?")[[1]]),
          or_spelling(did_you_mean(c(unknown, "")[[1]], c("name", "outcome", "pay", records)),
                      sprintf("map %s", some_of_names(c("name", "outcome", "pay", records)))))
  lacking <- setdiff(unlist(map), names(log))
  if (length(lacking) > 0)
    wrong(sprintf("it has no column `%s`.", lacking[[1]]),
          or_spelling(did_you_mean(lacking[[1]], names(log)), sprintf("its columns are %s", some_of_names(names(log)))))
  if (is.null(map$outcome)) wrong("nothing says how a round ended.",
                                  "map the column: outcome = \"result\" (--map outcome=result)")
  deciding <- Filter(function(name) length(asked_of(rules, match(name, rules$seats))) > 0, rules$seats)
  seat <- if (!is.null(seat)) rules$seats[[seat_number(rules, seat)]] else c(deciding, rules$seats)[1]
  kept <- data.frame(name = if (is.null(map$name)) "all" else as.character(log[[map$name]]),
                     game = name_of_file(rules$source), seat = c(seat, "nobody")[[1]],
                     outcome = mapped_outcomes(log[[map$outcome]], rules, wrong))
  if (!is.null(map$pay)) kept$pay <- as.numeric(log[[map$pay]])
  mapped <- intersect(records, names(map))
  if (length(mapped) > 0) kept$records <- lapply(seq_len(nrow(log)), function(k)
    stats::setNames(lapply(mapped, function(r) log[[map[[r]]]][[k]]), mapped))
  kept
}

# "Guest high" is guest_high.
mapped_outcomes <- function(texts, rules, wrong) {
  plain <- function(x) gsub("[^a-z0-9]+", "_", tolower(trimws(x)))
  places <- match(plain(texts), plain(rules$outcomes$names))
  if (anyNA(places)) {
    text <- texts[is.na(places)][[1]]
    wrong(sprintf("row %d ends in \"%s\", which is no outcome of the game.", which(is.na(places))[[1]], text),
          or_spelling(did_you_mean(plain(text), rules$outcomes$names),
                      sprintf("the outcomes are %s", some_of_names(rules$outcomes$names))))
  }
  rules$outcomes$names[places]
}
