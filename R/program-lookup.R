# Writes a player's lookup out as code. The keys are looked up one after another: each table goes from the rows that are
# left, as a number, and the value of a key to the rows that are then left; 0 where there is none.

op_chart <- function(asm, node, into) {
  target <- result_register(asm, into, FALSE)
  write_chart(asm, node, function(value) move(asm, target, fixed_operand(value, node$type)),
              function() write_into(asm, node$otherwise, target))
  target
}

list_chart <- function(asm, node) {
  out <- new_list(asm, room_of(asm, node))
  write_chart(asm, node, function(items) {
    emit(asm, "LCLEAR", out$list)
    for (item in items) emit(asm, "LPUT", out$list, int_const(asm, item))
  }, function() fill_collection(asm, node$otherwise, out$list, node$type$kind))
  out$list
}

most_items_of_answers <- function(node) max(1, unlist(lapply(node$chart$cells, function(cell) lengths(cell$values))))

# `put` writes one answer, `otherwise` that of a case for which there is no row.
write_chart <- function(asm, node, put, otherwise) {
  none <- new_label(asm)
  done <- new_label(asm)
  cell <- write_chart_cell(asm, node, none)
  write_cases(asm, cell, length(node$chart$cells), function(k) {
    answers <- node$chart$cells[[k]]
    if (length(answers$weights) == 1) return(put(answers$values[[1]]))
    drawn <- new_register(asm, FALSE)
    asm$weights[[length(asm$weights) + 1L]] <- answers$weights
    emit(asm, "DRAWW", drawn$register, source_index(asm, chance_source(asm, node$source)), length(asm$weights) - 1L)
    write_cases(asm, drawn, length(answers$weights), function(i) put(answers$values[[i]]))
  })
  emit(asm, "JMP", done)
  put_label(asm, none)
  if (is.null(node$otherwise)) emit(asm, "FAIL", failure_code("lookup_none")) else otherwise()
  put_label(asm, done)
}

# One piece of code for each value from 1 on, found by halves.
write_cases <- function(asm, register, count, write, first = 1L) {
  if (count == 1L) return(write(first))
  half <- count %/% 2L
  upper <- new_label(asm)
  done <- new_label(asm)
  emit(asm, "JLT", int_const(asm, first + half - 1L), register$register, upper)
  write_cases(asm, register, half, write, first)
  emit(asm, "JMP", done)
  put_label(asm, upper)
  write_cases(asm, register, count - half, write, first + half)
  put_label(asm, done)
}

# The number of the answer, from 1; jumps to `none` where there is no row.
write_chart_cell <- function(asm, node, none) {
  columns <- unlist(Map(function(key, values, scale) chart_columns(asm, key, values, scale), node$keys,
                        node$chart$keys, node$chart$scales), recursive = FALSE)
  steps <- chart_steps(lapply(columns, `[[`, "values"), node$chart$cell)
  if (is.null(steps)) {
    program_diagnostic(asm, "lookup_large", node$at, "The table of this lookup is too large.",
                       "put the arguments with few values first, or leave some out")
    return(in_register(int_const(asm, 1L)))
  }
  at <- new_register(asm, FALSE)
  x <- new_register(asm, FALSE)
  move(asm, at, fixed_operand(1, t_whole))
  for (k in seq_along(columns)) {
    step <- steps[[k]]
    columns[[k]]$write(x)
    emit(asm, "JLT", x$register, int_const(asm, step$low), none)
    emit(asm, "JLT", int_const(asm, step$high), x$register, none)
    width <- step$high - step$low + 1
    if (step$rows > 1) {
      from <- new_register(asm, FALSE)
      emit(asm, "MUL", from$register, at$register, int_const(asm, width))
      emit(asm, "ADD", x$register, x$register, from$register)
    }
    first <- step$low + (if (step$rows > 1) width else 0)
    emit(asm, "TAB", at$register, x$register, new_table(asm, first, length(step$to), step$to))
    emit(asm, "JZ", at$register, none)
  }
  at
}

# list(values, write) for a key, or of a collection for its size and each of its items; `write` puts the value into a
# register.
chart_columns <- function(asm, key, values, scale) {
  if (!is.null(scale))
    return(list(list(values = values, write = function(x) write_scaled(asm, key, scale, x))))
  if (!is_collection(key$type)) return(list(list(values = values, write = function(x) write_into(asm, key, x))))
  longest <- max(lengths(values))
  list <- NULL
  size <- list(values = lengths(values), write = function(x) {
    list <<- write_collection(asm, key)
    emit(asm, "LSIZE", x$register, list)
  })
  items <- lapply(seq_len(longest), function(k) list(
    values = vapply(values, function(items) if (length(items) < k) 0L else items[[k]], 0L),
    write = function(x) write_item_or_none(asm, list, k, x)))
  c(list(size), items)
}

# A fraction as a whole number.
write_scaled <- function(asm, key, scale, x) {
  scaled <- new_register(asm, TRUE)
  write_into(asm, key, scaled)
  emit(asm, "DMUL", scaled$register, scaled$register, real_const(asm, scale))
  emit(asm, "ROUND", x$register, scaled$register)
}

write_item_or_none <- function(asm, list, k, x) {
  done <- new_label(asm)
  emit(asm, "LSIZE", x$register, list)
  move_on <- new_label(asm)
  emit(asm, "JLE", int_const(asm, k), x$register, move_on)
  move(asm, x, fixed_operand(0, t_whole))
  emit(asm, "JMP", done)
  put_label(asm, move_on)
  emit(asm, "LGET", x$register, int_const(asm, k), list)
  put_label(asm, done)
}

max_chart_cells <- 2e7

# For each column: list(rows, low, high, to), `to` by rows left and value; behind the last column the answer. NULL where
# that is too large.
chart_steps <- function(columns, cell) {
  at <- rep(1, length(cell))
  steps <- list()
  for (k in seq_along(columns)) {
    low <- min(columns[[k]])
    high <- max(columns[[k]])
    width <- high - low + 1
    place <- (at - 1) * width + (columns[[k]] - low) + 1
    rows <- max(at)
    if (rows * width > max_chart_cells) return(NULL)
    known <- unique(place)
    to <- rep(0L, rows * width)
    to[known] <- if (k == length(columns)) cell[match(known, place)] else seq_along(known)
    steps[[k]] <- list(rows = rows, low = low, high = high, to = to)
    at <- match(place, known)
  }
  steps
}
