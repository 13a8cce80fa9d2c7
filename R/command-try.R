command_try <- function(args) {
  read <- read_options("try", args, game_options()[c("file", "set")], arguments = "EXPRESSION")
  if (is.null(read)) return(0L)
  got <- try_expression(read$game, read$rest[[1]], read$options$set)
  put_out(if (inherits(got, "basanos_signs")) format(got) else if (is.logical(got)) ifelse(got, "yes", "no")
    else format(got, digits = 15))
  0L
}
