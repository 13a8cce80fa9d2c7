#' A starter file for a new game
#'
#' Writes commented rules of a family of games, which check and run as they are.
#'
#' @param family One of [game_families()].
#' @param path Where to write the file; it must not be there yet.
#' @return The path, invisibly.
#' @section Errors: `family_unknown`, `file_there`, `file_written`.
#' @export
#' @examples
#' new_game_file("dice", file.path(tempdir(), "mine.game"))
new_game_file <- function(family, path = paste0("my-", family, ".game")) {
  if (!is.character(family) || length(family) != 1 || !family %in% game_families()) {
    near <- if (is.character(family) && length(family) == 1) did_you_mean(family, game_families())
    abort_input("family_unknown", sprintf("There is no family of games %s.", given_text(family)),
                if (is.null(near)) paste(c("the families are", families_told()), collapse = "\n    ") else near)
  }
  starter <- system.file("starters", paste0(family, ".game"), package = "basanos")
  write_new_file(readBin(starter, "raw", file.size(starter)), path)
  invisible(path)
}

#' @rdname new_game_file
#' @return `game_families()`: a character vector.
#' @export
game_families <- function()
  sub("\\.game$", "", list.files(system.file("starters", package = "basanos"), pattern = "\\.game$"))

# "letters   A letter game: a hidden word, letter by letter.": the first line of each starter.
families_told <- function() {
  first <- vapply(game_families(), function(family)
    readLines(system.file("starters", paste0(family, ".game"), package = "basanos"), 1), "")
  sprintf("%s  %s", format(game_families()), sub("[.:] [A-Z].*$", ".", sub("^# *", "", first)))
}
