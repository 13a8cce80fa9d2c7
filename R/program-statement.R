# Writes statements out as code.

write_statements <- function(em, statements) for (s in statements) write_statement(em, s)

write_statement <- function(em, s) {
  at_place(em, s$at, function() switch(s$op,
    seq = write_statements(em, s$statements),
    effect = write_value(em, s$x),
    assign = write_assign(em, s),
    "if" = write_if(em, s),
    "while" = write_while(em, s),
    "repeat" = write_repeat(em, s),
    for_range = write_for_range(em, s),
    for_each = , for_items = write_for_items(em, s),
    turns = write_turns(em, s),
    "break" = emit(em, "JMP", em$loops[[length(em$loops)]]$out),
    "next" = emit(em, "JMP", em$loops[[length(em$loops)]]$again),
    "return" = { write_statement(em, s$answer); emit(em, "JMP", em$exits[[as.character(s$exit$variable$id)]]) },
    end_round = emit(em, "JMP", em$round_end),
    put = { x <- write_value(em, s$x); change_place(em, s$place, function(list) emit(em, put_op(s$place), list, cell_of(em, x))); write_mark(em, "place", s$at, s$place) },
    remove = { write_remove(em, s); write_mark(em, "place", s$at, s$place) },
    ask = write_ask(em, s),
    deal_to = write_deal_to(em, s),
    burn = write_burn(em, s),
    shuffle = write_shuffle(em, s),
    move = write_move(em, s),
    say = write_say(em, s),
    later = emit(em, "FAIL", failure_code("not_written")),
    skip_next = emit(em, "ADD", em$turning$skip$cell, em$turning$skip$cell, int_const(em, 1L)),
    again = move(em, em$turning$again, fixed_operand(1, t_whole)),
    reverse = emit(em, "NOT", em$turning$back$cell, em$turning$back$cell),
    out = write_out(em, s),
    stop("no code for ", s$op)))
  invisible()
}

write_assign <- function(em, s) {
  write_assigned(em, s)
  write_mark(em, "place", s$at, s$target)
}

write_assigned <- function(em, s) {
  if (is_pool(s$target$var$type) && s$target$op == "var") return(assign_pool(em, s$target$var, s$value))
  if (s$target$op == "var") return(write_into(em, s$value, place_variable(em, s$target$var)))
  if (is_pool(s$target$type)) return(change_place(em, s$target, function(list) fill_place(em, list, s$value, s$target$type$kind)))
  lies <- place_variable(em, s$target$var)
  key <- write_value(em, s$target$key)
  fail_unless_taken(em, s$target, key)
  if (!is.null(key$const) && key$const >= lies$first && key$const < lies$first + lies$size) return(write_into(em, s$value, in_cell(lies$base + as.integer(key$const) - lies$first, lies$real)))
  value <- new_cell(em, lies$real)
  write_into(em, s$value, value)
  emit(em, if (lies$real) "DSTX" else "STX", cell_of(em, key), lies$array, value$cell)
}

# What belongs to a seat that nobody takes is not written.
fail_unless_taken <- function(em, place, key) {
  taken <- seats_taken(em)
  if (taken == length(em$rules$seats) || !identical(place$var$type$key$set, "seats")) return(invisible())
  if (!is.null(key$const) && key$const <= taken) return(invisible())
  fine <- new_label(em)
  if (is.null(key$const)) emit(em, "JLE", key$cell, int_const(em, taken), fine)
  emit(em, "FAIL", failure_code("seat_not_taken"))
  put_label(em, fine)
}

write_remove <- function(em, s) {
  if (!s$several) {
    x <- write_value(em, s$x)
    return(change_place(em, s$place, function(list) emit(em, "LREMOVE", list, cell_of(em, x))))
  }
  items <- new_list(em, room_of(em, s$x))
  fill_pool(em, s$x, items$list, "list")
  remove_each(em, s$place, items$list)
}

