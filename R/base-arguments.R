# Checks of what callers give, shared by all functions.

max_rounds <- 1e10
whole_number <- function(x) is.numeric(x) && length(x) == 1 && is.finite(x) && x == floor(x)

check_rounds <- function(rounds, what = "rounds") {
  if (whole_number(rounds) && rounds >= 1 && rounds <= max_rounds) return(invisible())
  abort_input("rounds_wrong",
              sprintf("`%s` must be a whole number from 1 to %s, not %s.", what, whole_text(max_rounds),
                      given_text(rounds)),
              "a million rounds take about a second: write 1e6")
}

check_seed <- function(seed) {
  if (whole_number(seed) && seed >= 0 && seed <= 2^53) return(invisible())
  abort_input("seed_wrong", sprintf("`seed` must be a whole number from 0 to 2^53, not %s.", given_text(seed)),
              "write any number you like, as in 7")
}

# The seed, checked; of NULL one of R's own random numbers, so that set.seed() decides.
given_seed <- function(seed) {
  if (is.null(seed)) return(sample.int(.Machine$integer.max, 1))
  check_seed(seed)
  seed
}

check_threads <- function(threads) {
  if (whole_number(threads) && threads >= 1 && threads <= 256) return(invisible())
  abort_input("threads_wrong", sprintf("`threads` must be a whole number from 1 to 256, not %s.", given_text(threads)),
              "write 1, or the number of cores")
}

# A whole number from 1 to `most`, or an error that names the argument `what`.
check_count <- function(x, what, most, hint) {
  if (whole_number(x) && x >= 1 && x <= most) return(invisible())
  abort_input("argument_wrong",
              sprintf("`%s` must be a whole number from 1 to %s, not %s.", what, whole_text(most), given_text(x)), hint)
}

check_limits <- function(max_states, max_seconds) {
  if (!whole_number(max_states) || max_states < 1) {
    abort_input("argument_wrong",
                sprintf("`max_states` must be a whole number above zero, not %s.", given_text(max_states)),
                "write 5e6, or leave it out")
  }
  if (!is.numeric(max_seconds) || length(max_seconds) != 1 || is.na(max_seconds) || max_seconds <= 0) {
    abort_input("argument_wrong",
                sprintf("`max_seconds` must be a number above zero, not %s.", given_text(max_seconds)),
                "write 60, or leave it out")
  }
}

# The value given, as a message shows it.
given_text <- function(x) {
  if (is.character(x) && length(x) == 1) return(sprintf("\"%s\"", x))
  if (length(x) != 1) return(sprintf("%d values", length(x)))
  format(x, digits = 15)
}

one_of_names <- function(given, allowed, id, what) {
  if (is.character(given) && length(given) == 1 && given %in% allowed) return(given)
  near <- did_you_mean(format(given)[[1]], allowed)
  abort_input(id, sprintf("`%s` must be one of %s, not %s.", what, some_of_names(allowed), given_text(given)),
              if (is.null(near)) sprintf("write %s", allowed[[1]]) else near)
}

one_text <- function(x, what) {
  if (is.character(x) && length(x) == 1 && !is.na(x)) return(x)
  abort_input("argument_wrong", sprintf("`%s` must be one text.", what),
              "write it in quotes, as in \"score[left] > 8\"")
}

need_package <- function(package, does) {
  if (requireNamespace(package, quietly = TRUE)) return(invisible())
  abort_input("package_needed", sprintf("The package %s %s, and is not installed.", package, does),
              sprintf("install.packages(\"%s\")", package))
}

# A list or vector in which each value has its name.
named_list <- function(x, what, example) {
  x <- as.list(x)
  twice <- names(x)[duplicated(names(x)) & nzchar(names(x))]
  if (length(twice) > 0)
    abort_input("argument_wrong", sprintf("`%s` gives `%s` twice.", what, twice[[1]]), "keep one")
  if (length(x) == 0 || (!is.null(names(x)) && all(nzchar(names(x))))) return(x)
  abort_input("argument_wrong", sprintf("`%s` needs a name for each value.", what), paste("write", example))
}

# Expressions of the rules are texts: one that is written without quotes is R code, and fails in the call.
check_quoted <- function(names, frame = parent.frame()) {
  for (name in names) {
    written <- eval(call("substitute", as.name(name)), frame)
    tryCatch(get(name, envir = frame), error = function(e) {
      if (inherits(e, "basanos_error") || !is.language(written)) stop(e)
      said <- paste(deparse(written), collapse = " ")
      abort_input("argument_wrong", sprintf("`%s` is an expression of the rules, written as a text.", name),
                  sprintf("put it in quotes: %s = \"%s\"", name, gsub("\"", "'", said)))
    })
  }
}
