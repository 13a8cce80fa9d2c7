#' Try one expression of a game
#'
#' Works out an expression or a function of a game alone, without a round: what is remembered stands at
#' its start. Chance has no place in it. The name of a set of signs gives the whole table of each
#' sign against each.
#'
#' @inheritParams sample_tally
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
  game <- game_with(game, set)
  if (!is.character(expression) || length(expression) != 1 || is.na(expression))
    abort_input("argument_wrong", "`expression` must be one text.", "write it in quotes, as in \"is_bust(25)\"")
  signs <- game$names[[trimws(expression)]]
  if (!is.null(signs) && signs$kind == "signs") return(sign_table_of(game, signs))
  node <- several_as_list(game, parse_expression(expression))
  context <- context_of(question_of(game))
  v <- check_value(context, new_scope("an expression"), node)
  if (length(context$diagnostics) == 0 && !is_plain(v$type) && !is_collection(v$type))
    wrong_type(context, v, t_whole, "What is tried")
  blame_expression(context$diagnostics, expression, game$source)
  game$words <- context$words  # what is compared here has marks of its own length
  asm <- new_assembler(new_question(game, set))
  blaming_expression(expression, game$source, value_of_code(asm, v))
}

# worth(A, A, 9) where worth takes one thing: the several are a list.
several_as_list <- function(game, node) {
  d <- if (node$kind == "call") game$names[[node$fn]]
  if (!identical(d$kind, "function") || length(d$params) != 1 || length(node$args) < 2 || any(nzchar(node$names)))
    return(node)
  node$args <- list(list(kind = "call", name = NULL, fn = "c", args = node$args, names = node$names,
                         name_at = node$name_at, at = node$at, fn_at = node$fn_at))
  node$names <- ""
  node$name_at <- list(node$at)
  node
}

# Runs nothing but the value, from everything at its start.
value_of_code <- function(asm, v) {
  write_all_starts(asm)
  collection <- is_collection(v$type)
  register <- if (collection) list(list = write_collection(asm, v)) else new_register(asm, is_real(v$type))
  if (!collection) write_into(asm, v, register)
  emit(asm, "END")
  stop_on_diagnostics(asm)
  program <- finished_program(asm, list())
  played <- play_script(program, list(draws = rep(list(integer()), length(asm$sources))))
  if (script_ends[[played$end + 1L]] == "failed")
    abort_diagnostics(list(failure_diagnostic(asm$rules, program, played$failure)), asm$rules$source)
  if (collection)
    return(vapply(list_items(asm, register$list, played$ints), value_text, "", rules = asm$rules, type = v$type$of))
  got <- if (register$real) played$reals[[register$register + 1L]] else played$ints[[register$register + 1L]]
  switch(v$type$kind, label = , card = , word = , marks = value_text(asm$rules, got, v$type), yesno = got != 0, got)
}

# The items of a list, in the registers as they were left.
list_items <- function(asm, list, ints) {
  base <- asm$lists$get(list + 1L)[[1]] + 1L
  ints[base + seq_len(ints[[base]])]
}

sign_table_of <- function(game, signs) {
  labels <- game$labels[signs$members]
  structure(signs$verbs, dimnames = list(labels, labels), class = c(result_class("signs"), "matrix"))
}

#' @export
sections.basanos_signs <- function(x, ...) {
  won <- unclass(x)
  registers <- matrix(ifelse(won != "", won, ifelse(t(won) != "", "loses", "draw")), nrow(won))
  all_sections(section(table = c(list(" " = rownames(x)),
    stats::setNames(lapply(seq_len(ncol(won)), function(j) registers[, j]), colnames(x)))))
}
