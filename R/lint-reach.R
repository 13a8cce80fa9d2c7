# Branches of the rules that no example goes through, each with a round that would; and those that no round
# reaches. Whatever is legal may be answered here: the branches are the game's, not one player's.

reach_states <- 3e4
reach_units <- 5e3

reach_findings <- function(game) {
  anyone <- game_of_anyone(game)
  program <- reach_program(anyone)
  if (length(program$coverage_points) == 0) return(list())
  keys <- names(program$coverage_points)
  seen <- covered_in_examples(game)
  ways <- ways_to_places(anyone, program, keys)
  is_answer <- vapply(program$coverage_points, function(place) startsWith(place$kind, "answer"), NA)
  unseen <- setdiff(keys, c(seen, keys[is_answer]))
  given <- lapply(stats::setNames(nm = unseen), function(key)
    if (!is.null(ways$at[[key]])) given_on_the_way(anyone, key, ways$at[[key]]))
  given[given %in% given[duplicated(given)]] <- ""  # what does not tell two branches apart leads to neither
  unreached <- lapply(unseen, function(key)
    reach_finding(game, program$coverage_points[[key]], ways$at[[key]], given[[key]], ways$all_seen))
  nowhere <- keys[is_answer & vapply(ways$at[keys], is.null, NA)]
  c(unreached, unmet_answers(game, program$coverage_points[setdiff(nowhere, seen)], ways$all_seen),
    never_legal(game, keys))
}

# The game with every seat answering evenly.
game_of_anyone <- function(game) {
  me <- list(id = "me of anyone", type = seat_type(game))
  for (name in names(game$decisions)) {
    d <- game$decisions[[name]]
    game$decisions[[name]]$rules$anyone <- list(me = me, body = typed("pick_choices", d$type, d$at, source = ""))
  }
  game
}

reach_program <- function(anyone) {
  program <- build_program(question_of_anyone(anyone), covering = TRUE)
  program$step_budget <- step_budget
  with_handle(program)
}

question_of_anyone <- function(anyone)
  question_of(anyone, resolve_settings(anyone), rep("anyone", length(anyone$seats)))

covered_in_examples <- function(game) {
  unique(unlist(lapply(game$examples, function(example) {
    prepared <- tryCatch(prepare_example(game, example, covering = TRUE), basanos_error = function(e) NULL)
    if (is.null(prepared)) return(NULL)
    played <- play_script(prepared$program, prepared, example$stop_when_out, prepared$closing)
    names(prepared$program$coverage_points)[played$covered == 1]
  })))
}

# For each place the draws that lead there, or the first sampled unit that gets there.
ways_to_places <- function(anyone, program, keys) {
  effort <- if (length(anyone$words$texts) > 0) 0.01 else 1  # to go through all the words takes its time
  shortest <- polled(reach_states * effort, "states", NULL, function(tick)
    core_reaches(loaded(program), reach_states * effort, tick))
  if (shortest$stopped) signal_stop()
  first <- if (shortest$all_seen) integer(length(keys))
    else polled(reach_units * effort, "rounds", NULL, function(tick)
      core_first_reaching(loaded(program), 1, reach_units * effort, tick))
  if (length(first) == 0) signal_stop()
  ways <- Map(function(witness, unit) if (!is.null(witness)) list(draws = witness_draws(program, witness))
    else if (unit > 0) list(unit = unit), shortest$places, first)
  list(all_seen = shortest$all_seen, at = stats::setNames(ways, keys))
}

# The answers that were legal nowhere, told by decision.
unmet_answers <- function(game, places, all_seen) {
  lines <- vapply(places, function(place) place$at[[1]], 0)
  unname(lapply(split(places, lines), function(group) {
    labels <- game$labels[as.integer(sub("answer ", "", vapply(group, `[[`, "", "kind")))]
    never_legal_finding(group[[1]]$at, labels, if (all_seen) "never legal" else "not legal in any round looked at")
  }))
}

never_legal_finding <- function(at, labels, how = "never legal") {
  one <- length(labels) == 1
  finding("answer_never", at, sprintf("The answer%s %s %s %s.", if (one) "" else "s", some_of_names(labels),
                                      if (one) "is" else "are", how))
}

longest_given <- 200L

reach_finding <- function(game, place, way, given, all_seen) {
  where <- sprintf("`%s` %s", source_text(game$source, place$at), if (place$kind == "holds") "holds"
    else "does not hold")
  if (is.null(way))
    return(finding("branch_unreached", place$at, if (all_seen) sprintf("No round gets to where %s.", where)
      else sprintf("No example gets to where %s, and no round looked at did.", where)))
  round <- if (!nzchar(given)) "Some rounds do."
    else if (nchar(given) > longest_given) "A round of many draws does."
    else sprintf("This round does: given(%s)", given)
  finding("branch_untried", place$at, sprintf("No example gets to where %s. %s", where, round))
}

# The draws and answers of a round that goes that way, up to the branch.
given_on_the_way <- function(anyone, key, way) {
  program <- build_program(question_of_anyone(anyone), tracing = TRUE, covering = TRUE)
  trace <- watch_trace(anyone, program, if (is.null(way$unit)) 1
    else way$unit, 1, if (!is.null(way$draws)) list(draws = way$draws, answers = list()), NULL, up_to = key)
  paste(c(Filter(nzchar, trace_given(trace)), "rest = stop"), collapse = ", ")
}

# Answers that no condition ever lets through have no place at all in the program.
never_legal <- function(game, keys) {
  refused <- lapply(game$decisions, function(d) {
    places <- vapply(d$type$members, function(id) paste(c("answer", id, d$at), collapse = " "), "")
    if (!any(places %in% keys)) return(NULL)  # the answers are not names, one by one
    never <- game$labels[d$type$members[!places %in% keys]]
    if (length(never) == 0) return(NULL)
    list(never_legal_finding(d$at, never))
  })
  unlist(unname(refused), recursive = FALSE)
}
