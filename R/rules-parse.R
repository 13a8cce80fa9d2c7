# From lines of text to parsed rules: a list of nodes, one a top-level declaration. R's parser reads
# each chunk; nothing is ever evaluated.
#
# A node has `kind` and `at` (line, column, last line, last column), and by kind
#   number    value, text          name      name
#   text      value                missing   (an empty argument)
#   call      fn, args (nodes), names (argument names, "" where none), fn_at
#   function  params (names), defaults (nodes or NULL), body
# Operators and R's own words are calls, as in R: `if`, `while`, `{`, `<-`, `[`, `+`.

parse_rules <- function(source) {
  chunks <- cut_chunks(source$lines)
  problems <- chunks$problems
  nodes <- list()
  unread <- character()  # what the chunks that could not be read would have declared
  starts <- chunks$starts
  if (length(starts) == 0 || starts[[1]] > 1) starts <- unique(c(1L, starts))
  ends <- c(starts[-1] - 1L, length(source$lines))
  for (k in seq_along(starts)) {
    habits <- find_habits(chunks$masked, starts[[k]], ends[[k]])
    problems <- c(problems, habits)
    parsed <- NULL
    if (length(habits) == 0 && !starts[[k]] %in% chunks$skip && !(starts[[k]] == 1 && 0 %in% chunks$skip)) {
      parsed <- parse_chunk(source$lines[starts[[k]]:ends[[k]]], starts[[k]] - 1L)
      problems <- c(problems, parsed$problems)
      nodes <- c(nodes, parsed$nodes)
    }
    if (length(parsed$nodes) == 0) unread <- c(unread, names_in_unread(chunks$masked[starts[[k]]:ends[[k]]]))
  }
  list(nodes = nodes, problems = problems, unread = unread)
}

# What a chunk that cannot be read would have declared: the name before `<-` or the word before the
# bracket at its start, and the decisions it asks for.
names_in_unread <- function(masked) {
  text <- paste(masked, collapse = " ")
  asked <- regmatches(text,
                      gregexpr("\\bask\\s*\\([^,()]*,\\s*\\K[A-Za-z.][A-Za-z0-9._]*(?=\\s*=)", text, perl = TRUE))[[1]]
  c(regmatches(masked[[1]], regexpr("^[A-Za-z.][A-Za-z0-9._]*", masked[[1]])), asked)
}

parse_chunk <- function(lines, shift) {
  parsed <- tryCatch(parse(text = lines, keep.source = TRUE, encoding = "UTF-8"), error = identity)
  if (inherits(parsed, "error")) return(list(nodes = list(), problems = list(syntax_diagnostic(parsed, lines, shift))))
  if (length(parsed) == 0) return(list(nodes = list(), problems = list()))
  data <- utils::getParseData(parsed)
  build <- node_builder(data, lines, shift)
  roots <- data$id[data$parent == 0 & data$token != "COMMENT" & data$token != "';'"]
  nodes <- lapply(roots, build$node)
  list(nodes = nodes, problems = build$problems())
}

syntax_diagnostic <- function(error, lines, shift) {
  said <- conditionMessage(error)
  place <- regmatches(said, regexec(":([0-9]+):([0-9]+): (.*)", said))[[1]]
  if (length(place) == 0) {  # R has no place for a lone `_`
    line <- max(1L, grep("(^|[^A-Za-z0-9._])_", lines)[1L], na.rm = TRUE)
    return(diagnostic("syntax", "This cannot be read.",
                      "look for a `_` that is part of no name, or for what is missing or doubled",
                      c(shift + line, 1L, shift + line, nchar(lines[[line]]))))
  }
  line <- min(as.integer(place[[2]]), length(lines))
  col <- max(1L, as.integer(place[[3]]))
  what <- sub("\n.*", "", place[[4]])
  message <- switch(what,
    "unexpected end of input" = "Something is missing at the end of this.",
    "unexpected symbol" = "A name comes here where none can follow.",
    "unexpected numeric constant" = "A number comes here where none can follow.",
    "unexpected string constant" = "A text comes here where none can follow.",
    "unexpected 'else'" = "This `else` belongs to no `if`.",
    paste0("This is out of place here: ", sub("unexpected ", "", what), "."))
  hint <- switch(what,
    "unexpected symbol" = , "unexpected numeric constant" = ,
    "unexpected string constant" = "is a comma, an operator or a line break missing just before it?",
    "unexpected end of input" = "finish the expression",
    "unexpected 'else'" = "put `else` on the line where the `}` before it stands",
    "look just before it for something missing or doubled")
  diagnostic("syntax", message, hint, c(shift + line, col, shift + line, col))
}

