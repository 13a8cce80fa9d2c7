# Writes out pools: lists and bags made by an expression. A pool that is remembered lies in its place, any
# other is written into a list of its own.

# The most items that a roll of an unknown number of dice may give.
most_dice <- 60

# The list that holds a pool; `kind` is how it must be kept: a bag in canonical order or a list.
write_pool <- function(em, node, kind = node$type$kind) {
  if (node$type$kind == kind) {
    bound <- if (node$op == "var") em$bound[[as.character(node$var$id)]]
    if (!is.null(bound$list)) return(bound$list)
    if (node$op == "var") return(list_of_variable(em, node))
    if (node$op == "at_seat") return(write_family_list(em, node))
    if (node$op == "do") return(write_pool_body(em, node))
    if (node$op == "prefer") stop("prefer has no pools")
  }
  pool <- new_list(em, room_of(em, node))
  fill_pool(em, node, pool$list, kind)
  pool$list
}

list_of_variable <- function(em, node) {
  bound <- em$bound[[as.character(node$var$id)]]
  if (!is.null(bound$list)) bound$list else list_of(em, node$var)
}

# The list of one key: its own where the key is known, else a copy.
write_family_list <- function(em, node) {
  lies <- place_variable(em, node$var, past_room)
  key <- write_value(em, node$key)
  if (!is.null(key$const) && key$const >= lies$first && key$const < lies$first + lies$size) return(lies$list + as.integer(key$const) - lies$first)
  copy <- new_list(em, lies$room)
  at_place(em, node$at, function() emit(em, "LFROM", copy$list, cell_of(em, key), lies$family))
  copy$list
}

# Changes the list of a place with `change(list)`; that of a key not known now is fetched and put back.
change_place <- function(em, place, change) {
  if (place$op == "var") return(change(list_of_variable(em, place)))
  lies <- place_variable(em, place$var, past_room)
  key <- write_value(em, place$key)
  fail_unless_taken(em, place, key)
  if (!is.null(key$const) && key$const >= lies$first && key$const < lies$first + lies$size) return(change(lies$list + as.integer(key$const) - lies$first))
  kept <- new_cell(em, FALSE)
  move(em, kept, key)
  copy <- new_list(em, lies$room)
  emit(em, "LFROM", copy$list, kept$cell, lies$family)
  change(copy$list)
  emit(em, "LINTO", kept$cell, lies$family, copy$list)
}

# Past answers have a room of their own; other families are placed with theirs before play begins.
past_room <- 1000L

fill_pool <- function(em, node, list, kind) {
  if (node$op == "pool_join") {
    fill_pool(em, node$left, list, kind)
    return(add_to_pool(em, node$right, list, kind))
  }
  if (node$op %in% comes_whole && (kind == "list" || node$type$kind == "bag")) {
    return(at_place(em, node$at, function() emit(em, "LCOPY", list, write_pool_list(em, node))))
  }
  emit(em, "LCLEAR", list)
  add_to_pool(em, node, list, kind)
}

comes_whole <- c("var", "at_seat", "do", "best_item", "pick_choices", "pool_groups", "pool_common", "pool_letters", "pool_mask")

add_to_pool <- function(em, node, list, kind) {
  put <- function(x) emit(em, if (kind == "bag") "BPUT" else "LPUT", list, cell_of(em, x))
  at_place(em, node$at, function() switch(node$op,
    pool_roll = write_range_loop(em, list(low = literal(1, t_whole, node$at), high = node$n), plain_cell(em), function(again) {
      put(write_draw(em, node$faces, node$source, NULL))
      put_label(em, again)
    }),
    pool_of = for (v in node$values) put(write_value(em, v)),
    seats = for (seat in seq_len(seats_taken(em))) put(fixed_operand(seat, t_whole)),
    pool_filter = write_each_item(em, node$over, node$it, function() {
      skip <- new_label(em)
      jump_if(em, node$body, skip, when = FALSE)
      put(em$bound[[as.character(node$it$id)]])
      put_label(em, skip)
    }),
    let = { write_bindings(em, node); add_to_pool(em, node$body, list, kind) },
    pool_map = write_each_item(em, node$over, node$it, function() put(write_value(em, node$body))),
    pool_repeat = write_range_loop(em, list(low = literal(1, t_whole, node$at), high = node$n), plain_cell(em), function(again) {
      put(write_value(em, node$x))
      put_label(em, again)
    }),
    choices = , range = write_each_item(em, node, anything(node), function() put(em$bound[[anything_key(node)]])),
    choose = add_chosen_pool(em, node, list, kind),
    pool_join = { add_to_pool(em, node$left, list, kind); add_to_pool(em, node$right, list, kind) },
    emit(em, if (kind == "bag") "BAPPEND" else "LAPPEND", list, write_pool_list(em, node))))
}

