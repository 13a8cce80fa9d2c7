# Writes statements out as code.

op_seq <- function(asm, s) write_statements(asm, s$statements)
op_effect <- function(asm, s) write_value(asm, s$x)
op_break <- function(asm, s) emit(asm, "JMP", asm$loops[[length(asm$loops)]]$out)
op_next <- function(asm, s) emit(asm, "JMP", asm$loops[[length(asm$loops)]]$again)
op_end_round <- function(asm, s) emit(asm, "JMP", asm$round_end)

op_return <- function(asm, s) {
  write_statement(asm, s$answer)
  emit(asm, "JMP", asm$exits[[as.character(s$exit$variable$id)]])
}

op_put <- function(asm, s) {
  x <- write_value(asm, s$x)
  change_place(asm, s$place, function(list) emit(asm, put_op(s$place), list, register_of(asm, x)))
  write_trace_point(asm, "place", s$at, s$place, item = x)
}

op_assign <- function(asm, s) {
  write_assigned(asm, s)
  if (!isTRUE(s$quiet)) write_trace_point(asm, "place", s$at, s$target, drawn = comes_from_luck(s$value))
}

# Does a value come straight from a die, a deck or another source of chance?
comes_from_luck <- function(node) {
  drawn <- FALSE
  walk(node, function(n) if (n$op %in% c("draw", "deal", "collection_roll", "chance", "successes")) drawn <<- TRUE)
  drawn
}

write_assigned <- function(asm, s) {
  if (is_collection(s$target$var$type) && s$target$op == "var") return(assign_collection(asm, s$target$var, s$value))
  if (s$target$op == "var") return(write_into(asm, s$value, slot_of(asm, s$target$var)))
  if (is_collection(s$target$type))
    return(change_place(asm, s$target, function(list) fill_place(asm, list, s$value, s$target$type$kind)))
  slot <- slot_of(asm, s$target$var)
  key <- write_value(asm, s$target$key)
  fail_unless_taken(asm, s$target, key)
  k <- known_place(slot, key)
  if (!is.null(k)) return(write_into(asm, s$value, in_register(slot$base + k, slot$real)))
  value <- new_register(asm, slot$real)
  write_into(asm, s$value, value)
  emit(asm, if (slot$real) "DSTX" else "STX", register_of(asm, key), slot$array, value$register)
}

op_remove <- function(asm, s) {
  write_remove(asm, s)
  write_trace_point(asm, "place", s$at, s$place)
}

write_remove <- function(asm, s) {
  if (is_item_in(s$x, s$place)) return(take_out_of_place(asm, s$x, s$place))
  if (!s$several) {
    x <- write_value(asm, s$x)
    return(change_place(asm, s$place, function(list) emit(asm, "LREMOVE", list, register_of(asm, x))))
  }
  items <- new_list(asm, room_of(asm, s$x))
  fill_collection(asm, s$x, items$list, "list")
  remove_each(asm, s$place, items$list)
}

op_if <- function(asm, s) {
  otherwise <- new_label(asm)
  sure <- jump_if(asm, s$cond, otherwise, when = FALSE)
  if (!identical(sure, FALSE) && !isTRUE(s$quiet)) write_coverage(asm, "holds", s$cond$at)
  if (!identical(sure, FALSE)) write_statements(asm, s$yes)
  no_more <- length(s$no) == 0 || all(vapply(s$no, function(x) x$op == "seq" && length(x$statements) == 0, NA))
  if (identical(sure, TRUE) || no_more) return(put_label(asm, otherwise))
  done <- new_label(asm)
  if (is.na(sure)) emit(asm, "JMP", done)
  put_label(asm, otherwise)
  if (!isTRUE(s$quiet)) write_coverage(asm, "fails", s$cond$at)
  write_statements(asm, s$no)
  put_label(asm, done)
}

# The condition stands at the top once and at the bottom again: one jump a turn of the loop.
op_while <- function(asm, s) {
  top <- new_label(asm)
  again <- new_label(asm)
  out <- new_label(asm)
  sure <- jump_if(asm, s$cond, out, when = FALSE)
  if (identical(sure, FALSE)) return(put_label(asm, out))
  put_label(asm, top)
  in_loop(asm, out, again, function() write_statement(asm, s$body))
  put_label(asm, again)
  loop_while(asm, s$cond, top, out)
  put_label(asm, out)
}

# Jumps back to `top` while the condition holds, counting the step.
loop_while <- function(asm, cond, top, out) {
  if (cond$op == "calc" && cond$fn %in% c("<", "<=", ">", ">=")) {
    operands <- lapply(cond$args, function(a) write_value(asm, a))
    if (!operands[[1]]$real && !operands[[2]]$real) {
      registers <- vapply(operands, register_of, 0, asm = asm)
      if (cond$fn %in% c(">", ">=")) registers <- rev(registers)
      return(emit(asm, if (cond$fn %in% c("<", ">")) "LOOPLT" else "LOOPLE", registers[[1]], registers[[2]], top))
    }
  }
  jump_if(asm, cond, out, when = FALSE)
  emit(asm, "LOOP", top)
}

op_repeat <- function(asm, s) {
  top <- new_label(asm)
  out <- new_label(asm)
  put_label(asm, top)
  in_loop(asm, out, top_again <- new_label(asm), function() write_statement(asm, s$body))
  put_label(asm, top_again)
  emit(asm, "LOOP", top)
  put_label(asm, out)
}

op_for_range <- function(asm, s) {
  out <- new_label(asm)
  item <- slot_of(asm, s$var)
  write_range_loop(asm, s$over, item, function(again) {
    in_loop(asm, out, again, function() write_statement(asm, s$body))
    put_label(asm, again)
  }, item_changes = s$var$id %in% variables_written(s$body))
  put_label(asm, out)
}

op_for_each <- op_for_items <- function(asm, s) {
  out <- new_label(asm)
  item <- slot_of(asm, s$var)
  it <- new.env(parent = emptyenv())
  it$id <- s$var$id
  it$type <- s$var$type
  fixed <- !s$var$id %in% variables_written(s$body)
  write_each_item(asm, s$over, it, function() {
    again <- new_label(asm)
    if (fixed) {  # the name simply stands for the item: a seat is then known while the code is written
      in_loop(asm, out, again, function() write_statement(asm, s$body))
      return(put_label(asm, again))
    }
    move(asm, item, asm$bound[[as.character(it$id)]])
    kept <- asm$bound[[as.character(it$id)]]
    asm$bound[[as.character(it$id)]] <- NULL
    rm(list = as.character(it$id), envir = asm$bound)
    in_loop(asm, out, again, function() write_statement(asm, s$body))
    asm$bound[[as.character(it$id)]] <- kept
    put_label(asm, again)
  })
  rm(list = as.character(it$id), envir = asm$bound)
  put_label(asm, out)
}

# For odds, a round that reaches a hole ends there.
op_later <- function(asm, s) {
  if (is.null(asm$rules$hole)) return(emit(asm, "FAIL", failure_code("not_written")))
  move(asm, in_register(asm$outcome_register), fixed_operand(asm$rules$hole, t_whole))
  emit(asm, "JMP", asm$hole_end)
}
