# Writes decisions out as code: the choices, the rule of the player of each seat, the check that
# the answer is legal. The stop ASK lets a script or a person answer instead of the player.

write_ask <- function(em, s) {
  write_claims(em, "ask")
  write_claims_answered(em, s$decision)
  d <- em$rules$decisions[[s$decision]]
  lies <- place_answer(em, d)
  if (d$together) {
    # No rule may read an answer of the same ask, so each can go straight to its place.
    for (seat in seq_len(seats_taken(em))) write_answer(em, s, d, seat, in_cell(lies$base + seat - 1L))
  } else write_answer_of(em, s, d, lies)
  if (remembers(em, d$name)) write_past(em, s, d, lies)
  write_mark(em, "answer", s$at)
}

place_answer <- function(em, d) place_variable(em, d$variable, if (is_pool(d$type)) most_chosen_from)
most_chosen_from <- 20L

# Who is asked may only be known in the round: one piece of code for each seat it may be.
write_answer_of <- function(em, s, d, lies) {
  target <- if (is_pool(d$type)) lies else in_cell(lies$cell)
  who <- write_value(em, s$who)
  if (!is.null(who$const)) return(write_answer(em, s, d, who$const, target))
  done <- new_label(em)
  asked <- s$who$type$members
  asked <- asked[asked <= seats_taken(em)]
  for (seat in asked) {
    other <- new_label(em)
    if (seat != asked[[length(asked)]]) emit(em, "JNE", who$cell, int_const(em, seat), other)
    write_answer(em, s, d, seat, target)
    if (seat != asked[[length(asked)]]) emit(em, "JMP", done)
    put_label(em, other)
  }
  put_label(em, done)
}

# Past answers are kept only where the rules, or a player who plays, look back at them.
remembers <- function(em, decision) {
  variable <- em$rules$past[[decision]]
  if (is.null(variable)) return(FALSE)
  if (is.null(em$looks_back[[decision]])) {
    rules <- em$rules
    chosen <- lapply(rules$decisions, function(d) lapply(d$rules[unlist(lapply(unique(em$players), function(p) players_seated(p)$names))], `[[`, "body"))
    read <- variables_in(list(rules$play, rules$outcomes$entries, rules$pays, rules$records, chosen), "at_seat")
    em$looks_back[[decision]] <- variable$id %in% read
  }
  em$looks_back[[decision]]
}

# Past answers are kept by seat, oldest first.
write_past <- function(em, s, d, lies) {
  variable <- em$rules$past[[d$name]]
  keep <- function(seat_node, cell) {
    place <- typed("at_seat", variable$type$of, s$at, var = variable, key = seat_node)
    change_place(em, place, function(list) emit(em, "LPUT", list, cell))
  }
  if (!d$together) return(keep(s$who, lies$cell))
  for (seat in seq_len(seats_taken(em))) keep(literal(seat, t_whole, s$at), lies$base + seat - 1L)
}

write_answer <- function(em, s, d, seat, target) {
  who <- if (is.null(s$who)) literal(seat, t_whole, s$at) else s$who
  choices <- write_choices(em, s$choices, d)
  passed <- if (!is.null(d$passed)) place_variable(em, d$passed)
  none <- function() pass_answer(em, target, passed)
  if (choices$how == "labels" && length(choices$items) == 0) return(none())
  done <- new_label(em)
  note_legal(em, choices, d)
  if (may_be_nothing(choices)) write_pass(em, choices, none, done)
  if (!is.null(passed)) move(em, passed, fixed_operand(0, t_whole))
  outer <- list(choices = em$choices, chooser = em$chooser)
  em$choices <- choices
  em$chooser <- seat
  forced <- new_label(em)
  answered <- new_label(em)
  answer_cell <- if (is_pool(d$type)) target$base else target$cell
  emit(em, "ASK", new_ask(em, d, seat, choices, s$at), int_const(em, seat), answer_cell, forced)
  write_arrival(em, d, seat, choices, target, answered)
  write_wandering(em, d, target, answered)
  write_by_player(em, seat, function(player) {
    rule <- d$rules[[player]]
    bind(em, rule$me, fixed_operand(seat, rule$me$type))
    without_notes(em, function() write_recalled(em, choices, rule$body, function() write_answer_body(em, d, rule$body, target)))
    if (!surely_legal(choices, rule$body)) write_legality(em, choices, target, d, seat)
  })
  put_label(em, answered)
  count_one(em, "asks")
  put_label(em, done)
  em$choices <- outer$choices
  em$chooser <- outer$chooser
  at <- em$at
  em$deferred <- c(em$deferred, list(function() {
    em$at <- at
    put_label(em, forced)
    write_legality(em, choices, target, d, seat)
    emit(em, "JMP", answered)
  }))
}

