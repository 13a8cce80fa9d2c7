# Writes the part of docs/language.md that lists the words, from the one table, and docs/errors.md.

.libPaths(c(".lib", .libPaths()))
path <- "docs/language.md"
marker <- "# The words"
lines <- readLines(path)
kept <- if (marker %in% lines) lines[seq_len(match(marker, lines) - 1L)] else lines
words <- basanos::vocabulary()
measures <- basanos::measures()
stops <- basanos:::failures
headings <- c(thing = "## Things on the table: `name <- word(...)`",
              top = "## Declarations: `word(...)` at the top of a file", inner = "## Inside other words",
              statement = "## In play: what happens", value = "## Values", constant = "## Fixed names")
# The word within whose brackets each bad file of the tests goes wrong: its errors by word.
places <- utils::read.csv("tests/testthat/rules-bad/places.csv")
word_at <- function(id, line, column) {
  before <- substr(readLines(file.path("tests/testthat/rules-bad", paste0(id, ".game")))[line], 1, column + 60)
  calls <- gregexpr("[a-z_]+(?=\\()", before, perl = TRUE)[[1]]
  found <- regmatches(before, list(calls))[[1]]
  depth <- vapply(calls, function(at) {
    seen <- strsplit(substr(before, at, column - 1), "")[[1]]
    sum(seen == "(") - sum(seen == ")")
  }, 0)
  open <- found[(calls <= column & depth > 0) | calls == column]
  open <- open[open %in% words$name]
  if (length(open) == 0) NA else utils::tail(open, 1)
}
places$word <- unlist(Map(word_at, places$id, places$line, places$column))
errors_of <- function(name) {
  ids <- sort(unique(places$id[which(places$word == name)]))
  if (length(ids) == 0) "" else paste(sprintf("[%s](errors.md#%s)", gsub("_", " ", ids), ids), collapse = ", ")
}
section <- function(kind) {
  rows <- words[words$kind == kind, ]
  call <- if (kind == "constant") sprintf("`%s`", rows$name) else sprintf("`%s(%s)`", rows$name, rows$signature)
  c(headings[[kind]], "", "| word | meaning | example | errors |", "|---|---|---|---|",
    sprintf("| %s | %s | `%s` | %s |", call, rows$says, gsub("|", "\\|", rows$example, fixed = TRUE),
            vapply(rows$name, errors_of, "")), "")
}
writeLines(c(kept, marker, "",
             paste0("Arguments marked `?` may be left out; `...` stands for any number of arguments. The last ",
                    "column links to the errors of each word, with examples. This list is generated from ",
                    "the table in `R/vocabulary.R`."), "",
             unlist(lapply(names(headings), section)),
             paste0("R's own words that the language keeps: `<-`, `if`/`else` (also as a value), `while`, ",
                    "`repeat`, `for`, `break`, `next`, `function`, `return`, `c`, `:`,"),
             "`+ - * / ^ %% %/%`, `== != < <= > >=`, `&& || !`, `%in%`, `[ ]`.", "",
             "# The measures", "",
             paste0("The measures of `--measure` and `--want`. The argument is an expression, a condition, a ",
                    "seat or a bet of the game."), "",
             "| measure | meaning | unit | example |", "|---|---|---|---|",
             sprintf("| `%s` | %s | %s | `%s` |", measures$name, measures$says, measures$unit, measures$example), "",
             "# What stops a round", "",
             paste0("Checks stay on while rounds are played. A round that cannot go on stops the command, which shows the ",
                    "place in the rules. An example may expect such a stop: `expect(error = deck_empty)`."), "",
             "| id | what it says | hint |", "|---|---|---|",
             sprintf("| `%s` | %s | %s |", names(stops), vapply(stops, `[[`, "", 1), vapply(stops, `[[`, "", 2))), path)

# What can go wrong: each id with the message and the mend that its bad file in the tests gets.
bad <- sort(list.files("tests/testthat/rules-bad", "\\.game$", full.names = TRUE), method = "radix")
entries <- lapply(bad, function(path) {
  id <- sub("\\.game$", "", basename(path))
  check <- basanos::check_game(path)
  own <- check$problems[check$problems$id == id, ][1, ]
  if (is.na(own$id)) return(NULL)
  rule <- trimws(readLines(path)[own$line])
  c(sprintf("## %s", id), "", own$message, "", sprintf("    %s", rule), "", sprintf("*Hint:* %s.", own$hint), "")
})
writeLines(c("# What can go wrong in a rules file", "",
             "One example of each error, as its test file gets it: the message, the line, a hint. Written by `tools/reference.R`.", "", unlist(entries)), "docs/errors.md")
