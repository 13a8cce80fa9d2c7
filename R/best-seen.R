# What a seat sees where it decides: best play is worked out for a seat that sees all that still matters.

# The registers of each place: a list by name, by key where there are several, of list(ints, reals).
cells_of_place <- function(program, where) {
  of_list <- function(k) program$lists[1, k + 1] + 0:program$lists[2, k + 1]
  one <- function(k) if (is_collection(where$type)) list(ints = of_list(where$list + k))
    else cell_of(if (is.null(where$register)) where$base + k else where$register, where$real)
  if (is.null(where$axes)) list(one(0L)) else lapply(where$offsets, one)
}

cell_of <- function(register, real) if (isTRUE(real)) list(reals = register) else list(ints = register)

is_alive <- function(cell, alive) any(cell$ints %in% alive$ints) || any(cell$reals %in% alive$reals)

# Does it matter what a collection holds, and not only how much?
holds_alive <- function(cell, alive) any(cell$ints[-1] %in% alive$ints)

# What is alive at the decisions of a seat.
alive_for <- function(program, alive, seat, decision = NULL) {
  of_seat <- vapply(program$sites, function(s) s$seat == seat && (is.null(decision) || s$decision == decision), NA)
  of <- function(part) unique(unlist(lapply(alive[of_seat], `[[`, part)))
  list(ints = of("ints"), reals = of("reals"))
}

# What matters where these seats decide: list(places, hidden, draws). `places` are the names of what the seats see,
# `hidden` of what they do not see, `draws` the lines of draws that nothing keeps.
what_is_seen <- function(game, program, seats, alive) {
  of_seats <- lapply(seats, function(seat) {
    there <- alive_for(program, alive, seat)
    places <- Filter(function(p) is_alive(p$cell, there), places_for(game, program, seat))
    seen <- vapply(places, `[[`, NA, "seen")
    names <- vapply(places, `[[`, "", "name")
    list(places = names[seen & !(length(seats) == 2 & is_answer_at_once(game, names))], hidden = unique(names[!seen]))
  })
  of <- function(part) unique(as.character(unlist(lapply(of_seats, `[[`, part))))
  list(places = of("places"), hidden = of("hidden"), draws = draws_not_kept(game))
}

# What two seats answer at once is not seen before both have answered.
is_answer_at_once <- function(game, names) {
  at_once <- names(Filter(function(d) d$together, game$decisions))
  sub("\\[.*", "", names) %in% at_once
}

# Every place: list(name, cell, seen).
places_for <- function(game, program, seat) {
  hides_cards <- FALSE
  of_slot <- lapply(unname(c(program$slot, unlist(unname(program$locals), recursive = FALSE))), function(where) {
    cells <- cells_of_place(program, where)
    owners <- if (is.null(where$axes)) 0L else place_owners(where$axes)
    seen <- vapply(owners, function(owner) is_seen_by(where$seen_by, owner, seat), NA)
    hides_cards <<- hides_cards || (!all(seen) && holds_cards(where$type))
    names <- if (is.null(where$axes)) where$name else names_of_keys(game, where, seat)
    names[is.na(names)] <- where$name
    Map(function(cell, seen, name) list(name = name, cell = cell, seen = seen), cells, seen, names)
  })
  unseen <- lapply(names(program$unseen), function(name) {
    where <- program$unseen[[name]]
    cells <- if (is.null(where$type)) list(cell_of(where$register, where$real)) else cells_of_place(program, where)
    lapply(cells, function(cell) list(name = name, cell = cell, seen = FALSE))
  })
  # What is left in a deck tells what was taken from it.
  decks <- lapply(names(program$deck), function(name) {
    deck <- program$deck[[name]]
    list(name = name, cell = list(ints = deck$base + seq_len(deck$size) - 1L),
         seen = !hides_cards && !burns_cards(game))
  })
  c(unlist(c(of_slot, unseen), recursive = FALSE), decks)
}

holds_cards <- function(type) is_kind(if (is_collection(type)) type$of else type, "card")

