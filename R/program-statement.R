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
    put = emit(em, if (is_kind(s$var$type, "bag")) "BPUT" else "LPUT", list_of(em, s$var), cell_of(em, write_value(em, s$x))),
    remove = emit(em, "LREMOVE", list_of(em, s$var), cell_of(em, write_value(em, s$x))),
    ask = write_ask(em, s),
    stop("no code for ", s$op)))
  invisible()
}

write_assign <- function(em, s) {
  if (is_pool(s$target$var$type) && s$target$op == "var") return(assign_pool(em, s$target$var, s$value))
  if (s$target$op == "var") return(write_into(em, s$value, place_variable(em, s$target$var)))
  lies <- place_variable(em, s$target$var)
  key <- write_value(em, s$target$key)
  if (!is.null(key$const) && key$const >= 1) return(write_into(em, s$value, in_cell(lies$base + as.integer(key$const) - 1L, lies$real)))
  value <- new_cell(em, lies$real)
  write_into(em, s$value, value)
  emit(em, if (lies$real) "DSTX" else "STX", cell_of(em, key), lies$array, value$cell)
}

write_if <- function(em, s) {
  otherwise <- new_label(em)
  sure <- jump_if(em, s$cond, otherwise, when = FALSE)
  if (!identical(sure, FALSE)) write_statements(em, s$yes)
  no_more <- length(s$no) == 0 || all(vapply(s$no, function(x) x$op == "seq" && length(x$statements) == 0, NA))
  if (identical(sure, TRUE) || no_more) return(put_label(em, otherwise))
  done <- new_label(em)
  if (is.na(sure)) emit(em, "JMP", done)
  put_label(em, otherwise)
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
  write_each_item(em, s$over, it, function() {
    again <- new_label(em)
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

# for (mover in turns(...)): the seats in order, from the first or the seat named.
write_turns <- function(em, s) {
  seats <- length(em$rules$seats)
  top <- new_label(em)
  again <- new_label(em)
  out <- new_label(em)
  one <- int_const(em, 1L)
  mover <- place_variable(em, s$var)
  count <- new_cell(em, FALSE)
  move(em, mover, if (is.null(s$from)) in_cell(one) else write_value(em, s$from))
  move(em, count, in_cell(int_const(em, 0L)))
  put_label(em, top)
  for (part in em$rules$state) if (part$lasts == "turn") write_start(em, part)
  in_loop(em, out, again, function() write_statement(em, s$body))
  put_label(em, again)
  emit(em, "ADD", count$cell, count$cell, one)
  if (!is.null(s$until)) jump_if(em, s$until, out, when = TRUE)
  stop_after <- function(node, times) {
    if (is.null(node)) return(invisible())
    limit <- write_value(em, node)
    most <- if (!is.null(limit$const)) known(limit$const * times, t_whole) else { x <- new_cell(em, FALSE); emit(em, "MUL", x$cell, limit$cell, int_const(em, times)); x }
    emit(em, "JLE", cell_of(em, most), count$cell, out)
  }
  stop_after(s$each, seats)
  stop_after(s$at_most, 1L)
  emit(em, "ADD", mover$cell, mover$cell, one)
  emit(em, "LOOPLE", mover$cell, int_const(em, seats), top)
  move(em, mover, in_cell(one))
  emit(em, "LOOP", top)
  put_label(em, out)
}

# What is remembered, as it starts.
write_start <- function(em, part) {
  at_place(em, part$at, function() {
    lies <- place_state(em, part)
    forced <- em$start[[part$name]]
    start <- if (is.null(forced)) part$start else forced
    if (is_kind(part$variable$type, "list", "bag")) return(emit(em, "LCLEAR", lies$list))
    if (!is_kind(part$variable$type, "each")) return(write_into(em, start, lies))
    for (k in seq_len(lies$size)) write_into(em, start, in_cell(lies$base + k - 1L, lies$real))
  })
}

max_room <- 100000

place_state <- function(em, part) {
  room <- NULL
  if (is_kind(part$variable$type, "list", "bag")) {
    room <- write_value(em, part$room)$const
    if (room < 1 || room > max_room) {
      program_problem(em, "room_wrong", part$at, sprintf("`%s` has room for %s items.", part$name, format(room, scientific = FALSE)), sprintf("its room is from 1 to %d", as.integer(max_room)))
      room <- 1
    }
  }
  place_variable(em, part$variable, room)
}
