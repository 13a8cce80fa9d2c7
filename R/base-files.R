# Files are written whole or not at all: beside the old one first, then put in its place. What is no plain file (a
# device, a pipe) is written through, and a symbolic link is followed. Also excerpts of what was read.

# Writes lines of text; `what` names the thing in messages.
write_lines <- function(text, path, what = "")
  write_bytes(charToRaw(paste0(paste(enc2utf8(text), collapse = "\n"), "\n")), path, what)

write_bytes <- function(bytes, path, what = "") {
  if (file_is_special(path)) return(stop_unless_written(file_write(path, bytes), path, what))
  target <- link_target(path)
  partial <- partial_file(target)
  on.exit(unlink(partial))
  stop_unless_written(file_write(partial, bytes), path, what)
  keep_mode(target, partial)
  if (!suppressWarnings(file.rename(partial, target))) stop_unless_written("it cannot be put in place", path, what)
}

# A file that must not be there yet: nothing is ever written over.
write_new_file <- function(bytes, path) {
  if (file.exists(path) || is_link(path)) {
    abort_input("file_there", sprintf("`%s` is there already.", path), "choose another name; nothing was written")
  }
  partial <- partial_file(path)
  on.exit(unlink(partial))
  stop_unless_written(file_write(partial, bytes), path)
  linked <- suppressWarnings(file.link(partial, path))  # unlike a renamed file, a link never takes another's place
  if (!linked) stop_unless_written(file_write(path, bytes), path)
}

# Adds lines at the end of a file, all of them or none.
append_lines <- function(text, path, what = "") {
  bytes <- charToRaw(paste0(paste(enc2utf8(text), collapse = "\n"), "\n"))
  before <- if (file.exists(path) && !file_is_special(path)) file.size(path) else 0
  failed <- file_write(path, bytes, append = TRUE)
  if (nzchar(failed) && !file_is_special(path) && file.exists(path)) if (before > 0) file_cut(path, before)
  else unlink(path)
  stop_unless_written(failed, path, what)
}

partial_file <- function(path) tempfile(paste0(".partial-", basename(path), "-"), dirname(path))
keep_mode <- function(old, new) if (file.exists(old)) Sys.chmod(new, file.mode(old), use_umask = FALSE)
is_link <- function(path) !Sys.readlink(path) %in% c("", NA)

# The path behind symbolic links, whether or not there is a file yet.
link_target <- function(path) {
  for (step in 1:40) {
    if (!is_link(path)) return(path)
    to <- Sys.readlink(path)
    path <- if (startsWith(to, "/")) to else file.path(dirname(path), to)
  }
  path
}

stop_unless_written <- function(failed, path, what = "") {
  if (!nzchar(failed)) return(invisible(path))
  named <- if (nzchar(what)) paste(what, sprintf("`%s`", path)) else sprintf("`%s`", path)
  abort_input("file_written", sprintf("%s could not be written: %s.", named, failed),
              "check the folder, its permissions and the room on the disk; what was there before is as it was")
}

# All the bytes of a file, also of a pipe that has no size; at most `most`. NULL where it cannot be read.
read_bytes <- function(path, most) {
  if (dir.exists(path)) return(NULL)
  connection <- tryCatch(suppressWarnings(file(path, "rb", raw = TRUE)), error = function(e) NULL)
  if (is.null(connection)) return(NULL)
  on.exit(close(connection))
  bytes <- raw()
  repeat {
    more <- tryCatch(readBin(connection, "raw", 65536L), error = function(e) NULL)
    if (is.null(more)) return(NULL)
    bytes <- c(bytes, more)
    if (length(more) == 0 || length(bytes) > most) return(bytes)
  }
}

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

# A file that is to be written must not be there yet.
check_write <- function(path) {
  if (is.null(path)) return(invisible())
  one_text(path, "write")
  if (file.exists(path))
    abort_input("file_there", sprintf("`%s` is there already.", path), "choose another name; nothing was written")
  if (!dir.exists(dirname(path)))
    abort_input("file_missing", sprintf("There is no folder `%s`.", dirname(path)), "make it first")
}
