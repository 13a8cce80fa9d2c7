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
  told <- function(seen, stopped = NULL) {
    answers <- answers_result(game, program, wanted, by, seen, seed, stopped)
    answers$words <- situations_in_words(game, question$settings, answers$by, answers$seat)
    answers
  }
  seen <- with_part_result(observed_answers(game, program, question$observed, rounds, seed), function(stop)
    if (NROW(stop$seen) > 0) list(answers = told(stop$seen, stop$after)) else list())
  if (nrow(seen) == 0)
    abort_input("position_unseen", sprintf("`%s` was not asked of `%s` in %s rounds.", wanted$decision,
                                           game$seats[[wanted$seat]], whole_text(rounds)),
                "watch more rounds (--rounds), or another decision")
  with_call(told(seen), asked)
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

# list(decision, seat): what is asked about, checked.
asked_about <- function(game, seat, decision) {
  deciding <- which(vapply(seq_along(game$seats), function(s) length(asked_of(game, s)) > 0, NA))
  if (length(deciding) == 0)
    abort_input("position_none", "Nobody decides anything in this game.", "give a seat a decision: ask(guest, ...)")
  number <- if (is.null(seat)) deciding[[1]] else seat_number(game, seat)
  if (!number %in% deciding)
    abort_input("seat_unasked", sprintf("The seat `%s` decides nothing.", seat),
                sprintf("ask about %s", some_of_names(game$seats[deciding])))
  known <- asked_of(game, number)
  if (!is.null(decision) && !decision %in% known)
    abort_input("position_none", sprintf("`%s` is not asked `%s`.", game$seats[[number]], decision),
                or_spelling(did_you_mean(decision, known), sprintf("it is asked %s", some_of_names(known))))
  list(decision = if (is.null(decision)) known[[1]] else decision, seat = number)
}

