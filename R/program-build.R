# From a question to a program: a plain list of vectors, which is all that the engines see.

program_format <- 1L
step_budget <- 1e6
word_budget <- 1e8  # players of word games go through every guess against every secret

# One analysis asks for the same program several times. `...`: see build_program().
program_of <- function(question, ...)
  latest_programs(list(question, ...), function() build_program(question, ...))

latest_programs <- latest(40)

compile_game <- function(game, set = list(), players = list(), mode = NULL, ...)
  program_of(new_question(game, set, players, mode), ...)

# `counting`: for an exact count, which does without what would keep states apart and is only told of a sample.
build_program <- function(question, tracing = FALSE, claims = list(), covering = FALSE, counting = FALSE) {
  heartbeat()
  if (counting) question$game$money$wallets <- lapply(question$game$money$wallets, without_extremes)
  rules <- question$game
  taken <- taken_by(question$settings, rules)
  question$records <- Filter(function(r) is.null(r$seat) || r$seat <= taken, question$records)
  asm <- new_assembler(question)
  asm$tracing <- tracing
  asm$covering <- covering
  asm$claims <- claims
  asm$counting <- counting
  unit <- write_unit(asm)
  write_deferred(asm)
  refuse_short_wallets(asm)
  refuse_met_goals(asm)
  stop_on_diagnostics(asm)
  quantities <- c(lapply(Filter(function(p) !is.null(p$register), unit$pays), `[[`, "register"), unname(unit$records),
                  lapply(unit$ledgers, `[[`, "register"))
  program <- finished_program(asm, quantities, unit$measures)
  program$empty_outcomes <- outcomes_of_empty_seats(rules, seats_taken(asm))
  ends_of_node <- range_finder(asm)
  program$pays <- lapply(unit$pays,
                         function(p)
                           list(seat = rules$seats[[p$seat]], by_outcome = p$by_outcome, stake = stake_of(asm, p$seat),
                                ends = ends_of_pay(asm, p, ends_of_node)))
  program$records <- lapply(question$records, function(r)
    c(list(name = r$name, type = r$node$type$kind, set = r$node$type$set, ends = ends_of_node(r$node)),
      if (is_added(r)) list(added = TRUE)))
  program$ledgers <- lapply(unit$ledgers, `[`, c("kind", "name", "seat", "pair"))
  program$told <- lapply(unit$measures, `[[`, "told")
  program$piece <- rules$money$piece
  program$pots <- lapply(rules$money$pots, function(pot)
    list(name = pot$name, lasts = pot$lasts, seed = write_value(asm, pot$seed)$const))
  program$unit <- program_span(rules)
  program$records_some <- records_some_rounds(question)
  if (!is.null(question$position)) program$required <- required_there(asm)
  program$settings <- settled_settings(rules, question$settings)
  program$modes <- rules$match$modes
  program$players <- stats::setNames(question$players, rules$seats)
  program$hash <- program_hash(program)
  program$lane <- asm$lane$only
  program$recorded_of_unit <- recorded_of_unit(question)
  program$return_range <- lapply(program$ledgers, return_range, rules = rules, of = ends_of_node)
  program$symmetry <- seat_symmetry(asm, unit)
  program$groups <- register_groups(asm)
  if (length(question$open) > 0) program <- c(program, about_open(asm))
  if (covering) program$coverage_points <- asm$coverage
  if (tracing)
    program <- c(program,
                 list(trace_points = asm$trace_points, asks = asm$asks, reasons = unit$reasons,
                      slot = traced_state(asm), arrival = asm$arrived$register))
  with_handle(program)
}

# The widest span that the game declares: one round, or the rounds of a match or a sitting.
write_unit <- function(asm) {
  single <- is.null(asm$rules$match) && is.null(asm$rules$sitting)
  parts <- if (single) write_single_round(asm) else write_rounds(asm)
  if (single && records_some_rounds(asm$question)) write_tally(asm, parts$ledgers)
  emit(asm, "END")
  parts
}

