collect_asks <- function(node) {
  if (node$kind == "function") return(collect_asks(node$body))
  if (node$kind != "call") return(list())
  asks <- if (node$fn == "ask") list(node) else list()
  c(asks, unlist(lapply(node$args, collect_asks), recursive = FALSE))
}

# The first value that a name is given in a body, or NULL.
assigned_value <- function(node, name) {
  if (node$kind == "function") return(assigned_value(node$body, name))
  if (node$kind != "call") return(NULL)
  if (node$fn == "<-" && identical(node$args[[1]]$name, name)) return(node$args[[2]])
  for (a in node$args) {
    value <- assigned_value(a, name)
    if (!is.null(value)) return(value)
  }
  NULL
}

listed <- function(node) if (node$kind == "call" && node$fn == "c") node$args else list(node)

assigns_to <- function(node, name) {
  if (node$kind != "call") return(FALSE)
  target <- if (node$fn == "<-") node$args[[1]]
    else if (node$fn %in% c("add", "put", "remove", "move")) node$args[[length(node$args)]]
    else if (node$fn == "for") node$args[[1]]
  if (!is.null(target)) {
    if (target$kind == "call" && target$fn == "[") target <- target$args[[1]]
    if (identical(target$name, name)) return(TRUE)
  }
  any(vapply(node$args, assigns_to, NA, name = name))
}

has_return <- function(node) node$kind == "call" && (node$fn == "return" || any(vapply(node$args, has_return, NA)))
label_text <- function(node)
  switch(node$kind, name = node$name, text = node$value, number = if (!node$fraction) plain_number(node$value), NULL)

# The same node, every part of it placed at `at`: for expressions inside a text.
move_node <- function(node, at) {
  node$at <- at
  if (!is.null(node$fn_at)) node$fn_at <- at
  if (!is.null(node$args)) node$args <- lapply(node$args, move_node, at = at)
  node
}

# name == value, as written in name = value.
equal_node <- function(name, value) {
  list(kind = "call", name = NULL, fn = "==", args = list(list(kind = "name", name = name, at = value$at), value),
       names = c("", ""), at = value$at, fn_at = value$at)
}

# The opposite of a condition.
negated <- function(node) {
  list(kind = "call", name = NULL, fn = "!", args = list(node), names = "", at = node$at, fn_at = node$at)
}

is_call <- function(node, fn) node$kind == "call" && node$fn == fn

# Does any of these nodes call or read the name?
mentions <- function(nodes, name) {
  any(vapply(nodes, function(n) {
    if (n$kind == "name") return(n$name == name)
    if (n$kind == "function") return(mentions(list(n$body), name))
    n$kind == "call" && (n$fn == name || mentions(n$args, name))
  }, NA))
}

# The name before `<-`, or the text of an example or claim.
declared_name <- function(node) {
  if (node$kind != "call") return("")
  if (node$fn == "<-" && node$args[[1]]$kind == "name") return(node$args[[1]]$name)
  if (node$fn %in% c("example", "always", "never") && length(node$args) > 0 && node$args[[1]]$kind == "text")
    return(node$args[[1]]$value)
  ""
}

# The same node, that many lines further down.
shift_node <- function(node, by) {
  down <- function(at) if (is.null(at)) NULL else at + c(by, 0L, by, 0L)
  node$at <- down(node$at)
  node$fn_at <- down(node$fn_at)
  if (!is.null(node$name_at)) node$name_at <- lapply(node$name_at, down)
  if (!is.null(node$args)) node$args <- lapply(node$args, shift_node, by = by)
  if (!is.null(node$body)) node$body <- shift_node(node$body, by)
  if (!is.null(node$defaults))
    node$defaults <- lapply(node$defaults, function(d) if (is.null(d)) NULL else shift_node(d, by))
  node
}