write_if <- function(em, s) {
  otherwise <- new_label(em)
  sure <- jump_if(em, s$cond, otherwise, when = FALSE)
  if (!identical(sure, FALSE)) write_note(em, "holds", s$cond$at)
  if (!identical(sure, FALSE)) write_statements(em, s$yes)
  no_more <- length(s$no) == 0 || all(vapply(s$no, function(x) x$op == "seq" && length(x$statements) == 0, NA))
  if (identical(sure, TRUE) || no_more) return(put_label(em, otherwise))
  done <- new_label(em)
  if (is.na(sure)) emit(em, "JMP", done)
  put_label(em, otherwise)
  write_note(em, "fails", s$cond$at)
  write_statements(em, s$no)
  put_label(em, done)
}

in_loop <- function(em, out, again, write) {
  em$loops <- c(em$loops, list(list(out = out, again = again)))
  write()
  em$loops <- utils::head(em$loops, -1)
}

# The condition stands at the top once and at the bottom again: one jump a turn of the loop.
write_while <- function(em, s) {
  top <- new_label(em)
  again <- new_label(em)
  out <- new_label(em)
  sure <- jump_if(em, s$cond, out, when = FALSE)
  if (identical(sure, FALSE)) return(put_label(em, out))
  put_label(em, top)
  in_loop(em, out, again, function() write_statement(em, s$body))
  put_label(em, again)
  loop_while(em, s$cond, top, out)
  put_label(em, out)
}

# Jumps back to `top` while the condition holds, counting the step.
loop_while <- function(em, cond, top, out) {
  if (cond$op == "calc" && cond$fn %in% c("<", "<=", ">", ">=")) {
    operands <- lapply(cond$args, function(a) write_value(em, a))
    if (!operands[[1]]$real && !operands[[2]]$real) {
      cells <- vapply(operands, cell_of, 0, em = em)
      if (cond$fn %in% c(">", ">=")) cells <- rev(cells)
      return(emit(em, if (cond$fn %in% c("<", ">")) "LOOPLT" else "LOOPLE", cells[[1]], cells[[2]], top))
    }
  }
  jump_if(em, cond, out, when = FALSE)
  emit(em, "LOOP", top)
}

write_repeat <- function(em, s) {
  top <- new_label(em)
  out <- new_label(em)
  put_label(em, top)
  in_loop(em, out, top_again <- new_label(em), function() write_statement(em, s$body))
  put_label(em, top_again)
  emit(em, "LOOP", top)
  put_label(em, out)
}

write_for_range <- function(em, s) {
  out <- new_label(em)
  item <- place_variable(em, s$var)
  write_range_loop(em, s$over, item, function(again) {
    in_loop(em, out, again, function() write_statement(em, s$body))
    put_label(em, again)
  }, item_changes = s$var$id %in% variables_written(s$body))
  put_label(em, out)
}

write_for_items <- function(em, s) {
  out <- new_label(em)
  item <- place_variable(em, s$var)
  it <- new.env(parent = emptyenv())
  it$id <- s$var$id
  it$type <- s$var$type
  fixed <- !s$var$id %in% variables_written(s$body)
  write_each_item(em, s$over, it, function() {
    again <- new_label(em)
    if (fixed) {  # the name simply stands for the item: a seat is then known while the code is written
      in_loop(em, out, again, function() write_statement(em, s$body))
      return(put_label(em, again))
    }
    move(em, item, em$bound[[as.character(it$id)]])
    kept <- em$bound[[as.character(it$id)]]
    em$bound[[as.character(it$id)]] <- NULL
    rm(list = as.character(it$id), envir = em$bound)
    in_loop(em, out, again, function() write_statement(em, s$body))
    em$bound[[as.character(it$id)]] <- kept
    put_label(em, again)
  })
  rm(list = as.character(it$id), envir = em$bound)
  put_label(em, out)
}
