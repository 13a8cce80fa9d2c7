# Writes decisions out as code: the choices, the rule of the player of each seat, the check that
# the answer is legal. The mark ASK lets scripted play answer instead of the player.

write_ask <- function(em, s) {
  d <- em$rules$decisions[[s$decision]]
  lies <- place_variable(em, s$var)
  if (d$together) {
    # No rule may read an answer of the same ask, so each can go straight to its place.
    for (seat in seq_along(em$rules$seats)) write_answer(em, s, d, seat, in_cell(lies$base + seat - 1L))
    return(invisible())
  }
  who <- write_value(em, s$who)
  if (!is.null(who$const)) return(write_answer(em, s, d, who$const, lies))
  done <- new_label(em)
  asked <- s$who$type$members
  for (seat in asked) {
    other <- new_label(em)
    if (seat != asked[[length(asked)]]) emit(em, "JNE", who$cell, int_const(em, seat), other)
    write_answer(em, s, d, seat, lies)
    if (seat != asked[[length(asked)]]) emit(em, "JMP", done)
    put_label(em, other)
  }
  put_label(em, done)
}

write_answer <- function(em, s, d, seat, target) {
  choices <- write_choices(em, s$choices)
  if (length(choices$items) == 0 && choices$how == "labels") return(move(em, target, in_cell(int_const(em, 0L))))
  done <- new_label(em)
  if (may_be_nothing(choices)) write_pass(em, choices, target, done)
  outer <- list(choices = em$choices, chooser = em$chooser)
  em$choices <- choices
  em$chooser <- seat
  forced <- new_label(em)
  emit(em, "ASK", decision_index(em, d$name), int_const(em, seat), target$cell, forced)
  rule <- d$rules[[em$players[[seat]]]]
  bind(em, rule$me, known(seat, rule$me$type))
  write_into(em, rule$body, target)
  if (!surely_legal(choices, rule$body)) write_legality(em, choices, target, d, seat)
  put_label(em, done)
  back <- done
  em$choices <- outer$choices
  em$chooser <- outer$chooser
  at <- em$at
  em$deferred <- c(em$deferred, list(function() {
    em$at <- at
    put_label(em, forced)
    write_legality(em, choices, target, d, seat)
    emit(em, "JMP", back)
  }))
}

# A failure carries one number: the decision and the seat.
seats_limit <- 1000L

decision_index <- function(em, name) match(name, names(em$rules$decisions)) - 1L

# The choices with their conditions worked out: an answer surely not offered is left out, one that
# hangs on a condition has a `flag`.
write_choices <- function(em, choices) {
  if (choices$how == "range") {
    ends <- lapply(choices[c("low", "high")], function(end) { x <- write_value(em, end); if (is.null(x$const)) { kept <- new_cell(em, FALSE); move(em, kept, x); kept } else x })
    return(list(how = "range", low = ends$low, high = ends$high))
  }
  items <- list()
  for (item in choices$items) {
    flag <- if (!is.null(item$offered)) write_value(em, item$offered)
    if (!is.null(flag$const)) {
      if (flag$const == 0) next
      flag <- NULL
    }
    if (!is.null(flag)) { kept <- new_cell(em, FALSE); move(em, kept, flag); flag <- kept }
    items <- c(items, list(list(id = item$id, flag = flag)))
  }
  list(how = "labels", items = items)
}

may_be_nothing <- function(choices) {
  choices$how == "labels" && all(vapply(choices$items, function(i) !is.null(i$flag), NA))
}

# No legal answer is a pass.
write_pass <- function(em, choices, target, done) {
  some <- new_label(em)
  for (item in choices$items) emit(em, "JNZ", item$flag$cell, some)
  move(em, target, in_cell(int_const(em, 0L)))
  emit(em, "JMP", done)
  put_label(em, some)
}

# Is every answer that the rule can give among the choices, whatever happens?
surely_legal <- function(choices, body) {
  if (body$op == "pick_choices" || body$op == "prefer") return(TRUE)
  if (choices$how == "range" || !is_kind(body$type, "label")) return(FALSE)
  members <- if (is.null(body$exit)) body$type$members else body$exit$variable$type$members
  always <- vapply(choices$items, function(i) if (is.null(i$flag)) i$id else NA_real_, 0)
  !isTRUE(body$type$none) && all(members %in% always)
}

write_legality <- function(em, choices, answer, d, seat) {
  fail <- new_label(em)
  fine <- new_label(em)
  if (choices$how == "range") {
    emit(em, "JLT", answer$cell, cell_of(em, choices$low), fail)
    emit(em, "JLE", answer$cell, cell_of(em, choices$high), fine)
  } else for (item in choices$items) {
    if (is.null(item$flag)) emit(em, "JEQ", answer$cell, int_const(em, item$id), fine)
    else {
      next_item <- new_label(em)
      emit(em, "JNE", answer$cell, int_const(em, item$id), next_item)
      emit(em, "JNZ", item$flag$cell, fine)
      put_label(em, next_item)
    }
  }
  put_label(em, fail)
  emit(em, "FAIL", failure_code("illegal_answer"), decision_index(em, d$name) * seats_limit + as.integer(seat))
  put_label(em, fine)
}

# The first answer that is legal.
write_prefer <- function(em, node, into) {
  target <- result_cell(em, into, FALSE)
  choices <- em$choices
  done <- new_label(em)
  answer <- new_cell(em, FALSE)
  for (a in node$answers) {
    next_one <- new_label(em)
    take <- new_label(em)
    write_into(em, a, answer)
    if (choices$how == "range") {
      emit(em, "JLT", answer$cell, cell_of(em, choices$low), next_one)
      emit(em, "JLT", cell_of(em, choices$high), answer$cell, next_one)
    } else {
      for (item in choices$items) {
        other <- new_label(em)
        emit(em, "JNE", answer$cell, int_const(em, item$id), other)
        emit(em, if (is.null(item$flag)) "JMP" else "JNZ", if (is.null(item$flag)) take else item$flag$cell, if (is.null(item$flag)) 0L else take)
        put_label(em, other)
      }
      emit(em, "JMP", next_one)
    }
    put_label(em, take)
    move(em, target, answer)
    emit(em, "JMP", done)
    put_label(em, next_one)
  }
  emit(em, "FAIL", failure_code("illegal_answer"), 0L)
  put_label(em, done)
  target
}
