# R's table of parse data as nodes. A `tree` is an environment: the table without its comments (`data`), the rows below
# each row (`children`), the lines of text, by how many lines the chunk is shifted in its file, the diagnostics found,
# how deep the row lies that is being read, and whether a single `=` there is meant to compare.

# list(nodes, diagnostics) of a chunk.
nodes_of_parse_data <- function(data, lines, shift) {
  data <- as.list(data[data$token != "COMMENT", ])
  below <- split(seq_along(data$id), match(data$parent, data$id))
  children <- vector("list", length(data$id))
  children[as.integer(names(below))] <- below
  tree <- list2env(list(data = data, lines = lines, shift = shift, diagnostics = list(), depth = 0L,
                        too_deep = FALSE, compares = shift >= expression_line, children = children),
                   parent = emptyenv())
  roots <- which(data$parent == 0 & data$token != "';'")
  nodes <- lapply(roots, function(r) {
    tree$too_deep <- FALSE
    node_at(tree, r)
  })
  list(nodes = nodes, diagnostics = tree$diagnostics)
}

span_of_row <- function(tree, r) {
  data <- tree$data
  c(data$line1[[r]] + tree$shift, data$col1[[r]], data$line2[[r]] + tree$shift, data$col2[[r]])
}

token_text <- function(tree, r) {
  data <- tree$data
  text <- data$text[[r]]
  if (!startsWith(text, "[")) return(text)
  substr(tree$lines[[data$line1[[r]]]], data$col1[[r]], data$col2[[r]])  # R shortens long texts in its table
}

refuse_in_rules <- function(tree, at, what, hint = "leave it out: rules have only the words that vocabulary() lists") {
  tree$diagnostics <- c(tree$diagnostics,
                        list(diagnostic("not_in_language", sprintf("%s is not part of the language.", what),
                                                    hint, at)))
  list(kind = "broken", at = at)
}

call_node <- function(fn, args, at, names = rep("", length(args)), fn_at = at, name_at = lapply(args, `[[`, "at")) {
  list(kind = "call", name = NULL, fn = fn, args = args, names = names, name_at = name_at, at = at, fn_at = fn_at)
}

# --- leaves ------------------------------------------------------------------------

leaf_node <- function(tree, r) {
  at <- span_of_row(tree, r)
  text <- token_text(tree, r)
  switch(tree$data$token[[r]],
    SYMBOL = , SYMBOL_FUNCTION_CALL = list(kind = "name", name = gsub("`", "", text), at = at),
    NUM_CONST = number_node(tree, text, at),
    STR_CONST = list(kind = "text", value = parse(text = text, keep.source = FALSE)[[1]], at = at),
    NULL_CONST = refuse_in_rules(tree, at, "`NULL`", "use `none` for no card, no seat, no word"),
    NEXT = call_node("next", list(), at),
    BREAK = call_node("break", list(), at),
    refuse_in_rules(tree, at, sprintf("`%s`", text)))
}

number_node <- function(tree, text, at) {
  if (text %in% c("TRUE", "FALSE")) return(list(kind = "name", name = if (text == "TRUE") "yes" else "no", at = at))
  if (text %in% c("Inf", "NaN") || startsWith(text, "NA"))
    return(refuse_in_rules(tree, at, sprintf("`%s`", text), "use `none` for what is not there"))
  if (grepl("^0[0-9]|x|X|L$|i$", text))
    return(refuse_in_rules(tree, at, sprintf("The number `%s`", text), "write it as a plain decimal number"))
  value <- as.numeric(text)
  if (!is.finite(value) || value >= 2^31)
    return(refuse_in_rules(tree, at, sprintf("The number `%s`", text), "numbers stay below 2147483648"))
  list(kind = "number", value = value, fraction = grepl(".", text, fixed = TRUE) || value != floor(value), at = at)
}

# --- what has parts ------------------------------------------------------------------

most_depth <- 60L  # what is read and checked deeper than this would not fit on R's stack

