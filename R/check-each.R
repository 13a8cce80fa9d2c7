# One value for each key: each(seat, 0), each(1:5, none), each(1:4, 1:4, one(seats)). Every argument but the last is an
# axis; square brackets hold a key for each axis, or none for a whole row: net[row, ].

most_places <- 10000

state_each <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(NULL)
  n <- length(args$dots)
  if (n < 2) {
    report(context, "argument_missing", node$at, "`each` needs its keys and a start value.",
           "write each(seat, 0) or each(1:5, 0)")
    return(NULL)
  }
  axes <- lapply(args$dots[-n], axis_of, context = context)
  if (any(vapply(axes, is.null, NA))) return(NULL)
  if (any(vapply(axes, is_seat_axis, NA))) scope$inside_each <- TRUE
  made <- state_part(context, scope, args$dots[[n]])
  if (is.null(made)) return(NULL)
  if (is_kind(made$type, "each")) {  # each(seat, each(1:5, 0)) is each(seat, 1:5, 0)
    axes <- c(axes, made$type$axes)
    made$type <- made$type$of
  }
  if (prod(lengths(lapply(axes, `[[`, "keys"))) > most_places) {
    report(context, "each_large", node$at, sprintf("This is more than %d values.", most_places),
           "use shorter ranges, or remember a list or bag of what matters")
    return(NULL)
  }
  made$type <- t_each(made$type, axes)
  made
}

seat_axis <- function(context) axis(seat_type(context), table_seats(context))

# The axis that is meant, or NULL after reporting.
axis_of <- function(context, node) {
  if (is_call(node, ":")) return(range_axis(context, node))
  name <- if (node$kind == "name") node$name else ""
  if (name == "seat") {
    if (length(table_seats(context)) > 0) return(seat_axis(context))
    report(context, "no_seats", node$at, "One value for each seat, and this game has no seats.",
           "declare them, as in seats(left, right)")
    return(NULL)
  }
  d <- context$names[[name]]
  if (identical(d$kind, "unread")) return(NULL)
  set <- set_named(context, name)
  if (!is.null(set) && name != "seats") return(axis(set$type, sort(set$ids)))
  if (identical(d$kind, "deck")) return(axis(d$type, seq_along(d$card_names)))
  keys <- numbers_of_die(d)
  if (!is.null(keys)) return(axis(t_whole, keys))
  report(context, "each_of", node$at,
         "The values are one for each seat, number of a range, name of a set, card of a deck, or face of a die.",
         if (name == "seats") "write each(seat, 0)" else "write each(seat, 0), each(1:5, 0) or each(box, 0)")
  NULL
}

# The ends are numbers, or settings: then there is a value for each number that they may come to.
range_axis <- function(context, node) {
  range <- range_of_settings(context, new_scope("the keys of `each`"), node)
  if (is.null(range)) return(NULL)
  constant <- range$low$op == "lit" && range$high$op == "lit"
  c(axis(t_whole, range$keys), if (!constant) range[c("low", "high")])
}

# list(low, high, keys): the numbers that the range may come to, whatever the settings; NULL after reporting.
range_of_settings <- function(context, scope, node) {
  range <- range_value(context, scope, node)
  if (range$op != "range") return(NULL)  # reported
  low <- end_of_setting(context, range$low, "from")
  high <- end_of_setting(context, range$high, "to")
  if (is.null(low) || is.null(high)) {
    report(context, "not_constant", node$at, "This range goes between numbers or settings with limits.",
           "write 1:5, or give the setting its from and to")
    return(NULL)
  }
  if (low > high) {
    report(context, "range_empty", node$at, "This range holds no number.", "write the lower end first")
    return(NULL)
  }
  if (high - low >= most_places) high <- low + most_places  # too many, which is reported
  list(low = range$low, high = range$high, keys = low:high)
}

# A number; of a setting the limit that is asked for.
end_of_setting <- function(context, v, limit)
  switch(v$op, lit = v$value, setting = context$settings[[v$name]][[limit]]$value)

numbers_of_die <- function(d) {
  if (!identical(d$kind, "die") || !is_kind(d$type, "whole") || is.null(d$faces)) return(NULL)
  ends <- function(low, high) if (low$op == "lit" && high$op == "lit" && low$value <= high$value) low$value:high$value
  switch(d$faces$how,
    range = ends(d$faces$low, d$faces$high),
    values = sort(unique(vapply(d$faces$values, `[[`, 0, "value"))))
}

