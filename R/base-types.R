# The types of the language. A type is a list with a `kind`:
#   whole, fraction, yesno, text
#   label    `set` (its name in messages), `members` (label ids), `none` (may be nobody);
#            `order`: the ids from low to high, where the set has an order
#   card     `set`: the deck;  word  `set`: the list;  marks: of a guess.  `none` as for labels
#   list, bag  `of` (type of an item)
#   each     `of`: one value for each key of its `axes`, one or several. An axis is list(type, keys): `keys` are numbers
#            or ids from low to high
#   range    a stretch of whole numbers, or of the items `of` a set, only where one is expected
#   nothing  no value;  unknown  a diagnostic was reported, say no more

t_whole <- list(kind = "whole")
t_fraction <- list(kind = "fraction")
t_yesno <- list(kind = "yesno")
t_text <- list(kind = "text")
t_marks <- list(kind = "marks")
t_range <- list(kind = "range")
t_nothing <- list(kind = "nothing")
t_unknown <- list(kind = "unknown")
t_label <- function(set, members, none = FALSE, order = NULL)
  list(kind = "label", set = set, members = members, none = none, order = order)
t_item <- function(kind, set, none = FALSE) list(kind = kind, set = set, none = none)
t_collection <- function(kind, of) list(kind = kind, of = of)
t_each <- function(of, axes) list(kind = "each", of = of, axes = axes)
axis <- function(type, keys) list(type = type, keys = as.integer(keys))
is_by_seat <- function(type) is_kind(type, "each") && length(type$axes) == 1 && is_seat_axis(type$axes[[1]])
is_seat_axis <- function(axis) identical(axis$type$set, "seats")
is_kind <- function(type, ...) any(type$kind == c(...))
is_number <- function(type) is_kind(type, "whole", "fraction")
is_unknown <- function(type) is_kind(type, "unknown")
is_item <- function(type) is_kind(type, "card", "word")
is_nothing_label <- function(type) type$kind == "label" && length(type$members) == 0

# The types that one register can hold.
is_plain <- function(type) is_kind(type, "whole", "fraction", "yesno", "label", "card", "word", "marks", "unknown")

describe_type <- function(type) {
  switch(type$kind,
    whole = "a whole number", fraction = "a number with a fraction", yesno = "yes or no", text = "a text",
    label = if (length(type$members) == 0) type$set else sprintf("a label of `%s`", type$set),
    card = sprintf("a card of `%s`", type$set), word = sprintf("a word of `%s`", type$set),
    marks = "the marks of a guess",
    list = sprintf("a list (each item %s)", describe_type(type$of)),
    bag = sprintf("a bag (each item %s)", describe_type(type$of)),
    each = sprintf("one value for each %s (%s)", paste(vapply(type$axes, describe_axis, ""), collapse = " and each "),
                   describe_type(type$of)),
    range = "a range of numbers", nothing = "nothing", "something unclear")
}

describe_axis <- function(axis) {
  if (is_seat_axis(axis)) return("seat")
  if (!is.null(axis$type$set)) return(sprintf("of `%s`", axis$type$set))
  sprintf("number from %d to %d", min(axis$keys), max(axis$keys))
}

# The type that holds the values of both, or NULL.
join_types <- function(a, b) {
  if (is_unknown(a)) return(b)
  if (is_unknown(b)) return(a)
  if (is_number(a) && is_number(b)) return(if (a$kind == b$kind) a else t_fraction)
  if (is_item(a) && is_nothing_label(b)) return(t_item(a$kind, a$set, TRUE))
  if (is_item(b) && is_nothing_label(a)) return(t_item(b$kind, b$set, TRUE))
  if (a$kind != b$kind) return(NULL)
  if (a$kind == "card" && a$set != b$set) return(NULL)
  if (is_item(a)) return(t_item(a$kind, a$set, a$none || b$none))
  if (a$kind == "label") {
    set <- if (length(a$members) == 0) b$set else a$set
    if (length(a$members) > 0 && length(b$members) > 0 && a$set != b$set && !any(a$members %in% b$members)) return(NULL)
    return(t_label(set, sort(unique(c(a$members, b$members))), a$none || b$none, if (is.null(a$order)) b$order
      else a$order))
  }
  if (is_collection(a)) {
    of <- join_types(a$of, b$of)
    return(if (!is.null(of)) t_collection(a$kind, of))
  }
  if (a$kind == "each") {
    of <- join_types(a$of, b$of)
    return(if (!is.null(of) && same_axes(a, b)) t_each(of, a$axes))
  }
  a
}

# May a value of type `from` be stored where `to` is kept? (A whole number may become a fraction.)
fits_type <- function(from, to) {
  if (is_unknown(from) || is_unknown(to)) return(TRUE)
  if (to$kind == "fraction") return(is_number(from))
  if (is_item(to) && is_nothing_label(from)) return(TRUE)
  if (from$kind != to$kind) return(FALSE)
  if (from$kind == "card") return(from$set == to$set)
  if (from$kind == "label") return(all(from$members %in% to$members))
  if (is_collection(from)) return(fits_type(from$of, to$of))
  if (from$kind == "each") return(same_axes(from, to) && fits_type(from$of, to$of))
  TRUE
}

# One value for each place, of what each axis has for its keys; the last axis goes fastest.
along_axes <- function(parts, join) {
  Reduce(function(a, b) join(rep(a, each = length(b)), rep(b, times = length(a))), parts)
}

# One axis without gaps numbers its places by its keys; gaps between labels are never asked for.
is_numbered_by_key <- function(axes)
  length(axes) == 1 && (!is_kind(axes[[1]]$type, "whole") || all(diff(axes[[1]]$keys) == 1))
same_axes <- function(a, b) identical(lapply(a$axes, `[[`, "keys"), lapply(b$axes, `[[`, "keys"))
is_collection <- function(type) is_kind(type, "list", "bag")
item_type <- function(type) if (type$kind == "range") { if (is.null(type$of)) t_whole else type$of } else type$of
