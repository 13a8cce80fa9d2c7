# Writes expressions out as code. What is known now (numbers, settings, seats of an unrolled list)
# is worked out now.

# The operand that holds the value of a node; `into` is a cell that may be used for it.
write_value <- function(em, node, into = NULL) {
  switch(node$op,
    lit = fixed_operand(node$value, node$type),
    setting = fixed_operand(em$settings[[node$name]], node$type),
    var = variable_operand(em, node),
    to_fraction = write_fraction(em, node, into),
    calc = write_calculation(em, node, into),
    choose = write_choice(em, node, into),
    at_seat = write_at_seat(em, node, into),
    at_position = write_at_position(em, node, into),
    let = write_let(em, node, into),
    do = write_body(em, node),
    lookup2 = write_lookup2(em, node, into),
    lookup = write_lookup(em, node, into),
    counter = counter_cell(em, node$name),
    turn_number = write_seat_cell(em, node$seat, turn_cells(em), into),
    playing = write_playing(em, node, into),
    deal = at_place(em, node$at, function() write_deal(em, node, into)),
    deck_size = { target <- result_cell(em, into, FALSE); emit(em, "ASUM", target$cell, deck_array(em, node$deck)$array); target },
    compare = write_compare(em, node, into),
    marks_seen = { x <- write_value(em, node$x); target <- result_cell(em, into, FALSE); emit(em, "MARKS", target$cell, cell_of(em, x), node$kind); target },
    has_letter = write_has_letter(em, node, into),
    pool_has = write_pool_has(em, node, into),
    successes = at_place(em, node$at, function() write_successes(em, node, into)),
    operand = node$operand,
    as_number = write_value(em, node$x, into),
    outcome = in_cell(em$outcome_cell),
    fail = { at_place(em, node$at, function() emit(em, "FAIL", failure_code(node$id))); fixed_operand(0, t_whole) },
    size = write_of_pool(em, node, "LSIZE", into),
    pool_same = write_pool_same(em, node, into),
    pool_run = write_run(em, node, into),
    best_item = write_best_item(em, node),
    fold = write_fold(em, node),
    who = write_who(em, node),
    leader = write_leader(em, node),
    draw = at_place(em, node$at, function() write_draw(em, node$faces, node$source, into)),
    chance = at_place(em, node$at, function() write_chance(em, node, into)),
    pick_choices = at_place(em, node$at, function() write_pick_choices(em, node, into)),
    prefer = write_prefer(em, node, into),
    stop("no code for ", node$op))
}

result_cell <- function(em, into, real) if (!is.null(into) && into$real == real) into else new_cell(em, real)

# Puts the value of a node into a cell.
write_into <- function(em, node, target) {
  x <- write_value(em, node, target)
  if (target$real && !x$real) {
    if (!is.null(x$const)) x <- list(const = x$const, real = TRUE)
    else return(emit(em, "TOREAL", target$cell, x$cell))
  }
  move(em, target, x)
}

variable_operand <- function(em, node) {
  bound <- em$bound[[as.character(node$var$id)]]
  if (!is.null(bound)) return(bound)
  place_variable(em, node$var)
}

list_of <- function(em, variable) place_variable(em, variable)$list

write_fraction <- function(em, node, into) {
  x <- write_value(em, node$x)
  if (x$real) return(x)
  if (!is.null(x$const)) return(list(const = x$const, real = TRUE))
  target <- result_cell(em, into, TRUE)
  emit(em, "TOREAL", target$cell, x$cell)
  target
}

# --- calculations -----------------------------------------------------------

whole_ops <- c("+" = "ADD", "-" = "SUB", "*" = "MUL", "%/%" = "IDIV", "%%" = "IMOD", min = "IMIN", max = "IMAX", neg = "NEG", abs = "IABS",
               "==" = "EQ", "!=" = "NE", "<" = "LT", "<=" = "LE", "!" = "NOT")

real_ops <- c("+" = "DADD", "-" = "DSUB", "*" = "DMUL", "/" = "DDIV", "^" = "DPOW", min = "DMIN", max = "DMAX", neg = "DNEG", abs = "DABS",
              "==" = "DEQ", "!=" = "DNE", "<" = "DLT", "<=" = "DLE", round_down = "FLOOR", round_up = "CEIL", log = "DLOG", exp = "DEXP", sqrt = "DSQRT")

write_calculation <- function(em, node, into) {
  if (node$fn %in% c("&&", "||")) return(write_condition(em, node, into))
  if (node$fn == "other") {
    x <- write_value(em, node$args[[1]])
    if (!is.null(x$const)) return(fixed_operand(3 - x$const, node$type))
    target <- result_cell(em, into, FALSE)
    emit(em, "SUB", target$cell, int_const(em, 3L), x$cell)
    return(target)
  }
  operands <- lapply(node$args, function(a) write_value(em, a))
  consts <- lapply(operands, `[[`, "const")
  if (!any(vapply(consts, is.null, NA))) return(fold_constants(em, node, consts))
  fn <- node$fn
  if (fn %in% c("/", "%%", "%/%") && identical(as.numeric(consts[[2]]), 0)) return(fold_constants(em, node, list(1, 0)))
  if (fn %in% c(">", ">=")) {
    fn <- if (fn == ">") "<" else "<="
    operands <- rev(operands)
  }
  real <- any(vapply(operands, `[[`, NA, "real"))
  if (real) operands <- lapply(operands, function(x) if (x$real) x else list(const = x$const, real = TRUE))
  target <- result_cell(em, into, is_real(node$type))
  cells <- vapply(operands, cell_of, 0, em = em)
  at_place(em, node$at, function() emit(em, (if (real) real_ops else whole_ops)[[fn]], target$cell, cells[[1]], if (length(cells) > 1) cells[[2]] else 0L))
  target
}

