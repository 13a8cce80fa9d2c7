# Writes decisions out as code: the choices, the rule of the player of each seat, the check that
# the answer is legal. The stop ASK lets a script or a person answer instead of the player. Of an open seat the
# program only offers the legal answers (program-open.R).

op_ask <- function(asm, s) {
  write_claims(asm, "ask")
  write_claims_answered(asm, s$decision)
  d <- asm$rules$decisions[[s$decision]]
  slot <- slot_of_answer(asm, d)
  asm$groups <- asm$groups + 1L
  if (d$together) {
    # Each answer goes straight to its place: a rule reads those of the same ask only if it answers last.
    for (seat in seats_in_order(asm, d, s$at))
      write_if_playing(asm, seat, function() write_answer(asm, s, d, seat, in_register(slot$base + seat - 1L)))
  } else write_answer_of(asm, s, d, slot)
  if (remembers(asm, d$name)) write_past(asm, s, d, slot)
  write_seen_answers(asm, s, d, slot)
  write_trace_point(asm, "answer", s$at, pass = s$reasons$pass, who = if (!d$together) kept_operand(asm, s$who))
}

# The seats as they answer: a player that peeks at the others' answers comes last. Open seats come first, so that no
# answer of a player is there, unseen, before theirs.
seats_in_order <- function(asm, d, at) {
  seats <- seq_len(seats_taken(asm))
  open <- seats %in% asm$question$open
  waits <- vapply(seats, function(seat) {
    rules <- if (!open[[seat]]) d$rules[rule_of(players_seated(asm$players[[seat]])$names)]
    any(vapply(rules, function(rule) isTRUE(rule$waits), NA))
  }, NA)
  if (sum(waits) > 1)
    program_diagnostic(asm, "answers_wait", at,
                       sprintf("%s wait for each other's answer to `%s`.",
                               some_of_names(asm$rules$seats[seats[waits]]), d$name),
                       "seat a player that peeks at one of them only")
  c(seats[open], seats[!waits & !open], seats[waits])
}

slot_of_answer <- function(asm, d) slot_of(asm, d$variable, if (is_collection(d$type)) most_chosen_from)
most_chosen_from <- 20L

# Who is asked may only be known in the round: one piece of code for each seat it may be.
write_answer_of <- function(asm, s, d, slot) {
  target <- if (is_collection(d$type)) slot else in_register(slot$register)
  who <- write_value(asm, s$who)
  if (!is.null(who$const)) return(write_answer(asm, s, d, who$const, target))
  done <- new_label(asm)
  asked <- s$who$type$members
  asked <- asked[is_there(asm, asked)]
  for (seat in asked) {
    other <- new_label(asm)
    if (seat != asked[[length(asked)]]) emit(asm, "JNE", who$register, int_const(asm, seat), other)
    write_answer(asm, s, d, seat, target)
    if (seat != asked[[length(asked)]]) emit(asm, "JMP", done)
    put_label(asm, other)
  }
  put_label(asm, done)
}

# Past answers are kept only where the rules, or a player who plays, look back at them.
remembers <- function(asm, decision) {
  variable <- asm$rules$past[[decision]]
  if (is.null(variable)) return(FALSE)
  if (is.null(asm$looks_back[[decision]])) {
    rules <- asm$rules
    chosen <- lapply(rules$decisions,
                     function(d)
                       lapply(d$rules[rule_of(unlist(lapply(unique(asm$players),
                                                            function(p) players_seated(p)$names)))], `[[`,
                              "body"))
    read <- variables_in(list(rules$play, rules$outcomes$entries, rules$pays, asm$question$records, chosen), "at_key")
    asm$looks_back[[decision]] <- variable$id %in% read
  }
  asm$looks_back[[decision]]
}

# Past answers are kept by seat, oldest first.
write_past <- function(asm, s, d, slot) {
  variable <- asm$rules$past[[d$name]]
  keep <- function(seat_node, register) {
    place <- typed("at_key", variable$type$of, s$at, var = variable, key = seat_node)
    change_place(asm, place, function(list) emit(asm, "LPUT", list, register))
  }
  if (!d$together) return(keep(s$who, slot$register))
  for (seat in seq_len(seats_taken(asm)))
    write_if_playing(asm, seat, function() keep(literal(seat, t_whole, s$at), slot$base + seat - 1L))
}

