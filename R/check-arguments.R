# Matches the arguments of a word against its line in the vocabulary.

# Returns a named list of nodes; what `...` took is in `dots` (nodes) with `dot_names` and the
# places of those names, `dot_at`.
# NULL when something essential is missing (then a diagnostic has been reported).
match_arguments <- function(context, node, word = vocabulary_word(node$fn)) {
  args <- node$args
  given <- node$names
  places <- node$name_at
  blank <- vapply(args, function(a) a$kind == "missing", NA)
  if (any(blank)) {
    report(context, "argument_empty", args[[which(blank)[[1]]]]$at, sprintf("An argument of `%s` is empty.", node$fn),
           "remove the comma too many, or write what is missing")
    args <- args[!blank]
    given <- given[!blank]
    places <- places[!blank]
  }
  has_dots <- "..." %in% word$args
  got <- list(dots = list(), dot_names = character(), dot_at = list())
  plain <- setdiff(word$args, "...")
  for (i in which(nzchar(given) & given %in% plain)) {
    if (!is.null(got[[given[[i]]]]))
      report(context, "argument_twice", places[[i]], sprintf("`%s` is given twice.", given[[i]]), "keep one")
    got[[given[[i]]]] <- args[[i]]
  }
  # Arguments before the dots take plain positions, those after it must be named.
  before_dots <- if (has_dots) plain[seq_along(plain) < match("...", word$args)] else plain
  for (i in which(!(given %in% plain))) {
    open <- setdiff(before_dots, names(got))
    if (!nzchar(given[[i]]) && length(open) > 0) got[[open[[1]]]] <- args[[i]]
    else if (has_dots) {
      got$dots <- c(got$dots, list(args[[i]]))
      got$dot_names <- c(got$dot_names, given[[i]])
      got$dot_at <- c(got$dot_at, list(places[[i]]))
    } else {
      what <- if (nzchar(given[[i]])) sprintf("`%s` takes no argument `%s`.", node$fn, given[[i]])
        else sprintf("`%s` takes fewer arguments.", node$fn)
      hint <- did_you_mean(given[[i]], plain)
      report(context, "argument_unknown", places[[i]], what, if (is.null(hint)) sprintf("it is %s", usage_of(word))
        else hint)
    }
  }
  needed <- setdiff(word$args[!word$optional], names(got))
  if (length(needed) > 0) {
    report(context, "argument_missing", node$at, sprintf("`%s` needs %s.", node$fn, some_of_names(needed)),
           sprintf("write it like this: %s", word$example))
    return(NULL)
  }
  got
}

usage_of <- function(word) sprintf("%s(%s)", word$name, word$signature)

# A constant text argument, or NULL after reporting.
text_argument <- function(context, node, what) {
  if (node$kind == "text") return(node$value)
  report(context, "text_wanted", node$at, sprintf("%s must be a text in quotes.", what),
         'write it in quotes, as in "Dice Duel"')
  NULL
}
