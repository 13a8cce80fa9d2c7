# Writes conditions out as jumps; what is known now is decided now.

# A condition as a value: 1 or 0.
write_condition <- function(asm, node, into) {
  target <- new_register(asm, FALSE)
  no <- new_label(asm)
  done <- new_label(asm)
  sure <- jump_if(asm, node, no, when = FALSE)
  if (!is.na(sure)) {
    put_label(asm, no)
    put_label(asm, done)
    return(fixed_operand(as.numeric(sure), node$type))
  }
  emit(asm, "MOV", target$register, int_const(asm, 1L))
  emit(asm, "JMP", done)
  put_label(asm, no)
  emit(asm, "MOV", target$register, int_const(asm, 0L))
  put_label(asm, done)
  target
}

# Jumps to `label` when the condition is `when`. Returns TRUE or FALSE when the condition is known
# now (then nothing is written but what leads there), else NA.
jump_if <- function(asm, node, label, when) {
  if (node$op == "calc" && node$fn == "!") {
    sure <- jump_if(asm, node$args[[1]], label, !when)
    return(!sure)
  }
  if (node$op == "calc" && node$fn %in% c("&&", "||")) return(jump_if_joined(asm, node, label, when))
  if (node$op == "calc" && node$fn %in% c("==", "!=", "<", "<=", ">", ">=")) {
    a <- write_value(asm, node$args[[1]])
    b <- write_value(asm, node$args[[2]])
    if (!is.null(a$const) && !is.null(b$const))
      return(jump_known(asm, fold_constants(asm, node, list(a$const, b$const))$const == 1, label, when))
    if (!a$real && !b$real) {
      emit_compare(asm, node$fn, register_of(asm, a), register_of(asm, b), label, when)
      return(NA)
    }
  }
  if (node$op == "let") {
    write_bindings(asm, node)
    return(jump_if(asm, node$body, label, when))
  }
  if (node$op == "choose") return(jump_if_chosen(asm, node, label, when))
  x <- write_value(asm, node)
  if (!is.null(x$const)) return(jump_known(asm, x$const != 0, label, when))
  emit(asm, if (when) "JNZ" else "JZ", x$register, label)
  NA
}

jump_known <- function(asm, holds, label, when) {
  if (holds == when) emit(asm, "JMP", label)
  holds
}

# a && b: jumping when it fails needs either to fail; jumping when it holds needs both to hold.
jump_if_joined <- function(asm, node, label, when) {
  a <- node$args[[1]]
  b <- node$args[[2]]
  decides <- (node$fn == "||")  # the value of `a` that settles the whole
  if (when == decides) {
    first <- jump_if(asm, a, label, when)
    if (identical(first, decides)) return(decides)
    second <- jump_if(asm, b, label, when)
    return(if (is.na(first) || is.na(second)) { if (identical(second, decides)) second else NA } else second)
  }
  skip <- new_label(asm)
  mark <- asm$size
  first <- jump_if(asm, a, skip, !when)
  if (identical(first, decides)) {
    asm$size <- mark
    put_label(asm, skip)
    return(jump_known(asm, decides, label, when))
  }
  second <- jump_if(asm, b, label, when)
  put_label(asm, skip)
  if (is.na(first)) NA else second
}

emit_compare <- function(asm, fn, a, b, label, when) {
  if (!when) fn <- c("==" = "!=", "!=" = "==", "<" = ">=", "<=" = ">", ">" = "<=", ">=" = "<")[[fn]]
  if (a == b && fn %in% c("==", "<=", ">=")) return(emit(asm, "JMP", label))
  switch(fn,
    "==" = emit(asm, "JEQ", a, b, label), "!=" = emit(asm, "JNE", a, b, label),
    "<" = emit(asm, "JLT", a, b, label), "<=" = emit(asm, "JLE", a, b, label),
    ">" = emit(asm, "JLT", b, a, label), ">=" = emit(asm, "JLE", b, a, label))
}

# if (c) a else b, as a condition
jump_if_chosen <- function(asm, node, label, when) {
  write_branches(asm, node$cond, function() jump_if(asm, node$yes, label, when),
                 function() jump_if(asm, node$no, label, when))
}

# Writes both branches of a condition, and gives NA. Where the condition is sure there is only one, and what that gives
# is given.
write_branches <- function(asm, cond, yes, no) {
  otherwise <- new_label(asm)
  done <- new_label(asm)
  sure <- jump_if(asm, cond, otherwise, when = FALSE)
  if (!is.na(sure)) {
    put_label(asm, otherwise)
    put_label(asm, done)
    write_coverage(asm, if (sure) "holds" else "fails", cond$at)
    return(if (sure) yes() else no())
  }
  write_coverage(asm, "holds", cond$at)
  yes()
  emit(asm, "JMP", done)
  put_label(asm, otherwise)
  write_coverage(asm, "fails", cond$at)
  no()
  put_label(asm, done)
  NA
}

whole_ops <- c("+" = "ADD", "-" = "SUB", "*" = "MUL", "%/%" = "IDIV", "%%" = "IMOD", min = "IMIN", max = "IMAX",
               neg = "NEG", abs = "IABS",
               "==" = "EQ", "!=" = "NE", "<" = "LT", "<=" = "LE", "!" = "NOT")

real_ops <- c("+" = "DADD", "-" = "DSUB", "*" = "DMUL", "/" = "DDIV", "^" = "DPOW", min = "DMIN", max = "DMAX",
              neg = "DNEG", abs = "DABS",
              "==" = "DEQ", "!=" = "DNE", "<" = "DLT", "<=" = "DLE", round_down = "FLOOR", round_up = "CEIL",
              log = "DLOG", exp = "DEXP", sqrt = "DSQRT")

fold_constants <- function(asm, node, x) {
  constant <- calculated(node, x)
  if (is.null(constant$wrong)) return(fixed_operand(constant$value, node$type))
  asm$diagnostics <- c(asm$diagnostics, list(constant$wrong))
  fixed_operand(0, node$type)
}
