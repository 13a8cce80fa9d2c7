# Decks. Cards that are alike in every column are one kind; a deck is how many there are of each. A
# card's name is its first column and what crosses it, as in "2 cups".

check_deck <- function(context, name, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(declare(context, name$name, name$at, "deck", card_names = character()))
  is_column <- nzchar(args$dot_names)
  rows <- deck_rows(context, node, args$dots[is_column], args$dot_names[is_column], NULL)
  crossed <- list()
  more <- list()
  for (part in args$dots[!is_column]) {
    if (part$kind == "call" && part$fn == "for_each") crossed <- c(crossed, crossed_columns(context, part))
    else if (part$kind == "call" && part$fn == "plus") more <- c(more, list(plus_rows(context, part)))
    else {
      report(context, "deck_form", part$at, "A deck is columns, for_each(...) and plus(...).",
             vocabulary_word("deck")$example)
    }
  }
  if (!is.null(rows)) rows$copies <- deck_copies(context, args$copies, rows$n)
  all <- Filter(Negate(is.null), c(list(rows), more))
  if (length(all) == 0) {
    if (length(args$dots) == 0)
      report(context, "argument_missing", node$at, "`deck` needs a column.", vocabulary_word("deck")$example)
    return(declare(context, name$name, name$at, "deck", card_names = character()))
  }
  all <- lapply(lapply(all, cross_rows, crossed = crossed), only_taken)
  finish_deck(context, name, node, all, names(all[[1]]$columns), args, names(crossed))
}

# Columns side by side: list(columns, n).
deck_rows <- function(context, node, columns, names, n) {
  values <- lapply(columns, column_values, context = context)
  if (length(values) == 0 || any(vapply(values, is.null, NA))) return(NULL)
  lengths <- vapply(values, function(v) length(v$values), 1L)
  n <- max(lengths)
  if (!all(lengths %in% c(1L, n))) {
    report(context, "column_length", columns[[which(!lengths %in% c(1L, n))[[1]]]]$at,
           sprintf("The columns have %s values.", paste(unique(lengths), collapse = " and ")),
           "give each column one value for each card, or one for all")
    return(NULL)
  }
  filled <- lapply(values, function(v) { v$values <- rep(v$values, length.out = n); v })
  list(columns = stats::setNames(filled, names), n = n)
}

crossed_columns <- function(context, part) {
  columns <- lapply(part$args, column_values, context = context)
  if (any(!nzchar(part$names)) || any(vapply(columns, is.null, NA))) {
    report(context, "deck_form", part$at, "`for_each` crosses a column with the cards.",
           "write for_each(suit = c(clubs, cups))")
    return(list())
  }
  stats::setNames(columns, part$names)
}

plus_rows <- function(context, part) {
  is_copies <- part$names == "copies"
  rows <- deck_rows(context, part, part$args[!is_copies], part$names[!is_copies], NULL)
  if (is.null(rows)) return(NULL)
  c(rows, list(copies = deck_copies(context, if (any(is_copies)) part$args[[which(is_copies)[[1]]]], rows$n)))
}

# The copies of each row: one number for all, or c(4, 2, 1) with one for each.
deck_copies <- function(context, node, n) {
  if (is.null(node)) return(rep(list(literal(1, t_whole, c(1L, 1L, 1L, 1L))), n))
  numbers <- listed(node)
  if (!length(numbers) %in% c(1L, n)) {
    report(context, "column_length", node$at,
           sprintf("There are %d numbers of copies for %d kinds.", length(numbers), n),
           "give one for each kind, or one for all")
    numbers <- numbers[1]
  }
  rep_len(lapply(numbers, copies_of_kind, context = context), n)
}

copies_of_kind <- function(node, context) {
  copies <- value_of(context, new_scope("a deck"), node, t_whole, "The number of copies")
  if (!copies$const)
    report(context, "not_constant", node$at, "The number of copies must be a number or a setting.",
           "write a number, or a setting's name")
  copies
}

# Every card with every value of each crossed column that it does not have already.
cross_rows <- function(rows, crossed) {
  for (name in setdiff(names(crossed), names(rows$columns))) {
    values <- crossed[[name]]$values
    rows$columns <- lapply(rows$columns, function(column) {
      column$values <- rep(column$values, each = length(values))
      column$taken <- rep(column$taken, each = length(values))
      column
    })
    rows$columns[[name]] <- crossed[[name]]
    rows$columns[[name]]$values <- rep(values, rows$n)
    rows$columns[[name]]$taken <- rep(crossed[[name]]$taken, rows$n)
    rows$copies <- rep(rows$copies, each = length(values))
    rows$n <- rows$n * length(values)
  }
  rows
}

