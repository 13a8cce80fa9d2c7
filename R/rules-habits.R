# Habits brought from other languages. Each is found in the text with quotes and comments blanked,
# because R's parser would either refuse it with words of its own or accept it as something else.

# `hint` may be a function of the text that was found.
habit <- function(id, pattern, message, hint) list(id = id, pattern = pattern, message = message, hint = hint)

habits <- list(
  habit("habit_increment", "[A-Za-z0-9_.\\])]\\s*\\K(\\+\\+|--)|(\\+\\+|--)(?=[A-Za-z])",
        "There is no `++` or `--` here.", "write `add(1, to = x)` or `x <- x + 1`"),
  habit("habit_compound", "[A-Za-z0-9_.\\])]\\s*\\K(?<![-<+*/])[-+*/]=(?!=)", "There is no `+=` here.",
        "write `add(n, to = x)` or `x <- x + n`"),
  habit("habit_elif", "\\b(elif|elsif|elseif)\\b", "There is no `elif` here.", "write `else if`"),
  habit("habit_word_operator",
        "(?<=[A-Za-z0-9_)\\]\"])\\s+(and|or)\\s+(?=[A-Za-z0-9_(!\"-])|(?<=[(,&|]|\\|\\|)\\s*not\\s+(?=[A-Za-z])",
        "Conditions are joined with signs here, not with words.", "write `&&` for and, `||` for or, `!` for not"),
  habit("habit_equals", "\\b(if|while)\\s*\\((?:[^()=<>!]|\\([^()]*\\))*+\\K=(?![=<>])",
        "A single `=` gives a name to an argument; it does not compare.", "write `==` to compare"),
  # a second single `=` within one argument
  habit("habit_equals", "(?<![=<>!:])=(?!=)[^=<>!,(){};\\[\\]]*[A-Za-z0-9_.\\]]\\s*\\K(?<![=<>!])=(?!=)",
        "A single `=` gives a name to an argument; it does not compare.", "write `==` to compare"),
  habit("habit_percent", "[0-9]\\s?\\K%(?=\\s*([,;)}\\]*+/-]|$))", "A share is not written with `%` here.",
        "write 0.2 for 20%"),
  habit("habit_quotes", "[\u201c\u201d\u201e\u2018\u2019\u00ab\u00bb]", "These are not the quotes of plain text.",
        "write straight quotes: \"...\""),
  habit("habit_name", paste0("^(?!(if|else|for|while|repeat|function)\\b)[A-Za-z][A-Za-z0-9_.]*",
                             "([ -][A-Za-z][A-Za-z0-9_.]*)+(?=\\s*<-)"),
        "A name is one word, without spaces or hyphens.", function(text) sprintf("write %s", gsub("[ -]+", "_", text))),
  habit("habit_name", "[(,]\\s*\\K[A-Za-z][A-Za-z0-9_.]*(-[A-Za-z][A-Za-z0-9_.]*)+(?=\\s*=(?!=))",
        "A name is one word, without spaces or hyphens.", function(text) sprintf("write %s", gsub("-", "_", text))),
  habit("habit_case", "(?<![A-Za-z0-9_.])(If|IF|Else|ELSE|For|FOR|While|WHILE|Repeat|REPEAT)(?=\\s*[({A-Za-z])",
        "The words of the language are written in small letters.", function(text) sprintf("write `%s`", tolower(text))),
  habit("switch_form", "\\bswitch\\s*\\([^()]*,\\s*\\K[0-9]+(?=\\s*=(?!=))",
        "A number as a case of `switch` stands in quotes.",
        function(text) sprintf("write \"%s\" = ...", text)),
  habit("habit_condition", "\\b(if|while)\\s+(?=[A-Za-z!])", "The condition has no brackets.",
        "put it in brackets: if (n > 3)"),
  habit("habit_to", "\\bin\\s+[A-Za-z0-9_.]+\\s+\\Kto(?=\\s+[A-Za-z0-9])", "There is no `to` in a range.",
        "write a colon: for (i in 1:3)"),
  habit("habit_comparison", "=<|=>", "This comparison is the wrong way round.", "write `<=` or `>=`"),
  habit("habit_else_alone", "^else\\b", "An `else` cannot start a line outside brackets.",
        "put `else` on the line where the `}` before it stands"),
  habit("habit_range_end", "(?<=[A-Za-z0-9_)\\]])\\s*:\\s*(?=[),\\]{}]|$)|(?<=[(,\\[])\\s*:(?=\\s*[A-Za-z0-9(])",
        "One end of this range is left out.", "write both ends, as in `1:6`; both are included"),
  habit("habit_return", "\\breturn\\s+(?=[A-Za-z0-9\"-])", "`return` needs brackets.",
        "write `return(x)`, or leave it out: the last value is the answer"),
  habit("habit_number_name", "(?<![A-Za-z0-9_.])(?!0[xX])[0-9]+\\.?(?![eE][-+]?[0-9]|L\\b)[A-Za-z_][A-Za-z0-9_]*",
        "A bare name cannot start with a digit.", "put it in quotes, as in \"10 hearts\"")
)

# All habits in the masked text, first of each line first.
find_habits <- function(masked) {
  met <- lapply(habits, function(h) grep(h$pattern, masked, perl = TRUE))
  hits <- list()
  for (line in sort(unique(unlist(met)))) for (h in habits[vapply(met, function(lines) line %in% lines, NA)]) {
    hit <- gregexpr(h$pattern, masked[[line]], perl = TRUE)[[1]]
    for (k in seq_along(hit)) {
      text <- substr(masked[[line]], hit[[k]], hit[[k]] + attr(hit, "match.length")[[k]] - 1L)
      lead <- nchar(text) - nchar(sub("^\\s+", "", text))
      at <- c(line, hit[[k]] + lead, line, hit[[k]] + nchar(sub("\\s+$", "", text)) - 1L)
      if (at[[4]] < at[[2]]) at[[4]] <- at[[2]]
      hint <- if (is.function(h$hint)) h$hint(trimws(text)) else h$hint
      hits <- c(hits, list(diagnostic(h$id, h$message, hint, at)))
    }
  }
  hits
}
