# Measures: how a quantity is named, by every command that measures. They are spelt like calls of the language, and what
# stands in them is read, typed and compiled like the rest of the rules.

# about     expression: a record of the rules language, or what is kept of a sitting; seat: a seat; money: a seat or a
#           bet; bet, pot: one of these; none
# unit      what a value of one means
# numbers   further arguments, all numbers, with their limits
# ratio     of a return or an edge: see money_ratio()
measure_word <- function(about, unit, example, says, numbers = NULL, ratio = NULL)
  list(about = about, unit = unit, example = example, says = says, numbers = numbers, ratio = ratio)

# `start` times what is put in plus `sign` times the net result, for each token that is put in, by a ledger: the seat's
# or the bet's own; its first stakes; the one in which pots that last are set aside.
money_ratio <- function(start, sign, ledger = "own") list(start = start, sign = sign, ledger = ledger)
ratio_of_word <- function(word) measure_words[[word]]$ratio

# The upper part of the ratio, of a list with `put` and `net`.
ratio_top <- function(ratio) function(d) ratio$start * d$put + ratio$sign * d$net

measure_words <- list(
  probability = measure_word("condition", "share of rounds", "probability(outcome == bright)",
    paste("The share of rounds in which an outcome or a condition holds; `match == SEAT` the share of matches",
          "that a seat wins.")),
  mean = measure_word("expression", "as the expression", "mean(tiles)",
    "The mean of an expression, over rounds."),
  sd = measure_word("expression", "as the expression", "sd(tiles)",
    "The standard deviation of an expression, over rounds."),
  quantile = measure_word("expression", "as the expression", "quantile(tiles, 0.9)",
    "The smallest value that is not exceeded in a share `p` of rounds.",
    numbers = list(p = c(0, 1))),
  lowest = measure_word("expression", "as the expression", "lowest(tiles)",
    "The smallest value that can come up (sampled: that came up)."),
  highest = measure_word("expression", "as the expression", "highest(tiles)",
    "The greatest value that can come up (sampled: that came up)."),
  mean_pay = measure_word("seat", "tokens a round", "mean_pay(guest)",
    "The mean net result of a seat."),
  put_in = measure_word("money", "tokens a round", "put_in(guest)",
    "What a seat stakes, or what is staked on a bet, on average."),
  return_of = measure_word("money", "share of the stakes", "return_of(guest)",
    "The return to player: what comes back for each token staked.", ratio = money_ratio(1, 1)),
  long_run_return = measure_word("seat", "share of the stakes", "long_run_return(guest)",
    "The return over many rounds: what is fed to a lasting pot counts as coming back.",
    ratio = money_ratio(1, 1, "aside")),
  edge = measure_word("money", "share of the first stake", "edge(guest)",
    "The house edge: of a seat for each token of its first stake, of a bet for each token staked.",
    ratio = money_ratio(0, -1, "first")),
  edge_per_token = measure_word("money", "share of the stakes", "edge_per_token(guest)",
    "The house edge for each token staked, raises included.", ratio = money_ratio(0, -1)),
  long_run_edge = measure_word("seat", "share of the stakes", "long_run_edge(guest)",
    "The house edge over many rounds, as `long_run_return`.", ratio = money_ratio(0, -1, "aside")),
  decided_edge = measure_word("money", "share of the stakes", "decided_edge(guest)",
    "The house edge over the rounds that are won or lost; pushes are left out."),
  hit = measure_word("money", "share of rounds", "hit(guest)",
    "The share of rounds with a stake in which something comes back."),
  gain = measure_word("money", "share of rounds", "gain(guest)",
    "The share of rounds with a stake that end with a gain."),
  prize_share = measure_word("money", "share of the return", "prize_share(guest, 10)",
    "The share of the return that comes from rounds that bring `least` tokens or more.",
    numbers = list(least = c(0, 1e9))),
  volatility = measure_word("money", "stakes", "volatility(guest)",
    "The volatility index: 1.645 standard deviations of what comes back, less its expectation, for each token staked."),
  breakage = measure_word("bet", "tokens a round", "breakage(line)",
    "What rounding down leaves with the house, of a bet."),
  losing_run = measure_word("money", "chance", "losing_run(guest, 6, 100)",
    "The chance of a run of `length` losses or more in `rounds` rounds.",
    numbers = list(length = c(1, 1e4), rounds = c(1, 1e5))),
  longest_losing_run = measure_word("money", "rounds", "longest_losing_run(guest, 100)",
    "The mean length of the longest run of losses in `rounds` rounds.",
    numbers = list(rounds = c(1, 1e5))),
  ruin = measure_word("wallet", "share of sittings", "ruin(guest)",
    "The share of sittings in which the wallet runs out."),
  losing = measure_word("wallet", "share of sittings", "losing(guest)",
    "The share of sittings that end with less than the wallet held at the start."),
  goal = measure_word("none", "share of sittings", "goal()",
    "The share of sittings that reach their goal."))