# If a column goes up to a setting, cards beyond it have no copies.
only_taken <- function(rows) {
  for (column in rows$columns) if (length(column$taken) > 0)
    rows$copies <- Map(function(copies, taken)
      calculation("*", t_whole, taken$at, list(copies, typed("as_number", t_whole, taken$at, x = taken))),
      rows$copies, column$taken)
  rows
}

finish_deck <- function(context, name, node, all, columns, args, crossed) {
  lacking <- unique(unlist(lapply(all, function(rows) setdiff(columns, names(rows$columns)))))
  if (length(lacking) > 0)
    report(context, "deck_form", node$at, sprintf("Some cards of `%s` have no %s.", name$name, some_of_names(lacking)),
           sprintf("give it in plus(...) too, as in %s = none", lacking[[1]]))
  joined <- lapply(stats::setNames(nm = columns), function(column) {
    parts <- lapply(all, function(rows) rows$columns[[column]])
    label <- any(vapply(parts, function(p) isTRUE(p$label), NA))
    list(label = label, at = all[[1]]$columns[[column]]$at, values = unlist(lapply(all, function(rows) {
      v <- rows$columns[[column]]$values
      if (is.null(v)) v <- rep(if (label) "none" else 0, rows$n)
      if (label) as.character(v) else v
    })))
  })
  texts <- lapply(joined[unique(c(columns[[1]], crossed))],
                  function(column) ifelse(column$values == "none", "", as.character(column$values)))
  card_names <- trimws(do.call(paste, unname(texts)))
  copies <- unlist(lapply(all, `[[`, "copies"), recursive = FALSE)
  again <- duplicated(lapply(seq_along(card_names), function(k) lapply(joined, function(column) column$values[[k]])))
  if (any(again)) {  # the same kind said twice: its copies add up
    kept <- split(seq_along(card_names), match(card_names, unique(card_names)))
    add <- function(a, b) calculation("+", t_whole, a$at, list(a, b))
    if (length(kept) == sum(!again)) {
      copies <- unname(lapply(kept, function(k) Reduce(add, copies[k])))
      card_names <- card_names[!again]
      joined <- lapply(joined, function(column) { column$values <- column$values[!again]; column })
    }
  }
  if (any(nzchar(names(joined[[columns[[1]]]]$values))))
    report(context, "deck_form", joined[[columns[[1]]]]$at, "Cards are named by their first column: no setting there.",
           "write the numbers themselves, or a range up to the setting")
  if (anyDuplicated(card_names))
    report(context, "deck_form", node$at,
           sprintf("Two kinds of cards would both be called \"%s\".", card_names[[anyDuplicated(card_names)]]),
           "give them another first column; for several alike write copies")
  if (length(card_names) > max_kinds)
    report(context, "deck_form", node$at,
           sprintf("This deck has %d kinds of cards; the most is %d.", length(card_names), max_kinds),
           "leave columns out that no rule reads")
  lasts <- lifetime(context, args$lasts)
  if (lasts == "turn")
    report(context, "lifetime_unknown", args$lasts$at, "A deck lasts a round, a match or a sitting.",
           "leave lasts out for a fresh deck every round")
  if (!declare(context, name$name, name$at, "deck", card_names = card_names,
               first_column = as.character(joined[[columns[[1]]]]$values), copies = copies, lasts = lasts,
               type = t_item("card", name$name))) return(invisible())
  for (column in columns) declare_column(context, column, name$at, name$name, seq_along(card_names), joined[[column]])
}

# --- cards by name -----------------------------------------------------------

# --- words about decks ----------------------------------------------------------

# draw(deck): a card, which then lies nowhere but where it is put.
value_draw <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  deck <- declared_thing(context, args$deck, "deck")
  if (is.null(deck) || !may_draw(context, scope, node)) return(broken(node$at))
  if (!scope$may_write) {
    report(context, "draw_here", node$at, sprintf("No card is drawn in %s.", scope$what), "draw it in play")
    return(broken(node$at))
  }
  typed("deal", t_item("card", deck$name), node$at, deck = deck$name)
}

