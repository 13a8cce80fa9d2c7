# What only the programs of `check` have: claims as code, and notes of the branches that a round went through.

# At this moment every claim about it must hold.
write_claims <- function(asm, moment) {
  for (k in seq_along(asm$claims)) {
    claim <- asm$claims[[k]]
    if (!moment %in% claim$when) next
    holds <- new_label(asm)
    if (moment == "ask") for (name in claimed_decisions(asm, claim))
      emit(asm, "JZ", answered_register(asm, name)$register, holds)
    at_place(asm, claim$at, function() {
      if (!identical(jump_if(asm, claim$holds, holds, when = TRUE), TRUE))
        emit(asm, "FAIL", failure_code("claim_broken"), k)
    })
    put_label(asm, holds)
  }
}

# At an ask, a claim about answers is looked at only once this turn, or this round where there are no turns, has them:
# what is still there from a turn before is none of its business.
claimed_decisions <- function(asm, claim) {
  read <- variables_in(claim$holds, c("var", "at_key"))
  about <- Filter(function(d) d$variable$id %in% read || (!is.null(d$passed) && d$passed$id %in% read),
                  asm$rules$decisions)
  vapply(about, `[[`, "", "name")
}

# A register that tells whether the decision has been answered.
answered_register <- function(asm, name) {
  if (is.null(asm$answered[[name]])) asm$answered[[name]] <- new_register(asm, FALSE)
  asm$answered[[name]]
}

all_claimed <- function(asm)
  unique(unlist(lapply(asm$claims, function(claim) if ("ask" %in% claim$when) claimed_decisions(asm, claim))))
write_claims_turn <- function(asm) for (name in all_claimed(asm))
  move(asm, answered_register(asm, name), fixed_operand(0, t_whole))

write_claims_answered <- function(asm, name) {
  if (name %in% all_claimed(asm)) move(asm, answered_register(asm, name), fixed_operand(1, t_whole))
}

# Notes of the branches that a round took, for the core and for a watcher. Only the findings of `check` need them.

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
