# One unit played by people and computer players: what is shown when, and what is asked.

# The result of the last round, or NULL when somebody quits.
play_unit <- function(table, seed, unit) {
  result <- NULL
  table$left <- table$forced
  table$asked <- list()
  table$answers <- list()
  at_state <- function(ints, reals) {
    table$ints <- ints
    table$reals <- reals
  }
  run <- watch_unit(table$program, seed, unit, ask_again = TRUE, on = list(
    draw = function(source, value, at) take_forced(table, "draws", source),
    ask = function(ask, again, ints, reals) {
      at_state(ints, reals)
      answer <- answer_at(table, ask, again)
      note_answer(table, ask, again, answer)
      answer
    },
    trace = function(point, ints, reals) {
      at_state(ints, reals)
      show_trace_point(table, point)
      NULL
    },
    round = function(ints, reals) {
      at_state(ints, reals)
      result <<- round_result(table$game, table$program, ints, reals)
      table$write(round_end_lines(table, result))
    }))
  if (run$end == 1L)
    table$write(c("The rules stop this round here:",
                  format_diagnostic(failure_diagnostic(table$game, table$program, run$failure), table$game$source)))
  costs <- unlist(lapply(table$answers, `[[`, "cost"))
  if (length(costs) > 0) table$write(paste("  Your answers", costs_text(costs, table$advice$objective)))
  if (run$end == 2L) NULL else if (is.null(result)) list(outcome = "stopped", pays = list()) else result
}

# A person's answer, the position then, and its registers: kept with the round.
note_answer <- function(table, ask, again, answer) {
  if (again) table$answers <- utils::head(table$answers, -1)
  if (is.null(answer) || isFALSE(answer)) return(invisible())
  game <- table$game
  d <- game$decisions[[ask$decision + 1L]]
  seen <- seen_at(game, table$program, list(decision = d$name), ask$seat, table$ints, table$reals)
  items <- if (is_collection(d$type)) answer[-1] else answer
  text <- answer_text(game, items, d$type)
  costs_here <- advice_now(table, ask)
  table$answers <- c(table$answers, list(c(list(seat = game$seats[[ask$seat]], decision = d$name, answer = text,
                                                given = answer, seen = seen),
                                           if (!is.null(costs_here)) list(cost = cost_of_answer(costs_here, text)))))
}

advice_now <- function(table, ask) advice_at(table$advice, table$game, table$program, ask, table$ints, table$reals)

# --- what is shown --------------------------------------------------------------

show_trace_point <- function(table, mark) {
  game <- table$game
  if (mark$kind == "say")
    return(table$write(paste0("  ", filled_text(game, table$program, mark, table$ints, table$reals))))
  if (mark$kind == "shown") {
    shown <- shown_now(game, table$program, mark, table$ints, table$reals)
    if (table$reveal || shown$to %in% c(0, table$people))
      table$write(paste0("  ", shown_text(shown$who, mark$name, shown$value)))
    return(invisible())
  }
  if (mark$kind == "money") {
    text <- money_text(game, table$program, mark, table$ints, table$reals)
    return(if (!is.null(text)) table$write(paste0("  ", text)))
  }
  if (mark$kind == "turn" && length(game$seats) > 1)
    return(table$write(sprintf("-- %s's turn", traced_value(game, table$program, mark, table$ints, table$reals)$value)))
  if (mark$kind == "place" && isTRUE(mark$drawn) && !mark$hidden &&
      (identical(mark$kept, "local") || length(table$people) == 0)) {
    traced <- traced_value(game, table$program, mark, table$ints, table$reals)
    return(table$write(sprintf("  %s: %s", in_words_of(traced$name, table$words),
                               in_words_of(traced$value, table$words))))
  }
  if (mark$kind == "answer" && length(table$asked) > 0) show_answers(table)
  else if (mark$kind == "answer") {
    passed <- pass_event(game, mark, table$ints, NA)
    table$write(paste0("  ", pass_text(passed$who, passed$value)))
  }
}

