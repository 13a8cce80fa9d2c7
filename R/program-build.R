# From checked rules, settings and players to a program: a plain list of vectors, which is all that
# the engines see.

program_format <- 1L
step_budget <- 1e6
word_budget <- 1e8  # players of word games go through every guess against every secret

# `settings` and `players` as resolved by resolve_settings() and resolve_players().
build_program <- function(rules, settings, players, watching = FALSE, claims = list(), noting = FALSE) {
  em <- new_assembler(rules, settings)
  em$players <- players
  em$watching <- watching
  em$noting <- noting
  em$claims <- claims
  unit <- write_unit(em)
  write_deferred(em)
  stop_on_problems(em)
  quantities <- c(lapply(Filter(function(p) !is.null(p$cell), unit$pays), `[[`, "cell"), unname(unit$records))
  program <- finished_program(em, quantities, unit$measures)
  program$empty_outcomes <- outcomes_of_empty_seats(rules, seats_taken(em))
  ends_of_node <- range_finder(em)
  program$pays <- lapply(unit$pays, function(p) list(seat = rules$seats[[p$seat]], by_outcome = p$by_outcome, stake = stake_of(em, p$seat), ends = ends_of_pay(em, p, ends_of_node)))
  program$records <- lapply(rules$records, function(r) list(name = r$name, type = r$node$type$kind, set = r$node$type$set, ends = ends_of_node(r$node)))
  program$unit <- program_span(rules)
  program$tells_some <- tells_some_rounds(rules)
  program$settings <- settled_settings(rules, settings)
  program$modes <- rules$match$modes
  program$players <- stats::setNames(players, rules$seats)
  program$hash <- program_hash(program)
  program$alike <- alike_seats(em, unit)
  program$groups <- cell_groups(em)
  if (noting) program$noted_places <- em$notes
  if (watching) program <- c(program, list(marks = em$marks, asks = em$asks, reasons = unit$reasons, lies = watched_state(em)))
  with_handle(program)
}

# The widest span that the game declares: one round, or the rounds of a match or a sitting.
write_unit <- function(em) {
  single <- is.null(em$rules$match) && is.null(em$rules$sitting)
  parts <- if (single) write_single_round(em) else write_rounds(em)
  if (single && tells_some_rounds(em$rules)) write_tally(em)
  emit(em, "END")
  parts
}

# One round from the very start, also of a game that goes over several.
write_single_round <- function(em) {
  write_wide_starts(em)
  write_round(em)
}

# What is there before the first round.
write_wide_starts <- function(em) {
  write_unit_start(em)
  write_starts(em, "match")
}

write_unit_start <- function(em) {
  em$outcome_cell <- new_int(em)
  write_seated(em)
  write_starts(em, "sitting")
}

# For values alone, without a round.
write_all_starts <- function(em) {
  write_wide_starts(em)
  write_starts(em, "round")
  for (part in em$rules$state) if (part$lasts == "turn") write_start(em, part)
}

# From the start of what lasts a round to its outcome, pays and records.
write_round <- function(em) {
  write_starts(em, "round")
  em$round_end <- new_label(em)
  write_statement(em, em$rules$play)
  put_label(em, em$round_end)
  write_outcome(em)
  write_claims(em, "end")
  reasons <- if (em$watching) write_reasons(em)
  pays <- write_pays(em)
  list(pays = pays, records = write_records(em), reasons = reasons)
}

# Everything of one lifetime as it is at its start.
write_starts <- function(em, lasts) {
  rules <- em$rules
  for (d in decks_lasting(rules, lasts)) write_full_deck(em, d$name)
  for (part in rules$state) if (part$lasts == lasts) write_start(em, part)
  if (lasts == "match") for (decision in names(rules$past)) if (remembers(em, decision)) start_past(em, rules$past[[decision]])
  if (lasts != "round") return(invisible())
  for (part in rules$state) if (part$lasts == "turn") place_state(em, part)
  for (d in rules$decisions) start_decision(em, d)
  if (!is.null(rules$position)) move(em, arrived_cell(em), fixed_operand(0, t_whole))
  for (name in em$counted) move(em, counter_cell(em, name), fixed_operand(0, t_whole))
  start_seat_cells(em)
  write_claims_turn(em)
}

decks_lasting <- function(rules, lasts) Filter(function(d) d$kind == "deck" && d$lasts == lasts, rules$names)

start_past <- function(em, variable) {
  lies <- place_variable(em, variable, past_room)
  for (k in seq_len(lies$size)) emit(em, "LCLEAR", lies$list + k - 1L)
}

