# From lines of text to parsed rules: a list of nodes, one a top-level declaration. R's parser reads
# each chunk; nothing is ever evaluated.
#
# A node has `kind` and `at` (line, column, last line, last column), and by kind
#   number    value, text          name      name
#   text      value                missing   (an empty argument)
#   call      fn, args (nodes), names (argument names, "" where none), fn_at
#   function  params (names), defaults (nodes or NULL), body
# Operators and R's own words are calls, as in R: `if`, `while`, `{`, `<-`, `[`, `+`.

parse_rules <- function(source) {
  chunks <- cut_chunks(source$lines)
  diagnostics <- chunks$diagnostics
  nodes <- list()
  unread <- character()  # what the chunks that could not be read would have declared
  starts <- chunks$starts
  if (length(starts) == 0 || starts[[1]] > 1) starts <- unique(c(1L, starts))
  ends <- c(starts[-1] - 1L, length(source$lines))
  habits_found <- find_habits(chunks$masked)
  if (length(diagnostics) == 0 && length(habits_found) == 0) {
    whole <- parse_whole(source$lines, starts)
    if (!is.null(whole)) return(c(whole, list(unread = unread)))
  }
  line_found <- vapply(habits_found, function(h) h$at[[1]], 1L)
  for (k in seq_along(starts)) {
    habits <- habits_found[line_found >= starts[[k]] & line_found <= ends[[k]]]
    diagnostics <- c(diagnostics, habits)
    parsed <- NULL
    if (length(habits) == 0 && !starts[[k]] %in% chunks$skip && !(starts[[k]] == 1 && 0 %in% chunks$skip)) {
      parsed <- parse_chunk(source$lines[starts[[k]]:ends[[k]]], starts[[k]] - 1L)
      diagnostics <- c(diagnostics, parsed$diagnostics)
      nodes <- c(nodes, parsed$nodes)
    }
    if (length(parsed$nodes) == 0) unread <- c(unread, names_in_unread(chunks$masked[starts[[k]]:ends[[k]]]))
  }
  list(nodes = nodes, diagnostics = diagnostics, unread = unread)
}

# All chunks at once, which is quicker; NULL where they cannot be read so. An operator at the end of a chunk would take
# the next one for its operand: each must begin an expression.
parse_whole <- function(lines, starts) {
  parsed <- parsed_by_r(lines)
  if (inherits(parsed, "error") || length(parsed) == 0) return(NULL)
  data <- utils::getParseData(parsed)
  first <- data$line1[data$parent == 0 & data$token != "COMMENT"]
  blank <- !grepl("[^[:space:]]", sub("#.*", "", lines[[1]]))  # the first chunk may be comments alone
  if (!all(setdiff(starts, if (blank) 1L) %in% first)) return(NULL)
  nodes_of_parse_data(data, lines, 0L)
}

# The name that a broken chunk would have declared: the name before `<-` or the word before the
# bracket at its start, and the decisions it asks for.
names_in_unread <- function(masked) {
  text <- paste(masked, collapse = " ")
  asked <- regmatches(text,
                      gregexpr("\\bask\\s*\\([^,()]*,\\s*\\K[A-Za-z.][A-Za-z0-9._]*(?=\\s*=)", text, perl = TRUE))[[1]]
  c(regmatches(masked[[1]], regexpr("^[A-Za-z.][A-Za-z0-9._]*", masked[[1]])), asked)
}

# The expressions, or the error.
parsed_by_r <- function(lines) tryCatch(parse(text = lines, keep.source = TRUE, encoding = "UTF-8"), error = identity)

parse_chunk <- function(lines, shift) {
  parsed <- parsed_by_r(lines)
  if (inherits(parsed, "error")) return(list(nodes = list(),
                                             diagnostics = list(syntax_diagnostic(parsed, lines, shift))))
  if (length(parsed) == 0) return(list(nodes = list(), diagnostics = list()))
  nodes_of_parse_data(utils::getParseData(parsed), lines, shift)
}

syntax_diagnostic <- function(error, lines, shift) {
  said <- conditionMessage(error)
  place <- regmatches(said, regexec(":([0-9]+):([0-9]+): (.*)", said))[[1]]
  if (grepl("contextstack overflow|too deeply nested|infinite recursion|stack usage", said))
    return(diagnostic("nested_too_deep", "Conditions or brackets are nested too deep here.",
                      "give a part a name of its own: a function, or a value assigned before",
                      c(shift + 1L, 1L, shift + 1L, nchar(lines[[1]]))))
  if (length(place) == 0) {  # R has no place for a lone `_`
    line <- max(1L, grep("(^|[^A-Za-z0-9._])_", lines)[1L], na.rm = TRUE)
    return(diagnostic("syntax", "This cannot be read.",
                      "look for a stray `_`, or for a sign that is missing or doubled",
                      c(shift + line, 1L, shift + line, nchar(lines[[line]]))))
  }
  line <- min(as.integer(place[[2]]), length(lines))
  col <- max(1L, as.integer(place[[3]]))
  what <- sub("\n.*", "", place[[4]])
  message <- switch(what,
    "unexpected end of input" = "Something is missing at the end of this.",
    "unexpected symbol" = "A name cannot follow here.",
    "unexpected numeric constant" = "A number comes here where none can follow.",
    "unexpected string constant" = "A text comes here where none can follow.",
    "unexpected 'else'" = "This `else` belongs to no `if`.",
    paste0("This is out of place here: ", sub("unexpected ", "", what), "."))
  hint <- switch(what,
    "unexpected symbol" = , "unexpected numeric constant" = ,
    "unexpected string constant" = "is a comma, an operator or a line break missing just before it?",
    "unexpected end of input" = "finish the expression",
    "unexpected 'else'" = "put `else` on the line of the `}` before it; for what is left over write `otherwise`",
    "look just before it for something missing or doubled")
  diagnostic("syntax", message, hint, c(shift + line, col, shift + line, col))
}

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
                if (length(source$lines) > 0) find_habits(scan$masked))
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
