command_list <- function(args) {
  read <- read_options("list", args, c(game_options(), list(
    option("by", "the secret [the first value of the state that nobody sees]", metavar = "EXPR"),
    option("of", "a measure, as \"mean(tries_used)\"; may be given several times", metavar = "MEASURE"),
    option("keep", "list the secrets whose first measure lies in a range, as 60%..90%", metavar = "LOW..HIGH"),
    option("write", "with --keep, a new file for these words, one a line", metavar = "FILE"),
    option("rounds", "rounds to sample [2e4, or 50 a word]", metavar = "N"),
    shared_option("seed"),
    shared_option("format"),
    shared_option("out"))))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  keep <- if (!is.null(o$keep)) unlist(target_range(o$keep, o$keep))
  if (!is.null(o$write) && is.null(keep))
    abort_input("argument_missing", "`--write` needs to know which words.", "add --keep 60%..90%")
  result <- told_if_stopped(list_rows(read$game, o$by, o$of, number_option(o$rounds), number_option(o$seed), o$set,
                                      o$player, o$mode, keep), o, "list")
  if (!is.null(o$write)) write_kept_words(result, o$write)
  put_result(result, o)
}

# A word list with a comment that says where it is from.
write_kept_words <- function(x, path) {
  head <- sprintf("# %s: %s from %s to %s, %s rounds of seed %s", x$game, x$of[[1]], plain_number(x$keep[[1]]),
                  plain_number(x$keep[[2]]), whole_text(x$rounds), plain_number(x$seed))
  write_new_file(charToRaw(paste0(paste(c(head, sort(x$kept)), collapse = "\n"), "\n")), path)
  tell_progress("written: ", path)
}
