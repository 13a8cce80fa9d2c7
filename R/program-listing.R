# A program in words, for who works on the compiler or the core: one line for each operation, with its number, its
# operands and the line of the rules.

operand_words <- c(A = "array", W = "array", B = "array", X = "array", L = "list", M = "list", N = "list", F = "lists",
                   G = "lists", R = "range", T = "table", V = "weights")

program_listing <- function(program) {
  operation_codes()
  code <- program$code
  ints <- constants_among(program$int_start, code, c("i", "U"))
  reals <- constants_among(program$real_start, code, "d")
  operand <- function(role, value) {
    if (role %in% c("i", "I", "U")) ints[[value + 1L]]
    else if (role %in% c("d", "D")) sub("r", "f", reals[[value + 1L]])
    else if (role == "S") sprintf("\"%s\"", program$sources[[value + 1L]])
    else if (role == "J") paste("to", value)
    else if (role == "K") as.character(value)
    else paste(operand_words[[role]], value)
  }
  vapply(seq_len(ncol(code)), function(k) {
    roles <- session$roles[[code[1, k] + 1L]]
    used <- which(roles != "-")
    operands <- vapply(used, function(i) operand(roles[[i]], code[i + 1L, k]), "")
    sprintf("%4d  %-10s %-40s # line %d", k - 1L, names(session$ops)[[code[1, k] + 1L]],
            paste(operands, collapse = ", "), program$places[1, code[6, k] + 1L])
  }, "")
}

# The name of each register, or its value where no operation writes it by itself.
constants_among <- function(start, code, writing) {
  written <- unlist(lapply(1:4, function(i) {
    writes <- vapply(session$roles, function(roles) roles[[i]] %in% writing, NA)[code[1, ] + 1L]
    code[i + 1L, writes]
  }))
  number <- seq_along(start) - 1L
  name <- sprintf("r%d", number)
  ifelse(number %in% written | start == 0, name, paste0(name, "=", format(start, trim = TRUE)))
}