# The answers of an ask, all at once: those of others, where they may be seen.
show_answers <- function(table) {
  for (ask in table$asked) {
    if (ask$seat %in% table$people && length(table$people) == 1 && !before_position(table)) next
    event <- answer_event(ask, table$game, table$program, table$ints, table$reals, NA, if (table$reveal) NULL
      else table$people[[1]])
    table$write(sprintf("  %s chooses: %s", event$who, in_words_of(event$value, table$words)))
  }
  table$asked <- list()
}

# The state as a seat sees it: one line a name.
sight_lines <- function(table, seat, decision = NULL) {
  lines <- list()
  for (where in sorted_by_use(table, decision)) {
    if (where$lasts == "decision" || isTRUE(table$game$state[[where$name]]$scratch)) next
    values <- traced_values(table$game, table$program, where, table$ints, table$reals)
    owners <- if (!is.null(where$axes)) place_owners(where$axes)
    seen <- if (is.null(owners)) table$reveal || sees_place(table$game, where$name, NULL, seat)
      else table$reveal | vapply(owners, function(owner) sees_place(table$game, where$name, owner, seat), NA)
    if (!all(seen) && counts_unseen(where)) {
      values[!seen] <- unseen_sizes(table$program, where, table$ints)[!seen]
      seen[] <- TRUE
    }
    if (!any(seen)) next
    text <- if (length(where$axes) == 2 && all(seen)) board_lines(table$game, where$axes, values)
      else if (is.null(owners)) values
      else paste(names(values)[seen], values[seen], sep = ": ", collapse = "   ")
    lines <- c(lines, list(list(name = in_words_of(where$name, table$words), text = screen_text(where, text))))
  }
  width <- max(12L, nchar(vapply(lines, `[[`, "", "name")))
  unlist(lapply(lines, function(l)
    sprintf("    %s %s", formatC(c(l$name, rep("", length(l$text) - 1L)), width = -width), l$text)))
}

# The state that players read for this decision comes first: it matters most.
sorted_by_use <- function(table, decision) {
  slot <- table$program$slot
  if (is.null(decision)) return(slot)
  read <- variables_in(lapply(decision$rules, `[[`, "body"), c("var", "at_key"))
  is_used <- vapply(slot, function(where) {
    variable <- table$game$state[[where$name]]$variable
    !is.null(variable) && variable$id %in% read
  }, NA)
  slot[order(!is_used)]
}

# The number of hidden items.
unseen_sizes <- function(program, where, ints) {
  offsets <- if (is.null(where$axes)) 0L else where$offsets
  sizes <- vapply(offsets, function(k) length(collection_items(program, where$list + k, ints)), 0L)
  ifelse(sizes == 0, "nothing", sprintf("%d unseen", sizes))
}

counts_unseen <- function(where) is_collection(where$type) && !where$hide_size

# The values of two axes as a small table: a row for each key of the first.
board_lines <- function(game, axes, values) {
  keys <- lapply(axes, key_texts, rules = game)
  rows <- matrix(ifelse(values %in% c("none", "nobody", "blank"), ".", values), length(keys[[1]]), byrow = TRUE)
  cells <- rbind(c("", keys[[2]]), cbind(keys[[1]], rows))
  apply(formatC(cells, width = max(nchar(cells)), flag = "-"), 1,
        function(row) sub(" +$", "", paste(row, collapse = " ")))
}

# Words and marks stand letter under letter; marks have shapes and colours of their own on a screen.
screen_text <- function(where, text) {
  of <- if (is_collection(where$type)) where$type$of else where$type
  if (is_kind(of, "word")) return(gsub(", ", "  ", text, fixed = TRUE))
  if (!is_kind(of, "marks")) return(text)
  shapes <- mark_shapes()
  words <- paste(names(shapes), collapse = "|")
  text <- gsub(sprintf("(%s) (?=%s)", words, words), "\\1", text, perl = TRUE)
  text <- gsub(", ", "  ", text, fixed = TRUE)
  for (word in names(shapes)) text <- gsub(word, shapes[[word]], text, fixed = TRUE)
  text
}

