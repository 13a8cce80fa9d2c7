# Writes out temporary collections: the lists and bags that an expression makes. A collection that is remembered is in
# its place; any other is written into a list of its own.

# --- what comes as a whole list ---------------------------------------------

# The list of one key: its own where the key is known, else a copy.
list_at_key <- function(asm, node)
  place_at(asm, node, slot_of(asm, node$var, past_room), write_value(asm, node$key))$list

list_var <- function(asm, node) list_of_variable(asm, node)
list_best_item <- function(asm, node) write_best_item(asm, node)$list
list_pick_choices <- function(asm, node) write_value(asm, node)$list
list_collection_groups <- function(asm, node) made_list(asm, node, "LGROUPS", write_collection(asm, node$over))
list_collection_common <- function(asm, node) made_list(asm, node, "LCOMMON", write_collection(asm, node$over))
list_collection_letters <- function(asm, node)
  made_list(asm, node, "WLETTERS", register_of(asm, write_value(asm, node$x)))

list_collection_highest <- function(asm, node) {
  n <- register_of(asm, write_value(asm, node$n))
  made_list(asm, node, "LHIGH", write_collection(asm, node$over), n, node$highest)
}

list_collection_mask <- function(asm, node) {
  tried <- write_collection(asm, node$tried)
  word <- register_of(asm, write_value(asm, node$x))
  made_list(asm, node, "WHIDE", word, tried)
}

made_list <- function(asm, node, operation, ...) {
  out <- new_list(asm, room_of(asm, node))
  at_place(asm, node$at, function() emit(asm, operation, out$list, ...))
  out$list
}

# The body of a function that gives a list or bag: it is left in the list of its answer.
list_do <- function(asm, node) {
  variable <- node$exit$variable
  slot_of(asm, variable, max_result_room(asm, node))
  write_body(asm, node)
  list_of(asm, variable)
}

# --- what is made item by item: `put` adds one, `more` those of another node -------

items_collection_roll <- function(asm, node, put, more)
  times_over(asm, node, function() put(write_draw(asm, node$faces, node$source, NULL)))

items_collection_repeat <- function(asm, node, put, more)
  times_over(asm, node, function() put(write_value(asm, node$x)))

times_over <- function(asm, node, visit) {
  numbers <- list(low = literal(1, t_whole, node$at), high = node$n)
  write_range_loop(asm, numbers, plain_register(asm), function(again) {
    visit()
    put_label(asm, again)
  })
}

items_collection_of <- function(asm, node, put, more) for (v in node$values) put(write_value(asm, v))
items_seats <- function(asm, node, put, more) for (seat in seq_len(seats_taken(asm))) put(fixed_operand(seat, t_whole))

items_collection_filter <- function(asm, node, put, more) {
  write_each_item(asm, node$over, node$it, function() {
    skip <- new_label(asm)
    jump_if(asm, node$body, skip, when = FALSE)
    put(asm$bound[[as.character(node$it$id)]])
    put_label(asm, skip)
  })
}

items_collection_map <- function(asm, node, put, more)
  write_each_item(asm, node$over, node$it, function() put(write_value(asm, node$body)))

items_range <- items_choices <- function(asm, node, put, more)
  write_each_item(asm, node, anything(node), function() put(asm$bound[[anything_key(node)]]))

items_let <- function(asm, node, put, more) {
  write_bindings(asm, node)
  more(node$body)
}

items_choose <- function(asm, node, put, more)
  write_branches(asm, node$cond, function() more(node$yes), function() more(node$no))

items_collection_join <- function(asm, node, put, more) {
  more(node$left)
  more(node$right)
}

# An item variable for going over what has none of its own.
anything <- function(node) {
  it <- new.env(parent = emptyenv())
  it$id <- anything_key(node)
  it$type <- item_type(node$type)
  it
}

anything_key <- function(node) paste("item", node$op)

op_collection_same <- function(asm, node, into) {
  kind <- if ("bag" %in% c(node$left$type$kind, node$right$type$kind)) "bag" else "list"
  left <- write_collection(asm, node$left, kind)
  right <- write_collection(asm, node$right, kind)
  target <- result_register(asm, into, FALSE)
  emit(asm, "LSAME", target$register, left, right)
  target
}

op_collection_part <- function(asm, node, into) {
  part <- write_collection(asm, node$part, "list")
  list <- write_collection(asm, node$over, "list")
  target <- result_register(asm, into, FALSE)
  emit(asm, "LPART", target$register, part, list, node$last)
  target
}

