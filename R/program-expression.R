# Writes expressions out as code. What is known now (numbers, settings, seats of an unrolled list)
# is worked out now.

# The operand that holds the value of a node; `into` is a register that may be used for it.
write_value <- function(asm, node, into = NULL) {
  switch(node$op,
    lit = fixed_operand(node$value, node$type),
    setting = fixed_operand(asm$settings[[node$name]], node$type),
    var = variable_operand(asm, node),
    to_fraction = write_fraction(asm, node, into),
    calc = write_calculation(asm, node, into),
    choose = write_choice(asm, node, into),
    at_key = write_at_key(asm, node, into),
    cell = write_cell(asm, node),
    at_position = write_at_position(asm, node, into),
    let = write_let(asm, node, into),
    do = write_body(asm, node),
    lookup2 = write_lookup2(asm, node, into),
    lookup = write_lookup(asm, node, into),
    counter = counter_register(asm, node$name),
    turn_number = write_seat_register(asm, node$seat, turn_registers(asm), into),
    playing = write_playing(asm, node, into),
    deal = at_place(asm, node$at, function() write_deal(asm, node, into)),
    deck_size = {
      target <- result_register(asm, into, FALSE)
      emit(asm, "ASUM", target$register, deck_array(asm, node$deck)$array)
      target
    },
    compare = write_compare(asm, node, into),
    marks_seen = {
      x <- write_value(asm, node$x)
      target <- result_register(asm, into, FALSE)
      emit(asm, "MARKS", target$register, register_of(asm, x), node$kind)
      target
    },
    has_letter = write_has_letter(asm, node, into),
    collection_has = write_collection_has(asm, node, into),
    successes = at_place(asm, node$at, function() write_successes(asm, node, into)),
    operand = node$operand,
    as_number = write_value(asm, node$x, into),
    outcome = in_register(asm$outcome_register),
    fail = { at_place(asm, node$at, function() emit(asm, "FAIL", failure_code(node$id))); fixed_operand(0, t_whole) },
    size = write_of_collection(asm, node, "LSIZE", into),
    collection_same = write_collection_same(asm, node, into),
    collection_part = write_collection_part(asm, node, into),
    collection_run = write_run(asm, node, into),
    best_item = write_best_item(asm, node),
    fold = write_fold(asm, node),
    neighbour = write_neighbour(asm, node, into),
    place_of = write_place_of(asm, node),
    who = write_who(asm, node),
    leader = write_leader(asm, node),
    draw = at_place(asm, node$at, function() write_draw(asm, node$faces, node$source, into)),
    chance = at_place(asm, node$at, function() write_chance(asm, node, into)),
    pick_choices = at_place(asm, node$at, function() write_pick_choices(asm, node, into)),
    prefer = write_prefer(asm, node, into),
    stop("no code for ", node$op))
}

result_register <- function(asm, into, real) if (!is.null(into) && into$real == real) into else new_register(asm, real)

# The value of a node as it is now, whatever changes later.
kept_operand <- function(asm, node) {
  x <- write_value(asm, node)
  if (!is.null(x$const)) return(x)
  kept <- new_register(asm, x$real)
  move(asm, kept, x)
  kept
}

# Puts the value of a node into a register.
write_into <- function(asm, node, target) {
  x <- write_value(asm, node, target)
  if (target$real && !x$real) {
    if (!is.null(x$const)) x <- list(const = x$const, real = TRUE)
    else return(emit(asm, "TOREAL", target$register, x$register))
  }
  move(asm, target, x)
}

variable_operand <- function(asm, node) {
  bound <- asm$bound[[as.character(node$var$id)]]
  if (!is.null(bound)) return(bound)
  slot_of(asm, node$var)
}

list_of <- function(asm, variable) slot_of(asm, variable)$list

write_fraction <- function(asm, node, into) {
  x <- write_value(asm, node$x)
  if (x$real) return(x)
  if (!is.null(x$const)) return(list(const = x$const, real = TRUE))
  target <- result_register(asm, into, TRUE)
  emit(asm, "TOREAL", target$register, x$register)
  target
}

# --- calculations -----------------------------------------------------------

whole_ops <- c("+" = "ADD", "-" = "SUB", "*" = "MUL", "%/%" = "IDIV", "%%" = "IMOD", min = "IMIN", max = "IMAX",
               neg = "NEG", abs = "IABS",
               "==" = "EQ", "!=" = "NE", "<" = "LT", "<=" = "LE", "!" = "NOT")

real_ops <- c("+" = "DADD", "-" = "DSUB", "*" = "DMUL", "/" = "DDIV", "^" = "DPOW", min = "DMIN", max = "DMAX",
              neg = "DNEG", abs = "DABS",
              "==" = "DEQ", "!=" = "DNE", "<" = "DLT", "<=" = "DLE", round_down = "FLOOR", round_up = "CEIL",
              log = "DLOG", exp = "DEXP", sqrt = "DSQRT")