# What goes through very many choices, or through the subsets of a bag, comes to the same again from what it knew,
# where that has come up before.
many_choices <- 100

goes_through_many <- function(choices) {
  ends <- c(choices$low$const, choices$high$const)
  choices$how == "subsets" || (choices$how == "range" && length(ends) == 2 && diff(ends) >= many_choices)
}

is_laborious <- function(body) length(variables_in(body, c("fold", "best_item", "pool_filter", "pool_map"))) > 0

write_recalled <- function(em, choices, body, write) {
  if (!goes_through_many(choices) || (choices$how == "range" && !is_laborious(body))) return(write())
  em$recalls <- em$recalls + 1L
  region <- em$recalls - 1L
  emit(em, "RECALL", region)
  write()
  emit(em, "KEEP", region)
}

write_answer_body <- function(em, d, body, target) if (is_pool(d$type)) fill_place(em, target$list, body, "bag") else write_into(em, body, target)

# What a driver that stops at the ask must know: whose, and where the choices lie.
new_ask <- function(em, d, seat, choices, at) {
  flags <- vapply(choices$items, function(i) if (is.null(i$flag)) -1L else as.integer(i$flag$cell), 1L)
  em$asks[[length(em$asks) + 1L]] <- list(decision = decision_index(em, d$name), seat = as.integer(seat), how = choices$how,
    ids = as.integer(vapply(choices$items, `[[`, 0, "id")), flags = flags,
    low = if (choices$how == "range") cell_of(em, choices$low), high = if (choices$how == "range") cell_of(em, choices$high),
    list = choices$list, at_least = choices$at_least$cell, at_most = choices$at_most$cell, at = at)
  length(em$asks) - 1L
}

decision_index <- function(em, name) match(name, names(em$rules$decisions)) - 1L

# The choices with their conditions worked out: an answer surely not offered is left out, one that
# hangs on a condition has a `flag`.
write_choices <- function(em, choices, d) {
  legal <- choices$legal
  bind_candidate <- function(operand) bind(em, choices$candidate, operand)
  if (choices$how == "subsets") return(write_subset_choices(em, choices))
  if (choices$how == "list" || (choices$how == "range" && !is.null(legal))) return(write_list_choices(em, choices, d))
  if (choices$how == "range") {
    ends <- lapply(choices[c("low", "high")], function(end) { x <- write_value(em, end); if (is.null(x$const)) { kept <- new_cell(em, FALSE); move(em, kept, x); kept } else x })
    return(list(how = "range", low = ends$low, high = ends$high))
  }
  items <- list()
  for (item in choices$items) {
    offered <- item$offered
    if (!is.null(legal)) {
      bind_candidate(fixed_operand(item$id, d$type))
      offered <- if (is.null(offered)) legal else calculation("&&", t_yesno, legal$at, list(offered, legal))
    }
    flag <- if (!is.null(offered)) write_value(em, offered)
    if (!is.null(flag$const)) {
      if (flag$const == 0) next
      flag <- NULL
    }
    if (!is.null(flag)) { kept <- new_cell(em, FALSE); move(em, kept, flag); flag <- kept }
    items <- c(items, list(list(id = item$id, flag = flag)))
  }
  list(how = "labels", items = items)
}

# The legal items of a list or bag, each once, in a list of their own.
write_list_choices <- function(em, choices, d) {
  over <- choices$pool
  if (choices$how == "range") over <- typed("range", t_range, d$at, low = choices$low, high = choices$high)
  legal <- new_list(em, min(room_of(em, over), max_room))
  emit(em, "LCLEAR", legal$list)
  it <- new.env(parent = emptyenv())
  it$id <- paste("choice of", d$name)
  it$type <- d$type
  write_each_item(em, over, it, function() {
    skip <- new_label(em)
    here <- em$bound[[as.character(it$id)]]
    has <- new_cell(em, FALSE)
    emit(em, "LHAS", has$cell, cell_of(em, here), legal$list)
    emit(em, "JNZ", has$cell, skip)
    if (!is.null(choices$legal)) {
      bind(em, choices$candidate, here)
      jump_if(em, choices$legal, skip, when = FALSE)
    }
    emit(em, "LPUT", legal$list, cell_of(em, here))
    put_label(em, skip)
  })
  list(how = "list", list = legal$list, room = legal$room)
}

# The subsets of a pool: the pool itself is kept, the subsets are gone through when they are needed.
write_subset_choices <- function(em, choices) {
  pool <- new_list(em, room_of(em, choices$pool))
  fill_pool(em, choices$pool, pool$list, "bag")
  bound <- function(node) {
    if (is.null(node)) return(NULL)
    kept <- new_cell(em, FALSE)
    write_into(em, node, kept)
    kept
  }
  list(how = "subsets", list = pool$list, room = pool$room, at_least = bound(choices$at_least), at_most = bound(choices$at_most),
       legal = choices$legal, candidate = choices$candidate)
}

