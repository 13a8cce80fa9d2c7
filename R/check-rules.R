# From parsed rules to checked rules: every name resolved, every type known, all problems found.

# Returns the checked rules; stops with all the problems at once where there are any.
check_rules <- function(source, players = NULL) {
  parsed <- with_base(parse_rules(source), source)
  if (!is.null(players)) parsed <- with_players(parsed, players)
  source <- parsed$source
  widened <- list()
  for (reading in 1:10) {
    cx <- new_context(source)
    cx$problems <- parsed$problems
    cx$widened <- widened
    cx$unread <- parsed$unread
    for (name in setdiff(parsed$unread, names(vocabulary_words))) cx$names[[name]] <- list(name = name, kind = "unread", at = c(1L, 1L, 1L, 1L))
    cx$nodes_read <- parsed$nodes
    read_declarations(cx, parsed$nodes)
    if (!cx$widen_again) break
    widened <- cx$widened
  }
  problems <- sort_problems(unique(cx$problems))
  if (length(problems) > 0) abort_problems(problems, source)
  checked_rules(cx)
}

# The parts of the game by what they are, in the order in which they can be understood.
read_declarations <- function(cx, nodes) {
  d <- sort_declarations(cx, nodes)
  cx$spans <- c(if (length(d[["match"]]) > 0) "match", if (length(d[["sitting"]]) > 0) "sitting")
  for (n in d[["seats"]]) check_seats(cx, n)
  for (n in d[["setting"]]) check_setting(cx, n$name, n$value)
  for (n in d[["mode"]]) check_mode(cx, n$name, n$value)
  for (n in d[["constant"]]) declare(cx, n$name$name, n$name$at, "constant", node = n$value)
  for (n in d[["signs"]]) check_signs(cx, n$name, n$value)
  for (n in d[["names"]]) check_names_thing(cx, n$name, n$value)
  for (n in d[["die"]]) check_die(cx, n$name, n$value)
  for (n in d[["deck"]]) check_deck(cx, n$name, n$value)
  for (n in d[["codes"]]) check_codes(cx, n$name, n$value)
  for (n in d[["words"]]) check_words(cx, n$name, n$value)
  for (n in d[["alphabet"]]) check_alphabet(cx, n$name, n$value)
  for (n in d[["function"]]) declare(cx, n$name$name, n$name$at, "function", params = n$value$params, defaults = n$value$defaults, body = n$value$body)
  cx$state_names <- unlist(lapply(d[["state"]], function(n) n$names))
  cx$bodies <- c(d[["play"]], lapply(d[["function"]], `[[`, "value"))
  asks <- unlist(lapply(cx$bodies, collect_asks), recursive = FALSE)
  for (ask in asks) if (names_its_answers(cx, ask)) declare_decision(cx, ask)
  for (n in d[["state"]]) check_state(cx, n)
  for (ask in asks) if (!names_its_answers(cx, ask)) declare_decision(cx, ask)
  for (n in d[["player"]]) declare_player(cx, n$name, n$value)
  for (n in d[["constant"]]) check_value(cx, new_scope("a constant"), n$name)
  check_title(cx, d[["title"]])
  check_play(cx, d[["play"]])
  if (one_only(cx, d[["outcomes"]], "outcomes")) check_outcomes(cx, d[["outcomes"]][[1]])
  for (n in d[["because"]]) check_because(cx, n)
  if (length(d[["match"]]) > 0) { one_only(cx, d[["match"]], "match"); check_match(cx, d[["match"]][[1]]) }
  if (length(d[["sitting"]]) > 0) { one_only(cx, d[["sitting"]], "sitting"); check_sitting(cx, d[["sitting"]][[1]]) }
  for (n in d[["pays"]]) check_pays(cx, n)
  for (n in d[["stakes"]]) check_stakes(cx, n)
  for (n in d[["record"]]) check_record(cx, n)
  check_players(cx)
  check_functions(cx)
  for (n in d[["example"]]) check_example(cx, n)
  for (n in c(d[["always"]], d[["never"]])) check_claim(cx, n)
}

sort_declarations <- function(cx, nodes) {
  sorted <- list()
  keep <- function(kind, x) sorted[[kind]] <<- c(sorted[[kind]], list(x))
  for (n in nodes) {
    if (n$kind == "broken") next
    if (n$kind == "call" && n$fn == "<-") {
      name <- n$args[[1]]
      value <- n$args[[2]]
      if (name$kind != "name") report(cx, "assign_target", name$at, "At the top of a file a plain name is given a value.", "write name <- setting(7)")
      else if (value$kind == "function") keep("function", list(name = name, value = value))
      else if (value$kind == "call" && word_is(value$fn, "thing")) keep(value$fn, list(name = name, value = value))
      else if (value$kind == "call" && word_is(value$fn, "top", "statement", "inner")) report(cx, "not_declaration", value$at, sprintf("`%s` gives nothing to name.", value$fn), sprintf("write it without a name: %s", vocabulary_word(value$fn)$example))
      else keep("constant", list(name = name, value = value))
    } else if (n$kind == "call" && word_is(n$fn, "top")) keep(n$fn, n)
    else not_declaration(cx, n)
  }
  sorted
}