# Quantities of a match or sitting, as an argument of mean, sd, quantile, lowest and highest.
unit_words <- c(final_wallet = "final wallet", lowest_wallet = "lowest wallet", drawdown = "drawdown",
                brought = "brought")

#' The measures
#'
#' How quantities are named in the argument `measure` and in `--measure`.
#'
#' @return A data frame with one row a measure: `name`, `says`, `unit`, `example`.
#' @export
#' @examples
#' measures()
measures <- function() {
  data.frame(name = names(measure_words), says = vapply(measure_words, `[[`, "", "says", USE.NAMES = FALSE),
             unit = vapply(measure_words, `[[`, "", "unit", USE.NAMES = FALSE),
             example = vapply(measure_words, `[[`, "", "example", USE.NAMES = FALSE))
}

# A text as a measure of a game: list(text, word, about, numbers); with `expression`, that of a record to be added.
# `known` are names of records.
read_measure <- function(game, text, known = names(game$records)) {
  node <- parse_expression(text)
  wrong <- function(message, hint) abort_input("measure_wrong", sprintf("`%s`: %s", text, message), hint)
  word <- if (node$kind == "call") measure_words[[node$fn]]
  if (is.null(word)) {
    name <- if (node$kind == "call") node$fn else text
    if (node$kind == "name" && text %in% names(measure_words))
      wrong("a measure has brackets.", sprintf("write %s", measure_words[[text]]$example))
    hint <- c(measure_of_name(game, text, known), did_you_mean(name, names(measure_words)))[1]
    if (is.na(hint)) hint <- NULL
    wrong(sprintf("there is no measure `%s`.", name),
          if (is.null(hint)) sprintf("the measures are %s; `basanos odds --help` explains them",
                                   some_of_names(names(measure_words), 30)) else hint)
  }
  args <- split_arguments(node, names(word$numbers), wrong, word$example)
  about <- args$about
  if (word$about == "none" && !is.null(about) || word$about != "none" && is.null(about))
    wrong(sprintf("`%s` is about %s.", node$fn, measured_in_words(word$about)), sprintf("write %s", word$example))
  numbers <- Map(function(n, name) measure_number(n, word$numbers[[name]], name, wrong), args$numbers,
                 names(args$numbers))
  measure <- list(text = text, word = node$fn, numbers = numbers)
  if (word$about %in% c("expression", "condition")) return(c(measure, expression_of(game, about, text)))
  if (word$about != "none") measure$about <- measured_thing(game, about, word$about, wrong)
  measure
}

# The measure that is meant by the name of an outcome, seat, record or bet; NULL of any other text.
measure_of_name <- function(game, text, known) {
  if (text %in% game$outcomes$names) sprintf("write probability(outcome == %s)", text)
  else if (text %in% game$seats) sprintf("write mean_pay(%s)", text)
  else if (text %in% known) sprintf("write mean(%s)", text)
  else if (text %in% names(game$money$bets)) sprintf("write return_of(%s)", text)
}

measured_in_words <- function(about) {
  switch(about, none = "nothing", seat = "a seat", money = "a seat or a bet", bet = "a bet",
         wallet = "a seat with a wallet",
         "an expression")
}

# list(about, numbers): the first argument, and the numbers by their names.
split_arguments <- function(node, wanted, wrong, example) {
  named <- node$names %in% wanted
  plain <- node$args[!named]
  numbers <- node$args[named]
  names(numbers) <- node$names[named]
  rest <- setdiff(wanted, names(numbers))
  more <- if (length(plain) > 0) plain[-1] else list()
  if (length(more) != length(rest) || any(nzchar(node$names[!named])))
    wrong(sprintf("`%s` takes %s.", node$fn, if (length(wanted) == 0) "one argument" else
      sprintf("what it is about, then %s", enumerated(wanted))), sprintf("write %s", example))
  numbers[rest] <- more
  list(about = if (length(plain) > 0) plain[[1]], numbers = numbers[wanted])
}

measure_number <- function(node, limits, name, wrong) {
  value <- if (node$kind == "number") node$value else NA
  if (is.na(value) || value < limits[[1]] || value > limits[[2]])
    wrong(sprintf("`%s` is a number from %s to %s.", name, plain_number(limits[[1]]), plain_number(limits[[2]])),
          sprintf("write %s", plain_number(if (limits[[2]] == 1) 0.9 else min(100, limits[[2]]))))
  value
}

# The subject of a measure of money: list(kind = "seat" or "bet", name).
measured_thing <- function(game, node, about, wrong) {
  name <- if (node$kind == "name") node$name
    else if (is_call(node, "[") && length(node$args) == 2)
      sprintf("%s[%s]", label_text(node$args[[1]]), label_text(node$args[[2]])) else ""
  wallets <- game$seats[as.integer(names(game$money$wallets))]
  known <- switch(about, seat = game$seats, money = c(game$seats, names(game$money$bets)), bet = names(game$money$bets),
                  wallet = wallets)
  if (name %in% known) return(list(kind = if (name %in% game$seats) "seat" else "bet", name = name))
  hint <- did_you_mean(name, known)
  wrong(sprintf("`%s` is not %s.", if (nzchar(name)) name else "this", measured_in_words(about)),
        if (!is.null(hint)) hint else if (length(known) > 0) sprintf("there is %s", some_of_names(known, 20))
        else "declare it in the rules")
}