# Jumps to `label` when a subset, in the list `list`, is not legal.
jump_unless_subset <- function(em, choices, list, label) {
  if (!is.null(choices$at_least) || !is.null(choices$at_most)) {
    size <- new_cell(em, FALSE)
    emit(em, "LSIZE", size$cell, list)
    if (!is.null(choices$at_least)) emit(em, "JLT", size$cell, choices$at_least$cell, label)
    if (!is.null(choices$at_most)) emit(em, "JLT", choices$at_most$cell, size$cell, label)
  }
  if (is.null(choices$legal)) return(invisible())
  bind(em, choices$candidate, list(list = list, real = FALSE))
  jump_if(em, choices$legal, label, when = FALSE)
}

# Goes through the legal subsets; `visit(list)`.
write_each_subset <- function(em, choices, visit) {
  subset <- new_list(em, choices$room)
  mask <- new_cell(em, FALSE)
  top <- new_label(em)
  again <- new_label(em)
  done <- new_label(em)
  move(em, mask, fixed_operand(-1, t_whole))
  put_label(em, top)
  emit(em, "SUBSET", mask$cell, subset$list, choices$list)
  emit(em, "JLT", mask$cell, int_const(em, 0L), done)
  jump_unless_subset(em, choices, subset$list, again)
  visit(subset$list, done)
  put_label(em, again)
  emit(em, "LOOP", top)
  put_label(em, done)
}

may_be_nothing <- function(choices) {
  switch(choices$how,
    labels = all(vapply(choices$items, function(i) !is.null(i$flag), NA)),
    list = TRUE,
    subsets = !is.null(choices$legal) || !is.null(choices$at_least),
    FALSE)
}

# No legal answer is a pass.
write_pass <- function(em, choices, none, done) {
  some <- new_label(em)
  if (choices$how == "labels") for (item in choices$items) emit(em, "JNZ", item$flag$cell, some)
  else if (choices$how == "list") {
    size <- new_cell(em, FALSE)
    emit(em, "LSIZE", size$cell, choices$list)
    emit(em, "JNZ", size$cell, some)
  } else {
    found <- new_cell(em, FALSE)
    write_recalled(em, choices, choices$legal, function() {
      move(em, found, fixed_operand(0, t_whole))
      write_each_subset(em, choices, function(list, out) {
        move(em, found, fixed_operand(1, t_whole))
        emit(em, "JMP", out)
      })
    })
    emit(em, "JNZ", found$cell, some)
  }
  none()
  emit(em, "JMP", done)
  put_label(em, some)
}

pass_answer <- function(em, target, passed) {
  if (is.null(target$list)) move(em, target, fixed_operand(0, t_whole)) else emit(em, "LCLEAR", target$list)
  if (!is.null(passed)) move(em, passed, fixed_operand(1, t_whole))
  count_one(em, "passes")
}

# Is every answer that the rule can give among the choices, whatever happens?
surely_legal <- function(choices, body) {
  if (body$op %in% c("pick_choices", "prefer")) return(TRUE)
  if (body$op == "best_item" && body$over$op == "choices") return(TRUE)
  if (choices$how != "labels" || !is_kind(body$type, "label")) return(FALSE)
  members <- if (is.null(body$exit)) body$type$members else body$exit$variable$type$members
  always <- vapply(choices$items, function(i) if (is.null(i$flag)) i$id else NA_real_, 0)
  !isTRUE(body$type$none) && all(members %in% always)
}

write_legality <- function(em, choices, answer, d, seat) {
  fail <- new_label(em)
  fine <- new_label(em)
  if (choices$how == "subsets") {
    within <- new_cell(em, FALSE)
    emit(em, "LWITHIN", within$cell, answer$list, choices$list)
    emit(em, "JZ", within$cell, fail)
    jump_unless_subset(em, choices, answer$list, fail)
    emit(em, "JMP", fine)
  } else jump_if_choice(em, choices, answer, fine, fail)
  put_label(em, fail)
  emit(em, "FAIL", failure_code("illegal_answer"), decision_index(em, d$name) * seats_limit + as.integer(seat))
  put_label(em, fine)
}

# Jumps to `yes` when the answer is among the choices; what is not may jump to `no` or go on.
jump_if_choice <- function(em, choices, answer, yes, no) {
  if (choices$how == "range") {
    emit(em, "JLT", answer$cell, cell_of(em, choices$low), no)
    emit(em, "JLE", answer$cell, cell_of(em, choices$high), yes)
  } else if (choices$how == "list") {
    has <- new_cell(em, FALSE)
    emit(em, "LHAS", has$cell, answer$cell, choices$list)
    emit(em, "JNZ", has$cell, yes)
  } else for (item in choices$items) {
    if (is.null(item$flag)) emit(em, "JEQ", answer$cell, int_const(em, item$id), yes)
    else {
      next_item <- new_label(em)
      emit(em, "JNE", answer$cell, int_const(em, item$id), next_item)
      emit(em, "JNZ", item$flag$cell, yes)
      put_label(em, next_item)
    }
  }
}

