# From parsed rules to checked rules: every name resolved, every type known, all diagnostics found.

# Returns the checked rules; stops with all the diagnostics at once where there are any.
check_rules <- function(source, players = NULL) {
  parsed <- with_base(parse_rules(source), source)
  check_parsed(if (is.null(players)) parsed else with_players(parsed, players))
}

# The same of nodes that have been read, or changed since.
check_parsed <- function(parsed) {
  source <- parsed$source
  widened <- list()
  for (reading in 1:10) {
    context <- new_context(source)
    context$diagnostics <- parsed$diagnostics
    context$widened <- widened
    context$unread <- parsed$unread
    for (name in setdiff(parsed$unread, names(vocabulary_words)))
      context$names[[name]] <- list(name = name, kind = "unread", at = c(1L, 1L, 1L, 1L))
    context$nodes_read <- parsed$nodes
    read_declarations(context, parsed$nodes)
    if (!context$widen_again) break
    widened <- context$widened
  }
  diagnostics <- sort_diagnostics(unique(context$diagnostics))
  if (length(diagnostics) > 0) abort_diagnostics(diagnostics, source)
  c(checked_rules(context), list(variant = parsed$variant))
}

# The parts of the game by what they are, in the order in which they can be understood.
read_declarations <- function(context, nodes) {
  d <- sort_declarations(context, nodes)
  context$spans <- c(if (length(d[["match"]]) > 0) "match", if (length(d[["sitting"]]) > 0) "sitting")
  for (n in d[["seats"]]) check_seats(context, n)
  for (n in d[["bettors"]]) check_bettors(context, n)
  for (n in d[["setting"]]) check_setting(context, n$name, n$value)
  for (n in d[["mode"]]) check_mode(context, n$name, n$value)
  for (n in d[["constant"]]) declare(context, n$name$name, n$name$at, "constant", node = n$value)
  for (n in d[["signs"]]) check_signs(context, n$name, n$value)
  for (n in d[["names"]]) check_names_thing(context, n$name, n$value)
  for (n in d[["die"]]) check_die(context, n$name, n$value)
  for (n in d[["deck"]]) check_deck(context, n$name, n$value)
  for (n in d[["codes"]]) check_codes(context, n$name, n$value)
  for (n in d[["words"]]) check_words(context, n$name, n$value)
  for (n in d[["table"]]) check_table_thing(context, n$name, n$value)
  for (n in d[["alphabet"]]) check_alphabet(context, n$name, n$value)
  for (n in d[["function"]])
    declare(context, n$name$name, n$name$at, "function", params = n$value$params, defaults = n$value$defaults,
            body = n$value$body)
  context$state_names <- unlist(lapply(d[["state"]], function(n) n$names))
  context$bodies <- c(d[["play"]], lapply(d[["function"]], `[[`, "value"))
  asks <- unlist(lapply(context$bodies, collect_asks), recursive = FALSE)
  for (ask in asks) if (names_its_answers(context, ask)) declare_decision(context, ask)
  for (n in d[["state"]]) check_state(context, n)
  check_money(context, d)
  for (ask in asks) if (!names_its_answers(context, ask)) declare_decision(context, ask)
  for (n in d[["player"]]) declare_player(context, n$name, n$value, n$params)
  for (n in d[["constant"]]) check_value(context, new_scope("a constant"), n$name)
  check_title(context, d[["title"]])
  check_play(context, d[["play"]])
  if (one_only(context, d[["outcomes"]], "outcomes")) check_outcomes(context, d[["outcomes"]][[1]])
  for (n in d[["in_words"]]) check_in_words(context, n)
  for (n in d[["because"]]) check_because(context, n)
  if (length(d[["match"]]) > 0) { one_only(context, d[["match"]], "match"); check_match(context, d[["match"]][[1]]) }
  if (length(d[["sitting"]]) > 0) {
    one_only(context, d[["sitting"]], "sitting")
    check_sitting(context, d[["sitting"]][[1]])
  }
  for (n in d[["pays"]]) check_pays(context, n)
  for (n in d[["stakes"]]) check_stakes(context, n)
  for (n in d[["settle"]]) check_settle(context, n)
  check_moved_money(context)
  for (n in d[["record"]]) check_record(context, n)
  check_players(context)
  check_functions(context)
  for (n in d[["example"]]) check_example(context, n)
  for (n in c(d[["always"]], d[["never"]])) check_claim(context, n)
}