write_answer <- function(asm, s, d, seat, target) {
  name_answering <- function() if (!is.null(s$it)) bind(asm, s$it, fixed_operand(seat, s$it$type))
  name_answering()
  open <- seat %in% asm$question$open
  site <- if (open) open_site(asm, s, d, seat)
  choices <- write_choices(asm, s$choices, d)
  passed <- if (!is.null(d$passed)) slot_of(asm, d$passed)
  none <- function() pass_answer(asm, target, passed)
  if (choices$how == "labels" && length(choices$items) == 0) return(none())
  done <- new_label(asm)
  cover_legal(asm, choices, d)
  if (may_be_nothing(choices)) write_pass(asm, choices, none, done)
  if (!is.null(passed)) move(asm, passed, fixed_operand(0, t_whole))
  outer <- list(choices = asm$choices, chooser = asm$chooser)
  asm$choices <- choices
  asm$chooser <- seat
  if (open) write_decision(asm, site, d, seat, choices, target)
  else write_bound_answer(asm, s, d, seat, choices, target, name_answering)
  count_one(asm, "asks")
  put_label(asm, done)
  asm$choices <- outer$choices
  asm$chooser <- outer$chooser
}

# The answer of the player of a seat, or of who stops at the ASK.
write_bound_answer <- function(asm, s, d, seat, choices, target, name_answering) {
  forced <- new_label(asm)
  answered <- new_label(asm)
  answer_cell <- if (is_collection(d$type)) target$base else target$register
  write_arrival(asm, d, seat, choices, target, answered)
  observed <- write_observed(asm, d, seat)
  ask <- new_ask(asm, d, seat, choices, s$at, s$reasons$because, observed)
  emit(asm, "ASK", ask, int_const(asm, seat), answer_cell, forced)
  write_wandering(asm, d, target, answered)
  write_by_player(asm, seat, function(player) {
    write_slip(asm, d, seat, player, target, answered)
    rule <- d$rules[[rule_of(player)]]
    if (is.null(rule)) return(emit(asm, "FAIL", failure_code("rule_missing")))
    bind(asm, rule$me, fixed_operand(seat, rule$me$type))
    bind_arguments(asm, player)
    without_coverage(asm,
                     function()
                       write_memoised(asm, choices, rule$body, function() write_answer_body(asm, d, rule$body, target)))
    if (!surely_legal(choices, rule$body)) write_legality(asm, choices, target, d, seat)
  })
  put_label(asm, answered)
  at <- asm$at
  asm$deferred <- c(asm$deferred, list(function() {
    asm$at <- at
    put_label(asm, forced)
    name_answering()
    write_legality(asm, choices, target, d, seat)
    emit(asm, "JMP", answered)
  }))
}

bind_arguments <- function(asm, player) {
  given <- arguments_of_player(asm$rules, player, asm$settings)
  for (p in asm$rules$players[[rule_of(player)]]$params) bind(asm, p$variable, fixed_operand(given[[p$name]], p$type))
}

# With its chance, a player that slips gives any legal answer instead.
write_slip <- function(asm, d, seat, player, target, answered) {
  chance <- slip_of(player)
  if (chance == 0) return(invisible())
  as_usual <- new_label(asm)
  slip <- new_register(asm, FALSE)
  source <- source_index(asm, paste("chance of slips of", asm$rules$seats[[seat]]))
  emit(asm, "DRAWP", slip$register, source, real_const(asm, chance))
  emit(asm, "JZ", slip$register, as_usual)
  write_any_answer(asm, d, target)
  emit(asm, "JMP", answered)
  put_label(asm, as_usual)
}

# What goes through very many choices, or through the subsets of a bag, comes to the same again from what it knew,
# where that has come up before.
many_choices <- 100

goes_through_many <- function(choices) {
  ends <- c(choices$low$const, choices$high$const)
  choices$how == "subsets" || (choices$how == "range" && length(ends) == 2 && diff(ends) >= many_choices)
}

is_laborious <- function(body)
  length(variables_in(body, c("fold", "best_item", "collection_filter", "collection_map"))) > 0

write_memoised <- function(asm, choices, body, write) {
  if (!goes_through_many(choices) || (choices$how == "range" && !is_laborious(body))) return(write())
  asm$memos <- asm$memos + 1L
  region <- asm$memos - 1L
  emit(asm, "MEMO", region)
  write()
  emit(asm, "STORE", region)
}

