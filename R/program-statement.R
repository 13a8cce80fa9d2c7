# Writes statements out as code.

write_statements <- function(asm, statements) for (s in statements) write_statement(asm, s)

write_statement <- function(asm, s) {
  at_place(asm, s$at, function() switch(s$op,
    seq = write_statements(asm, s$statements),
    effect = write_value(asm, s$x),
    assign = write_assign(asm, s),
    "if" = write_if(asm, s),
    "while" = write_while(asm, s),
    "repeat" = write_repeat(asm, s),
    for_range = write_for_range(asm, s),
    for_each = , for_items = write_for_items(asm, s),
    turns = write_turns(asm, s),
    "break" = emit(asm, "JMP", asm$loops[[length(asm$loops)]]$out),
    "next" = emit(asm, "JMP", asm$loops[[length(asm$loops)]]$again),
    "return" = { write_statement(asm, s$answer); emit(asm, "JMP", asm$exits[[as.character(s$exit$variable$id)]]) },
    end_round = emit(asm, "JMP", asm$round_end),
    put = {
      x <- write_value(asm, s$x)
      change_place(asm, s$place, function(list) emit(asm, put_op(s$place), list, register_of(asm, x)))
      write_trace_point(asm, "place", s$at, s$place)
    },
    remove = { write_remove(asm, s); write_trace_point(asm, "place", s$at, s$place) },
    ask = write_ask(asm, s),
    stake = , feed = , share = , settle = , buy = write_money(asm, s),
    deal_to = write_deal_to(asm, s),
    burn = write_burn(asm, s),
    shuffle = write_shuffle(asm, s),
    move = write_move(asm, s),
    say = write_say(asm, s),
    show = write_show(asm, s),
    told_money = tell_money(asm, s),
    later = write_hole(asm),
    skip_next = emit(asm, "ADD", asm$turning$skip$register, asm$turning$skip$register, int_const(asm, 1L)),
    again = move(asm, asm$turning$again, fixed_operand(1, t_whole)),
    reverse = emit(asm, "NOT", asm$turning$back$register, asm$turning$back$register),
    out = write_out(asm, s),
    stop("no code for ", s$op)))
  invisible()
}

write_assign <- function(asm, s) {
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

write_if <- function(asm, s) {
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

in_loop <- function(asm, out, again, write) {
  asm$loops <- c(asm$loops, list(list(out = out, again = again)))
  write()
  asm$loops <- utils::head(asm$loops, -1)
}

# The condition stands at the top once and at the bottom again: one jump a turn of the loop.
write_while <- function(asm, s) {
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

write_repeat <- function(asm, s) {
  top <- new_label(asm)
  out <- new_label(asm)
  put_label(asm, top)
  in_loop(asm, out, top_again <- new_label(asm), function() write_statement(asm, s$body))
  put_label(asm, top_again)
  emit(asm, "LOOP", top)
  put_label(asm, out)
}

write_for_range <- function(asm, s) {
  out <- new_label(asm)
  item <- slot_of(asm, s$var)
  write_range_loop(asm, s$over, item, function(again) {
    in_loop(asm, out, again, function() write_statement(asm, s$body))
    put_label(asm, again)
  }, item_changes = s$var$id %in% variables_written(s$body))
  put_label(asm, out)
}

write_for_items <- function(asm, s) {
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
write_hole <- function(asm) {
  if (is.null(asm$rules$hole)) return(emit(asm, "FAIL", failure_code("not_written")))
  move(asm, in_register(asm$outcome_register), fixed_operand(asm$rules$hole, t_whole))
  emit(asm, "JMP", asm$hole_end)
}
