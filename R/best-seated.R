# `best` is a player of no file: it plays as well as can be against those that take the other seats.

# The players, and `best` at each other seat that decides.
with_best_seated <- function(game, set, players, mode) {
  open <- setdiff(game$seats[seats_that_decide(game, set, mode)], names(players))
  c(as.list(players), stats::setNames(rep(list("best"), length(open)), open))
}

# The question in which `best` has its rules: each looks the answer up in a table of best play.
seat_best <- function(question) {
  seats <- seats_asked_of(question, "best")
  if (length(question$open) > 0)
    abort_input("best_seats", sprintf("`%s` cannot be taken by `best` here: it is one of the seats that answer it.",
                                      question$game$seats[[seats[[1]]]]),
                "ask for the best play of both: --both (both = TRUE)")
  tables <- latest_best_play(list(question$game, question$settings, question$players, seats),
                             function() best_in_question(question, question$game, seats, "tables")$tables)
  with_rules_of_best(question, tables)
}

# Best play of these seats against who takes the others, by the usual objective; of the question its settings and
# players count. `policy`: what of it is wanted.
best_in_question <- function(question, game, seats, policy) {
  if (length(seats) > 1) two_seats(game, seats)
  others <- setdiff(which(!is.na(question$players)), seats)
  task <- list(game = game, set = question$settings, most = 0, max_states = 3e7, max_seconds = Inf, policy = policy)
  solved(task, seats, as.list(stats::setNames(question$players[others], game$seats[others])),
         objective_of(game, seats, NULL))
}

# A question is often asked with more of it.
latest_best_play <- latest(8)

with_rules_of_best <- function(question, tables) {
  names(tables) <- sprintf("best %d", seq_along(tables))
  decisions <- unique(vapply(tables, `[[`, "", "decision"))
  texts <- vapply(decisions, function(decision)
    rule_text(question$game, Filter(function(t) t$decision == decision, tables)), "")
  with_rules(question, "best", texts, lapply(tables, `[[`, "rows"))
}

# The question with one player more, whose rules are texts by decision; `tables` are those of its lookups.
with_rules <- function(question, name, texts, tables = list()) {
  context <- context_of(question)
  context$source$tables <- tables
  player <- list(name = name, rules = lapply(texts, parse_expression), peeks = character(), params = list())
  context$players[[name]] <- player
  for (decision in names(texts)) {
    check_rule(context, player, decision)
    blame_expression(context$diagnostics, texts[[decision]], question$game$source)
    question$game$decisions[[decision]] <- context$names[[decision]]
  }
  question$game$players[[name]] <- player
  counted_too(question, context)
}

# The game with one player more.
game_with_player <- function(game, name, texts) {
  question <- with_rules(question_of(game), name, texts)
  game <- question$game
  game[c("counted", "next_id")] <- question[c("counted", "next_id")]
  game
}

# Each seat that is asked has a table of its own.
rule_text <- function(game, tables) {
  lookups <- vapply(names(tables), function(name) lookup_text(tables[[name]], name), "")
  seats <- game$seats[vapply(tables, `[[`, 0L, "seat")]
  conditions <- if (length(seats) > 1) sprintf("if (me == %s) %s else ", seats[-length(seats)], lookups[-length(seats)])
  paste0(paste(conditions, collapse = ""), lookups[[length(lookups)]])
}
