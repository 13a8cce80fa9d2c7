# Typed values, whatever they are made of: where an expression may stand, one of these is called. What the kinds of
# expressions, the words and the statements come to is found by name: node_<kind>(), value_<word>() and
# statement_<word>(). So no file here needs to know them.

max_nodes <- 60000L

# The typed value of a node. `want` is the type expected, where one is: it settles bare labels.
check_value <- function(context, scope, node, want = NULL) {
  context$nodes <- context$nodes + 1L
  if (context$nodes <= max_nodes) return(get(paste0("node_", node$kind))(context, scope, node, want))
  if (is.null(context$too_large))
    report(context, "rules_too_large", node$at,
           "The rules grow beyond bounds here: functions call functions too often.",
           "assign the answer of a function once and use the name")
  context$too_large <- TRUE
  broken(node$at)
}

# What stands as a statement, by the word that it begins with.
statement_forms <- c("{" = "block", "<-" = "assign", "if" = "if", "while" = "while", "repeat" = "repeat", "for" = "for",
                     "break" = "break", "next" = "next", "return" = "return", settle = "settle")

statement <- function(context, scope, node) {
  context$nodes <- context$nodes + 1L
  if (!scope$reachable && node$kind == "call" && node$fn != "{") {
    report(context, "never_reached", node$at, "This is never reached.",
           "what comes before it always leaves; remove one of them")
    scope$reachable <- TRUE
  }
  if (node$kind == "call" && !identical(context$names[[node$fn]]$kind, "function")) {
    form <- if (word_is(node$fn, "statement")) node$fn else statement_forms[node$fn]
    if (!is.na(form)) return(get(paste0("statement_", form))(context, scope, node))
  }
  v <- check_value(context, scope, node)
  if (!is_kind(v$type, "nothing", "unknown") && v$op != "do" && v$op != "let") {
    report(context, "value_unused", node$at, "This value is not used.",
           "give it a name with <-, or remove it")
  }
  typed("effect", t_nothing, node$at, x = v)
}

# A value of a certain kind, or a diagnostic.
value_of <- function(context, scope, node, type, what) {
  v <- check_value(context, scope, node, type)
  if (fits_type(v$type, type)) return(convert(v, type))
  wrong_type(context, v, type, what)
}

wrong_type <- function(context, v, type, what) {
  hint <- NULL
  if (type$kind == "whole" && v$type$kind == "fraction") hint <- "round_down(x) or round_up(x) makes it whole"
  if (type$kind == "yesno" && is_number(v$type)) hint <- "write the comparison out, as in `x > 0`"
  if (is.null(hint)) hint <- sprintf("give %s here", describe_type(type))
  report(context, "wrong_type", v$at,
         sprintf("%s must be %s, not %s.", what, describe_type(type), describe_type(v$type)), hint)
  broken(v$at)
}

condition <- function(context, scope, node, what = "A condition") value_of(context, scope, node, t_yesno, what)

number_value <- function(context, scope, node, what) needs_number(context, check_value(context, scope, node), what)

needs_number <- function(context, v, what)
  if (is_number(v$type) || is_unknown(v$type)) v else wrong_type(context, v, t_whole, what)

convert <- function(v, type) {
  if (type$kind == "fraction" && v$type$kind == "whole")
    return(typed("to_fraction", t_fraction, v$at, x = v, const = v$const))
  v
}

calculation <- function(fn, type, at, args) {
  typed("calc", type, at, fn = fn, args = args, const = all(vapply(args, `[[`, NA, "const")))
}

operand_count <- function(context, node, n) {
  if (length(node$args) == n) return(TRUE)
  report(context, "argument_missing", node$at, sprintf("`%s` takes %d values.", node$fn, n), "write one on each side")
  FALSE
}

# --- names ------------------------------------------------------------------

