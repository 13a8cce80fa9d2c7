# Decisions as they are met in play: what the seat sees, what it answers, and what another player would.

# A data frame with a row a decision met: `unit`, `seat`, `answer`, `other` where it is asked for, a column for each
# thing remembered that the seat sees, and one for each expression. `wanted` is list(decision, seat, by, other); `by`
# has list(node, me) by the text of each expression. The attribute `rounds` says how many were watched.
observed_answers <- function(game, program, wanted, rounds, seed) {
  rows <- vector("list", most_observed)
  size <- 0L
  pending <- list()
  watched <- 0
  observe <- function(unit) watch_unit(program, seed, unit, list(
    draw = function(source, value, at) NULL,
    ask = function(ask, again, ints, reals) {
      pending <<- c(pending, list(observed_ask(game, program, wanted, ask, unit, ints, reals)))
      NULL
    },
    trace = function(point, ints, reals) {
      if (point$kind != "answer") return(NULL)
      for (row in utils::head(answers_given(game, program, wanted, pending, ints, reals), most_observed - size))
        rows[[size <<- size + 1L]] <<- row
      pending <<- list()
      NULL
    },
    round = function(ints, reals) watched <<- watched + 1))
  seen <- function() structure(table_of_observed(utils::head(rows, size)), rounds = watched)
  with_part_result(with_progress(1e5, "watched", FALSE, function(tick) {
    unit <- 0
    while (size < most_observed && watched < rounds) {
      unit <- unit + 1
      run <- observe(unit)
      if (run$end == 1L) stop_on_failed_unit(game, program, run$failure, unit, seed)
      if (is.function(tick)) tick(1e5 * max(size / most_observed, watched / rounds))
    }
  }), function(stop) list(after = sprintf("%s of %s rounds", whole_text(watched), whole_text(rounds)), seen = seen()))
  seen()
}

# NULL for a decision or a seat that is not asked about.
observed_ask <- function(game, program, wanted, ask, unit, ints, reals) {
  if (names(game$decisions)[[ask$decision + 1L]] != wanted$decision || !ask$seat %in% wanted$seat) return(NULL)
  shown <- function(o) {
    if (is.null(o)) NULL
    else if (is_collection(o$type)) collection_text(game, program, o$list, o$type, ints)
    else value_text(game, if (o$real) reals[[o$register + 1L]] else ints[[o$register + 1L]], o$type)
  }
  c(list(unit = unit, seat = ask$seat, other = shown(ask$observed$other)),
    seen_at(game, program, wanted, ask$seat, ints, reals), lapply(ask$observed$by, shown))
}

# The state and the answers given, as far as the seat sees them, as texts by name.
seen_at <- function(game, program, wanted, seat, ints, reals) {
  seen <- lapply(unname(program$slot), function(where) {
    if (where$name == wanted$decision) return(NULL)
    values <- traced_values(game, program, where, ints, reals)
    owners <- if (is.null(where$axes)) 0L else place_owners(where$axes)
    seen <- vapply(owners, function(owner) is_seen_by(where$seen_by, owner, seat), NA)
    names(values) <- if (is.null(where$axes)) where$name else sprintf("%s[%s]", where$name, names(values))
    as.list(values[seen])
  })
  unlist(seen, recursive = FALSE)
}

# The decisions asked, with the answers given.
answers_given <- function(game, program, wanted, asked, ints, reals) {
  d <- game$decisions[[wanted$decision]]
  lapply(Filter(Negate(is.null), asked), function(row) {
    values <- traced_values(game, program, program$slot[[d$name]], ints, reals)
    c(row, answer = if (d$together) values[[game$seats[[row$seat]]]] else values)
  })
}

table_of_observed <- function(rows) {
  if (length(rows) == 0) return(list2DF(list(unit = character())))
  names <- unique(unlist(lapply(rows, names)))
  columns <- lapply(stats::setNames(nm = names), function(name)
    vapply(rows, function(r) if (is.null(r[[name]])) NA_character_ else as.character(r[[name]]), ""))
  list2DF(columns)
}
