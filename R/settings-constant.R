# The value of an expression that follows from numbers and settings alone.

# `settings` are the values of those that are known so far.
constant_of <- function(node, settings, source) {
  of <- function(x) constant_of(x, settings, source)
  switch(node$op,
    lit = node$value,
    setting = settings[[node$name]],
    to_fraction = of(node$x),
    choose = if (of(node$cond) != 0) of(node$yes) else of(node$no),
    lookup = values_of_column(node, settings)[[of(node$x) - node$first + 1]],
    lookup2 = {
      n <- sqrt(length(node$values))
      node$values[[(of(node$left) - node$first) * n + of(node$right) - node$first + 1]]
    },
    calc = {
      found <- calculated(node, lapply(node$args, of))
      if (!is.null(found$wrong)) abort_diagnostics(list(found$wrong), source)
      found$value
    },
    stop("no constant for ", node$op))
}

# The values of a column; those that are settings, as they are set.
values_of_column <- function(node, settings) {
  by_setting <- which(nzchar(node$settings))
  replace(node$values, by_setting, vapply(node$settings[by_setting], function(name) as.numeric(settings[[name]]), 0))
}

# The result of a calculation with these numbers: list(value), or list(wrong) with the diagnostic.
calculated <- function(node, x) {
  a <- x[[1]]
  b <- if (length(x) > 1) x[[2]]
  wrong <- function(id, message)
    list(wrong = diagnostic(id, message, "check the numbers and settings it is worked out from", node$at))
  if (node$fn %in% c("/", "%%", "%/%") && b == 0) return(wrong("division_by_zero", "This divides by zero."))
  result <- as.numeric(switch(node$fn,
    "+" = a + b, "-" = a - b, "*" = a * b, "/" = a / b, "^" = a^b, "%%" = a %% b, "%/%" = a %/% b, neg = -a,
    "==" = a == b, "!=" = a != b, "<" = a < b, "<=" = a <= b, ">" = a > b, ">=" = a >= b,
    "!" = !a, "&&" = a != 0 && b != 0, "||" = a != 0 || b != 0, other = 3 - a,
    min = min(a, b), max = max(a, b), abs = abs(a), round_down = floor(a), round_up = ceiling(a),
    sqrt = suppressWarnings(sqrt(a)), log = suppressWarnings(log(a)), exp = exp(a)))
  if (!is.finite(result)) return(wrong("not_a_number", "This gives no number."))
  if (!is_kind(node$type, "fraction") && abs(result) >= 2^31) {
    return(wrong("number_too_large", "This whole number grows beyond 2147483647."))
  }
  list(value = result)
}