# if (c) a else b, on pools
add_chosen_pool <- function(em, node, list, kind) {
  otherwise <- new_label(em)
  done <- new_label(em)
  jump_if(em, node$cond, otherwise, when = FALSE)
  write_note(em, "holds", node$cond$at)
  add_to_pool(em, node$yes, list, kind)
  emit(em, "JMP", done)
  put_label(em, otherwise)
  write_note(em, "fails", node$cond$at)
  add_to_pool(em, node$no, list, kind)
  put_label(em, done)
}

# A pool that comes as a whole list: what is remembered, the sizes of groups.
write_pool_list <- function(em, node) {
  made <- function(op, from) {
    out <- new_list(em, room_of(em, node))
    at_place(em, node$at, function() emit(em, op, out$list, from))
    out$list
  }
  switch(node$op,
    at_seat = write_family_list(em, node),
    do = write_pool_body(em, node),
    var = list_of_variable(em, node),
    best_item = write_best_item(em, node)$list,
    pick_choices = at_place(em, node$at, function() write_pick_choices(em, node, NULL))$list,
    pool_groups = made("LGROUPS", write_pool(em, node$over)),
    pool_common = made("LCOMMON", write_pool(em, node$over)),
    pool_letters = made("WLETTERS", cell_of(em, write_value(em, node$x))),
    pool_mask = {
      tried <- write_pool(em, node$tried)
      word <- cell_of(em, write_value(em, node$x))
      out <- new_list(em, room_of(em, node))
      at_place(em, node$at, function() emit(em, "WHIDE", out$list, word, tried))
      out$list
    },
    stop("no list for ", node$op))
}

# An item variable for going over what has none of its own.
anything <- function(node) {
  it <- new.env(parent = emptyenv())
  it$id <- anything_key(node)
  it$type <- item_type(node$type)
  it
}

anything_key <- function(node) paste("item", node$op)

# How many items a pool can hold at the most.
room_of <- function(em, node) {
  switch(node$op,
    var = { bound <- em$bound[[as.character(node$var$id)]]; if (!is.null(bound$list)) em$lists$get(bound$list + 1L)[[2]] else place_variable(em, node$var)$room },
    at_seat = place_variable(em, node$var, past_room)$room,
    do = max_result_room(em, node),
    choices = , pick_choices = , best_item = choices_room(em, node),
    pool_map = room_of(em, node$over),
    pool_common = room_of(em, node$over),
    pool_repeat = room_for(em, node, "This repeats an item %s times."),
    pool_letters = , pool_mask = max_letters,
    seats = length(em$rules$seats),
    pool_roll = room_for(em, node, "This rolls %s dice."),
    pool_of = max(1, length(node$values)),
    pool_filter = room_of(em, node$over),
    choose = max(room_of(em, node$yes), room_of(em, node$no)),
    let = {
      for (b in node$bindings) if (is_pool(b$var$type)) place_variable(em, b$var, room_of(em, b$value))
      room_of(em, node$body)
    },
    pool_join = room_of(em, node$left) + room_of(em, node$right),
    pool_groups = room_of(em, node$over),
    range = { ends <- c(write_value(em, node$low)$const, write_value(em, node$high)$const); if (length(ends) == 2) max(1, ends[[2]] - ends[[1]] + 1) else max_room },
    length(em$rules$seats))
}

# Room for so many items as the node says.
room_for <- function(em, node, message) {
  n <- write_value(em, node$n)$const
  if (is.null(n)) return(most_dice)
  if (n <= max_room) return(max(1, n))
  program_problem(em, "room_wrong", node$at, sprintf(message, plain_number(n)), sprintf("the most is %d", as.integer(max_room)))
  1
}

