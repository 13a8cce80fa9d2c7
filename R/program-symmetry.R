# Are all seats alike: does the game go on from a position, with every seat one further, as it goes on from the
# position itself, with every seat one further? Then the exact engine goes into only one of such positions. That is so
# where the rules name no seat, and use nothing that takes the seats in their order; the words that may stand there are
# listed, so that a new word is taken for one that may not until it has been thought about.

symmetric_words <- c("lit", "setting", "var", "to_fraction", "calc", "choose", "at_key", "cell", "slice",
                     "at_position", "let", "do",
                     "lookup", "lookup2", "counter", "turn_number", "playing", "fail",
  "deck_size", "deal", "deal_to", "burn", "shuffle", "move", "put", "remove", "has_letter", "compare", "marks_seen",
  "size", "show", "collection_same", "collection_part", "collection_run", "collection_roll", "collection_of",
  "collection_groups", "collection_common", "collection_highest", "collection_join", "collection_repeat",
  "collection_filter", "collection_map", "collection_mask", "collection_letters", "collection_has",
  "range", "choices", "text", "say", "best_item", "fold", "neighbour", "place_of", "who", "leader", "draw", "chance",
  "successes",
  "pick_choices", "prefer",
  "seq", "effect", "assign", "if", "while", "repeat", "for_range", "for_items", "turns", "break", "next", "return",
  "end_round", "ask", "skip_next", "again", "reverse", "out")

# Seats are the labels that come first, whatever set of answers they stand in.
is_seat <- function(type, seats)
  identical(type$kind, "label") && (identical(type$set, "seats") || any(type$members %in% seq_len(seats)))

holds_seats <- function(type, seats) !is.null(type) && (is_seat(type, seats) || holds_seats(type$of, seats))

# NULL where they are not, or where that is not sure; else what the core needs: see AlikeSeats there.
seat_symmetry <- function(asm, unit) {
  rules <- asm$rules
  n <- seats_taken(asm)
  if (n < 2 || rules$bettors > 0 || program_span(rules) != "round" || !is.null(asm$question$position) ||
      length(asm$claims) > 0 || asm$tracing || asm$covering) return(NULL)
  if (any(vapply(unit$pays, function(p) !is.null(p$register), NA)) || !symmetric_players(asm, n) ||
      !symmetric_rules(asm, n)) return(NULL)
  seats <- length(rules$seats)
  variables <- lapply(ls(asm$vars), function(key) list(type = asm$var_types[[key]], slot = asm$vars[[key]]))
  by_seat <- function(v) is_by_seat(v$type)
  if (any(vapply(variables, function(v) !by_seat(v) && any(vapply(v$type$axes, is_seat_axis, NA)), NA))) return(NULL)
  if (any(vapply(variables, function(v) holds_seats(v$type, seats) && !is_seat(v$type, seats), NA))) return(NULL)
  each <- Filter(by_seat, variables)
  cells_of <- function(slot) if (!is.null(slot$size) && is.null(slot$list_array)) slot$base + seq_len(slot$size) - 1L
    else slot$register
  lists_of <- function(slot) if (!is.null(slot$list_array)) slot$list + seq_len(slot$size) - 1L else slot$list
  wholes <- function(vs) Filter(function(v) !isTRUE(v$slot$real), vs)
  plain <- Filter(function(v) !by_seat(v) && !is_seat(v$type, seats), variables)
  empty <- function(first, slot) first + seq_len(slot$size)[-seq_len(n)] - 1L  # of seats that nobody takes
  decks <- lapply(asm$decks, function(d) d$base + seq_len(d$size) - 1L)
  numbers <- function(x) as.integer(unlist(x))
  list(count = as.integer(n),
       arrays = numbers(c(lapply(Filter(function(v) is.null(v$slot$list_array), wholes(each)), function(v) v$slot$base),
                          list(asm$out_array$base, asm$turn_array$base, asm$turn_arrays))),
       list_arrays = numbers(lapply(Filter(function(v) !is.null(v$slot$list_array), each), function(v) v$slot$list)),
       registers = numbers(lapply(Filter(function(v) is_seat(v$type, seats), variables), function(v) v$slot$register)),
       plain_registers = numbers(c(lapply(wholes(plain), function(v) cells_of(v$slot)),
                                   lapply(wholes(each),
                                          function(v) if (is.null(v$slot$list_array)) empty(v$slot$base, v$slot)),
                                          asm$plain, decks, lapply(asm$counters, `[[`, "register"))),
       plain_lists = numbers(c(lapply(plain, function(v) lists_of(v$slot)),
                               lapply(each, function(v) if (!is.null(v$slot$list_array)) empty(v$slot$list, v$slot)))),
       outcomes = outcomes_rotated(rules$outcomes, n))
}

# One player for all, and settings for each seat that are one number.
symmetric_players <- function(asm, n) {
  players <- asm$players[seq_len(n)]
  by_seat <- grep("[", names(asm$settings), fixed = TRUE, value = TRUE)
  same_settings <- vapply(split(by_seat, sub("\\[.*", "", by_seat)),
                          function(names) length(unique(unlist(asm$settings[names]))) == 1, NA)
  length(unique(players)) == 1 && !any(is_mix(players)) && !any(slips(players)) && all(same_settings)
}

# The declarations of the rules as played, without anything else.
symmetric_rules <- function(asm, n) {
  rules <- asm$rules
  seats <- length(rules$seats)
  played <- lapply(rules$decisions, function(d) if (!is.na(asm$players[[1]])) d$rules[[rule_of(asm$players[[1]])]]$body)
  read <- list(rules$play, rules$outcomes$entries, asm$question$records, played, lapply(rules$state, `[[`, "start"))
  symmetry <- TRUE
  over_seats <- folded <- 0
  walk(read, function(node) {
    if (node$op == "seats") over_seats <<- over_seats + 1
    else if (!is_symmetric_word(node, n, seats)) symmetry <<- FALSE
    if (identical(node$over$op, "seats")) folded <<- folded + 1
  })
  for (d in rules$decisions) if (holds_seats(d$type, seats) || !all(seq_len(n) %in% d$asked)) symmetry <- FALSE
  for (told in c(asm$question$records, Filter(function(e) e$how != "seat", rules$outcomes$entries)))
    if (holds_seats(told$node$type, seats)) symmetry <- FALSE
  symmetry && over_seats == folded
}

is_symmetric_word <- function(node, n, seats) {
  if (!node$op %in% symmetric_words) return(FALSE)
  switch(node$op,
    lit = !(is_kind(node$type, "label") && node$value >= 1 && node$value <= seats),
    lookup = !is_seat(node$x$type, seats),
    counter = !is_seat(node$type, seats),
    calc = node$fn != "other" || n == 2,
    at_position = , for_items = , collection_of = , collection_filter = , collection_map = ,
    collection_join = !holds_seats(node$type, seats) && !holds_seats(node$over$type, seats),
    fold = !is_real(node$type) && !is_seat(node$type, seats),
    best_item = !is_seat(node$it$type, seats),
    turns = is.null(node$from),
    TRUE)
}

# The rotation of each outcome by one seat.
outcomes_rotated <- function(outcomes, n) {
  turned <- seq_along(outcomes$names)
  for (e in outcomes$entries) if (e$how == "seat") turned[e$first + seq_len(n) - 1L] <- e$first + seq_len(n) %% n
  as.integer(turned)
}
