command_outline <- function(args) {
  read <- read_options("outline", args, list(
    option("format", "text or markdown [text]", "text", "FORMAT"),
    option("out", "a file to write to, instead of standard output", metavar = "FILE")))
  if (is.null(read)) return(0L)
  put_out(outline_game(read$game, read$options$format), read$options$out)
  0L
}
