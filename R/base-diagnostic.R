# Diagnostics and the errors that carry them. A diagnostic in a rules file has a place; a diagnostic with a
# call (a flag, an argument) has none. Every diagnostic has a stable id, says what is wrong and, in
# `hint`, how to put it right.

sort_diagnostics <- function(diagnostics) {
  place <- function(k) vapply(diagnostics, function(p) if (is.null(p$at)) 0 else p$at[[k]], 0)
  diagnostics[order(place(1), place(2))]
}

diagnostic <- function(id, message, hint = NULL, at = NULL) {
  stopifnot(id %in% diagnostic_ids())
  structure(list(id = id, message = message, hint = hint, at = at), class = "basanos_diagnostic")
}

# Stops with one diagnostic that has no place in a rules file.
abort_input <- function(id, message, hint = NULL) {
  abort_diagnostics(list(diagnostic(id, message, hint)), NULL)
}

abort_diagnostics <- function(diagnostics, source) stop_with_diagnostics(diagnostics, source)

# `...`: more fields of the condition.
stop_with_diagnostics <- function(diagnostics, source, ...) {
  diagnostics <- unique(diagnostics)
  ids <- vapply(diagnostics, `[[`, "", "id")
  text <- paste(vapply(diagnostics, format_diagnostic, "", source = source), collapse = "\n\n")
  stop(structure(
    class = c(paste0("basanos_", unique(ids)), "basanos_error", "error", "condition"),
    list(message = text, call = callers_call(), diagnostics = diagnostics, ids = ids, source = source, ...)
  ))
}

# The call of the user: the outermost of a function that the package exports; NULL from the command line, which has no
# call in R.
callers_call <- function() {
  exported <- mget(getNamespaceExports("basanos"), asNamespace("basanos"), inherits = FALSE)
  for (k in seq_len(sys.nframe())) {
    f <- sys.function(k)
    if (identical(f, exported[["command_main"]])) return(NULL)
    if (identical(environment(f), asNamespace("basanos")) && any(vapply(exported, identical, NA, f)))
      return(sys.call(k))
  }
  NULL
}

# "file:line:column", the line with a caret below, what is wrong, a hint.
format_diagnostic <- function(diagnostic, source = NULL) {
  lines <- sprintf("%s [%s]", diagnostic$message, diagnostic$id)
  if (!is.null(diagnostic$at) && !is.null(source)) {
    file <- place_in_file(source, diagnostic$at[[1]])
    place <- sprintf("%s:%d:%d", file$name, file$line, diagnostic$at[[2]])
    lines <- c(paste0(place, ": ", lines), excerpt(diagnostic$at, source))
  } else if (!is.null(source)) {
    lines <- paste0(source$name, ": ", lines)
  }
  if (!is.null(diagnostic$hint)) lines <- c(lines, paste0("  hint: ", diagnostic$hint))
  paste(lines, collapse = "\n")
}

# The same diagnostics as data, for tools.
diagnostics_table <- function(diagnostics) {
  place <- function(k) vapply(diagnostics, function(p) if (is.null(p$at)) NA_integer_ else as.integer(p$at[[k]]), 1L)
  data.frame(
    id = vapply(diagnostics, `[[`, "", "id"),
    line = place(1), column = place(2), last_line = place(3), last_column = place(4),
    message = vapply(diagnostics, `[[`, "", "message"),
    hint = vapply(diagnostics, function(p) if (is.null(p$hint)) NA_character_ else p$hint, "")
  )
}

# The nearest of the known names, or nothing when none is near.
nearest <- function(name, known) {
  known <- known[!is.na(known)]
  if (length(known) == 0 || is.na(name) || !nzchar(name)) return(NULL)
  asked <- list(name, known)
  if (identical(asked, guessed$asked)) return(guessed$near)  # a function is read at each of its calls
  away <- utils::adist(name, known, ignore.case = TRUE)[1, ]
  guessed$asked <- asked
  guessed$near <- if (min(away) <= max(1, nchar(name) %/% 3)) known[[which.min(away)]]
  guessed$near
}

