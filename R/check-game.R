#' Check a game: its rules and its worked examples
#'
#' Reads the rules, reports all the problems at once, and plays every worked example.
#'
#' @inheritParams game
#' @return An object of class `basanos_check`: `ok` (logical), `problems` (a data frame with one row a
#'   problem: `id`, `line`, `column`, `last_line`, `last_column`, `message`, `mend`) and
#'   `examples` (a data frame with one row an example: `text`, `line`, `passed`, `got`).
#' @section Errors: Only where there is nothing to check: `file_missing`.
#' @export
#' @examples
#' check_game("lantern-tiles")
check_game <- function(rules) {
  if (is_game(rules)) return(new_check(rules$source, rules))
  path <- find_rules(rules)
  read <- tryCatch(game(path), basanos_error = identity)
  if (is_game(read)) new_check(read$source, read) else new_check(read$source, NULL, read$problems, basename(path))
}

new_check <- function(source, rules, problems = list(), name = source$name) {
  examples <- if (is.null(rules)) list() else run_examples(rules)
  structure(list(
    name = name, title = rules$title, source = source,
    ok = length(problems) == 0 && all(vapply(examples, `[[`, NA, "passed")),
    problems = problems_table(problems),
    examples = data.frame(
      text = vapply(examples, `[[`, "", "text"), line = vapply(examples, function(e) as.integer(e$at[[1]]), 1L),
      passed = vapply(examples, `[[`, NA, "passed"), got = vapply(examples, function(e) paste(e$lines, collapse = "; "), "")),
    found = problems), class = "basanos_check")
}

#' @export
format.basanos_check <- function(x, ...) {
  if (nrow(x$problems) > 0) {
    count <- sprintf("%s: %d problem%s", x$name, nrow(x$problems), if (nrow(x$problems) == 1) "" else "s")
    return(c(unlist(lapply(x$found, function(p) c(format_problem(p, x$source), ""))), count))
  }
  heading <- paste0(x$name, if (!is.null(x$title)) paste0(": ", x$title))
  n <- nrow(x$examples)
  mark <- ifelse(x$examples$passed, "holds", "FAILS")
  lines <- sprintf("  %s  %s%s", mark, x$examples$text, ifelse(x$examples$passed, "", sprintf(" (line %d)\n         %s", x$examples$line, gsub("; ", "\n         ", x$examples$got))))
  summary <- if (n == 0) "The rules are in order. There are no worked examples: add one with example(...)."
    else if (x$ok) sprintf("The rules are in order, and %s.", if (n == 1) "its example holds" else sprintf("all %d examples hold", n))
    else sprintf("The rules are in order, but %d of %d examples fail.", sum(!x$examples$passed), n)
  c(heading, lines, summary)
}

#' @export
print.basanos_check <- function(x, ...) {
  writeLines(format(x))
  invisible(x)
}
