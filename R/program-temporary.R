# Writes out temporary collections: the lists and bags that an expression makes. A collection that is remembered is in
# its place; any other is written into a list of its own.

# The most items that a roll of an unknown number of dice may give.
most_dice <- 60

# The list that holds a temporary collection; `kind` is how it must be kept: a bag in canonical order or a list.
write_collection <- function(asm, node, kind = node$type$kind) {
  if (node$type$kind == kind) {
    bound <- if (node$op == "var") asm$bound[[as.character(node$var$id)]]
    if (!is.null(bound$list)) return(bound$list)
    if (node$op == "var") return(list_of_variable(asm, node))
    if (node$op == "at_key") return(write_list_of_key(asm, node))
    if (node$op == "do") return(write_collection_body(asm, node))
    if (node$op == "prefer") stop("prefer has no pools")
  }
  collection <- new_list(asm, room_of(asm, node))
  fill_collection(asm, node, collection$list, kind)
  collection$list
}

list_of_variable <- function(asm, node) {
  bound <- asm$bound[[as.character(node$var$id)]]
  if (!is.null(bound$list)) bound$list else list_of(asm, node$var)
}

# The list of one key: its own where the key is known, else a copy.
write_list_of_key <- function(asm, node)
  place_at(asm, node, slot_of(asm, node$var, past_room), write_value(asm, node$key))$list

# Changes the list of a place with `change(list)`; that of a key not known now is fetched and put back.
change_place <- function(asm, place, change) {
  if (place$op == "var") return(change(list_of_variable(asm, place)))
  slot <- slot_of(asm, place$var, past_room)
  key <- write_value(asm, place$key)
  fail_unless_taken(asm, place, key)
  k <- known_place(slot, key)
  if (!is.null(k)) return(change(slot$list + k))
  kept <- new_register(asm, FALSE)
  move(asm, kept, key)
  copy <- new_list(asm, slot$room)
  emit(asm, "LFROM", copy$list, kept$register, slot$list_array)
  change(copy$list)
  emit(asm, "LINTO", kept$register, slot$list_array, copy$list)
}

# Past answers have a room of their own; other families are placed with theirs before play begins.
past_room <- 1000L

fill_collection <- function(asm, node, list, kind) {
  if (node$op == "collection_join") {
    fill_collection(asm, node$left, list, kind)
    return(add_to_collection(asm, node$right, list, kind))
  }
  if (node$op %in% comes_whole && (kind == "list" || node$type$kind == "bag")) {
    return(at_place(asm, node$at, function() emit(asm, "LCOPY", list, write_collection_list(asm, node))))
  }
  emit(asm, "LCLEAR", list)
  add_to_collection(asm, node, list, kind)
}

comes_whole <- c("var", "at_key", "do", "best_item", "pick_choices", "collection_groups", "collection_common",
                 "collection_highest", "collection_letters", "collection_mask")

add_to_collection <- function(asm, node, list, kind) {
  put <- function(x) emit(asm, if (kind == "bag") "BPUT" else "LPUT", list, register_of(asm, x))
  at_place(asm, node$at, function() switch(node$op,
    collection_roll = write_range_loop(asm, list(low = literal(1, t_whole, node$at), high = node$n),
                                       plain_register(asm), function(again) {
      put(write_draw(asm, node$faces, node$source, NULL))
      put_label(asm, again)
    }),
    collection_of = for (v in node$values) put(write_value(asm, v)),
    seats = for (seat in seq_len(seats_taken(asm))) put(fixed_operand(seat, t_whole)),
    collection_filter = write_each_item(asm, node$over, node$it, function() {
      skip <- new_label(asm)
      jump_if(asm, node$body, skip, when = FALSE)
      put(asm$bound[[as.character(node$it$id)]])
      put_label(asm, skip)
    }),
    let = { write_bindings(asm, node); add_to_collection(asm, node$body, list, kind) },
    collection_map = write_each_item(asm, node$over, node$it, function() put(write_value(asm, node$body))),
    collection_repeat = write_range_loop(asm, list(low = literal(1, t_whole, node$at), high = node$n),
                                         plain_register(asm), function(again) {
      put(write_value(asm, node$x))
      put_label(asm, again)
    }),
    choices = , range = write_each_item(asm, node, anything(node), function() put(asm$bound[[anything_key(node)]])),
    choose = add_chosen_collection(asm, node, list, kind),
    collection_join = { add_to_collection(asm, node$left, list, kind); add_to_collection(asm, node$right, list, kind) },
    emit(asm, if (kind == "bag") "BAPPEND" else "LAPPEND", list, write_collection_list(asm, node))))
}

