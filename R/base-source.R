excerpt <- function(at, source) {
  line <- at[[1]]
  if (line > length(source$lines)) return(character())
  text <- chartr("\t", " ", source$lines[[line]])
  last <- if (at[[3]] == line) at[[4]] else nchar(text)
  width <- max(1, min(last, nchar(text)) - at[[2]] + 1)
  gutter <- sprintf("  %4d | ", place_in_file(source, line)$line)
  c(paste0(gutter, text),
    paste0(strrep(" ", nchar(gutter) - 2), "| ", strrep(" ", at[[2]] - 1), strrep("^", width)))
}

# The name of a rules file without its ending, by which results call a game.
name_of_file <- function(source) sub("\\.game$", "", source$name)

# The game's name on the command line: its name if it is a game of the fair, else its path.
path_of_game <- function(source) {
  of_fair <- !is.null(source$folder) && file.exists(source$folder) &&
    normalizePath(source$folder) == normalizePath(system.file("games", package = "basanos"))
  if (of_fair || is.null(source$folder)) name_of_file(source)
  else if (source$folder == ".") source$name else file.path(source$folder, source$name)
}

source_text <- function(source, at) {
  if (at[[1]] != at[[3]]) return("the condition")
  substr(source$lines[[at[[1]]]], at[[2]], at[[4]])
}

# The file and line behind a line of joined rules.
place_in_file <- function(source, line) {
  if (is.null(source$parts)) return(list(name = source$name, line = line))
  starts <- vapply(source$parts, function(p) as.numeric(p$from), 0)
  part <- source$parts[[max(which(starts <= line))]]
  list(name = part$name, line = line - part$from + 1L)
}

# The file and the line of each of some things with a place, `at`; missing where there is none.
lines_of <- function(things, source) {
  vapply(things, function(x) if (is.null(x$at)) NA_integer_ else as.integer(place_in_file(source, x$at[[1]])$line), 1L)
}

files_of <- function(things, source) {
  vapply(things, function(x) if (is.null(x$at)) NA_character_ else place_in_file(source, x$at[[1]])$name, "")
}
