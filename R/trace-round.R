#' Trace one round, step by step
#'
#' Plays one unit of a run again, by its number, and tells every draw, decision, stored value and
#' what was said, with the line of the rules behind it.
#'
#' @inheritParams sample_tally
#' @param unit The number of the round (of the match or sitting, where the game has them).
#' @param forced Forced draws and answers, as in an example: a text such as `"tile = c(7, 9), choice = draw"`.
#'   Where they run out, chance and the players go on.
#' @param where The name of an outcome, or a condition in the rules language: traces the first unit in which
#'   it holds. Units are sampled from `unit` on; what is too rare for that is sought over all branches of
#'   chance, and then the shortest such round is traced.
#' @param round The number of one round of a match or sitting: only that round is shown. `"all"` shows all rounds. By
#'   default all, or with `where` the first round in which it holds.
#' @param advice The name of a seat: tell of each of its answers what it costs against the best one ([best_play()]).
#' @param sees The name of a seat: tell only what it sees.
#' @return An object of class `basanos_trace`: a list with `events` (a data frame: `kind`, `line`, `who`,
#'   `name`, `value`), `outcome`, `reason`, `pays` (by seat), `records`, `unit`, `seed` and, of a match or sitting,
#'   `rounds` (how many it has) and `round`.
#' @section Errors: `where_never` where no unit is found, `round_none`, `draw_impossible`, and those of [odds()].
#' @export
#' @examples
#' trace_round("lantern-tiles", unit = 3)
#' trace_round("lantern-tiles", where = "bright")
trace_round <- function(game, unit = 1, set = list(), players = list(), mode = NULL, forced = NULL, where = NULL,
                        sees = NULL, round = NULL, seed = 1, advice = NULL) {
  check_quoted(c("forced", "where"))
  asked <- asked_here("trace_round")
  game <- game_with(game, set)
  check_rounds(unit, "unit")
  seed <- given_seed(seed)
  seat <- check_sees(game, sees)
  forced <- if (!is.null(forced)) forced_by(game, forced, set, players, mode)
  if (!is.null(forced$settings)) set <- utils::modifyList(as.list(set), forced$settings)
  question <- new_question(game, set, players, mode)
  if (!is.null(where)) {
    unit_found <- find_unit(question, where, unit, seed)
    unit <- unit_found$unit
    if (!is.null(unit_found$draws)) forced <- list(draws = unit_found$draws, answers = list())
  }
  if (!is.null(advice))
    question <- worked_out_above("with_advice")(question, game, asked_about(game, advice, NULL)$seat)
  watch <- function(question)
    watch_trace(game, program_of(question, tracing = TRUE), unit, seed, forced, seat, question$advice)
  trace <- watch(question)
  trace$set <- as.list(set)
  trace$words <- words_of_names(game, question$settings)
  if (!is.null(where)) trace$found_round <- round_found(question, trace, where, watch)
  if (is.null(round)) round <- trace$found_round
  with_call(if (is.null(round) || identical(round, "all")) trace else round_of_trace(trace, round), asked)
}

check_sees <- function(game, sees) {
  if (!is.null(sees)) seat_number(game, sees)
}

# With `up_to`, the key of a note, the unit stops there.
watch_trace <- function(game, program, unit, seed, forced, seat, advice = NULL, up_to = NULL) {
  trace <- list2env(list(game = game, program = program, seat = seat, left = forced, up_to = up_to, advice = advice,
                        events = list(), asked = list(), costs_here = list(), costs = numeric(), results = list(),
                        lasting = list()), parent = emptyenv())
  run <- watch_unit(program, seed, unit, list(
    draw = function(source, value, at) tell_draw(trace, source, value, at),
    ask = function(ask, again, ints, reals) tell_ask(trace, ask, ints, reals),
    trace = function(point, ints, reals) tell_trace(trace, point, ints, reals),
    round = function(ints, reals) tell_round(trace, ints, reals)))
  result <- if (length(trace$results) > 0) trace$results[[length(trace$results)]]
  diagnostic <- if (run$end == 1L) failure_diagnostic(game, program, run$failure)
  structure(list(name = name_of_file(game$source), title = game$title, source = game$source, unit = unit,
                 unit_kind = program$unit, seed = seed, forced = !is.null(forced),
                 players = Filter(Negate(is.na), as.list(program$players)), events = events_table(trace$events),
                 result = result, diagnostic = diagnostic, results = trace$results, lasting = trace$lasting,
                 advice = if (!is.null(advice)) list(objective = advice$objective, costs = trace$costs),
                 rounds = length(trace$results), round = NULL,  # where none is shown alone
                 outcome = result$outcome, reason = result$reason, pays = result$pays, records = result$records),
                 class = result_class("trace"))
}

