# The changes from one rules file to another, in words: numbers by their names, declarations by theirs.

# A character vector, one change each; none where the two say the same.
rule_changes <- function(old, new) {
  parts <- lapply(list(old, new), said_by_declaration)
  keys <- union(names(parts[[1]]), names(parts[[2]]))
  unlist(lapply(keys, function(key) {
    was <- parts[[1]][[key]]
    is <- parts[[2]][[key]]
    if (is.null(was)) return(sprintf("%s is new%s", key, shortly(is$text, ": ")))
    if (is.null(is)) return(sprintf("%s is gone%s", key, shortly(was$text, ": ")))
    if (was$text == is$text) return(NULL)
    if (was$frame == is$frame && length(was$numbers) == length(is$numbers)) return(number_changes(key, was, is))
    part_changes(key, was, is)
  }))
}

most_parts_said <- 6L

# Part by part, where few parts of the declaration are different; else in one.
part_changes <- function(key, was, is) {
  short <- nchar(was$text) <= longest_said && nchar(is$text) <= longest_said
  names <- union(names(was$parts), names(is$parts))
  changed <- Filter(function(n) !identical(was$parts[[n]], is$parts[[n]]), names)
  if (short || length(changed) == 0 || length(changed) > most_parts_said)
    return(sprintf("%s%s", key, said_change(was$text, is$text)))
  vapply(changed, function(n) {
    what <- sprintf("%s, %s", key, n)
    if (is.null(was$parts[[n]])) sprintf("%s is new%s", what, shortly(is$parts[[n]], ": "))
    else if (is.null(is$parts[[n]])) sprintf("%s is gone%s", what, shortly(was$parts[[n]], ": "))
    else sprintf("%s%s", what, said_change(was$parts[[n]], is$parts[[n]]))
  }, "", USE.NAMES = FALSE)
}

# The texts of the arguments of a declaration by their names, or as part 2 and so on.
written_parts <- function(source, node) {
  call <- if (is_call(node, "<-") && node$args[[2]]$kind == "call") node$args[[2]] else node
  names <- ifelse(nzchar(call$names), call$names, sprintf("part %d", seq_along(call$args)))
  stats::setNames(lapply(call$args, function(a) written_text(source, a$at)), make.unique(names, sep = " "))
}

# By the key of each declaration: list(text, frame, numbers), the frame being the text without the numbers that have a
# name. Several of one key are numbered.
said_by_declaration <- function(rules) {
  nodes <- Filter(function(n) n$kind == "call", rules$nodes)
  keys <- make.unique(vapply(nodes, declaration_key, ""), sep = " ")
  stats::setNames(lapply(nodes, function(node) {
    named <- named_numbers(node)
    text <- written_text(rules$source, node$at)
    frame <- written_text(rules$source, node$at, lapply(named, `[[`, "at"))
    list(text = text, frame = frame, parts = written_parts(rules$source, node),
         numbers = stats::setNames(vapply(named, `[[`, 0, "value"),
                                                               vapply(named, `[[`, "", "name")))
  }), keys)
}

declaration_key <- function(node) {
  name <- declared_name(node)
  if (nzchar(name)) return(if (node$fn %in% c("example", "always", "never")) sprintf("%s \"%s\"", node$fn, name)
                           else name)
  about <- if (node$fn %in% c(words_by_first, "pays", "stakes") && length(node$args) > 0) label_text(node$args[[1]])
  if (is.null(about)) node$fn else sprintf("%s(%s)", node$fn, about)
}

# The numbers with names of a declaration; the start of a setting too.
named_numbers <- function(node) {
  start <- if (is_call(node, "<-") && is_call(node$args[[2]], "setting") && length(node$args[[2]]$args) > 0)
    number_in_rules("start", declared_name(node), node$args[[2]]$args[[1]])
  if (!is.null(start)) start[[1]]$name <- declared_name(node)
  c(start, numbers_in_declaration(node))
}

# The text between two places without comments and needless white space; the places of `blanks` are left out.
written_text <- function(source, at, blanks = list()) {
  lines <- source$lines[at[[1]]:at[[3]]]
  lines[[length(lines)]] <- substr(lines[[length(lines)]], 1, at[[4]])
  first <- at[[1]] - 1L
  for (blank in blanks[order(vapply(blanks, `[[`, 0L, 2L), decreasing = TRUE)]) {
    line <- blank[[1]] - first
    lines[[line]] <- paste0(substr(lines[[line]], 1, blank[[2]] - 1), "\u00b7",
                            substring(lines[[line]], blank[[4]] + 1))
  }
  text <- paste(sub("\\s*#.*$", "", lines), collapse = " ")
  trimws(gsub("\\s+", " ", substring(text, at[[2]])))
}

number_changes <- function(key, was, is) {
  changed <- which(was$numbers != is$numbers)
  if (length(changed) == 0) return(sprintf("%s%s", key, said_change(was$text, is$text)))
  sprintf("%s: %s, now %s", names(was$numbers)[changed], plain_number(was$numbers[changed]),
          plain_number(is$numbers[changed]))
}

longest_said <- 70L

shortly <- function(text, before = "") {
  said <- sub("^\\S+ <- ", "", text)
  if (nchar(said) > longest_said) "" else paste0(before, said)
}

said_change <- function(was, is) {
  if (nchar(was) <= longest_said && nchar(is) <= longest_said)
    sprintf(": %s, now %s", sub("^\\S+ <- ", "", was), sub("^\\S+ <- ", "", is))
  else " is written otherwise"
}
