# Writes out what goes over a collection: unrolled over the seats, as a loop over the rest.

# Runs `visit(operand)` for each item: unrolled over the seats, as a loop over the rest.
write_each_item <- function(em, over, it, visit) {
  if (over$op == "seats" || is_kind(over$type, "each")) {
    for (key in each_key(em, over)) {
      bind(em, it, if (over$op == "seats") fixed_operand(key, it$type) else { lies <- place_variable(em, over$var); in_cell(lies$base + key - lies$first, lies$real) })
      visit()
    }
    return(invisible())
  }
  if (over$op == "choices") return(write_each_choice(em, it, visit))
  item <- new_cell(em, FALSE)
  bind(em, it, item)
  if (over$op == "range") return(write_range_loop(em, over, item, function(again) { visit(); put_label(em, again) }))
  write_list_loop(em, write_pool(em, over), item, visit)
}

# The seats that are taken, or the keys of a set.
each_key <- function(em, over) {
  keys <- if (over$op == "seats") seq_along(em$rules$seats) else over$type$keys
  if (over$op == "seats" || identical(over$type$key$set, "seats")) utils::head(keys, seats_taken(em)) else keys
}

seats_taken <- function(em) if (is.null(em$settings$seated)) length(em$rules$seats) else em$settings$seated

# `item` becomes each item of a list in turn.
write_list_loop <- function(em, list, item, visit) {
  index <- plain_cell(em)
  size <- plain_cell(em)
  top <- new_label(em)
  done <- new_label(em)
  one <- int_const(em, 1L)
  emit(em, "LSIZE", size$cell, list)
  emit(em, "MOV", index$cell, one)
  emit(em, "JLT", size$cell, index$cell, done)
  put_label(em, top)
  emit(em, "LGET", item$cell, index$cell, list)
  visit()
  emit(em, "ADD", index$cell, index$cell, one)
  emit(em, "LOOPLE", index$cell, size$cell, top)
  put_label(em, done)
}

# Counts `item` from the low to the high end; `body(again)` must put the label `again`, to which
# the body's `next` jumps. Where the body changes `item`, the count is kept apart.
write_range_loop <- function(em, range, item, body, item_changes = FALSE) {
  high <- write_value(em, range$high)
  if (is.null(high$const)) {
    kept <- plain_cell(em)
    move(em, kept, high)
    high <- kept
  }
  top <- new_label(em)
  done <- new_label(em)
  again <- new_label(em)
  low <- write_value(em, range$low)
  if (!is.null(low$const) && !is.null(high$const) && low$const > high$const) return(invisible(done))
  index <- if (item_changes) plain_cell(em) else item
  move(em, index, low)
  if (is.null(low$const) || is.null(high$const)) emit(em, "JLT", cell_of(em, high), index$cell, done)
  put_label(em, top)
  move(em, item, index)
  body(again)
  emit(em, "ADD", index$cell, index$cell, int_const(em, 1L))
  emit(em, "LOOPLE", index$cell, cell_of(em, high), top)
  put_label(em, done)
  invisible(done)
}

write_fold <- function(em, node) {
  at_place(em, node$at, function() if (is_one_operation(node)) write_fold_at_once(em, node) else switch(node$how,
    count = , sum = write_accumulation(em, node),
    any = , all = write_quantifier(em, node),
    write_extreme(em, node)))
}

# What goes over a list and is one operation of the machine: its sum, its greatest or least item, how many items are
# this, whether any is.
fold_operations <- c(sum = "LSUM", max = "LMAX", min = "LMIN", count = "LCOUNT", any = "LHAS")

is_one_operation <- function(node) {
  goes_over_list <- !is_kind(node$over$type, "each") && !node$over$op %in% c("seats", "choices", "range")
  if (!goes_over_list || is_real(node$it$type) || !node$how %in% names(fold_operations)) return(FALSE)
  if (node$how %in% c("count", "any")) !is.null(looked_for(node)) else is_the_item(node$body, node$it)
}

is_the_item <- function(node, it) node$op == "var" && identical(node$var$id, it$id)

# What each item is compared with, where that is one value known before.
looked_for <- function(node) {
  if (node$body$op != "calc" || node$body$fn != "==") return(NULL)
  sides <- node$body$args
  item <- vapply(sides, is_the_item, NA, it = node$it)
  if (sum(item) != 1) return(NULL)
  other <- sides[[which(!item)]]
  if (other$op %in% c("lit", "setting", "var") && !is_real(other$type)) other
}

