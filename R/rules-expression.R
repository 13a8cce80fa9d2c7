# The lines of an expression are numbered from here, so that its places and those of the rules that it
# calls cannot be confused.
expression_line <- 1000000L

parse_expression <- function(expression) {
  source <- list(name = "expression", lines = strsplit(expression, "\n", fixed = TRUE)[[1]])
  scan <- scan_brackets(source$lines)
  diagnostics <- c(scan$diagnostics, lapply(scan$open, never_closed),
                if (length(source$lines) > 0) find_habits(scan$masked, 1L, length(source$lines)))
  parsed <- if (length(diagnostics) == 0) parse_chunk(source$lines, expression_line) else list(diagnostics = list())
  diagnostics <- c(diagnostics, lapply(parsed$diagnostics, shift_diagnostic, by = -expression_line))
  if (length(diagnostics) > 0) abort_diagnostics(sort_diagnostics(diagnostics), source)
  if (length(parsed$nodes) != 1)
    abort_input("argument_wrong", "This is not one expression.", "write one, as in \"is_bust(25)\"")
  parsed$nodes[[1]]
}
