# Every player in every seat that it can play: what stops a round there, and which outcomes it gets to.

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
    share <- tryCatch(with_failure_told(question, {
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
  found <- FALSE
  walk(lapply(game$decisions, function(d) d$rules[[player]]$body), function(n) if (n$op == "range" &&
    is_kind(n$type$of, "word") && n$low$op == "lit" && n$high$op == "lit" &&
    all(range(ids) == c(n$low$value, n$high$value))) found <<- TRUE)
  found
}
