#' @export
sections.basanos_balance <- function(x, ...) {
  knobs <- vapply(x$knobs, `[[`, "", "name")
  head <- sprintf("%s: %s, %s", title_of(x), count_text(length(knobs), "knob"), count_text(nrow(x$today), "target"))
  all_sections(section(head), section(notes = status_lines(x)), answer_sections(x), target_section(x),
               slipping_section(x), player_section(x), influence_section(x), written_sections(x),
               section(notes = c(players_line(x$players), explored_line(x))))
}

status_lines <- function(x) {
  e <- x$explored
  of_all <- sprintf("%s of %s", whole_text(e$fits), count_text(e$combinations, "combination"))
  if (x$status == "impossible")
    return(c("No combination meets all targets.", conflict_lines(x), range_end_lines(x)))
  if (x$status == "satisfied and complete")
    return(sprintf("All targets are met. %s %s them, and all combinations were examined.", of_all,
                   if (e$fits == 1) "meets" else "meet"))
  short <- Filter(Negate(is.null), lapply(seq_along(x$answers), function(k) answer_short_of(x$answers[[k]], k)))
  sampled <- sprintf("By what was sampled, %s %s all targets.", of_all, if (e$fits == 1) "meets" else "meet")
  c(if (length(short) == 0) "All targets are met, also on fresh luck." else c("On fresh luck:", unlist(short)),
    if (e$fits > 0) sampled)
}

# The targets that an answer misses or may miss; NULL where it surely meets all.
answer_short_of <- function(answer, k) {
  met <- answer$targets$met
  said <- c(if (any(met == "missed")) sprintf("misses %s", count_text(sum(met == "missed"), "target")),
            if (any(met == "undecided")) sprintf("may or may not meet %s",
                                                 count_text(sum(met == "undecided"), "target")))
  if (length(said) > 0) sprintf("  answer %d %s", k, paste(said, collapse = " and "))
}

conflict_lines <- function(x) {
  n <- length(x$conflicts)
  if (n == 0) return(NULL)
  if (n == 1) return(sprintf("This target cannot be met: %s", x$conflicts))
  c(if (x$each_alone) "None of these can be met, even alone:"
    else sprintf("No combination meets these %d together. Any %s can be met:", n,
                 if (n == 2) "one of them" else sprintf("%d of them", n - 1)), paste0("  ", x$conflicts))
}

# Knobs that stand at an end of their range where targets are missed least, and that move a target.
range_end_lines <- function(x) {
  ends <- Filter(function(k) {
    value <- x$answers[[1]]$knobs[[k$name]]
    moves <- any(abs(x$influence$from - x$influence$to)[x$influence$knob == k$name] > 1e-9, na.rm = TRUE)
    is.numeric(k$values) && moves && value %in% range(k$values)
  }, x$knobs)
  if (length(ends) == 0) return(NULL)
  sprintf("Answer 1 misses least, with %s at the end of %s range: a wider range may do.",
          enumerated(vapply(ends, `[[`, "", "name")), if (length(ends) == 1) "its" else "their")
}

# A column an answer: its knobs, and what it costs elsewhere.
answer_sections <- function(x) {
  headings <- c("today", vapply(seq_along(x$answers), function(k) sprintf("answer %d", k), ""))
  knob_rows <- lapply(x$knobs, function(k) c(if (is.null(k$today)) "-" else value_shown(k$today),
                                             vapply(x$answers, function(a) value_shown(a$knobs[[k$name]]), "")))
  names(knob_rows) <- vapply(x$knobs, `[[`, "", "name")
  other <- setdiff(names(x$answers[[1]]$elsewhere), "")
  elsewhere <- lapply(stats::setNames(nm = other), function(name)
    c(short_number(x$today_elsewhere[[name]]), vapply(x$answers, function(a) short_number(a$elsewhere[[name]]), "")))
  rows <- c(knob_rows, elsewhere,
            list("knobs changed" = c("", vapply(x$answers, function(a) as.character(a$changed), ""))))
  kinds <- vapply(seq_along(x$answers), function(k) sprintf("answer %d: %s", k, x$answers[[k]]$kind), "")
  columns <- c(list(" " = names(rows)), stats::setNames(lapply(seq_along(headings), function(k)
    vapply(rows, `[[`, "", k)), headings))
  list(section(table = columns), section(notes = paste0("  ", kinds)))
}