burns_cards <- function(game) {
  burns <- FALSE
  walk(game$play, function(n) if (n$op == "burn") burns <<- TRUE)
  burns
}

# The lines where a draw that nothing keeps decides what comes next.
draws_not_kept <- function(game) {
  lines <- integer()
  walk(game$play, function(n) if (n$op %in% c("if", "while")) walk(n$cond, function(part)
    if (part$op %in% c("draw", "collection_roll", "chance", "successes")) lines <<- c(lines, part$at[[1]])))
  sort(unique(lines))
}

# --- what describes a situation -----------------------------------------------------------------

# Texts of expressions by decision: what matters there and is seen, one by one, and sums of it.
situations_to_try <- function(game, program, alive, wanted) {
  two_seats <- length(unique(vapply(wanted, `[[`, 0L, "seat"))) > 1
  texts <- lapply(wanted, function(w) {
    there <- alive_for(program, alive, w$seat, decision_number(game, w$decision))
    matters <- function(where) vapply(cells_of_place(program, where), is_alive, NA, alive = there)
    held <- function(where) any(vapply(cells_of_place(program, where), holds_alive, NA, alive = there))
    of_state <- unlist(lapply(unname(program$slot), function(where) {
      owners <- if (is.null(where$axes)) 0L else place_owners(where$axes)
      seen <- vapply(owners, function(owner) is_seen_by(where$seen_by, owner, w$seat), NA)
      names <- if (is.null(where$axes)) as_expression(game, where$name) else names_of_keys(game, where, w$seat)
      names <- names[matters(where) & seen & !is.na(names) & !(two_seats & is_answer_at_once(game, names))]
      if (!is_collection(where$type)) names
      else if (!held(where)) sprintf("size(%s)", names)
      else c(names, sprintf("size(%s)", names), if (is_kind(where$type$of, "whole")) sprintf("sum(%s)", names))
    }))
    locals <- names(Filter(function(where) any(matters(where)), program$locals[[w$decision]]))
    c(sums_seen(game, w), of_state, locals)
  })
  decisions <- vapply(wanted, `[[`, "", "decision")
  lapply(split(texts, factor(decisions, unique(decisions))), function(of_decision) unique(unlist(of_decision)))
}

# The functions of the rules that tell something of what describes a situation, as texts: f() and f(thing).
functions_to_try <- function(game, texts) {
  functions <- Filter(function(d) identical(d$kind, "function") && length(d$params) <= 1, game$names)
  unlist(lapply(names(functions), function(name)
    if (length(functions[[name]]$params) == 0) sprintf("%s()", name) else sprintf("%s(%s)", name, texts)))
}

# A place as the rules read it.
as_expression <- function(game, name) {
  wallets <- vapply(game$money$wallets, function(wallet) wallet$variable$name, "")
  owner <- match(name, wallets)
  if (is.na(owner)) name else sprintf("wallet(%s)", game$seats[[as.integer(names(game$money$wallets)[[owner]])]])
}

# The question with what describes the situations of its open decisions; of expressions that are not `sure` those that
# can be typed.
with_situations <- function(question, texts, sure, seen_only = FALSE) {
  for (decision in names(texts)) for (text in texts[[decision]]) {
    asked <- if (sure) situation_asked(question, text, decision, seen_only)
      else tryCatch(situation_asked(question, text, decision, seen_only), basanos_error = function(e) NULL)
    if (is.null(asked)) next
    question$situations[[decision]][[text]] <- asked[c("node", "me")]
    question <- counted_too(question, asked$context)
  }
  question
}

decision_number <- function(game, name) match(name, names(game$decisions)) - 1L

# name[me] and name[other] of what each seat has; other places by their keys.
names_of_keys <- function(game, where, seat) {
  if (length(where$axes) == 1 && is_seat_axis(where$axes[[1]])) {
    keys <- where$axes[[1]]$keys
    return(ifelse(keys == seat, sprintf("%s[me]", where$name), sprintf("%s[%s]", where$name, game$seats[keys])))
  }
  rep(NA_character_, length(where$offsets))
}
