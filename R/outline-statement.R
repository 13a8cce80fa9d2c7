# The steps of a round in plain words: one item a step, two spaces deeper inside a condition or loop.

statement_items <- function(node, say) {
  text <- function(n) spoken(n, say)
  inside <- function(n) paste0("  ", statement_items(n, say))
  if (node$kind != "call") return(sprintf("the answer is %s", text(node)))
  a <- node$args
  switch(node$fn,
    "{" = unlist(lapply(a, statement_items, say = say)),
    "<-" = assigned_item(a, say),
    "if" = if_items(a, say),
    "while" = c(if (is_call(a[[1]], "!")) sprintf("until %s:", text(a[[1]]$args[[1]]))
                else sprintf("as long as %s:", text(a[[1]])), inside(a[[2]])),
    "repeat" = c("again and again:", inside(a[[1]])),
    "for" = c(loop_item(a, say), inside_loop(a, say)),
    "break" = "stop there",
    "next" = "go on with the next",
    "return" = sprintf("the answer is %s", text(a[[1]])),
    ask = ask_item(node, say),
    add = sprintf("add %s to %s", text(a[[1]]), text(a[[2]])),
    put = sprintf("put %s into %s", text(a[[1]]), text(a[[2]])),
    remove = sprintf("take %s out of %s", text(a[[1]]), text(a[[2]])),
    deal = sprintf("deal %s to %s", counted_cards(a[[1]], say), text(a[[2]])),
    move = sprintf("move %s%s", text(a[[1]]),
                   paste0(vapply(which(nzchar(node$names)),
                                 function(k) sprintf(" %s %s", node$names[[k]], text(a[[k]])), ""), collapse = "")),
    stake = stake_item(node, say),
    share = share_item(node, say),
    buy = sprintf("%s buys in for %s more", text(a[[1]]), text(a[[2]])),
    settle = settle_items(node, say),
    shuffle = sprintf("shuffle the spent cards back into %s%s", text(a[[1]]),
                      if (length(a) > 1) sprintf(", with %s", text(a[[2]])) else ""),
    burn = sprintf("take %s off %s unseen", if (length(a) > 1) counted_cards(a[[2]], say)
      else "a card", text(a[[1]])),
    say = sprintf("say: %s", filled_words(a[[1]]$value, say)),
    show = sprintf("show %s%s", text(a[[1]]), if (length(a) > 1) sprintf(" to %s", text(a[[2]])) else " to everybody"),
    skip_next = "the next seat is passed over",
    again = "the same seat has another turn",
    reverse = "the turns go round the other way",
    out = sprintf("%s is out", text(a[[1]])),
    end_round = "the round ends",
    later = sprintf("(not written yet: %s)", a[[1]]$value),
    if (is_own_function(node$fn)) text(node) else sprintf("the answer is %s", text(node)))
}

# "unless it is bust: ..." for a negated condition without an else.
if_items <- function(a, say) {
  inside <- function(n) paste0("  ", statement_items(n, say))
  head <- if (is_call(a[[1]], "!") && length(a) == 2) sprintf("unless %s:", spoken(a[[1]]$args[[1]], say))
    else sprintf("if %s:", spoken(a[[1]], say))
  c(head, inside(a[[2]]), if (length(a) > 2) c("otherwise:", inside(a[[3]])))
}

# A function of the rules rather than a word or an operator.
is_own_function <- function(fn) grepl("^[A-Za-z]", fn) && is.null(vocabulary_word(fn)) && !fn %in% kept_syntax

counted_cards <- function(node, say) {
  n <- spoken(node, say)
  if (n == "1") "a card" else if (grepl("^[0-9]+$", n)) sprintf("%s cards", n) else sprintf("cards (%s)", n)
}