# The question whose decisions are observed; of expressions that are not `sure` those that can be typed.
observing <- function(question, wanted, by, sure = TRUE) {
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

# list(node, me, context) of an expression as a rule of the player would have it.
situation_asked <- function(question, text, decision) {
  game <- question$game
  context <- context_of(question)
  scope <- new_scope("a situation")
  scope$me <- scope$chooser <- new_variable(context, "me", seat_type(context), c(1L, 1L, 1L, 1L), "bound",
                                            key = paste("me", text))
  scope$decision <- game$decisions[[decision]]
  read_locals(context, scope, scope$decision$locals, c(1L, 1L, 1L, 1L))
  node <- check_value(context, scope, parse_expression(text))
  blame_expression(context$diagnostics, text, game$source)
  list(node = node, me = scope$me, context = context)
}

# Sums of what lies in hands and heaps, as expressions: they explain more than the cards one by one.
sums_seen <- function(game, wanted) {
  unlist(lapply(game$state, function(part) {
    type <- part$variable$type
    own <- is_by_seat(type)
    if (is_kind(type, "each")) type <- type$of
    seen <- is_seen_by(part$variable$seen_by, if (own) wanted$seat else 0L, wanted$seat)
    if (isTRUE(part$hidden) || !is_collection(type) || !seen) return(NULL)
    name <- if (own) sprintf("%s[me]", part$name) else part$name
    columns <- if (length(type$of$set) == 1) names(Filter(function(d)
      identical(d$kind, "column") && is_kind(d$type, "whole") && !is.null(d$owners[[type$of$set]]), game$names))
    c(sprintf("size(%s)", name), sprintf("sum(%s)", name),
      if (length(columns) > 0) sprintf("sum(%s, %s)", name, columns))
  }))
}

# The local names of play that some player's rule for the decision reads.
locals_followed <- function(game, decision) {
  d <- game$decisions[[decision]]
  read <- variables_in(lapply(d$rules, `[[`, "body"), "var")
  names(Filter(function(v) v$id %in% read, d$locals))
}

# --- what explains the answers ------------------------------------------------------------------

most_situations <- 400

# The names of the one or two things that explain the answers best; none where they are always the same. `weight`: how
# often each was watched.
explaining <- function(answers, things, weight = rep(1, length(answers))) {
  things <- things[vapply(things, function(x) !anyNA(x) && length(unique(x)) > 1 &&
                          length(unique(x)) <= most_situations, NA)]
  things <- things[order(!vapply(things, function(x) is.numeric(as_seen(x)), NA))]  # of two alike the number
  entropy <- function(situation) entropy_given(answers, situation, weight)
  whole <- entropy(rep("", length(answers)))
  if (length(things) == 0 || whole == 0) return(character())
  alone <- vapply(things, entropy, 0)
  first <- names(which.min(alone))
  if (alone[[first]] > 0.97 * whole) return(character())
  rest <- setdiff(names(things), first)
  both <- vapply(rest, function(name) entropy(paste(things[[first]], things[[name]])), 0)
  if (length(both) > 0 && min(both) < alone[[first]] - 0.1 * whole) c(first, rest[[which.min(both)]]) else first
}

# Of the answers given the situation, in nats, with what as many situations would explain by luck alone added.
entropy_given <- function(answers, situation, weight) {
  n <- sum(weight)
  counts <- stats::xtabs(weight ~ situation + answers)
  p <- counts / rowSums(counts)
  plain <- -sum(counts * ifelse(p > 0, log(p), 0)) / n
  plain + (nrow(counts) - 1) * (ncol(counts) - 1) * log(n) / (2 * n)
}

shares_by_situation <- function(seen, by) {
  situation <- lapply(seen[by], as_seen)
  key <- if (length(by) == 0) rep(1L, nrow(seen)) else match(do.call(paste, c(unname(situation), sep = "\r")),
                                                            unique(do.call(paste, c(unname(situation), sep = "\r"))))
  answers <- as.character(sort(as_seen(unique(seen$answer))))
  rows <- lapply(split(seq_len(nrow(seen)), key), function(own) {
    times <- vapply(answers, function(a) sum(seen$answer[own] == a), 0L)
    interval <- wilson_interval(times, length(own))
    cbind(list2DF(lapply(situation, function(x) rep(x[own[[1]]], length(answers))), nrow = length(answers)),
          data.frame(met = length(own) / nrow(seen), answer = answers, share = times / length(own), times = times,
                     lower = interval$lower, upper = interval$upper))
  })
  table <- do.call(rbind, c(unname(rows), make.row.names = FALSE))
  if (length(by) > 0) table <- table[do.call(order, unname(c(table[by], list(match(table$answer, answers))))), ]
  rownames(table) <- NULL
  table
}

most_situations_shown <- 40
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

# Neighbouring numbers at which the player does the same are one row: list(texts, met, shares).
like_situations <- function(x) {
  rows <- x$rows
  n <- length(unique(rows$answer))
  k <- length(x$by)
  groups <- lapply(seq_len(nrow(rows) / n), function(i) {
    own <- rows[(i - 1) * n + seq_len(n), ]
    list(values = lapply(x$by, function(name) own[[name]][[1]]), met = own$met[[1]], shares = own$share,
         times = sum(own$times), ends = if (k > 0) rep(own[[x$by[[k]]]][[1]], 2))
  })
  merged <- list()
  for (g in groups) {
    last <- if (length(merged) > 0) merged[[length(merged)]]
    if (!is.null(last) && alike(last, g, k)) {
      all <- last$times + g$times
      last$shares <- (last$shares * last$times + g$shares * g$times) / all
      last$times <- all
      last$met <- last$met + g$met
      last$ends[[2]] <- g$ends[[2]]
      merged[[length(merged)]] <- last
    } else merged <- c(merged, list(g))
  }
  lapply(merged, function(g) {
    texts <- vapply(g$values, function(v) if (is.numeric(v)) plain_number(v) else v, "")
    if (k > 0 && g$ends[[1]] != g$ends[[2]]) texts[[k]] <- sprintf("%s to %s", plain_number(g$ends[[1]]),
                                                                   plain_number(g$ends[[2]]))
    g$texts <- texts
    g
  })
}

# The same but for the last thing, which is a number, and no difference beyond three errors.
alike <- function(a, b, k) {
  if (k == 0 || !is.numeric(b$ends) || !identical(a$values[-k], b$values[-k])) return(FALSE)
  p <- (a$shares * a$times + b$shares * b$times) / (a$times + b$times)
  error <- sqrt(p * (1 - p) * (1 / a$times + 1 / b$times))
  which.max(a$shares) == which.max(b$shares) && all(abs(a$shares - b$shares) <= 3 * error + 1e-9)
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