not_declaration <- function(cx, n) {
  if (n$kind == "call" && word_is(n$fn, "thing")) {
    return(report(cx, "not_declaration", n$at, sprintf("`%s` needs a name here.", n$fn), sprintf("write it like this: %s", vocabulary_word(n$fn)$example)))
  }
  if (n$kind == "call" && grepl("^[A-Za-z]", n$fn) && is.null(vocabulary_word(n$fn)) && !n$fn %in% kept_syntax) {
    mend <- did_you_mean(n$fn, words_of_kind("top"))
    return(report(cx, "unknown_name", n$fn_at, sprintf("There is no declaration `%s`.", n$fn), if (is.null(mend)) sprintf("the declarations are %s", some_of_names(words_of_kind("top"), 30)) else mend))
  }
  report(cx, "not_declaration", n$at, "This declares nothing, and stands outside the round.", "put what happens into play({ ... })")
}

one_only <- function(cx, nodes, word) {
  for (n in nodes[-1]) report(cx, "declared_twice", n$at, sprintf("`%s` stands twice.", word), "join the two")
  if (length(nodes) > 0) return(TRUE)
  if (word %in% cx$unread) return(FALSE)
  cx$problems <- c(cx$problems, list(problem("declaration_missing", sprintf("The rules have no `%s`.", word), sprintf("add it, as in %s", vocabulary_word(word)$example), c(1L, 1L, 1L, 1L))))
  FALSE
}

check_title <- function(cx, nodes) {
  if (length(nodes) == 0) return(invisible())
  one_only(cx, nodes, "title")
  args <- match_arguments(cx, nodes[[1]])
  if (is.null(args)) return(invisible())
  cx$title <- text_argument(cx, args$name, "The title")
  if (!is.null(args$line)) cx$line <- text_argument(cx, args$line, "The line about the game")
}

check_play <- function(cx, nodes) {
  cx$play <- in_order(list(), c(1L, 1L, 1L, 1L))
  if (!one_only(cx, nodes, "play")) return(invisible())
  args <- match_arguments(cx, nodes[[1]])
  if (is.null(args)) return(invisible())
  sc <- new_scope("play", may_write = TRUE, may_draw = TRUE)
  cx$play <- statement(cx, sc, args$body)
  cx$play_locals <- names(sc$vars)
  for (s in cx$state) if (s$lasts == "turn" && is.null(cx$has_turns)) {
    report(cx, "lifetime_turn", s$at, sprintf("`%s` lasts for a turn, and play has no turns.", s$name), "write for (mover in turns(...)), or leave lasts out")
  }
}

# A function that nothing calls is still read: its names must exist. Types need a call.
check_functions <- function(cx) {
  for (d in cx$names) if (d$kind == "function") {
    check_parameters(cx, d)
    check_names_in(cx, d$body, d$params)
  }
}

# A parameter is a name like any other: it may not also mean something in the whole file.
check_parameters <- function(cx, d) {
  for (p in d$params) {
    before <- cx$names[[p]]
    if (identical(before$kind, "state") && !assigns_to(d$body, p)) next  # reads what it is given, under the same name
    if (!is.null(before)) report(cx, "name_twice", d$at, sprintf("The parameter `%s` of `%s` already names %s (line %d).", p, d$name, kind_in_words(before$kind), before$at[[1]]), "choose another name for the parameter")
    else if (p %in% c(words_of_kind("constant"), "seats")) report(cx, "name_taken", d$at, sprintf("`%s` is a word of the language and cannot name a parameter.", p), "choose another name")
  }
}

check_names_in <- function(cx, node, known) {
  if (node$kind == "name") {
    if (node$name %in% c(known, "seats", "all", words_of_kind("constant"), cx$letters) || !is.null(cx$names[[node$name]])) return(invisible())
    return(unknown_name(cx, new_scope("a function"), node))
  }
  if (node$kind != "call") return(invisible())
  known <- c(known, assigned_in(node))
  if (grepl("^[A-Za-z]", node$fn) && !node$fn %in% kept_syntax && is.null(vocabulary_word(node$fn)) && !isTRUE(cx$names[[node$fn]]$kind %in% c("function", "column"))) {
    return(unknown_call(cx, new_scope("a function"), node))
  }
  if (node$fn %in% c("ask", "prefer", "say")) return(invisible())
  for (a in node$args) check_names_in(cx, a, known)
}

assigned_in <- function(node) {
  if (node$kind != "call") return(character())
  own <- if (node$fn %in% c("<-", "for") && node$args[[1]]$kind == "name") node$args[[1]]$name
  c(own, unlist(lapply(node$args, assigned_in)))
}

checked_rules <- function(cx) {
  list(source = cx$source, title = cx$title, line = cx$line, seats = cx$seats, labels = cx$labels, settings = cx$settings,
       names = cx$names, state = cx$state, decisions = Filter(function(d) d$kind == "decision", cx$names), players = cx$players,
       play = cx$play, outcomes = cx$outcomes, pays = cx$pays, paid = paid_seat_ids(cx), stakes = cx$stakes, records = cx$records,
       picks = cx$picks, examples = cx$examples, words = cx$words, letters = cx$letters, modes = cx$modes, notes = cx$notes,
       because = cx$because, match = cx$match, sitting = cx$sitting, past = cx$past, uses = cx$uses,
       next_id = cx$next_id, nodes = cx$nodes_read, claims = cx$claims, counted = as.character(cx$counted), counted_in_examples = as.character(cx$counted_in_examples), spans = cx$spans)
}
