# A question is a game, its settings, who plays, and what is asked of a round: resolved and checked once. An effort is
# how hard to work for the answer. Both are values: another question is another list.

# All that the rules record, and nothing else. Without settings and players it cannot be answered yet.
#
# records, unit_records   what is recorded of a round, and of a match or sitting: list(name, node, at, added); `added`
#                         of those that the question needs for itself
# counted, paid_variable, next_id   what its expressions need: counters, the pay, the next id of a variable
# measures, crossing   what is measured of the rounds, and what their outcomes are crossed with
# given                a condition: only rounds in which it holds are counted
# position             a decision: the odds are those from there on
# observed             the decision whose answers are watched
# ledgers              sums of money besides those of each bet and seat: list(aside, cases, par, together)
# unit_values          typed nodes by name: counted once for each unit, instead of its rounds
# open                 the seats whose decisions stay open: the program offers their legal answers, and gives none
# situations           by decision, what describes its situations where it is open: list(node, me) by the text of each
# advised, advice      the seats that get advice, and what each of their answers costs
# watching             the open seats that see only what they are shown
# by_round             are the values of each round kept one by one?
question_of <- function(game, settings = NULL, players = NULL) {
  list(game = game, settings = settings, players = players, records = game$records, unit_records = game$unit_records,
       counted = game$counted, paid_variable = game$paid_variable, next_id = game$next_id)
}

# What a question records for itself; no record of the rules has a name with a space in it.
added_record <- function(name, node) list(name = name, node = node, at = c(1L, 1L, 1L, 1L), added = TRUE)
is_added <- function(record) isTRUE(record$added)

new_question <- function(game, set = list(), players = list(), mode = NULL)
  with_choices(question_of(game), set, players, mode)

# The question with these settings and players.
with_choices <- function(question, set = list(), players = list(), mode = NULL) {
  question$settings <- resolve_settings(question$game, set, mode)
  question$players <- resolve_players(question$game, players, question$settings, question$open)
  with_players_worked_out(question)
}

# The question in which players that are in no file have their rules, where they take a seat or are watched.
with_players_worked_out <- function(question) {
  for (name in setdiff(players_worked_out, names(question$game$players)))
    if (length(seats_asked_of(question, name)) > 0) question <- worked_out_above(paste0("seat_", name))(question)
  question
}

# What an analysis of a higher layer works out for a question is found by the name of its function.
worked_out_above <- function(name) get(name, envir = topenv(), mode = "function")

# The seats for which this player gives answers.
seats_asked_of <- function(question, name) {
  watched <- question$observed
  union(which(seats_with(question$players, name)), if (identical(watched$other, name)) watched$seat)
}

# Which seats are taken by one of these players, be it in a mix?
seats_with <- function(players, names)
  vapply(players, function(player) !is.na(player) && any(names %in% rule_of(players_seated(player)$names)), NA)

# The question with the decisions of these seats left open. Who plays there is never asked.
with_open <- function(question, seats) {
  question$open <- as.integer(seats)
  question
}

# Without `rounds` as many as is usual for the game; `progress` as in with_progress().
new_effort <- function(engine = "auto", rounds = NULL, precision = NULL, seed = 1, threads = 1, max_states = 5e6,
                       max_seconds = Inf, checkpoint = NULL, progress = FALSE, checking = NULL) {
  engine <- one_of_names(engine[[1]], c("auto", "exact", "sample"), "engine_unknown", "engine")
  if (!is.null(rounds)) check_rounds(rounds)
  seed <- given_seed(seed)
  check_threads(threads)
  check_limits(max_states, max_seconds)
  list(engine = engine, rounds = rounds, precision = precision, seed = seed, threads = threads,
       max_states = max_states, max_seconds = max_seconds, checkpoint = checkpoint, progress = progress,
       checking = checking)
}