# Turns R's table of parse data into nodes.
node_builder <- function(data, lines, shift) {
  data <- data[data$token != "COMMENT", ]
  children <- split(seq_len(nrow(data)), factor(data$parent, levels = unique(data$parent)))
  row_of <- function(id) match(id, data$id)
  problems <- list()
  refuse <- function(at, what, hint) {
    if (is.null(hint)) hint <- "leave it out: rules have only the words that vocabulary() lists"
    problems[[length(problems) + 1L]] <<- diagnostic("not_in_language",
      sprintf("%s is not part of the language.", what), hint, at)
    list(kind = "broken", at = at)
  }
  span <- function(r) c(data$line1[[r]] + shift, data$col1[[r]],
                        data$line2[[r]] + shift, data$col2[[r]])
  token_text <- function(r) {
    text <- data$text[[r]]
    if (!startsWith(text, "[")) return(text)
    substr(lines[[data$line1[[r]]]], data$col1[[r]], data$col2[[r]])  # R shortens long texts in its table
  }
  call_node <- function(fn, args, at, names = rep("", length(args)), fn_at = at, name_at = lapply(args, `[[`, "at")) {
    list(kind = "call", name = NULL, fn = fn, args = args, names = names, name_at = name_at, at = at, fn_at = fn_at)
  }
  leaf <- function(r) {
    at <- span(r)
    text <- token_text(r)
    switch(data$token[[r]],
      SYMBOL = , SYMBOL_FUNCTION_CALL = list(kind = "name", name = gsub("`", "", text), at = at),
      NUM_CONST = number_node(text, at),
      STR_CONST = list(kind = "text", value = parse(text = text, keep.source = FALSE)[[1]], at = at),
      NULL_CONST = refuse(at, "`NULL`", "use `none` for no card, no seat, no word"),
      NEXT = call_node("next", list(), at),
      BREAK = call_node("break", list(), at),
      refuse(at, sprintf("`%s`", text), NULL))
  }
  number_node <- function(text, at) {
    if (text %in% c("TRUE", "FALSE")) return(list(kind = "name", name = if (text == "TRUE") "yes" else "no", at = at))
    if (text %in% c("Inf", "NaN") || startsWith(text, "NA"))
      return(refuse(at, sprintf("`%s`", text), "use `none` for what is not there"))
    if (grepl("^0[0-9]|x|X|L$|i$", text))
      return(refuse(at, sprintf("The number `%s`", text), "write it as a plain decimal number"))
    value <- as.numeric(text)
    if (!is.finite(value) || value >= 2^31)
      return(refuse(at, sprintf("The number `%s`", text), "numbers stay below 2147483648"))
    list(kind = "number", value = value, fraction = grepl(".", text, fixed = TRUE) || value != floor(value), at = at)
  }
  arguments <- function(rows, closing_at) {
    args <- list()
    names <- character()
    name_at <- list()
    name <- ""
    value <- place <- NULL
    flush <- function(at) {
      arg <- if (is.null(value)) list(kind = "missing", at = at) else value
      args[[length(args) + 1L]] <<- arg
      names[[length(names) + 1L]] <<- name
      name_at[[length(name_at) + 1L]] <<- if (is.null(place)) arg$at else place
      place <<- NULL
      name <<- ""
      value <<- NULL
    }
    for (r in rows) {
      token <- data$token[[r]]
      if (token == "','") flush(span(r))
      else if (token %in% c("SYMBOL_SUB", "STR_CONST", "SYMBOL_FORMALS") && is.null(value)) {
        name <- gsub("[`\"']", "", token_text(r))
        place <- span(r)
      }
      else if (token %in% c("EQ_SUB", "EQ_FORMALS")) next
      else value <- node_at(r)
    }
    if (length(rows) > 0) flush(closing_at)
    list(args = args, names = names, name_at = name_at)
  }
  node_at <- function(r) {
    kids <- children[[as.character(data$id[[r]])]]
    if (is.null(kids)) return(leaf(r))
    tokens <- data$token[kids]
    at <- span(r)
    head <- tokens[[1]]
    last <- length(kids)
    if (length(kids) == 1) return(node_at(kids))
    if (head == "'('") return(node_at(kids[[2]]))
    if (head == "'{'") {
      inner <- kids[!tokens %in% c("'{'", "'}'", "';'")]
      return(call_node("{", lapply(inner, node_at), at))
    }
    if (head == "IF")
      return(call_node("if", lapply(kids[tokens %in% c("expr", "equal_assign", "expr_or_assign_or_help")], node_at), at,
                       fn_at = span(kids[[1]])))
    if (head == "WHILE") return(call_node("while", lapply(kids[c(3, 5)], node_at), at, fn_at = span(kids[[1]])))
    if (head == "REPEAT") return(call_node("repeat", list(node_at(kids[[2]])), at, fn_at = span(kids[[1]])))
    if (head == "FOR") {
      cond <- children[[as.character(data$id[[kids[[2]]]])]]
      return(call_node("for", list(leaf(cond[[2]]), node_at(cond[[4]]), node_at(kids[[3]])), at,
                       fn_at = span(kids[[1]])))
    }
    if (head %in% c("FUNCTION", "'\\\\'")) {
      if (head != "FUNCTION") return(refuse(at, "A function written with `\\`", "write `function(x) ...`"))
      formals <- arguments_of_function(kids, tokens)
      return(list(kind = "function", params = formals$names, defaults = formals$defaults, body = node_at(kids[[last]]),
                  at = at))
    }
    if (last == 2) return(unary(kids, tokens, at))
    operator <- tokens[[2]]
    if (operator == "'('") {
      fn <- node_at(kids[[1]])
      if (fn$kind != "name")
        return(refuse(span(kids[[1]]), "Calling what is not a plain name", "call a function by its name"))
      got <- arguments(kids[-c(1, 2, last)], span(kids[[last]]))
      return(call_node(fn$name, got$args, at, got$names, fn$at, got$name_at))
    }
    if (operator == "'['") {
      got <- arguments(kids[-c(1, 2, last)], span(kids[[last]]))
      return(call_node("[", c(list(node_at(kids[[1]])), got$args), at, c("", got$names)))
    }
    if (operator == "LBB") return(refuse(at, "`[[ ]]`", "write single brackets, as in `score[red]`"))
    binary(kids, tokens, at)
  }
  arguments_of_function <- function(kids, tokens) {
    inner <- kids[3:(which(tokens == "')'")[[1]] - 1L)]
    if (tokens[[3]] == "')'") return(list(names = character(), defaults = list()))
    names <- character()
    defaults <- list()
    for (r in inner) {
      if (data$token[[r]] == "SYMBOL_FORMALS") {
        names <- c(names, token_text(r))
        defaults <- c(defaults, list(NULL))
      } else if (data$token[[r]] == "expr") defaults[[length(names)]] <- node_at(r)
    }
    list(names = names, defaults = defaults)
  }
  unary <- function(kids, tokens, at) {
    op <- data$text[[kids[[1]]]]
    if (!op %in% c("-", "+", "!")) return(refuse(at, sprintf("`%s`", op), NULL))
    x <- node_at(kids[[2]])
    if (op == "+") x else call_node(op, list(x), at, fn_at = span(kids[[1]]))
  }
  binary <- function(kids, tokens, at) {
    op <- data$text[[kids[[2]]]]
    op_at <- span(kids[[2]])
    if (op == "=" ) {
      problems[[length(problems) + 1L]] <<- diagnostic("assign_equals", "A value is given with `<-`, not with `=`.",
        "write `name <- value`", op_at)
      op <- "<-"
    }
    hint <- c("->" = "write `name <- value`", "<<-" = "write `<-`", "$" = "write `score[red]` or `rank(card)`",
              "@" = NULL,
              "::" = NULL, ":::" = NULL, "~" = NULL, "?" = NULL, "|>" = "write the call around the value",
              "&" = "write `&&`", "|" = "write `||`")
    if (op %in% c("->", "<<-", "->>", "$", "@", "::", ":::", "~", "?", "|>", "&", "|", ":=")) {
      return(refuse(op_at, sprintf("`%s`", op), if (op %in% names(hint)) hint[[op]]))
    }
    call_node(op, list(node_at(kids[[1]]), node_at(kids[[3]])), at, fn_at = op_at)
  }
  list(node = function(id) node_at(row_of(id)), problems = function() problems)
}
