# The lines of an expression are numbered from here, so that its places and those of the rules that it
# calls cannot be confused.
expression_line <- 1000000L

# `before` and `after` are written around it, so that several parts can be read as the arguments of a call; places are
# those in what was given.
parse_expression <- function(expression, before = "", after = "") {
  given <- source_of_expression(expression)
  source <- source_of_expression(paste0(before, expression, after))
  scan <- scan_brackets(source$lines)
  diagnostics <- c(scan$diagnostics, lapply(scan$open, never_closed),
                if (length(source$lines) > 0) find_habits(scan$masked, 1L, length(source$lines)))
  parsed <- if (length(diagnostics) == 0) parse_chunk(source$lines, expression_line) else list(diagnostics = list())
  diagnostics <- c(diagnostics, lapply(parsed$diagnostics, shift_diagnostic, by = -expression_line))
  if (length(diagnostics) > 0)
    abort_diagnostics(sort_diagnostics(lapply(diagnostics, place_as_given, before = nchar(before))), given)
  if (length(parsed$nodes) != 1)
    abort_input("argument_wrong", "This is not one expression.", "write one, as in \"is_bust(25)\"")
  parsed$nodes[[1]]
}

source_of_expression <- function(text) list(name = "expression", lines = strsplit(text, "\n", fixed = TRUE)[[1]])

# Its columns without what was written before the first line.
place_as_given <- function(p, before) {
  for (k in c(1, 3)) if (length(p$at) == 4 && p$at[[k]] == 1) p$at[[k + 1]] <- max(1L, p$at[[k + 1]] - before)
  p
}
