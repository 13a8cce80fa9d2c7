# The call of a result: the function and its arguments, from which the call can be made again.

# Called first in an exported function, before its arguments are changed: list(fun, args), the arguments that are not as
# usual. Progress is no part of it. What `...` has goes on to the function `further`.
asked_here <- function(fun, further = NULL) {
  frame <- parent.frame()
  usual <- formals(sys.function(-1))
  args <- list()
  for (name in setdiff(names(usual), c("...", "progress"))) {
    if (eval(call("missing", as.name(name)), frame)) next
    value <- get(name, frame)
    if (!is_usual(value, usual[[name]], frame)) args[name] <- list(asked_argument(value))
  }
  more <- if ("..." %in% names(usual)) eval(quote(list(...)), frame)
  refuse_unknown(names(more), c(names(usual), if (!is.null(further)) names(formals(further))), fun)
  list(fun = fun, args = c(args, more[setdiff(names(more), "progress")]))
}

# Of a game only its file is kept, of a result only its call.
asked_argument <- function(value) {
  if (inherits(value, "basanos_game")) return(asked_game(value))
  if (inherits(value, "basanos_result")) return(structure(list(asked = value$asked), class = "basanos_result"))
  if (is.list(value) && any(vapply(value, inherits, NA, "basanos_game"))) return(lapply(value, asked_argument))
  value
}

asked_game <- function(game)
  structure(list(source = game$source[intersect(c("name", "folder", "players_file"), names(game$source))]),
            class = "basanos_asked_game")

# A misspelt argument is not passed on.
refuse_unknown <- function(given, known, fun) {
  unknown <- setdiff(given[nzchar(given)], known)
  if (length(unknown) == 0) return(invisible())
  abort_input("argument_unknown", sprintf("`%s()` takes no argument `%s`.", fun, unknown[[1]]),
              or_spelling(did_you_mean(unknown[[1]], setdiff(known, "...")), sprintf("see ?%s", fun)))
}

# The result with its call.
with_call <- function(result, asked) {
  result$asked <- asked
  result
}

is_usual <- function(value, default, frame) {
  if (is.symbol(default) && !nzchar(as.character(default))) return(FALSE)  # an argument without a default
  default <- eval(default, frame)
  if (is.numeric(value) && is.numeric(default))
    return(length(value) == length(default) && isTRUE(all(value == default)))
  identical(value, default) || identical(value, default[1]) || length(value) == 0 && length(default) == 0
}

#' The call that makes a result again
#'
#' `call_of()` gives the R call, `command_of()` the command line, with all that is not as usual.
#'
#' @param x A result.
#' @return `call_of()`: a call; its game is written as its path or name, rules given in braces or as a text as
#'   `rules`. `command_of()`: one text, quoted for the shell.
#' @section Errors: `argument_wrong` for what was not asked by one function (rounds by [simulate()], tallies), and
#'   where there is no such command line (rules without a file).
#' @export
#' @examples
#' o <- odds("lantern-tiles", set = list(aim = 21))
#' call_of(o)
#' command_of(o)
call_of <- function(x) {
  if (is.null(x$asked)) abort_input("argument_wrong", "This result does not know the call that made it.",
                                    "results of odds(), sweep_game() and the like do")
  as.call(c(as.name(x$asked$fun), Map(written_argument, x$asked$args)))
}

written_argument <- function(value) {
  if (inherits(value, "basanos_asked_game")) return(written_game(value))
  if (inherits(value, "basanos_result")) return(call_of(value))
  if (is.list(value) && any(vapply(value, inherits, NA, "basanos_asked_game")))
    return(as.call(c(as.name("list"), lapply(unname(value), written_argument))))
  value
}

written_game <- function(game) {
  if (is.null(game$source$folder)) return(as.name("rules"))
  path <- path_of_game(game$source)
  if (is.null(game$source$players_file)) path else call("game", path, game$source$players_file)
}

# The layer of commands puts its writer of command lines here, for what is below it.
writers <- new.env(parent = emptyenv())
command_line <- function(x) writers$command_line(x)
