# Expressions of the rules in plain words, for visitors. in_words(...) of the game comes first; settings become their
# numbers.

# What the words depend on: list(game, settings, bound, inside); `bound` has the words of a function's parameters,
# `inside` the functions that are being told.
speech_of <- function(game, settings = resolve_settings(game))
  list(game = game, settings = settings, bound = list(), inside = list())

spoken <- function(node, say) {
  switch(node$kind, number = plain_number(node$value), text = node$value, missing = "",
         name = name_words(node$name, say), call_words(node, say))
}

name_words <- function(name, say) {
  if (!is.null(say$bound[[name]])) return(say$bound[[name]])
  words <- say$game$in_words[[name]]
  setting <- say$settings[[name]]
  if (!is.null(setting) && length(setting) == 1) return(setting_words(say$game$settings[[name]], setting))
  f <- say$game$names[[name]]
  if (identical(f$kind, "decision")) return(sprintf("the %s", plain_name(name)))  # its words are the question
  if (!is.null(words)) {
    say$bound[[name]] <- plain_name(name)  # within its own words the name is a plain name
    return(filled_words(words$text, say))
  }
  if (identical(f$kind, "constant")) return(spoken(f$node, say))
  switch(name, winner = "the winner", others = "the others", otherwise = "in any other case", pass = "a pass",
         turns_played = "the number of turns so far",
         passes = "the number of passes so far", asks = "the number of answers so far",
         last_mover = "who had the last turn", plain_name(name))
}

# "score[ann]" is "the score of ann". Names without words lose their underscores.
in_words_of <- function(names, words) {
  base <- sub("\\[.*", "", names)
  key <- ifelse(grepl("[", names, fixed = TRUE), sub("^[^[]*\\[(.*)\\]$", " of \\1", names), "")
  known <- words[base]
  paste0(ifelse(is.na(known), plain_name(base), known), plain_name(key))
}

# The words of what a round names: what is remembered, on the table, or an answer.
words_of_names <- function(game, settings) {
  say <- speech_of(game, settings)
  names <- Filter(function(name) !name %in% names(settings) && !identical(game$names[[name]]$kind, "function"),
                 names(game$in_words))
  vapply(stats::setNames(nm = as.character(names)), name_words, "", say = say)
}

setting_words <- function(setting, value) {
  if (is_kind(setting$type, "yesno")) c("no", "yes")[[value + 1]] else plain_number(value)
}

# Fills in the expressions in { } of a text, in words.
filled_words <- function(text, say) {
  at <- gregexpr("\\{[^{}]*\\}", text)
  regmatches(text, at) <- lapply(regmatches(text, at), function(place)
    vapply(place, function(part) spoken(parse_expression(substr(part, 2, nchar(part) - 1)), say), ""))
  text
}

# The words of a function with its arguments filled in; without words its body, where that is one short expression.
function_words <- function(f, node, say) {
  args <- vapply(node$args, spoken, "", say = say)
  params <- f$params
  bound <- stats::setNames(as.list(args), params[seq_along(args)])
  words <- say$game$in_words[[f$name]]
  inner <- say
  inner$bound <- bound
  inner$inside[[f$name]] <- TRUE
  if (is.null(say$inside[[f$name]])) {
    if (!is.null(words)) return(filled_words(words$text, inner))
    if (is_short(single_body(f$body))) return(spoken(single_body(f$body), inner))
  }
  if (length(args) == 0) return(plain_name(f$name))
  sprintf("%s of %s", plain_name(f$name), paste(args, collapse = " and "))
}

# The one expression of a body in braces, else the body.
single_body <- function(body) if (is_call(body, "{") && length(body$args) == 1) body$args[[1]] else body

# One expression of a few operations.
is_short <- function(node) {
  if (node$kind != "call") return(TRUE)
  known <- c(names(infix_words), "!", "(", "[", "size", "sum", "max", "min", "other", "c", "roll", ":")
  node$fn %in% known && length(node$args) <= 3 && all(vapply(node$args, is_short, NA))
}

infix_words <- c("&&" = "and", "||" = "or", "==" = "is", "!=" = "is not", "<" = "is below", ">" = "is above",
                 "<=" = "is at most", ">=" = "is at least", "+" = "+", "-" = "-", "*" = "*", "/" = "/",
                 "%%" = "modulo", "%/%" = "divided, rounded down, by", "%in%" = "is one of")
