command_players <- function(args) {
  read <- read_options("players", args, c(game_options(), list(
    option("compare", "the players to compare, with commas between [all that can take every seat]", metavar = "NAMES"),
    option("of", paste("the measure, with {seat} for the seat, as \"mean(points[{seat}])\" [mean_pay({seat}); of",
                       "a match how often it is won]"), metavar = "MEASURE"),
    shared_option("engine"),
    option("rounds", "rounds to sample for each way of sitting [2e4; with --until at most 1e6]", metavar = "N"),
    option("best", "which values are better, highest or lowest [highest]", "highest", "WHICH"),
    option("until", "sample until each pair is told apart, or surely closer than this", metavar = "DIFFERENCE"),
    shared_option("seed"),
    shared_option("threads"),
    shared_option("workers"),
    shared_option("format"),
    shared_option("out"),
    option("ranking", "a figure of the ranking, .png or .svg", metavar = "FILE")),
    figure_options("each player against each")))
  if (is.null(read)) return(0L)
  o <- read$options
  check_output(o)
  if (length(o$player) > 0)
    abort_input("flag_wrong", "Here every player takes every seat.", "name those to compare: --compare careful,bold")
  result <- told_if_stopped(
    compare_players(read$game, if (!is.null(o$compare)) swept_players(o$compare), o$of, o$engine,
                    number_option(o$rounds), number_option(o$seed), number_option(o$threads), o$set, o$mode,
                    number_option(o$until), number_option(o$workers), o$best), o, "players")
  if (!is.null(o$figure)) put_figure(result, o)
  if (!is.null(o$ranking)) put_figure(result, o, o$ranking, show = "ranking")
  put_result(result, o)
}
