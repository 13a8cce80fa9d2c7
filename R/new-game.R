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
  one_of_names(family, game_families(), "family_unknown", "family")
  starter <- system.file("starters", paste0(family, ".game"), package = "basanos")
  write_new_file(readBin(starter, "raw", file.size(starter)), path)
  invisible(path)
}

#' @rdname new_game_file
#' @return `game_families()`: a character vector.
#' @export
game_families <- function()
  sub("\\.game$", "", list.files(system.file("starters", package = "basanos"), pattern = "\\.game$"))
