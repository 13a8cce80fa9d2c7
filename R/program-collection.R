# Writes out what goes over a collection: unrolled over the seats, as a loop over the rest.

op_fold <- function(asm, node, into) {
  at_place(asm, node$at, function() if (is_one_operation(node)) write_fold_at_once(asm, node) else switch(node$how,
    count = , sum = write_accumulation(asm, node),
    any = , all = write_quantifier(asm, node),
    write_extreme(asm, node)))
}

# Loops over a list that are one operation of the program: its sum, its greatest or least item, how many items are
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

write_fold_at_once <- function(asm, node) {
  sought <- if (node$how %in% c("count", "any")) register_of(asm, write_value(asm, looked_for(node)))
  collection <- write_collection(asm, node$over)
  result <- new_register(asm, FALSE)
  operation <- fold_operations[[node$how]]
  if (is.null(sought)) emit(asm, operation, result$register, collection)
  else emit(asm, operation, result$register, sought, collection)
  result
}

write_accumulation <- function(asm, node) {
  real <- is_real(node$type)
  total <- new_register(asm, real)
  move(asm, total, list(const = 0, real = real))
  add <- if (real) "DADD" else "ADD"
  write_each_item(asm, node$over, node$it, function() {
    if (node$how == "count") {
      skip <- new_label(asm)
      jump_if(asm, node$body, skip, when = FALSE)
      emit(asm, "ADD", total$register, total$register, int_const(asm, 1L))
      put_label(asm, skip)
    } else emit(asm, add, total$register, total$register, register_of(asm, write_value(asm, node$body)))
  })
  total
}

write_quantifier <- function(asm, node) {
  result <- new_register(asm, FALSE)
  done <- new_label(asm)
  is_any <- node$how == "any"
  settled <- int_const(asm, as.integer(is_any))
  move(asm, result, in_register(settled))
  write_each_item(asm, node$over, node$it, function() jump_if(asm, node$body, done, when = is_any))
  move(asm, result, in_register(int_const(asm, as.integer(!is_any))))
  put_label(asm, done)
  result
}

write_extreme <- function(asm, node) {
  real <- is_real(node$type)
  best <- new_register(asm, real)
  first <- new_register(asm, FALSE)
  move(asm, first, in_register(int_const(asm, 1L)))
  forget(asm, best)
  combine <- paste0(if (real) "D" else "I", toupper(node$how))
  write_each_item(asm, node$over, node$it, function() {
    x <- register_of(asm, write_value(asm, node$body))
    set <- new_label(asm)
    done <- new_label(asm)
    emit(asm, "JNZ", first$register, set)
    emit(asm, combine, best$register, best$register, x)
    emit(asm, "JMP", done)
    put_label(asm, set)
    emit(asm, if (real) "DMOV" else "MOV", best$register, x)
    emit(asm, "MOV", first$register, int_const(asm, 0L))
    put_label(asm, done)
  })
  nothing <- new_label(asm)
  emit(asm, "JZ", first$register, nothing)
  emit(asm, "FAIL", failure_code("nothing_to_choose"))
  put_label(asm, nothing)
  best
}

# The only seat for which the condition holds, else 0.
op_who <- function(asm, node, into) {
  which_item <- new_register(asm, FALSE)
  none <- int_const(asm, 0L)
  move(asm, which_item, in_register(none))
  for (seat in seq_len(seats_taken(asm))) {
    write_if_playing(asm, seat, function() {
      bind(asm, node$it, fixed_operand(seat, node$it$type))
      holds <- write_value(asm, node$body)
      emit(asm, "WHO", which_item$register, register_of(asm, holds), int_const(asm, seat))
    })
  }
  emit(asm, "IMAX", which_item$register, which_item$register, none)
  which_item
}

# The seat with the most; 0 when the most is shared.
op_leader <- function(asm, node, into) write_leader_of(asm, write_of_seats(asm, node))

# The values of an expression about `it` for each seat that is taken; a seat that has dropped out has the least.
write_of_seats <- function(asm, node) {
  lapply(seq_len(seats_taken(asm)), function(seat) {
    bind(asm, node$it, fixed_operand(seat, node$it$type))
    if (has_table(asm$rules)) {
      kept <- new_register(asm, is_real(node$body$type))
      write_if_playing(asm, seat, function() write_into(asm, node$body, kept),
                       otherwise = function() move(asm, kept, fixed_operand(least_whole, node$body$type)))
      return(kept)
    }
    x <- write_value(asm, node$body)
    if (!is.null(x$const) || node$body$op %in% c("var", "at_key", "lit")) return(x)
    kept <- new_register(asm, x$real)  # the body's own registers are used again for the next seat
    move(asm, kept, x)
    kept
  })
}

# The seat one further or one back, of those that are taken; nobody of nobody.
op_neighbour <- function(asm, node, into) {
  n <- if (isTRUE(node$all)) length(table_seats(asm$rules)) else seats_taken(asm)
  neighbours <- c(0L, (seq_len(n) - 1L + node$step) %% n + 1L)
  seat <- write_value(asm, node$seat)
  skips <- has_table(asm$rules) && !isTRUE(node$all)
  if (!skips && !is.null(seat$const) && seat$const %in% 0:n)
    return(fixed_operand(neighbours[[seat$const + 1]], node$type))
  target <- result_register(asm, into, FALSE)
  table <- new_table(asm, 0L, n + 1L, neighbours)
  at_place(asm, node$at, function() {
    emit(asm, "TAB", target$register, register_of(asm, seat), table)
    if (skips) write_to_playing(asm, target, function() emit(asm, "TAB", target$register, target$register, table))
  })
  target
}

# One more than the number of seats that have more than this one.
op_place_of <- function(asm, node, into) {
  values <- write_of_seats(asm, node)
  seat <- kept_operand(asm, node$seat)
  item <- new_register(asm, is_real(node$body$type))
  place <- new_register(asm, FALSE)
  for (k in seq_along(values)) {
    other <- new_label(asm)
    emit(asm, "JNE", register_of(asm, seat), int_const(asm, k), other)
    move(asm, item, values[[k]])
    put_label(asm, other)
  }
  move(asm, place, fixed_operand(1, t_whole))
  for (x in values) {
    behind <- new_label(asm)
    ahead <- new_label(asm)
    jump_order(asm, item$register, register_of(asm, x), item$real, "<", ahead)
    emit(asm, "JMP", behind)
    put_label(asm, ahead)
    emit(asm, "ADD", place$register, place$register, int_const(asm, 1L))
    put_label(asm, behind)
  }
  place
}

write_leader_of <- function(asm, values) {
  lead <- new_register(asm, FALSE)
  best <- values[[1]]
  move(asm, lead, in_register(int_const(asm, 1L)))
  if (length(values) > 2 || is.null(best$register)) {
    best <- new_register(asm, best$real)
    move(asm, best, values[[1]])
  }
  for (seat in seq_along(values)[-1]) {
    behind <- new_label(asm)
    equal <- new_label(asm)
    x <- register_of(asm, values[[seat]])
    jump_order(asm, x, best$register, best$real, "<", behind)
    jump_order(asm, x, best$register, best$real, "==", equal)
    move(asm, lead, in_register(int_const(asm, seat)))
    if (seat < length(values)) emit(asm, if (best$real) "DMOV" else "MOV", best$register, x)
    emit(asm, "JMP", behind)
    put_label(asm, equal)
    move(asm, lead, in_register(int_const(asm, 0L)))
    put_label(asm, behind)
  }
  lead
}
