command_check <- function(args) {
  read <- read_options("check", args,
                       c(game_options(),
                         list(option("format", "text or json [text]", "text", "FORMAT"),
                              flag_option("quick", "leave out what the tool finds out by looking over the rounds"),
                              flag_option("watch", "check again each time the file is saved, until Ctrl-C"),
                              flag_option("all", "everything worth knowing, not only the first ten"))))
  if (is.null(read)) return(0L)
  one_of_names(read$options$format, c("text", "json"), "format_unknown", "--format")
  o <- read$options
  check <- function() {
    result <- check_game(read$game, o[["players-file"]], !isTRUE(o$quick), set = o$set, players = o$player,
                         mode = o$mode)
    put_out(if (o$format == "json") check_json(result) else format(result, all = o$all))
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

check_json <- function(check) {
  table <- function(x) if (nrow(x) == 0) list() else x
  whole <- list(format = 2L, game = sub("\\.game$", "", check$name), ok = check$ok, problems = table(check$problems),
                examples = table(check$examples), claims = table(check$claims), findings = table(check$findings))
  as.character(jsonlite::toJSON(whole, dataframe = "rows", auto_unbox = TRUE, na = "null", pretty = TRUE))
}
