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
