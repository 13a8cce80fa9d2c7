# What best play is to make great: a mean over rounds, matches or sittings, as terms of a sum.

# Measures that are means; of those in `low` the least is best unless the caller says otherwise.
objective_words <- c("mean_pay", "mean", "probability", "goal", "ruin", "losing")
low_words <- c("ruin", "losing")

# list(text, measure, wins by outcome, or the seats whose matches count; best, sign).
objective_of <- function(game, seats, text, best = NULL) {
  best <- if (!is.null(best)) one_of_names(best, c("highest", "lowest"), "argument_wrong", "best")
  objective <- if (is.null(text)) usual_objective(game, seats)
    else if (is_worst_case(one_text(text, "objective"))) worst_case_objective(game, text)
    else given_objective(game, outcome_as_condition(game, text))
  low <- isTRUE(objective$worst_case) || isTRUE(objective$measure$word %in% low_words)
  if (is.null(best)) best <- if (low) "lowest" else "highest"
  c(objective, list(best = best, sign = if (best == "lowest") -1 else 1))
}

# probability(found) is that of the outcome.
outcome_as_condition <- function(game, text) {
  named <- regmatches(text, regexec("^\\s*probability\\(\\s*([A-Za-z.][A-Za-z0-9._]*)\\s*\\)\\s*$", text))[[1]]
  if (length(named) > 0 && named[[2]] %in% game$outcomes$names && is.null(game$names[[named[[2]]]]))
    sprintf("probability(outcome == %s)", named[[2]]) else text
}

# worst(tries): what a quantity comes to at worst, whatever chance brings.
is_worst_case <- function(text) grepl("^\\s*worst\\(.*\\)\\s*$", text)

worst_case_objective <- function(game, text) {
  objective <- given_objective(game, sub("worst", "mean", text))
  objective$measured <- objective$text
  objective$text <- text
  objective$worst_case <- TRUE
  objective
}

given_objective <- function(game, text) {
  measure <- read_measure(game, text)
  if (!measure$word %in% objective_words)
    abort_input("best_ratio", sprintf("Best play makes a mean great; `%s` is none.", measure$word),
                if (is.null(measure$about)) "ask for mean(...) or probability(...)"
                else sprintf("ask for mean_pay(%s)", measure$about$name))
  list(text = text, measure = measure)
}

# What a seat is paid; else its wins, less the other's where both play each other; else the first outcome.
usual_objective <- function(game, seats) {
  name <- game$seats[[seats[[1]]]]
  if (all(seats %in% game$paid)) return(given_objective(game, sprintf("mean_pay(%s)", name)))
  if (program_span(game) == "match" && !is.null(game$match$counts))
    return(if (length(seats) == 1) given_objective(game, sprintf("probability(match == %s)", name))
           else list(text = sprintf("matches won by %s less those won by %s", name, game$seats[[seats[[2]]]]),
                     match_won_by = seats))
  winners <- vapply(seq_along(game$outcomes$names), function(k) outcome_winner(game, k), 0L)
  won <- function(seat) as.numeric(winners == seat)
  of_first <- game$outcomes$names[winners == seats[[1]]]
  if (length(of_first) == 0) {
    first <- game$outcomes$names[[1]]
    return(given_objective(game, sprintf("probability(outcome == %s)", first)))
  }
  if (length(seats) == 1)
    return(if (length(of_first) == 1) given_objective(game, sprintf("probability(outcome == %s)", of_first))
           else list(text = sprintf("wins of %s", name), wins = won(seats)))
  list(text = sprintf("wins of %s less wins of %s", name, game$seats[[seats[[2]]]]),
       wins = won(seats[[1]]) - won(seats[[2]]))
}

# The question, which records nothing else.
with_objective <- function(question, objective) {
  measured <- if (is.null(objective$measured)) objective$text else objective$measured
  if (!is.null(objective$measure)) question <- with_measures(question, measured)
  kept <- function(records) records[names(records) == record_of_measure(1)]
  question$records <- kept(question$records)
  question$unit_records <- kept(question$unit_records)
  question
}

empty_terms <- list(by_outcome = numeric(), of_round = matrix(0, 0, 3), of_unit = matrix(0, 0, 3), range = numeric())

# The objective as the core takes it, by the numbers of what the program records: list(by_outcome, of_round, of_unit,
# range). `range` is empty where there is no bound.
objective_terms <- function(program, objective, seat) {
  terms <- empty_terms
  measure <- objective$measure
  if (!is.null(objective$match_won_by)) {
    terms$of_unit <- cbind(match("winner", program$measures) - 1, c(1, -1), objective$match_won_by)
    terms$range <- c(-1, 1)
  } else if (is.null(measure)) {
    terms$by_outcome <- objective$wins
    terms$range <- range(objective$wins)
  } else if (measure$word == "mean_pay") {
    terms <- terms_of_pay(program, measure$about$name, terms)
  } else if (is.null(measure$expression)) {
    terms$of_unit <- cbind(match(unit_name(measure), program$measures) - 1, 1,
                           if (is.null(measure$value)) NA else measure$value)
    if (measure$word != "mean") terms$range <- c(0, 1)
  } else {
    terms$of_round <- cbind(pays_kept(program), 1, NA)
    terms$range <- if (measure$word == "probability") c(0, 1) else program$records[[1]]$ends
  }
  terms$range <- as.numeric(terms$range)
  if (!all(is.finite(terms$range)) || length(terms$range) != 2) terms$range <- numeric()
  terms
}

# The pays of the first seats that the program records: they come before everything else.
pays_kept <- function(program, seats = length(program$pays))
  sum(vapply(program$pays[seq_len(seats)], function(p) is.null(p$by_outcome), NA))

terms_of_pay <- function(program, name, terms) {
  place <- match(name, vapply(program$pays, `[[`, "", "seat"))
  if (is.na(place))
    abort_input("measure_wrong", sprintf("`%s` is paid nothing.", name), "declare what it is paid, as in pays(...)")
  pay <- program$pays[[place]]
  if (!is.null(pay$by_outcome)) terms$by_outcome <- pay$by_outcome
  else terms$of_round <- cbind(pays_kept(program, place - 1), 1, NA)
  terms$range <- pay$ends
  terms
}

# The name of what is recorded once a match or sitting.
unit_name <- function(measure) if (is.null(measure$unit)) unit_column(measure) else measure$unit

# What the other seat gets, where the two play each other: must be what the first loses.
opposed_terms <- function(program, objective, seat) {
  if (identical(objective$measure$word, "mean_pay")) terms_of_pay(program, names(program$players)[[seat]], empty_terms)
}