tell_event <- function(trace, ...) trace$events <- c(trace$events, list(new_event(...)))

# `same`: what is remembered keeps its value; `came`: what came to a list or bag.
new_event <- function(kind, line, who = "", name = "", value = "", same = FALSE, came = "")
  list(kind = kind, line = line, who = who, name = name, value = value, same = same, came = came)

# A draw, unless it is forced; a seat that looks on does not see it.
tell_draw <- function(trace, source, value, at) {
  wanted <- take_forced(trace, "draws", source)
  shown <- if (is.null(wanted)) value else wanted
  unseen <- if (!is.null(trace$seat)) "(unseen)"
  seated <- match(source, seating_source(trace$game$seats))
  if (!is.na(seated)) {
    player <- players_seated(trace$program$players[[seated]])$names[[shown]]
    tell_event(trace, "seated", NA, trace$game$seats[[seated]], "player", if (is.null(unseen)) player else unseen)
  } else if (!startsWith(source, "chance of ")) {
    text <- if (is.null(unseen)) drawn_text(trace$game, trace$program, source, shown) else unseen
    tell_event(trace, "draw", trace$program$places[1, at + 1L], name = source, value = text)
  }
  wanted
}

# The answer is told once it is given, at the trace point behind the ask.
tell_ask <- function(trace, ask, ints, reals) {
  trace$asked <- c(trace$asked, list(ask))
  trace$costs_here <- c(trace$costs_here, list(advice_at(trace$advice, trace$game, trace$program, ask, ints, reals)))
  take_forced(trace, "answers", names(trace$game$decisions)[[ask$decision + 1L]])
}

tell_trace <- function(trace, point, ints, reals) {
  if (point$kind == "note") return(if (identical(point$key, trace$up_to)) FALSE)
  if (point$kind == "start") {
    trace$now <- all_remembered(trace$game, trace$program, ints, reals)
    return(NULL)
  }
  events <- tell_trace_point(trace$game, trace$program, point, trace$asked, ints, reals, trace$seat)
  trace$events <- c(trace$events, lapply(events, changed_event, trace = trace))
  if (point$kind == "answer") {
    Map(tell_advice, costs = trace$costs_here, answer = events[seq_along(trace$costs_here)],
        MoreArgs = list(trace = trace))
    trace$asked <- trace$costs_here <- list()
  }
  NULL
}

# What an answer costs, behind it.
tell_advice <- function(trace, costs, answer) {
  if (is.null(costs)) return(invisible())
  trace$costs <- c(trace$costs, cost_of_answer(costs, answer$value))
  tell_event(trace, "advice", answer$line, answer$who, answer$name, judged_text(costs, answer$value))
}

tell_round <- function(trace, ints, reals) {
  result <- round_result(trace$game, trace$program, ints, reals)
  trace$results <- c(trace$results, list(result))
  if (trace$program$unit == "round") return(invisible())
  tell_event(trace, "round", NA, name = "outcome", value = result_text(result))
  trace$lasting <- c(trace$lasting, list(lasting_values(trace$game, trace$program, ints, reals)))
}

# Everything remembered as texts, by the names of events: score[ann].
all_remembered <- function(game, program, ints, reals) {
  of_state <- Filter(function(where) where$lasts != "decision", program$slot)
  unlist(lapply(unname(of_state), function(where) {
    values <- traced_values(game, program, where, ints, reals)
    stats::setNames(values, if (is.null(where$axes)) where$name else sprintf("%s[%s]", where$name, names(values)))
  }))
}

# The change of an event: nothing, or the items that a list or bag gained.
changed_event <- function(event, trace) {
  if (event$kind != "state" || event$value == "(unseen)") return(event)
  before <- if (event$name %in% names(trace$now)) trace$now[[event$name]] else ""
  trace$now[[event$name]] <- event$value
  event$same <- identical(before, event$value)
  event$came <- items_that_came(before, event$value)
  event
}

