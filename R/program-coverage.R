# Notes tell which branches of the rules a round went through; who watches is told as well. Only the findings of
# `check` have them written.

# `kind` is holds or fails, of the condition at `at`, or the label of an answer that was legal there.
write_note <- function(em, kind, at) {
  if (!em$noting) return(invisible())
  key <- paste(c(kind, at), collapse = " ")
  if (is.null(em$notes[[key]])) em$notes[[key]] <- list(kind = kind, at = at, index = length(em$notes))
  emit(em, "NOTE", em$notes[[key]]$index)
  write_mark(em, "note", at, key = key)
}

# The rules of players are not branches of the game.
without_notes <- function(em, write) {
  noting <- em$noting
  em$noting <- FALSE
  result <- write()
  em$noting <- noting
  result
}

# Which answers are legal at an ask, of those that hang on a condition.
note_legal <- function(em, choices, d) {
  if (!em$noting || choices$how != "labels") return(invisible())
  for (item in choices$items) {
    skip <- new_label(em)
    if (!is.null(item$flag)) emit(em, "JZ", item$flag$cell, skip)
    write_note(em, paste("answer", item$id), d$at)
    put_label(em, skip)
  }
}
