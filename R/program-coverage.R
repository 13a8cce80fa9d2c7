# Notes tell which branches of the rules a round went through; who watches is told as well. Only the findings of
# `check` have them written.

# `kind` is holds or fails, of the condition at `at`, or the label of an answer that was legal there.
write_coverage <- function(asm, kind, at) {
  if (!asm$covering) return(invisible())
  key <- paste(c(kind, at), collapse = " ")
  if (is.null(asm$coverage[[key]])) asm$coverage[[key]] <- list(kind = kind, at = at, index = length(asm$coverage))
  emit(asm, "COVER", asm$coverage[[key]]$index)
  write_trace_point(asm, "note", at, key = key)
}

# The rules of players are not branches of the game.
without_coverage <- function(asm, write) {
  covering <- asm$covering
  asm$covering <- FALSE
  result <- write()
  asm$covering <- covering
  result
}

# The legal answers at an ask, of those that depend on a condition.
cover_legal <- function(asm, choices, d) {
  if (!asm$covering || choices$how != "labels") return(invisible())
  for (item in choices$items) {
    skip <- new_label(asm)
    if (!is.null(item$flag)) emit(asm, "JZ", item$flag$register, skip)
    write_coverage(asm, paste("answer", item$id), d$at)
    put_label(asm, skip)
  }
}

# A branch of a condition, but for conditions that the rules do not write.
write_branch_coverage <- function(asm, kind, node)
  if (!isTRUE(node$quiet)) write_coverage(asm, kind, node$cond$at)
