# Axes: what there may be one value for each of. Seats, numbers of a range, names of a set, cards, faces.

most_places <- 10000

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

# One value for each key, as the list of its values, to be compared or grouped as a whole.
row_as_list <- function(context, v) {
  if (!is_kind(v$type, "each") || !is_plain(v$type$of) || is_kind(v$type$of, "fraction")) return(v)
  it <- new_variable(context, "it", v$type$of, v$at, "bound")
  typed("collection_map", t_collection("list", v$type$of), v$at, over = v, it = it,
        body = typed("var", v$type$of, v$at, var = it))
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

# A range: both ends included, upward only.
range_value <- function(context, scope, node, want) {
  if (!operand_count(context, node, 2)) return(broken(node$at))
  ends <- Map(function(arg, what) value_of(context, scope, arg, t_whole, what), node$args,
              c("The lower end of a range", "The upper end of a range"))
  if (any(vapply(ends, function(v) is_unknown(v$type), NA))) return(broken(node$at))
  typed("range", t_range, node$at, low = ends[[1]], high = ends[[2]], const = ends[[1]]$const && ends[[2]]$const)
}

# Has the seat, a typed value, dropped out?
has_dropped <- function(table, seat, at) typed("at_key", t_yesno, at, var = table$gone, key = seat)

# The seats at the table without those that have dropped out.
seats_playing <- function(context, at) {
  seats <- typed("seats", t_collection("list", table_seat_type(context)), at)
  table <- context$money$table
  if (is.null(table)) return(seats)
  it <- new_variable(context, "it", table_seat_type(context), at, "bound")
  dropped <- has_dropped(table, typed("var", it$type, at, var = it), at)
  typed("collection_filter", seats$type, at, over = seats, it = it,
        body = calculation("!", t_yesno, at, list(dropped)))
}

# wallet(everyone, 30, at_least = 2)
declare_table <- function(context, node, args) {
  at <- node$at
  least <- if (!is.null(args$at_least))
    value_of(context, new_scope("a wallet"), args$at_least, t_whole, "How many seats go on with the sitting")
  gone <- new_variable(context, "dropped out", t_each(t_yesno, list(seat_axis(context))), at, "state",
                       key = "dropped out")
  context$state[["dropped out"]] <- list(name = "dropped out", variable = gone, start = literal(0, t_yesno, at),
                                         lasts = "sitting", at = at, scratch = TRUE, money = TRUE, hidden = TRUE)
  usual <- if (length(context$money$pots) > 0) 2 else 1
  context$money$table <- list(gone = gone, at_least = if (is.null(least)) literal(usual, t_whole, at) else least,
                              at = at)
  context$uses$out <- TRUE
}

# The number of seats taken: a setting where some may stay empty.
seats_count <- function(context, at) {
  if (is.null(context$settings$seated)) literal(length(table_seats(context)), t_whole, at)
  else typed("setting", t_whole, at, name = "seated", const = TRUE)
}
