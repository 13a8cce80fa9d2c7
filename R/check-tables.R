# Tables by one number and by two.
#
# prize <- table(row(2, 5), row(3:4, 2), otherwise = 0): a value for each number. prize(total) reads it.

check_table_thing <- function(context, name, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(declare(context, name$name, name$at, "unread"))
  is_row <- vapply(args$dots, function(a) is_call(a, "row") && length(a$args) == 2, NA)
  if (length(is_row) == 0 || !all(is_row)) {
    at <- if (length(is_row) == 0) node$at else args$dots[[which(!is_row)[[1]]]]$at
    report(context, "table_form", at, "A table has rows of two: a number or a range of numbers, and what it gives.",
           vocabulary_word("table")$example)
    return(declare(context, name$name, name$at, "unread"))
  }
  named <- unique(unlist(lapply(c(lapply(args$dots, function(a) a$args[[2]]), list(args$otherwise)), name_of_table,
                                context = context)))
  rows <- unlist(lapply(args$dots, table_rows, context = context), recursive = FALSE)
  read <- !any(vapply(rows, function(row) is.null(row$span), NA))
  spans <- lapply(rows, `[[`, "span")
  if (read) check_spans(context, spans, "table", gaps = is.null(args$otherwise))
  if (read) declare(context, name$name, name$at, "table", rows = rows, otherwise = args$otherwise, node = node,
                    members = named)
  else declare(context, name$name, name$at, "unread")
}

# An unknown name in a row becomes a label of the table.
name_of_table <- function(context, node) {
  if (identical(node$kind, "name") && is.null(context$names[[node$name]]) && is.null(vocabulary_word(node$name)))
    stats::na.omit(intern_label(context, node$name, node$at))
}

# One row for each heading: row(c(2, 12), 5) is two.
table_rows <- function(context, node) {
  lapply(listed(node$args[[1]]), function(heading)
    list(span = heading_span(context, heading, "table"), value = node$args[[2]]))
}

table_call <- function(context, scope, node, d, want) {
  if (!operand_count(context, node, 1)) return(broken(node$at))
  x <- value_of(context, scope, node$args[[1]], t_whole, sprintf("The argument of `%s`", d$name))
  values <- lapply(d$rows, function(row) table_value(context, d, row$value, want))
  rest <- if (!is.null(d$otherwise)) table_value(context, d, d$otherwise, want)
  all <- c(values, if (!is.null(rest)) list(rest))
  if (is_unknown(x$type) || any(vapply(all, function(v) is_unknown(v$type), NA))) return(broken(node$at))
  type <- Reduce(function(a, b) if (is.null(a)) NULL else join_types(a, b), lapply(all, `[[`, "type"))
  spans <- lapply(d$rows, `[[`, "span")
  if (!is.null(type) && !is_kind(type, "fraction") && all(vapply(all, `[[`, "", "op") == "lit"))
    return(table_lookup(x, type, spans, values, rest, node$at))
  table_cases(context, x, spans, values, rest, node$at, want)
}

# The value of a row: a number, a name or a setting.
table_value <- function(context, d, node, want) {
  if (identical(node$kind, "name") && match(node$name, context$labels, 0) %in% d$members)
    return(literal(match(node$name, context$labels), t_label(d$name, sort(d$members)), node$at))
  v <- check_value(context, new_scope("a table"), node, want)
  if (!v$const && !is_unknown(v$type))
    report(context, "not_constant", v$at, "A table gives numbers, names or settings.",
           "for what changes in a round write a function: function(n) if (n == 2) ... else ...")
  v
}

# One lookup, where all values are constant. Numbers without a row, also beyond the ends, give `rest`.
table_lookup <- function(x, type, spans, values, rest, at) {
  low <- min(vapply(spans, `[[`, 0, "low"))
  high <- max(vapply(spans, `[[`, 0, "high"))
  given <- if (is.null(rest)) 0 else rest$value
  cells <- rep(given, high - low + 1)
  for (k in seq_along(spans)) cells[seq(spans[[k]]$low, spans[[k]]$high) - low + 1] <- values[[k]]$value
  lookup <- function(x, first, cells) typed("lookup", type, at, x = x, first = first, values = cells, const = x$const)
  if (is.null(rest)) {
    inside <- within_span(x, list(low = low, high = high), at)
    return(typed("choose", type, at, cond = inside, yes = lookup(x, low, cells),
                 no = typed("fail", type, at, id = "grid_outside"), const = x$const, quiet = TRUE))
  }
  end <- function(fn, x, end) calculation(fn, t_whole, at, list(x, literal(end, t_whole, at)))
  lookup(end("max", end("min", x, high + 1), low - 1), low - 1, c(given, cells, given))
}

