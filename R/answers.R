#' What a player does
#'
#' Watches a player and tells how often it gives each answer in which situation.
#'
#' @inheritParams trace_round
#' @param seat The name of a seat that decides; by default the first.
#' @param decision The name of a decision; by default the first that the seat is asked.
#' @param by An expression of the rules language that says what the situation is; by default the one or two things that
#'   the seat sees which explain its answers best.
#' @param rounds Rounds to watch, whole matches or sittings; at most 10 000 decisions.
#' @return An object of class `basanos_answers`: a list with `rows`, a data frame with one row a situation and answer: a
#'   column for each thing that makes the situation, `met` (its share of all times that the decision is met), `answer`,
#'   `share`, `times`, `lower`, `upper` (Wilson's 95% interval); `by`, the names of these things; `decision`, `seat`,
#'   `player`, `rounds`; `words`, what the rule card calls the things in `by`.
#' @inheritSection odds Stopped
#' @section Formulas: What explains the answers best has the least entropy of the answers given it, with a term for the
#'   number of situations (Schwarz 1978, "Estimating the dimension of a model"); a second is added where it takes a
#'   tenth off the entropy of the answers.
#' @section Errors: `seat_unasked`, `position_none`, those of [odds()].
#' @export
#' @examples
#' player_answers("lantern-tiles", rounds = 300)
player_answers <- function(game, seat = NULL, decision = NULL, set = list(), players = list(), mode = NULL, by = NULL,
                           rounds = 2000, seed = 1) {
  check_quoted("by")
  asked <- asked_here("player_answers")
  game <- game_with(game, set)
  check_rounds(rounds)
  seed <- given_seed(seed)
  wanted <- asked_about(game, seat, decision)
  seen_by <- if (is.null(by)) c(sums_seen(game, wanted), locals_followed(game, wanted$decision)) else one_text(by, "by")
  question <- observing(new_question(game, set, players, mode), wanted, seen_by, sure = !is.null(by))
  program <- program_of(question, tracing = TRUE)
  result_of <- function(seen, stopped = NULL) {
    answers <- answers_result(game, program, wanted, by, seen, seed, stopped)
    answers$words <- situations_in_words(game, question$settings, answers$by, answers$seat)
    answers
  }
  seen <- with_part_result(observed_answers(game, program, question$observed, rounds, seed), function(stop)
    if (NROW(stop$seen) > 0) list(answers = result_of(stop$seen, stop$after)) else list())
  if (nrow(seen) == 0)
    abort_input("position_unseen", sprintf("`%s` was not asked of `%s` in %s rounds.", wanted$decision,
                                           game$seats[[wanted$seat]], whole_text(rounds)),
                "watch more rounds (--rounds), or another decision")
  with_call(result_of(seen), asked)
}

answers_result <- function(game, program, wanted, by, seen, seed, stopped) {
  if (is_collection(game$decisions[[wanted$decision]]$type)) seen$answer <- shorter_answers(seen$answer)
  things <- setdiff(names(seen), c("unit", "seat", "answer", "other"))
  by <- if (is.null(by)) explaining(seen$answer, seen[things]) else by
  structure(list(game = name_of_file(game$source), title = game$title, decision = wanted$decision,
                 seat = game$seats[[wanted$seat]], player = program$players[[game$seats[[wanted$seat]]]], by = by,
                 rows = shares_by_situation(seen, by), rounds = attr(seen, "rounds"), seed = seed, stopped = stopped),
            class = result_class("answers"))
}

situations_in_words <- function(game, settings, by, seat) {
  say <- speech_of(game, settings)
  words <- function(text) tryCatch(spoken(parse_expression(gsub("\\bme\\b", seat, text)), say),
                                   error = function(e) plain_name(text))
  vapply(as.character(by), words, "", USE.NAMES = FALSE)
}

most_answers_apart <- 12

# The number of items in each answer, where there are many answers of several items.
shorter_answers <- function(answers) {
  if (length(unique(answers)) <= most_answers_apart) return(answers)
  items <- ifelse(answers == "nothing", 0L, lengths(strsplit(answers, ", ", fixed = TRUE)))
  ifelse(items == 0, "none", ifelse(items == 1, "1 of them", sprintf("%d of them", items)))
}

