#' The game in plain words
#'
#' A rule card, as one explains the game to a visitor: what is on the table, how a round goes, how it ends, what it
#' pays; then the parts that have no words of their own. It works on rules with holes. The rules say with `in_words()`
#' how they speak of what they name.
#'
#' @inheritParams game
#' @param format `"text"` or `"markdown"`.
#' @param all Tell also what is remembered and recorded, the settings, and how each player plays.
#' @return A character vector, one element a line; its attribute `missing` names what has no words and would be read
#'   more easily with some.
#' @export
#' @examples
#' writeLines(outline_game("tide-signs"))
outline_game <- function(rules, format = c("text", "markdown"), all = FALSE) {
  format <- one_of_names(format[[1]], c("text", "markdown"), "format_unknown", "format")
  game <- game(rules)
  card <- outline_card(game, all)
  structure(outline_lines(game, card$card, card$parts, format), missing = words_missing(game, card$parts))
}

# list(card, parts): the items under each heading, and of each function that has no words and does several things.
outline_card <- function(game, all = FALSE) {
  game$say <- speech_of(game)
  nodes <- game$nodes
  part <- function(word) Filter(function(n) n$kind == "call" && n$fn == word, nodes)
  card <- list(
    "On the table" = table_items(game, nodes),
    "Who sits" = seat_items(game),
    "What is remembered" = unlist(lapply(part("state"), state_items, say = game$say, all = all)),
    "A round" = unlist(lapply(part("play"), function(n) statement_items(n$args[[1]], game$say))),
    "How it ends" = unlist(lapply(part("outcomes"), outcome_items, game = game)),
    "Several rounds" = span_items(c(part("match"), part("sitting")), game$say),
    "What is bet" = c(unlist(lapply(part("wallet"), wallet_item, say = game$say)),
                      unlist(lapply(part("bets"), bet_items, say = game$say)),
                      unlist(lapply(Filter(is_pot_node, nodes), pot_item, say = game$say))),
    "What bets bring" = unlist(lapply(part("settle"), settle_items, say = game$say)),
    "What it pays" = unlist(lapply(c(part("stakes"), part("pays")), pay_items, game = game)))
  if (all) card <- c(card, list(
    "What is measured" = unlist(lapply(part("record"), record_items, say = game$say)),
    "Knobs" = setting_items(game),
    "Ways of playing" = unlist(lapply(Filter(is_player_node, nodes), player_items, game = game))))
  list(card = Filter(function(items) length(items) > 0, card), parts = lapply(functions_described(game), function(f)
    list(name = f$name, title = plain_name(f$name), items = statement_items(f$body, game$say))))
}

# Functions that the play calls, directly or not, without words of their own and too long to tell in place.
functions_described <- function(game) {
  left <- Filter(function(d) d$kind == "function" && is.null(game$in_words[[d$name]]), game$names)
  nodes <- nodes_described(game)
  described <- list()
  repeat {
    met <- Filter(function(f) mentions(nodes, f$name), left)
    if (length(met) == 0) return(Filter(function(f) !is_short(single_body(f$body)), described))
    described <- c(described, met)
    left <- left[setdiff(names(left), names(met))]
    nodes <- lapply(met, `[[`, "body")
  }
}

# The declarations that the card tells, functions aside.
nodes_described <- function(game) {
  read <- c("play", "outcomes", "pays", "settle", "match", "sitting", "bets", "wallet")
  Filter(function(n) n$kind == "call" && n$fn %in% read, game$nodes)
}

# Names that should have words: functions told in detail, and outcomes that call one.
words_missing <- function(game, parts) {
  long <- vapply(parts, `[[`, "", "name")
  entries <- Filter(function(e) e$how %in% c("condition", "seat") && is.null(game$in_words[[e$name]]),
                    game$outcomes$entries)
  reads_long <- function(e) any(vapply(long, function(name) mentions(outcome_nodes(game, e$name), name), NA))
  by_long <- Filter(reads_long, entries)
  unique(c(long, vapply(by_long, `[[`, "", "name")))
}

outcome_nodes <- function(game, name) {
  unlist(lapply(Filter(function(n) is_call(n, "outcomes"), game$nodes),
                function(n) n$args[n$names == name]), recursive = FALSE)
}