# "moon, sun" after "sun": "moon". Nothing where items went as well, or where all are new.
items_that_came <- function(before, after) {
  items <- lapply(c(before, after), function(text) strsplit(text, ", ", fixed = TRUE)[[1]])
  if (before %in% c("", "nothing") || length(items[[2]]) <= length(items[[1]])) return("")
  left <- items[[2]]
  for (item in items[[1]]) {
    k <- match(item, left)
    if (is.na(k)) return("")
    left <- left[-k]
  }
  paste(left, collapse = ", ")
}

# The events of a mark.
tell_trace_point <- function(game, program, mark, asked, ints, reals, seat) {
  line <- mark$at[[1]]
  event <- function(kind, who = "", name = "", value = "") new_event(kind, line, who, name, value)
  if (mark$kind == "say") return(list(event("say", value = filled_text(game, program, mark, ints, reals))))
  if (mark$kind == "money") {
    text <- money_text(game, program, mark, ints, reals)
    return(if (!is.null(text)) list(event("money", name = mark$name, value = text)))
  }
  if (mark$kind == "shown") {
    shown <- shown_now(game, program, mark, ints, reals)
    if (!is.null(seat) && !shown$to %in% c(0, seat)) shown$value <- "(unseen)"
    return(list(event("shown", who = shown$who, name = mark$name, value = shown$value)))
  }
  if (mark$kind == "answer")
    return(if (length(asked) == 0) list(pass_event(game, mark, ints, line))
      else lapply(asked, answer_event, game = game, program = program, ints = ints, reals = reals, line = line,
                  seat = seat))
  traced <- traced_value(game, program, mark, ints, reals)
  if (mark$kind == "turn") return(list(event("turn", who = traced$value)))
  # A local of play lies nowhere on the table: nobody is shown it.
  seen <- is.null(seat) || (identical(mark$kept, "state") && sees_place(game, mark$name, traced$owner, seat))
  if (!seen) traced$value <- "(unseen)"
  list(event(if (identical(mark$kept, "state")) "state" else "value", name = traced$name, value = traced$value))
}

# Money that moves, in words; NULL of nothing.
money_text <- function(game, program, mark, ints, reals) {
  numbers <- vapply(mark$values, function(v) value_text(game, traced_number(v, ints, reals), v$type), "")
  if (numbers[[1]] == "0") return(mark$nothing)
  total <- if (length(numbers) > 1 && numbers[[2]] != numbers[[1]]) sprintf(": %s there", numbers[[2]])
  paste0(mark$plain[[1]], numbers[[1]], mark$plain[[2]], total)
}

# A value shown for a moment: list(to, who, value), `to` being the seat, 0 for all.
shown_now <- function(game, program, mark, ints, reals) {
  to <- if (is.null(mark$to)) 0 else watched_value(mark$to, ints)
  list(to = to, who = if (to > 0) game$seats[[to]] else "everyone",
       value = filled_text(game, program, mark, ints, reals))
}

shown_text <- function(who, name, value) sprintf("%s sees %s: %s", who, name, value)

# Nothing was legal: who passes, and why, where the rules say it.
pass_event <- function(game, mark, ints, line) {
  seat <- if (is.null(mark$who)) 0 else watched_value(mark$who, ints)
  new_event("pass", line, if (seat > 0) game$seats[[seat]] else "", value = if (is.null(mark$pass)) "" else mark$pass)
}

pass_text <- function(who, why)
  paste0(ifelse(nzchar(who), paste(who, "passes"), "nobody can answer"), ifelse(nzchar(why), paste0(": ", why), ""))

answer_event <- function(ask, game, program, ints, reals, line, seat) {
  d <- game$decisions[[ask$decision + 1L]]
  values <- traced_values(game, program, program$slot[[d$name]], ints, reals)
  value <- if (d$together) values[[game$seats[[ask$seat]]]] else values
  if (!is.null(seat) && seat != ask$seat && !is_seen_by(d$variable$seen_by, ask$seat, seat)) value <- "(unseen)"
  new_event("answer", line, game$seats[[ask$seat]], d$name, value)
}

# Does the seat see what is remembered under this name (that of the seat `owner`)?
sees_place <- function(game, name, owner, seat) {
  is_seen_by(game$state[[name]]$variable$seen_by, owner, seat)
}