op_size <- function(asm, node, into) {
  collection <- write_collection(asm, node$over)
  target <- result_register(asm, into, FALSE)
  emit(asm, "LSIZE", target$register, collection)
  target
}

# The longest run of numbers, or of places in an order; with `ends` the first end also counts as just
# below the second.
op_collection_run <- function(asm, node, into) {
  collection <- write_collection(asm, node$over)
  if (!is.null(node$order) || !is.null(node$ends)) {
    places <- new_list(asm, room_of(asm, node$over) * if (is.null(node$ends)) 1 else 2)
    it <- new_register(asm, FALSE)
    emit(asm, "LCLEAR", places$list)
    write_list_loop(asm, collection, it, function() {
      here <- it
      if (!is.null(node$order)) {
        here <- new_register(asm, FALSE)
        span <- seq(min(node$order), max(node$order))
        emit(asm, "TAB", here$register, it$register,
             new_table(asm, span[[1]], length(span), match(span, node$order, nomatch = 0L)))
      }
      emit(asm, "LPUT", places$list, here$register)
      if (is.null(node$ends)) return(invisible())
      skip <- new_label(asm)
      emit(asm, "JNE", here$register, int_const(asm, node$ends[[1]]), skip)
      emit(asm, "LPUT", places$list, int_const(asm, node$ends[[2]] - 1))
      put_label(asm, skip)
    })
    collection <- places$list
  }
  target <- result_register(asm, into, FALSE)
  emit(asm, "LRUN", target$register, collection)
  target
}

op_collection_has <- function(asm, node, into) {
  collection <- write_collection(asm, node$over)
  x <- write_value(asm, node$x)
  target <- result_register(asm, into, FALSE)
  emit(asm, "LHAS", target$register, register_of(asm, x), collection)
  target
}

# Stale values of the last use must not keep equal states apart.
forget <- function(asm, place) {
  if (!is.null(place$list)) emit(asm, "LCLEAR", place$list)
  else if (place$real) emit(asm, "DMOV", place$register, real_const(asm, 0))
  else emit(asm, "MOV", place$register, int_const(asm, 0L))
}

op_best_item <- function(asm, node, into) write_best_item(asm, node)

# The item with the most or least; on a tie the first, or one that is drawn from the list of those that are equal.
# Without any item it goes on at the label `nothing`, or fails.
write_best_item <- function(asm, node, nothing = NULL) {
  real <- is_real(node$body$type)
  any_item <- new_register(asm, FALSE)
  best <- new_register(asm, real)
  item <- if (is_collection(node$type)) new_list(asm, room_of(asm, node$over)) else new_register(asm, FALSE)
  equal <- if (!is.null(node$ties)) new_list(asm, room_of(asm, node$over))$list
  move(asm, any_item, in_register(int_const(asm, 0L)))
  forget(asm, best)
  forget(asm, item)
  write_each_item(asm, node$over, node$it, function() {
    here <- asm$bound[[as.character(node$it$id)]]
    x <- new_register(asm, real)
    write_into(asm, node$body, x)
    take <- new_label(asm)
    also <- new_label(asm)
    skip <- new_label(asm)
    emit(asm, "JZ", any_item$register, take)
    if (node$how == "most") jump_order(asm, best$register, x$register, real, "<", take)
    else jump_order(asm, x$register, best$register, real, "<", take)
    if (!is.null(equal)) jump_order(asm, best$register, x$register, real, "==", also)
    emit(asm, "JMP", skip)
    put_label(asm, take)
    move(asm, any_item, in_register(int_const(asm, 1L)))
    move(asm, best, x)
    if (!is.null(equal)) emit(asm, "LCLEAR", equal)
    put_label(asm, also)
    if (!is.null(equal)) emit(asm, "LPUT", equal, register_of(asm, here))
    else if (is_collection(node$type)) emit(asm, "LCOPY", item$list, here$list)
    else move(asm, item, here)
    put_label(asm, skip)
  })
  if (!is.null(nothing)) emit(asm, "JZ", any_item$register, nothing)
  else {
    some <- new_label(asm)
    emit(asm, "JNZ", any_item$register, some)
    at_place(asm, node$at, function() emit(asm, "FAIL", failure_code("nothing_to_choose")))
    put_label(asm, some)
  }
  if (!is.null(equal))
    emit(asm, "DRAWL", item$register, source_index(asm, chance_source(asm, node$ties)), equal)
  item
}

