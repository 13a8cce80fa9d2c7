# Writes claims out as code, for the programs that check them.

# At this moment every claim about it must hold.
write_claims <- function(em, moment) {
  for (k in seq_along(em$claims)) {
    claim <- em$claims[[k]]
    if (!moment %in% claim$when) next
    holds <- new_label(em)
    at_place(em, claim$at, function() {
      if (!identical(jump_if(em, claim$holds, holds, when = TRUE), TRUE)) emit(em, "FAIL", failure_code("claim_broken"), k)
    })
    put_label(em, holds)
  }
}
