# From checked rules, settings and players to a program: a plain list of vectors, which is all that
# the engines see.

program_format <- 1L
step_budget <- 1e6

# `settings` and `players` as resolved by resolve_settings() and resolve_players().
build_program <- function(rules, settings, players) {
  em <- new_assembler(rules, settings)
  em$players <- players
  write_round(em)
  pays <- write_pays(em)
  records <- write_records(em)
  emit(em, "END")
  write_deferred(em)
  stop_on_problems(em)
  quantities <- c(lapply(Filter(function(p) !is.null(p$cell), pays), `[[`, "cell"), unname(records))
  program <- finished_program(em, quantities)
  program$pays <- lapply(pays, function(p) list(seat = rules$seats[[p$seat]], by_outcome = p$by_outcome, stake = stake_of(em, p$seat)))
  program$records <- lapply(rules$records, function(r) list(name = r$name, type = r$node$type$kind))
  program$settings <- settings
  program$players <- stats::setNames(players, rules$seats)
  program$hash <- program_hash(program)
  program
}

# From the start of what is remembered to the outcome.
write_round <- function(em) {
  write_starts(em)
  em$round_end <- new_label(em)
  write_statement(em, em$rules$play)
  put_label(em, em$round_end)
  write_outcome(em)
}

# Everything as it is before play: answers not given, what is remembered at its start.
write_starts <- function(em) {
  rules <- em$rules
  em$outcome_cell <- new_int(em)
  for (d in rules$decisions) {
    lies <- place_variable(em, d$variable)
    for (cell in if (d$together) lies$base + seq_len(lies$size) - 1L else lies$cell) emit(em, "MOV", cell, int_const(em, 0L))
  }
  for (part in rules$state) if (part$lasts == "round") write_start(em, part) else place_state(em, part)
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

finished_program <- function(em, quantities) {
  rows <- function(parts, n) if (length(parts) == 0) matrix(0L, n, 0) else matrix(as.integer(unlist(parts)), nrow = n)
  list(format = program_format, code = assembled(em), int_start = em$int_start, real_start = em$real_start,
       arrays = rows(em$arrays, 4), lists = rows(em$lists, 2), tables = em$tables, weights = em$weights, ranges = matrix(0L, 2, 0),
       sources = em$sources, outcomes = em$rules$outcomes$names, outcome_cell = em$outcome_cell,
       quantity_cell = as.integer(vapply(quantities, `[[`, 0, "cell")), quantity_real = vapply(quantities, `[[`, NA, "real"),
       step_budget = step_budget, places = rows(em$places, 4))
}

# Names the game, with its settings and players, in every result.
program_hash <- function(program) {
  text <- jsonlite::toJSON(program, digits = NA, auto_unbox = TRUE)
  substr(digest::digest(as.character(text), algo = "sha256", serialize = FALSE), 1, 16)
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
