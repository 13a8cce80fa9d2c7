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

write_decision <- function(asm, site, d, seat, choices, target) {
  situation <- asm$question$situations[[d$name]]
  for (k in seq_along(situation)) {
    shown <- write_situation(asm, situation[[k]], seat)
    if (is.null(shown$list)) emit(asm, if (shown$real) "SEER" else "SEE", k - 1L, shown$register)
    else emit(asm, "SEEL", k - 1L, shown$list)
  }
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

# The further fields of a program with open seats: `sites`; `slot`, the registers of the state and of the decisions;
# `locals`, by decision, those of the local names that its seats may know; `unseen`, those that no seat sees; `deck`.
about_open <- function(asm) {
  rules <- asm$rules
  list(open = asm$question$open, sites = asm$sites, slot = traced_state(asm),
       locals = lapply(rules$decisions, function(d) placed(asm, d$locals)),
       unseen = c(placed(asm, hidden_locals(rules)),
                  stats::setNames(lapply(asm$seated, function(r) list(register = r$register, real = FALSE)),
                                  sprintf("who plays %s", rules$seats[as.integer(names(asm$seated))]))),
       deck = lapply(asm$decks, `[`, c("base", "size")))
}

# Where variables lie, of those that were written.
placed <- function(asm, variables) {
  there <- Filter(function(v) !is.null(asm$vars[[as.character(v$id)]]), variables)
  names <- vapply(there, `[[`, "", "name")
  stats::setNames(Map(function(v, name) c(traced_variable(asm, v), name = name), there, names), names)
}

# The local values of play that come from what not everyone sees.
hidden_locals <- function(rules) {
  locals <- list()
  walk(rules$play, function(n) if (is.environment(n$var) && identical(n$var$where, "local") && isTRUE(n$var$hidden))
    locals[[as.character(n$var$id)]] <<- n$var)
  unname(locals)
}