opposites <- c("==" = "!=", "!=" = "==", "<" = ">=", ">=" = "<", ">" = "<=", "<=" = ">")

call_words <- function(node, say) {
  fn <- node$fn
  a <- node$args
  words <- function(k) spoken(a[[k]], say)
  entry <- say$game$names[[fn]]
  if (identical(entry$kind, "function")) return(function_words(entry, node, say))
  if (!is.null(entry) && entry$kind %in% c("column", "table"))
    return(sprintf("the %s of %s", name_words(fn, say), words(1)))
  if (fn %in% names(infix_words) && length(a) == 2) return(infix_text(node, say))
  switch(fn,
    "-" = paste0("-", words(1)), "(" = if (is_call(a[[1]], "if")) sprintf("(%s)", words(1)) else words(1),
    "{" = if (length(a) == 1) words(1) else "what follows",
    "!" = negated_words(a[[1]], say), ":" = sprintf("%s to %s", words(1), words(2)),
    c = enumerated(vapply(a, spoken, "", say = say)),
    "if" = sprintf("%s if %s%s", words(2), words(1), if (length(a) > 2) paste(", otherwise", words(3)) else ""),
    "[" = place_words(node, say),
    word_words(node, say))
}

infix_text <- function(node, say) {
  if (is_call(node$args[[1]], "size") && identical(node$args[[2]]$value, 0) && node$fn %in% c("==", "!=", ">"))
    return(sprintf("%s %s", spoken(node$args[[1]]$args[[1]], say), if (node$fn == "==") "is empty" else "is not empty"))
  if (is_multiple(node))
    return(sprintf("%s is %sa multiple of %s", spoken(node$args[[1]]$args[[1]], say),
                   if (node$fn == "!=") "not " else "", spoken(node$args[[1]]$args[[2]], say)))
  inside <- function(n) if (is_call(n, "if") || (is_call(n, "||") && node$fn == "&&"))
    sprintf("(%s)", spoken(n, say)) else spoken(n, say)
  sides <- vapply(node$args, inside, "")
  mixed <- node$fn == "||" && any(grepl(" and ", sides, fixed = TRUE))
  sprintf("%s%s %s %s", sides[[1]], if (mixed) "," else "", infix_words[[node$fn]], sides[[2]])
}

# shown %% 3 == 0
is_multiple <- function(node) node$fn %in% c("==", "!=") && is_call(node$args[[1]], "%%") &&
  identical(node$args[[2]]$value, 0)

negated_words <- function(node, say) {
  if (is_call(node, "(")) node <- node$args[[1]]
  if (node$kind == "call" && node$fn %in% names(opposites)) {
    node$fn <- opposites[[node$fn]]
    return(spoken(node, say))
  }
  text <- spoken(node, say)
  verb <- regmatches(text, regexpr("\\b(is|are|has|have|can)\\b", text))
  if (length(verb) > 0 && !grepl(" (and|or) ", text)) sub(sprintf("\\b%s\\b", verb), paste(verb, "not"), text)
  else sprintf("it is not so that %s", text)
}

# score[mover] is "score of mover", net[row, column] "net at row, column", net[row, ] "row of net".
place_words <- function(node, say) {
  keys <- node$args[-1]
  of <- spoken(node$args[[1]], say)
  given <- Filter(function(k) k$kind != "missing", keys)
  if (length(keys) > 1 && length(given) < length(keys))
    return(sprintf("the %s %s of %s", if (keys[[1]]$kind == "missing") "column" else "row",
                   spoken(given[[1]], say), of))
  if (length(keys) > 1) return(sprintf("%s at %s", of, paste(vapply(keys, spoken, "", say = say), collapse = ", ")))
  is_number <- keys[[1]]$kind == "number"
  sprintf(if (is_number) "%2$s of place %1$s" else "%2$s of %1$s", spoken(keys[[1]], say), of)
}

