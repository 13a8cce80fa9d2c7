# The types of the language. A type is a list with a `kind`:
#   whole, fraction, yesno, text
#   label    `set` (its name in messages), `members` (label ids), `none` (may be nobody)
#   list, bag  `of` (type of an item)
#   each     `of`: one value for each seat
#   range    a stretch of whole numbers, only where one is expected
#   nothing  no value;  unknown  a problem was reported, say no more

t_whole <- list(kind = "whole")
t_fraction <- list(kind = "fraction")
t_yesno <- list(kind = "yesno")
t_text <- list(kind = "text")
t_range <- list(kind = "range")
t_nothing <- list(kind = "nothing")
t_unknown <- list(kind = "unknown")
t_label <- function(set, members, none = FALSE) list(kind = "label", set = set, members = members, none = none)
t_collection <- function(kind, of) list(kind = kind, of = of)

is_kind <- function(type, ...) type$kind %in% c(...)
is_number <- function(type) is_kind(type, "whole", "fraction")
is_unknown <- function(type) is_kind(type, "unknown")

describe_type <- function(type) {
  switch(type$kind,
    whole = "a whole number", fraction = "a number with a fraction", yesno = "yes or no", text = "a text",
    label = if (length(type$members) == 0) "nobody" else sprintf("a label of `%s`", type$set),
    list = sprintf("a list (each item %s)", describe_type(type$of)),
    bag = sprintf("a bag (each item %s)", describe_type(type$of)),
    each = sprintf("one value for each seat (%s)", describe_type(type$of)),
    range = "a range of numbers", nothing = "nothing", "something unclear")
}

# The type that holds the values of both, or NULL.
join_types <- function(a, b) {
  if (is_unknown(a)) return(b)
  if (is_unknown(b)) return(a)
  if (is_number(a) && is_number(b)) return(if (a$kind == b$kind) a else t_fraction)
  if (a$kind != b$kind) return(NULL)
  if (a$kind == "label") {
    set <- if (length(a$members) == 0) b$set else a$set
    if (length(a$members) > 0 && length(b$members) > 0 && a$set != b$set && !any(a$members %in% b$members)) return(NULL)
    return(t_label(set, sort(unique(c(a$members, b$members))), a$none || b$none))
  }
  if (a$kind %in% c("list", "bag", "each")) {
    of <- join_types(a$of, b$of)
    return(if (!is.null(of)) t_collection(a$kind, of))
  }
  a
}

# May a value of type `from` be stored where `to` is kept? (A whole number may become a fraction.)
fits_type <- function(from, to) {
  if (is_unknown(from) || is_unknown(to)) return(TRUE)
  if (to$kind == "fraction") return(is_number(from))
  if (from$kind != to$kind) return(FALSE)
  if (from$kind == "label") return(all(from$members %in% to$members))
  if (from$kind %in% c("list", "bag", "each")) return(fits_type(from$of, to$of))
  TRUE
}
