# Writes the part of docs/language.md that lists the words, from the one table.

.libPaths(c(".lib", .libPaths()))
path <- "docs/language.md"
marker <- "# The words"
lines <- readLines(path)
kept <- if (marker %in% lines) lines[seq_len(match(marker, lines) - 1L)] else lines
words <- basanos::vocabulary()
headings <- c(thing = "## Things on the table: `name <- word(...)`", top = "## Declarations: `word(...)` at the top of a file", inner = "## Inside other words",
              statement = "## In play: what happens", value = "## Values", constant = "## Fixed names")
section <- function(kind) {
  rows <- words[words$kind == kind, ]
  call <- if (kind == "constant") sprintf("`%s`", rows$name) else sprintf("`%s(%s)`", rows$name, rows$signature)
  c(headings[[kind]], "", "| word | meaning | example |", "|---|---|---|", sprintf("| %s | %s | `%s` |", call, rows$says, gsub("|", "\\|", rows$example, fixed = TRUE)), "")
}
writeLines(c(kept, marker, "", "Arguments marked `?` may be left out; `...` stands for any number. This list is written from the table in `R/vocabulary.R`.", "",
             unlist(lapply(names(headings), section)),
             "R's own words that the language keeps: `<-`, `if`/`else` (also as a value), `while`, `repeat`, `for`, `break`, `next`, `function`, `return`, `c`, `:`,",
             "`+ - * / ^ %% %/%`, `== != < <= > >=`, `&& || !`, `%in%`, `[ ]`."), path)

# What can go wrong: each id with the message and the mend that its bad file in the tests gets.
bad <- sort(list.files("tests/testthat/rules-bad", "\\.game$", full.names = TRUE), method = "radix")
entries <- lapply(bad, function(path) {
  id <- sub("\\.game$", "", basename(path))
  check <- basanos::check_game(path)
  own <- check$problems[check$problems$id == id, ][1, ]
  if (is.na(own$id)) return(NULL)
  rule <- trimws(readLines(path)[own$line])
  c(sprintf("## %s", id), "", own$message, "", sprintf("    %s", rule), "", sprintf("*Mend:* %s.", own$mend), "")
})
writeLines(c("# What can go wrong in a rules file", "", "One example of each problem, as its test file gets it: the message, the line, how to mend it. Written by `tools/reference.R`.", "", unlist(entries)), "docs/errors.md")