fold_constants <- function(em, node, x) {
  found <- calculated(node, x)
  if (is.null(found$wrong)) return(fixed_operand(found$value, node$type))
  em$problems <- c(em$problems, list(found$wrong))
  fixed_operand(0, node$type)
}

# if (c) a else b, as a value
write_choice <- function(em, node, into) {
  otherwise <- new_label(em)
  sure <- jump_if(em, node$cond, otherwise, when = FALSE)
  if (identical(sure, TRUE)) {
    put_label(em, otherwise)
    write_note(em, "holds", node$cond$at)
    return(write_value(em, node$yes, into))
  }
  if (identical(sure, FALSE)) {
    em$size <- em$size - 1L  # the jump to what follows anyway
    put_label(em, otherwise)
    write_note(em, "fails", node$cond$at)
    return(write_value(em, node$no, into))
  }
  target <- result_cell(em, into, is_real(node$type))
  done <- new_label(em)
  write_note(em, "holds", node$cond$at)
  write_into(em, node$yes, target)
  emit(em, "JMP", done)
  put_label(em, otherwise)
  write_note(em, "fails", node$cond$at)
  write_into(em, node$no, target)
  put_label(em, done)
  target
}

# --- places -----------------------------------------------------------------

write_at_seat <- function(em, node, into) {
  lies <- place_variable(em, node$var)
  key <- write_value(em, node$key)
  if (!is.null(key$const) && key$const >= lies$first && key$const < lies$first + lies$size) return(in_cell(lies$base + as.integer(key$const) - lies$first, lies$real))
  target <- result_cell(em, into, lies$real)
  at_place(em, node$at, function() emit(em, if (lies$real) "DLDX" else "LDX", target$cell, cell_of(em, key), lies$array))
  target
}

write_at_position <- function(em, node, into) {
  pool <- write_pool(em, node$over)
  key <- write_value(em, node$key)
  target <- result_cell(em, into, FALSE)
  at_place(em, node$at, function() emit(em, "LGET", target$cell, cell_of(em, key), pool))
  target
}

# The value of a label or card in a column.
write_lookup <- function(em, node, into) {
  x <- write_value(em, node$x)
  if (!is.null(x$const) && x$const >= node$first && x$const < node$first + length(node$values)) return(fixed_operand(node$values[[x$const - node$first + 1]], node$type))
  target <- result_cell(em, into, FALSE)
  table <- new_table(em, node$first, length(node$values), node$values)
  at_place(em, node$at, function() emit(em, "TAB", target$cell, cell_of(em, x), table))
  target
}

write_lookup2 <- function(em, node, into) {
  a <- write_value(em, node$left)
  b <- write_value(em, node$right)
  n <- as.integer(sqrt(length(node$values)))
  if (!is.null(a$const) && !is.null(b$const)) return(fixed_operand(node$values[[(a$const - node$first) * n + b$const - node$first + 1]], node$type))
  target <- result_cell(em, into, FALSE)
  table <- new_table(em, node$first, n, node$values)
  at_place(em, node$at, function() emit(em, "TAB2", target$cell, cell_of(em, a), cell_of(em, b), table))
  target
}

# --- bodies of functions and rules -------------------------------------------

write_let <- function(em, node, into) {
  write_bindings(em, node)
  write_value(em, node$body, into)
}

# The body of a function that gives a list or bag: it is left in the list of its answer.
write_pool_body <- function(em, node) {
  variable <- node$exit$variable
  place_variable(em, variable, max_result_room(em, node))
  write_body(em, node)
  list_of(em, variable)
}

# As much as the largest of its answers can hold.
max_result_room <- function(em, node) {
  rooms <- 1
  walk(node$statements, function(n) {
    if (n$op == "assign" && identical(n$target$var$id, node$exit$variable$id)) rooms <<- max(rooms, room_of(em, n$value))
  })
  rooms
}

write_bindings <- function(em, node) {
  for (b in node$bindings) {
    if (is_pool(b$var$type)) assign_pool(em, b$var, b$value)
    else write_into(em, b$value, place_variable(em, b$var))
  }
}

write_body <- function(em, node) {
  end <- new_label(em)
  em$exits[[as.character(node$exit$variable$id)]] <- end
  em$inside <- em$inside + 1L
  write_statements(em, node$statements)
  em$inside <- em$inside - 1L
  put_label(em, end)
  if (is_kind(node$exit$variable$type, "unknown") || is_pool(node$exit$variable$type)) return(fixed_operand(0, t_whole))
  place_variable(em, node$exit$variable)
}