outline_lines <- function(game, card, parts, format) {
  md <- format == "markdown"
  heading <- function(text, level) if (md) c(paste(strrep("#", level), text), "")
    else c(if (level == 1) text else paste0(text, ":"))
  bullets <- function(items) c(if (md) sub("^( *)", "\\1- ", items) else paste0("  ", sub("^( *)", "\\1- ", items)), "")
  title <- if (is.null(game$title)) game$source$name else game$title
  lines <- c(heading(title, 1), if (!is.null(game$line)) c(if (md) game$line else paste0("  ", game$line)), "")
  for (name in names(card))
    lines <- c(lines, heading(name, 2), bullets(unname(card[[name]])))
  if (length(parts) > 0) {
    lines <- c(lines, heading("In detail", 2))
    for (p in parts)
      lines <- c(lines, if (md) c(paste("###", p$title), "") else paste0("  ", p$title, ":"), if (md) bullets(p$items)
        else paste0("  ", bullets(p$items)))
  }
  lines
}

is_pot_node <- function(n) is_call(n, "<-") && identical(n$args[[2]]$fn, "pot")

is_player_node <- function(n) is_call(n, "<-") &&
  (identical(n$args[[2]]$fn, "player") || is_player_with_arguments(n$args[[2]]))

# --- items ------------------------------------------------------------------------

plain_name <- function(name) gsub("_", " ", name)

# The text of the rules with its operators in words.
plain_words <- function(text) {
  for (pair in list(c("&&", "and"), c("||", "or"), c(">=", "is at least"), c("<=", "is at most"), c("==", "is"),
                    c("!=", "is not")))
                      text <- gsub(paste0("\\s*", gsub("([|])", "\\\\\\1", pair[[1]]), "\\s*"),
                                   paste0(" ", pair[[2]], " "), text)
  text <- gsub("%in%", "is among", text, fixed = TRUE)
  text <- gsub("!(?=[A-Za-z(])", "not ", gsub("_", " ", text), perl = TRUE)
  text <- gsub("([a-z])\\(\\)", "\\1", text)
  text <- gsub("([A-Za-z0-9]):([A-Za-z0-9])", "\\1 to \\2", text)
  text <- gsub("([a-z])\\[([a-z ]+)\\]", "\\1 of \\2", text)
  for (depth in 1:3) text <- gsub("\\b([a-z][a-z ]*[a-z])\\(([^(),]+)\\)", "\\1 of \\2", text)
  text
}

table_items <- function(game, nodes) {
  unlist(lapply(game$names, function(d) switch(d$kind,
    die = sprintf("%s, a die: %s", plain_name(d$name), faces_text(game, nodes, d)),
    signs = c(sprintf("%s: %s", plain_name(d$name), paste(plain_name(game$labels[d$members]), collapse = ", ")),
              paste0("  ", sign_pairs(game, d))),
    names = sprintf("%s: %s", plain_name(d$name), paste(plain_name(game$labels[d$members]), collapse = ", ")),
    deck = sprintf("%s, a deck of %s", plain_name(d$name), deck_text(game, d)),
    words = sprintf("%s: a list of %d words", plain_name(d$name), length(d$ids)), NULL)))
}

sign_pairs <- function(game, d) {
  won <- which(d$verbs != "", arr.ind = TRUE)
  sprintf("%s %s %s", game$labels[d$members[won[, 1]]], d$verbs[won], game$labels[d$members[won[, 2]]])
}

faces_text <- function(game, nodes, d) {
  for (n in nodes) if (n$kind == "call" && n$fn == "<-" && identical(n$args[[1]]$name, d$name))
    return(paste(vapply(seq_along(n$args[[2]]$args), function(k) {
    name <- n$args[[2]]$names[[k]]
    paste0(if (nzchar(name)) sprintf("%s with weight ", plain_name(name)),
           spoken(n$args[[2]]$args[[k]], game$say))
  }, ""), collapse = ", "))
}

deck_text <- function(game, d) {
  asm <- new_assembler(question_of(game, resolve_settings(game)))
  cards <- deck_array(asm, d$name)$cards
  names <- d$card_names
  sprintf("%s cards: %s%s%s", format(cards), paste(utils::head(names, 8), collapse = ", "),
          if (length(names) > 8) sprintf(" and so on to %s", names[[length(names)]]) else "",
          if (d$lasts == "round") "" else sprintf(" (it lasts a %s)", d$lasts))
}