# The node of a row, unless it lies too deep. Its own parts lie one deeper.
node_at <- function(tree, r) {
  tree$depth <- tree$depth + 1L
  on.exit(tree$depth <- tree$depth - 1L)
  if (tree$depth <= most_depth) return(node_of_row(tree, r))
  at <- span_of_row(tree, r)
  if (!tree$too_deep)
    tree$diagnostics <- c(tree$diagnostics, list(diagnostic(
      "nested_too_deep",
      sprintf("This stands more than %d steps deep: a chain of `else if` or of operators.", most_depth),
      "cut the chain in parts with names of their own, or use sum(...), max(...), any(...) or switch(...)", at)))
  tree$too_deep <- TRUE
  list(kind = "broken", at = at)
}

# The node of a row. Its first token says what kind it is, or its second, where the first is an operand.
node_of_row <- function(tree, r) {
  kids <- tree$children[[r]]
  if (is.null(kids)) return(leaf_node(tree, r))
  if (length(kids) == 1) return(node_at(tree, kids))
  tokens <- tree$data$token[kids]
  at <- span_of_row(tree, r)
  switch(tokens[[1]],
    "'('" = compared_node(tree, kids[[2]]),
    "'{'" = statements_node(tree, kids[!tokens %in% c("'{'", "'}'", "';'")], at),
    IF = word_node(tree, "if", kids, tokens %in% c("expr", "equal_assign", "expr_or_assign_or_help"), at),
    WHILE = word_node(tree, "while", kids, c(3, 5), at),
    REPEAT = word_node(tree, "repeat", kids, 2, at),
    FOR = for_node(tree, kids, at),
    FUNCTION = function_node(tree, kids, tokens, at),
    "'\\\\'" = refuse_in_rules(tree, at, "A function written with `\\`", "write `function(x) ...`"),
    if (length(kids) == 2) unary_node(tree, kids, at) else switch(tokens[[2]],
      "'('" = function_call_node(tree, kids, at),
      "'['" = element_node(tree, kids, at),
      LBB = refuse_in_rules(tree, at, "`[[ ]]`", "write single brackets, as in `score[red]`"),
      binary_node(tree, kids, at)))
}

statements_node <- function(tree, rows, at) {
  outer <- tree$compares
  tree$compares <- FALSE
  on.exit(tree$compares <- outer)
  call_node("{", nodes_at(tree, rows), at)
}

# In place of a value a single `=` is meant to compare.
compared_node <- function(tree, r) {
  outer <- tree$compares
  tree$compares <- TRUE
  on.exit(tree$compares <- outer)
  node_at(tree, r)
}

nodes_at <- function(tree, rows) lapply(rows, node_at, tree = tree)

# if, while, repeat: the word first, then its parts.
word_node <- function(tree, word, kids, parts, at) {
  call_node(word, nodes_at(tree, kids[parts]), at, fn_at = span_of_row(tree, kids[[1]]))
}

for_node <- function(tree, kids, at) {
  over <- tree$children[[kids[[2]]]]
  call_node("for", list(leaf_node(tree, over[[2]]), node_at(tree, over[[4]]), node_at(tree, kids[[3]])), at,
            fn_at = span_of_row(tree, kids[[1]]))
}

function_node <- function(tree, kids, tokens, at) {
  names <- character()
  defaults <- list()
  closing <- which(tokens == "')'")[[1]]
  for (r in kids[seq_along(kids) > 2 & seq_along(kids) < closing]) {
    if (tree$data$token[[r]] == "SYMBOL_FORMALS") {
      names <- c(names, token_text(tree, r))
      defaults <- c(defaults, list(NULL))
    } else if (tree$data$token[[r]] == "expr") {
      defaults[[length(names)]] <- node_at(tree, r)
    }
  }
  list(kind = "function", params = names, defaults = defaults, body = node_at(tree, kids[[length(kids)]]), at = at)
}