# The card, word, letter or label of that name which the type wanted has, or NULL.
item_named <- function(context, text, want, at) {
  switch(want$kind,
    card = card_named(context, want$set, text, at),
    word = {
      id <- match(tolower(text), context$words$texts)
      if (!is.na(id)) literal(id, t_item("word", want$set), at)
    },
    marks = { code <- marks_code(text); if (!is.na(code)) literal(code, t_marks, at) },
    label = { id <- match(text, context$labels); if (!is.na(id) && id %in% want$members) label_of(id, want, at) },
    list = , bag = item_named(context, text, want$of, at),
    NULL)
}

label_of <- function(id, type, at) literal(id, t_label(type$set, id, order = type$order), at)

label_value <- function(context, id, at) literal(id, t_label(set_of_label(context, id), id), at)

# For messages: the set in which a label was declared first.
set_of_label <- function(context, id) {
  for (d in context$names) if (id %in% d$members || (d$kind %in% c("decision", "column") && id %in% d$type$members))
    return(d$name)
  if (id <= length(context$seats)) "seats" else context$labels[[id]]
}

# The kinds behind names of cards: whole names, or the first column alone, which is the first such card.
card_kinds <- function(d, texts) {
  whole <- match(texts, d$card_names)
  ifelse(is.na(whole), match(texts, d$first_column), whole)
}

# A card of a deck by its name, or NULL.
card_named <- function(context, deck, text, at) {
  kind <- card_kinds(context$names[[deck]], text)
  if (!is.na(kind)) literal(kind, t_item("card", deck), at)
}

decks_of <- function(context) Filter(function(d) d$kind == "deck", context$names)

# The only deck that has cards of all these names.
deck_with <- function(context, texts) {
  fits <- Filter(function(d) !anyNA(card_kinds(d, texts)), decks_of(context))
  if (length(fits) == 1) fits[[1]]$name
}

# --- variables --------------------------------------------------------------

read_variable <- function(context, scope, variable, at) {
  if (variable$where == "local" && !(variable$id %in% scope$set) && scope$reachable) {
    report(context, "maybe_unset", at, sprintf("`%s` may not have a value here.", variable$name),
           sprintf("give it one before, in every case: `%s <- ...`", variable$name))
  }
  if (!is.null(variable$node)) return(variable$node)
  if (!is.null(variable$seen_by) && !isTRUE(scope$indexing)) check_seen(context, scope, variable, NULL, at)
  typed("var", variable$type, at, var = variable)
}

# A player's rule, and what is legal, may read only what the seat that answers sees. `key` is whose, where
# there is one value for each seat.
check_seen <- function(context, scope, variable, key, at) {
  viewer <- scope$viewer
  if (is.null(viewer) || identical(variable$seen_by, "everyone")) return(invisible())
  if (variable$name %in% viewer$peeks) return(invisible())
  is_mine <- !is.null(key) && viewer$is_me(key)
  if (identical(variable$seen_by, "owner") && is_mine) return(invisible())
  if (is.numeric(variable$seen_by) && identical(as.numeric(viewer$seat), as.numeric(variable$seen_by)))
    return(invisible())
  for_seat <- is.numeric(variable$seen_by) && is.null(viewer$seat) && !is.null(scope$chooser)
  report(context, "peek", at,
         sprintf("`%s` is not seen by the seat that answers, and is read in %s.", variable$name, scope$what),
         if (for_seat) sprintf("say that the player is for that seat alone: player(%s, ...)",
                               context$seats[[variable$seen_by]])
         else viewer$hint)
}

new_local <- function(context, scope, target, v) {
  if (is_taken_word(target$name)) {
    report(context, "name_taken", target$at,
           sprintf("`%s` is a word of the language and cannot name a value.", target$name), "choose another name")
    return(NULL)
  }
  declared_local(context, scope, target, v$type)
}

# A new local variable, given a value here. Those of play are noted, for a hint where they are read elsewhere.
declared_local <- function(context, scope, target, type) {
  variable <- new_variable(context, target$name, type, target$at, "local")
  scope$vars[[target$name]] <- variable
  scope$set <- c(scope$set, variable$id)
  if (scope$what == "play") context$play_locals[[target$name]] <- type
  variable
}

may_draw <- function(context, scope, node) {
  if (scope$may_draw) return(TRUE)
  report(context, "chance_here", node$at, sprintf("Chance has no place in %s.", scope$what),
         "draw it in play, and remember it")
  FALSE
}

