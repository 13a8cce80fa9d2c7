# Open decisions. The program stops at the decision of an open seat, offers the legal answers as the rules say it, and
# goes on with the one that the engine takes. A site is one such place of the program.

# OPEN, where the state is kept: the answers are worked out behind it, each time.
open_site <- function(asm, s, d, seat) {
  site <- list(decision = decision_index(asm, d$name), seat = as.integer(seat),
               group = if (d$together) asm$groups else -1L, several = is_collection(d$type), type = d$type, at = s$at,
               because = s$reasons$because)
  asm$sites[[length(asm$sites) + 1L]] <- site
  emit(asm, "OPEN", length(asm$sites) - 1L)
  length(asm$sites) - 1L
}

write_decision <- function(asm, site, d, choices, target) {
  write_offers(asm, choices)
  if (is_collection(d$type)) emit(asm, "DECIDESET", target$list, site)
  else emit(asm, "DECIDE", target$register, site)
}

write_offers <- function(asm, choices) {
  switch(choices$how,
    range = emit(asm, "OFFERR", register_of(asm, choices$low), register_of(asm, choices$high)),
    list = emit(asm, "OFFERL", choices$list),
    subsets = write_each_subset(asm, choices, function(list, out) emit(asm, "OFFERSET", list)),
    labels = for (item in choices$items) {
      skip <- new_label(asm)
      if (!is.null(item$flag)) emit(asm, "JZ", item$flag$register, skip)
      emit(asm, "OFFER", int_const(asm, item$id))
      put_label(asm, skip)
    })
}