short_number <- function(v) if (is.null(v) || is.na(v)) "-" else fixed_text(v, if (abs(v) >= 100) 1L else 4L)

# A row a target, its value today and in each answer; what is not met is marked.
target_section <- function(x) {
  marks <- c(met = "", missed = " missed", undecided = " undecided")
  cell <- function(table) paste0(vapply(table$value, short_number, ""), marks[table$met])
  columns <- c(list(target = x$today$target, today = cell(x$today)),
               stats::setNames(lapply(x$answers, function(a) cell(a$targets)),
                               vapply(seq_along(x$answers), function(k) sprintf("answer %d", k), "")))
  section(table = columns)
}

slipping_section <- function(x) {
  with <- Filter(function(k) !is.null(x$answers[[k]]$slipping), seq_along(x$answers))
  if (length(with) == 0) return(NULL)
  columns <- c(list(target = x$today$target), stats::setNames(
    lapply(x$answers[with], function(a) vapply(a$slipping, short_number, "")), sprintf("answer %d", with)))
  section(sprintf("When players slip at one decision in %s:", plain_number(round(1 / x$slip))), columns)
}

# The first answer under other players: pays are set against one way of playing.
player_section <- function(x) {
  p <- x$answers[[1]]$players
  if (is.null(p)) return(NULL)
  columns <- c(list(target = x$today$target), lapply(p$values, function(v) vapply(v, short_number, "")))
  section(sprintf("Answer 1 when another plays %s:", p$seat), columns)
}

influence_section <- function(x) {
  i <- x$influence
  columns <- list(knob = i$knob, measure = i$measure,
                  "at its ends" = paste(vapply(i$from, short_number, ""), "to", vapply(i$to, short_number, "")),
                  "a step" = vapply(i$step, function(v) if (is.na(v)) "-" else fixed_text(v, 4L, sign = TRUE), ""))
  section("What each knob does, the others as in answer 1:", columns)
}

written_sections <- function(x) {
  w <- x$written
  if (is.null(w)) return(NULL)
  if (is.null(w$path)) return(list(section(notes = "Nothing was written: no combination meets all targets.")))
  no_longer <- if (length(w$examples) > 0)
    c(sprintf("%s of it no longer %s, by the new pays or settings:", count_text(length(w$examples), "example"),
              if (length(w$examples) == 1) "holds" else "hold"), paste0("  ", w$examples))
  list(section(sprintf("Written: %s; its odds are those of answer %d.", w$path, w$answer),
               notes = c(paste0("  ", w$changes, recycle0 = TRUE), no_longer)))
}

explored_line <- function(x) {
  e <- x$explored
  sprintf("%s gone through with %s%s.", count_text(e$combinations, "combination"), count_text(e$runs, "run"),
          if (e$complete) ", counted exactly" else sprintf(", sampled: up to %s %s each on the same luck, seed %s",
                                                           whole_text(x$rounds), units_in_words(x$unit),
                                                           plain_number(x$seed)))
}

#' @export
as.data.frame.basanos_balance <- function(x, ...) {
  bind_result_rows(lapply(seq_along(x$answers), function(k) {
    a <- x$answers[[k]]
    extras <- list(as.data.frame(a$knobs, optional = TRUE), reason = a$kind)
    bind_result_rows(
      result_rows(x, "target", a$targets$target, a$targets$value, k, lower = a$targets$lower, upper = a$targets$upper,
                  met = a$targets$met, extras[[1]], reason = a$kind, engine = a$engine),
      result_rows(x, "measure", names(a$elsewhere), unlist(a$elsewhere), k, extras[[1]], reason = a$kind,
                  engine = a$engine))
  }))
}

#' @export
json_fields.basanos_balance <- function(x) {
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
  list(game = x$game, status = x$status, answers = answers, conflicts = as.list(x$conflicts),
                explored = x$explored, influence = x$influence, written = x$written)
}