mark_shapes <- function()
  c(placed = cli::col_blue("^"), elsewhere = cli::col_magenta("~"), nowhere = cli::col_grey("."))

# Everything is shown at the end, what was hidden as well.
round_end_lines <- function(table, result) {
  before <- table$reveal
  table$reveal <- TRUE
  lines <- sight_lines(table, c(table$people, 1L)[[1]])
  table$reveal <- before
  c("", sprintf("=> %s", plain_name(result_text(result))), lines)
}

# With a start position: is it still ahead?
before_position <- function(table) {
  arrived <- table$program$arrival
  !is.null(arrived) && table$ints[[arrived + 1L]] == 0
}

# --- what is asked ----------------------------------------------------------------

# The answer of a person, as registers; NULL where a computer player decides, FALSE to stop.
answer_at <- function(table, ask, again = FALSE) {
  if (!again) table$asked <- c(table$asked, list(ask))
  if (!ask$seat %in% table$people || before_position(table)) return(NULL)
  game <- table$game
  d <- game$decisions[[ask$decision + 1L]]
  legal <- legal_answers(table$program, ask, table$ints)
  only <- only_answer(legal)
  if (!again && !is.null(only)) {
    table$write(sprintf("  %s, %s: %s is the only answer", game$seats[[ask$seat]], gsub("_", " ", d$name),
                        value_text(game, only, d$type)))
    return(only)
  }
  if (again) table$write(sprintf("That is not allowed here: %s.", legal_text(game, ask)))
  else {
    lines <- c(sprintf("%s: %s?", game$seats[[ask$seat]], question_text(game, d)), sight_lines(table, ask$seat, d),
               paste0("    ", numbered_choices(game, d, legal)), advice_line(advice_now(table, ask)))
    # a page makes buttons of them
    table$write(structure(lines, choices = if (is_numbered(game, d, legal)) answer_names(game, d, legal),
                          several = if (legal$how == "several") names_of_items(game, d, legal)))
  }
  repeat {
    line <- table$read()
    if (length(line) == 0 || tolower(trimws(line)) == "quit") return(FALSE)
    reply <- reply_instead(table, ask, d, legal, tolower(trimws(line)))
    if (!is.null(reply)) {
      table$write(reply)
      next
    }
    answer <- typed_answer(game, d, legal, line, ask$because)
    if (!is.character(answer)) return(answer)
    table$write(answer)
  }
}

advice_line <- function(costs) if (!is.null(costs)) sprintf("    advice: %s", advice_text(costs))

# The reply to a word typed in place of an answer; NULL for anything else.
reply_instead <- function(table, ask, d, legal, word) {
  switch(word, look = sight_lines(table, ask$seat, d), rules = table$game$source$lines,
         card = outline_game(table$game), "?" = , help = c(
           "  card   the game in plain words", "  look   what you see", "  rules  the rules file",
           "  quit   ends the game",
           paste0("  An answer may be shortened", if (is_numbered(table$game, d, legal)) ", or be its number", ":"),
           paste0("    ", numbered_choices(table$game, d, legal))))
}

# The question, in the words of the game.
question_text <- function(game, d) {
  words <- game$in_words[[d$name]]
  if (is.null(words)) gsub("_", " ", d$name) else filled_words(words$text, speech_of(game))
}

# The answers with their numbers, where the answers are names.
numbered_choices <- function(game, d, legal) {
  if (!is_numbered(game, d, legal)) return(choices_text(game, d, legal))
  names <- answer_names(game, d, legal)
  paste(seq_along(names), names, collapse = "   ")
}

most_numbered <- 20L

is_numbered <- function(game, d, legal) {
  if (legal$how == "several" || is_kind(d$type, "whole", "word")) return(FALSE)
  names <- answer_names(game, d, legal)
  length(names) <= most_numbered && !any(grepl("^[0-9]", names))
}

