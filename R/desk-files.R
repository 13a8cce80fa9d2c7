# The files of the desk: rules files in the folder in which it was started, and the drafts of them.

# The names of the rules files that are in this folder itself: a link that leads out of it is none.
desk_games <- function(folder) {
  names <- list.files(folder, pattern = "[.]game$")
  names[vapply(names, is_of_folder, NA, folder = folder)]
}

is_of_folder <- function(name, folder)
  basename(name) == name && dirname(normalizePath(file.path(folder, name), mustWork = FALSE)) == normalizePath(folder)

# The path of a file of the folder, by a name that comes from the page.
desk_path <- function(folder, name, ending = "game") {
  if (!is.character(name) || length(name) != 1 || !grepl(sprintf("^[^/\\\\.][^/\\\\]*[.]%s$", ending), name))
    abort_input("desk_name", "This is not a name for a file of the desk.",
                sprintf("a name without a folder, as my-stall.%s", ending))
  if (!is_of_folder(name, folder))
    abort_input("desk_name", sprintf("`%s` leads out of the folder of the desk.", name),
                "copy the file into the folder")
  file.path(folder, name)
}

# The text of a file, or NULL where there is none.
desk_text <- function(path) {
  if (!file.exists(path)) return(NULL)
  bytes <- file_bytes(path, max_file)
  if (any(bytes == as.raw(0)) || !validUTF8(rawToChar(bytes)))
    abort_input("file_encoding", sprintf("`%s` is no text in UTF-8.", basename(path)),
                "save it with the encoding UTF-8")
  text <- rawToChar(bytes)
  Encoding(text) <- "UTF-8"
  as_typed(text)
}

# Line ends as a page has them, and none at the end.
as_typed <- function(text) sub("\n+$", "", gsub("\r\n?", "\n", text))

# A copy of rules of the package, with the word lists that they name. What is there already stays.
copied_to_desk <- function(from, name, folder) {
  text <- desk_text(from)
  lists <- list.files(dirname(from), pattern = "[.]txt$")
  lists <- lists[vapply(sprintf("\"%s\"", lists), grepl, NA, text, fixed = TRUE)]
  copies <- c(desk_path(folder, name), file.path(folder, lists))
  for (k in which(!file.exists(copies))) {
    source <- c(from, file.path(dirname(from), lists))[[k]]
    write_new_file(readBin(source, "raw", file.size(source)), copies[[k]])
  }
  name
}

save_desk_text <- function(path, text) {
  write_lines(text, path)
  unlink(draft_path(path))
}

# What was typed and is not saved: it is there again when the page is closed, reloaded or lost.
draft_path <- function(path) file.path(dirname(path), paste0(".", basename(path), ".draft"))

keep_draft <- function(path, text) {
  if (identical(text, desk_text(path))) unlink(draft_path(path)) else write_lines(text, draft_path(path))
}

draft_of <- function(path) {
  draft <- desk_text(draft_path(path))
  if (!identical(draft, desk_text(path))) draft
}
