# Stakes and returns for each value that outcomes are crossed with: the odds given each value.

most_values_of_money <- 12L
most_rounds_by_value <- 1e5

# A data frame: value, share, kind (seat or bet), name, put_in, return, edge_per_token; sampled also return_lower,
# return_upper. NULL where nothing is put in, or the values are many.
money_by_value <- function(odds, conditions, again) {
  shares <- shares_of_values_by(odds)
  if (all(is.na(odds$pays$stake)) || nrow(shares) > most_values_of_money) return(NULL)
  tables <- lapply(seq_len(nrow(shares)), function(k)
    cbind(shares[k, ], money_of_odds(again(conditions[[k]])), row.names = NULL))
  do.call(rbind, tables)
}

value_condition <- function(by, value) {
  if (is.character(value) && value %in% c("yes", "no")) return(if (value == "yes") by else sprintf("!(%s)", by))
  sprintf("(%s) == %s", by, if (is.numeric(value)) plain_number(value) else value)
}

money_of_odds <- function(o) {
  column <- function(table, name) if (is.null(table[[name]])) NA_real_ else table[[name]]
  part <- function(kind, table, name, edge)
    data.frame(kind = kind, name = table[[name]], put_in = table$put_in, return = table$return,
               return_lower = column(table, "return_lower"), return_upper = column(table, "return_upper"),
               edge_per_token = table[[edge]])
  seats <- o$pays[!is.na(o$pays$stake), , drop = FALSE]
  rows <- rbind(part("seat", seats, "seat", "edge_per_token"),
                if (!is.null(o$bets)) part("bet", o$bets, "bet", "edge"))
  if (o$engine != "sample") rows[c("return_lower", "return_upper")] <- NULL
  rows
}

money_by_value_section <- function(table, text) {
  sampled <- !is.null(table$return_lower)
  percent <- function(v) percent_text(v, if (sampled) 2L else 3L)
  cells <- stats::setNames(list(format(table$value)), text)
  cells <- c(cells, list(" " = paste(table$kind, table$name), "put in" = fixed_text(table$put_in, 3),
                         return = percent(table$return)))
  if (sampled) cells[["95% interval"]] <- interval_text(table$return_lower, table$return_upper, percent)
  section(table = c(cells, list("edge per token" = percent(table$edge_per_token))))
}