# if (c) a else b, on temporary collections
add_chosen_collection <- function(asm, node, list, kind) {
  write_branches(asm, node$cond, function() add_to_collection(asm, node$yes, list, kind),
                 function() add_to_collection(asm, node$no, list, kind))
}

# A temporary collection that comes as a whole list: what is remembered, the sizes of groups.
write_collection_list <- function(asm, node) {
  made <- function(op, from, ...) {
    out <- new_list(asm, room_of(asm, node))
    at_place(asm, node$at, function() emit(asm, op, out$list, from, ...))
    out$list
  }
  switch(node$op,
    at_key = write_list_of_key(asm, node),
    do = write_collection_body(asm, node),
    var = list_of_variable(asm, node),
    best_item = write_best_item(asm, node)$list,
    pick_choices = at_place(asm, node$at, function() write_pick_choices(asm, node, NULL))$list,
    collection_groups = made("LGROUPS", write_collection(asm, node$over)),
    collection_common = made("LCOMMON", write_collection(asm, node$over)),
    collection_highest = {
      n <- register_of(asm, write_value(asm, node$n))
      made("LHIGH", write_collection(asm, node$over), n, node$highest)
    },
    collection_letters = made("WLETTERS", register_of(asm, write_value(asm, node$x))),
    collection_mask = {
      tried <- write_collection(asm, node$tried)
      word <- register_of(asm, write_value(asm, node$x))
      out <- new_list(asm, room_of(asm, node))
      at_place(asm, node$at, function() emit(asm, "WHIDE", out$list, word, tried))
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

# The most items that a temporary collection can hold.
room_of <- function(asm, node) {
  if (is_kind(node$type, "each")) return(length(keys_taken(asm, node$type$axes)))
  switch(node$op,
    var = {
      bound <- asm$bound[[as.character(node$var$id)]]
      if (!is.null(bound$list)) asm$lists$get(bound$list + 1L)[[2]] else slot_of(asm, node$var)$room
    },
    at_key = slot_of(asm, node$var, past_room)$room,
    do = max_result_room(asm, node),
    choices = , pick_choices = , best_item = choices_room(asm, node),
    collection_map = room_of(asm, node$over),
    collection_common = , collection_highest = , collection_filter = , collection_groups = room_of(asm, node$over),
    collection_repeat = room_for(asm, node, "This repeats an item %s times."),
    collection_letters = , collection_mask = max_letters,
    seats = length(asm$rules$seats),
    collection_roll = room_for(asm, node, "This rolls %s dice."),
    collection_of = max(1, length(node$values)),
    choose = max(room_of(asm, node$yes), room_of(asm, node$no)),
    let = {
      for (b in node$bindings) if (is_collection(b$var$type)) slot_of(asm, b$var, room_of(asm, b$value))
      room_of(asm, node$body)
    },
    collection_join = room_of(asm, node$left) + room_of(asm, node$right),
    range = {
      ends <- c(write_value(asm, node$low)$const, write_value(asm, node$high)$const)
      if (length(ends) == 2) max(1, ends[[2]] - ends[[1]] + 1) else max_room
    },
    length(asm$rules$seats))
}

# Capacity for the items that the node may have.
room_for <- function(asm, node, message) {
  n <- write_value(asm, node$n)$const
  if (is.null(n)) return(most_dice)
  if (n <= max_room) return(max(1, n))
  program_diagnostic(asm, "room_wrong", node$at, sprintf(message, plain_number(n)),
                     sprintf("the most is %d", as.integer(max_room)))
  1
}

write_collection_same <- function(asm, node, into) {
  kind <- if ("bag" %in% c(node$left$type$kind, node$right$type$kind)) "bag" else "list"
  left <- write_collection(asm, node$left, kind)
  right <- write_collection(asm, node$right, kind)
  target <- result_register(asm, into, FALSE)
  emit(asm, "LSAME", target$register, left, right)
  target
}

write_collection_part <- function(asm, node, into) {
  part <- write_collection(asm, node$part, "list")
  list <- write_collection(asm, node$over, "list")
  target <- result_register(asm, into, FALSE)
  emit(asm, "LPART", target$register, part, list, node$last)
  target
}

# One number about a temporary collection: its size.
write_of_collection <- function(asm, node, op, into) {
  collection <- write_collection(asm, node$over)
  target <- result_register(asm, into, FALSE)
  emit(asm, op, target$register, collection)
  target
}

# The longest run of numbers, or of places in an order; with `ends` the first end also counts as just
# below the second.
write_run <- function(asm, node, into) {
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

write_collection_has <- function(asm, node, into) {
  collection <- write_collection(asm, node$over)
  x <- write_value(asm, node$x)
  target <- result_register(asm, into, FALSE)
  emit(asm, "LHAS", target$register, register_of(asm, x), collection)
  target
}

# Assigns a temporary collection to state or a local name.
assign_collection <- function(asm, variable, node) {
  slot <- slot_of(asm, variable, room_of(asm, node))
  fill_place(asm, slot$list, node, variable$type$kind)
}

fill_place <- function(asm, list, node, kind) {
  if (node$op == "collection_roll") return(fill_collection(asm, node, list, kind))
  collection <- write_collection(asm, node, kind)  # apart first: it may be made from what is assigned
  if (collection != list) emit(asm, "LCOPY", list, collection)
}

# Stale values of the last use must not keep equal states apart.
forget <- function(asm, place) {
  if (!is.null(place$list)) emit(asm, "LCLEAR", place$list)
  else if (place$real) emit(asm, "DMOV", place$register, real_const(asm, 0))
  else emit(asm, "MOV", place$register, int_const(asm, 0L))
}

# The item with the most or least; on a tie the first, or one that is drawn from the list of those that are equal.
# Without any item it goes on at the label `nothing`, or fails.
write_best_item <- function(asm, node, nothing = NULL) {
  real <- is_real(node$body$type)
  found <- new_register(asm, FALSE)
  best <- new_register(asm, real)
  item <- if (is_collection(node$type)) new_list(asm, room_of(asm, node$over)) else new_register(asm, FALSE)
  equal <- if (!is.null(node$ties)) new_list(asm, room_of(asm, node$over))$list
  move(asm, found, in_register(int_const(asm, 0L)))
  forget(asm, best)
  forget(asm, item)
  write_each_item(asm, node$over, node$it, function() {
    here <- asm$bound[[as.character(node$it$id)]]
    x <- new_register(asm, real)
    write_into(asm, node$body, x)
    take <- new_label(asm)
    also <- new_label(asm)
    skip <- new_label(asm)
    emit(asm, "JZ", found$register, take)
    if (node$how == "most") jump_order(asm, best$register, x$register, real, "<", take)
    else jump_order(asm, x$register, best$register, real, "<", take)
    if (!is.null(equal)) jump_order(asm, best$register, x$register, real, "==", also)
    emit(asm, "JMP", skip)
    put_label(asm, take)
    move(asm, found, in_register(int_const(asm, 1L)))
    move(asm, best, x)
    if (!is.null(equal)) emit(asm, "LCLEAR", equal)
    put_label(asm, also)
    if (!is.null(equal)) emit(asm, "LPUT", equal, register_of(asm, here))
    else if (is_collection(node$type)) emit(asm, "LCOPY", item$list, here$list)
    else move(asm, item, here)
    put_label(asm, skip)
  })
  if (!is.null(nothing)) emit(asm, "JZ", found$register, nothing)
  else {
    some <- new_label(asm)
    emit(asm, "JNZ", found$register, some)
    at_place(asm, node$at, function() emit(asm, "FAIL", failure_code("nothing_to_choose")))
    put_label(asm, some)
  }
  if (!is.null(equal))
    emit(asm, "DRAWL", item$register, source_index(asm, chance_source(asm, node$ties)), equal)
  item
}
