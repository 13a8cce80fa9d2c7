# Before R's parser: match the brackets, blank out text and comments, and cut the file into chunks
# at lines that start in column one, so that the syntax errors of several chunks can be shown.

max_nesting <- 40L

# One pass over the lines. Gives
#   masked   the lines with text and comments blanked
#   depth    the bracket depth at the start of each line
#   open     brackets never closed: each list(char, at)
#   diagnostics stray or mismatched brackets, text that never ends, nesting too deep
scan_brackets <- function(lines) {
  scan <- list2env(list(open = list(), diagnostics = list(), too_deep = FALSE), parent = emptyenv())
  masked <- lines
  depth <- integer(length(lines))
  for (i in seq_along(lines)) {
    depth[[i]] <- length(scan$open)
    line <- mask_line(lines[[i]])
    for (j in which(line$is_bracket)) scan_bracket(scan, line$chars[[j]], c(i, j, i, j))
    if (!is.null(line$unclosed)) report_unclosed_text(scan, lines[[i]], line$unclosed, i)
    masked[[i]] <- paste(line$chars, collapse = "")
  }
  list(masked = masked, depth = depth, open = scan$open, diagnostics = scan$diagnostics)
}

closing_brackets <- c("(" = ")", "[" = "]", "{" = "}")
brackets <- c(names(closing_brackets), closing_brackets)

# The characters of a line, with quoted text as "_" and a comment as blanks: list(chars, is_bracket: those
# outside quotes, unclosed: where a text starts that does not end).
mask_line <- function(line) {
  chars <- strsplit(line, "")[[1]]
  if (!grepl("[\"'`#%]", line)) return(list(chars = chars, is_bracket = chars %in% brackets))
  is_bracket <- logical(length(chars))
  quote <- ""
  unclosed <- NULL
  j <- 1L
  while (j <= length(chars)) {
    ch <- chars[[j]]
    if (nzchar(quote)) {
      if (ch == "\\" && quote != "`") {
        chars[j:min(j + 1L, length(chars))] <- "_"
        j <- j + 1L
      } else if (ch == quote) {
        quote <- ""
        unclosed <- NULL
      } else {
        chars[j] <- "_"
      }
    } else if (ch == "#") {
      chars[j:length(chars)] <- " "
      break
    } else if (ch == "%" && grepl("^%[^%]*%", substring(paste(chars, collapse = ""), j))) {
      end <- j + which(chars[-seq_len(j)] == "%")[[1]]
      if (end > j + 1L) chars[(j + 1L):(end - 1L)] <- "_"
      j <- end
    } else if (ch %in% c("\"", "'", "`")) {
      quote <- ch
      unclosed <- j
    } else {
      is_bracket[[j]] <- ch %in% brackets
    }
    j <- j + 1L
  }
  list(chars = chars, is_bracket = is_bracket, unclosed = unclosed)
}

report_scan <- function(scan, id, message, hint, at) {
  scan$diagnostics <- c(scan$diagnostics, list(diagnostic(id, message, hint, at)))
}

scan_bracket <- function(scan, ch, at) {
  if (ch %in% closing_brackets) return(close_bracket(scan, ch, at))
  scan$open <- c(scan$open, list(list(char = ch, at = at)))
  if (length(scan$open) <= max_nesting || scan$too_deep) return(invisible())
  scan$too_deep <- TRUE
  report_scan(scan, "nested_too_deep", sprintf("Brackets are nested more than %d deep.", max_nesting),
              "give a part a name of its own: a function, or a value assigned before", at)
}

# Closes the innermost bracket of its kind; what was opened within it is never closed.
close_bracket <- function(scan, ch, at) {
  open <- scan$open
  if (length(open) == 0)
    return(report_scan(scan, "bracket_stray", sprintf("This `%s` closes nothing.", ch),
                       "remove it, or add the bracket it should close", at))
  meant <- which(vapply(open, function(o) closing_brackets[[o$char]] == ch, NA))
  if (length(meant) == 0) {
    top <- open[[length(open)]]
    report_scan(scan, "bracket_mismatch", sprintf("This `%s` meets the `%s` of line %d.", ch, top$char, top$at[[1]]),
                sprintf("close it with `%s`", closing_brackets[[top$char]]), at)
    meant <- length(open)
  }
  scan$diagnostics <- c(scan$diagnostics, lapply(open[seq_along(open) > max(meant)], never_closed))
  scan$open <- open[seq_len(max(meant) - 1L)]
}

# The closing brackets of the line may be in the text: what it opened counts as closed.
report_unclosed_text <- function(scan, line, j, i) {
  report_scan(scan, "text_unclosed",
              sprintf("The text that starts here with %s does not end on this line.", substr(line, j, j)),
              "close it with the same quote", c(i, j, i, j))
  scan$open <- Filter(function(open) open$at[[1]] != i, scan$open)
}

# `all`: those that are open with it; what was opened on the same line is closed together.
never_closed <- function(open, all = list(open)) {
  same <- Filter(function(o) o$at[[1]] == open$at[[1]], all)
  closing <- paste(rev(closing_brackets[vapply(same, `[[`, "", "char")]), collapse = "")
  diagnostic("bracket_open", sprintf("This `%s` is never closed.", open$char), sprintf("add `%s`", closing), open$at)
}

# A line that starts in column one like a declaration does: a word that stands at the top of a file, or a name that is
# given a thing, a function or a number. What else is given a name there may be a line of a body.
starts_declaration <- function(masked) {
  one_of <- function(words) paste(gsub(".", "[.]", words, fixed = TRUE), collapse = "|")
  grepl(sprintf("^((%s)\\(|[A-Za-z.][A-Za-z0-9._]*\\s*(<-|=)\\s*((%s|function)\\(|[0-9]))",
                one_of(words_of_kind("top")), one_of(words_of_kind("thing"))), masked)
}

# Chunks are lists of `from` and `to` line numbers, with the brackets inside them matched.
# If a bracket stays open, the next line that starts in column one like a declaration begins a
# new chunk, so that one missing bracket does not swallow the rest of the file.
cut_chunks <- function(lines) {
  scan <- scan_brackets(lines)
  diagnostics <- scan$diagnostics
  starts <- which(scan$depth == 0L & grepl("^[^[:space:]#]", scan$masked))
  if (length(scan$open) > 0) {
    missing <- scan$open[[1]]
    diagnostics <- c(diagnostics, list(never_closed(missing, scan$open)))
    after <- which(starts_declaration(scan$masked) & seq_along(lines) > missing$at[[1]])
    if (length(after) > 0) {
      rest <- after[[1]]:length(lines)
      tail <- cut_chunks(lines[rest])
      shift <- rest[[1]] - 1L
      diagnostics <- c(diagnostics, lapply(tail$diagnostics, shift_diagnostic, by = shift))
      starts <- c(starts[starts <= missing$at[[1]]], tail$starts + shift)
      skip <- c(chunk_start(starts, missing$at[[1]]), tail$skip + shift)
      return(list(starts = starts, skip = skip, masked = scan$masked, diagnostics = diagnostics))
    }
  }
  bad_lines <- unlist(lapply(diagnostics, function(p) p$at[[1]]))
  skip <- unique(vapply(bad_lines, function(l) max(c(0L, starts[starts <= l])), 1L))
  list(starts = starts, skip = skip, masked = scan$masked, diagnostics = diagnostics)
}

chunk_start <- function(starts, line) max(c(0L, starts[starts <= line]))