write_answer_body <- function(asm, d, body, target) if (is_collection(d$type))
  fill_place(asm, target$list, body, "bag") else write_into(asm, body, target)

# For who observes: expressions, and what another player would answer here; list(type, list or register) each.
write_observed <- function(asm, d, seat) {
  wanted <- asm$question$observed
  things <- if (seat %in% asm$question$advised)
    lapply(asm$question$situations[[d$name]], write_situation, asm = asm, seat = seat)
  if (is.null(wanted) || wanted$decision != d$name) return(list(things = things))
  of_other <- function() {
    rule <- d$rules[[rule_of(wanted$other)]]
    bind(asm, rule$me, fixed_operand(seat, rule$me$type))
    bind_arguments(asm, wanted$other)
    body <- rule$body
    if (!is_collection(d$type)) body$type <- d$type
    kept_value(asm, body)
  }
  list(things = things, by = lapply(wanted$by, write_situation, asm = asm, seat = seat),
       other = if (!is.null(wanted$other) && seat == wanted$seat) of_other())
}

# An expression of a situation, in which `me` is this seat.
write_situation <- function(asm, asked, seat) {
  bind(asm, asked$me, fixed_operand(seat, asked$me$type))
  kept_value(asm, asked$node)
}

kept_value <- function(asm, node) {
  if (is_collection(node$type)) return(list(type = node$type, list = write_collection(asm, node)))
  register <- new_register(asm, is_real(node$type))
  write_into(asm, node, register)
  list(type = node$type, register = register$register, real = register$real)
}

# For a driver that stops at the ask: the seat, and the registers of the choices.
new_ask <- function(asm, d, seat, choices, at, because, observed = NULL) {
  flags <- vapply(choices$items, function(i) if (is.null(i$flag)) -1L else as.integer(i$flag$register), 1L)
  asm$asks[[length(asm$asks) + 1L]] <- list(decision = decision_index(asm, d$name), seat = as.integer(seat),
    how = choices$how,
    ids = as.integer(vapply(choices$items, `[[`, 0, "id")), flags = flags,
    low = if (choices$how == "range") register_of(asm, choices$low),
    high = if (choices$how == "range") register_of(asm, choices$high),
    list = choices$list, at_least = choices$at_least$register, at_most = choices$at_most$register,
    at = at, because = because, observed = observed)
  length(asm$asks) - 1L
}

decision_index <- function(asm, name) match(name, names(asm$rules$decisions)) - 1L

# The choices with their conditions worked out: an answer surely not offered is left out, one that
# depends on a condition has a `flag`.
write_choices <- function(asm, choices, d) {
  legal <- choices$legal
  bind_candidate <- function(operand) bind(asm, choices$candidate, operand)
  if (choices$how == "subsets") return(write_subset_choices(asm, choices))
  if (choices$how == "list" || (choices$how == "range" && !is.null(legal))) return(write_list_choices(asm, choices, d))
  if (choices$how == "range") {
    ends <- lapply(choices[c("low", "high")], function(end) {
      x <- write_value(asm, end)
      if (is.null(x$const)) { kept <- new_register(asm, FALSE); move(asm, kept, x); kept } else x
    })
    return(list(how = "range", low = ends$low, high = ends$high))
  }
  items <- list()
  for (item in choices$items) {
    offered <- item$offered
    if (!is.null(legal)) {
      bind_candidate(fixed_operand(item$id, d$type))
      offered <- if (is.null(offered)) legal else calculation("&&", t_yesno, legal$at, list(offered, legal))
    }
    flag <- if (!is.null(offered)) write_value(asm, offered)
    if (!is.null(flag$const)) {
      if (flag$const == 0) next
      flag <- NULL
    }
    if (!is.null(flag)) { kept <- new_register(asm, FALSE); move(asm, kept, flag); flag <- kept }
    items <- c(items, list(list(id = item$id, flag = flag)))
  }
  list(how = "labels", items = items)
}

