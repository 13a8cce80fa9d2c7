# The numbers in the rules that can be turned without rewriting them: what an outcome or a bet pays, copies of cards,
# weights of faces, the length of words. Each has a name, as `pay(guest, bright)` or `copies(cards)`, and the place
# where it stands.

# list(name, kind, value, at), in the order of the file.
numbers_in_rules <- function(nodes) {
  unlist(lapply(Filter(function(n) n$kind == "call", nodes), numbers_in_declaration), recursive = FALSE)
}

numbers_in_declaration <- function(node) {
  if (node$fn == "pays") return(numbers_paid(node))
  if (node$fn == "settle") return(numbers_settled(node))
  if (node$fn != "<-" || node$args[[1]]$kind != "name" || node$args[[2]]$kind != "call") return(NULL)
  value <- node$args[[2]]
  switch(value$fn, deck = numbers_of_copies(value, node$args[[1]]$name),
         die = numbers_of_weights(value, declared_name(node)),
         words = numbers_named("letters", declared_name(node), value$args[value$names == "length"]))
}

# The number that a node is, with its sign; NULL of anything else.
written_number <- function(node) {
  if (node$kind == "number") node$value
  else if (is_call(node, "-") && length(node$args) == 1 && node$args[[1]]$kind == "number") -node$args[[1]]$value
}

number_in_rules <- function(kind, parts, node) {
  value <- written_number(node)
  if (is.null(value)) return(NULL)
  list(list(name = sprintf("%s(%s)", kind, paste(parts, collapse = ", ")), kind = kind, parts = parts, value = value,
            at = node$at))
}

# Several of one name are numbered.
numbers_named <- function(kind, parts, nodes) {
  many <- length(nodes) > 1
  unlist(lapply(seq_along(nodes), function(k)
    number_in_rules(kind, c(parts, if (many) as.character(k)), nodes[[k]])), recursive = FALSE)
}

numbers_paid <- function(node) {
  if (length(node$args) == 0) return(NULL)
  who <- label_text(node$args[[1]])
  unlist(lapply(seq_along(node$args)[-1], function(k)
    number_in_rules("pay", c(who, if (nzchar(node$names[[k]])) node$names[[k]]), node$args[[k]])), recursive = FALSE)
}

# The left sides of the odds of each case; a case without a name goes by its number.
numbers_settled <- function(node) {
  if (length(node$args) == 0) return(NULL)
  cases <- seq_along(node$args)[-1]
  unlist(lapply(cases[node$names[cases] != "most"], function(k)
    numbers_named("pay", c(label_text(node$args[[1]]), if (nzchar(node$names[[k]])) node$names[[k]] else k - 1L),
                  left_sides(node$args[[k]]))), recursive = FALSE)
}

left_sides <- function(node) {
  if (node$kind != "call") return(NULL)
  if (node$fn %in% c("%to%", "%for%")) return(node$args[1])
  unlist(lapply(if (node$fn == "if") node$args[-1] else node$args, left_sides), recursive = FALSE)
}

numbers_of_copies <- function(deck, name) {
  of <- function(call) unlist(lapply(call$args[call$names == "copies"], listed), recursive = FALSE)
  more <- Filter(function(a) is_call(a, "plus"), deck$args)
  numbers_named("copies", name, c(of(deck), unlist(lapply(more, of), recursive = FALSE)))
}

numbers_of_weights <- function(die, name) {
  unlist(lapply(which(nzchar(die$names)), function(k)
    number_in_rules("weight", c(name, die$names[[k]]), die$args[[k]])), recursive = FALSE)
}

# Every node that stands at `at` by another one.
node_replaced <- function(nodes, at, by) {
  lapply(nodes, function(node) {
    if (!is.list(node)) return(node)
    if (identical(node$at, at) && (identical(node$kind, "text") || !is.null(written_number(node)))) return(by)
    if (!is.null(node$args)) node$args <- node_replaced(node$args, at, by)
    node
  })
}
