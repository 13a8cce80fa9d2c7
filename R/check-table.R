# The seats at the table, as rules read them; program-table.R writes them.

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