statement_deal <- function(context, scope, node) {
  args <- match_arguments(context, node)
  nothing <- in_order(list(), node$at)
  if (is.null(args)) return(nothing)
  n <- value_of(context, scope, args$n, t_whole, "The number of cards")
  to <- check_value(context, scope, args$to)
  if (is_unknown(to$type)) return(nothing)
  if (is_kind(to$type, "card") && is_place(to)) {
    report(context, "wrong_type", args$to$at, "`deal` puts cards into a list or bag; this is the place of one card.",
           sprintf("write %s <- draw(%s)", source_text(context$source, args$to$at), to$type$set))
    return(nothing)
  }
  if (!is_collection(to$type) || to$type$of$kind != "card" || !is_place(to)) {
    wrong_type(context, to, t_collection("bag", t_item("card", names(decks_of(context))[1])),
               "The argument `to` of `deal`")
    return(nothing)
  }
  if (!may_write(context, scope, node$at, "A place of cards")) return(nothing)
  typed("deal_to", t_nothing, node$at, n = n, place = to, deck = to$type$of$set)
}

statement_burn <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(in_order(list(), node$at))
  deck <- declared_thing(context, args$deck, "deck")
  n <- if (is.null(args$n)) literal(1, t_whole, node$at)
    else value_of(context, scope, args$n, t_whole, "The number of cards")
  if (is.null(deck) || !may_write(context, scope, node$at, "A deck")) return(in_order(list(), node$at))
  typed("burn", t_nothing, node$at, n = n, deck = deck$name)
}

statement_shuffle <- function(context, scope, node) {
  args <- match_arguments(context, node)
  nothing <- in_order(list(), node$at)
  if (is.null(args)) return(nothing)
  deck <- declared_thing(context, args$deck, "deck")
  pile <- if (!is.null(args$with)) check_value(context, scope, args$with)
  if (is.null(deck) || !may_write(context, scope, node$at, "A deck")) return(nothing)
  if (!is.null(pile) && !is_unknown(pile$type) &&
      !(is_collection(pile$type) && identical(pile$type$of$set, deck$name) && is_place(pile))) {
    wrong_type(context, pile, t_collection("bag", deck$type), "The pile to shuffle in")
    pile <- NULL
  }
  typed("shuffle", t_nothing, node$at, deck = deck$name, pile = if (!is.null(pile) && !is_unknown(pile$type)) pile)
}

# Something remembered that can be changed: a state of its own, or one of each.
is_place <- function(v) v$op %in% c("var", "at_key") && v$var$where == "state"

# move(x, from =, to =): cards are moved, never copied. Without `from`, x is itself a place, or a card
# just drawn under a name of play.
statement_move <- function(context, scope, node) {
  args <- match_arguments(context, node)
  nothing <- in_order(list(), node$at)
  if (is.null(args)) return(nothing)
  if (is_pot(context, args$to)) return(feed_pot(context, scope, node, args))
  x <- check_value(context, scope, args$x)
  to <- check_value(context, scope, args$to, if (is_collection(x$type)) x$type$of else x$type)
  from <- if (!is.null(args$from)) check_value(context, scope, args$from)
  if (any(vapply(Filter(Negate(is.null), list(x, to, from)), function(v) is_unknown(v$type), NA))) return(nothing)
  card <- if (is_collection(x$type)) x$type$of else x$type
  slot <- function(v, what) {
    of <- if (is_collection(v$type)) v$type$of else v$type
    if (is_place(v) && fits_type(card, of)) return(TRUE)
    wrong_type(context, v, t_collection("bag", card), what)
    FALSE
  }
  if (!is_item(card) && !is_kind(card, "label", "whole")) {
    wrong_type(context, x, t_item("card", "a deck"), "The first argument of `move`")
    return(nothing)
  }
  if (!slot(to, "The argument `to` of `move`") || (!is.null(from) && !slot(from, "The argument `from` of `move`")))
    return(nothing)
  if (is.null(from) && !is_place(x) && !(x$op == "var" && x$var$where == "local" && !is_collection(x$type))) {
    report(context, "move_from", args$x$at, "`move` needs the place where this lies now.",
           "say so: move(x, from = hand, to = pile)")
    return(nothing)
  }
  if (is_collection(x$type) && !is_collection(to$type)) {
    wrong_type(context, to, x$type, "The argument `to` of `move`")
    return(nothing)
  }
  if (!may_write(context, scope, node$at, "A place of cards")) return(nothing)
  typed("move", t_nothing, node$at, x = x, from = from, to = to)
}
