# More than one computer: units are numbered, so a run is cut into shards by their numbers, played anywhere, and merged.

#' Play a run in shards
#'
#' Cuts a run into shards and plays them with the future package's plan: one after the other unless a plan is set,
#' as `future::plan("multisession")` or one of a cluster. The tally is that of one run, to the last bit. A shard whose
#' worker is lost is played again.
#'
#' @inheritParams sample_rounds
#' @param shards Into how many shards, a whole number from 1 to 10 000.
#' @param tries How often a shard may be lost before the run gives up.
#' @return A tally: see [sample_rounds()] and [odds_of()].
#' @section Errors: `package_needed`, `shard_lost`, and those of [sample_rounds()].
#' @export
#' @examplesIf requireNamespace("future", quietly = TRUE)
#' odds_of(sample_shards("tide-signs", 1e4, shards = 3))
sample_shards <- function(game, rounds = 1e6, shards = 4, seed = 1, threads = 1, set = list(), players = list(),
                          mode = NULL, tries = 3) {
  need_package("future", "plays shards")
  game <- game(game)
  check_rounds(rounds)
  check_seed(seed)
  check_threads(threads)
  check_count(shards, "shards", 1e4, "write 4")
  program <- compile_game(game, set, players, mode)
  ends <- unique(round(seq(0, rounds, length.out = shards + 1)))
  spans <- Map(c, ends[-length(ends)] + 1, ends[-1])
  runs <- sampled_in_shards(spans, function(span) future_of(program, seed, span, threads), tries)
  tallies <- Map(function(run, span)
    new_tally(game, program, "sample", checked_run(game, program, run, seed, span[[2]] - span[[1]] + 1), seed = seed,
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