# Code that is rarely needed stands behind the rest.
write_deferred <- function(asm) {
  while (length(asm$deferred) > 0) {
    writers <- asm$deferred
    asm$deferred <- list()
    for (write in writers) write()
  }
}

finished_program <- function(asm, quantities, measures = list()) {
  rows <- function(parts, n) if (length(parts) == 0) matrix(0L, n, 0) else matrix(as.integer(unlist(parts)), nrow = n)
  list(format = program_format, code = assembled(asm), int_start = asm$int_start$all(),
       real_start = asm$real_start$all(),
       arrays = rows(asm$arrays$all(), 4), lists = rows(asm$lists$all(), 2),
       list_arrays = rows(asm$list_arrays$all(), 3), word_start = asm$rules$words$start,
       word_letters = asm$rules$words$letters,
       tables = asm$tables$all(), weights = asm$weights, ranges = matrix(0L, 2, 0),
       sources = asm$sources, outcomes = asm$rules$outcomes$names, outcome_register = asm$outcome_register,
       quantity_register = as.integer(vapply(quantities, `[[`, 0, "register")),
       quantity_real = vapply(quantities, `[[`, NA, "real"),
       measures = as.character(names(measures)),
       unit_quantity_register = as.integer(vapply(measures, `[[`, 0, "register")),
       unit_quantity_real = vapply(measures, function(m) isTRUE(m$real), NA),
       coverage_count = length(asm$coverage), step_budget = if (length(asm$rules$words$texts) > 0) word_budget
         else step_budget, places = rows(asm$places$all(), 4))
}

# The registers of the state and the decks: two rows, first register and number of registers, a column each by name.
register_groups <- function(asm) {
  room <- function(list) asm$lists$get(list + 1L)
  of_variable <- function(part) {
    slot <- slot_of(asm, part$variable)
    if (isTRUE(slot$real)) return(NULL)
    if (!is.null(slot$list_array)) return(c(room(slot$list)[[1]], slot$size * (room(slot$list)[[2]] + 1L)))
    if (!is.null(slot$list)) return(c(room(slot$list)[[1]], room(slot$list)[[2]] + 1L))
    if (!is.null(slot$size)) c(slot$base, slot$size) else c(slot$register, 1L)
  }
  groups <- c(lapply(asm$rules$state, of_variable), lapply(asm$decks, function(d) c(d$base, d$size)))
  names(groups) <- c(vapply(asm$rules$state, `[[`, "", "name"), names(asm$decks))
  groups <- Filter(Negate(is.null), groups)
  matrix(as.integer(unlist(groups)), nrow = 2, dimnames = list(NULL, names(groups)))
}

# Names the game, with its settings and players, in every result: by what the rules mean, not by where in the file
# something stands. The number goes up where the same rules would be named otherwise.
hash_format <- 3L
hashed_fields <- c(
  "arrays", "coverage_count", "format", "int_start", "ledgers", "list_arrays", "lists", "measures", "modes",
  "outcome_register", "outcomes", "pays", "piece", "players", "pots", "quantity_real", "quantity_register", "ranges",
  "real_start", "records", "records_some", "required", "settings", "sources", "step_budget", "tables", "told", "unit",
  "unit_quantity_real", "unit_quantity_register", "weights", "word_letters", "word_start")

program_hash <- function(program) {
  meant <- program[intersect(hashed_fields, names(program))]
  operations <- program$code[1:5, , drop = FALSE]  # the sixth row is the place in the file
  named <- list(hash_format, operations, meant[order(names(meant))])
  substr(digest::digest(named, algo = "sha256", serializeVersion = 2L), 1, 16)
}

# The program with a place for its handle. What is changed in a program later needs a place of its own.
with_handle <- function(program) {
  attr(program, "handle") <- new.env(parent = emptyenv())
  program
}

# The program of one lane alone.
in_lane <- function(program, lane) {
  program$int_start[[program$lane + 1L]] <- as.integer(lane)
  with_handle(program)
}
