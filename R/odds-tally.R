#' Play units of a game and keep the tally
#'
#' A tally holds counts only, so tallies of different unit numbers merge exactly: a run in shards
#' gives the same odds, to the last digit, as one run.
#'
#' @param game A game: see [game()].
#' @param rounds How many units to play, a whole number from 1 to 1e10.
#' @param seed A whole number from 0 to 2^53: the same seed gives the same rounds. `NULL` draws one by R's own random
#'   numbers, so that `set.seed()` decides; the result has it.
#' @param first The number of the first unit to play.
#' @param threads How many threads; results do not depend on it.
#' @param set Settings to change, as a named list.
#' @param players Players by seat, as a named list of names; several by chance with their weights, as in
#'   `list(guest = "careful:3, bold:1")`: who sits there is drawn anew for each unit. `"careful~0.1"` slips: at each
#'   decision, with that chance, it gives a random legal answer.
#' @param mode The name of a mode, a bundle of settings that the rules declare.
#' @param shards `NULL`, or into how many shards the run is cut, from 1 to 10 000. The plan of the future package plays
#'   them: one after the other unless a plan is set, as `future::plan("multisession")` or one of a cluster. The tally is
#'   that of one run, to the last bit.
#' @param tries How often a shard whose worker is lost is played again before the run gives up.
#' @param progress Show a progress bar? By default on a terminal only.
#' @return An object of class `basanos_tally`.
#' @section Compiling: A run that has gone on for a tenth of a second and has enough before it is printed as C, built
#'   with the compiler R was set up with, and goes on so: the same rounds, to the last bit. Where that cannot be done it
#'   goes on as it is; `options(basanos.compile = FALSE)` keeps it from trying.
#' @section Errors: `rounds_wrong`, `seed_wrong`, `threads_wrong`, `package_needed`, `shard_lost`, those of settings and
#'   players, and the ids of rounds that cannot go on, such as `loop_endless`.
#' @export
#' @examples
#' one <- sample_tally("tide-signs", 1000)
#' two <- sample_tally("tide-signs", 1000, first = 1001)
#' as_odds(merge_tallies(one, two))
sample_tally <- function(game, rounds = 1e6, set = list(), players = list(), mode = NULL, seed = 1, threads = 1,
                         first = 1, shards = NULL, tries = 3, progress = NULL) {
  game <- game_with(game, set)
  check_rounds(rounds)
  seed <- given_seed(seed)
  check_threads(threads)
  question <- new_question(game, set, players, mode)
  program <- program_of(question)
  if (!is.null(shards)) return(tally_in_shards(question, program, c(first, first + rounds - 1), seed, threads, shards,
                                               tries))
  counts <- with_progress(rounds, "rounds", progress,
                          function(tick) run_sample(game, program, rounds, seed, threads, first, tick))
  new_tally(question, program, "sample", counts, seed = seed, spans = list(c(first, first + rounds - 1)))
}

#' @rdname sample_tally
#' @param ... Tallies of the same game, settings, players and seed that have no unit in common.
#' @return `merge_tallies()`: the tally of all of them.
#' @export
merge_tallies <- function(...) {
  tallies <- list(...)
  if (length(tallies) == 0 || !all(vapply(tallies, inherits, NA, "basanos_tally")))
    abort_input("argument_wrong", "`merge_tallies()` takes tallies, as sample_tally() gives them.")
  Reduce(merge_two, tallies)
}

merge_two <- function(a, b) {
  if (a$program$hash != b$program$hash || !identical(a$seed, b$seed) || a$engine != "sample" || b$engine != "sample") {
    abort_input("tallies_differ", "These tallies are not of the same game, settings, players and seed.",
                "merge only shards of one run")
  }
  spans <- c(a$spans, b$spans)
  spans <- spans[order(vapply(spans, `[[`, 0, 1))]
  starts <- vapply(spans, `[[`, 0, 1)
  ends <- vapply(spans, `[[`, 0, 2)
  if (any(starts[-1] <= ends[-length(ends)]))
    abort_input("tallies_differ", "These tallies have played some of the same units.",
                "give each shard a `first` of its own")
  a$spans <- spans
  for (sum in c("units", "rounds", "outcomes", "squared_rounds", "ss", "sn"))
    a$counts[[sum]] <- a$counts[[sum]] + b$counts[[sum]]
  for (counted in c("quantities", "unit_quantities"))
    a$counts[[counted]] <- Map(merge_counts, a$counts[[counted]], b$counts[[counted]])
  a
}

merge_counts <- function(a, b) collect_counts(c(a$value, b$value), c(a$weight, b$weight))

# Values in ascending order, each once, with the sum of its weights.
collect_counts <- function(value, weight) {
  sums <- rowsum(as.numeric(weight), value, reorder = TRUE)
  list(value = sort(unique(value)), weight = as.vector(sums))
}

new_tally <- function(question, program, engine, counts, ...) {
  game <- question$game
  structure(list(name = name_of_file(game$source), title = game$title,
                 naming = list(labels = game$labels, names = lapply(decks_of(game), `[`, "card_names"),
                               words = game$words), given = question$given$text,
                 crossing = question$crossing, measures = question$measures, par_seat = question$ledgers$par,
                 engine = engine, program = program,
                 counts = counts, ...), class = result_class("tally"))
}

#' @export
sections.basanos_tally <- function(x, ...) {
  all_sections(section(sprintf("Tally of %s rounds of %s (seed %s); see as_odds()", whole_text(x$counts$units), x$name,
                               plain_number(x$seed))))
}

# More than one computer: units are numbered, so a run is cut into shards by their numbers, played anywhere, and merged.

# Plays the units from span[1] to span[2] in shards, by the plan of the future package, and merges their tallies.
tally_in_shards <- function(question, program, span, seed, threads, shards, tries) {
  need_package("future", "plays shards")
  check_count(shards, "shards", 1e4, "write 4")
  ends <- unique(round(seq(span[[1]] - 1, span[[2]], length.out = shards + 1)))
  spans <- Map(c, ends[-length(ends)] + 1, ends[-1])
  runs <- sampled_in_shards(spans, function(span) future_of(program, seed, span, threads), tries)
  tallies <- Map(function(run, span)
    new_tally(question, program, "sample", checked_run(question$game, program, run, seed, span[[2]] - span[[1]] + 1),
              seed = seed,
              spans = list(span)), runs, spans)
  Reduce(merge_two, tallies)
}

future_of <- function(program, seed, span, threads) {
  future::future(get("core_sample", asNamespace("basanos"))(program, seed, span[[1]], span[[2]], as.integer(threads),
    NULL),
                 globals = list(program = program, seed = seed, span = span, threads = threads), packages = "basanos",
                 seed = NULL)
}

# All are started before any is waited for; what is lost is started again.
sampled_in_shards <- function(spans, start, tries) {
  # A shard opens no connections; to look through all of them before and after each is no use, and has crashed R.
  old <- options(future.connections.onMisuse = "ignore")
  on.exit(options(old))
  waiting <- lapply(spans, start)
  lapply(seq_along(spans), function(k) {
    for (attempt in seq_len(tries)) {
      got <- tryCatch(future::value(waiting[[k]]), FutureError = identity)
      if (!inherits(got, "FutureError")) return(got)
      if (attempt < tries) waiting[[k]] <<- start(spans[[k]])
    }
    abort_input("shard_lost",
                sprintf("The worker of units %s to %s was lost %d times: %s", plain_number(spans[[k]][[1]]),
                        plain_number(spans[[k]][[2]]), tries, conditionMessage(got)),
                        "look at the workers' own messages; shards can be made smaller with `shards`")
  })
}
