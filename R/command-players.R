command_players <- function(args) {
  read <- read_options("players", args, c(game_options(), list(
    option("compare", "the players to compare, with commas between [all that can take every seat]", metavar = "NAMES"),
    option("of", "what is compared, with {seat} for the seat, as \"mean(points[{seat}])\" [mean_pay({seat})]",
           metavar = "MEASURE"),
    shared_option("engine"),
    option("rounds", "rounds to sample for each way of sitting [2e4; with --until at most 1e6]", metavar = "N"),
    option("until", "sample until each pair is told apart, or surely closer than this", metavar = "DIFFERENCE"),
    shared_option("seed"),
    shared_option("threads"),
    shared_option("format"),
    shared_option("out"),
    option("figure", "a figure of the pairings to draw as well, .png or .svg", metavar = "FILE"),
    option("ranking", "a figure of the ranking to draw as well, .png or .svg", metavar = "FILE"))))
  if (is.null(read)) return(0L)
  o <- read$options
  one_of_names(o$format, c("text", "json", "csv"), "format_unknown", "--format")
  if (!is.null(o$figure)) figure_kind(o$figure)
  if (length(o$player) > 0)
    abort_input("flag_wrong", "Here every player takes every seat.", "name those to compare: --compare careful,bold")
  result <- compare_players(read$game, if (!is.null(o$compare)) swept_players(o$compare), o$of, o$engine,
                            number_option(o$rounds), number_option(o$seed), number_option(o$threads), o$set, o$mode,
                            number_option(o$until))
  if (!is.null(o$figure)) save_figure(figure_players(result), o$figure)
  if (!is.null(o$ranking)) save_figure(figure_players(result, "ranking"), o$ranking)
  if (o$format != "json") return(put_table(result, NULL, o))
  put_out(players_json(result), o$out)
  0L
}

players_json <- function(x) {
  pairs <- lapply(seq_len(nrow(x$pairs)), function(k) {
    measures <- lapply(x$seats, function(seat) list(name = measure_of_seat(x$of, seat),
                                                    value = x$pairs[[paste0("of_", seat)]][[k]]))
    list(seats = as.list(x$pairs[k, x$seats, drop = FALSE]), measures = measures)
  })
  a <- x$advantage
  a$rounds_by_hand[!is.finite(a$rounds_by_hand)] <- NA
  whole <- list(format = 1L, game = x$game, of = x$of, engine = x$engine, rounds = x$rounds, pairs = pairs,
                advantage = a,
                ranking = x$ranking)
  as.character(jsonlite::toJSON(Filter(Negate(is.null), whole), dataframe = "rows", auto_unbox = TRUE, digits = NA,
                                na = "null", pretty = TRUE))
}
