#' Read the rules of a game
#'
#' Reads and checks a rules file, one of the fair's games by name, or rules written inline. Rules are not evaluated as R
#' code, except for `!!x` in rules in braces.
#'
#' @param rules A path to a rules file, the name of one of the fair's games (see [fair_games()]), or
#'   rules in braces: `game({ ... })`, also quoted; or the text of the rules, as `readLines()` gives it. In braces
#'   `!!x` puts in the value that `x` has in R: numbers, texts, yes or no; several are written `c(...)`.
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
#' prize <- 2.5
#' game({
#'   seats(guest)
#'   cube <- die(1:6)
#'   state(face = 0)
#'   play(face <- roll(cube))
#'   outcomes(high = face > 4, low = otherwise)
#'   pays(guest, high = !!prize, low = -1)
#' })
game <- function(rules, players_file = NULL) {
  written <- substitute(rules)
  if (!is_in_braces(written)) written <- rules
  if (is_game(written)) return(written)
  text <- if (is_in_braces(written)) with_values(inline_text(written), parent.frame())
    else if (is_rules_text(written)) paste(written, collapse = "\n")
  if (!is.null(text)) return(new_game(check_rules(source_of_text(text, "inline rules"))))
  path <- find_rules(rules)
  if (is.null(players_file) && path != rules) return(fair_game(path))
  read_game(path, players_file)
}

read_game <- function(path, players_file = NULL) {
  source <- read_source(path)
  source$players_file <- players_file
  if (!is.null(players_file)) source$folders <- c(source$folders, dirname(players_file))
  new_game(check_rules(source, players_file))
}

# The fair's games do not change: each is read once in a session.
read_of_fair <- new.env(parent = emptyenv())

fair_game <- function(path) {
  if (is.null(read_of_fair[[path]])) assign(path, read_game(path), envir = read_of_fair)
  read_of_fair[[path]]
}

# Lines of rules, as readLines() gives them, or one text of several lines; no path and no name.
is_rules_text <- function(x) is.character(x) && any(grepl("\n", x, fixed = TRUE) | grepl("(<-|\\()", x) & length(x) > 1)

is_in_braces <- function(x) is.call(x) && identical(x[[1]], as.name("{"))

# The text between the braces, as it was written where R kept it.
inline_text <- function(written) {
  refs <- attr(written, "srcref")
  if (!is.null(refs) && length(refs) > 1) {
    lines <- unlist(lapply(refs[-1], as.character))
    return(paste(lines, collapse = "\n"))
  }
  paste(unlist(lapply(as.list(written)[-1], deparse)), collapse = "\n")
}

# Replaces each `!!x` in the text by the value of x in R, in the environment of the call.
with_values <- function(text, env) {
  if (!grepl("!!", text, fixed = TRUE)) return(text)
  data <- utils::getParseData(parse(text = text, keep.source = TRUE), includeText = TRUE)
  negated <- data$parent[data$token == "'!'"]
  outer <- data[data$id %in% negated & !data$parent %in% negated, ]
  inner <- data[data$id %in% negated & data$parent %in% outer$id, ]
  lines <- strsplit(text, "\n", fixed = TRUE)[[1]]
  for (k in rev(order(inner$line1, inner$col1))) {
    from <- outer[outer$id == inner$parent[[k]], ]
    value <- value_in_rules(data$text[data$parent == inner$id[[k]] & data$token == "expr"], env)
    head <- substr(lines[[from$line1]], 1, from$col1 - 1)
    tail <- substring(lines[[from$line2]], from$col2 + 1)
    lines[from$line1:from$line2] <- c(paste0(head, value, tail), rep("", from$line2 - from$line1))
  }
  paste(lines, collapse = "\n")
}

