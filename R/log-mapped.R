# Rounds that were kept by something else: a CSV file whose columns are named by a map.

# The same columns as read_kept(), as far as the file has them; `records` is a list, one a row.
read_mapped <- function(path, game, map, seat) {
  if (is.null(game)) abort_input("argument_missing", "Which game are these rounds of?",
                                 "name it: game = \"lantern-tiles\" (--game)")
  rules <- game(game)
  if (!file.exists(path)) abort_input("file_missing", sprintf("There is no file `%s`.", path),
                                      "check its name and folder")
  log <- tryCatch(utils::read.csv(path, check.names = FALSE, comment.char = "#"), error = function(e) NULL,
                  warning = function(w) NULL)
  wrong <- function(message, hint) abort_input("kept_wrong", sprintf("`%s`: %s", path, message), hint)
  if (is.null(log) || nrow(log) == 0) wrong("this is no table of rounds.", "give a CSV file with a line of names first")
  records <- names(rules$records)
  map <- as.list(map)
  unknown <- setdiff(names(map), c("name", "outcome", "pay", records))
  if (length(unknown) > 0 || is.null(names(map)))
    wrong(sprintf("`%s` is nothing that rounds have.", c(unknown, "?")[[1]]),
          or_spelling(did_you_mean(c(unknown, "")[[1]], c("name", "outcome", "pay", records)),
                      sprintf("map %s", some_of_names(c("name", "outcome", "pay", records)))))
  lacking <- setdiff(unlist(map), names(log))
  if (length(lacking) > 0)
    wrong(sprintf("it has no column `%s`.", lacking[[1]]),
          or_spelling(did_you_mean(lacking[[1]], names(log)), sprintf("its columns are %s", some_of_names(names(log)))))
  if (is.null(map$outcome)) wrong("nothing says how a round ended.",
                                  "map the column: outcome = \"result\" (--map outcome=result)")
  deciding <- Filter(function(name) length(asked_of(rules, match(name, rules$seats))) > 0, rules$seats)
  seat <- if (!is.null(seat)) rules$seats[[seat_number(rules, seat)]] else c(deciding, rules$seats)[1]
  kept <- data.frame(name = if (is.null(map$name)) "all" else as.character(log[[map$name]]),
                     game = name_of_file(rules$source), seat = c(seat, "nobody")[[1]],
                     outcome = mapped_outcomes(log[[map$outcome]], rules, wrong))
  if (!is.null(map$pay)) kept$pay <- as.numeric(log[[map$pay]])
  own <- intersect(records, names(map))
  if (length(own) > 0) kept$records <- lapply(seq_len(nrow(log)), function(k)
    stats::setNames(lapply(own, function(r) log[[map[[r]]]][[k]]), own))
  kept
}

# "Guest high" is guest_high.
mapped_outcomes <- function(texts, rules, wrong) {
  plain <- function(x) gsub("[^a-z0-9]+", "_", tolower(trimws(x)))
  found <- match(plain(texts), plain(rules$outcomes$names))
  if (anyNA(found)) {
    text <- texts[is.na(found)][[1]]
    wrong(sprintf("row %d ends in \"%s\", which is no outcome of the game.", which(is.na(found))[[1]], text),
          or_spelling(did_you_mean(plain(text), rules$outcomes$names),
                      sprintf("the outcomes are %s", some_of_names(rules$outcomes$names))))
  }
  rules$outcomes$names[found]
}