# --- the choices in a player's rule -------------------------------------------

# Each legal answer of the ask being written.
write_each_choice <- function(em, it, visit) {
  choices <- em$choices
  if (choices$how == "subsets") {
    return(write_each_subset(em, choices, function(list, out) {
      bind(em, it, list(list = list, real = FALSE))
      visit()
    }))
  }
  if (choices$how == "labels") {
    for (choice in choices$items) {
      skip <- new_label(em)
      if (!is.null(choice$flag)) emit(em, "JZ", choice$flag$cell, skip)
      bind(em, it, fixed_operand(choice$id, it$type))
      visit()
      put_label(em, skip)
    }
    return(invisible())
  }
  item <- new_cell(em, FALSE)
  bind(em, it, item)
  if (choices$how == "list") return(write_list_loop(em, choices$list, item, visit))
  range <- list(low = typed("operand", t_whole, NULL, operand = choices$low), high = typed("operand", t_whole, NULL, operand = choices$high))
  write_range_loop(em, range, item, function(again) { visit(); put_label(em, again) })
}

# How many items the choices, or one of them, can hold at the most.
choices_room <- function(em, node) {
  choices <- em$choices
  if (node$op == "best_item" && node$over$op != "choices") return(room_of(em, node$over))
  switch(choices$how, labels = max(1, length(choices$items)), range = range_room(choices), choices$room)
}

range_room <- function(choices) {
  ends <- c(choices$low$const, choices$high$const)
  if (length(ends) == 2) max(1, min(max_room, ends[[2]] - ends[[1]] + 1)) else 10000
}

# One of the choices of the ask being written, each alike.
write_pick_choices <- function(em, node, into) {
  choices <- em$choices
  from <- source_index(em, chance_source(em, node$source))
  if (choices$how == "subsets") return(write_pick_subset(em, choices, from))
  target <- result_cell(em, into, FALSE)
  if (choices$how == "range") {
    emit(em, "DRAW", target$cell, from, cell_of(em, choices$low), cell_of(em, range_count(em, choices$low, choices$high)))
    return(target)
  }
  if (choices$how == "list") {
    emit(em, "DRAWL", target$cell, from, choices$list)
    return(target)
  }
  ids <- vapply(choices$items, `[[`, 0, "id")
  if (all(vapply(choices$items, function(i) is.null(i$flag), NA))) {
    if (all(diff(ids) == 1)) emit(em, "DRAW", target$cell, from, int_const(em, ids[[1]]), int_const(em, length(ids)))
    else {
      emit(em, "DRAW", target$cell, from, int_const(em, 1L), int_const(em, length(ids)))
      emit(em, "TAB", target$cell, target$cell, new_table(em, 1L, length(ids), ids))
    }
    return(target)
  }
  legal <- new_list(em, length(ids))
  emit(em, "LCLEAR", legal$list)
  for (item in choices$items) {
    skip <- new_label(em)
    if (!is.null(item$flag)) emit(em, "JZ", item$flag$cell, skip)
    emit(em, "LPUT", legal$list, int_const(em, item$id))
    put_label(em, skip)
  }
  emit(em, "DRAWL", target$cell, from, legal$list)
  target
}

# Counts the legal subsets, draws one by its number, and goes through them again up to it.
write_pick_subset <- function(em, choices, from) {
  count <- new_cell(em, FALSE)
  drawn <- new_cell(em, FALSE)
  answer <- new_list(em, choices$room)
  one <- int_const(em, 1L)
  move(em, count, fixed_operand(0, t_whole))
  write_each_subset(em, choices, function(list, out) emit(em, "ADD", count$cell, count$cell, one))
  emit(em, "DRAW", drawn$cell, from, one, count$cell)
  write_each_subset(em, choices, function(list, out) {
    emit(em, "LCOPY", answer$list, list)
    emit(em, "SUB", drawn$cell, drawn$cell, one)
    emit(em, "JZ", drawn$cell, out)
  })
  answer
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
    if (!is.null(a$when)) jump_if(em, a$when, next_one, when = FALSE)
    write_into(em, a$node, answer)
    jump_if_choice(em, choices, answer, take, next_one)
    emit(em, "JMP", next_one)
    put_label(em, take)
    move(em, target, answer)
    emit(em, "JMP", done)
    put_label(em, next_one)
  }
  emit(em, "FAIL", failure_code("illegal_answer"), 0L)
  put_label(em, done)
  target
}