value_in_rules <- function(text, env) {
  wrong <- function(why) abort_input("argument_wrong", sprintf("`!!%s`: %s.", text, why),
                                     "put in numbers, texts, yes or no; what is of the rules stands before it: x > !!n")
  value <- tryCatch(eval(parse(text = text), env), error = function(e) wrong(conditionMessage(e)))
  if (!is.atomic(value) || length(value) == 0 || anyNA(value)) wrong("this is not a value that rules can have")
  items <- if (is.numeric(value)) ifelse(as.numeric(sprintf("%.15g", value)) == value, sprintf("%.15g", value),
                                         sprintf("%.17g", value))
    else if (is.logical(value)) ifelse(value, "yes", "no")
    else if (is.character(value)) encodeString(value, quote = "\"")
    else wrong("this is not a value that rules can have")
  if (length(items) == 1) items else sprintf("c(%s)", paste(items, collapse = ", "))
}

# The same game with other declarations, checked and built anew.
game_of_nodes <- function(game, nodes) {
  new_game(check_parsed(list(nodes = nodes, source = game$source, diagnostics = list(), variant = game$variant)))
}

# Compiled once as it is, so that what only shows then (a range that is empty, a setting outside
# its own range) is reported with the rest.
# The program finds what only the whole of the rules shows. Seats that no player of the file can take are left open.
new_game <- function(checked) {
  game <- structure(checked, class = result_class("game"))
  open <- Filter(function(seat) length(unanswered_decisions(game, seat)) > 0, seq_along(game$seats))
  question <- question_of(game)
  program_of(with_choices(if (length(open) > 0) with_open(question, open) else question))
  game
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

# Numbers of the rules turned as if they were settings: what an outcome pays, copies, weights.

# The game, in which each number of the rules that `set` names, as pay(bright), is a setting under its full name.
game_with <- function(game, set = list()) {
  game <- game(game)
  is_number <- function(name) grepl("(", name, fixed = TRUE) &&
    is.null(game$settings[[name_of_set_number(game, name)]])
  named <- Filter(is_number, names(set))
  with_numbers(game, lapply(named, number_to_set, game = game, values = set))
}

number_to_set <- function(game, name, values) {
  sites <- numbers_named_so(game, name)
  if (length(sites) != 1)
    abort_input("setting_unknown", sprintf("`%s` is %s number of these rules.", name, if (length(sites) == 0) "no" else
      "more than one"), sprintf("there is %s", some_of_names(vapply(numbers_in_rules(game$nodes), `[[`, "", "name"))))
  values <- suppressWarnings(as.numeric(unlist(values[[name]])))
  if (anyNA(values) || sites[[1]]$kind == "letters")
    abort_input("setting_type", sprintf("`%s` takes a number.", name), "write \"pay(bright)\" = 3")
  list(name = sites[[1]]$name, site = sites[[1]], values = values)
}

# The numbers of that name, which may leave out what is clear: pay(bright) for pay(guest, bright).
numbers_named_so <- function(game, name) {
  sites <- numbers_in_rules(game$nodes)
  plain <- gsub("\\s", "", name)
  whole <- vapply(sites, function(s) gsub("\\s", "", s$name), "")
  if (sum(whole == plain) == 1) return(sites[whole == plain])
  Filter(function(s) sprintf("%s(%s)", s$kind, paste(s$parts[-1], collapse = ",")) == plain, sites)
}

# The game in which each of some numbers, list(name, site, values), is a setting under its name.
with_numbers <- function(game, turned) {
  if (length(turned) == 0) return(game)
  nodes <- game$nodes
  for (number in turned) {
    at <- number$site$at
    name <- list(kind = "name", name = number$name, at = at)
    nodes <- node_replaced(nodes, at, name)
    start <- number_node_of(number$site$value, at, any(number$values != floor(number$values)))
    nodes <- c(list(call_node("<-", list(name, call_node("setting", list(start), at)), at)), nodes)
  }
  game_of_nodes(game, nodes)
}

number_node_of <- function(value, at, fraction = value != floor(value)) {
  node <- list(kind = "number", value = abs(value), fraction = fraction, at = at)
  if (value < 0) call_node("-", list(node), at) else node
}