# The last question and its answer.
guessed <- new.env(parent = emptyenv())

did_you_mean <- function(name, known) {
  near <- nearest(name, known)
  if (is.null(near)) NULL else sprintf("did you mean `%s`?", near)
}

or_spelling <- function(hint, else_hint = "check its spelling, or declare it") if (is.null(hint)) else_hint else hint

some_of_names <- function(x, most = 8) enumerated(paste0("`", x, "`", recycle0 = TRUE), most)

enumerated <- function(x, most = 8) {
  shown <- paste(utils::head(x, most), collapse = ", ")
  if (length(x) > most) paste0(shown, sprintf(" and %d more", length(x) - most)) else shown
}

shift_diagnostic <- function(p, by) {
  p$at <- p$at + c(by, 0L, by, 0L)
  p
}

# Why a round could not go on: the ids of the core's failures, in its order, with their words.

failures <- list(
  loop_endless = c(paste0("This loop goes on for ever: a round took more than a million steps, or a match a ",
                          "million rounds (a hundred million in a game with words)."), "check what should end it"),
  number_too_large = c("A whole number grows beyond 2147483647 here.", "check the loop or the settings behind it"),
  division_by_zero = c("This divides by zero.", "guard it with if (x != 0)"),
  position_outside = c("This position or seat is not there.",
                       "positions go from 1 to size(x), and nobody has no value"),
  room_exceeded = c("This holds more items than it has room for.",
                    "give it more room where it is declared, or check what fills it"),
  nothing_to_choose = c("There is nothing to choose from here.", "make sure that there is at least one item"),
  illegal_answer = c("The answer is not among the choices.", "check the player's rule against one_of(...)"),
  outcome_impossible = c("A round ended in none of the outcomes, which the rules call impossible.",
                         "add the outcome, or an `otherwise` of its own"),
  item_absent = c("The item to remove is not there.", "check with any(x, it == item) before"),
  probability_wrong = c("A probability is outside 0 to 1 here.", "keep it between 0 and 1, as with min(1, p)"),
  not_a_number = c("This gives no number, or one too large.", "check what goes into it"),
  not_written = c("The rules are not written any further than this.",
                  "write what the hole stands for, in place of later(...)"),
  claim_broken = c("A claim of the rules is broken here.", "check the claim against the rules"),
  grid_outside = c("This number is in no heading of the grid or table.",
                   "let the headings cover every number that can come up"),
  deck_empty = c("A card is drawn here from a deck that has none left.",
                 "ask size(deck) > 0 before, or shuffle the spent cards in again"),
  tries_wrong = c("`successes` takes from 0 to 100000 tries.",
                  "check the number of tries, or give them in several goes"),
  seat_not_taken = c("Something is written here for a seat that nobody takes.",
                     "ask first who plays: the setting `seated` says how many seats are taken"),
  stake_below_zero = c("A stake is below zero here.", "check the amount: money is moved one way only"),
  stake_outside = c("This is more than the bet takes or holds, or less than it takes.",
                    "offer what is allowed, as in ask(guest, more = one_of(limits(spot)))"),
  wallet_too_small = c("The wallet does not hold this much.",
                       "offer what is allowed, as in one_of(limits(spot)), or ask wallet(guest) before"),
  amount_piece = c("This is no whole number of pieces.",
                   "change the amount, or the size of a piece: tokens(piece = ...)"),
  odds_below_zero = c("The left side of odds is below zero here.", "for a bet that is lost write lost"),
  share_among_nobody = c("A pot is shared here among nobody.", "share it only where somebody won"),
  bet_lies = c("A bet is left lying at the end of the round.",
               "settle it at the end as well: settle(line, otherwise = lost)"),
  rule_missing = c("The player has no rule for this decision, and is asked it here.",
                   "add the rule to the player, or take it from another one: player(like = other, ...)"),
  lookup_none = c("The table of this lookup has no row for what is here.",
                  "add the row to the file, or write otherwise = ... in the lookup")
)

failure_code <- function(id) match(id, names(failures))

# A failure carries one number: the decision and the seat.
seats_limit <- 1000L
