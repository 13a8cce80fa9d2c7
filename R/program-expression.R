# Writes expressions out as code. What is known now (numbers, settings, seats of an unrolled list)
# is worked out now.

op_lit <- function(asm, node, into) fixed_operand(node$value, node$type)
op_setting <- function(asm, node, into) fixed_operand(asm$settings[[node$name]], node$type)
op_operand <- function(asm, node, into) node$operand
op_as_number <- function(asm, node, into) write_value(asm, node$x, into)
op_outcome <- function(asm, node, into) in_register(asm$outcome_register)
op_counter <- function(asm, node, into) counter_register(asm, node$name)

op_fail <- function(asm, node, into) {
  emit(asm, "FAIL", failure_code(node$id))
  fixed_operand(0, t_whole)
}

op_var <- function(asm, node, into) {
  bound <- asm$bound[[as.character(node$var$id)]]
  if (!is.null(bound)) return(bound)
  slot_of(asm, node$var)
}

op_to_fraction <- function(asm, node, into) {
  x <- write_value(asm, node$x)
  if (x$real) return(x)
  if (!is.null(x$const)) return(list(const = x$const, real = TRUE))
  target <- result_register(asm, into, TRUE)
  emit(asm, "TOREAL", target$register, x$register)
  target
}

# --- calculations -----------------------------------------------------------

op_calc <- function(asm, node, into) {
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

# if (c) a else b, as a value
op_choose <- function(asm, node, into) {
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

op_at_key <- function(asm, node, into)
  place_at(asm, node, slot_of(asm, node$var), write_value(asm, node$key), into)

op_at_position <- function(asm, node, into) {
  collection <- write_collection(asm, node$over)
  key <- write_value(asm, node$key)
  target <- result_register(asm, into, FALSE)
  at_place(asm, node$at, function() emit(asm, "LGET", target$register, register_of(asm, key), collection))
  target
}

# The value of a label or card in a column.
op_lookup <- function(asm, node, into) {
  x <- write_value(asm, node$x)
  values <- values_of_column(node, asm$settings)
  if (!is.null(x$const) && x$const >= node$first && x$const < node$first + length(values))
    return(fixed_operand(values[[x$const - node$first + 1]], node$type))
  target <- result_register(asm, into, FALSE)
  table <- new_table(asm, node$first, length(values), values)
  at_place(asm, node$at, function() emit(asm, "TAB", target$register, register_of(asm, x), table))
  target
}

op_lookup2 <- function(asm, node, into) {
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

op_do <- function(asm, node, into) write_body(asm, node)

op_let <- function(asm, node, into) {
  write_bindings(asm, node)
  write_value(asm, node$body, into)
}
