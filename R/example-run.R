# Plays the worked examples of a game: forced draws and answers in, expected against got out.

# One result for each example: list(text, at, passed, lines).
run_examples <- function(rules) lapply(rules$examples, run_example, rules = rules)

run_example <- function(rules, example) {
  prepared <- tryCatch(prepare_example(rules, example), basanos_error = identity)
  if (inherits(prepared, "basanos_error")) {
    said <- vapply(prepared$diagnostics, function(p) p$message, "")
    return(example_result(example, said))
  }
  played <- play_script(prepared$program, prepared, example$stop_when_out, prepared$closing)
  example_result(example, example_complaints(rules, example, prepared, played))
}

example_result <- function(example, lines)
  list(text = example$text, at = example$at, passed = length(lines) == 0, lines = lines)

prepare_example <- function(rules, example, covering = FALSE) {
  heartbeat()
  question <- new_question(rules, example_settings(rules, example, resolve_settings(rules)), example$players)
  asm <- new_assembler(question)
  asm$covering <- covering
  asm$start <- example$start
  asm$counted <- union(rules$counted, rules$counted_in_examples)
  parts <- list()
  if (!example$played) write_all_starts(asm)
  else if (example$whole_unit) parts <- write_rounds(asm)
  else parts <- write_single_round(asm)
  asm$span <- parts$span
  asm$measures <- parts$measures
  pays <- parts$pays
  closing <- asm$size
  items <- lapply(example$expect, write_expectation, asm = asm)
  emit(asm, "END")
  write_deferred(asm)
  stop_on_diagnostics(asm)
  program <- finished_program(asm, list())
  program$players <- stats::setNames(question$players, rules$seats)
  program$settings <- question$settings
  program$coverage_points <- asm$coverage
  c(list(program = program, closing = closing, pays = pays, items = items), example_script(asm, example))
}

# The registers with the value of one expected item, read after the closing part.
write_expectation <- function(asm, item) {
  kept <- function(node) {
    register <- new_register(asm, is_real(node$type))
    write_into(asm, node, register)
    register
  }
  switch(item$what,
    record = list(got = kept(item$record), wanted = kept(item$node)),
    match = list(got = asm$span$winner),
    rounds = list(got = asm$measures$rounds, wanted = kept(item$node)),
    condition = list(holds = kept(item$node), sides = if (is_comparison(item$node)) lapply(item$node$args, kept),
                     lists = if (item$node$op == "collection_same") compared_lists(asm, item$node)),
    pay = list(wanted = lapply(item$nodes, kept)),
    list())
}

# Both sides of a comparison of lists, each in a list of its own.
compared_lists <- function(asm, node) {
  kind <- if ("bag" %in% c(node$left$type$kind, node$right$type$kind)) "bag" else "list"
  lapply(node[c("left", "right")], function(side) {
    copy <- new_list(asm, room_of(asm, side))$list
    fill_collection(asm, side, copy, kind)
    list(list = copy, type = side$type)
  })
}

is_comparison <- function(node) node$op == "calc" && node$fn %in% c("==", "!=", "<", "<=", ">", ">=")

# The script for the core: raw draws by source, answers by decision.
example_script <- function(asm, example) {
  constant <- function(v) {
    x <- write_value(asm, v)$const
    if (is.null(x))
      abort_input("not_constant",
                  "A value given in an example is a number, a label or a setting: it must be known beforehand.")
    x
  }
  draws <- lapply(asm$sources, function(name) {
    given <- example$forced[[name]]
    if (is.null(given) || given$what != "draws") return(integer())
    values <- vapply(given$values, constant, 0)
    if (given$faces$how == "card") return(as.integer(values))
    raw <- vapply(values, function(v) as.numeric(raw_draw(asm, given$faces, v)), 0)
    if (anyNA(raw))
      abort_diagnostics(list(diagnostic("draw_impossible",
                                        sprintf("`%s` never shows %s.", name,
                                          value_text(asm$rules, values[is.na(raw)][[1]], given$values[[1]]$type)), NULL,
                                          given$at)), asm$rules$source)
    as.integer(raw)
  })
  decisions <- names(asm$rules$decisions)
  answers <- lapply(decisions, function(name) {
    given <- example$forced[[name]]
    if (is.null(given)) return(integer())
    if (!is_collection(rules_decision(asm, name)$type)) return(as.integer(vapply(given$values, constant, 0)))
    unlist(lapply(given$values, function(v) {
      items <- sort(vapply(v$values, constant, 0))
      as.integer(c(length(items), items))
    }))
  })
  list(draws = draws, answers = answers, asks = asm$asks,
       answered = vapply(decisions, function(name) !is.null(example$forced[[name]]), NA), sources = asm$sources)
}

# The settings that an example gives, worked out where the others stand as `settings`.
example_settings <- function(rules, example, settings) {
  plain <- new_assembler(question_of(rules, settings))
  lapply(example$settings, function(v) {
    x <- write_value(plain, v)$const
    if (is_kind(v$type, "yesno")) x == 1 else x
  })
}

rules_decision <- function(asm, name) asm$rules$decisions[[name]]

example_complaints <- function(rules, example, prepared, played) {
  end <- script_ends[[played$end + 1L]]
  wanted_error <- Filter(function(item) item$what == "error", example$expect)
  if (end == "failed") {
    id <- names(failures)[[played$failure$fail]]
    if (length(wanted_error) > 0 && wanted_error[[1]]$id == id) return(character())
    said <- failure_diagnostic(rules, prepared$program, played$failure)
    if (id == "illegal_answer") said$message <- illegal_answer_text(rules, example, prepared, played, said$message)
    return(sprintf("the round stops with %s (line %d): %s", id, said$at[[1]], said$message))
  }
  if (end != "done") return(script_complaint(rules, prepared, played, end))
  if (length(wanted_error) > 0) return(sprintf("expected error %s, got none", wanted_error[[1]]$id))
  lines <- unlist(Map(function(item, registers) expectation_complaint(rules, item, registers, prepared, played),
                      example$expect, prepared$items))
  c(lines, unused_complaints(example, prepared, played))
}