# of[key], of[row, column], of[row, ]: a place, or a row of places.
place_of_each <- function(context, scope, node, of) {
  axes <- of$type$axes
  given <- node$args[-1]
  if (length(given) != length(axes)) return(keys_wanted(context, node, of, axes))
  keys <- Map(function(key, axis) if (key$kind != "missing") key_value(context, scope, key, axis, of), given, axes)
  if (any(vapply(keys, function(key) !is.null(key) && is_unknown(key$type), NA))) return(NULL)
  if (of$op == "slice") {  # net[row, ][column]
    free <- vapply(of$keys, is.null, NA)
    keys <- replace(of$keys, which(free), keys)
    axes <- of$axes
  }
  free <- vapply(keys, is.null, NA)
  if (all(free)) return(keys_wanted(context, node, of, axes))
  owner <- if (any(vapply(axes, is_seat_axis, NA))) keys[[which(vapply(axes, is_seat_axis, NA))[[1]]]]
  if (!is.null(of$var$seen_by)) check_seen(context, scope, of$var, owner, node$at)
  if (any(free))
    return(typed("slice", t_each(of$type$of, axes[free]), node$at, var = of$var, keys = keys, axes = axes))
  key <- if (is_numbered_by_key(axes)) keys[[1]] else typed("cell", t_whole, node$at, keys = keys, axes = axes,
                                                     const = all(vapply(keys, `[[`, NA, "const")))
  typed("at_key", of$type$of, node$at, var = of$var, key = key)
}

key_value <- function(context, scope, node, axis, of) {
  key <- value_of(context, scope, node, axis$type, "The key in these square brackets")
  if (is_unknown(key$type) || key$op != "lit" || !is_kind(axis$type, "whole") || key$value %in% axis$keys) return(key)
  report(context, "key_outside", node$at,
         sprintf("`%s` has no place %s.", of$var$name, plain_number(key$value)),
         sprintf("its places are %s", numbers_in_words(axis$keys)))
  broken(node$at)
}

keys_wanted <- function(context, node, of, axes) {
  keys <- vapply(axes, function(axis) if (is_seat_axis(axis)) "seat" else if (is.null(axis$type$set)) "number"
    else axis$type$set, "")
  name <- if (is.null(of$var$name)) "x" else of$var$name
  example <- sprintf("write %s[%s]", name, paste(keys, collapse = ", "))
  if (length(keys) > 1) example <- sprintf("%s, or %s[%s, ] for all of one %s", example, name, keys[[1]], keys[[1]])
  report(context, "index_wrong", node$at,
         sprintf("`%s` has %s, so its square brackets hold as many keys.", name,
                 count_text(length(keys), "axis", "axes")),
         example)
  NULL
}

numbers_in_words <- function(keys) {
  if (length(keys) > 1 && all(diff(keys) == 1)) sprintf("%d to %d", min(keys), max(keys))
  else some_of_names(as.character(keys))
}

# One value for each key, as the list of its values, to be compared or grouped as a whole.
row_as_list <- function(context, v) {
  if (!is_kind(v$type, "each") || !is_plain(v$type$of) || is_kind(v$type$of, "fraction")) return(v)
  it <- new_variable(context, "it", v$type$of, v$at, "bound")
  typed("collection_map", t_collection("list", v$type$of), v$at, over = v, it = it,
        body = typed("var", v$type$of, v$at, var = it))
}

# The values given for each key, in the order of the keys or by their names: a list of nodes, NULL where none is given.
# `value(node)` checks one of them.
given_places <- function(context, node, axes, value) {
  if (length(axes) == 0) return(list(value(node)))
  keys <- axes[[1]]$keys
  inner <- prod(lengths(lapply(axes[-1], `[[`, "keys")))
  by_name <- is_call(node, "c") && any(nzchar(node$names))
  parts <- if (is_call(node, "list") || by_name) node$args else given_list(node)
  names <- if (is_call(node, "list") || by_name) node$names else rep("", length(parts))
  all <- rep(list(NULL), length(keys) * inner)
  if (length(parts) > length(keys))
    report(context, "given_unknown", node$at, sprintf("%d values are given for %d keys.", length(parts), length(keys)),
           "give one for each key, in order")
  for (k in seq_along(parts)) {
    key <- if (nzchar(names[[k]])) match(key_named(context, names[[k]], axes[[1]]), keys) else k
    if (is.na(key)) {
      report(context, "given_unknown", parts[[k]]$at, sprintf("`%s` is not one of the keys.", names[[k]]),
             "give the values in order, or by the names of the keys")
    } else if (key <= length(keys)) {
      all[(key - 1) * inner + seq_len(inner)] <- given_places(context, parts[[k]], axes[-1], value)
    }
  }
  all
}

key_named <- function(context, name, axis) {
  if (is_kind(axis$type, "label")) match(name, context$labels)
  else if (is_kind(axis$type, "whole")) suppressWarnings(as.integer(name)) else NA
}

# The number of places: of seats, those that are taken.
size_of_each <- function(context, type, at) {
  sizes <- lapply(type$axes, function(axis)
    if (is_seat_axis(axis)) seats_count(context, at)
    else if (is.null(axis$low)) literal(length(axis$keys), t_whole, at)
    else Reduce(function(a, b) calculation("-", t_whole, at, list(a, b)),
                list(axis$high, axis$low, literal(-1, t_whole, at))))
  Reduce(function(a, b) calculation("*", t_whole, at, list(a, b)), sizes)
}
