# What commands call where the options choose between functions, or stand for more than one argument; and commands that
# are not one call with one result.

streaks_of_game <- function(game, in_rounds = 100, length = NULL, ...) streaks(odds(game, ...), in_rounds, length)

compare_or_prove <- function(old, new, same = FALSE, measure = NULL, engine = NULL, ...) {
  if (!same) return(compare_games(old, new, measure = measure, engine = if (is.null(engine)) "auto" else engine, ...))
  refuse_options(list(measure = measure, engine = engine), "cannot go with --same")
  same_play(old, new, ...)
}

# The player of the seat is the one that differs, the other is the measure.
answers_or_partings <- function(game, seat = NULL, decision = NULL, against = NULL, set = list(), players = list(),
                                mode = NULL, most = NULL, ...) {
  game <- game_with(game, set)
  if (is.null(against)) {
    refuse_options(list(most = most), "goes with --against")
    return(player_answers(game, seat, decision, set = set, players = players, mode = mode, ...))
  }
  wanted <- asked_about(game, seat, decision)
  sitting <- resolve_players(game, players, resolve_settings(game, set, mode))[[wanted$seat]]
  player_partings(game, game$seats[[wanted$seat]], decision, against, sitting, set = set, players = players,
                  mode = mode, most = if (is.null(most)) 40 else most, ...)
}

list_of_options <- function(game, write = NULL, keep = NULL, ...) {
  if (!is.null(write) && is.null(keep))
    abort_input("argument_missing", "`--write` needs to know which words.", "add --keep 60%..90%")
  result <- secret_odds(game, keep = keep, ...)
  if (!is.null(write)) write_kept_words(result, write)
  result
}

# A word list with a comment that says where it is from.
write_kept_words <- function(x, path) {
  head <- sprintf("# %s: %s from %s to %s, %s rounds of seed %s", x$game, x$measure[[1]], plain_number(x$keep[[1]]),
                  plain_number(x$keep[[2]]), whole_text(x$rounds), plain_number(x$seed))
  write_new_file(charToRaw(paste0(paste(c(head, sort(x$kept)), collapse = "\n"), "\n")), path)
  tell_progress("written: ", path)
}

takings_or_till <- function(game, till = NULL, played = NULL, with = NULL, visits = NULL, hours = NULL,
                            visit_rounds = NULL, round_seconds = NULL, float = NULL, cap = NULL, visitors = NULL,
                            players = list(), ...) {
  evening <- Filter(Negate(is.null), list(visits = visits, hours = hours, visit_rounds = visit_rounds,
                                          round_seconds = round_seconds, float = float, cap = cap,
                                          visitors = visitors))
  if (is.null(till)) {
    refuse_options(list(played = played), "goes with --till")
    if (!is.null(visitors) && length(players) > 0)
      abort_input("takings_wrong", "With --visitor each kind of visitor says who plays.", "leave out --player")
    return(do.call(takings, c(list(c(list(game), lapply(with, game_of_name))), evening,
                             if (is.null(visitors)) list(players = players), list(...))))
  }
  refuse_options(c(evening, list(with = with)), "is of an evening and cannot go with --till")
  if (is.null(played)) abort_input("argument_missing", "`--till` needs to know after how many rounds.",
                                   "add --played 300")
  check_till(game, till, played, players = players, ...)
}

game_of_name <- function(name) game(name)

# Options that do not go with the others of the call.
refuse_options <- function(values, reason) {
  given <- names(Filter(Negate(is.null), values))
  if (length(given) > 0)
    abort_input("flag_wrong", sprintf("`--%s` %s.", gsub("_", "-", given[[1]]), reason), "leave out one of them")
}

# The figure of --figure, and that of --ranking.
figures_of_players <- function(result, o) {
  put_figure(result, o)
  put_figure(result, o, o$ranking, show = "ranking")
}

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

# The commands on single rounds: traced, played at the keyboard, kept by people.

