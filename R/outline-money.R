# Bets, pots and wallets in plain words, as one would tell them at the stall.

bet_items <- function(node, say) {
  text <- function(n) spoken(n, say)
  who <- text(node$args[[1]])
  vapply(which(nzchar(node$names)), function(k) {
    bet <- name_words(node$names[[k]], say)
    of <- node$args[[k]]
    if (is_call(of, "each"))
      return(sprintf("on each of %s, %s", text(of$args[[1]]), bet_words(who, bet, of$args[[length(of$args)]], say)))
    bet_words(who, bet, of, say)
  }, "")
}

# The stakes that a seat puts, or may put, on a bet.
bet_words <- function(who, bet, of, say) {
  text <- function(n) spoken(n, say)
  if (identical(of$value, 0)) return(sprintf("nothing lies on %s at first", bet))
  if (!is_call(of, "bet")) return(sprintf("%s puts %s on %s", who, spoken(of, say), bet))
  ends <- stats::setNames(lapply(of$args, text), ifelse(nzchar(of$names), of$names, "start"))
  start <- if (is.null(ends$start)) "0" else ends$start
  range <- if (!is.null(ends$least) && !is.null(ends$most)) sprintf("%s to %s", ends$least, ends$most)
    else if (!is.null(ends$most)) sprintf("up to %s", ends$most)
    else if (!is.null(ends$least)) sprintf("%s or more", ends$least)
    else "any amount"
  if (!is.null(ends$step)) range <- sprintf("%s, in steps of %s", range, ends$step)
  if (start == "0") sprintf("%s may put %s on %s", who, range, bet)
  else sprintf("%s puts %s on %s, and may have %s there", who, start, bet, range)
}

settle_items <- function(node, say) {
  bet <- plain_name(spoken(node$args[[1]], say))
  cases <- lapply(which(seq_along(node$args) > 1 & node$names != "most"), function(k) {
    name <- node$names[[k]]
    words <- odds_words(node$args[[k]], say)
    if (name == "otherwise") sprintf("otherwise %s", words)
    else if (nzchar(name)) sprintf("%s: %s", plain_name(name), words)
    else words
  })
  most <- node$args[node$names == "most"]
  c(sprintf("%s:", bet), paste0("  ", unlist(cases)),
    if (length(most) > 0) sprintf("  no more than %s is won", spoken(most[[1]], say)))
}

odds_words <- function(node, say) {
  text <- function(n) spoken(n, say)
  if (is_call(node, "if"))
    return(sprintf("%s if %s%s", odds_words(node$args[[2]], say), text(node$args[[1]]),
                   if (length(node$args) > 2) sprintf(", otherwise %s", odds_words(node$args[[3]], say)) else ""))
  if (is_call(node, "%to%")) return(sprintf("wins %s to %s", text(node$args[[1]]), text(node$args[[2]])))
  if (is_call(node, "%for%")) return(sprintf("%s come back for %s", text(node$args[[1]]), text(node$args[[2]])))
  if (node$kind != "name") return(text(node))
  switch(node$name, push = "the bet comes back", lost = "the bet is lost", stands = "the bet stays for the next round",
         node$name)
}

pot_item <- function(node, say) {
  args <- node$args[[2]]$args
  names <- node$args[[2]]$names
  lasts <- args[names == "lasts"]
  seed <- args[!nzchar(names) | names == "seed"]
  sprintf("%s: a pot%s%s", name_words(node$args[[1]]$name, say),
          if (length(seed) > 0) sprintf(" that starts with %s", spoken(seed[[1]], say)) else "",
          if (length(lasts) > 0 && identical(lasts[[1]]$name, "always")) ", kept until somebody wins it"
          else if (length(lasts) > 0) sprintf(", kept for a %s", spoken(lasts[[1]], say)) else "")
}

wallet_item <- function(node, say) {
  named <- function(name) {
    given <- node$args[node$names == name]
    if (length(given) > 0) spoken(given[[1]], say)
  }
  plain <- node$args[!nzchar(node$names)]
  start <- if (length(plain) > 1) spoken(plain[[2]], say) else named("start")
  needs <- named("needs")
  again <- named("again")
  paste0(sprintf("%s sits down with %s tokens", spoken(plain[[1]], say), start),
         if (!is.null(needs)) sprintf(" and goes on with %s or more",
                                      needs) else " and goes on while they pay for a round",
         if (!is.null(again)) sprintf(", buying in again %s times at most", again) else "")
}

stake_item <- function(node, say) {
  args <- node$args
  on <- args[node$names == "on"]
  on <- if (length(on) > 0) on[[1]] else args[[3]]
  plain <- args[!nzchar(node$names)]
  sprintf("%s puts %s on %s", spoken(plain[[1]], say), spoken(plain[[2]], say),
          plain_name(spoken(on, say)))
}

share_item <- function(node, say) {
  named <- function(name, k) {
    given <- node$args[node$names == name]
    if (length(given) > 0) given[[1]] else if (length(node$args) >= k && !nzchar(node$names[[k]])) node$args[[k]]
  }
  part <- named("part", 3)
  rest <- named("rest", 4)
  paste0(sprintf("%s%s goes to %s", if (!is.null(part)) sprintf("%s of ", spoken(part, say)) else "",
                 plain_name(spoken(named("pot", 1), say)), spoken(named("among", 2), say)),
         if (!is.null(rest)) sprintf("; what does not divide: %s", spoken(rest, say)) else "")
}
