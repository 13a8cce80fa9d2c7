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
  program <- compile_game(game, set, players, mode)
  if (!is.null(shards)) return(tally_in_shards(game, program, c(first, first + rounds - 1), seed, threads, shards,
                                               tries))
  counts <- with_progress(rounds, "rounds", progress,
                          function(tick) run_sample(game, program, rounds, seed, threads, first, tick))
  new_tally(game, program, "sample", counts, seed = seed, spans = list(c(first, first + rounds - 1)))
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

new_tally <- function(game, program, engine, counts, ...) {
  structure(list(name = name_of_file(game$source), title = game$title,
                 naming = list(labels = game$labels, names = lapply(decks_of(game), `[`, "card_names"),
                               words = game$words), given = game$given$text, crossing = game$crossing,
                 measures = game$measures, par_seat = game$par_seat, engine = engine, program = program,
                 counts = counts, ...), class = result_class("tally"))
}

#' @export
sections.basanos_tally <- function(x, ...) {
  all_sections(section(sprintf("Tally of %s rounds of %s (seed %s); see as_odds()", whole_text(x$counts$units), x$name,
                               plain_number(x$seed))))
}