# The end of a round: outcome, reason, pays and records.
round_result <- function(game, program, ints, reals) {
  outcome <- ints[[program$outcome_register + 1L]]
  name <- game$outcomes$names[[outcome]]
  registers <- program$quantity_register + 1L
  quantity <- function(k) if (program$quantity_real[[k]]) reals[[registers[[k]]]] else ints[[registers[[k]]]]
  open <- 0L
  pays <- list()
  for (p in program$pays) {
    if (is.null(p$by_outcome)) open <- open + 1L
    pays[[p$seat]] <- if (is.null(p$by_outcome)) quantity(open) else p$by_outcome[[outcome]]
  }
  records <- lapply(seq_along(program$records),
                    function(k)
                      value_text(game, quantity(open + k),
                                 list(kind = program$records[[k]]$type, set = program$records[[k]]$set)))
  reason <- program$reasons[[name]]
  list(outcome = name, number = outcome, reason = if (!is.null(reason)) filled_text(game, program, reason, ints, reals),
       pays = pays, wallets = wallets_held(game, program, ints, reals),
       records = stats::setNames(records, names(program$records)))
}

# The wallets, as texts by seat.
wallets_held <- function(game, program, ints, reals) {
  held <- lapply(game$money$wallets, function(wallet) program$slot[[wallet$variable$name]])
  names(held) <- vapply(game$money$wallets, `[[`, "", "name")
  lapply(Filter(Negate(is.null), held), traced_values, rules = game, program = program, ints = ints, reals = reals)
}

result_text <- function(result) {
  paste0(result$outcome, if (!is.null(result$reason)) sprintf(" (%s)", result$reason),
         if (length(result$pays) > 0)
           paste0("; pays ",
                  paste(names(result$pays), vapply(result$pays, function(x) sprintf("%+g", x), ""), collapse = ", ")),
         if (length(result$wallets) == 1) sprintf("; wallet %s", result$wallets[[1]]),
         if (length(result$wallets) > 1)
           paste0("; wallets ", paste(names(result$wallets), result$wallets, collapse = ", ")))
}

events_table <- function(events) {
  column <- function(field) vapply(events, function(e) as.character(e[[field]]), "")
  data.frame(kind = column("kind"), line = as.integer(column("line")), who = column("who"), name = column("name"),
             value = column("value"), same = as.logical(column("same")), came = column("came"))
}

# Those that results are written with.
event_columns <- c("kind", "line", "who", "name", "value")

# A line an event.
event_texts <- function(e) {
  ifelse(e$kind == "draw", sprintf("%s shows %s", e$name, e$value),
  ifelse(e$kind == "answer", sprintf("%s: %s = %s", e$who, e$name, e$value),
  ifelse(e$kind == "advice", paste("  advice:", e$value),
  ifelse(e$kind == "seated", sprintf("%s is %s", e$who, e$value),
  ifelse(e$kind == "pass", pass_text(e$who, e$value),
  ifelse(e$kind == "turn", sprintf("-- %s's turn", e$who),
  ifelse(e$kind == "round", sprintf("=> %s", e$value),
  ifelse(e$kind == "money", e$value,
  ifelse(e$kind == "shown", shown_text(e$who, e$name, e$value),
  ifelse(e$kind == "say", sprintf("\"%s\"", e$value),
  ifelse(nzchar(e$came), sprintf("%s gets %s: %s", e$name, e$came, e$value),
         sprintf("%s becomes %s", e$name, e$value))))))))))))
}

# The steps as one tells them to a visitor: names in their words, and no rules beside them.
steps_in_words <- function(x, e) {
  e$name <- in_words_of(e$name, x$words)
  e$value <- ifelse(e$kind == "say", e$value, in_words_of(e$value, x$words))
  e$who <- in_words_of(e$who, x$words)
  said <- ifelse(e$kind == "answer", sprintf("%s chooses: %s", e$who, e$value),
          ifelse(e$kind %in% c("state", "value"), sprintf("%s: %s", e$name, e$value), event_texts(e)))
  paste0("  ", said)
}

