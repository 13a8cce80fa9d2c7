#' Read the rules of a game
#'
#' Reads and checks a rules file, one of the fair's games by name, or rules written inline. Nothing
#' in the rules is evaluated as R code.
#'
#' @param rules A path to a rules file, the name of one of the fair's games (see [fair_games()]), or
#'   rules in braces: `game({ ... })`, also quoted; or the text of the rules, as `readLines()` gives it.
#' @param players_file The path of a file with more players (and functions for them), or `NULL`.
#' @return An object of class `basanos_game`: the checked rules.
#' @section Errors: A `basanos_error` that carries all that was found; its `diagnostics` field has
#'   for each the id, place, message and hint, and the condition has the class
#'   `basanos_<id>` for each id.
#' @export
#' @examples
#' game("tide-signs")
#' game({
#'   seats(guest)
#'   cube <- die(1:6)
#'   state(face = 0)
#'   play({
#'     face <- roll(cube)
#'   })
#'   outcomes(high = face > 4, low = otherwise)
#'   pays(guest, high = 2, low = -1)
#' })
game <- function(rules, players_file = NULL) {
  written <- substitute(rules)
  if (is.call(written) && identical(written[[1]], as.name("{"))) {
    return(new_game(check_rules(source_of_text(inline_text(written), "inline rules"))))
  }
  if (is_game(rules)) return(rules)
  text <- if (is_rules_text(rules)) paste(rules, collapse = "\n")
    else if (is.call(rules) && identical(rules[[1]], as.name("{"))) inline_text(rules)
  if (!is.null(text)) return(new_game(check_rules(source_of_text(text, "inline rules"))))
  source <- read_source(find_rules(rules))
  source$players_file <- players_file
  new_game(check_rules(source, players_file))
}

# Lines of rules, as readLines() gives them, or one text of several lines; no path and no name.
is_rules_text <- function(x) is.character(x) && any(grepl("\n", x, fixed = TRUE) | grepl("(<-|\\()", x) & length(x) > 1)

# The text between the braces, as it was written where R kept it.
inline_text <- function(written) {
  kept <- attr(written, "wholeSrcref")
  refs <- attr(written, "srcref")
  if (!is.null(refs) && length(refs) > 1) {
    lines <- unlist(lapply(refs[-1], as.character))
    return(paste(lines, collapse = "\n"))
  }
  paste(unlist(lapply(as.list(written)[-1], deparse)), collapse = "\n")
}

# The same game with other declarations, checked and built anew.
game_of_nodes <- function(game, nodes) {
  new_game(check_parsed(list(nodes = nodes, source = game$source, diagnostics = list(), variant = game$variant)))
}

# Compiled once as it is, so that what only shows then (a range that is empty, a setting outside
# its own range) is reported with the rest. The program is kept: most questions are about the rules as they stand.
new_game <- function(checked) {
  question <- new_question(checked)
  built <- list(question = question, program = build_program(question))
  structure(c(checked, list(built = built)), class = result_class("game"))
}

#' @rdname game
#' @param x Any object.
#' @export
is_game <- function(x) inherits(x, "basanos_game")

#' @export
sections.basanos_game <- function(x, ...) {
  settings <- resolve_settings(x)
  line <- function(what, items) if (length(items) > 0) sprintf("  %-9s %s", what, paste(items, collapse = ", "))
  all_sections(section(if (is.null(x$title)) x$source$name else x$title, notes = c(
    if (!is.null(x$line)) paste0("  ", x$line),
    line("settings", sprintf("%s = %s", names(settings), vapply(settings, format, ""))),
    line("seats", x$seats),
    line("decisions", names(x$decisions)),
    line("players", names(x$players)),
    line("outcomes", x$outcomes$names),
    line("records", names(x$records)))))
}

game_title <- function(game) if (is.null(game$title)) name_of_file(game$source) else game$title
