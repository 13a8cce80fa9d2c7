# Writes the places of values by key.

# The number of a place among several axes: each key looked up in a table of its share, which fails outside.
op_cell <- function(asm, node, into) write_cell(asm, node)

write_cell <- function(asm, node, shares = key_shares(axes_now(asm, node$axes))) {
  fixed <- 0L
  sum <- NULL
  for (k in seq_along(node$keys)) {
    key <- write_value(asm, node$keys[[k]])
    known <- if (!is.null(key$const)) shares[[k]]$values[key$const - shares[[k]]$first + 1L]
    if (length(known) == 1 && !is.na(known)) fixed <- fixed + known
    else sum <- write_sum(asm, sum, write_share(asm, node$at, key, shares[[k]]))
  }
  if (is.null(sum)) fixed_place(fixed) else write_offset(asm, sum, fixed)
}

# For each axis what its keys add to the number of a place: list(first, values), NA for what is no key.
key_shares <- function(axes) {
  sizes <- lengths(lapply(axes, `[[`, "keys"))
  strides <- rev(cumprod(c(1L, rev(sizes)))[seq_along(sizes)])
  Map(function(axis, stride) {
    first <- min(axis$keys)
    values <- rep(NA_integer_, max(axis$keys) - first + 1L)
    values[axis$keys - first + 1L] <- (seq_along(axis$keys) - 1L) * as.integer(stride)
    list(first = first, values = values)
  }, axes, strides)
}

# A number that is no key leads outside all places, so that what reads there fails.
write_share <- function(asm, at, key, shares) {
  values <- ifelse(is.na(shares$values), most_places, shares$values)
  target <- new_register(asm, FALSE)
  table <- new_table(asm, shares$first, length(values), values)
  at_place(asm, at, function() emit(asm, "TAB", target$register, register_of(asm, key), table))
  target
}

write_sum <- function(asm, a, b) {
  if (is.null(a)) return(b)
  target <- new_register(asm, FALSE)
  emit(asm, "ADD", target$register, register_of(asm, a), register_of(asm, b))
  target
}

# The places of an `each`, or of a row of it, in order: functions that give the operand of each. Those of seats that
# nobody takes are left out.
places_of <- function(asm, over) {
  slot <- slot_of(asm, over$var, past_room)
  if (over$op != "slice")
    return(lapply(keys_taken(asm, over$type$axes),
                  function(key) function() place_at(asm, over, slot, fixed_place(key))))
  fixed <- !vapply(over$keys, is.null, NA)
  axes <- axes_now(asm, over$axes)
  shares <- key_shares(axes)
  start <- write_cell(asm, list(keys = over$keys[fixed], at = over$at), shares[fixed])
  offsets <- sums_along(asm, axes[!fixed], shares[!fixed])
  lapply(offsets, function(offset) function() place_at(asm, over, slot, write_offset(asm, start, offset)))
}

# Without the seats that nobody takes.
axes_taken <- function(asm, axes) {
  lapply(axes_now(asm, axes), function(axis) {
    if (is_seat_axis(axis)) axis$keys <- utils::head(axis$keys, seats_taken(asm))
    axis
  })
}

# The numbers of all places along these axes, the last one going fastest.
sums_along <- function(asm, axes, shares) {
  steps <- Map(function(axis, shares) shares$values[axis$keys - shares$first + 1L], axes_taken(asm, axes), shares)
  along_axes(steps, `+`)
}

fixed_place <- function(key) fixed_operand(key, t_whole)

write_offset <- function(asm, start, offset) {
  if (!is.null(start$const)) return(fixed_place(start$const + offset))
  if (offset == 0) start else write_sum(asm, start, fixed_place(offset))
}

# The numbers of the places whose seats are taken.
keys_taken <- function(asm, axes) {
  if (is_numbered_by_key(axes)) axes_taken(asm, axes)[[1]]$keys
  else sums_along(asm, axes, key_shares(axes_now(asm, axes)))
}

# The index of the place, from 0, if it is known while compiling.
known_place <- function(slot, key) {
  k <- key$const - slot$first
  if (length(k) == 1 && k >= 0 && k < slot$size) as.integer(k)
}

# The operand of a place: its register or list, or a copy where its number is known only in the round.
place_at <- function(asm, over, slot, key, into = NULL) {
  k <- known_place(slot, key)
  if (!is.null(slot$list_array)) {
    if (!is.null(k)) return(list(list = slot$list + k))
    copy <- new_list(asm, slot$room)
    at_place(asm, over$at, function() emit(asm, "LFROM", copy$list, register_of(asm, key), slot$list_array))
    return(list(list = copy$list))
  }
  if (!is.null(k)) return(in_register(slot$base + k, slot$real))
  target <- result_register(asm, into, slot$real)
  at_place(asm, over$at,
           function() emit(asm, if (slot$real) "DLDX" else "LDX", target$register, register_of(asm, key), slot$array))
  target
}

