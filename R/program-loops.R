# Loops over numbers, lists, subsets and choices: each calls back for the code of one step.

# Goes through the legal subsets; `visit(list)`.
write_each_subset <- function(asm, choices, visit) {
  subset <- new_list(asm, choices$room)
  mask <- new_register(asm, FALSE)
  top <- new_label(asm)
  again <- new_label(asm)
  done <- new_label(asm)
  move(asm, mask, fixed_operand(-1, t_whole))
  put_label(asm, top)
  emit(asm, "SUBSET", mask$register, subset$list, choices$list)
  emit(asm, "JLT", mask$register, int_const(asm, 0L), done)
  jump_unless_subset(asm, choices, subset$list, again)
  visit(subset$list, done)
  put_label(asm, again)
  emit(asm, "LOOP", top)
  put_label(asm, done)
}

# Each legal answer of the ask being written.
write_each_choice <- function(asm, it, visit) {
  choices <- asm$choices
  if (choices$how == "subsets") {
    return(write_each_subset(asm, choices, function(list, out) {
      bind(asm, it, list(list = list, real = FALSE))
      visit()
    }))
  }
  if (choices$how == "labels") {
    for (choice in choices$items) {
      skip <- new_label(asm)
      if (!is.null(choice$flag)) emit(asm, "JZ", choice$flag$register, skip)
      bind(asm, it, fixed_operand(choice$id, it$type))
      visit()
      put_label(asm, skip)
    }
    return(invisible())
  }
  item <- new_register(asm, FALSE)
  bind(asm, it, item)
  if (choices$how == "list") return(write_list_loop(asm, choices$list, item, visit))
  range <- list(low = typed("operand", t_whole, NULL, operand = choices$low),
                high = typed("operand", t_whole, NULL, operand = choices$high))
  write_range_loop(asm, range, item, function(again) { visit(); put_label(asm, again) })
}

# Runs `visit(operand)` for each item: unrolled over the seats, as a loop over the rest.
write_each_item <- function(asm, over, it, visit) {
  if (over$op == "seats") {
    for (seat in seq_len(seats_taken(asm))) {
      bind(asm, it, fixed_operand(seat, it$type))
      visit()
    }
    return(invisible())
  }
  if (is_kind(over$type, "each")) {
    for (place in places_of(asm, over)) {
      bind(asm, it, place())
      visit()
    }
    return(invisible())
  }
  if (over$op == "choices") return(write_each_choice(asm, it, visit))
  item <- new_register(asm, FALSE)
  bind(asm, it, item)
  if (over$op == "range") return(write_range_loop(asm, over, item, function(again) { visit(); put_label(asm, again) }))
  write_list_loop(asm, write_collection(asm, over), item, visit)
}

# `item` becomes each item of a list in turn.
write_list_loop <- function(asm, list, item, visit) {
  index <- plain_register(asm)
  size <- plain_register(asm)
  top <- new_label(asm)
  done <- new_label(asm)
  one <- int_const(asm, 1L)
  emit(asm, "LSIZE", size$register, list)
  emit(asm, "MOV", index$register, one)
  emit(asm, "JLT", size$register, index$register, done)
  put_label(asm, top)
  emit(asm, "LGET", item$register, index$register, list)
  visit()
  emit(asm, "ADD", index$register, index$register, one)
  emit(asm, "LOOPLE", index$register, size$register, top)
  put_label(asm, done)
}

# Counts `item` from the low to the high end; `body(again)` must put the label `again`, to which
# the body's `next` jumps. Where the body changes `item`, the count is kept apart.
write_range_loop <- function(asm, range, item, body, item_changes = FALSE) {
  high <- write_value(asm, range$high)
  if (is.null(high$const)) {
    kept <- plain_register(asm)
    move(asm, kept, high)
    high <- kept
  }
  top <- new_label(asm)
  done <- new_label(asm)
  again <- new_label(asm)
  low <- write_value(asm, range$low)
  if (!is.null(low$const) && !is.null(high$const) && low$const > high$const) return(invisible(done))
  index <- if (item_changes) plain_register(asm) else item
  move(asm, index, low)
  if (is.null(low$const) || is.null(high$const)) emit(asm, "JLT", register_of(asm, high), index$register, done)
  put_label(asm, top)
  move(asm, item, index)
  body(again)
  emit(asm, "ADD", index$register, index$register, int_const(asm, 1L))
  emit(asm, "LOOPLE", index$register, register_of(asm, high), top)
  put_label(asm, done)
  invisible(done)
}

jump_order <- function(asm, a, b, real, fn, label) {
  if (!real) return(emit_compare(asm, fn, a, b, label, TRUE))
  test <- new_int(asm)
  emit(asm, real_ops[[fn]], test, a, b)
  emit(asm, "JNZ", test, label)
}
