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

# The page with the first use of each word of the glossary linked to its meaning, which stands at the end: the first
# heading of a table that is the word, else the first place in the text, of words that have no other sense there.
with_glossary <- function(page) {
  words <- glossary()
  used <- logical(nrow(words))
  for (k in seq_len(nrow(words))) {
    heading <- sprintf("(<th scope=\"col\" class=\"[a-z]+\">)(%s)(</th>)", words$word[[k]])
    if (!grepl(heading, page, perl = TRUE)) next
    used[[k]] <- TRUE
    page <- sub(heading, sprintf("\\1%s\\3", word_link(words[k, ], "\\2")), page, perl = TRUE)
  }
  pieces <- text_pieces(page)
  for (k in match(words_of_text, words$word)) {
    if (used[[k]]) next
    word <- sprintf("\\b(%s)\\b", words$word[[k]])
    open <- which(pieces$open)
    first <- open[grepl(word, pieces$text[open])][1]
    if (is.na(first)) next
    used[[k]] <- TRUE
    pieces$text[[first]] <- sub(word, word_link(words[k, ], "\\1"), pieces$text[[first]])
    pieces$open[[first]] <- FALSE
  }
  sub("<footer>", paste0(page_of_words(words[used, ]), "<footer>"), paste(pieces$text, collapse = ""), fixed = TRUE)
}

words_of_text <- c("mean pay", "edge", "volatility", "breakage", "losing evening", "losing run", "drawdown", "float",
                   "staking rule", "ruin", "counted exactly", "sampled", "standard error", "95% interval")

# A link to the meaning of a word, as the replacement in sub().
word_link <- function(word, shown)
  sprintf("<a class=\"word\" href=\"#%s\" title=\"%s\">%s</a>", word_id(word$word),
          gsub("\\", "\\\\", htmltools::htmlEscape(word$meaning, attribute = TRUE), fixed = TRUE), shown)

# The tags of a page and the texts between them. `open` are the texts that may have links: none in scripts, drawings,
# code, headings and links.
text_pieces <- function(page) {
  closed <- "script|style|svg|head|pre|a|h1|h2|h3|caption|title|button|label|option"
  whole <- "(?s)<script.*?</script>|<style.*?</style>|<svg.*?</svg>|<[^>]*>|[^<]+"
  # as bytes: where a text has letters beyond ASCII, each place in it would be counted from its start
  text <- regmatches(page, gregexpr(whole, page, perl = TRUE, useBytes = TRUE))[[1]]
  Encoding(text) <- "UTF-8"
  opens <- grepl(sprintf("^<(%s)\\b", closed), text) & !grepl("^<(script|style|svg)", text)
  closes <- grepl(sprintf("^</(%s)>", closed), text)
  list(text = text, open = !startsWith(text, "<") & cumsum(opens) <= cumsum(closes))
}

page_of_words <- function(words) {
  if (nrow(words) == 0) return("")
  h <- htmltools::tags
  as.character(h$section(class = "words", `aria-labelledby` = "words", h$h2(id = "words", "Words"), h$dl(
    lapply(seq_len(nrow(words)), function(k)
      list(h$dt(id = word_id(words$word[[k]]), words$word[[k]]), h$dd(words$meaning[[k]]))))))
}

word_id <- function(word) paste0("word-", gsub("[^a-z0-9]+", "-", word))
