# Writes cards out as code. A deck lies in an array: how many there are of each kind.

deck_array <- function(em, name) {
  found <- em$decks[[name]]
  if (!is.null(found)) return(found)
  d <- em$rules$names[[name]]
  copies <- vapply(d$copies, function(node) as.numeric(write_value(em, node)$const), 0)
  bad <- which(copies < 0 | sum(copies) > max_cards)
  if (length(bad) > 0) program_problem(em, "deck_copies", d$at, sprintf("The deck `%s` would have %s cards.", name, plain_number(sum(copies))), sprintf("a deck has from 1 to %d cards", as.integer(max_cards)))
  lies <- new_array(em, seq_along(copies), FALSE)
  lies$full <- new_table(em, 1L, length(copies), pmax(0, pmin(copies, max_cards)))
  lies$cards <- sum(copies)
  em$decks[[name]] <- lies
  lies
}

max_cards <- 100000

# All the cards back, as at the start.
write_full_deck <- function(em, name) {
  lies <- deck_array(em, name)
  emit(em, "ATAB", lies$array, lies$full)
}

write_deal <- function(em, node, into) {
  target <- result_cell(em, into, FALSE)
  emit(em, "DEAL", target$cell, source_index(em, node$deck), deck_array(em, node$deck)$array)
  target
}

put_op <- function(place) if (is_kind(place$type, "bag")) "BPUT" else "LPUT"

write_deal_to <- function(em, s) {
  card <- new_cell(em, FALSE)
  write_times(em, s$n, function() {  # card by card, so that a round stopped in between has those dealt so far
    write_deal(em, s, card)
    change_place(em, s$place, function(list) emit(em, put_op(s$place), list, card$cell))
  })
  write_mark(em, "place", s$at, s$place)
}

# Runs `write` n times: written out while n is a small number.
write_times <- function(em, n, write) {
  if (n$op == "lit" && n$value <= 3) return(for (k in seq_len(n$value)) write())
  write_range_loop(em, list(low = literal(1, t_whole, n$at), high = n), new_cell(em, FALSE), function(again) { write(); put_label(em, again) })
}

write_burn <- function(em, s) {
  card <- new_cell(em, FALSE)
  write_times(em, s$n, function() write_deal(em, s, card))
}

# Everything back, then what still lies somewhere is taken out again.
write_shuffle <- function(em, s) {
  if (!is.null(s$pile)) change_place(em, s$pile, function(list) emit(em, "LCLEAR", list))
  write_full_deck(em, s$deck)
  array <- deck_array(em, s$deck)$array
  for (part in em$rules$state) {
    type <- part$variable$type
    inner <- if (is_kind(type, "each")) type$of else type
    if (!identical((if (is_pool(inner)) inner$of else inner)$set, s$deck)) next
    lies <- place_state(em, part)
    keys <- if (is_kind(type, "each")) seq_len(lies$size) - 1L else 0L
    for (k in keys) {
      if (is_pool(inner)) emit(em, "ATAKEALL", array, lies$list + k)
      else emit(em, "ATAKE", array, if (is_kind(type, "each")) lies$base + k else lies$cell)
    }
  }
}

# --- moving ----------------------------------------------------------------------

write_move <- function(em, s) {
  x <- s$x
  if (is_pool(x$type)) write_move_all(em, s)
  else {
    card <- new_cell(em, FALSE)
    write_into(em, x, card)
    if (!is.null(s$from)) take_from(em, s$from, card)
    else if (is_place(x)) write_assign_cell(em, x, fixed_operand(0, t_whole))
    put_card(em, s$to, card)
  }
  write_mark(em, "place", s$at, s$to)
}

# A whole list or bag; without `from` it is emptied.
write_move_all <- function(em, s) {
  moved <- new_list(em, room_of(em, s$x))
  fill_pool(em, s$x, moved$list, "list")
  if (is.null(s$from)) change_place(em, s$x, function(list) emit(em, "LCLEAR", list))
  else remove_each(em, s$from, moved$list)
  change_place(em, s$to, function(list) emit(em, if (is_kind(s$to$type, "bag")) "BAPPEND" else "LAPPEND", list, moved$list))
}

remove_each <- function(em, place, items) {
  change_place(em, place, function(list) {
    item <- new_cell(em, FALSE)
    write_list_loop(em, items, item, function() emit(em, "LREMOVE", list, item$cell))
  })
}

take_from <- function(em, from, card) {
  if (is_pool(from$type)) change_place(em, from, function(list) emit(em, "LREMOVE", list, card$cell))
  else write_assign_cell(em, from, fixed_operand(0, t_whole))
}

put_card <- function(em, to, card) {
  if (is_pool(to$type)) change_place(em, to, function(list) emit(em, put_op(to), list, card$cell))
  else write_assign_cell(em, to, card)
}

# Gives the cell of a place, perhaps of a key known only in the round, a value.
write_assign_cell <- function(em, place, x) {
  if (place$op == "var") return(move(em, place_variable(em, place$var), x))
  lies <- place_variable(em, place$var)
  key <- write_value(em, place$key)
  fail_unless_taken(em, place, key)
  if (!is.null(key$const) && key$const >= lies$first && key$const < lies$first + lies$size) return(move(em, in_cell(lies$base + as.integer(key$const) - lies$first, lies$real), x))
  emit(em, if (lies$real) "DSTX" else "STX", cell_of(em, key), lies$array, cell_of(em, x))
}

# --- words -----------------------------------------------------------------------

write_compare <- function(em, node, into) {
  guess <- write_value(em, node$guess)
  secret <- write_value(em, node$secret)
  target <- result_cell(em, into, FALSE)
  naive <- write_value(em, node$naive)$const
  at_place(em, node$at, function() emit(em, "WMARK", target$cell, cell_of(em, guess), cell_of(em, secret), as.integer(naive)))
  target
}

write_has_letter <- function(em, node, into) {
  letter <- write_value(em, node$letter)
  word <- write_value(em, node$word)
  target <- result_cell(em, into, FALSE)
  at_place(em, node$at, function() emit(em, "WHAS", target$cell, cell_of(em, letter), cell_of(em, word)))
  target
}
