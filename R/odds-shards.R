# More than one computer: units are numbered, so a run is cut into shards by their numbers, played anywhere, and merged.

# Plays the units from span[1] to span[2] in shards, by the plan of the future package, and merges their tallies.
tally_in_shards <- function(game, program, span, seed, threads, shards, tries) {
  need_package("future", "plays shards")
  check_count(shards, "shards", 1e4, "write 4")
  ends <- unique(round(seq(span[[1]] - 1, span[[2]], length.out = shards + 1)))
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