# list(unit) of what is kept of a match or sitting, else list(expression), its text.
expression_of <- function(game, node, text) {
  spans <- game$spans
  won <- match_won(game, node)
  if (!is.null(won)) return(list(unit = "winner", value = won))
  unit <- if (length(spans) > 0 && node$kind == "name" && node$name == "rounds" && is.null(game$names$rounds)) "rounds"
    else if (node$kind == "call" && node$fn %in% names(unit_words) && length(node$args) == 1)
      sprintf("%s[%s]", unit_words[[node$fn]], node$args[[1]]$name)
  if (!is.null(unit)) return(list(unit = unit))
  expression <- substr(text, node$at[[2]], node$at[[4]])
  if (reads_unit(game, node)) list(unit_expression = expression) else list(expression = expression)
}

# Whether a measure is about the end of a match or sitting: it reads a record made there, or `final(...)`.
reads_unit <- function(game, node) {
  if (length(game$spans) == 0) return(FALSE)
  if (node$kind == "name") return(node$name %in% sub("\\[.*", "", names(game$unit_records)))
  node$kind == "call" && (is_final(game, node) || any(vapply(node$args, reads_unit, NA, game = game)))
}

# final(x) is x as it is in the end, where the game has no function of that name.
is_final <- function(game, node) is_call(node, "final") && length(node$args) == 1 && is.null(game$names$final)

without_final <- function(game, node) {
  if (is_final(game, node)) return(without_final(game, node$args[[1]]))
  node$args <- lapply(node$args, without_final, game = game)
  node
}

stop_on_no_condition <- function(text)
  abort_input("measure_wrong", sprintf("`%s` is not a condition.", text),
              "compare it, as in probability(tiles > 5)")

# Adds an expression that is recorded once a match or sitting, under this name.
with_unit_record <- function(question, text, name, is_condition) {
  game <- question$game
  context <- context_of(question)
  scope <- ended_scope("a measure")
  scope$span <- program_span(game)
  v <- check_value(context, scope, without_final(game, parse_expression(text)))
  if (is_condition && !is_kind(v$type, "yesno", "unknown")) stop_on_no_condition(text)
  if (length(context$diagnostics) == 0) record_of_unit(context, scope, name, v)
  blame_expression(context$diagnostics, text, game$source)
  question$unit_records <- context$unit_records
  question$unit_records[[name]]$added <- TRUE
  counted_too(question, context)
}

# The seat of `match == left`: who won the match; NULL of any other node.
match_won <- function(game, node) {
  if (!is_call(node, "==") || !identical(node$args[[1]]$name, "match") || program_span(game) != "match") return(NULL)
  seat <- match(node$args[[2]]$name, game$seats)
  if (!is.null(game$match$counts) && length(seat) == 1 && !is.na(seat)) seat
}

# The name of what is recorded for the k-th measure.
record_of_measure <- function(k) sprintf("measure %d", k)

# The question with these measures, and with what they need: a record of its own for each expression.
with_measures <- function(question, texts) {
  if (is.null(texts)) return(question)
  if (!is.character(texts) || anyNA(texts))
    abort_input("argument_wrong", "`measure` must be texts.", "write measure = c(\"edge(guest)\", \"mean(tiles)\")")
  question$measures <- lapply(unname(texts), read_measure, game = question$game, known = names(question$records))
  for (k in seq_along(question$measures)) question <- with_measured(question, question$measures[[k]], k)
  question
}

with_measured <- function(question, measure, k) {
  if (identical(ratio_of_word(measure$word)$ledger, "aside"))
    question <- with_pots_set_aside(question, measure$about$name)
  name <- record_of_measure(k)
  at_end <- measure$unit_expression
  if (!is.null(at_end)) {
    question <- with_unit_record(question, at_end, name, measure$word == "probability")
    question$measures[[k]]$unit <- name
  }
  if (is.null(measure$expression)) return(question)
  before <- names(question$records)
  question <- with_records(question, measure$expression, sprintf("measure_%d", k))
  added <- setdiff(names(question$records), before)
  if (length(added) != 1) abort_input("measure_wrong", sprintf("`%s` is one for each seat.", measure$expression),
                                      "name the seat, as in score[guest]")
  columns <- match(added, names(question$records))
  question$records[[columns]] <- added_record(name, question$records[[columns]]$node)
  names(question$records)[[columns]] <- name
  question
}

# The names of the records that are numbers.
numbers_recorded <- function(game) {
  numbers <- Filter(function(record) is_kind(record$node$type, "whole", "fraction"), game$records)
  vapply(numbers, `[[`, "", "name", USE.NAMES = FALSE)
}

# Of a single round its first record that is a number: most often its length.
first_number_recorded <- function(game) {
  numbers <- numbers_recorded(game)
  if (length(numbers) > 0) sprintf("mean(%s)", numbers[[1]])
}
