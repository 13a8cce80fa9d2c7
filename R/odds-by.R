# Crossing outcomes with one or several expressions, or with the outcomes themselves; money and measures for each value.

is_by_outcome <- function(game, by) length(by) == 1 && identical(trimws(by), "outcome") && is.null(game$names$outcome)

most_values_by <- 24L

# The odds crossed by several expressions: for each value of the first, the odds given it, crossed by the others.
# `again(condition, by)` gives the odds given a condition, crossed by these expressions.
crossed_by_several <- function(result, by, again) {
  shares <- shares_of_values_by(result)
  refuse_many_values(by[[1]], nrow(shares))
  rows <- lapply(seq_len(nrow(shares)), function(k) {
    condition <- value_condition(by[[1]], shares$value[[k]])
    inner <- again(condition, by[-1])$crossed
    if (is.null(inner$condition)) inner$condition <- vapply(inner$value, value_condition, "", by = by[[2]])
    inner$probability <- inner$probability * shares$share[[k]]
    if (!is.null(inner$standard_error))
      inner$standard_error <- sqrt(inner$probability * (1 - inner$probability) / result$rounds)
    inner$value <- paste(shares$value[[k]], inner$value, sep = ", ")
    inner$condition <- sprintf("(%s) && (%s)", condition, inner$condition)
    inner
  })
  result$crossed <- do.call(rbind, rows)
  result$crossed_with <- paste(by, collapse = ", ")
  result
}

# The odds crossed with the outcomes themselves.
crossed_by_outcome <- function(result) {
  p <- result$outcomes$probability
  result$crossed <- data.frame(value = result$outcomes$name, outcome = result$outcomes$name, probability = p,
                               within = 1)[p > 0, ]
  result$crossed_with <- "outcome"
  result
}

# A data frame: value, share, in the order of the values.
shares_of_values_by <- function(result) {
  values <- unique(result$crossed$value[result$crossed$probability > 0])
  share <- vapply(values, function(v) sum(result$crossed$probability[result$crossed$value == v]), 0)
  data.frame(value = values, share = unname(share))
}

# The condition of each value that came up.
conditions_by <- function(result, by) {
  values <- shares_of_values_by(result)$value
  conditions <- result$crossed$condition
  if (is.null(conditions)) vapply(values, value_condition, "", by = by, USE.NAMES = FALSE)
  else conditions[match(values, result$crossed$value)]
}

# The measures for each value: value, share, name, measured; sampled also lower, upper. NULL of many values.
measures_by_value <- function(result, by, again) {
  conditions <- conditions_by(result, by)
  shares <- shares_of_values_by(result)
  if (nrow(shares) > most_values_by) return(NULL)
  rows <- lapply(seq_along(conditions), function(k) {
    m <- again(conditions[[k]])$measures
    cbind(data.frame(value = shares$value[[k]], share = shares$share[[k]]), name = m$name, measured = m$value,
          m[intersect(c("lower", "upper"), names(m))])
  })
  do.call(rbind, rows)
}

refuse_many_values <- function(text, n) {
  if (n > most_values_by)
    abort_input("argument_wrong", sprintf("`%s` takes %s values, more than %d.", text, whole_text(n), most_values_by),
                "join values, as in by = \"tiles %/% 5\" or by = \"tiles > 20\"")
}

# The usual measures by outcome: recorded numbers and pays.
usual_measures_by <- function(question) {
  game <- question$game
  numbers <- Filter(function(r) is_number(r$node$type) && !is_added(r), question$records)
  c(sprintf("mean(%s)", vapply(numbers, `[[`, "", "name")), sprintf("mean_pay(%s)", game$seats[game$paid]))
}

measures_by_value_section <- function(table, text) {
  names <- unique(table$name)
  first <- table[table$name == names[[1]], ]
  digits <- if (is.null(table$lower)) 5L else 3L
  cells <- lapply(names, function(name) {
    of_name <- table[table$name == name, ]
    value <- fixed_text(of_name$measured, digits)
    if (is.null(of_name$lower)) return(value)
    error <- (of_name$upper - of_name$lower) / 2
    ifelse(is.na(error) | error == 0, value,
           sprintf("%s +- %s", mapply(fixed_text, of_name$measured, vapply(pmax(error, 1e-9), error_digits, 1L)),
                   mapply(fixed_text, error, vapply(pmax(error, 1e-9), error_digits, 1L))))
  })
  section(table = c(stats::setNames(list(format(first$value)), text), list(share = percent_text(first$share, 2)),
                    stats::setNames(cells, names)),
          notes = if (!is.null(table$lower)) "  (with half a 95% interval)")
}

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
