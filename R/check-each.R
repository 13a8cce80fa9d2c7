# One value for each key: each(seat, 0), each(1:5, none), each(1:4, 1:4, one(seats)). Every argument but the last is an
# axis; square brackets hold a key for each axis, or none for a whole row: net[row, ].

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
