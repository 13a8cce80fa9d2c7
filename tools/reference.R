# Writes the part of docs/language.md that lists the words, from the one table.

.libPaths(c(".lib", .libPaths()))
path <- "docs/language.md"
marker <- "# The words that work today"
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