# --- sets and collections ---------------------------------------------------

# The set that a bare name stands for: list(type, ids), or NULL. `type` is of an item.
set_named <- function(context, name) {
  if (name == "seats") return(list(type = table_seat_type(context), ids = table_seats(context)))
  d <- context$names[[name]]
  if (is.null(d)) return(NULL)
  switch(d$kind,
    words = list(type = t_item("word", name), ids = d$ids),
    die = if (!is.null(d$members)) list(type = d$type, ids = d$members),
    column = if (is_kind(d$type, "label")) list(type = d$type, ids = d$type$order),
    if (!is.null(d$members)) list(type = t_label(name, d$members, order = d$order), ids = d$members))
}

# A set as something to go through: a range where its ids follow one another.
set_collection <- function(context, set, at) {
  end <- function(id) literal(id, t_whole, at)
  if (length(set$ids) > 0 && all(diff(set$ids) == 1))
    return(typed("range", list(kind = "range", of = set$type), at, low = end(set$ids[[1]]),
                 high = end(set$ids[[length(set$ids)]]), const = TRUE))
  typed("collection_of", t_collection("list", set$type), at,
        values = lapply(set$ids, literal, type = set$type, at = at))
}

# The collection of a word, or NULL: seats, a range, a list or bag, one value for each seat.
collection_value <- function(context, scope, node, quiet = FALSE, letters = TRUE) {
  set <- if (node$kind == "name" && is.null(scope$vars[[node$name]]) && node$name != "seats")
    set_named(context, node$name)
  if (!is.null(set)) return(set_collection(context, set, node$at))
  v <- check_value(context, scope, node)
  if (is_unknown(v$type)) return(NULL)
  if (letters) v <- letters_value(context, v)
  if (v$type$kind %in% c("list", "bag", "each", "range") || quiet) return(v)
  wrong_type(context, v, t_collection("list", t_whole), "The collection")
  NULL
}

# A word as the list of its letters.
letters_value <- function(context, v) {
  if (!is_kind(v$type, "word")) return(v)
  ids <- context$names[[v$type$set]]$ids
  typed("collection_letters",
        t_collection("list", t_label("letters", if (length(ids) > 0) letters_of_words(context, ids) else integer())),
        v$at, x = v)
}

letters_of_words <- function(context, ids) {
  sort(unique(context$words$letters[unlist(lapply(ids,
    function(w) seq(context$words$start[[w]] + 1L, context$words$start[[w + 1L]])))]))
}

# An expression about `it`, or about an item with the name `as`: list(it, body).
about_it <- function(context, scope, node, type, at, read, as = NULL) {
  if (!is.null(as)) return(about_named(context, scope, node, type, as, read))
  if (isTRUE(scope$inside_word))
    report(context, "it_inside_it", at, "`it` inside `it` would be unclear.",
           "name the outer item, as in count(1:3, as = row, all(board[row, ], it == red))")
  it <- new_variable(context, "it", type, at, "bound")
  # in pays and reasons `it` is the seat, until a word is about another
  outer <- list(it = scope$it, inside = scope$inside_word)
  scope$it <- it
  scope$inside_word <- TRUE
  body <- read(scope, node)
  scope$it <- outer$it
  scope$inside_word <- outer$inside
  list(it = it, body = body)
}

about_named <- function(context, scope, node, type, as, read) {
  name <- if (as$kind == "name") as$name else ""
  if (!nzchar(name) || !is.null(scope$vars[[name]]) || !is.null(context$names[[name]]) ||
      is_taken_word(name)) {
    report(context, "name_taken", as$at, if (nzchar(name)) sprintf("`%s` already names something else.", name)
      else "`as` takes a bare name for the item.", "choose a free name, as in count(1:3, as = row, ...)")
    name <- "an item"
  }
  it <- new_variable(context, name, type, as$at, "bound")
  scope$vars[[name]] <- it
  body <- read(scope, node)
  scope$vars[[name]] <- NULL
  list(it = it, body = body)
}
