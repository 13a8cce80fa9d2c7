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
