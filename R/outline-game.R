#' The game in plain words
#'
#' A rule card for players: what is on the table, how a round goes, how it ends, what it pays; the top level
#' first, then each part. It works on rules with holes.
#'
#' @inheritParams game
#' @param format `"text"` or `"markdown"`.
#' @return A character vector, one element a line.
#' @export
#' @examples
#' writeLines(outline_game("tide-signs"))
outline_game <- function(rules, format = c("text", "markdown")) {
  format <- one_of_names(format[[1]], c("text", "markdown"), "format_unknown", "format")
  game <- game(rules)
  card <- outline_card(game)
  outline_lines(game, card$card, card$parts, format)
}

# list(card, parts): the items under each heading, and of each function that the rules use.
outline_card <- function(game) {
  nodes <- game$nodes
  part <- function(word) Filter(function(n) n$kind == "call" && n$fn == word, nodes)
  card <- list(
    "On the table" = table_items(game, nodes),
    "Who sits" = seat_items(game),
    "What is remembered" = unlist(lapply(part("state"), state_items, source = game$source)),
    "A round" = unlist(lapply(part("play"), function(n) statement_items(n$args[[1]], game$source))),
    "How it ends" = unlist(lapply(part("outcomes"), outcome_items, game = game)),
    "Several rounds" = span_items(c(part("match"), part("sitting")), game$source),
    "What is bet" = c(unlist(lapply(part("wallet"), wallet_item, source = game$source)),
                      unlist(lapply(part("bets"), bet_items, source = game$source)),
                      unlist(lapply(Filter(is_pot_node, nodes), pot_item, source = game$source))),
    "What bets bring" = unlist(lapply(part("settle"), settle_items, source = game$source)),
    "What it pays" = unlist(lapply(c(part("stakes"), part("pays")), pay_items, source = game$source)),
    "What is measured" = unlist(lapply(part("record"), record_items, source = game$source)),
    "Knobs" = setting_items(game),
    "Ways of playing" = unlist(lapply(Filter(is_player_node, nodes), player_items, game = game)))
  functions <- Filter(function(n) n$kind == "call" && n$fn == "<-" && n$args[[2]]$kind == "function", nodes)
  used <- Filter(function(n) mentions(nodes_outside_players(nodes, game), n$args[[1]]$name), functions)
  parts <- lapply(used,
                  function(n)
                    list(title = plain_name(n$args[[1]]$name), items = statement_items(n$args[[2]]$body, game$source)))
  list(card = Filter(function(items) length(items) > 0, card), parts = parts)
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
    lines <- c(lines, heading("The parts", 2))
    for (p in parts)
      lines <- c(lines, if (md) c(paste("###", p$title), "") else paste0("  ", p$title, ":"), if (md) bullets(p$items)
        else paste0("  ", bullets(p$items)))
  }
  lines
}

nodes_outside_players <- function(nodes, game) {
  Filter(function(n)
    !(is_player_node(n) || is_call(n, "example")), nodes)
}

is_pot_node <- function(n) is_call(n, "<-") && identical(n$args[[2]]$fn, "pot")

is_player_node <- function(n) is_call(n, "<-") &&
  (identical(n$args[[2]]$fn, "player") || is_player_with_arguments(n$args[[2]]))

# --- items ------------------------------------------------------------------------

plain_name <- function(name) gsub("_", " ", name)

# The text of a node as written in the rules, on one line, comments left out.
node_text <- function(node, source) {
  at <- node$at
  lines <- source$lines[at[[1]]:at[[3]]]
  if (length(lines) == 1) text <- substr(lines, at[[2]], at[[4]])
  else {
    lines[[1]] <- substring(lines[[1]], at[[2]])
    lines[[length(lines)]] <- substr(lines[[length(lines)]], 1, at[[4]])
    text <- paste(trimws(sub("#[^\"]*$", "", lines)), collapse = " ")
  }
  plain_words(text)
}

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
           node_text(n$args[[2]]$args[[k]], game$source))
  }, ""), collapse = ", "))
}

deck_text <- function(game, d) {
  asm <- new_assembler(game, resolve_settings(game))
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
  c(paste(game$seats[table_seats(game)], collapse = ", "),
    if (game$bettors > 0) sprintf("%s bets only", paste(only_bet, collapse = ", ")),
    if (!is.null(least)) sprintf("at least %d of them", as.integer(least)),
    if (!all(deciding)) sprintf("%s %s nothing", enumerated(game$seats[!deciding]),
                                if (sum(!deciding) == 1) "decides" else "decide"))
}

state_items <- function(node, source) {
  if (any(node$names == "scratch")) return(NULL)  # only the rules themselves work with it
  lasts <- node$args[node$names == "lasts"]
  keep <- node$names != "lasts"
  seen <- vapply(node$args[keep], function(a) {
    s <- if (a$kind == "call") seen_text(a) else ""
    if (nzchar(s)) s else ""
  }, "")
  sprintf("%s, at the start %s%s%s", plain_name(node$names[keep]),
          vapply(node$args[keep], start_text, "", source = source), seen,
          if (length(lasts) > 0) sprintf("; fresh each %s", lasts[[1]]$name) else "")
}