# The legal items of a list or bag, each once, in a list of their own.
write_list_choices <- function(asm, choices, d) {
  over <- choices$collection
  if (choices$how == "range") over <- typed("range", t_range, d$at, low = choices$low, high = choices$high)
  legal <- new_list(asm, min(room_of(asm, over), max_room))
  emit(asm, "LCLEAR", legal$list)
  it <- new.env(parent = emptyenv())
  it$id <- paste("choice of", d$name)
  it$type <- d$type
  write_each_item(asm, over, it, function() {
    skip <- new_label(asm)
    here <- asm$bound[[as.character(it$id)]]
    has <- new_register(asm, FALSE)
    emit(asm, "LHAS", has$register, register_of(asm, here), legal$list)
    emit(asm, "JNZ", has$register, skip)
    if (!is.null(choices$legal)) {
      bind(asm, choices$candidate, here)
      jump_if(asm, choices$legal, skip, when = FALSE)
    }
    emit(asm, "LPUT", legal$list, register_of(asm, here))
    put_label(asm, skip)
  })
  list(how = "list", list = legal$list, room = legal$room)
}

# The subsets of a temporary collection: the collection is kept, the subsets are formed when they are needed.
write_subset_choices <- function(asm, choices) {
  collection <- new_list(asm, room_of(asm, choices$collection))
  fill_collection(asm, choices$collection, collection$list, "bag")
  bound <- function(node) {
    if (is.null(node)) return(NULL)
    kept <- new_register(asm, FALSE)
    write_into(asm, node, kept)
    kept
  }
  list(how = "subsets", list = collection$list, room = collection$room, at_least = bound(choices$at_least),
       at_most = bound(choices$at_most),
       legal = choices$legal, candidate = choices$candidate)
}

# Jumps to `label` when a subset, in the list `list`, is not legal.
jump_unless_subset <- function(asm, choices, list, label) {
  if (!is.null(choices$at_least) || !is.null(choices$at_most)) {
    size <- new_register(asm, FALSE)
    emit(asm, "LSIZE", size$register, list)
    if (!is.null(choices$at_least)) emit(asm, "JLT", size$register, choices$at_least$register, label)
    if (!is.null(choices$at_most)) emit(asm, "JLT", choices$at_most$register, size$register, label)
  }
  if (is.null(choices$legal)) return(invisible())
  bind(asm, choices$candidate, list(list = list, real = FALSE))
  jump_if(asm, choices$legal, label, when = FALSE)
}

may_be_nothing <- function(choices) {
  switch(choices$how,
    labels = all(vapply(choices$items, function(i) !is.null(i$flag), NA)),
    list = TRUE,
    subsets = !is.null(choices$legal) || !is.null(choices$at_least),
    FALSE)
}

# No legal answer is a pass.
write_pass <- function(asm, choices, none, done) {
  some <- new_label(asm)
  if (choices$how == "labels") for (item in choices$items) emit(asm, "JNZ", item$flag$register, some)
  else if (choices$how == "list") {
    size <- new_register(asm, FALSE)
    emit(asm, "LSIZE", size$register, choices$list)
    emit(asm, "JNZ", size$register, some)
  } else {
    any_legal <- new_register(asm, FALSE)
    write_memoised(asm, choices, choices$legal, function() {
      move(asm, any_legal, fixed_operand(0, t_whole))
      write_each_subset(asm, choices, function(list, out) {
        move(asm, any_legal, fixed_operand(1, t_whole))
        emit(asm, "JMP", out)
      })
    })
    emit(asm, "JNZ", any_legal$register, some)
  }
  none()
  emit(asm, "JMP", done)
  put_label(asm, some)
}

