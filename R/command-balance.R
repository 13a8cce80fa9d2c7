command_balance <- function(args) {
  read <- read_options("balance", args, c(game_options(), list(
    option("want",
           paste0("a target, as \"return_of(guest) in 0.92..0.94\", \"gain(guest) at least 1/3\", \"mean(tiles) ",
                          "at most 9 weight 2\"; may be given several times"), metavar = "TARGET"),
    option("knob", paste0("what may be turned, as \"pay(bright) in 1..6\", \"aim in 20..26 by 2\", \"mode in easy, ",
                          "hard\"; may be given several times"), metavar = "KNOB"),
    option("answers", "how many answers to give at most [4]", "4", "N"),
    option("slip", "how often players slip in the last column [0.05]", "0.05", "CHANCE"),
    option("write", "a file to write the changed rules to; it must not be there yet", metavar = "FILE"),
    shared_option("engine"),
    option("rounds", "rounds to sample at a point [1e6 of ten points or fewer, else 1e5]", metavar = "N"),
    shared_option("seed"),
    shared_option("threads"),
    shared_option("workers"),
    shared_option("format"),
    shared_option("out"),
    option("figure", "a figure of the knobs to draw as well, .png or .svg", metavar = "FILE"))))
  if (is.null(read)) return(0L)
  o <- read$options
  one_of_names(o$format, c("text", "json", "csv"), "format_unknown", "--format")
  if (!is.null(o$figure)) figure_kind(o$figure)
  slip <- number_option(o$slip)
  result <- balance_game(read$game, o$want, o$knob, o$set, o$player, o$mode, o$engine, number_option(o$rounds),
                         number_option(o$seed), number_option(o$threads), number_option(o$answers), slip,
                         number_option(o$workers), write = o$write)
  if (!is.null(o$figure)) save_figure(figure_balance(result), o$figure)
  if (o$format == "json") put_out(balance_json(result), o$out)
  else put_table(result, NULL, o)
  if (result$status == "impossible") 1L else 0L
}

balance_json <- function(x) {
  answers <- lapply(x$answers, function(a) {
    rows <- lapply(seq_len(nrow(a$targets)), function(k) {
      row <- as.list(a$targets[k, ])
      if (is.na(row$lower)) row[c("lower", "upper")] <- NULL
      if (!is.null(a$slipping)) row$slipping <- a$slipping[[k]]
      if (!is.null(a$players)) row$players <- lapply(as.list(a$players$values), `[[`, k)
      row
    })
    elsewhere <- lapply(names(a$elsewhere), function(name) list(name = name, value = a$elsewhere[[name]]))
    measures <- lapply(seq_len(nrow(a$measures)), function(k) as.list(a$measures[k, ]))
    list(kind = a$kind, knobs = a$knobs, measures = measures, targets = rows, elsewhere = elsewhere,
         changed = a$changed, steps = a$steps, engine = a$engine)
  })
  whole <- list(format = 1L, game = x$game, status = x$status, answers = answers, conflicts = as.list(x$conflicts),
                explored = x$explored, influence = x$influence, written = x$written)
  as.character(jsonlite::toJSON(Filter(Negate(is.null), whole), dataframe = "rows", auto_unbox = TRUE, digits = NA,
                                na = "null", pretty = TRUE))
}
