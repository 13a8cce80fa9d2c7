# The words of a page: no code before the details, and the glossary's meaning at the first use of its words.

# Sections as one reads them aloud: names without underscores, measures without brackets, no quotes of code.
in_plain_words <- function(sections) {
  all_sections(lapply(sections, function(s) {
    if (!is.null(s$table)) names(s$table) <- plain_words_of(names(s$table))
    lapply(s, function(part) if (is.list(part)) lapply(part, plain_words_of) else if (!is.null(part))
      plain_words_of(part))
  }))
}

# "edge(guest)" is "edge of guest", "probability(outcome == guest_bust)" "share of guest bust".
plain_words_of <- function(text) {
  text <- gsub("`", "", text, fixed = TRUE)
  text <- gsub("probability\\((?:outcome|match) == ([^()]*)\\)", "share of \\1", text)
  measures <- paste(c("pay", names(measure_words)), collapse = "|")
  text <- gsub(sprintf("\\b(%s)\\(([^(),]*)\\)", measures), "\\1 of \\2", text)
  text <- gsub("\\breturn_of of\\b", "return of", text)
  gsub("(?<=[[:alnum:]])_(?=[[:alnum:]])", " ", text, perl = TRUE)
}

# The words of the glossary and what they mean.
glossary <- function() {
  lines <- readLines(system.file("glossary.md", package = "basanos"), encoding = "UTF-8")
  rows <- regmatches(lines, regexec("^\\| \\*\\*(.*)\\*\\* \\| (.*) \\|$", lines))
  rows <- rows[lengths(rows) == 3]
  data.frame(word = vapply(rows, `[[`, "", 2), meaning = gsub("[*`]", "", vapply(rows, `[[`, "", 3)))
}

# The page with the first heading of a table that is a word of the glossary linked to its meaning, which stands at
# the end.
with_glossary <- function(page) {
  words <- glossary()
  used <- logical(nrow(words))
  for (k in seq_len(nrow(words))) {
    heading <- sprintf("(<th scope=\"col\" class=\"[a-z]+\">)(%s)(</th>)", words$word[[k]])
    if (!grepl(heading, page)) next
    used[[k]] <- TRUE
    link <- sprintf("\\1<a class=\"word\" href=\"#%s\" title=\"%s\">\\2</a>\\3", word_id(words$word[[k]]),
                    gsub("\\", "\\\\", htmltools::htmlEscape(words$meaning[[k]], attribute = TRUE), fixed = TRUE))
    page <- sub(heading, link, page)
  }
  sub("<footer>", paste0(page_of_words(words[used, ]), "<footer>"), page, fixed = TRUE)
}

page_of_words <- function(words) {
  if (nrow(words) == 0) return("")
  h <- htmltools::tags
  as.character(h$section(class = "words", `aria-labelledby` = "words", h$h2(id = "words", "Words"), h$dl(
    lapply(seq_len(nrow(words)), function(k)
      list(h$dt(id = word_id(words$word[[k]]), words$word[[k]]), h$dd(words$meaning[[k]]))))))
}

word_id <- function(word) paste0("word-", gsub("[^a-z0-9]+", "-", word))
