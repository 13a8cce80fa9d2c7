#' Try one expression of a game
#'
#' Works out an expression or a function of a game alone, without a round: what is remembered stands at
#' its start. Chance has no place in it. The name of a set of signs gives the whole table of each
#' sign against each.
#'
#' @inheritParams play_rounds
#' @param expression One expression of the rules language, as text.
#' @return The value: a number, a logical, or a text for a label. For a set of signs a character
#'   matrix of class `basanos_signs`: what the sign of the row does to the sign of the column, empty
#'   where it does not win.
#' @section Errors: Those of [game()], with places in the expression.
#' @export
#' @examples
#' try_expression("lantern-tiles", "is_bust(25)")
#' try_expression("tide-signs", "beats(reef, boat)")
#' try_expression("tide-signs", "sign")
try_expression <- function(game, expression, set = list()) {
  game <- game(game)
  if (!is.character(expression) || length(expression) != 1 || is.na(expression)) abort_input("argument_wrong", "`expression` must be one text.", "write it in quotes, as in \"is_bust(25)\"")
  signs <- game$names[[trimws(expression)]]
  if (!is.null(signs) && signs$kind == "signs") return(sign_table_of(game, signs))
  node <- several_as_list(game, parse_expression(expression))
  cx <- context_of(game)
  v <- check_value(cx, new_scope("an expression"), node)
  if (length(cx$problems) == 0 && !is_plain(v$type) && !is_pool(v$type)) wrong_type(cx, v, t_whole, "What is tried")
  blame_expression(cx$problems, expression, game$source)
  game$words <- cx$words  # what is compared here has marks of its own length
  em <- new_assembler(game, resolve_settings(game, set))
  em$players <- resolve_players(game, settings = em$settings)
  blaming_expression(expression, game$source, value_of_code(em, v))
}

# worth(A, A, 9) where worth takes one thing: the several are a list.
several_as_list <- function(game, node) {
  d <- if (node$kind == "call") game$names[[node$fn]]
  if (!identical(d$kind, "function") || length(d$params) != 1 || length(node$args) < 2 || any(nzchar(node$names))) return(node)
  node$args <- list(list(kind = "call", name = NULL, fn = "c", args = node$args, names = node$names, name_at = node$name_at, at = node$at, fn_at = node$fn_at))
  node$names <- ""
  node$name_at <- list(node$at)
  node
}

# Runs nothing but the value, from everything at its start.
value_of_code <- function(em, v) {
  write_all_starts(em)
  pool <- is_pool(v$type)
  cell <- if (pool) list(list = write_pool(em, v)) else new_cell(em, is_real(v$type))
  if (!pool) write_into(em, v, cell)
  emit(em, "END")
  stop_on_problems(em)
  program <- finished_program(em, list())
  played <- play_script(program, list(draws = rep(list(integer()), length(em$sources))))
  if (script_ends[[played$end + 1L]] == "failed") abort_problems(list(failure_problem(em$rules, program, played$failure)), em$rules$source)
  if (pool) return(vapply(list_items(em, cell$list, played$ints), value_text, "", rules = em$rules, type = v$type$of))
  got <- if (cell$real) played$reals[[cell$cell + 1L]] else played$ints[[cell$cell + 1L]]
  switch(v$type$kind, label = , card = , word = , marks = value_text(em$rules, got, v$type), yesno = got != 0, got)
}

# The items of a list, in the cells as they were left.
list_items <- function(em, list, ints) {
  base <- em$lists$get(list + 1L)[[1]] + 1L
  ints[base + seq_len(ints[[base]])]
}

sign_table_of <- function(game, signs) {
  labels <- game$labels[signs$members]
  structure(signs$verbs, dimnames = list(labels, labels), class = c("basanos_signs", "matrix"))
}

#' @export
format.basanos_signs <- function(x, ...) {
  won <- unclass(x)
  cells <- matrix(ifelse(won != "", won, ifelse(t(won) != "", "loses", "draw")), nrow(won))
  aligned(c(list(" " = rownames(x)), stats::setNames(lapply(seq_len(ncol(won)), function(j) cells[, j]), colnames(x))))
}

#' @export
print.basanos_signs <- function(x, ...) {
  writeLines(format(x))
  invisible(x)
}
