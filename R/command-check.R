command_check <- function(args) {
  read <- read_options("check", args,
                       c(game_options(),
                         list(shared_option("format"),
                              flag_option("quick", "check the rules and examples only, without findings"),
                              flag_option("watch", "check again each time the file is saved, until Ctrl-C"),
                              flag_option("card", "also names without words for the rule card"),
                              flag_option("all", "all findings, not only the three that matter most"))))
  if (is.null(read)) return(0L)
  check_output(read$options)
  o <- read$options
  check <- function() {
    result <- check_game(read$game, o[["players-file"]], !isTRUE(o$quick), set = o$set, players = o$player,
                         mode = o$mode)
    put_result(result, o, all = o$all)
    if (isTRUE(o$card) && nrow(result$problems) == 0) tell_words_missing(outline_game(read$game))
    if (nrow(result$problems) > 0) 2L else if (result$ok) 0L else 1L
  }
  if (isTRUE(o$watch)) watch_files(c(find_rules(read$game), o[["players-file"]]), check) else check()
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