# An answer that the example gives is not the player's.
illegal_answer_text <- function(rules, example, prepared, played, message) {
  number <- played$failure$info %/% seats_limit + 1L
  decision <- names(rules$decisions)[[number]]
  used <- played$answers_used[[number]]
  if (played$failure$info <= 0 || is.null(example$forced[[decision]]) || used == 0) return(message)
  d <- rules$decisions[[decision]]
  if (is_collection(d$type))
    return(sprintf("the example gives an answer of `%s` that is not among the choices", decision))
  answers <- prepared$answers[[number]]
  sprintf("the example gives `%s = %s`, answer %d of %d, which is not among the choices (%s)", decision,
          value_text(rules, answers[[used]], d$type), used, length(answers), source_text(rules$source, d$at))
}

script_complaint <- function(rules, prepared, played, end) {
  line <- prepared$program$places[1, played$at + 1L]
  switch(end,
    out_of_draws = {
      source <- prepared$sources[[played$which + 1L]]
      if (startsWith(source, "chance of ")) {
        sprintf("the player of `%s` leaves it to chance in line %d: give the answer too",
                sub("chance of ", "", source), line)
      } else {
        sprintf("`%s` is drawn once more in line %d than is given (%d given)", source, line,
                played$draws_used[[played$which + 1L]])
      }
    },
    out_of_answers = sprintf("`%s` is asked once more in line %d than is given (%d given)",
                             names(rules$decisions)[[played$which + 1L]], line,
                             played$answers_used[[played$which + 1L]]),
    impossible_draw = {
      source <- prepared$sources[[played$which + 1L]]
      shown <- drawn_text(rules, prepared$program, source, played$value)
      deck <- rules$names[[source]]
      dealt <- sum(prepared$draws[[played$which + 1L]][seq_len(played$draws_used[[played$which + 1L]])] == played$value)
      if (identical(deck$kind, "deck"))
        sprintf("`%s` has no %s left in line %d: all %s are dealt", source, shown, line, whole_text(max(0, dealt - 1)))
      else sprintf("`%s` cannot show %s in line %d", source, shown, line)
    })
}

expectation_complaint <- function(rules, item, registers, prepared, played) {
  read <- function(register) if (register$real) played$reals[[register$register + 1L]]
    else played$ints[[register$register + 1L]]
  outcome <- played$ints[[prepared$program$outcome_register + 1L]]
  differ <- function(what, wanted, got) sprintf("expected %s %s, got %s", what, wanted, got)
  switch(item$what,
    outcome = if (!outcome %in% item$numbers)
      differ("outcome", item$name, if (outcome == 0) "none yet" else rules$outcomes$names[[outcome]]),
    pay = unlist(Map(function(seat, register) {
      got <- pay_got(prepared$pays, seat, outcome, read)
      if (is.null(got)) return(sprintf("expected pay of %s, which nobody takes", rules$seats[[seat]]))
      if (is.na(got)) return("the round was stopped before its end, so nothing is paid: leave `rest = stop` out")
      if (!isTRUE(all.equal(got, read(register), tolerance = 1e-9)))
        differ(sprintf("pay of %s", rules$seats[[seat]]), format(read(register)), format(got))
    }, item$seats, registers$wanted)),
    record = {
      got <- read(registers$got)
      if (!isTRUE(all.equal(as.numeric(got), as.numeric(read(registers$wanted)), tolerance = 1e-9))) {
        differ(item$name, value_text(rules, read(registers$wanted), item$record$type),
               value_text(rules, got, item$record$type))
      }
    },
    match = {
      got <- read(registers$got)
      if (got != item$seat) differ("match", seat_or_nobody(rules, item$seat), seat_or_nobody(rules, got))
    },
    rounds = if (read(registers$got) != read(registers$wanted))
      differ("rounds", read(registers$wanted), read(registers$got)),
    condition = if (read(registers$holds) == 0) {
      text <- source_text(rules$source, item$at)
      side <- function(k) value_text(rules, read(registers$sides[[k]]), item$node$args[[k]]$type)
      shown <- function(side) collection_text(rules, prepared$program, side$list, side$type, played$ints)
      if (!is.null(registers$lists))
        sprintf("expected %s, got %s against %s", text, shown(registers$lists[[1]]), shown(registers$lists[[2]]))
      else if (is.null(registers$sides)) sprintf("expected %s, which does not hold", text)
      else sprintf("expected %s, got %s against %s", text, side(1), side(2))
    })
}

pay_got <- function(pays, seat, outcome, read) {
  for (p in pays) if (p$seat == seat)
    return(if (is.null(p$register)) { if (outcome == 0) NA_real_ else p$by_outcome[[outcome]] } else read(p$register))
}

unused_complaints <- function(example, prepared, played) {
  spare <- function(names, given, used, what) {
    left <- which(lengths(given) > used)
    sprintf("%d of the %d given %s of `%s` were never needed", lengths(given)[left] - used[left], lengths(given)[left],
            what, names[left])
  }
  forced <- names(Filter(function(f) f$what == "draws", example$forced))
  never <- setdiff(forced, prepared$sources)
  c(spare(prepared$sources, prepared$draws, played$draws_used, "draws"),
    spare(names(prepared$answered), prepared$answers, played$answers_used, "answers"),
    if (length(never) > 0) sprintf("`%s` is never drawn", never))
}