run_trace <- function(read) {
  trace <- do.call(trace_round, call_arguments(read))
  if (isTRUE(read$values$as_example)) put_out(as_example(trace), read$values$out)
  else put_results(trace, read)
  if (is.null(trace$diagnostic)) 0L else 1L
}

run_play <- function(read) {
  if (!is.null(read$values$rounds)) check_rounds(read$values$rounds)
  do.call(play_game, call_arguments(read))
  0L
}

run_played <- function(read) {
  o <- read$values
  path <- read$rest[[1]]
  with_odds <- !isTRUE(o$no_model)
  if (!is.null(o$map)) {
    put_result(played_people(path, o$game, unlist(o$map), o$seat, isTRUE(o$advice)), o)
    return(0L)
  }
  table <- played_rounds(path, with_odds)
  if (with_odds && !isTRUE(o$summary) && !identical(o$format, "csv"))
    table["people"] <- list(played_people(path, advice = isTRUE(o$advice)))
  put_result(table, o)
  0L
}

# The command of odds: with --par and --each it gives other tables of the same odds.

odds_options <- function() c(game_options(), shared("engine"), list(
  number_option("rounds", "rounds to sample [1e6; 2e4 with word lists]")), shared("seed", "threads"), list(
  number_option("max-states", "states that exact may visit [5e6]"),
  number_option("max-seconds", "how long exact may take", "S"),
  number_option("precision",
                "sample until the half width of the interval of the first measure, or outcome, is at most this", "P"),
  measure_option("a measure, as \"edge(guest)\" or \"quantile(tiles, 0.9)\"; may be given several times",
                 several = TRUE),
  option("record", "one more quantity to measure, as \"high = max(score)\"; may be given several times",
         "NAME=EXPRESSION", several = TRUE, write = records_written),
  option("without", "records to leave out of a count, with commas between; they are sampled beside it", "NAMES",
         "names"),
  option("given", "count only rounds in which this holds, as \"turns > 8\"", "CONDITION"),
  option("by", paste("cross the outcomes with this expression, or with several of them; `outcome` gives the measures",
                     "by outcome; may be given several times"), "EXPRESSION", several = TRUE),
  option("at", "the odds from a position on, as \"guest_hand = c(9, 5)\"", "POSITION"),
  option("checkpoint", "save a sampled run to this file every few seconds, and go on from it", "FILE"),
  flag_option("par", "the par table: what each outcome and pay adds to the return and the variance"),
  option("each", "every answer of this decision side by side, whoever plays", "DECISION"),
  flag_option("distributions", "the quantiles and values of every record as well; csv has these instead",
              part = "show")), shared("format", "out"))

# Further games come without names.
odds_of_options <- function(game, ..., par = FALSE, each = NULL) {
  given <- list(...)
  is_game <- !nzchar(c(names(given), rep("", length(given)))[seq_along(given)])
  if (!par && is.null(each))
    return(do.call(odds, c(list(if (any(is_game)) c(list(game), given[is_game]) else game), given[!is_game])))
  table <- if (par) "par" else "each"
  refuse <- function(what) abort_input("flag_wrong", sprintf("%s cannot go with `--%s`.", what, table),
                                       sprintf("leave out one of them; `--given` may go with `--%s`", table))
  if (any(is_game)) refuse("Several games")
  for (name in c("at", "by", "record", "measure", "precision", "checkpoint")) if (!is.null(given[[name]]))
    refuse(sprintf("`--%s`", name))
  if (par && !is.null(each)) refuse("`--each`")
  if (par) par_table(game, NULL, ...) else odds_by_answer(game, each, ...)
}

figure_of_odds <- function(result, o) {
  if (!inherits(result, "basanos_odds")) return(put_figure(result, o))
  put_figure(result, o, show = if (isTRUE(o$distributions)) "distributions" else if (!is.null(o$at)) "answers")
}

# The commands on rules that are not one call with one result.

