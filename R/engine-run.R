# The two engines, on the same program. Both give a tally: a plain list of counts or weights.

max_rounds <- 1e10

whole_number <- function(x) is.numeric(x) && length(x) == 1 && is.finite(x) && x == floor(x)

check_rounds <- function(rounds, what = "rounds") {
  if (!whole_number(rounds) || rounds < 1 || rounds > max_rounds) {
    abort_input("rounds_wrong", sprintf("`%s` must be a whole number from 1 to 10 000 000 000, not %s.", what, format_given(rounds)), "a million rounds take about a second: write 1e6")
  }
}

check_seed <- function(seed) {
  if (!whole_number(seed) || seed < 0 || seed > 2^53) {
    abort_input("seed_wrong", sprintf("`seed` must be a whole number from 0 to 2^53, not %s.", format_given(seed)), "write any number you like, as in 7")
  }
}

check_threads <- function(threads) {
  if (!whole_number(threads) || threads < 1 || threads > 256) {
    abort_input("threads_wrong", sprintf("`threads` must be a whole number from 1 to 256, not %s.", format_given(threads)), "write 1, or the number of cores")
  }
}

format_given <- function(x) {
  if (is.character(x) && length(x) == 1) return(sprintf("\"%s\"", x))
  if (length(x) != 1) return(sprintf("%d values", length(x)))
  format(x, digits = 15)
}

run_sample <- function(rules, program, rounds, seed, threads, first = 1, progress = NULL) {
  check_rounds(rounds)
  check_rounds(first, "first")
  check_seed(seed)
  check_threads(threads)
  checked_run(rules, program, core_sample(program, seed, first, first + rounds - 1, as.integer(threads), progress, compiled_if_worth(program)), seed, rounds)
}

# The counts of a run, or the problem that stopped it.
checked_run <- function(rules, program, run, seed, rounds) {
  if (run$failure$fail > 0) {
    where <- sprintf("Seen in %s %s of seed %s.", program$unit, format(run$failed_unit, big.mark = " ", scientific = FALSE), format(seed, scientific = FALSE))
    abort_problems(list(failure_problem(rules, program, run$failure, where)), rules$source)
  }
  if (run$stopped) abort_input("stopped", sprintf("Stopped after %s of %s rounds; nothing was written.", format(run$units, big.mark = " ", scientific = FALSE), format(rounds, big.mark = " ", scientific = FALSE)))
  run[c("units", "rounds", "outcomes", "quantities", "unit_quantities", "squared_rounds", "ss", "sn")]
}