# The most items that the choices, or one of them, can hold.
choices_room <- function(asm, node) {
  choices <- asm$choices
  if (node$op == "best_item" && node$over$op != "choices") return(room_of(asm, node$over))
  switch(choices$how, labels = max(1, length(choices$items)), range = range_room(choices), choices$room)
}

range_room <- function(choices) {
  ends <- c(choices$low$const, choices$high$const)
  if (length(ends) == 2) max(1, min(max_room, ends[[2]] - ends[[1]] + 1)) else 10000
}

deck_array <- function(asm, name) {
  array <- asm$decks[[name]]
  if (!is.null(array)) return(array)
  d <- asm$rules$names[[name]]
  copies <- vapply(d$copies, function(node) as.numeric(write_value(asm, node)$const), 0)
  bad <- which(copies < 0 | sum(copies) > max_cards)
  if (length(bad) > 0)
    program_diagnostic(asm, "deck_copies", d$at,
                       sprintf("The deck `%s` would have %s cards.", name, plain_number(sum(copies))),
                       sprintf("a deck has from 1 to %d cards", as.integer(max_cards)))
  slot <- new_array(asm, seq_along(copies), FALSE)
  slot$full <- new_table(asm, 1L, length(copies), pmax(0, pmin(copies, max_cards)))
  slot$cards <- sum(copies)
  asm$decks[[name]] <- slot
  slot
}

max_cards <- 100000

list_of <- function(asm, variable) slot_of(asm, variable)$list

# As much as the largest of its answers can hold.
max_result_room <- function(asm, node) {
  rooms <- 1
  walk(node$statements, function(n) {
    if (n$op == "assign" && identical(n$target$var$id, node$exit$variable$id))
      rooms <<- max(rooms, room_of(asm, n$value))
  })
  rooms
}

write_bindings <- function(asm, node) {
  for (b in node$bindings) {
    if (is_collection(b$var$type)) assign_collection(asm, b$var, b$value)
    else write_into(asm, b$value, slot_of(asm, b$var))
  }
}

# The state of an empty seat is not written.
fail_unless_taken <- function(asm, place, key) {
  taken <- seats_taken(asm)
  if (taken == length(table_seats(asm$rules)) || is.null(place$key)) return(invisible())
  axes <- place$var$type$axes
  seat <- which(vapply(axes, is_seat_axis, NA))
  if (length(seat) == 0) return(invisible())
  if (place$key$op == "cell") key <- write_value(asm, place$key$keys[[seat[[1]]]])
  if (!is.null(key$const) && key$const <= taken) return(invisible())
  fine <- new_label(asm)
  if (is.null(key$const)) emit(asm, "JLE", key$register, int_const(asm, taken), fine)
  emit(asm, "FAIL", failure_code("seat_not_taken"))
  put_label(asm, fine)
}

# The most items that a roll of an unknown number of dice may give.
most_dice <- 60

list_of_variable <- function(asm, node) {
  bound <- asm$bound[[as.character(node$var$id)]]
  if (!is.null(bound$list)) bound$list else list_of(asm, node$var)
}

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
    chart = max(most_items_of_answers(node), if (!is.null(node$otherwise)) room_of(asm, node$otherwise)),
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

slot_of_state <- function(asm, part) {
  type <- part$variable$type
  inner <- if (is_kind(type, "each")) type$of else type
  if (!is_collection(inner)) return(slot_of(asm, part$variable))
  room <- state_room(asm, part, inner)
  if (room < 1 || room > max_room) {
    program_diagnostic(asm, "room_wrong", part$at,
                       sprintf("`%s` has room for %s items.", part$name, plain_number(room)),
                       sprintf("its room is from 1 to %d", as.integer(max_room)))
    room <- 1
  }
  slot_of(asm, part$variable, room)
}

# As said; else what the whole deck or the start needs.
state_room <- function(asm, part, inner) {
  if (!is.null(part$room)) return(write_value(asm, part$room)$const)
  if (is_kind(inner$of, "card")) return(max(1, deck_array(asm, inner$of$set)$cards))
  if (!is.null(part$start)) return(max(usual_room, room_of(asm, part$start)))
  usual_room
}
