# lookup(total, sum(open), from = "chart.csv", otherwise = stop): a player's answers from a table in a file. Its columns
# are what the answer depends on, in the order of the arguments, and `answer`: one, or a mix as "raise:1; check:3".

max_chart_rows <- 2000000L

value_lookup <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  d <- scope$decision
  if (is.null(d)) {
    report(context, "word_misplaced", node$at, "`lookup` has no meaning here.", "use it in a player's rule")
    return(broken(node$at))
  }
  keys <- lapply(args$dots, check_value, context = context, scope = scope)
  file <- text_argument(context, args$from, "The file of a lookup")
  otherwise <- if (!is.null(args$otherwise))
    value_of(context, scope, args$otherwise, d$type, "The answer otherwise")
  if (is.null(file) || any(vapply(keys, function(k) is_unknown(k$type), NA))) return(broken(node$at))
  for (key in keys) if (!is_looked_up(key$type)) {
    report(context, "lookup_key", key$at,
           "A lookup goes by numbers, names, items, yes and no, or lists of whole ones.",
           "write out what it goes by: lookup(total, size(hand), from = ...)")
    return(broken(node$at))
  }
  chart <- chart_of_file(context, file, node$at, lapply(keys, `[[`, "type"), d$type)
  if (is.null(chart)) return(broken(node$at))
  source <- if (has_mixes(chart)) pick_source(context, scope, node) else ""
  if (is.null(source)) return(broken(node$at))
  typed("chart", d$type, node$at, keys = keys, chart = list2env(chart), otherwise = otherwise, source = source)
}

has_mixes <- function(chart) any(vapply(chart$cells, function(cell) length(cell$weights) > 1, NA))
is_mixed_chart <- function(node) node$op == "chart" && has_mixes(node$chart)

is_looked_up <- function(type) {
  is_kind(if (is_collection(type)) type$of else type, "whole", "yesno", "label", "card", "word") ||
    is_kind(type, "fraction")
}

# list(keys, scales, cell, cells): `keys` a list of columns, one for each key; of collections a list of the items in
# each row, of fractions whole numbers, `scales` times as large. `cell` by row: its number in `cells`, each list(values,
# weights).
chart_of_file <- function(context, file, at, types, answer_type) {
  fail <- function(says, hint) {
    report(context, "lookup_file", at, says, hint)
    NULL
  }
  table <- context$source$tables[[file]]
  if (is.null(table)) {
    lines <- lines_beside_rules(context, file, at, "lookup_file", "table")
    if (is.null(lines)) return(NULL)
    table <- tryCatch(utils::read.csv(text = lines, colClasses = "character", check.names = FALSE,
                                      na.strings = character()),
                      error = function(e) NULL, warning = function(w) NULL)
  }
  n <- length(types)
  if (is.null(table) || nrow(table) == 0 || ncol(table) < n + 1 || names(table)[[n + 1]] != "answer")
    return(fail(sprintf("`%s` has not the columns of this lookup.", file),
                sprintf("write a CSV file with a line of names: %d column%s, as the arguments, then `answer`", n,
                        if (n == 1) "" else "s")))
  if (nrow(table) > max_chart_rows) return(fail(sprintf("`%s` has too many rows.", file), "keep it below 2 million"))
  read <- function(column, type) values_of_texts(context, table[[column]], type)
  keys <- Map(read, seq_len(n), types)
  scales <- lapply(seq_len(n), function(k) if (is_kind(types[[k]], "fraction")) scale_of_fractions(keys[[k]]))
  texts <- unique(table$answer)
  cells <- lapply(texts, cell_of_text, context = context, type = answer_type)
  wrong <- c(lapply(keys, is_unreadable), list(vapply(cells, is.null, NA)[match(table$answer, texts)]))
  for (k in seq_along(wrong)) if (any(wrong[[k]])) {
    row <- which(wrong[[k]])[[1]]
    return(fail(sprintf("Row %d of `%s` has `%s` in `%s`.", row, file, table[[k]][[row]], names(table)[[k]]),
                if (k <= n) sprintf("write values of `%s` as the rules know them", names(table)[[k]])
                else "write an answer, or a mix as in raise:1; check:3"))
  }
  twice <- if (n > 0) anyDuplicated(table[seq_len(n)]) else if (nrow(table) > 1) 2 else 0
  if (twice > 0)
    return(fail(sprintf("Row %d of `%s` is for the same case as an earlier row.", twice, file), "keep one of them"))
  list(keys = Map(function(key, scale) if (is.null(scale)) key else as.integer(round(key * scale)), keys, scales),
       scales = scales, cell = match(table$answer, texts), cells = cells)
}

# By what the fractions of a column are to be multiplied to be whole; what else comes is rounded to them.
scale_of_fractions <- function(values) {
  for (scale in c(1, 2, 3, 4, 5, 6, 8, 10, 12, 20, 50, 100, 1000, 1e4, 1e5, 1e6)) {
    scaled <- values * scale
    if (all(abs(scaled - round(scaled)) < 1e-6 & abs(scaled) < 1e9, na.rm = TRUE)) return(scale)
  }
  1e6
}

is_unreadable <- function(column) if (is.list(column)) vapply(column, anyNA, NA) else is.na(column)

# Texts as whole numbers: of labels, cards and words their numbers. Of collections a list of them.
values_of_texts <- function(context, texts, type) {
  known <- unique(texts)
  if (!is_collection(type)) return(value_of_texts(context, known, type)[match(texts, known)])
  items <- strsplit(ifelse(known == "nothing", "", known), ",\\s*")
  values <- value_of_texts(context, unlist(items), type$of)
  split <- relist_by(values, lengths(items))
  split[match(texts, known)]
}

relist_by <- function(values, lengths)
  unname(split(values, factor(rep(seq_along(lengths), lengths), seq_along(lengths))))

# The inverse of value_text(); NA where a text means nothing.
value_of_texts <- function(context, texts, type) {
  texts <- trimws(texts)
  named <- function(names) {
    places <- match(texts, names)
    ifelse(is.na(places) & texts %in% c("none", "nobody", "pass", "blank"), 0L, places)
  }
  switch(type$kind,
    label = named(context$labels), card = named(context$names[[type$set]]$card_names),
    word = named(context$words$texts),
    yesno = match(texts, c("no", "yes")) - 1L, fraction = suppressWarnings(as.numeric(texts)),
    whole = whole_of_texts(texts, type$scale))
}

whole_of_texts <- function(texts, scale) {
  number <- suppressWarnings(as.numeric(texts))
  if (!is.null(scale)) number <- number * scale$den / scale$num
  ifelse(is.na(number) | abs(number - round(number)) > 1e-9 | abs(number) > 2^31 - 1, NA_integer_,
         as.integer(round(number)))
}

# "stop", or "raise:1; check:3": list(values, weights); NULL where it cannot be read.
cell_of_text <- function(context, text, type) {
  parts <- trimws(strsplit(text, ";", fixed = TRUE)[[1]])
  mixed <- grepl(":[0-9.eE+-]+$", parts)
  if (length(parts) == 0 || (length(parts) > 1 && !all(mixed))) return(NULL)
  weights <- suppressWarnings(as.numeric(ifelse(mixed, sub("^.*:", "", parts), "1")))
  values <- values_of_texts(context, ifelse(mixed, sub(":[^:]*$", "", parts), parts), type)
  if (any(is_unreadable(values)) || anyNA(weights) || any(weights < 0) || sum(weights) <= 0) return(NULL)
  list(values = values, weights = weights)
}