write_calculation <- function(asm, node, into) {
  if (node$fn %in% c("&&", "||")) return(write_condition(asm, node, into))
  if (node$fn == "other") {
    x <- write_value(asm, node$args[[1]])
    if (!is.null(x$const)) return(fixed_operand(3 - x$const, node$type))
    target <- result_register(asm, into, FALSE)
    emit(asm, "SUB", target$register, int_const(asm, 3L), x$register)
    return(target)
  }
  operands <- lapply(node$args, function(a) write_value(asm, a))
  consts <- lapply(operands, `[[`, "const")
  if (!any(vapply(consts, is.null, NA))) return(fold_constants(asm, node, consts))
  fn <- node$fn
  if (fn %in% c("/", "%%", "%/%") && identical(as.numeric(consts[[2]]), 0))
    return(fold_constants(asm, node, list(1, 0)))
  if (fn %in% c(">", ">=")) {
    fn <- if (fn == ">") "<" else "<="
    operands <- rev(operands)
  }
  real <- any(vapply(operands, `[[`, NA, "real"))
  if (real) operands <- lapply(operands, function(x) if (x$real) x else list(const = x$const, real = TRUE))
  target <- result_register(asm, into, is_real(node$type))
  registers <- vapply(operands, register_of, 0, asm = asm)
  at_place(asm, node$at,
           function()
             emit(asm, (if (real) real_ops else whole_ops)[[fn]], target$register, registers[[1]],
                  if (length(registers) > 1) registers[[2]] else 0L))
  target
}

fold_constants <- function(asm, node, x) {
  found <- calculated(node, x)
  if (is.null(found$wrong)) return(fixed_operand(found$value, node$type))
  asm$diagnostics <- c(asm$diagnostics, list(found$wrong))
  fixed_operand(0, node$type)
}

# if (c) a else b, as a value
write_choice <- function(asm, node, into) {
  otherwise <- new_label(asm)
  sure <- jump_if(asm, node$cond, otherwise, when = FALSE)
  if (identical(sure, TRUE)) {
    put_label(asm, otherwise)
    write_branch_coverage(asm, "holds", node)
    return(write_value(asm, node$yes, into))
  }
  if (identical(sure, FALSE)) {
    asm$size <- asm$size - 1L  # the jump to what follows anyway
    put_label(asm, otherwise)
    write_branch_coverage(asm, "fails", node)
    return(write_value(asm, node$no, into))
  }
  target <- result_register(asm, into, is_real(node$type))
  done <- new_label(asm)
  write_branch_coverage(asm, "holds", node)
  write_into(asm, node$yes, target)
  emit(asm, "JMP", done)
  put_label(asm, otherwise)
  write_branch_coverage(asm, "fails", node)
  write_into(asm, node$no, target)
  put_label(asm, done)
  target
}

# --- places -----------------------------------------------------------------

write_at_key <- function(asm, node, into)
  place_at(asm, node, slot_of(asm, node$var), write_value(asm, node$key), into)

write_at_position <- function(asm, node, into) {
  collection <- write_collection(asm, node$over)
  key <- write_value(asm, node$key)
  target <- result_register(asm, into, FALSE)
  at_place(asm, node$at, function() emit(asm, "LGET", target$register, register_of(asm, key), collection))
  target
}

# The value of a label or card in a column.
write_lookup <- function(asm, node, into) {
  x <- write_value(asm, node$x)
  values <- values_of_column(node, asm$settings)
  if (!is.null(x$const) && x$const >= node$first && x$const < node$first + length(values))
    return(fixed_operand(values[[x$const - node$first + 1]], node$type))
  target <- result_register(asm, into, FALSE)
  table <- new_table(asm, node$first, length(values), values)
  at_place(asm, node$at, function() emit(asm, "TAB", target$register, register_of(asm, x), table))
  target
}

write_lookup2 <- function(asm, node, into) {
  a <- write_value(asm, node$left)
  b <- write_value(asm, node$right)
  n <- as.integer(sqrt(length(node$values)))
  if (!is.null(a$const) && !is.null(b$const))
    return(fixed_operand(node$values[[(a$const - node$first) * n + b$const - node$first + 1]], node$type))
  target <- result_register(asm, into, FALSE)
  table <- new_table(asm, node$first, n, node$values)
  at_place(asm, node$at, function() emit(asm, "TAB2", target$register, register_of(asm, a), register_of(asm, b), table))
  target
}

# --- bodies of functions and rules -------------------------------------------

write_let <- function(asm, node, into) {
  write_bindings(asm, node)
  write_value(asm, node$body, into)
}

# The body of a function that gives a list or bag: it is left in the list of its answer.
write_collection_body <- function(asm, node) {
  variable <- node$exit$variable
  slot_of(asm, variable, max_result_room(asm, node))
  write_body(asm, node)
  list_of(asm, variable)
}

# As much as the largest of its answers can hold.
max_result_room <- function(asm, node) {
  rooms <- 1
  walk(node$statements, function(n) {
    if (n$op == "assign" && identical(n$target$var$id, node$exit$variable$id))
      rooms <<- max(rooms, room_of(asm, n$value))
  })
  rooms
}

write_bindings <- function(asm, node) {
  for (b in node$bindings) {
    if (is_collection(b$var$type)) assign_collection(asm, b$var, b$value)
    else write_into(asm, b$value, slot_of(asm, b$var))
  }
}

write_body <- function(asm, node) {
  end <- new_label(asm)
  asm$exits[[as.character(node$exit$variable$id)]] <- end
  asm$inside <- asm$inside + 1L
  write_statements(asm, node$statements)
  asm$inside <- asm$inside - 1L
  put_label(asm, end)
  if (is_kind(node$exit$variable$type, "unknown") || is_collection(node$exit$variable$type))
    return(fixed_operand(0, t_whole))
  slot_of(asm, node$exit$variable)
}