function_call_node <- function(tree, kids, at) {
  fn <- node_at(tree, kids[[1]])
  if (fn$kind != "name")
    return(refuse_in_rules(tree, span_of_row(tree, kids[[1]]), "Calling what is not a plain name",
                           if (fn$kind == "call" && fn$fn == "next") "write next_seat(s) for the seat after s"
                           else "call a function by its name"))
  got <- argument_nodes(tree, kids)
  call_node(fn$name, got$args, at, got$names, fn$at, got$name_at)
}

element_node <- function(tree, kids, at) {
  got <- argument_nodes(tree, kids)
  call_node("[", c(list(node_at(tree, kids[[1]])), got$args), at, c("", got$names))
}

# The arguments of a call, split at its commas: list(args, names, name_at).
argument_nodes <- function(tree, kids) {
  rows <- kids[-c(1, 2, length(kids))]
  if (length(rows) == 0) return(list(args = list(), names = character(), name_at = list()))
  is_comma <- tree$data$token[rows] == "','"
  closing <- c(rows[is_comma], kids[[length(kids)]])
  group <- factor(cumsum(is_comma) + 1 - is_comma, levels = seq_along(closing))
  parts <- Map(argument_node, split(rows[!is_comma], group[!is_comma]), closing, MoreArgs = list(tree = tree))
  list(args = unname(lapply(parts, `[[`, "value")), names = unname(vapply(parts, `[[`, "", "name")),
       name_at = unname(lapply(parts, `[[`, "name_at")))
}

# One argument: list(value, name, name_at). `closing` is the comma or bracket behind it, the place of an empty one.
argument_node <- function(rows, closing, tree) {
  name <- ""
  value <- name_at <- NULL
  for (r in rows) {
    token <- tree$data$token[[r]]
    if (token %in% c("SYMBOL_SUB", "STR_CONST", "SYMBOL_FORMALS") && is.null(value)) {
      name <- gsub("[`\"']", "", token_text(tree, r))
      name_at <- span_of_row(tree, r)
    } else if (!token %in% c("EQ_SUB", "EQ_FORMALS")) {
      value <- node_at(tree, r)
    }
  }
  if (is.null(value)) value <- list(kind = "missing", at = span_of_row(tree, closing))
  list(value = value, name = name, name_at = if (is.null(name_at)) value$at else name_at)
}

# --- operators -----------------------------------------------------------------------

# Operators of R that rules do not have, and what to write instead.
foreign_operators <- list("->" = "write `name <- value`", "<<-" = "write `<-`", "->>" = NULL,
  "$" = "write `score[red]` or `rank(card)`", "@" = NULL, "::" = NULL, ":::" = NULL, "~" = NULL, "?" = NULL,
  "|>" = "write the call around the value", "&" = "write `&&`", "|" = "write `||`", ":=" = NULL)

unary_node <- function(tree, kids, at) {
  op <- tree$data$text[[kids[[1]]]]
  if (!op %in% c("-", "+", "!")) return(refuse_in_rules(tree, at, sprintf("`%s`", op)))
  x <- node_at(tree, kids[[2]])
  if (op == "+") x else call_node(op, list(x), at, fn_at = span_of_row(tree, kids[[1]]))
}

binary_node <- function(tree, kids, at) {
  op <- tree$data$text[[kids[[2]]]]
  op_at <- span_of_row(tree, kids[[2]])
  if (op == "=" && tree$compares) {
    tree$diagnostics <- c(tree$diagnostics, list(diagnostic(
      "habit_equals", "A single `=` does not compare.", "write `==` to compare", op_at)))
    op <- "=="
  }
  if (op == "=") {
    tree$diagnostics <- c(tree$diagnostics,
                          list(diagnostic("assign_equals", "A value is given with `<-`, not with `=`.",
                                                      "write `name <- value`", op_at)))
    op <- "<-"
  }
  if (op %in% names(foreign_operators)) {
    instead <- foreign_operators[[op]]
    if (is.null(instead)) return(refuse_in_rules(tree, op_at, sprintf("`%s`", op)))
    return(refuse_in_rules(tree, op_at, sprintf("`%s`", op), instead))
  }
  call_node(op, list(node_at(tree, kids[[1]]), node_at(tree, kids[[3]])), at, fn_at = op_at)
}