#' @export
sections.basanos_trace <- function(x, all = FALSE, words = FALSE, ...) {
  e <- shown_events(x)
  what <- event_texts(e)
  rule <- ifelse(is.na(e$line), "", cut_line(trimws(x$source$lines[pmax(1, e$line)])))
  width <- min(44L, max(c(10L, nchar(what))))
  line <- vapply(e$line, function(l) if (is.na(l)) "    " else sprintf("%4d", place_in_file(x$source, l)$line), "")
  steps <- if (nrow(e) > 0 && words) steps_in_words(x, e)
    else if (nrow(e) > 0) sub("[ |]+$", "", sprintf("  %s  %-*s | %s", line, width, what, rule))
  all_sections(trace_heading(x), section(lines = c(folded_steps(steps, e, all), trace_end(x, words))))
}

# What a trace shows: a value that is set to what it was already is no step.
shown_events <- function(x) rolls_together(x$events[!x$events$same, ])

# Which round it is, and who plays.
trace_heading <- function(x) {
  head <- sprintf("%s: %s%s %s%s%s", title_of(x),
                  if (is.null(x$round)) "" else sprintf("round %d of %d of ", x$round, x$rounds), x$unit_kind,
                  whole_text(x$unit), if (!is.null(x$found_round) && is.null(x$round))
                    sprintf(" (found in its round %d)", x$found_round) else "",
                  if (x$forced) ", with draws or answers given" else sprintf(" of seed %s", plain_number(x$seed)))
  players <- if (length(x$players) > 0)
    paste0("  players  ", paste(names(x$players), x$players, sep = " = ", collapse = ", "))
  section(head, notes = players)
}

# How it ended, and what the answers cost.
trace_end <- function(x, words = FALSE) {
  end <- if (!is.null(x$diagnostic)) c("", format_diagnostic(x$diagnostic, x$source))
    else if (!is.null(x$result) && (x$unit_kind == "round" || !is.null(x$round)))
      paste0("  ", result_lines(x, words))
  if (is.null(x$advice)) end
  else c(end, "", paste("  The answers", costs_text(x$advice$costs, x$advice$objective)))
}

result_lines <- function(x, words) {
  lines <- c(paste("=>", result_text(x$result)),
             if (length(x$records) > 0)
               paste0("   ", paste(names(x$records), x$records, sep = " = ", collapse = ", ")))
  if (words) plain_name(lines) else lines
}

steps_at_start <- 80L
steps_at_end <- 30L

# A long trace is folded: its start, its end, and what is left out between them.
folded_steps <- function(steps, events, all) {
  left_out <- length(steps) - steps_at_start - steps_at_end
  if (all || left_out <= 20L) return(steps)
  rounds <- sum(events$kind[steps_at_start + seq_len(left_out)] == "round")
  c(utils::head(steps, steps_at_start),
    sprintf("        ... %s steps left out%s; --all shows them%s", whole_text(left_out),
            if (rounds > 0) sprintf(", %s among them", count_text(rounds, "end of a round", "ends of rounds")) else "",
            if (rounds > 0) ", --round 7 the seventh round" else ""),
    utils::tail(steps, steps_at_end))
}

# Several dice of one roll are one line.
rolls_together <- function(events) {
  if (nrow(events) == 0) return(events)
  same <- c(FALSE, events$kind[-1] == "draw" & events$kind[-nrow(events)] == "draw" &
              events$name[-1] == events$name[-nrow(events)] & events$line[-1] == events$line[-nrow(events)])
  first <- cumsum(!same)
  joined <- events[!same, ]
  joined$value <- vapply(split(events$value, first), paste, "", collapse = ", ")
  joined
}

# The text of a rule, cut to the width of a line.
cut_line <- function(text, most = 64L) ifelse(nchar(text) > most, paste0(substr(text, 1, most - 4L), " ..."), text)

#' @export
json_fields.basanos_trace <- function(x)
  c(list(game = x$name), x[c("unit", "seed", "players")], list(events = x$events[event_columns]),
    x[c("outcome", "reason", "pays", "records")],
    if (!is.null(x$advice)) list(advice = list(objective = x$advice$objective, costs = I(x$advice$costs))))

#' @export
as.data.frame.basanos_trace <- function(x, ...) {
  e <- x$events
  value <- suppressWarnings(as.numeric(e$value))
  result_rows(list(game = x$name), e$kind, e$name, value, e$who, line = e$line, text = e$value)
}
