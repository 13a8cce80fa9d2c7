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

# c(1:25, repeated(0, 17), repeated(c(7, 0), 3)): ranges and repetitions stand for their numbers.
given_list <- function(node) {
  unlist(lapply(listed(node), function(part) {
    numbers <- literal_range(part)
    if (!is.null(numbers))
      return(lapply(numbers, function(n) list(kind = "number", value = n, fraction = FALSE, at = part$at)))
    times <- if (is_call(part, "repeated") && length(part$args) == 2) part$args[[2]]
    if (identical(times$kind, "number")) rep(given_list(part$args[[1]]), times$value) else list(part)
  }), recursive = FALSE)
}

one_only <- function(context, nodes, word) {
  for (n in nodes[-1]) report(context, "declared_twice", n$at, sprintf("`%s` is there twice.", word), "join the two")
  if (length(nodes) > 0) return(TRUE)
  if (word %in% context$unread) return(FALSE)
  context$diagnostics <- c(context$diagnostics,
                        list(diagnostic("declaration_missing", sprintf("The rules have no `%s`.", word),
                                        sprintf("add it, as in %s", vocabulary_word(word)$example), c(1L, 1L, 1L, 1L))))
  FALSE
}

# The whole numbers of 1:6, or NULL.
literal_range <- function(node) {
  if (is_call(node, ":") && all(vapply(node$args, function(a) a$kind == "number" && !a$fraction, NA)))
    node$args[[1]]$value:node$args[[2]]$value
}

lifetime <- function(context, node) {
  if (is.null(node)) return("round")
  known <- c("turn", "round", "match", "sitting")
  if (node$kind != "name" || !node$name %in% known) {
    report(context, "lifetime_unknown", node$at, sprintf("`lasts` is one of %s.", some_of_names(known)),
           "leave it out for what lasts a round")
    return("round")
  }
  if (node$name %in% setdiff(c("match", "sitting"), context$spans)) {
    report(context, "lifetime_wide", node$at, sprintf("Nothing lasts for a %s: this game declares none.", node$name),
           sprintf("declare it, as in %s, or write lasts = round", vocabulary_word(node$name)$example))
    return("round")
  }
  node$name
}

# A plain yes or no, as TRUE or FALSE.
yes_or_no <- function(context, node, what) {
  if (identical(node$name, "yes") || identical(node$name, "no")) return(node$name == "yes")
  report(context, "not_constant", node$at, sprintf("%s is yes or no.", what), "write yes or no")
  FALSE
}

is_everyone <- function(node) node$kind == "name" && node$name %in% c("everyone", "seats")

declared_thing <- function(context, node, kind) {
  if (node$kind == "name") {
    d <- context$names[[node$name]]
    if (!is.null(d) && d$kind == kind) return(d)
    if (identical(d$kind, "unread")) return(NULL)
    if (is.null(d)) {
      known <- names(Filter(function(x) x$kind == kind, context$names))
      report(context, "unknown_name", node$at, sprintf("`%s` is not a name this game knows.", node$name),
             or_spelling(did_you_mean(node$name, known),
                         if (length(known) > 0) sprintf("declared is %s", some_of_names(known))
                         else sprintf("declare one, as in %s", vocabulary_word(kind)$example)))
      return(NULL)
    }
  }
  report(context, "wrong_thing", node$at, sprintf("This must be the name of %s.", kind_in_words(kind)),
         sprintf("declare one, as in %s", vocabulary_word(kind)$example))
  NULL
}
