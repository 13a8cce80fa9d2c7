# Every player in every seat that it can play: what stops a round there, and which outcomes it gets to; every answer
# of a decision.

# The players by seat that are tried besides the first ones: one seat at a time has another player.
other_line_ups <- function(game, players, settings) {
  first <- resolve_players(game, players, settings)
  unlist(lapply(which(!is.na(first)), function(seat) {
    decisions <- asked_of(game, seat)
    able <- Filter(function(p) player_can(p, seat, decisions), game$players)
    lapply(setdiff(vapply(able, `[[`, "", "name"), first[[seat]]), function(name) {
      line_up <- players
      line_up[[game$seats[[seat]]]] <- name
      list(seat = game$seats[[seat]], player = name, players = line_up)
    })
  }), recursive = FALSE)
}

# For each of them list(line_up, share: of the outcomes) or list(line_up, error).
try_line_ups <- function(game, settings, players, mode) {
  lapply(other_line_ups(game, players, resolve_settings(game, settings, mode)), function(line_up) {
    question <- new_question(game, settings, line_up$players, mode)
    share <- tryCatch(with_failure_described(question, {
      program <- program_of(question)
      run <- run_sample(game, program, finding_units(game, program, tried_work), 1, 1)
      run$outcomes / run$rounds
    }), basanos_error = identity)
    list(line_up = line_up, share = if (is.numeric(share)) share, error = if (!is.numeric(share)) share)
  })
}

# An error of a player is reported once, with the first seat that has it.
line_up_findings <- function(tried) {
  stopped <- Filter(function(t) !is.null(t$error), tried)
  what <- vapply(stopped, function(t) paste(t$line_up$player, t$error$ids, collapse = " "), "")
  unlist(lapply(stopped[!duplicated(what)], function(t)
    stopped_findings(t$error, sprintf("With `%s` as %s: ", t$line_up$player, t$line_up$seat))), recursive = FALSE)
}

# Players whose rules go through all the words of a list. Of a list of codes everybody knows all.
list_knowing_findings <- function(game) {
  lists <- Filter(function(d) identical(d$kind, "words") && is_word_file(game, d$name), game$names)
  lapply(unname(lists), function(d) {
    knowing <- Filter(function(name) goes_through(game, name, d$ids), names(game$players))
    if (length(knowing) == 0) return(NULL)
    finding("list_known", d$at, sprintf(
      "%s %s through all %s words of `%s`: %s the list by heart, as few people do.",
      enumerated(sprintf("`%s`", knowing)),
      if (length(knowing) == 1) "goes" else "go", whole_text(length(d$ids)), d$name,
      if (length(knowing) == 1) "this player knows" else "these players know"))
  })
}

is_word_file <- function(game, name) {
  declaration <- Filter(function(n) declared_name(n) == name, game$nodes)
  length(declaration) == 1 && is_call(declaration[[1]]$args[[2]], "words")
}

goes_through <- function(game, player, ids) {
  goes <- FALSE
  walk(lapply(game$decisions, function(d) d$rules[[player]]$body), function(n) if (n$op == "range" &&
    is_kind(n$type$of, "word") && n$low$op == "lit" && n$high$op == "lit" &&
    all(range(ids) == c(n$low$value, n$high$value))) goes <<- TRUE)
  goes
}

# An answer that is never better than another: each answer of a decision is given in the same rounds, on the same luck.

answer_rounds <- 1000L
fewest_answer_rounds <- 200L
most_answers_tried <- 6L

answer_findings <- function(game, settings, players, mode) {
  if (program_span(game) != "round") return(NULL)
  question <- new_question(game, settings, players, mode)
  tried <- Filter(function(d) is_tried_by_answer(d) && d$asked %in% game$paid, game$decisions)
  worst <- lapply(tried, function(d) worst_answer(game, d, pays_of_answers(question, d)))
  unname(Filter(Negate(is.null), worst))
}

# A choice between a few names, by one seat.
is_tried_by_answer <- function(d) {
  is_kind(d$type, "label") && !d$together && length(d$asked) == 1 &&
    length(d$type$members) >= 2 && length(d$type$members) <= most_answers_tried
}

# For each answer, the pay of each round in which the seat first gives it; missing where the round does not come there,
# or the answer is not legal.
pays_of_answers <- function(question, d) {
  question$position <- list(decision = d$name, conditions = list(), text = d$name, answers = d$type$members)
  question$records <- list()
  game <- question$game
  program <- program_of(question)
  column <- 1L + length(program$outcomes) + match(d$asked, game$paid)
  lapply(seq_along(d$type$members), function(lane) {
    of_lane <- in_lane(program, lane)
    rounds <- min(answer_rounds, finding_units(game, of_lane, tried_work))
    rows <- tryCatch(run_units(game, of_lane, 1, 1, rounds)$rows, basanos_error = function(e) NULL)
    if (!is.null(rows) && nrow(rows) >= fewest_answer_rounds) ifelse(rows[, 1] == 1, rows[, column], NA)
  })
}

worst_answer <- function(game, d, pays) {
  worst <- NULL
  for (i in seq_along(pays)) for (j in seq_along(pays)) {
    if (i == j || is.null(pays[[i]]) || is.null(pays[[j]])) next
    gain <- pays[[j]] - pays[[i]]
    gain <- gain[!is.na(gain)]
    if (length(gain) < fewest_answer_rounds || any(gain < 0) || mean(gain > 0) < 0.01) next
    if (is.null(worst) || mean(gain) > worst$gain)
      worst <- list(gain = mean(gain), rounds = length(gain), less = i, more = j, share = mean(gain > 0))
  }
  if (is.null(worst)) return(NULL)
  name <- function(k) game$labels[[d$type$members[[k]]]]
  finding("answer_dominated", d$at,
          sprintf(paste("At `%s`, `%s` is never better than `%s`: in %s rounds on the same luck it paid less in %s,",
                        "and never more."),
                  d$name, name(worst$less), name(worst$more), whole_text(worst$rounds), percent_text(worst$share, 1)))
}