# The question whose decisions are observed; of expressions that are not `sure` those that can be typed.
observing <- function(question, wanted, by, sure = TRUE) {
  question$observed <- wanted
  question <- with_players_worked_out(question)
  for (text in by) {
    asked <- if (sure) situation_asked(question, text, wanted$decision)
      else tryCatch(situation_asked(question, text, wanted$decision), basanos_error = function(e) NULL)
    if (is.null(asked)) next
    wanted$by[[text]] <- asked[c("node", "me")]
    question <- counted_too(question, asked$context)
  }
  question$observed <- wanted
  question
}

# The local names of play that some player's rule for the decision reads.
locals_followed <- function(game, decision) {
  d <- game$decisions[[decision]]
  read <- variables_in(lapply(d$rules, `[[`, "body"), "var")
  names(Filter(function(v) v$id %in% read, d$locals))
}

# --- what explains the answers ------------------------------------------------------------------

shares_by_situation <- function(seen, by) {
  situation <- lapply(seen[by], as_seen)
  key <- if (length(by) == 0) rep(1L, nrow(seen)) else match(do.call(paste, c(unname(situation), sep = "\r")),
                                                            unique(do.call(paste, c(unname(situation), sep = "\r"))))
  answers <- as.character(sort(as_seen(unique(seen$answer))))
  rows <- lapply(split(seq_len(nrow(seen)), key), function(group) {
    times <- vapply(answers, function(a) sum(seen$answer[group] == a), 0L)
    interval <- wilson_interval(times, length(group))
    cbind(list2DF(lapply(situation, function(x) rep(x[group[[1]]], length(answers))), nrow = length(answers)),
          data.frame(met = length(group) / nrow(seen), answer = answers, share = times / length(group), times = times,
                     lower = interval$lower, upper = interval$upper))
  })
  table <- do.call(rbind, c(unname(rows), make.row.names = FALSE))
  if (length(by) > 0) table <- table[do.call(order, unname(c(table[by], list(match(table$answer, answers))))), ]
  rownames(table) <- NULL
  table
}

most_answers_shown <- 8

#' @export
sections.basanos_answers <- function(x, ...) {
  groups <- like_situations(x)
  shown <- utils::head(groups, most_situations_shown)
  answers <- unique(x$rows$answer)
  cells <- stats::setNames(lapply(seq_along(x$by), function(k) vapply(shown, function(g) g$texts[[k]], "")), x$words)
  if (length(x$by) == 0) cells <- list(" " = "always")
  cells$met <- vapply(shown, function(g) percent_text(g$met, 1L), "")
  often <- tapply(x$rows$times, factor(x$rows$answer, levels = answers), sum)
  columns <- if (length(answers) <= most_answers_shown) seq_along(answers)
    else sort(utils::head(order(-often), most_answers_shown))
  for (k in columns) cells[[answers[[k]]]] <- vapply(shown, function(g) percent_text(g$shares[[k]], 1L), "")
  if (length(columns) < length(answers))
    cells[[sprintf("%d others", length(answers) - length(columns))]] <-
      vapply(shown, function(g) percent_text(sum(g$shares[-columns]), 1L), "")
  all_sections(
    section(sprintf("%s: what %s does as %s, asked for `%s`", title_of(x), x$player, x$seat, x$decision)),
    section(table = cells, notes = if (length(groups) > length(shown))
      sprintf("  ... and %d more situations (--format csv has all)", length(groups) - length(shown))),
    section(notes = c(
      if (length(answers) == 1) "Its answer is always the same."
      else if (length(x$by) == 0)
        "Nothing that the seat sees explains its answers. Its own earlier answers are not looked at."
      else sprintf("Situations by %s. \"met\" is the share of all times that it is asked.", enumerated(x$by)),
      sprintf("Watched: %s, seed %s.", count_text(x$rounds, "round"), plain_number(x$seed)))))
}

#' @export
as.data.frame.basanos_answers <- function(x, ...) {
  r <- x$rows
  by <- intersect(x$by, names(r))
  situation <- if (length(by) == 0) NA_character_
    else do.call(paste, c(unname(Map(function(name, v) paste(name, "=", v), by, lapply(r[by], format, trim = TRUE))),
                          sep = ", "))
  result_rows(x, "answer", r$answer, r$share, situation, lower = r$lower, upper = r$upper, decision = x$decision,
              seat = x$seat, player = x$player, r[c(by, "met", "times")], engine = "sample")
}
