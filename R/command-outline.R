command_outline <- function(args) {
  read <- read_options("outline", args, list(
    option("format", "text or markdown [text]", "text", "FORMAT"),
    flag_option("all", "the state, records, settings and players as well"),
    shared_option("out")))
  if (is.null(read)) return(0L)
  card <- outline_game(read$game, read$options$format, isTRUE(read$options$all))
  put_out(card, read$options$out)
  tell_words_missing(card)
  0L
}

tell_words_missing <- function(card) {
  missing <- attr(card, "missing")
  if (length(missing) > 0)
    tell_progress(sprintf("The rule card has no words for %s. Say how you speak of it: in_words(%s = \"...\")",
                          enumerated(sprintf("`%s`", missing)), missing[[1]]))
}
