# In a variant, amend(pays(guest, bright = 3)) changes the parts that it names of a declaration of the base, and leaves
# the rest. A part that the base does not have is added: before the one that is named, else before `otherwise`.

# list(nodes, diagnostics): the nodes of the base as amended.
amended_nodes <- function(nodes, amends) {
  diagnostics <- list()
  for (amend in amends) {
    result <- amend_one(nodes, amend)
    if (is.null(result$nodes)) diagnostics <- c(diagnostics, list(result)) else nodes <- result$nodes
  }
  list(nodes = nodes, diagnostics = diagnostics)
}

amend_wrong <- function(at, message, hint) diagnostic("amend_what", message, hint, at)

# list(nodes), or the diagnostic.
amend_one <- function(nodes, amend) {
  part <- Filter(function(a) a$kind == "call", amend$args[!amend$names %in% "before"])
  change <- if (length(part) == 1) part[[1]]
  parts <- if (!is.null(change)) parts_of(change)
  if (is.null(parts) || !any(nzchar(parts$names)))
    return(amend_wrong(amend$at, "`amend` takes one declaration, with the parts that change by their names.",
                       vocabulary_word("amend")$example))
  targets <- which(vapply(nodes, is_amended_by, NA, change = change))
  if (length(targets) == 0)
    return(amend_wrong(change$at, sprintf("The game that this is based on has no %s to amend.", target_text(change)),
                       sprintf("write %s as a declaration of its own", target_text(change))))
  before <- amend$args[amend$names %in% "before"]
  before <- if (length(before) > 0) label_text(before[[1]])
  for (k in which(nzchar(parts$names))) {
    names <- lapply(nodes[targets], function(n) parts_of(n)$names)
    has <- which(vapply(names, function(x) parts$names[[k]] %in% x, NA))
    target <- targets[[if (length(has) > 0) has[[1]] else 1L]]
    if (length(has) == 0 && !is.null(before) && !before %in% parts_of(nodes[[target]])$names)
      return(amend_wrong(amend$at, sprintf("There is no `%s` to put it before.", before),
                         or_spelling(did_you_mean(before, parts_of(nodes[[target]])$names))))
    nodes[[target]] <- with_part(nodes[[target]], parts, k, before)
  }
  list(nodes = nodes)
}

# The call whose parts have names: the declaration itself, or what stands behind its name.
parts_of <- function(node) {
  if (node$fn != "<-") return(node)
  if (node$args[[2]]$kind == "call") node$args[[2]] else list(names = character())
}

# The same word, the same name before it, the same things without a name: pays(guest, ...) is not pays(other, ...).
is_amended_by <- function(node, change) {
  if (node$kind != "call" || node$fn != change$fn) return(FALSE)
  if (node$fn == "<-" && !identical(declared_name(node), declared_name(change))) return(FALSE)
  unnamed <- function(n) { n <- parts_of(n); lapply(n$args[!nzchar(n$names)], label_text) }
  if (node$fn %in% words_by_first) return(identical(unnamed(node)[1], unnamed(change)[1]))
  if (node$fn %in% c("pays", "stakes")) identical(unnamed(node), unnamed(change)) else TRUE
}

target_text <- function(change) {
  if (change$fn == "<-") return(sprintf("`%s`", declared_name(change)))
  unnamed <- change$args[!nzchar(change$names)]
  sprintf("`%s(%s)`", change$fn, paste(c(unlist(lapply(unnamed, label_text)), "..."), collapse = ", "))
}

# Part k of `parts` in the place of the one of that name, or as one more.
with_part <- function(node, parts, k, before) {
  if (node$fn == "<-") {
    node$args[[2]] <- with_part(node$args[[2]], parts, k, before)
    return(node)
  }
  name <- parts$names[[k]]
  place <- match(name, node$names)
  if (is.na(place)) {
    place <- place_of_new(node, before)
    put <- function(x, new) append(x, list(new), place - 1L)
    node$args <- put(node$args, NULL)
    node$name_at <- put(node$name_at, NULL)
    node$names <- append(node$names, name, place - 1L)
  }
  node$args[[place]] <- parts$args[[k]]
  node$name_at[[place]] <- parts$name_at[[k]]
  node
}

place_of_new <- function(node, before) {
  n <- length(node$args)
  if (!is.null(before) && before %in% node$names) return(match(before, node$names))
  is_last_resort <- n > 0 && (identical(node$args[[n]]$name, "otherwise") || identical(node$names[[n]], "otherwise"))
  if (is_last_resort) n else n + 1L
}
