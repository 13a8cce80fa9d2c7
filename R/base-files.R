# Files are written whole or not at all: beside the old one first, then put in its place. What is no plain file (a
# device, a pipe) is written through, and a symbolic link is followed.

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
