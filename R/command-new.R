command_new <- function(args) {
  read <- read_options("new", args, list(option("out", "the file to write [my-FAMILY.game]", metavar = "FILE")),
                       takes_game = FALSE, arguments = "FAMILY",
                       missing = paste(c("the families are", families_told()), collapse = "\n    "))
  if (is.null(read)) return(0L)
  family <- read$rest[[1]]
  path <- if (is.null(read$options$out)) paste0("my-", family, ".game") else read$options$out
  new_game_file(family, path)
  put_out(sprintf("%s is written. Now: basanos check %s", path, path))
  0L
}