sort_declarations <- function(context, nodes) {
  sorted <- list()
  keep <- function(kind, x) sorted[[kind]] <<- c(sorted[[kind]], list(x))
  for (n in nodes) {
    if (n$kind == "broken") next
    if (n$kind == "call" && n$fn == "<-") {
      name <- n$args[[1]]
      value <- n$args[[2]]
      if (name$kind != "name")
        report(context, "assign_target", name$at, "At the top of a file a plain name is given a value.",
               "write name <- setting(7)")
      else if (is_player_with_arguments(value))
        keep("player", list(name = name, value = player_body(value), params = value[c("params", "defaults")]))
      else if (value$kind == "function") keep("function", list(name = name, value = value))
      else if (value$kind == "call" && word_is(value$fn, "thing")) keep(value$fn, list(name = name, value = value))
      else if (value$kind == "call" && word_is(value$fn, "top", "statement", "inner")) {
        report(context, "not_declaration", value$at, sprintf("`%s` gives nothing to name.", value$fn),
               sprintf("write it without a name: %s", vocabulary_word(value$fn)$example))
      }
      else keep("constant", list(name = name, value = value))
    } else if (n$kind == "call" && word_is(n$fn, "top")) keep(n$fn, n)
    else not_declaration(context, n)
  }
  sorted
}

not_declaration <- function(context, n) {
  if (n$kind == "call" && word_is(n$fn, "thing")) {
    return(report(context, "not_declaration", n$at, sprintf("`%s` needs a name here.", n$fn),
                  sprintf("write it like this: %s", vocabulary_word(n$fn)$example)))
  }
  if (n$kind == "call" && grepl("^[A-Za-z]", n$fn) && is.null(vocabulary_word(n$fn)) && !n$fn %in% kept_syntax) {
    hint <- did_you_mean(n$fn, words_of_kind("top"))
    return(report(context, "unknown_name", n$fn_at, sprintf("There is no declaration `%s`.", n$fn),
                  if (is.null(hint)) sprintf("the declarations are %s", some_of_names(words_of_kind("top"), 30))
                  else hint))
  }
  report(context, "not_declaration", n$at, "This declares nothing, and is outside the round.",
         "put what happens into play({ ... })")
}

check_title <- function(context, nodes) {
  if (length(nodes) == 0) return(invisible())
  one_only(context, nodes, "title")
  args <- match_arguments(context, nodes[[1]])
  if (is.null(args)) return(invisible())
  context$title <- text_argument(context, args$name, "The title")
  if (!is.null(args$line)) context$line <- text_argument(context, args$line, "The line about the game")
}

check_play <- function(context, nodes) {
  context$play <- in_order(list(), c(1L, 1L, 1L, 1L))
  if (!one_only(context, nodes, "play")) return(invisible())
  args <- match_arguments(context, nodes[[1]])
  if (is.null(args)) return(invisible())
  scope <- new_scope("play", may_write = TRUE, may_draw = TRUE)
  context$play <- statement(context, scope, args$body)
  for (s in context$state) if (s$lasts == "turn" && is.null(context$has_turns)) {
    report(context, "lifetime_turn", s$at, sprintf("`%s` lasts for a turn, and play has no turns.", s$name),
           "write for (mover in turns(...)), or leave lasts out")
  }
}

# A function that nothing calls is still read: its names must exist. Types need a call.
check_functions <- function(context) {
  for (d in context$names) if (d$kind == "function") {
    check_parameters(context, d)
    check_names_in(context, d$body, d$params)
  }
}

# banker <- function(at = 20) player(...): a way of playing with arguments.
player_body <- function(node) {
  if (is_call(node$body, "{") && length(node$body$args) == 1) node$body$args[[1]] else node$body
}
is_player_with_arguments <- function(node) node$kind == "function" && is_call(player_body(node), "player")

