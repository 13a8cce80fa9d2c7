# What happens in a round, in plain words: one item a step, two spaces deeper inside a condition or loop.

statement_items <- function(node, source) {
  text <- function(n) value_words(n, source)
  inside <- function(n) paste0("  ", statement_items(n, source))
  if (node$kind != "call") return(sprintf("the answer is %s", text(node)))
  a <- node$args
  switch(node$fn,
    "{" = unlist(lapply(a, statement_items, source = source)),
    "<-" = assigned_item(a, source),
    "if" = c(sprintf("if %s:", text(a[[1]])), inside(a[[2]]), if (length(a) > 2) c("otherwise:", inside(a[[3]]))),
    "while" = c(sprintf("as long as %s:", text(a[[1]])), inside(a[[2]])),
    "repeat" = c("again and again:", inside(a[[1]])),
    "for" = c(loop_item(a, source), inside(a[[3]])),
    "break" = "leave this loop",
    "next" = "go on with the next",
    "return" = sprintf("the answer is %s", text(a[[1]])),
    ask = ask_item(node, source),
    add = sprintf("add %s to %s", text(a[[1]]), text(a[[2]])),
    put = sprintf("put %s into %s", text(a[[1]]), text(a[[2]])),
    remove = sprintf("take %s out of %s", text(a[[1]]), text(a[[2]])),
    deal = sprintf("deal %s to %s", counted_cards(a[[1]], source), text(a[[2]])),
    move = sprintf("move %s%s", text(a[[1]]),
                   paste0(vapply(which(nzchar(node$names)),
                                 function(k) sprintf(" %s %s", node$names[[k]], text(a[[k]])), ""), collapse = "")),
    stake = stake_item(node, source),
    share = share_item(node, source),
    buy = sprintf("%s buys in for %s more", text(a[[1]]), text(a[[2]])),
    settle = settle_items(node, source),
    shuffle = sprintf("shuffle the spent cards back into %s%s", text(a[[1]]),
                      if (length(a) > 1) sprintf(", with %s", text(a[[2]])) else ""),
    burn = sprintf("take %s off %s unseen", if (length(a) > 1) counted_cards(a[[2]], source)
      else "a card", text(a[[1]])),
    say = sprintf("say: %s", a[[1]]$value),
    skip_next = "the next seat is passed over",
    again = "the same seat has another turn",
    reverse = "the turns go round the other way",
    out = sprintf("%s is out", text(a[[1]])),
    end_round = "the round ends",
    later = sprintf("(not written yet: %s)", a[[1]]$value),
    if (is_own_function(node$fn)) text(node) else sprintf("the answer is %s", text(node)))
}

# A value in words: conditions and cases are told, the rest is as the rules say it.
value_words <- function(node, source) {
  if (node$kind != "call") return(node_text(node, source))
  a <- node$args
  words <- function(n) value_words(n, source)
  switch(node$fn,
    "if" = sprintf("%s if %s%s", words(a[[2]]), node_text(a[[1]], source),
                   if (length(a) > 2) sprintf(", otherwise %s", words(a[[3]])) else ""),
    "{" = if (length(a) == 1) words(a[[1]]) else paste(statement_items(node, source), collapse = "; "),
    "(" = words(a[[1]]),
    switch = sprintf("by %s: %s", words(a[[1]]),
                     paste(plain_name(node$names[-1]), vapply(a[-1], words, ""), sep = " ", collapse = "; ")),
    node_text(node, source))
}

# A function of the rules rather than a word or an operator.
is_own_function <- function(fn) grepl("^[A-Za-z]", fn) && is.null(vocabulary_word(fn)) && !fn %in% kept_syntax

counted_cards <- function(node, source) {
  n <- node_text(node, source)
  if (n == "1") "a card" else sprintf("%s cards", n)
}

assigned_item <- function(a, source) {
  name <- node_text(a[[1]], source)
  v <- a[[2]]
  if (v$kind == "call" && v$fn == "roll")
    return(sprintf("roll %s: this is %s",
                   if (length(v$args) > 1)
                     sprintf("%s of %s", node_text(v$args[[2]], source), node_text(v$args[[1]], source))
                       else node_text(v$args[[1]], source), name))
  if (v$kind == "call" && v$fn == "draw")
    return(sprintf("draw a card of %s: this is %s", node_text(v$args[[1]], source), name))
  if (v$kind == "call" && v$fn == "pick")
    return(sprintf("pick %s by chance from %s", name, node_text(v$args[[1]], source)))
  if (v$kind == "call" && v$fn == "if" && length(v$args) == 3)
    return(sprintf("%s is now %s if %s, else %s", name, node_text(v$args[[2]], source), node_text(v$args[[1]], source),
                   node_text(v$args[[3]], source)))
  sprintf("%s is now %s", name, node_text(v, source))
}

loop_item <- function(a, source) {
  over <- a[[2]]
  if (over$kind == "call" && over$fn == "turns") {
    ends <- vapply(seq_along(over$args),
                   function(k)
                     sprintf("%s %s",
                             switch(over$names[[k]], each = "turns for each seat:", at_most = "turns at most:",
                                    plain_name(over$names[[k]])), node_text(over$args[[k]], source)), "")
    return(sprintf("the seats take turns (%s)%s:", plain_name(a[[1]]$name),
                   if (length(ends) > 0) paste0(", ", paste(ends, collapse = ", ")) else ""))
  }
  sprintf("for each %s of %s:", plain_name(a[[1]]$name), node_text(over, source))
}

ask_item <- function(node, source) {
  extra <- node$names %in% ask_extras
  k <- which(nzchar(node$names) & !extra)[[1]]
  who <- node$args[!nzchar(node$names)][[1]]
  answers <- node$args[[k]]
  offered <- vapply(answers$args, function(x) {
    if (x$kind == "call" && x$fn == "if" && length(x$args) == 2)
      sprintf("%s (if %s)", node_text(x$args[[2]], source), node_text(x$args[[1]], source))
    else node_text(x, source)
  }, "")
  legal <- node$args[node$names == "legal"]
  said <- function(name) {
    part <- node$args[node$names == name]
    if (length(part) > 0) sprintf(" (%s)", part[[1]]$value) else ""
  }
  chooses <- if (identical(who$name, "seats")) "all at once, unseen, choose"
    else paste(node_text(who, source), "chooses")
  sprintf("%s %s: %s%s%s%s", chooses, plain_name(node$names[[k]]),
          if (answers$fn == "some_of") "some of " else "one of ", paste(offered, collapse = ", "),
          if (length(legal) > 0) sprintf(", where %s%s", node_text(legal[[1]], source), said("because")) else "",
          if (any(node$names == "pass")) paste0(", or a pass", said("pass")) else "")
}