write_pool_same <- function(em, node, into) {
  kind <- if ("bag" %in% c(node$left$type$kind, node$right$type$kind)) "bag" else "list"
  left <- write_pool(em, node$left, kind)
  right <- write_pool(em, node$right, kind)
  target <- result_cell(em, into, FALSE)
  emit(em, "LSAME", target$cell, left, right)
  target
}

# One number about a pool: its size.
write_of_pool <- function(em, node, op, into) {
  pool <- write_pool(em, node$over)
  target <- result_cell(em, into, FALSE)
  emit(em, op, target$cell, pool)
  target
}

# The longest run of numbers, or of places in an order; with `ends` the first end also counts as just
# below the second.
write_run <- function(em, node, into) {
  pool <- write_pool(em, node$over)
  if (!is.null(node$order) || !is.null(node$ends)) {
    places <- new_list(em, room_of(em, node$over) * if (is.null(node$ends)) 1 else 2)
    it <- new_cell(em, FALSE)
    emit(em, "LCLEAR", places$list)
    write_list_loop(em, pool, it, function() {
      here <- it
      if (!is.null(node$order)) {
        here <- new_cell(em, FALSE)
        span <- seq(min(node$order), max(node$order))
        emit(em, "TAB", here$cell, it$cell, new_table(em, span[[1]], length(span), match(span, node$order, nomatch = 0L)))
      }
      emit(em, "LPUT", places$list, here$cell)
      if (is.null(node$ends)) return(invisible())
      skip <- new_label(em)
      emit(em, "JNE", here$cell, int_const(em, node$ends[[1]]), skip)
      emit(em, "LPUT", places$list, int_const(em, node$ends[[2]] - 1))
      put_label(em, skip)
    })
    pool <- places$list
  }
  target <- result_cell(em, into, FALSE)
  emit(em, "LRUN", target$cell, pool)
  target
}

write_pool_has <- function(em, node, into) {
  pool <- write_pool(em, node$over)
  x <- write_value(em, node$x)
  target <- result_cell(em, into, FALSE)
  emit(em, "LHAS", target$cell, cell_of(em, x), pool)
  target
}

# What is remembered, or a local name, is given a pool.
assign_pool <- function(em, variable, node) {
  lies <- place_variable(em, variable, room_of(em, node))
  fill_place(em, lies$list, node, variable$type$kind)
}

fill_place <- function(em, list, node, kind) {
  if (node$op == "pool_roll") return(fill_pool(em, node, list, kind))
  pool <- write_pool(em, node, kind)  # apart first: it may be made from what is assigned
  if (pool != list) emit(em, "LCOPY", list, pool)
}

# What is left of the last time must not tell apart what is otherwise the same.
forget <- function(em, place) {
  if (!is.null(place$list)) emit(em, "LCLEAR", place$list)
  else if (place$real) emit(em, "DMOV", place$cell, real_const(em, 0))
  else emit(em, "MOV", place$cell, int_const(em, 0L))
}

# The item with the most or least; on a tie the first.
write_best_item <- function(em, node) {
  real <- is_real(node$body$type)
  found <- new_cell(em, FALSE)
  best <- new_cell(em, real)
  item <- if (is_pool(node$type)) new_list(em, room_of(em, node$over)) else new_cell(em, FALSE)
  move(em, found, in_cell(int_const(em, 0L)))
  forget(em, best)
  forget(em, item)
  write_each_item(em, node$over, node$it, function() {
    here <- em$bound[[as.character(node$it$id)]]
    x <- new_cell(em, real)
    write_into(em, node$body, x)
    take <- new_label(em)
    skip <- new_label(em)
    emit(em, "JZ", found$cell, take)
    if (node$how == "most") jump_order(em, best$cell, x$cell, real, "<", take) else jump_order(em, x$cell, best$cell, real, "<", take)
    emit(em, "JMP", skip)
    put_label(em, take)
    move(em, found, in_cell(int_const(em, 1L)))
    move(em, best, x)
    if (is_pool(node$type)) emit(em, "LCOPY", item$list, here$list) else move(em, item, here)
    put_label(em, skip)
  })
  some <- new_label(em)
  emit(em, "JNZ", found$cell, some)
  at_place(em, node$at, function() emit(em, "FAIL", failure_code("nothing_to_choose")))
  put_label(em, some)
  item
}
