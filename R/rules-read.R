# From a path, a name of one of the fair's games or inline rules to lines of text.

max_file <- 200000L
max_lines <- 5000L
max_line <- 2000L

# A source: `name` as messages show it, `lines` of UTF-8 text, and the `folder` where word lists lie.
read_source <- function(path) {
  bytes <- file_bytes(path, max_file)
  if (length(bytes) > max_file) {
    abort_input("file_large", sprintf("`%s` has too many bytes for rules.", path),
                sprintf("rules have at most %d", max_file))
  }
  name <- basename(path)
  if (length(bytes) == 0)
    abort_input("file_empty", sprintf("`%s` is empty.", path),
                "write the rules, or copy a game of the fair to start from")
  if (any(bytes == as.raw(0))) {
    abort_input("file_binary", sprintf("`%s` is not a text file: it holds zero bytes.", path),
                "give the path of a rules file (plain text, UTF-8)")
  }
  text <- rawToChar(bytes)
  if (!validUTF8(text)) {
    before <- sum(bytes[seq_len(first_invalid_byte(bytes) - 1)] == as.raw(10L))
    abort_input("file_encoding", sprintf("`%s` is not UTF-8: see line %d.", path, before + 1),
                "save the file with the encoding UTF-8")
  }
  Encoding(text) <- "UTF-8"
  source_of_text(sub("^\ufeff", "", text), name, dirname(path))
}

# The bytes of a file that must be there and can be read.
file_bytes <- function(path, most) {
  bytes <- read_bytes(path, most)
  if (!is.null(bytes)) return(bytes)
  if (dir.exists(path))
    abort_input("file_missing", sprintf("`%s` is a folder, not a file.", path), "give the path of a file in it")
  if (!file.exists(path))
    abort_input("file_missing", sprintf("There is no file `%s`.", path), "check its name and folder")
  abort_input("file_unreadable", sprintf("`%s` cannot be read.", path), "check its permissions")
}

source_of_text <- function(text, name, folder = NULL) {
  lines <- strsplit(gsub("\r\n?", "\n", text), "\n", fixed = TRUE)[[1]]
  source <- list(name = name, lines = lines, folder = folder)
  if (length(lines) > max_lines)
    abort_input("file_large", sprintf("`%s` has %s lines, more than %s.", name, whole_text(length(lines)),
                                      whole_text(max_lines)), "give the path of a rules file")
  long <- which(nchar(lines) > max_line)
  if (length(long) > 0)
    abort_input("file_large", sprintf("%s: line %d has more than %d letters.", name, long[[1]], max_line),
                "break the line")
  if (!any(grepl("[^[:space:]]", lines)))
    abort_input("file_empty", sprintf("`%s` has nothing in it but white space.", name),
                "write the rules, or copy a game of the fair to start from")
  source
}

first_invalid_byte <- function(bytes) {
  low <- 1L
  high <- length(bytes)
  valid_up_to <- function(n) validUTF8(rawToChar(bytes[seq_len(n)]))
  ends <- which(bytes == as.raw(10L))
  for (end in c(ends, high)) if (!valid_up_to(end)) return(end)
  high
}

# A path as it stands, or the name of one of the fair's games.
find_rules <- function(name) {
  if (!is.character(name) || length(name) != 1 || is.na(name) || !nzchar(name)) {
    what <- if (inherits(name, "basanos_result")) sprintf("a result (%s)", class(name)[[1]]) else given_text(name)
    abort_input("file_missing", sprintf("A game is expected: a path, a name or a result of game(), not %s.", what),
                "write \"lantern-tiles\", \"my.game\" or game({ ... })")
  }
  if (file.exists(name) && !dir.exists(name)) return(name)
  if (dir.exists(name))
    abort_input("file_missing", sprintf("`%s` is a folder, not a rules file.", name), "give the path of a file in it")
  known <- system.file("games", paste0(name, ".game"), package = "basanos")
  if (nzchar(known)) return(known)
  near <- did_you_mean(name, fair_games())
  if (is.null(near)) near <- file_meant(name)
  abort_input("file_missing", sprintf("There is no file `%s`, and none of the fair's games has that name.", name),
              if (is.null(near)) paste("give the path of a rules file or one of", some_of_names(fair_games(), 30))
              else near)
}

# A rules file of the folder that is named, by a name that is nearly its own, with or without the ending; or NULL.
file_meant <- function(name) {
  files <- list.files(dirname(name), pattern = "[.]game$")
  if (dirname(name) != ".") files <- file.path(dirname(name), files)
  stem <- function(path) sub("[.]game$", "", path)
  near <- nearest(stem(name), stem(files))
  if (!is.null(near)) sprintf("did you mean `%s.game`?", near)
}

#' The games of the Lantern Pier night fair
#'
#' @return A character vector: the names that [game()] and the command line know without a path.
#' @export
#' @examples
#' fair_games()
fair_games <- function() {
  sub("\\.game$", "", list.files(system.file("games", package = "basanos"), pattern = "\\.game$"))
}
