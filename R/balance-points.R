# Knobs that need a run for each value, knobs that only change pays, and the points of the runs.

most_balanced <- 5e7  # combinations that are gone through

# Splits knobs into those that need a run for each value and those that only change pays.
with_ways_to_turn <- function(task, knobs) {
  refuse_idle(task, knobs)
  able <- vapply(knobs, function(k) k$kind %in% c("number", "setting") && !isTRUE(k$yesno) && k$name != "seated", NA)
  names <- vapply(knobs, `[[`, "", "name")
  heeds_pays <- any(vapply(task$runs, function(run)
    any(seats_with(players_of_run(task, run), players_worked_out)), NA))
  pays <- able & !heeds_pays & vapply(names, only_pays, NA, question = task$measured)
  combinations <- prod(lengths(lapply(knobs, `[[`, "values")))
  if (combinations > most_balanced)
    abort_input("balance_large", sprintf("These are %s combinations, more than %s.",
                                         format(signif(combinations, 3), scientific = FALSE, big.mark = " "),
                                         whole_text(most_balanced)),
                "take wider steps, or fewer knobs at once")
  task$outer <- knobs[!pays]
  task$inner <- knobs[pays]
  task$combinations <- combinations
  with_points(task)
}

all_outside <- function(task) {
  task$outer <- c(task$outer, task$inner)
  task$inner <- list()
  with_points(task)
}

# The points of the outer knobs: list(index, set, mode, words) each.
with_points <- function(task) {
  sizes <- lengths(lapply(task$outer, `[[`, "values"))
  if (prod(sizes) > most_points)
    abort_input("balance_large", sprintf("These knobs need a run for each of %s combinations, more than %s.",
                                         whole_text(prod(sizes)), whole_text(most_points)),
                "take wider steps, or fewer knobs at once")
  index <- as.matrix(expand.grid(lapply(sizes, seq_len)))
  task$points <- lapply(seq_len(max(1, nrow(index))), function(k)
    balance_point(task, if (length(sizes) == 0) integer() else index[k, ]))
  task$inner_sizes <- lengths(lapply(task$inner, `[[`, "values"))
  task
}

balance_point <- function(task, index, inner = integer()) {
  chosen <- Map(function(knob, i) c(knob, list(value = knob$values[[i]])), c(task$outer, task$inner[seq_along(inner)]),
                c(index, inner))
  is <- function(kind) Filter(function(k) k$kind %in% kind, chosen)
  settings <- is(c("setting", "number"))
  mode <- is("mode")
  point <- list(index = unname(index),
                set = c(task$set, stats::setNames(lapply(settings, `[[`, "value"),
                                                  vapply(settings, `[[`, "", "name"))),
                mode = if (length(mode) > 0) mode[[1]]$value else task$mode, words = is(c("letters", "list")))
  resolve_players(task$game, task$players, resolve_settings(task$game, point$set, point$mode))
  point
}

# A knob that no program shows is no knob.
refuse_idle <- function(task, knobs) {
  shown <- c("code", "word_start", "int_start", "real_start", "tables", "weights", "pays", "ranges")
  built <- function(knob, value) {
    point <- balance_point(list(outer = list(c(knob[c("name", "kind", "site", "today")], list(values = list(value)))),
                                set = task$set, mode = task$mode, game = task$game, players = task$players), 1L)
    game <- task$game
    for (words in point$words) game <- with_words_of(game, words, value)
    program <- compile_game(game, point$set, task$players, point$mode)
    c(program[shown], list(program$word_letters))
  }
  for (knob in knobs) {
    first <- built(knob, knob$values[[1]])
    same <- vapply(knob$values[unique(c(2L, length(knob$values)))], function(v) identical(built(knob, v), first), NA)
    if (all(same))
      abort_input("knob_idle", sprintf("`%s` changes nothing in this game, with these players.", knob$name),
                  "leave it out, or choose players who heed it (--player ...)")
  }
}