start_text <- function(a, source) {
  if (a$kind != "call") return(node_text(a, source))
  if (a$fn == "each") {
    n <- length(a$args)
    keys <- paste(vapply(a$args[-n], node_text, "", source = source), collapse = " and each ")
    return(sprintf("%s, for each %s", start_text(a$args[[n]], source), keys))
  }
  if (!a$fn %in% c("list", "bag", "one")) return(node_text(a, source))
  of <- node_text(a$args[[1]], source)
  start <- started_with(a)
  if (is.null(start)) return(sprintf(if (a$fn == "one") "none yet (of %s)" else "empty (for %s)", of))
  if (identical(start$name, "all")) sprintf("all of %s", of) else sprintf("%s (of %s)", node_text(start, source), of)
}

# What a list, bag or single item starts with, by name or in second place; NULL of one that starts empty.
started_with <- function(a) {
  named <- a$args[a$names == "start"]
  second <- a$args[-1][!nzchar(a$names[-1])]
  if (length(named) > 0) named[[1]] else if (length(second) > 0) second[[1]]
}

seen_text <- function(a) {
  own <- a$args[a$names == "seen_by"]
  if (length(own) > 0)
    return(switch(own[[1]]$name, nobody = " (seen by nobody)", owner = " (seen by its owner only)", everyone = "",
                  sprintf(" (seen by %s only)", own[[1]]$name)))
  inner <- Filter(function(x) x$kind == "call", a$args)
  if (length(inner) == 0) "" else seen_text(inner[[length(inner)]])
}

outcome_items <- function(node, game) {
  vapply(seq_along(node$args), function(k) {
    a <- node$args[[k]]
    name <- plain_name(node$names[[k]])
    if (identical(a$name, "otherwise"))
      return(if (name == "impossible") "nothing else can happen" else sprintf("%s: in any other case", name))
    if (!nzchar(name)) return(sprintf("by %s", value_words(a, game$source)))
    if (a$kind == "call" && a$fn %in% c("who", "leader"))
      return(sprintf("a seat %s: %s", name, seat_by(a$fn, value_words(a$args[[1]], game$source))))
    sprintf("%s: %s", name, value_words(a, game$source))
  }, "")
}

# "the one with the most score", "the only one whose score is at least 20"
seat_by <- function(fn, words) {
  if (fn == "leader") return(paste("the one with the most", sub(" of it$", "", words)))
  whose <- sub("^([a-z ]+) of it\\b", "whose \\1", words)
  paste("the only one", if (whose == words) paste("for which", words) else whose)
}

span_items <- function(nodes, source) {
  unlist(lapply(nodes,
                function(n)
                  sprintf("a %s: %s", n$fn,
                          paste(plain_name(n$names), vapply(n$args, node_text, "", source = source), collapse = ", "))))
}

pay_items <- function(node, source) {
  who <- node_text(node$args[[1]], source)
  if (node$fn == "stakes") return(sprintf("%s puts in %s", who, node_text(node$args[[2]], source)))
  amounts <- vapply(node$args[-1], value_words, "", source = source)
  names <- plain_name(node$names[-1])
  sprintf("%s: %s", who, paste(ifelse(nzchar(names), paste(names, amounts), amounts), collapse = ", "))
}

record_items <- function(node, source) {
  named <- nzchar(node$names) & node$names != "at"
  span <- node$args[node$names == "at"]
  when <- if (length(span) > 0) sprintf(", at the end of the %s", node_text(span[[1]], source)) else ""
  paste0(recorded_text(node, named, source), when)
}

recorded_text <- function(node, named, source) {
  sprintf("%s: %s", plain_name(node$names[named]), vapply(node$args[named], value_words, "", source = source))
}

# A way of playing: its name, and under it what it answers to each decision.
player_items <- function(node, game) {
  rules <- node$args[[2]]
  name <- declared_name(node)
  usual <- if (rules$kind == "function") usual_arguments(rules, game$source)
  if (rules$kind == "function") rules <- player_body(rules)
  is_rule <- nzchar(rules$names) & !rules$names %in% c("like", "peeks")
  like <- rules$args[rules$names %in% "like"]
  answers <- unlist(lapply(which(is_rule), function(k) {
    decision <- plain_name(rules$names[[k]])
    rule <- rules$args[[k]]
    if (is_call(rule, "{")) c(sprintf("  %s:", decision), paste0("    ", statement_items(rule, game$source)))
    else sprintf("  %s: %s", decision, value_words(rule, game$source))
  }))
  c(paste0(plain_name(name), usual, peeks_text(game$players[[name]]$peeks)), answers,
    if (length(like) > 0) sprintf("  otherwise as %s", node_text(like[[1]], game$source)))
}

usual_arguments <- function(rules, source) {
  values <- vapply(rules$defaults, value_words, "", source = source)
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
