# Best play as players in a file. Their rules look each answer up in a table, a CSV file beside it.

check_write_players <- function(path, game) {
  if (is.null(path)) return(invisible())
  check_write(path)
  if (!is.null(game$players[["best"]]))
    abort_input("argument_wrong", "These rules have a player `best` already.", "give that player another name")
}

# list(path, players by seat, tables).
write_players <- function(game, solution, path) {
  base <- sub("\\.[^.]*$", "", basename(path))
  several <- length(solution$seats) > 1
  file_of <- function(table) file.path(dirname(path), sprintf("%s-%s%s.csv", base, if (several)
    paste0(game$seats[[table$seat]], "-") else "", table$decision))
  files <- vapply(solution$tables, file_of, "")
  names <- if (several) paste0("best_", game$seats[solution$seats]) else "best"
  of_seat <- vapply(solution$tables, `[[`, 0L, "seat")
  lines <- unlist(Map(function(seat, name) {
    rules <- Map(function(table, file) sprintf("%s = %s", table$decision, lookup_text(table, basename(file))),
                 solution$tables[of_seat == seat], files[of_seat == seat])
    sprintf("%s <- player(%s, %s)", name, game$seats[[seat]],
            paste(rules, collapse = sprintf(",\n%s", strrep(" ", nchar(name) + 11))))
  }, solution$seats, names))
  about <- sprintf("# Best play of %s: a %s is worth %s, by %s.",
                   title_of(list(title = game$title, game = name_of_file(game$source))), solution$unit,
                   plain_numbers(solution$value), solution$objective$text)
  texts <- c(paste(c(about, lines), collapse = "\n"), vapply(solution$tables, function(t) csv_text(t$rows), ""))
  paths <- c(path, files)
  for (file in paths) check_write(file)
  Map(function(text, file) write_new_file(charToRaw(enc2utf8(paste0(text, "\n"))), file), texts, paths)
  list(path = path, players = stats::setNames(names, game$seats[solution$seats]), tables = unname(files))
}

# The rule that looks the answer up in a file, or in what is kept under that name.
lookup_text <- function(table, file)
  sprintf("lookup(%s)", paste(c(setdiff(names(table$rows), "answer"), sprintf("from = \"%s\"", file)),
                              collapse = ", "))

# For each decision of a seat that comes up: list(seat, decision, rows), `rows` as the file of a lookup has them.
tables_of_play <- function(question, program, run, solution) {
  refuse_unknown_play(run, solution)
  game <- question$game
  all <- lapply(solution$seats, function(seat) lapply(asked_of(game, seat), function(decision) {
    rows <- rows_of_policy(game, question, program, run, seat, decision)
    if (nrow(rows) > 0) list(seat = seat, decision = decision,
                             rows = enough_columns(game, question, rows, seat, decision))
  }))
  Filter(Negate(is.null), unlist(all, recursive = FALSE))
}

csv_text <- function(table) paste(csv_lines(table), collapse = "\n")

# What to do in every situation, as texts: a column for each thing that tells situations apart, `answer`, and `reach`.
rows_of_policy <- function(game, question, program, run, seat, decision) {
  things <- question$situations[[decision]]
  d <- game$decisions[[decision]]
  tables <- lapply(run$policy[sites_of(game, program, seat, decision)], function(site) {
    if (length(site$reach) == 0) return(NULL)
    columns <- Map(function(thing, values) texts_of_values(game, values, thing$node$type), things, site$things)
    cells <- answers_as_cells(texts_of_values(game, site$answers, d$type), site$share, site$row)
    list2DF(c(columns, list(answer = cells, reach = site$reach)), nrow = length(site$reach))
  })
  all <- do.call(rbind, tables)
  if (is.null(all)) data.frame() else all
}

share_text <- function(x) format(x, digits = 15, trim = TRUE, drop0trailing = TRUE, scientific = FALSE)

# One text for each situation: an answer, or a mix.
answers_as_cells <- function(answers, shares, situation) {
  kept <- shares > least_written
  several <- kept & situation %in% situation[kept][duplicated(situation[kept])]
  answers[several] <- sprintf("%s:%s", answers[several], share_text(shares[several]))
  if (!any(several)) return(answers[kept])
  vapply(split(answers[kept], situation[kept]), paste, "", collapse = "; ", USE.NAMES = FALSE)
}

least_written <- 1e-9  # of a share: less is rounding

# Numbers as the rules write them; of collections lists of them. `values`: list(values, sizes).
texts_of_values <- function(game, values, type) {
  item_type <- if (is_collection(type)) type$of else type
  known <- unique(values$values)
  items <- vapply(known, value_text, "", rules = game, type = item_type)[match(values$values, known)]
  if (!is_collection(type)) return(items)
  sizes <- values$sizes
  before <- cumsum(sizes) - sizes
  texts <- ifelse(sizes == 0, "nothing", "")
  for (k in seq_len(max(0, sizes))) {
    there <- which(sizes >= k)
    texts[there] <- paste0(texts[there], if (k > 1) ", ", items[before[there] + k])
  }
  texts
}

# The rows with as few columns as tell the answers apart, each case once; refused where the columns do not tell them.
enough_columns <- function(game, question, rows, seat, decision) {
  rows <- rows[order(-rows$reach), ]
  codes <- lapply(rows, function(column) match(column, unique(column)))
  things <- things_to_look_up(rows, question$situations[[decision]])
  met <- rows$reach > 0
  clashes <- function(columns) {
    case <- cases_of(codes[columns], nrow(rows))
    first <- match(case, case)
    codes$answer != codes$answer[first]
  }
  wrong <- clashes(things)
  if (any(wrong & met))
    abort_input("best_unclear", sprintf(
      "What `%s` does best at `%s` is not told by %s alone: in %s situations, met %s times, it is something else.",
      game$seats[[seat]], decision, some_of_names(things), whole_text(sum(wrong & met)),
      number_text(sum(rows$reach[wrong & met]))),
      paste("best play depends on more of what came before, as on the number of the round;",
            "let the rules remember it: state(number = 0, lasts = sitting)"))
  for (thing in things) {
    fewer <- setdiff(things, thing)
    if (!any(clashes(fewer) & !wrong)) things <- fewer
  }
  kept <- !duplicated(cases_of(codes[things], nrow(rows)))
  sorted_rows(rows[kept, c(rev(things), "answer"), drop = FALSE])
}

# By the first column, then the second; numbers as numbers.
sorted_rows <- function(rows) {
  if (length(rows) == 1) return(rows)
  keys <- lapply(rows[-length(rows)], function(column) utils::type.convert(column, as.is = TRUE))
  rows[do.call(order, unname(keys)), , drop = FALSE]
}

# The names of the columns that a lookup can take, those first that one would rather do without: lists, then what comes
# last in the rules.
things_to_look_up <- function(rows, things) {
  type_of <- function(name) things[[name]]$node$type
  names <- Filter(function(name) is_looked_up(type_of(name)), setdiff(names(rows), c("answer", "reach")))
  names[order(!vapply(names, function(name) is_collection(type_of(name)), NA), -seq_along(names))]
}

# The number of the case that each row is of, by codes in columns.
cases_of <- function(columns, rows) {
  case <- rep(1, rows)
  for (column in columns) {
    place <- (case - 1) * (max(column) + 1) + column
    case <- match(place, unique(place))
  }
  case
}
