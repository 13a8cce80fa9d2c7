run_report <- function(read) {
  games <- c(list(read$game), as.list(read$rest))
  path <- if (is.null(read$values$path)) report_name(games) else read$values$path
  ask <- utils::modifyList(list(progress = TRUE, workers = 2), option_values(read, "call"))
  ask$path <- path
  told_if_stopped(do.call(report_games, c(list(games), ask)), list(), "report")
  put_out(path)
  0L
}

report_name <- function(games) {
  first <- games[[1]]
  name <- if (is_game(first)) name_of_file(first$source) else sub("[.]game$", "", basename(first))
  paste0(if (length(games) > 1) "fair" else name, ".html")
}
