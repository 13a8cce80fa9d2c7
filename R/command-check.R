command_check <- function(args) {
  read <- read_options("check", args,
                       c(game_options(),
                         list(option("format", "text or json [text]", "text", "FORMAT"),
                              flag_option("quick", "leave out what the tool finds out by looking over the rounds"),
                              flag_option("all", "everything worth knowing, not only the first ten"))))
  if (is.null(read)) return(0L)
  one_of_names(read$options$format, c("text", "json"), "format_unknown", "--format")
  o <- read$options
  result <- check_game(read$game, o[["players-file"]], !isTRUE(o$quick), set = o$set, players = o$player, mode = o$mode)
  put_out(if (read$options$format == "json") check_json(result) else format(result, all = o$all))
  if (nrow(result$problems) > 0) 2L else if (result$ok) 0L else 1L
}

check_json <- function(check) {
  table <- function(x) if (nrow(x) == 0) list() else x
  whole <- list(format = 2L, game = sub("\\.game$", "", check$name), ok = check$ok, problems = table(check$problems),
                examples = table(check$examples), claims = table(check$claims), findings = table(check$findings))
  as.character(jsonlite::toJSON(whole, dataframe = "rows", auto_unbox = TRUE, na = "null", pretty = TRUE))
}