check_names_in <- function(context, node, known) {
  if (node$kind == "name") {
    if (node$name %in% c(known, "seats", "all", words_of_kind("constant"), context$letters) ||
        !is.null(context$names[[node$name]])) return(invisible())
    return(unknown_name(context, new_scope("a function"), node))
  }
  if (node$kind != "call") return(invisible())
  known <- c(known, assigned_in(node))
  if (grepl("^[A-Za-z]", node$fn) && !node$fn %in% kept_syntax && is.null(vocabulary_word(node$fn)) &&
      !isTRUE(context$names[[node$fn]]$kind %in% c("function", "column"))) {
    return(unknown_call(context, new_scope("a function"), node))
  }
  if (node$fn %in% c("ask", "prefer", "say")) return(invisible())
  for (a in node$args[!node$names %in% c("as", "ties")]) check_names_in(context, a, known)
}

assigned_in <- function(node) {
  if (node$kind != "call") return(character())
  new_name <- if (node$fn %in% c("<-", "for") && node$args[[1]]$kind == "name") node$args[[1]]$name
    else unlist(lapply(node$args[node$names %in% "as"], `[[`, "name"))
  c(new_name, unlist(lapply(node$args, assigned_in)))
}

checked_rules <- function(context) {
  list(source = context$source, title = context$title, line = context$line, seats = context$seats,
       bettors = context$bettors,
       labels = context$labels, settings = context$settings,
       names = context$names, state = context$state,
       decisions = Filter(function(d) d$kind == "decision", context$names), players = context$players,
       play = context$play, outcomes = context$outcomes, pays = context$pays, paid = paid_seat_ids(context),
       stakes = context$stakes, records = context$records, unit_records = context$unit_records,
       picks = context$picks, examples = context$examples, words = context$words, letters = context$letters,
       modes = context$modes, mode_players = context$mode_players, notes = context$notes,
       because = context$because, in_words = context$in_words, play_locals = context$play_locals, match = context$match,
       sitting = context$sitting, past = context$past,
       uses = context$uses,
       next_id = context$next_id, paid_variable = context$paid_variable, nodes = context$nodes_read,
       claims = context$claims, money = context$money,
       counted = as.character(context$counted), counted_in_examples = as.character(context$counted_in_examples),
       spans = context$spans)
}

# tokens(piece = 0.5)
check_tokens <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  piece <- if (args$piece$kind == "number") args$piece$value else NA
  is_whole <- function(x) !is.na(x) && x >= 1 && abs(x - round(x)) < 1e-9 && x <= 1e6
  if (is_whole(piece)) context$money$piece <- list(num = round(piece), den = 1)
  else if (!is.na(piece) && piece > 0 && is_whole(1 / piece)) context$money$piece <- list(num = 1,
                                                                                          den = round(1 / piece))
  else report(context, "piece_wrong", args$piece$at, "A piece is a whole number of tokens, or a whole part of one.",
              "write 1, 5, 0.5, 0.1 or the like")
}

# Declared before play is read.
check_money <- function(context, declared) {
  context$money$seats <- context$seats
  if (length(declared[["tokens"]]) > 0 && one_only(context, declared[["tokens"]], "tokens"))
    check_tokens(context, declared[["tokens"]][[1]])
  for (n in declared[["bets"]]) check_bets(context, n)
  for (n in declared[["pot"]]) check_pot(context, n$name, n$value)
  for (n in declared[["wallet"]]) check_wallet(context, n)
}

# Once play and the settlement are known: what does not fit together, what was put in first, what each seat gains.
check_moved_money <- function(context) {
  check_settlement(context)
  check_wallets(context)
  context$money$bets <- first_stakes(context$money$bets, context$play)
  for (seat in seats_with_money(context$money)) context$pays <- c(context$pays, list(pay_of_money(context, seat)))
}

# The net result of a seat's bets and pots, as one more line of its pay.
pay_of_money <- function(context, seat) {
  at <- if (length(context$money$bets) > 0) context$money$bets[[1]]$at else context$money$pots[[1]]$at
  list(who = list(how = "seat", seat = seat), it = new_variable(context, "it", seat_type(context), at, "bound"),
       by_outcome = list(), otherwise = NULL, at = at,
       of_bets = TRUE, always = in_tokens(context$money$piece, net_of_seat(context$money, seat, at)))
}
