# Writes expressions out as code. What is known now (numbers, settings, seats of an unrolled list)
# is worked out now.

# The operand that holds the value of a node; `into` is a cell that may be used for it.
write_value <- function(em, node, into = NULL) {
  switch(node$op,
    lit = known(node$value, node$type),
    setting = known(em$settings[[node$name]], node$type),
    var = variable_operand(em, node),
    to_fraction = write_fraction(em, node, into),
    calc = write_calculation(em, node, into),
    choose = write_choice(em, node, into),
    at_seat = write_at_seat(em, node, into),
    at_position = write_at_position(em, node, into),
    let = write_let(em, node, into),
    do = write_body(em, node),
    lookup2 = write_lookup2(em, node, into),
    size = { target <- result_cell(em, into, FALSE); emit(em, "LSIZE", target$cell, list_of(em, node$var)); target },
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
    if (!is.null(x$const)) return(known(3 - x$const, node$type))
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
  a <- x[[1]]
  b <- if (length(x) > 1) x[[2]]
  wrong <- function(id, message) {
    program_problem(em, id, node$at, message, NULL)
    known(0, node$type)
  }
  if (node$fn %in% c("/", "%%", "%/%") && b == 0) return(wrong("division_by_zero", "This divides by zero."))
  value <- switch(node$fn,
    "+" = a + b, "-" = a - b, "*" = a * b, "/" = a / b, "^" = a^b, "%%" = a %% b, "%/%" = a %/% b, neg = -a,
    "==" = a == b, "!=" = a != b, "<" = a < b, "<=" = a <= b, ">" = a > b, ">=" = a >= b, "!" = !a,
    min = min(a, b), max = max(a, b), abs = abs(a), round_down = floor(a), round_up = ceiling(a),
    sqrt = suppressWarnings(sqrt(a)), log = suppressWarnings(log(a)), exp = exp(a))
  value <- as.numeric(value)
  if (!is.finite(value)) return(wrong("not_a_number", "This gives no number."))
  if (!is_real(node$type) && abs(value) >= 2^31) return(wrong("number_too_large", "This whole number grows beyond 2147483647."))
  known(value, node$type)
}

# --- conditions -------------------------------------------------------------

# A condition as a value: 1 or 0.
write_condition <- function(em, node, into) {
  start <- em$size
  target <- new_cell(em, FALSE)
  no <- new_label(em)
  done <- new_label(em)
  sure <- jump_if(em, node, no, when = FALSE)
  if (!is.na(sure)) {
    put_label(em, no)
    put_label(em, done)
    return(known(as.numeric(sure), node$type))
  }
  emit(em, "MOV", target$cell, int_const(em, 1L))
  emit(em, "JMP", done)
  put_label(em, no)
  emit(em, "MOV", target$cell, int_const(em, 0L))
  put_label(em, done)
  target
}

# Jumps to `label` when the condition is `when`. Returns TRUE or FALSE when the condition is known
# now (then nothing is written but what leads there), else NA.
jump_if <- function(em, node, label, when) {
  if (node$op == "calc" && node$fn == "!") {
    sure <- jump_if(em, node$args[[1]], label, !when)
    return(!sure)
  }
  if (node$op == "calc" && node$fn %in% c("&&", "||")) return(jump_if_joined(em, node, label, when))
  if (node$op == "calc" && node$fn %in% c("==", "!=", "<", "<=", ">", ">=")) {
    a <- write_value(em, node$args[[1]])
    b <- write_value(em, node$args[[2]])
    if (!is.null(a$const) && !is.null(b$const)) return(jump_known(em, fold_constants(em, node, list(a$const, b$const))$const == 1, label, when))
    if (!a$real && !b$real) {
      emit_compare(em, node$fn, cell_of(em, a), cell_of(em, b), label, when)
      return(NA)
    }
  }
  if (node$op == "let") {
    for (b in node$bindings) write_into(em, b$value, place_variable(em, b$var))
    return(jump_if(em, node$body, label, when))
  }
  x <- write_value(em, node)
  if (!is.null(x$const)) return(jump_known(em, x$const != 0, label, when))
  emit(em, if (when) "JNZ" else "JZ", x$cell, label)
  NA
}

jump_known <- function(em, holds, label, when) {
  if (holds == when) emit(em, "JMP", label)
  holds
}

# a && b: jumping when it fails needs either to fail; jumping when it holds needs both to hold.
jump_if_joined <- function(em, node, label, when) {
  a <- node$args[[1]]
  b <- node$args[[2]]
  decides <- (node$fn == "||")  # the value of `a` that settles the whole
  if (when == decides) {
    first <- jump_if(em, a, label, when)
    if (identical(first, decides)) return(decides)
    second <- jump_if(em, b, label, when)
    return(if (is.na(first) || is.na(second)) { if (identical(second, decides)) second else NA } else second)
  }
  skip <- new_label(em)
  mark <- em$size
  first <- jump_if(em, a, skip, !when)
  if (identical(first, decides)) {
    em$size <- mark
    put_label(em, skip)
    return(jump_known(em, decides, label, when))
  }
  second <- jump_if(em, b, label, when)
  put_label(em, skip)
  if (is.na(first)) NA else second
}

emit_compare <- function(em, fn, a, b, label, when) {
  if (!when) fn <- c("==" = "!=", "!=" = "==", "<" = ">=", "<=" = ">", ">" = "<=", ">=" = "<")[[fn]]
  if (a == b && fn %in% c("==", "<=", ">=")) return(emit(em, "JMP", label))
  switch(fn,
    "==" = emit(em, "JEQ", a, b, label), "!=" = emit(em, "JNE", a, b, label),
    "<" = emit(em, "JLT", a, b, label), "<=" = emit(em, "JLE", a, b, label),
    ">" = emit(em, "JLT", b, a, label), ">=" = emit(em, "JLE", b, a, label))
}

# if (c) a else b, as a value
write_choice <- function(em, node, into) {
  otherwise <- new_label(em)
  sure <- jump_if(em, node$cond, otherwise, when = FALSE)
  if (identical(sure, TRUE)) {
    put_label(em, otherwise)
    return(write_value(em, node$yes, into))
  }
  if (identical(sure, FALSE)) {
    em$size <- em$size - 1L  # the jump to what follows anyway
    put_label(em, otherwise)
    return(write_value(em, node$no, into))
  }
  target <- result_cell(em, into, is_real(node$type))
  done <- new_label(em)
  write_into(em, node$yes, target)
  emit(em, "JMP", done)
  put_label(em, otherwise)
  write_into(em, node$no, target)
  put_label(em, done)
  target
}

# --- places -----------------------------------------------------------------

write_at_seat <- function(em, node, into) {
  lies <- place_variable(em, node$var)
  key <- write_value(em, node$key)
  if (!is.null(key$const) && key$const >= 1) return(in_cell(lies$base + as.integer(key$const) - 1L, lies$real))
  target <- result_cell(em, into, lies$real)
  at_place(em, node$at, function() emit(em, if (lies$real) "DLDX" else "LDX", target$cell, cell_of(em, key), lies$array))
  target
}

write_at_position <- function(em, node, into) {
  key <- write_value(em, node$key)
  target <- result_cell(em, into, FALSE)
  at_place(em, node$at, function() emit(em, "LGET", target$cell, cell_of(em, key), list_of(em, node$var)))
  target
}

write_lookup2 <- function(em, node, into) {
  a <- write_value(em, node$left)
  b <- write_value(em, node$right)
  n <- as.integer(sqrt(length(node$values)))
  if (!is.null(a$const) && !is.null(b$const)) return(known(node$values[[(a$const - node$first) * n + b$const - node$first + 1]], node$type))
  target <- result_cell(em, into, FALSE)
  table <- new_table(em, node$first, n, node$values)
  at_place(em, node$at, function() emit(em, "TAB2", target$cell, cell_of(em, a), cell_of(em, b), table))
  target
}

# --- bodies of functions and rules -------------------------------------------

write_let <- function(em, node, into) {
  for (b in node$bindings) write_into(em, b$value, place_variable(em, b$var))
  write_value(em, node$body, into)
}

write_body <- function(em, node) {
  end <- new_label(em)
  em$exits[[as.character(node$exit$variable$id)]] <- end
  write_statements(em, node$statements)
  put_label(em, end)
  if (is_kind(node$exit$variable$type, "unknown")) return(known(0, t_whole))
  place_variable(em, node$exit$variable)
}

# --- collections ------------------------------------------------------------

# Runs `visit(operand)` for each item: unrolled over the seats, as a loop over the rest.
write_each_item <- function(em, over, it, visit) {
  if (over$op == "seats" || is_kind(over$type, "each")) {
    for (seat in seq_along(em$rules$seats)) {
      bind(em, it, if (over$op == "seats") known(seat, it$type) else { lies <- place_variable(em, over$var); in_cell(lies$base + seat - 1L, lies$real) })
      visit()
    }
    return(invisible())
  }
  item <- new_cell(em, FALSE)
  bind(em, it, item)
  if (over$op == "range") return(write_range_loop(em, over, item, function(again) { visit(); put_label(em, again) }))
  index <- new_cell(em, FALSE)
  size <- new_cell(em, FALSE)
  list <- list_of(em, over$var)
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
    kept <- new_cell(em, FALSE)
    move(em, kept, high)
    high <- kept
  }
  top <- new_label(em)
  done <- new_label(em)
  again <- new_label(em)
  low <- write_value(em, range$low)
  if (!is.null(low$const) && !is.null(high$const) && low$const > high$const) return(invisible(done))
  index <- if (item_changes) new_cell(em, FALSE) else item
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
  at_place(em, node$at, function() switch(node$how,
    count = , sum = write_accumulation(em, node),
    any = , all = write_quantifier(em, node),
    write_extreme(em, node)))
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
  for (seat in seq_along(em$rules$seats)) {
    bind(em, node$it, known(seat, node$it$type))
    holds <- write_value(em, node$body)
    emit(em, "WHO", found$cell, cell_of(em, holds), int_const(em, seat))
  }
  emit(em, "IMAX", found$cell, found$cell, none)
  found
}

# The seat with the most; 0 when the most is shared.
write_leader <- function(em, node) {
  values <- lapply(seq_along(em$rules$seats), function(seat) {
    bind(em, node$it, known(seat, node$it$type))
    write_value(em, node$body)
  })
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