# Words of the language in everyday words.
word_words <- function(node, say) {
  a <- node$args[!node$names %in% c("as", "ties")]
  if (node$fn %in% c("any", "all", "count") && length(a) > 1) return(of_items(node$fn, a, say))
  words <- function(k) spoken(a[[k]], say)
  switch(node$fn,
    roll = if (length(a) > 1) sprintf("%s rolled %s times", words(1), words(2)) else sprintf("a roll of %s", words(1)),
    draw = sprintf("a card off %s", words(1)), size = sprintf("the number of items in %s", words(1)),
    other = sprintf("the other of %s", words(1)), next_seat = sprintf("who sits next to %s", words(1)),
    previous_seat = sprintf("who sits before %s", words(1)), playing = sprintf("%s is still in", words(1)),
    sum = if (length(a) > 1) sprintf("the sum of %s over %s", without_it(words(2)), words(1))
      else sprintf("the sum of %s", words(1)),
    max = sprintf("the greatest of %s", item_words(a, say)), min = sprintf("the least of %s", item_words(a, say)),
    abs = sprintf("%s without its sign", words(1)), round_down = sprintf("%s, rounded down", words(1)),
    round_up = sprintf("%s, rounded up", words(1)),
    any = sprintf("one of %s holds", words(1)), all = sprintf("all of %s hold", words(1)),
    count = sprintf("how many of %s hold", words(1)), turn_number = sprintf("the number of the turn of %s", words(1)),
    mask = sprintf("%s as far as its letters are among %s", words(1), words(2)),
    those = sprintf("those of %s that %s", words(1), plural_words(words(2))),
    leader = sprintf("who has the most %s", without_it(words(1))),
    who = sprintf("the only one whose %s", without_it(words(1))),
    wallet = sprintf("what %s has", words(1)), gained = sprintf("what %s has won", words(1)),
    beats = sprintf("%s beats %s", words(1), words(2)), pick = sprintf("one of %s by chance", item_words(a, say)),
    limits = sprintf("what may be put on %s", words(1)), chance = sprintf("luck, with a chance of %s", words(1)),
    place_of = sprintf("the place of %s by %s", words(1), without_it(words(2))),
    switch = sprintf("by %s: %s", words(1), paste(plain_name(node$names[-1]), vapply(a[-1], spoken, "", say = say),
                                                  collapse = "; ")),
    plain_words(source_words(node, say$game$source)))
}

# any, all and count over items or seats.
of_items <- function(fn, a, say) {
  if (identical(a[[1]]$name, "seats")) {
    say$bound$it <- switch(fn, any = "one seat", all = "every seat", "a seat")
    text <- spoken(a[[2]], say)
    return(if (fn == "count") sprintf("the number of seats where %s", text) else text)
  }
  of <- spoken(a[[1]], say)
  has <- has_words(a[[2]], say)
  which_of <- sprintf("%s of %s", c(any = "one", all = "all", count = "how many")[[fn]], of)
  if (!is.null(has)) return(paste(which_of, if (fn == "any") "has" else "have", has))
  text <- spoken(a[[2]], say)
  if (fn != "any") return(paste(which_of, plural_words(text)))
  paste(which_of, if (grepl("^it is", text)) without_it(text) else paste("is so that", text))
}

# rank == A of cards: "the rank A"; NULL of other conditions.
has_words <- function(node, say) {
  column <- if (node$kind == "call" && node$fn %in% c("==", ">=")) node$args[[1]]$name
  if (is.null(column) || !identical(say$game$names[[column]]$kind, "column")) return(NULL)
  sprintf("the %s %s%s", plain_name(column), spoken(node$args[[2]], say), if (node$fn == ">=") " or more" else "")
}

item_words <- function(args, say) paste(vapply(args, spoken, "", say = say), collapse = ", ")
without_it <- function(text) sub("^it (?=is|has|are)", "", sub(" of it\\b", "", text), perl = TRUE)
plural_words <- function(text) {
  text <- without_it(text)
  if (grepl("^is ", text)) sub("^is ", "are ", text) else paste("where", text)
}

# As written, on one line, comments left out.
source_words <- function(node, source) {
  at <- node$at
  lines <- source$lines[at[[1]]:at[[3]]]
  if (length(lines) == 1) return(substr(lines, at[[2]], at[[4]]))
  lines[[1]] <- substring(lines[[1]], at[[2]])
  lines[[length(lines)]] <- substr(lines[[length(lines)]], 1, at[[4]])
  paste(trimws(sub("#[^\"]*$", "", lines)), collapse = " ")
}
