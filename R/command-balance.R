command_balance <- function(args) {
  read <- read_options("balance", args, c(game_options(), list(
    option("want",
           paste0("a target, as \"return_of(guest) in 0.92..0.94\", \"gain(guest) at least 1/3\", \"mean(tiles) ",
                          "at most 9 weight 2\"; may be given several times"), metavar = "TARGET"),
    option("knob", paste0("what may be turned, as \"pay(bright) in 1..6\", \"aim in 20..26 by 2\", \"mode in easy, ",
                          "hard\"; may be given several times"), metavar = "KNOB"),
    option("answers", "how many answers to give at most [4]", "4", "N"),
    option("slip", "the chance of a slip at a decision, for the table of slips [0.05]", "0.05", "CHANCE"),
    option("write", "a file to write the changed rules to; it must not be there yet", metavar = "FILE"),
    option("answer", "which answer to write [1]", "1", "N"),
    shared_option("engine"),
    option("rounds", "rounds to sample at a point [1e6 of ten points or fewer, else 1e5]", metavar = "N"),
    shared_option("seed"),
    shared_option("threads"),
    shared_option("workers"),
    shared_option("format"),
    shared_option("out")), figure_options("how far each knob moves each target")))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  slip <- number_option(o$slip)
  result <- told_if_stopped(
    balance_game(read$game, o$want, o$knob, o$set, o$player, o$mode, o$engine, number_option(o$rounds),
                 number_option(o$seed), number_option(o$threads), number_option(o$answers), slip,
                 number_option(o$workers), write = o$write, answer = number_option(o$answer)), o, "balance")
  if (!is.null(o$figure)) put_figure(result, o)
  put_result(result, o)
  if (result$status == "impossible") 1L else 0L
}