answer_names <- function(game, d, legal) {
  if (legal$how == "range") legal <- list(values = seq(legal$low, legal$high))
  unique(vapply(legal$values, value_text, "", rules = game, type = d$type))
}

# The items of which some are an answer.
names_of_items <- function(game, d, legal) vapply(legal$values, value_text, "", rules = game, type = d$type$of)

# The only legal answer, which is given without asking, or NULL.
only_answer <- function(legal) {
  values <- switch(legal$how, range = if (legal$low == legal$high) legal$low, items = unique(legal$values))
  if (length(values) == 1) as.integer(values)
}

# The condition of a legal answer, in the stall's words or as the rules write it.
legal_text <- function(game, ask) {
  if (!is.null(ask$because)) return(ask$because)
  line <- paste(game$source$lines[ask$at[[1]]:ask$at[[3]]], collapse = " ")
  said <- regmatches(line, regexpr("legal\\s*=.*", line))
  if (length(said) == 0) "choose again" else sub("\\)[[:space:]]*$", "", said)
}

# The registers of what was typed, or a text that says what is wrong with it.
typed_answer <- function(game, d, legal, line, because = NULL) {
  line <- trimws(line)
  if (!nzchar(line)) return("Type one of the answers, or quit.")
  if (legal$how == "range" && is_kind(d$type, "word")) {
    id <- match(tolower(line), tolower(game$words$texts))
    if (!is.na(id) && id >= legal$low && id <= legal$high) return(as.integer(id))
    return(sprintf("\"%s\" is not in the list of words.", line))
  }
  if (legal$how == "range" && !is_kind(d$type, "whole"))
    legal <- list(how = "items", values = seq(legal$low, legal$high))
  if (legal$how == "range") {
    number <- suppressWarnings(as.numeric(line))
    if (!is.na(number) && number == floor(number) && number >= legal$low && number <= legal$high)
      return(as.integer(number))
    return(sprintf("\"%s\" is not a whole number from %d to %d.", line, legal$low, legal$high))
  }
  if (legal$how == "several") return(typed_items(legal, names_of_items(game, d, legal), line))
  type <- if (is_collection(d$type)) d$type$of else d$type
  names <- vapply(legal$values, value_text, "", rules = game, type = type)
  number <- suppressWarnings(as.integer(line))
  if (grepl("^[0-9]+$", line) && is_numbered(game, d, legal) && number >= 1 && number <= length(unique(names)))
    line <- unique(names)[[number]]
  hit <- which(tolower(names) == tolower(line))
  if (length(hit) == 0) hit <- which(startsWith(tolower(names), tolower(line)))
  if (length(unique(names[hit])) == 1) return(as.integer(legal$values[[hit[[1]]]]))
  if (length(hit) > 1) return(sprintf("\"%s\" may mean %s.", line, paste(unique(names[hit]), collapse = " or ")))
  sprintf("\"%s\" is not allowed here%s. Choose %s", line, if (is.null(because)) "" else paste0(": ", because),
          choices_text(game, d, legal))
}

# Several items: their number and themselves, in the order of a bag.
typed_items <- function(legal, names, line) {
  if (tolower(line) == "none") wanted <- character()
  else if (tolower(line) == "all") wanted <- names
  else if (tolower(line) %in% tolower(names)) wanted <- line  # a name may have a space in it
  else wanted <- trimws(strsplit(line, if (grepl(",", line)) "," else "[[:space:]]+")[[1]])
  left <- seq_along(names)
  taken <- integer()
  for (w in wanted) {
    hit <- left[tolower(names[left]) == tolower(w)]
    if (length(hit) == 0)
      return(sprintf("There is no %s \"%s\" among %s.", if (w %in% names) "further"
        else "such item", w, paste(names, collapse = ", ")))
    taken <- c(taken, hit[[1]])
    left <- setdiff(left, hit[[1]])
  }
  if (length(taken) < legal$at_least || length(taken) > legal$at_most)
    return(sprintf("Choose from %d to %d items.", legal$at_least, legal$at_most))
  as.integer(c(length(taken), sort(legal$values[taken])))
}