seat_items <- function(game) {
  if (length(game$seats) == 0) return(character())
  deciding <- vapply(seq_along(game$seats), function(s) length(asked_of(game, s)) > 0, NA)
  least <- game$settings$seated$from$value
  only_bet <- game$seats[-table_seats(game)]
  c(paste(vapply(game$seats[table_seats(game)], name_words, "", say = game$say), collapse = ", "),
    if (game$bettors > 0) sprintf("%s bets only", paste(only_bet, collapse = ", ")),
    if (!is.null(least)) sprintf("at least %d of them", as.integer(least)),
    if (!all(deciding)) sprintf("%s %s nothing", enumerated(vapply(game$seats[!deciding], name_words, "",
                                                                  say = game$say)),
                                if (sum(!deciding) == 1) "decides" else "decide"))
}

# Plain counters are left out: the steps of the round tell them.
state_items <- function(node, say, all) {
  if (any(node$names == "scratch")) return(NULL)  # only the rules themselves work with it
  lasts <- node$args[node$names == "lasts"]
  is_plain <- vapply(node$args, function(a) a$kind != "call" || (a$fn == "one" && length(a$args) == 1), NA)
  keep <- node$names != "lasts" & (all | length(lasts) > 0 | !is_plain)
  if (!any(keep)) return(NULL)
  seen <- vapply(node$args[keep], function(a) {
    s <- if (a$kind == "call") seen_text(a) else ""
    if (nzchar(s)) s else ""
  }, "")
  sprintf("%s, at the start %s%s%s", vapply(node$names[keep], name_words, "", say = say),
          vapply(node$args[keep], start_text, "", say = say), seen,
          if (length(lasts) == 0) "" else if (lasts[[1]]$name == "turn") "; fresh each turn"
          else sprintf("; kept for the whole %s", lasts[[1]]$name))
}

start_text <- function(a, say) {
  if (a$kind != "call") return(spoken(a, say))
  if (a$fn == "each") {
    n <- length(a$args)
    keys <- paste(vapply(a$args[-n], spoken, "", say = say), collapse = " and each ")
    return(sprintf("%s, for each %s", start_text(a$args[[n]], say), keys))
  }
  if (!a$fn %in% c("list", "bag", "one")) return(spoken(a, say))
  of <- spoken(a$args[[1]], say)
  start <- started_with(a)
  if (is.null(start)) return(sprintf(if (a$fn == "one") "none yet (of %s)" else "empty (for %s)", of))
  if (identical(start$name, "all")) sprintf("all of %s", of) else sprintf("%s (of %s)", spoken(start, say), of)
}

# The start of a list, bag or single item, by name or in second place; NULL of one that starts empty.
started_with <- function(a) {
  named <- a$args[a$names == "start"]
  second <- a$args[-1][!nzchar(a$names[-1])]
  if (length(named) > 0) named[[1]] else if (length(second) > 0) second[[1]]
}

seen_text <- function(a) {
  owners <- a$args[a$names == "seen_by"]
  if (length(owners) > 0)
    return(switch(owners[[1]]$name, nobody = " (seen by nobody)", owner = " (seen by its owner only)", everyone = "",
                  sprintf(" (seen by %s only)", owners[[1]]$name)))
  inner <- Filter(function(x) x$kind == "call", a$args)
  if (length(inner) == 0) "" else seen_text(inner[[length(inner)]])
}

outcome_items <- function(node, game) {
  vapply(seq_along(node$args), function(k) {
    a <- node$args[[k]]
    written <- game$in_words[[node$names[[k]]]]
    name <- plain_name(node$names[[k]])
    words <- if (!is.null(written)) filled_words(written$text, game$say)
    if (!is.null(written)) return(if (words == name) name else sprintf("%s: %s", name, words))
    if (identical(a$name, "otherwise"))
      return(if (name == "impossible") "nothing else can happen" else sprintf("%s: in any other case", name))
    if (!nzchar(name)) return(sprintf("by %s", spoken(a, game$say)))
    if (a$kind == "call" && a$fn %in% c("who", "leader"))
      return(sprintf("a seat %s: %s", name, seat_by(a$fn, spoken(a$args[[1]], game$say))))
    sprintf("%s: %s", name, spoken(a, game$say))
  }, "")
}

# "the one with the most score", "the only one whose score is at least 20", "the only one who is home"
seat_by <- function(fn, words) {
  if (fn == "leader") return(paste("the one with the most", sub(" of it$", "", words)))
  if (grepl("^it (is|has|can) ", words)) return(paste("the only one", sub("^it", "who", words)))
  whose <- sub("^(the )?([a-z ]+) of it\\b", "whose \\2", words)
  paste("the only one", if (whose == words) paste("for which", words) else whose)
}