assigned_item <- function(a, say) {
  name <- spoken(a[[1]], say)
  v <- a[[2]]
  if (v$kind == "call" && v$fn == "roll")
    return(sprintf("roll %s%s: this is %s", spoken(v$args[[1]], say),
                   if (length(v$args) > 1) sprintf(" %s times", spoken(v$args[[2]], say)) else "", name))
  if (v$kind == "call" && v$fn == "draw")
    return(sprintf("draw a card of %s: this is %s", spoken(v$args[[1]], say), name))
  if (v$kind == "call" && v$fn == "pick")
    return(sprintf("pick %s by chance from %s", name, spoken(v$args[[1]], say)))
  if (v$kind == "call" && v$fn == "if" && length(v$args) == 3)
    return(sprintf("%s is now %s if %s, else %s", name, spoken(v$args[[2]], say), spoken(v$args[[1]], say),
                   spoken(v$args[[3]], say)))
  sprintf("%s is now %s", name, spoken(v, say))
}

loop_item <- function(a, say) {
  over <- a[[2]]
  if (is_turns(over)) return(turns_item(over, named_mover(a, say)))
  if (identical(over$name, "seats")) return(sprintf("for each seat (%s):", plain_name(a[[1]]$name)))
  if (is_call(over, ":")) return(times_item(plain_name(a[[1]]$name), vapply(over$args, spoken, "", say = say)))
  sprintf("for each %s of %s:", plain_name(a[[1]]$name), spoken(over, say))
}

times_item <- function(name, ends) {
  if (ends[[1]] != "1" || !grepl("^[0-9]+$", ends[[2]]))
    return(sprintf("for %s from %s to %s:", name, ends[[1]], ends[[2]]))
  if (ends[[2]] == "1") "once:" else sprintf("%s times:", ends[[2]])
}

turns_item <- function(over, say) {
  if (over$kind == "name") return("the seats take turns:")
  ends <- vapply(seq_along(over$args), function(k) {
    words <- spoken(over$args[[k]], say)
    switch(if (nzchar(over$names[[k]])) over$names[[k]] else "until", each = sprintf("%s each", words),
           at_most = sprintf("%s at most", words), from = sprintf("from %s on", words), sprintf("until %s", words))
  }, "")
  sprintf("the seats take turns%s:", if (length(ends) > 0) paste0(", ", paste(ends, collapse = ", ")) else "")
}

# In the body of turns the loop variable is "the mover".
inside_loop <- function(a, say) {
  if (is_turns(a[[2]])) say <- named_mover(a, say)
  paste0("  ", statement_items(a[[3]], say))
}

is_turns <- function(over) identical(over$name, "turns") || is_call(over, "turns")

named_mover <- function(a, say) {
  say$bound[[a[[1]]$name]] <- "the mover"
  say
}

ask_item <- function(node, say) {
  extra <- node$names %in% ask_extras
  k <- which(nzchar(node$names) & !extra)[[1]]
  who <- node$args[!nzchar(node$names)][[1]]
  answers <- node$args[[k]]
  offered <- vapply(answers$args, function(x) {
    if (x$kind == "call" && x$fn == "if" && length(x$args) == 2)
      sprintf("%s (if %s)", spoken(x$args[[2]], say), spoken(x$args[[1]], say))
    else spoken(x, say)
  }, "")
  legal <- node$args[node$names == "legal"]
  said <- function(name) {
    part <- node$args[node$names == name]
    if (length(part) > 0) sprintf(" (%s)", part[[1]]$value) else ""
  }
  chooses <- if (identical(who$name, "seats")) "all at once, unseen, choose"
    else paste(spoken(who, say), "chooses")
  words <- say$game$in_words[[node$names[[k]]]]
  if (!is.null(words)) return(sprintf("%s: %s", chooses, filled_words(words$text, say)))
  sprintf("%s %s%s (the %s)%s%s", chooses, if (answers$fn == "some_of") "some of " else "",
          if (length(offered) == 1 && answers$args[[1]]$kind == "name") paste("one of", offered)
          else paste(offered, collapse = " or "), plain_name(node$names[[k]]),
          if (length(legal) > 0) sprintf(", where %s%s", spoken(legal[[1]], say), said("because")) else "",
          if (any(node$names == "pass")) paste0(", or a pass", said("pass")) else "")
}