# A chain of conditions, one for each row.
table_cases <- function(context, x, spans, values, rest, at, want) {
  kept <- new_variable(context, "table", t_whole, at, "local", key = paste("table", paste(at, collapse = " ")))
  read <- typed("var", t_whole, at, var = kept)
  body <- if (is.null(rest)) typed("fail", t_unknown, at, id = "grid_outside") else rest
  for (k in rev(seq_along(spans))) {
    body <- chosen_value(context, list(values[[k]], body), within_span(read, spans[[k]], at), at, want)
    body$quiet <- TRUE
  }
  if (is_unknown(body$type)) return(body)
  typed("let", body$type, at, bindings = list(list(var = kept, value = x)), body = body)
}

# grid(down, across, cols(2:6, 7:8), row(12:17, hit, stand), ...): a table of answers by two numbers.

value_grid <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  down <- value_of(context, scope, args$down, t_whole, "The name of the rows")
  across <- value_of(context, scope, args$across, t_whole, "The name of the columns")
  is_part <- function(a, fn) a$kind == "call" && a$fn == fn
  headings <- Filter(function(a) is_part(a, "cols"), args$dots)
  rows <- Filter(function(a) is_part(a, "row"), args$dots)
  if (length(headings) != 1 || length(rows) == 0 || length(headings) + length(rows) != length(args$dots)) {
    report(context, "grid_form", node$at, "A grid is two numbers, one cols(...) and its rows.",
           vocabulary_word("grid")$example)
    return(broken(node$at))
  }
  columns <- lapply(headings[[1]]$args, heading_span, context = context, of = "grid")
  spans <- lapply(rows, function(r) if (length(r$args) > 0) heading_span(context, r$args[[1]], "grid"))
  short <- Filter(function(r) length(r$args) != length(columns) + 1, rows)
  for (r in short)
    report(context, "grid_form", r$at,
           sprintf("This row has %d answers for %d columns.", max(0, length(r$args) - 1), length(columns)),
           "give one answer for each column")
  if (length(short) > 0 || any(vapply(c(columns, spans), is.null, NA)) || is_unknown(down$type) ||
      is_unknown(across$type)) return(broken(node$at))
  for (k in list(columns, spans)) check_spans(context, k, "grid")
  kept <- lapply(list(down, across),
                 function(v)
                   new_variable(context, "grid", t_whole, node$at, "local",
                                key = paste("grid", paste(v$at, collapse = " "))))
  read <- lapply(kept, function(variable) typed("var", t_whole, node$at, var = variable))
  cells <- lapply(rows, function(r) lapply(r$args[-1], check_value, context = context, scope = scope, want = want))
  body <- grid_row(context, read, spans, columns, cells, node$at, want)
  if (is_unknown(body$type)) return(body)
  typed("let", body$type, node$at,
        bindings = Map(function(variable, v) list(var = variable, value = v), kept, list(down, across)), body = body)
}

# 2:6, or one number: list(low, high, at)
heading_span <- function(context, node, of) {
  v <- check_value(context, new_scope(sprintf("the heading of a %s", of)), node)
  ends <- if (is_kind(v$type, "range")) list(v$low, v$high) else list(v, v)
  ends <- lapply(ends, function(e) if (e$op == "calc" && e$fn == "neg" && e$args[[1]]$op == "lit")
    literal(-e$args[[1]]$value, t_whole, e$at) else e)
  if (all(vapply(ends, function(e) e$op == "lit" && is_kind(e$type, "whole"), NA)) &&
      ends[[1]]$value <= ends[[2]]$value)
    return(list(low = ends[[1]]$value, high = ends[[2]]$value, at = node$at))
  report(context, sprintf("%s_form", of), node$at,
         sprintf("A heading of a %s is a number or a range of numbers.", of), "write 12:17 or 18")
  NULL
}

# Each number is in one heading; with `gaps` those between them must be as well.
check_spans <- function(context, spans, of, gaps = TRUE) {
  spans <- spans[order(vapply(spans, `[[`, 0, "low"))]
  for (k in seq_along(spans)[-1]) {
    before <- spans[[k - 1]]$high
    here <- spans[[k]]
    if (here$low <= before)
      report(context, "grid_overlap", here$at, sprintf("%d is in two headings of this %s.", as.integer(here$low), of),
             "let each number be in one")
    if (gaps && here$low > before + 1)
      report(context, "grid_gap", here$at, sprintf("%d is in no heading of this %s.", as.integer(before + 1), of),
             if (of == "table") "add it, or say what all others give: otherwise = 0"
             else "let the headings follow one another")
  }
}

within_span <- function(x, span, at) calculation("&&", t_yesno, at, list(
  calculation("<=", t_yesno, at, list(literal(span$low, t_whole, at), x)),
  calculation("<=", t_yesno, at, list(x, literal(span$high, t_whole, at)))))

grid_row <- function(context, read, spans, columns, cells, at, want) {
  chain <- function(variable, spans, values) {
    out <- typed("fail", t_unknown, at, id = "grid_outside")
    for (k in rev(seq_along(spans)))
      out <- chosen_value(context, list(values[[k]], out), within_span(variable, spans[[k]], at), at, want)
    out
  }
  chain(read[[1]], spans, lapply(cells, function(row) chain(read[[2]], columns, row)))
}