pass_answer <- function(asm, target, passed) {
  if (is.null(target$list)) move(asm, target, fixed_operand(0, t_whole)) else emit(asm, "LCLEAR", target$list)
  if (!is.null(passed)) move(asm, passed, fixed_operand(1, t_whole))
  count_one(asm, "passes")
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

write_legality <- function(asm, choices, answer, d, seat, otherwise = function() fail_illegal(asm, d, seat)) {
  fail <- new_label(asm)
  fine <- new_label(asm)
  if (choices$how == "subsets") {
    within <- new_register(asm, FALSE)
    emit(asm, "LWITHIN", within$register, answer$list, choices$list)
    emit(asm, "JZ", within$register, fail)
    jump_unless_subset(asm, choices, answer$list, fail)
    emit(asm, "JMP", fine)
  } else jump_if_choice(asm, choices, answer, fine, fail)
  put_label(asm, fail)
  otherwise()
  put_label(asm, fine)
}

fail_illegal <- function(asm, d, seat)
  emit(asm, "FAIL", failure_code("illegal_answer"), decision_index(asm, d$name) * seats_limit + as.integer(seat))

# Jumps to `yes` when the answer is among the choices; what is not may jump to `no` or go on.
jump_if_choice <- function(asm, choices, answer, yes, no) {
  if (choices$how == "range") {
    emit(asm, "JLT", answer$register, register_of(asm, choices$low), no)
    emit(asm, "JLE", answer$register, register_of(asm, choices$high), yes)
  } else if (choices$how == "list") {
    has <- new_register(asm, FALSE)
    emit(asm, "LHAS", has$register, answer$register, choices$list)
    emit(asm, "JNZ", has$register, yes)
  } else for (item in choices$items) {
    if (is.null(item$flag)) emit(asm, "JEQ", answer$register, int_const(asm, item$id), yes)
    else {
      next_item <- new_label(asm)
      emit(asm, "JNE", answer$register, int_const(asm, item$id), next_item)
      emit(asm, "JNZ", item$flag$register, yes)
      put_label(asm, next_item)
    }
  }
}

# --- the choices in a player's rule -------------------------------------------

# One of the choices of the ask being written, each alike.
op_pick_choices <- function(asm, node, into) {
  choices <- asm$choices
  from <- source_index(asm, chance_source(asm, node$source))
  if (choices$how == "subsets") return(write_pick_subset(asm, choices, from))
  target <- result_register(asm, into, FALSE)
  if (choices$how == "range") {
    emit(asm, "DRAW", target$register, from, register_of(asm, choices$low),
         register_of(asm, range_count(asm, choices$low, choices$high)))
    return(target)
  }
  if (choices$how == "list") {
    emit(asm, "DRAWL", target$register, from, choices$list)
    return(target)
  }
  ids <- vapply(choices$items, `[[`, 0, "id")
  if (all(vapply(choices$items, function(i) is.null(i$flag), NA))) {
    if (all(diff(ids) == 1))
      emit(asm, "DRAW", target$register, from, int_const(asm, ids[[1]]), int_const(asm, length(ids)))
    else {
      emit(asm, "DRAW", target$register, from, int_const(asm, 1L), int_const(asm, length(ids)))
      emit(asm, "TAB", target$register, target$register, new_table(asm, 1L, length(ids), ids))
    }
    return(target)
  }
  legal <- new_list(asm, length(ids))
  emit(asm, "LCLEAR", legal$list)
  for (item in choices$items) {
    skip <- new_label(asm)
    if (!is.null(item$flag)) emit(asm, "JZ", item$flag$register, skip)
    emit(asm, "LPUT", legal$list, int_const(asm, item$id))
    put_label(asm, skip)
  }
  emit(asm, "DRAWL", target$register, from, legal$list)
  target
}

# Counts the legal subsets, draws one by its number, and goes through them again up to it.
write_pick_subset <- function(asm, choices, from) {
  count <- new_register(asm, FALSE)
  drawn <- new_register(asm, FALSE)
  answer <- new_list(asm, choices$room)
  one <- int_const(asm, 1L)
  move(asm, count, fixed_operand(0, t_whole))
  write_each_subset(asm, choices, function(list, out) emit(asm, "ADD", count$register, count$register, one))
  emit(asm, "DRAW", drawn$register, from, one, count$register)
  write_each_subset(asm, choices, function(list, out) {
    emit(asm, "LCOPY", answer$list, list)
    emit(asm, "SUB", drawn$register, drawn$register, one)
    emit(asm, "JZ", drawn$register, out)
  })
  answer
}

# The first answer that is legal.
op_prefer <- function(asm, node, into) {
  target <- result_register(asm, into, FALSE)
  choices <- asm$choices
  done <- new_label(asm)
  answer <- new_register(asm, FALSE)
  for (a in node$answers) {
    next_one <- new_label(asm)
    take <- new_label(asm)
    if (!is.null(a$when)) jump_if(asm, a$when, next_one, when = FALSE)
    # The best of nothing is no answer.
    if (a$node$op == "best_item") move(asm, answer, write_best_item(asm, a$node, next_one))
    else write_into(asm, a$node, answer)
    jump_if_choice(asm, choices, answer, take, next_one)
    emit(asm, "JMP", next_one)
    put_label(asm, take)
    move(asm, target, answer)
    emit(asm, "JMP", done)
    put_label(asm, next_one)
  }
  emit(asm, "FAIL", failure_code("illegal_answer"), 0L)
  put_label(asm, done)
  target
}