span_items <- function(nodes, say) {
  unlist(lapply(nodes, function(n) {
    parts <- vapply(seq_along(n$args), function(k) {
      words <- spoken(n$args[[k]], say)
      switch(n$names[[k]], first_to = sprintf("goes to who first has %s", words),
             best_of = sprintf("is the best of %s", words),
             rounds = sprintf("lasts %s rounds", words), matches = sprintf("lasts %s matches", words),
             until = sprintf("goes on until %s", words), counts = sprintf("counts %s", words),
             modes = sprintf("goes through %s", words), words)
    }, "")
    sprintf("a %s %s", n$fn, paste(parts, collapse = ", and "))
  }))
}

# The pay of each outcome: "bright: guest wins 2".
pay_items <- function(node, game) {
  say <- game$say
  who <- spoken(node$args[[1]], say)
  if (node$fn == "stakes")
    return(sprintf("%s puts in %s%s", who, spoken(node$args[[2]], say),
                   if (pays_by_outcomes_alone(game)) "; what is won comes on top of it" else ""))
  amounts <- vapply(node$args[-1], amount_words, "", who = who, say = say)
  names <- plain_name(node$names[-1])
  names[names == "otherwise"] <- "in any other case"
  ifelse(nzchar(names), sprintf("%s: %s", names, amounts), amounts)
}

# Pays are net of the stake, unless an unconditional line of pays takes the stake off.
pays_by_outcomes_alone <- function(game)
  !any(vapply(Filter(function(n) is_call(n, "pays"), game$nodes), function(n) any(!nzchar(n$names[-1])), NA))

amount_words <- function(node, who, say) {
  say$bound$it <- if (who == "the others") "that seat" else who
  value <- spoken(node, say)
  number <- suppressWarnings(as.numeric(value))
  loses <- if (is.na(number)) startsWith(value, "-") else number < 0
  verb <- if (loses) "loses" else "wins"
  if (who == "the others") verb <- if (loses) "lose" else "win"
  sprintf("%s %s %s", who, verb, if (identical(number, 0)) "nothing" else sub("^-", "", value))
}

record_items <- function(node, say) {
  named <- nzchar(node$names) & node$names != "at"
  span <- node$args[node$names == "at"]
  when <- if (length(span) > 0) sprintf(", at the end of the %s", spoken(span[[1]], say)) else ""
  paste0(recorded_text(node, named, say), when)
}

recorded_text <- function(node, named, say) {
  sprintf("%s: %s", plain_name(node$names[named]), vapply(node$args[named], spoken, "", say = say))
}

# A way of playing: its name, and under it what it answers to each decision.
player_items <- function(node, game) {
  rules <- node$args[[2]]
  name <- declared_name(node)
  usual <- if (rules$kind == "function") usual_arguments(rules, game$say)
  if (rules$kind == "function") rules <- player_body(rules)
  is_rule <- nzchar(rules$names) & !rules$names %in% c("like", "peeks")
  like <- rules$args[rules$names %in% "like"]
  answers <- unlist(lapply(which(is_rule), function(k) {
    decision <- plain_name(rules$names[[k]])
    rule <- rules$args[[k]]
    if (is_call(rule, "{")) c(sprintf("  %s:", decision), paste0("    ", statement_items(rule, game$say)))
    else sprintf("  %s: %s", decision, spoken(rule, game$say))
  }))
  c(paste0(plain_name(name), usual, peeks_text(game$players[[name]]$peeks)), answers,
    if (length(like) > 0) sprintf("  otherwise as %s", spoken(like[[1]], game$say)))
}

usual_arguments <- function(rules, say) {
  values <- vapply(rules$defaults, spoken, "", say = say)
  sprintf(" (usually %s)", paste(rules$params, values, sep = " = ", collapse = ", "))
}

setting_items <- function(game) {
  vapply(game$settings, function(s) {
    end <- function(e) if (!is.null(e) && e$op == "lit") format(e$value)
    start <- if (s$start$op == "lit")
      (if (is_kind(s$type, "yesno")) c("no", "yes")[[s$start$value + 1]] else format(s$start$value)) else "as said"
    range <- c(if (!is.null(end(s$from))) paste("from", end(s$from)), if (!is.null(end(s$to))) paste("to", end(s$to)))
    paste0(plain_name(s$name), ": ", start, if (length(range) > 0) sprintf(" (%s)", paste(range, collapse = " ")))
  }, "")
}

peeks_text <- function(peeks) {
  if (isTRUE(peeks)) " (peeks at what is hidden)"
  else if (length(peeks) > 0) sprintf(" (peeks at %s)", paste(peeks, collapse = ", "))
  else ""
}
