# The commands on rules that are not one call with one result.

run_new <- function(read) {
  family <- read$rest[[1]]
  path <- if (is.null(read$values$out)) paste0("my-", family, ".game") else read$values$out
  new_game_file(family, path)
  put_out(sprintf("%s is written. Now: basanos check %s", path, path))
  0L
}

run_outline <- function(read) {
  card <- do.call(outline_game, call_arguments(read))
  put_out(card, read$values$out)
  tell_words_missing(card)
  0L
}

tell_words_missing <- function(card) {
  missing <- attr(card, "missing")
  if (length(missing) > 0)
    tell_progress(sprintf("The rule card has no words for %s. Say how you speak of it: in_words(%s = \"...\")",
                          enumerated(sprintf("`%s`", missing)), missing[[1]]))
}

run_try <- function(read) {
  got <- do.call(try_expression, call_arguments(read))
  put_out(if (inherits(got, "basanos_signs")) format(got) else if (is.logical(got)) ifelse(got, "yes", "no")
    else format(got, digits = 15))
  0L
}

run_check <- function(read) {
  o <- read$values
  check <- function() {
    result <- do.call(check_game, c(call_arguments(read),
                                    list(players_file = o$players_file, findings = !isTRUE(o$quick))))
    put_results(result, read)
    if (isTRUE(o$card) && nrow(result$problems) == 0) tell_words_missing(outline_game(read$game))
    if (nrow(result$problems) > 0) 2L else if (result$ok) 0L else 1L
  }
  if (isTRUE(o$watch)) watch_files(c(find_rules(read$game), o$players_file), check) else check()
}

# Does the work, and again each time one of the files has changed, for as long as `on()` says so.
watch_files <- function(paths, work, on = function() TRUE, wait = 0.3) {
  repeat {
    seen <- file.info(paths)[c("mtime", "size")]
    status <- tryCatch(work(), basanos_error = function(e) {
      put_out(conditionMessage(e))
      2L
    })
    put_out(c("", sprintf("%s: waiting for a change; Ctrl-C ends.", format(Sys.time(), "%H:%M:%S"))))
    while (identical(file.info(paths)[c("mtime", "size")], seen)) {
      if (!on()) return(status)
      Sys.sleep(wait)
    }
  }
}
