# Results as data frames. The first columns are the same for every result, so that results of several games or questions
# can be bound together; columns of one kind of result come after them.

#' Results as data frames
#'
#' `as.data.frame()` of a result, and its CSV, begin with the same columns for every kind of result:
#'
#' * `game`: the name of the game;
#' * `engine`: `"exact"` or `"sample"`; missing where nothing was worked out by an engine;
#' * `kind`: what the value is, such as `"outcome"`, `"pay"`, `"return"`, `"measure"`;
#' * `name`: of what: an outcome, a seat, a bet, a record, a measure;
#' * `by`: for which case: a value of `by`, an answer, an opponent, the settings of a point; missing if there is none;
#' * `value`: a number; `standard_error`; `lower` and `upper`, the 95% interval. An exact value has no error, and its
#'   interval is the value itself; of an exact count that stopped early `value` is missing, and `lower` and `upper` are
#'   bounds.
#'
#' Columns of one kind of result come after these. Odds always have `sd`, `least`, `most` (of a record or pay) and
#' `complete`.
#'
#' @name results
#' @param x A result.
#' @param ... Of odds `distributions = TRUE`: a row for each value of each record and pay, with its probability; `by` is
#'   the value, `at` the value as a number, `cumulative` the share of this value or a lower one.
#' @return `as.data.frame()` and `tidy()`: one row for each number of the result. `glance()`: one row with the question
#'   of the result: `game`, `kind`, `engine`, `unit`, `rounds`, `seed`, `players`, `settings`, `stopped`.
#' @examples
#' as.data.frame(odds("tide-signs"))
#' rbind(as.data.frame(odds("tide-signs")), as.data.frame(odds("dice-duel")))
NULL

# Rows of one kind. Whatever is not given is missing; own columns follow in `...`, vectors or data frames. NULL where
# there is no value.
result_rows <- function(x, kind, name, value, by = NA_character_, ..., standard_error = NULL, lower = NULL,
                        upper = NULL, engine = x$engine) {
  if (length(value) == 0) return(NULL)
  value <- as.numeric(value)
  if (is.null(engine)) engine <- NA_character_
  known <- !is.na(value) & rep_len(engine %in% "exact", length(value))
  without_error <- function(given, exact) {
    given <- if (is.null(given)) rep(NA_real_, length(value)) else as.numeric(given)
    ifelse(known & is.na(given), exact, given)
  }
  columns_of_length(game = if (is.null(x$game)) NA_character_ else x$game,
                    engine = engine, kind = kind, name = as.character(name),
                    by = as.character(by), value = value, standard_error = without_error(standard_error, 0),
                    lower = without_error(lower, value), upper = without_error(upper, value), ...)
}

# A data frame of vectors and data frames, as `data.frame()` makes it, and several times as fast: results have many
# small ones.
columns_of_length <- function(...) {
  given <- list(...)
  tables <- vapply(given, is.data.frame, NA)
  given[!tables] <- lapply(which(!tables), function(k) given[k])
  columns <- Filter(Negate(is.null), do.call(c, unname(lapply(given, as.list))))
  rows <- max(lengths(columns))
  if (any(rows %% lengths(columns) != 0)) stop("columns of different lengths")
  list2DF(lapply(columns, function(column) rep(unname(column), length.out = rows)), rows)
}

# Rows of several kinds, or a list of them, under one another: a column that one of them lacks is missing there.
bind_result_rows <- function(...) {
  parts <- list(...)
  if (length(parts) == 1 && !is.data.frame(parts[[1]])) parts <- parts[[1]]
  parts <- Filter(function(part) NROW(part) > 0, parts)
  if (length(parts) == 0) return(result_rows(list(game = ""), "", "", 0)[0, ])
  columns <- unique(unlist(lapply(parts, names)))
  columns <- stats::setNames(columns, columns)
  list2DF(lapply(columns, function(name) do.call(c, unname(lapply(parts, function(part)
    if (is.null(part[[name]])) rep(NA, nrow(part)) else part[[name]])))))
}

# The rows of a table of the result, one kind, by the columns that hold their names and values.
rows_of_table <- function(x, kind, table, name = "name", value = "probability", ...) {
  if (NROW(table) == 0 || is.null(table[[value]])) return(NULL)
  extras <- intersect(c("sd", "least", "most"), names(table))
  result_rows(x, kind, table[[name]], table[[value]], NA_character_, ..., if (length(extras) > 0) table[extras],
              standard_error = table$standard_error, lower = table$lower, upper = table$upper)
}

# Several columns of a table as rows, each a kind of its own: the names of `columns` where they have names.
rows_of_columns <- function(x, table, columns, name, by = NA_character_, ...) {
  kinds <- if (is.null(names(columns))) columns else names(columns)
  bind_result_rows(lapply(which(columns %in% names(table)), function(k)
    result_rows(x, kinds[[k]], name, table[[columns[[k]]]], by, ...)))
}

#' @rdname results
#' @exportS3Method generics::tidy
tidy.basanos_result <- function(x, ...) {
  rows <- as.data.frame(x, ...)
  if (requireNamespace("tibble", quietly = TRUE)) tibble::as_tibble(rows) else rows
}

#' @rdname results
#' @exportS3Method generics::glance
glance.basanos_result <- function(x, ...) {
  text <- function(values) if (length(values) > 0 && !is.null(names(values)))
    paste(names(values), vapply(values, function(v) format(unlist(v))[[1]], ""), sep = "=", collapse = ", ")
    else NA_character_
  one <- function(field, missing) if (length(x[[field]]) == 1) x[[field]] else missing
  row <- data.frame(game = if (is.null(x$game)) one("name", NA_character_) else paste(x$game, collapse = ", "),
                    kind = kind_of_result(x), engine = one("engine", NA_character_), unit = one("unit", NA_character_),
                    rounds = as.numeric(one("rounds", NA_real_)), seed = as.numeric(one("seed", NA_real_)),
                    players = text(x$players), settings = text(x$settings), stopped = one("stopped", NA_character_))
  if (requireNamespace("tibble", quietly = TRUE)) tibble::as_tibble(row) else row
}