run_new <- function(read) {
  family <- read$rest[[1]]
  path <- if (is.null(read$values$out)) paste0("my-", family, ".game") else read$values$out
  new_game_file(family, path)
  put_out(sprintf("%s is written. Now: basanos check %s", path, path))
  0L
}

run_outline <- function(read) {
  card <- do.call(outline_game, call_arguments(read))
  put_out(card, read$values$out)
  tell_words_missing(card)
  0L
}

tell_words_missing <- function(card) {
  missing <- attr(card, "missing")
  if (length(missing) > 0)
    tell_progress(sprintf("The rule card has no words for %s. Say how you speak of it: in_words(%s = \"...\")",
                          enumerated(sprintf("`%s`", missing)), missing[[1]]))
}

run_try <- function(read) {
  got <- do.call(try_expression, call_arguments(read))
  put_out(if (inherits(got, "basanos_signs")) format(got) else if (is.logical(got)) ifelse(got, "yes", "no")
    else format(got, digits = 15))
  0L
}

run_check <- function(read) {
  o <- read$values
  check <- function() {
    result <- do.call(check_game, c(call_arguments(read),
                                    list(players_file = o$players_file, findings = !isTRUE(o$quick))))
    put_results(result, read)
    if (isTRUE(o$card) && nrow(result$problems) == 0) tell_words_missing(outline_game(read$game))
    if (nrow(result$problems) > 0) 2L else if (result$ok) 0L else 1L
  }
  if (isTRUE(o$watch)) watch_files(c(find_rules(read$game), o$players_file), check) else check()
}

# Does the work, and again each time one of the files has changed, for as long as `on()` says so.
watch_files <- function(paths, work, on = function() TRUE, wait = 0.3) {
  repeat {
    seen <- file.info(paths)[c("mtime", "size")]
    status <- tryCatch(work(), basanos_error = function(e) {
      put_out(conditionMessage(e))
      2L
    })
    put_out(c("", sprintf("%s: waiting for a change; Ctrl-C ends.", format(Sys.time(), "%H:%M:%S"))))
    while (identical(file.info(paths)[c("mtime", "size")], seen)) {
      if (!on()) return(status)
      Sys.sleep(wait)
    }
  }
}

# The facts that belong in the report of a fault.
situation_report <- function() {
  version <- function(p) if (requireNamespace(p, quietly = TRUE)) as.character(utils::packageVersion(p)) else "missing"
  imported <- c("cli", "digest", "jsonlite", "optparse", "Rcpp")
  suggested <- c("future", "generics", "ggplot2", "htmltools", "knitr", "processx", "tibble")
  exact <- odds("lantern-tiles", engine = "exact")$pays$mean
  sampled <- odds("lantern-tiles", engine = "sample", rounds = 20000)$pays
  works <- abs(sampled$mean - exact) < 5 * sampled$standard_error
  compiler <- nzchar(Sys.which(r_compiler()[[1]]))
  rows <- list(basanos = version("basanos"), R = as.character(getRversion()), system = utils::osVersion,
               platform = R.version$platform, locale = Sys.getlocale("LC_CTYPE"),
               cores = plain_number(parallel_cores()),
               compiler = if (compiler) "found" else "none: long runs are slower",
               "the engines agree" = if (works) "yes" else "NO",
               packages = paste(imported, vapply(imported, version, ""), collapse = ", "),
               "optional packages" = paste(suggested, vapply(suggested, version, ""), collapse = ", "))
  structure(list(rows = data.frame(what = names(rows), value = unlist(rows, use.names = FALSE))),
            class = result_class("situation"))
}

parallel_cores <- function() {
  cores <- parallel::detectCores()
  if (is.na(cores)) 1 else cores
}

#' @export
sections.basanos_situation <- function(x, ...)
  all_sections(section("Basanos on this machine", notes = sprintf("  %s  %s", format(x$rows$what), x$rows$value)))

#' @export
as.data.frame.basanos_situation <- function(x, ...)
  result_rows(x, "situation", gsub(" ", "_", x$rows$what), rep(NA_real_, nrow(x$rows)), text = x$rows$value)