# Answers are not given yet.
start_decision <- function(em, d) {
  lies <- place_answer(em, d)
  if (is_pool(d$type)) emit(em, "LCLEAR", lies$list)
  else if (is_real(d$type)) move(em, lies, fixed_operand(0, t_fraction))
  else for (cell in if (d$together) lies$base + seq_len(lies$size) - 1L else lies$cell) emit(em, "MOV", cell, int_const(em, 0L))
  if (!is.null(d$passed)) move(em, place_variable(em, d$passed), fixed_operand(0, t_whole))
}

# Code that is rarely needed stands behind the rest.
write_deferred <- function(em) {
  while (length(em$deferred) > 0) {
    writers <- em$deferred
    em$deferred <- list()
    for (write in writers) write()
  }
}

stop_on_problems <- function(em) {
  if (length(em$problems) > 0) abort_problems(sort_problems(em$problems), em$rules$source)
}

finished_program <- function(em, quantities, measures = list()) {
  rows <- function(parts, n) if (length(parts) == 0) matrix(0L, n, 0) else matrix(as.integer(unlist(parts)), nrow = n)
  list(format = program_format, code = assembled(em), int_start = em$int_start$all(), real_start = em$real_start$all(),
       arrays = rows(em$arrays$all(), 4), lists = rows(em$lists$all(), 2), families = rows(em$families$all(), 3), word_start = em$rules$words$start, word_letters = em$rules$words$letters,
       tables = em$tables$all(), weights = em$weights, ranges = matrix(0L, 2, 0),
       sources = em$sources, outcomes = em$rules$outcomes$names, outcome_cell = em$outcome_cell,
       quantity_cell = as.integer(vapply(quantities, `[[`, 0, "cell")), quantity_real = vapply(quantities, `[[`, NA, "real"),
       measures = as.character(names(measures)), unit_quantity_cell = as.integer(vapply(measures, `[[`, 0, "cell")), unit_quantity_real = rep(FALSE, length(measures)),
       notes = length(em$notes), step_budget = if (length(em$rules$words$texts) > 0) word_budget else step_budget, places = rows(em$places$all(), 4))
}

# Where what is remembered and the decks lie: two rows, first cell and number of cells, a column each by name.
cell_groups <- function(em) {
  room <- function(list) em$lists$get(list + 1L)
  of_variable <- function(part) {
    lies <- place_variable(em, part$variable)
    if (isTRUE(lies$real)) return(NULL)
    if (!is.null(lies$family)) return(c(room(lies$list)[[1]], lies$size * (room(lies$list)[[2]] + 1L)))
    if (!is.null(lies$list)) return(c(room(lies$list)[[1]], room(lies$list)[[2]] + 1L))
    if (!is.null(lies$size)) c(lies$base, lies$size) else c(lies$cell, 1L)
  }
  groups <- c(lapply(em$rules$state, of_variable), lapply(em$decks, function(d) c(d$base, d$size)))
  names(groups) <- c(vapply(em$rules$state, `[[`, "", "name"), names(em$decks))
  groups <- Filter(Negate(is.null), groups)
  matrix(as.integer(unlist(groups)), nrow = 2, dimnames = list(NULL, names(groups)))
}

# Names the game, with its settings and players, in every result: by what the rules mean, not by where in the file
# something stands. The number goes up where the same rules would be named otherwise.
hash_format <- 2L

program_hash <- function(program) {
  meant <- program[setdiff(names(program), c("code", "places", "hash", "empty_outcomes"))]
  operations <- program$code[1:5, , drop = FALSE]  # the sixth row is the place in the file
  named <- list(hash_format, operations, meant[order(names(meant))])
  substr(digest::digest(named, algo = "sha256", serializeVersion = 2L), 1, 16)
}

stake_of <- function(em, seat) {
  stake <- 0
  for (s in em$rules$stakes) {
    if (s$who$how == "everyone" || s$who$seat == seat) {
      amount <- write_value(em, s$amount)$const
      if (amount <= 0) {
        program_problem(em, "stake_wrong", s$at, "A stake must be above zero.", "leave stakes out where nothing is put in")
        stop_on_problems(em)
      }
      stake <- stake + amount
    }
  }
  if (stake > 0) stake else 1
}

# The program with a place for its handle. What is changed in a program later needs a place of its own.
with_handle <- function(program) {
  attr(program, "handle") <- new.env(parent = emptyenv())
  program
}
