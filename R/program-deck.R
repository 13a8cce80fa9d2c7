# Writes cards out as code. A deck is an array: how many there are of each kind.

# All the cards back, as at the start.
write_full_deck <- function(asm, name) {
  slot <- deck_array(asm, name)
  emit(asm, "ATAB", slot$array, slot$full)
}

op_deal <- function(asm, node, into) {
  target <- result_register(asm, into, FALSE)
  emit(asm, "DEAL", target$register, source_index(asm, node$deck), deck_array(asm, node$deck)$array)
  target
}

put_op <- function(place) if (is_kind(place$type, "bag")) "BPUT" else "LPUT"

op_deal_to <- function(asm, s) {
  card <- new_register(asm, FALSE)
  write_times(asm, s$n, function() {  # card by card, so that a round stopped in between has those dealt so far
    op_deal(asm, s, card)
    change_place(asm, s$place, function(list) emit(asm, put_op(s$place), list, card$register))
  })
  write_trace_point(asm, "place", s$at, s$place)
}

# Runs `write` n times: written out while n is a small number.
write_times <- function(asm, n, write) {
  if (n$op == "lit" && n$value <= 3) return(for (k in seq_len(n$value)) write())
  write_range_loop(asm, list(low = literal(1, t_whole, n$at), high = n), new_register(asm, FALSE), function(again) {
    write()
    put_label(asm, again)
  })
}

op_burn <- function(asm, s) {
  card <- new_register(asm, FALSE)
  write_times(asm, s$n, function() op_deal(asm, s, card))
}

# Everything back, then what still lies somewhere is taken out again.
op_shuffle <- function(asm, s) {
  if (!is.null(s$pile)) change_place(asm, s$pile, function(list) emit(asm, "LCLEAR", list))
  write_full_deck(asm, s$deck)
  array <- deck_array(asm, s$deck)$array
  for (part in asm$rules$state) {
    type <- part$variable$type
    inner <- if (is_kind(type, "each")) type$of else type
    if (!identical((if (is_collection(inner)) inner$of else inner)$set, s$deck)) next
    slot <- slot_of_state(asm, part)
    keys <- if (is_kind(type, "each")) seq_len(slot$size) - 1L else 0L
    for (k in keys) {
      if (is_collection(inner)) emit(asm, "ATAKEALL", array, slot$list + k)
      else emit(asm, "ATAKE", array, if (is_kind(type, "each")) slot$base + k else slot$register)
    }
  }
}

# --- moving ----------------------------------------------------------------------

op_move <- function(asm, s) {
  x <- s$x
  if (is_collection(x$type)) write_move_all(asm, s)
  else if (is_item_in(x, s$from)) {
    card <- new_register(asm, FALSE)
    take_out_of_place(asm, x, s$from, card)
    put_card(asm, s$to, card)
  } else {
    card <- new_register(asm, FALSE)
    write_into(asm, x, card)
    if (!is.null(s$from)) take_from(asm, s$from, card)
    else if (is_place(x)) write_assign_register(asm, x, fixed_operand(0, t_whole))
    put_card(asm, s$to, card)
  }
  from <- if (!is.null(s$from)) s$from else x
  if (is_place(from)) write_trace_point(asm, "place", s$at, from)
  write_trace_point(asm, "place", s$at, s$to)
}

# A whole list or bag; without `from` it is emptied.
write_move_all <- function(asm, s) {
  moved <- new_list(asm, room_of(asm, s$x))
  fill_collection(asm, s$x, moved$list, "list")
  if (is.null(s$from)) change_place(asm, s$x, function(list) emit(asm, "LCLEAR", list))
  else remove_each(asm, s$from, moved$list)
  change_place(asm, s$to,
               function(list) emit(asm, if (is_kind(s$to$type, "bag")) "BAPPEND" else "LAPPEND", list, moved$list))
}

# Is this the item in some place of that list, as hand[3] of hand?
is_item_in <- function(x, list)
  x$op == "at_position" && !is.null(list) && is_kind(list$type, "list") &&
    identical(node_key(x$over), node_key(list))

# Takes out the item in that place of the list, not another that equals it.
take_out_of_place <- function(asm, x, list, card = NULL) {
  place <- kept_operand(asm, x$key)
  if (!is.null(card)) {
    over <- write_collection(asm, x$over)
    at_place(asm, x$at, function() emit(asm, "LGET", card$register, register_of(asm, place), over))
  }
  change_place(asm, list, function(items)
    at_place(asm, x$at, function() emit(asm, "LDROP", items, register_of(asm, place))))
}

remove_each <- function(asm, place, items) {
  change_place(asm, place, function(list) {
    item <- new_register(asm, FALSE)
    write_list_loop(asm, items, item, function() emit(asm, "LREMOVE", list, item$register))
  })
}

take_from <- function(asm, from, card) {
  if (is_collection(from$type)) change_place(asm, from, function(list) emit(asm, "LREMOVE", list, card$register))
  else write_assign_register(asm, from, fixed_operand(0, t_whole))
}

put_card <- function(asm, to, card) {
  if (is_collection(to$type)) change_place(asm, to, function(list) emit(asm, put_op(to), list, card$register))
  else write_assign_register(asm, to, card)
}

# Gives the register of a place, perhaps of a key known only in the round, a value.
write_assign_register <- function(asm, place, x) {
  if (place$op == "var") return(move(asm, slot_of(asm, place$var), x))
  slot <- slot_of(asm, place$var)
  key <- write_value(asm, place$key)
  fail_unless_taken(asm, place, key)
  k <- known_place(slot, key)
  if (!is.null(k)) return(move(asm, in_register(slot$base + k, slot$real), x))
  emit(asm, if (slot$real) "DSTX" else "STX", register_of(asm, key), slot$array, register_of(asm, x))
}

# --- words -----------------------------------------------------------------------

op_deck_size <- function(asm, node, into) {
  target <- result_register(asm, into, FALSE)
  emit(asm, "ASUM", target$register, deck_array(asm, node$deck)$array)
  target
}

op_marks_seen <- function(asm, node, into) {
  x <- write_value(asm, node$x)
  target <- result_register(asm, into, FALSE)
  emit(asm, "MARKS", target$register, register_of(asm, x), node$kind)
  target
}

op_compare <- function(asm, node, into) {
  guess <- write_value(asm, node$guess)
  secret <- write_value(asm, node$secret)
  target <- result_register(asm, into, FALSE)
  naive <- write_value(asm, node$naive)$const
  at_place(asm, node$at,
           function()
             emit(asm, "WMARK", target$register, register_of(asm, guess), register_of(asm, secret), as.integer(naive)))
  target
}

op_has_letter <- function(asm, node, into) {
  letter <- write_value(asm, node$letter)
  word <- write_value(asm, node$word)
  target <- result_register(asm, into, FALSE)
  at_place(asm, node$at,
           function() emit(asm, "WHAS", target$register, register_of(asm, letter), register_of(asm, word)))
  target
}
