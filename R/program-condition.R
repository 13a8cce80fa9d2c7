# Writes conditions out as jumps; what is known now is decided now.

# A condition as a value: 1 or 0.
write_condition <- function(em, node, into) {
  target <- new_cell(em, FALSE)
  no <- new_label(em)
  done <- new_label(em)
  sure <- jump_if(em, node, no, when = FALSE)
  if (!is.na(sure)) {
    put_label(em, no)
    put_label(em, done)
    return(fixed_operand(as.numeric(sure), node$type))
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
    write_bindings(em, node)
    return(jump_if(em, node$body, label, when))
  }
  if (node$op == "choose") return(jump_if_chosen(em, node, label, when))
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

# if (c) a else b, as a condition
jump_if_chosen <- function(em, node, label, when) {
  otherwise <- new_label(em)
  done <- new_label(em)
  sure <- jump_if(em, node$cond, otherwise, when = FALSE)
  if (!is.na(sure)) {
    put_label(em, otherwise)
    put_label(em, done)
    write_note(em, if (sure) "holds" else "fails", node$cond$at)
    return(jump_if(em, if (sure) node$yes else node$no, label, when))
  }
  write_note(em, "holds", node$cond$at)
  jump_if(em, node$yes, label, when)
  emit(em, "JMP", done)
  put_label(em, otherwise)
  write_note(em, "fails", node$cond$at)
  jump_if(em, node$no, label, when)
  put_label(em, done)
  NA
}
