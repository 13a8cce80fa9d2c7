# Writes claims out as code, for the programs that check them.

# At this moment every claim about it must hold.
write_claims <- function(em, moment) {
  for (k in seq_along(em$claims)) {
    claim <- em$claims[[k]]
    if (!moment %in% claim$when) next
    holds <- new_label(em)
    if (moment == "ask") for (name in claimed_decisions(em, claim)) emit(em, "JZ", answered_cell(em, name)$cell, holds)
    at_place(em, claim$at, function() {
      if (!identical(jump_if(em, claim$holds, holds, when = TRUE), TRUE)) emit(em, "FAIL", failure_code("claim_broken"), k)
    })
    put_label(em, holds)
  }
}

# At an ask, a claim about answers is looked at only once this turn, or this round where there are no turns, has them:
# what is still there from a turn before is none of its business.
claimed_decisions <- function(em, claim) {
  read <- variables_in(claim$holds, c("var", "at_seat"))
  about <- Filter(function(d) d$variable$id %in% read || (!is.null(d$passed) && d$passed$id %in% read), em$rules$decisions)
  vapply(about, `[[`, "", "name")
}

# A cell that tells whether the decision has been answered.
answered_cell <- function(em, name) {
  if (is.null(em$answered[[name]])) em$answered[[name]] <- new_cell(em, FALSE)
  em$answered[[name]]
}

all_claimed <- function(em) unique(unlist(lapply(em$claims, function(claim) if ("ask" %in% claim$when) claimed_decisions(em, claim))))
write_claims_turn <- function(em) for (name in all_claimed(em)) move(em, answered_cell(em, name), fixed_operand(0, t_whole))

write_claims_answered <- function(em, name) {
  if (name %in% all_claimed(em)) move(em, answered_cell(em, name), fixed_operand(1, t_whole))
}