write_fold_at_once <- function(em, node) {
  sought <- if (node$how %in% c("count", "any")) cell_of(em, write_value(em, looked_for(node)))
  pool <- write_pool(em, node$over)
  result <- new_cell(em, FALSE)
  operation <- fold_operations[[node$how]]
  if (is.null(sought)) emit(em, operation, result$cell, pool) else emit(em, operation, result$cell, sought, pool)
  result
}

write_accumulation <- function(em, node) {
  real <- is_real(node$type)
  total <- new_cell(em, real)
  move(em, total, list(const = 0, real = real))
  add <- if (real) "DADD" else "ADD"
  write_each_item(em, node$over, node$it, function() {
    if (node$how == "count") {
      skip <- new_label(em)
      jump_if(em, node$body, skip, when = FALSE)
      emit(em, "ADD", total$cell, total$cell, int_const(em, 1L))
      put_label(em, skip)
    } else emit(em, add, total$cell, total$cell, cell_of(em, write_value(em, node$body)))
  })
  total
}

write_quantifier <- function(em, node) {
  result <- new_cell(em, FALSE)
  done <- new_label(em)
  is_any <- node$how == "any"
  settled <- int_const(em, as.integer(is_any))
  move(em, result, in_cell(settled))
  write_each_item(em, node$over, node$it, function() jump_if(em, node$body, done, when = is_any))
  move(em, result, in_cell(int_const(em, as.integer(!is_any))))
  put_label(em, done)
  result
}

write_extreme <- function(em, node) {
  real <- is_real(node$type)
  best <- new_cell(em, real)
  first <- new_cell(em, FALSE)
  move(em, first, in_cell(int_const(em, 1L)))
  forget(em, best)
  combine <- paste0(if (real) "D" else "I", toupper(node$how))
  write_each_item(em, node$over, node$it, function() {
    x <- cell_of(em, write_value(em, node$body))
    set <- new_label(em)
    done <- new_label(em)
    emit(em, "JNZ", first$cell, set)
    emit(em, combine, best$cell, best$cell, x)
    emit(em, "JMP", done)
    put_label(em, set)
    emit(em, if (real) "DMOV" else "MOV", best$cell, x)
    emit(em, "MOV", first$cell, int_const(em, 0L))
    put_label(em, done)
  })
  nothing <- new_label(em)
  emit(em, "JZ", first$cell, nothing)
  emit(em, "FAIL", failure_code("nothing_to_choose"))
  put_label(em, nothing)
  best
}

# The only seat for which the condition holds, else 0.
write_who <- function(em, node) {
  found <- new_cell(em, FALSE)
  none <- int_const(em, 0L)
  move(em, found, in_cell(none))
  for (seat in seq_len(seats_taken(em))) {
    bind(em, node$it, fixed_operand(seat, node$it$type))
    holds <- write_value(em, node$body)
    emit(em, "WHO", found$cell, cell_of(em, holds), int_const(em, seat))
  }
  emit(em, "IMAX", found$cell, found$cell, none)
  found
}

# The seat with the most; 0 when the most is shared.
write_leader <- function(em, node) {
  values <- lapply(seq_len(seats_taken(em)), function(seat) {
    bind(em, node$it, fixed_operand(seat, node$it$type))
    x <- write_value(em, node$body)
    if (!is.null(x$const) || node$body$op %in% c("var", "at_seat", "lit")) return(x)
    kept <- new_cell(em, x$real)  # the body's own cells are used again for the next seat
    move(em, kept, x)
    kept
  })
  write_leader_of(em, values)
}

write_leader_of <- function(em, values) {
  lead <- new_cell(em, FALSE)
  best <- values[[1]]
  move(em, lead, in_cell(int_const(em, 1L)))
  if (length(values) > 2 || is.null(best$cell)) {
    best <- new_cell(em, best$real)
    move(em, best, values[[1]])
  }
  for (seat in seq_along(values)[-1]) {
    behind <- new_label(em)
    equal <- new_label(em)
    x <- cell_of(em, values[[seat]])
    jump_order(em, x, best$cell, best$real, "<", behind)
    jump_order(em, x, best$cell, best$real, "==", equal)
    move(em, lead, in_cell(int_const(em, seat)))
    if (seat < length(values)) emit(em, if (best$real) "DMOV" else "MOV", best$cell, x)
    emit(em, "JMP", behind)
    put_label(em, equal)
    move(em, lead, in_cell(int_const(em, 0L)))
    put_label(em, behind)
  }
  lead
}

jump_order <- function(em, a, b, real, fn, label) {
  if (!real) return(emit_compare(em, fn, a, b, label, TRUE))
  test <- new_int(em)
  emit(em, real_ops[[fn]], test, a, b)
  emit(em, "JNZ", test, label)
}
