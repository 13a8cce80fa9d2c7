# Writes out pools: lists and bags made by an expression. A pool that is remembered lies in its place, any
# other is written into a list of its own.

# The most items that a roll of an unknown number of dice may give.
most_dice <- 60

# The list that holds a pool; `kind` is how it must be kept: a bag in canonical order or a list.
write_pool <- function(em, node, kind = node$type$kind) {
  if (node$op == "var" && node$type$kind == kind) return(list_of(em, node$var))
  pool <- new_list(em, room_of(em, node))
  fill_pool(em, node, pool$list, kind)
  pool$list
}

fill_pool <- function(em, node, list, kind) {
  emit(em, "LCLEAR", list)
  add_to_pool(em, node, list, kind)
}

add_to_pool <- function(em, node, list, kind) {
  put <- function(x) emit(em, if (kind == "bag") "BPUT" else "LPUT", list, cell_of(em, x))
  at_place(em, node$at, function() switch(node$op,
    pool_roll = write_range_loop(em, list(low = literal(1, t_whole, node$at), high = node$n), new_cell(em, FALSE), function(again) {
      put(write_draw(em, node$faces, node$source, NULL))
      put_label(em, again)
    }),
    pool_of = for (v in node$values) put(write_value(em, v)),
    pool_filter = write_each_item(em, node$over, node$it, function() {
      skip <- new_label(em)
      jump_if(em, node$body, skip, when = FALSE)
      put(em$bound[[as.character(node$it$id)]])
      put_label(em, skip)
    }),
    let = { write_bindings(em, node); add_to_pool(em, node$body, list, kind) },
    choose = add_chosen_pool(em, node, list, kind),
    pool_join = { add_to_pool(em, node$left, list, kind); add_to_pool(em, node$right, list, kind) },
    emit(em, if (kind == "bag") "BAPPEND" else "LAPPEND", list, write_pool_list(em, node))))
}

# if (c) a else b, on pools
add_chosen_pool <- function(em, node, list, kind) {
  otherwise <- new_label(em)
  done <- new_label(em)
  jump_if(em, node$cond, otherwise, when = FALSE)
  add_to_pool(em, node$yes, list, kind)
  emit(em, "JMP", done)
  put_label(em, otherwise)
  add_to_pool(em, node$no, list, kind)
  put_label(em, done)
}

# A pool that comes as a whole list: what is remembered, the sizes of groups.
write_pool_list <- function(em, node) {
  if (node$op != "pool_groups") return(list_of(em, node$var))
  from <- write_pool(em, node$over)
  sizes <- new_list(em, room_of(em, node$over))
  emit(em, "LGROUPS", sizes$list, from)
  sizes$list
}

# How many items a pool can hold at the most.
room_of <- function(em, node) {
  switch(node$op,
    var = place_variable(em, node$var)$room,
    seats = length(em$rules$seats),
    pool_roll = { n <- write_value(em, node$n)$const; if (is.null(n)) most_dice else max(1, n) },
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

write_pool_same <- function(em, node, into) {
  kind <- if ("bag" %in% c(node$left$type$kind, node$right$type$kind)) "bag" else "list"
  left <- write_pool(em, node$left, kind)
  right <- write_pool(em, node$right, kind)
  target <- result_cell(em, into, FALSE)
  emit(em, "LSAME", target$cell, left, right)
  target
}

# One number about a pool: its size, its longest run.
write_of_pool <- function(em, node, op, into) {
  pool <- write_pool(em, node$over)
  target <- result_cell(em, into, FALSE)
  emit(em, op, target$cell, pool)
  target
}

# What is remembered, or a local name, is given a pool.
assign_pool <- function(em, variable, node) {
  kind <- variable$type$kind
  lies <- place_variable(em, variable, room_of(em, node))
  if (node$op == "pool_roll") return(fill_pool(em, node, lies$list, kind))
  pool <- write_pool(em, node, kind)  # apart first: it may be made from what is assigned
  if (pool != lies$list) emit(em, "LCOPY", lies$list, pool)
}

# The item with the most or least; on a tie the first.
write_best_item <- function(em, node) {
  real <- is_real(node$body$type)
  found <- new_cell(em, FALSE)
  best <- new_cell(em, real)
  item <- new_cell(em, FALSE)
  move(em, found, in_cell(int_const(em, 0L)))
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
    move(em, item, here)
    put_label(em, skip)
  })
  some <- new_label(em)
  emit(em, "JNZ", found$cell, some)
  at_place(em, node$at, function() emit(em, "FAIL", failure_code("nothing_to_choose")))
  put_label(em, some)
  item
}

# Each legal answer of the ask being written.
write_each_choice <- function(em, it, visit) {
  choices <- em$choices
  if (choices$how == "range") {
    range <- list(low = typed("operand", t_whole, NULL, operand = choices$low), high = typed("operand", t_whole, NULL, operand = choices$high))
    item <- new_cell(em, FALSE)
    bind(em, it, item)
    return(write_range_loop(em, range, item, function(again) { visit(); put_label(em, again) }))
  }
  for (choice in choices$items) {
    skip <- new_label(em)
    if (!is.null(choice$flag)) emit(em, "JZ", choice$flag$cell, skip)
    bind(em, it, known(choice$id, it$type))
    visit()
    put_label(em, skip)
  }
}
