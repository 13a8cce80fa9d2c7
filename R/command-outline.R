command_outline <- function(args) {
  read <- read_options("outline", args, list(
    option("format", "text or markdown [text]", "text", "FORMAT"),
    shared_option("out")))
  if (is.null(read)) return(0L)
  put_out(outline_game(read$game, read$options$format), read$options$out)
  0L
}
