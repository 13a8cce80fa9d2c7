# Before R's parser: match the brackets, blank out text and comments, and cut the file into chunks
# at lines that start in column one, so that the syntax errors of several chunks can be shown.

max_nesting <- 40L

# One pass over the characters. Gives
#   masked   the lines with text and comments blanked
#   depth    the bracket depth at the start of each line
#   open     brackets never closed: data frame of line, col, char
#   problems stray or mismatched brackets, text that never ends, nesting too deep
scan_brackets <- function(lines) {
  closes <- c("(" = ")", "[" = "]", "{" = "}")
  stack <- list()
  problems <- list()
  masked <- lines
  depth <- integer(length(lines))
  quote <- ""
  quote_at <- NULL
  too_deep <- FALSE
  for (i in seq_along(lines)) {
    depth[[i]] <- length(stack)
    chars <- strsplit(lines[[i]], "")[[1]]
    j <- 1L
    while (j <= length(chars)) {
      ch <- chars[[j]]
      if (nzchar(quote)) {
        if (ch == "\\" && quote != "`") { chars[j] <- "_"; j <- j + 1L; if (j <= length(chars)) chars[j] <- "_" }
        else if (ch == quote) quote <- ""
        else chars[j] <- "_"
      } else if (ch == "#") {
        chars[j:length(chars)] <- " "
        break
      } else if (ch == "%" && grepl("^%[^%]*%", substring(paste(chars, collapse = ""), j))) {
        end <- j + which(chars[-seq_len(j)] == "%")[[1]]
        if (end > j + 1L) chars[(j + 1L):(end - 1L)] <- "_"
        j <- end
      } else if (ch %in% c("\"", "'", "`")) {
        quote <- ch
        quote_at <- c(i, j, i, j)
      } else if (ch %in% names(closes)) {
        stack[[length(stack) + 1L]] <- list(char = ch, at = c(i, j, i, j))
        if (length(stack) > max_nesting && !too_deep) {
          too_deep <- TRUE
          problems <- c(problems,
                        list(diagnostic("nested_too_deep",
                                        sprintf("Brackets are nested more than %d deep.", max_nesting),
                                        "give a part a name of its own: a function, or a value assigned before",
                                        c(i, j, i, j))))
        }
      } else if (ch %in% closes) {
        top <- if (length(stack) > 0) stack[[length(stack)]]
        if (is.null(top)) {
          problems <- c(problems,
                        list(diagnostic("bracket_stray", sprintf("This `%s` closes nothing.", ch),
                                        "remove it, or add the bracket it should close", c(i, j, i, j))))
        } else {
          meant <- which(vapply(stack, function(open) closes[[open$char]] == ch, NA))
          if (length(meant) == 0) {
            problems <- c(problems,
                          list(diagnostic("bracket_mismatch",
                                          sprintf("This `%s` meets the `%s` of line %d.", ch, top$char, top$at[[1]]),
                                          sprintf("close it with `%s`", closes[[top$char]]), c(i, j, i, j))))
            meant <- length(stack)
          }
          for (open in stack[seq_along(stack) > max(meant)]) problems <- c(problems, list(never_closed(open)))
          stack <- stack[seq_len(max(meant) - 1L)]
        }
      }
      j <- j + 1L
    }
    if (nzchar(quote)) {
      problems <- c(problems,
                    list(diagnostic("text_unclosed",
                                    sprintf("The text that starts here with %s does not end on this line.", quote),
                                    "close it with the same quote", quote_at)))
      stack <- Filter(function(open) open$at[[1]] != i, stack)  # their closing brackets may be in the text
      quote <- ""
    }
    masked[[i]] <- paste(chars, collapse = "")
  }
  list(masked = masked, depth = depth, open = stack, problems = problems)
}

never_closed <- function(open) {
  diagnostic("bracket_open", sprintf("This `%s` is never closed.", open$char), "add the closing bracket", open$at)
}

# A line that starts in column one like a declaration does.
starts_declaration <- function(masked) grepl("^([A-Za-z.][A-Za-z0-9._]*\\s*(<-|=[^=])|[a-z_]+\\()", masked)

# Chunks are lists of `from` and `to` line numbers, with the brackets inside them matched.
# Where a bracket stays open, the next line that starts in column one like a declaration begins a
# new chunk, so that one missing bracket does not swallow the rest of the file.
cut_chunks <- function(lines) {
  scan <- scan_brackets(lines)
  problems <- scan$problems
  starts <- which(scan$depth == 0L & grepl("^[^[:space:]#]", scan$masked))
  if (length(scan$open) > 0) {
    missing <- scan$open[[1]]
    problems <- c(problems, list(never_closed(missing)))
    after <- which(starts_declaration(scan$masked) & seq_along(lines) > missing$at[[1]])
    if (length(after) > 0) {
      rest <- after[[1]]:length(lines)
      tail <- cut_chunks(lines[rest])
      shift <- rest[[1]] - 1L
      problems <- c(problems, lapply(tail$problems, shift_diagnostic, by = shift))
      starts <- c(starts[starts < missing$at[[1]]], tail$starts + shift)
      skip <- c(chunk_start(starts, missing$at[[1]]), tail$skip + shift)
      return(list(starts = starts, skip = skip, masked = scan$masked, problems = problems))
    }
  }
  bad_lines <- unlist(lapply(problems, function(p) p$at[[1]]))
  skip <- unique(vapply(bad_lines, function(l) max(c(0L, starts[starts <= l])), 1L))
  list(starts = starts, skip = skip, masked = scan$masked, problems = problems)
}

chunk_start <- function(starts, line) max(c(0L, starts[starts <= line]))
