# The two engines, on the same program. Both give a tally: a plain list of counts or weights.

run_sample <- function(rules, program, rounds, seed, threads, first = 1, progress = NULL) {
  check_rounds(rounds)
  check_rounds(first, "first")
  check_seed(seed)
  check_threads(threads)
  native <- native_offer(program)
  on.exit(native$cancel())
  run <- polled(rounds, "rounds", progress, function(tick)
    core_sample(loaded(program), seed, first, first + rounds - 1, as.integer(threads), tick, native$offer))
  checked_run(rules, program, run, seed, rounds)
}

# Units from the position of the program on, once in each of `lanes` or once where there are none: a list of their
# counts, each with `share`, that of the units which come there; of matches and sittings also `rounds_in_all`, the
# rounds of a unit on average, still to be found. NULL where the ways to it are too many to be followed.
run_from_position <- function(rules, program, rounds, seed, progress = NULL, lanes = integer()) {
  run <- polled(rounds * max(1, length(lanes)), "rounds", progress, function(tick)
    core_from_position(loaded(program), seed, 1, rounds, tick, program$required, lanes))
  there <- function(counts) c(counts, list(share = run$share), if (program$unit != "round") list(rounds_in_all = NA))
  so_far <- function(stop) if (!is.null(stop$counts)) list(counts = there(stop$counts))
  if (run$complete) lapply(run$played, function(played)
    with_part_result(there(checked_run(rules, program, played, seed, rounds)), so_far))
}

# The counts of a run, or the diagnostic that stopped it.
checked_run <- function(rules, program, run, seed, rounds) {
  if (run$failure$fail > 0) stop_on_failed_unit(rules, program, run$failure, run$failed_unit, seed)
  counts <- run[c("units", "rounds", "outcomes", "quantities", "unit_quantities", "squared_rounds", "ss", "sn")]
  if (run$stopped) stop_with_counts(run$units, rounds, units_in_words(program$unit), counts)
  counts
}

stop_on_failed_unit <- function(rules, program, failure, unit, seed) {
  where <- sprintf("Seen in %s %s of seed %s.", program$unit, whole_text(unit), plain_number(seed))
  stop_with_diagnostics(list(failure_diagnostic(rules, program, failure, where)), rules$source, unit = unit,
                        seed = seed)
}

# Ctrl-C, or the limit of time, within a run. `counts` is what was counted until then.
stop_with_counts <- function(done, all, units, counts = NULL, ...) {
  of_all <- if (is.null(all)) "" else sprintf(" of %s", whole_text(all))
  signal_stop(sprintf("%s%s %s", whole_text(done), of_all, units), counts = if (done > 0) counts, ...)
}

# The result of exact: list(end, states, limit, outcomes, ...); stops on a round that cannot go on, and on Ctrl-C.
run_exact <- function(rules, program, max_states, max_steps = 1e18, max_seconds = 1e300, max_frontier = 0,
                      progress = NULL) {
  run <- polled(max_states, "states", progress, function(tick)
    core_exact(loaded(program), max_states, tick, max_steps, max_seconds, program$groups, max_frontier))
  tell_what_was_saved(run)
  if (run$end == exact_ends[["failed"]]) stop_on_failure(rules, program, run)
  if (run$end == exact_ends[["stopped"]]) stop_with_counts(run$states, NULL, "states", exact_counts(run))
  run$complete <- run$end == exact_ends[["done"]]
  run
}

tell_what_was_saved <- function(run) {
  if (verbosity() != "verbose") return(invisible())
  if (run$kinds[["from"]] > 0)
    tell_progress(sprintf("  %d kinds of cards are counted as %d: nothing that the rules read tells the others apart.",
                          run$kinds[["from"]], run$kinds[["to"]]))
  if (run$sums > 0)
    tell_progress(sprintf("  %s that only %s on the way %s not kept in the states, but counted beside them.",
                          count_text(run$sums, "sum"), if (run$sums == 1) "grows" else "grow",
                          if (run$sums == 1) "is" else "are"))
  if (run$deferred > 0)
    tell_progress(sprintf("  The values of %s are counted together, until the rules read what was drawn.",
                          count_text(run$deferred, "draw")))
}

# `counted`: all of the run, or one of its lanes.
exact_counts <- function(run, counted = run) {
  c(list(units = 1), counted[c("rounds", "outcomes", "quantities", "unit_quantities")], run[c("residual", "states")],
    list(limit = if (run$end == exact_ends[["stopped"]]) "stopped" else run$limit))
}

# As the core numbers them.
exact_ends <- c(done = 0L, failed = 1L, too_large = 2L, stopped = 3L)

stop_on_failure <- function(rules, program, run) {
  how_often <- if (run$failure_weight > 0)
    sprintf("A round gets there with probability %.3g or more.", run$failure_weight)
    else "Some rounds get there."
  abort_diagnostics(list(failure_diagnostic(rules, program, run$failure, how_often)), rules$source)
}

# Counting as far as takes no more than a second or so, by states and steps: the same on any machine.
quick_states <- 1.5e5

quick_steps <- 2e7

run_exact_quickly <- function(rules, program) {
  run_exact(rules, program, quick_states, quick_steps, max_frontier = 4 * quick_states)
}

# Unit by unit: list(rows, steps); see core_units().
run_units <- function(rules, program, seed, first, last, progress = NULL) {
  run <- polled(last - first + 1, "rounds", progress, function(tick)
    core_units(loaded(program), seed, first, last, tick))
  if (run$failure$fail > 0) stop_on_failed_unit(rules, program, run$failure, first + nrow(run$rows), seed)
  if (run$stopped) stop_with_counts(nrow(run$rows), last - first + 1, units_in_words(program$unit), rows = run$rows)
  run
}

# Plays one unit in the core with forced draws and answers: `script` has draws, answers, answered, asks.
play_script <- function(program, script, stop_when_out = FALSE, closing = 0L) {
  decisions <- vapply(script$asks, `[[`, 1L, "decision")
  several <- vapply(script$asks, function(a) a$how == "subsets", NA)
  answered <- as.logical(script$answered)
  core_script(loaded(program), script$draws, as.list(script$answers), answered, as.integer(decisions),
              as.logical(several), stop_when_out, closing)
}

script_ends <- c("done", "failed", "out_of_draws", "out_of_answers", "impossible_draw")

# The diagnostic behind a failure that the core reports: list(fail, info, at).
failure_diagnostic <- function(rules, program, failure, where = NULL) {
  id <- names(failures)[[failure$fail]]
  said <- failures[[id]]
  message <- said[[1]]
  if (id == "illegal_answer" && failure$info > 0) {
    seat <- rules$seats[[failure$info %% seats_limit]]
    decision <- names(rules$decisions)[[failure$info %/% seats_limit + 1L]]
    player <- program$players[[seat]]
    message <- sprintf("`%s` answers `%s` with what is not among the choices (player `%s`).", seat, decision, player)
  }
  diagnostic(id, paste(c(message, where), collapse = " "), said[[2]], program$places[, failure$at + 1L])
}

# A program is loaded into the core once, and optimised there; every call of a command hands on the same handle. The
# handle is kept beside the program, not in it: a program stays plain vectors, and is loaded anew in another session.

# The handle of a program, or the program itself where it has no place for one.
loaded <- function(program) {
  handle <- attr(program, "handle")
  if (is.null(handle)) return(program)
  if (!core_is_loaded(handle$core)) {
    attr(program, "handle") <- NULL
    handle$core <- core_load(program)
  }
  handle$core
}
