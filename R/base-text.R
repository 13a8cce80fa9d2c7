marks_in_words <- c("nowhere", "elsewhere", "placed")

# The marks behind a code, in words: as many as the words compared have letters.
marks_text <- function(code, length) {
  digits <- integer()
  while (code > 0 || length(digits) < max(1, length)) {
    digits <- c(digits, code %% 3)
    code <- code %/% 3
  }
  paste(marks_in_words[digits + 1], collapse = " ")
}

# "placed nowhere elsewhere" as the code of the marks, or NA
marks_code <- function(text) {
  digits <- match(strsplit(trimws(text), "[[:space:],]+")[[1]], marks_in_words) - 1
  if (length(digits) == 0 || anyNA(digits)) NA else sum(digits * 3^(seq_along(digits) - 1))
}

seat_or_nobody <- function(rules, seat) if (seat == 0) "nobody" else rules$seats[[seat]]

value_text <- function(rules, value, type) {
  switch(type$kind,
    label = if (value != 0) rules$labels[[value]] else none_text(rules, type),
    card = if (value == 0) "none" else rules$names[[type$set]]$card_names[[value]],
    word = if (value == 0) "none" else rules$words$texts[[value]],
    marks = marks_text(value, rules$words$mark_length),
    verb = if (value == 0) "meets" else type$verbs[[value]],
    yesno = if (value != 0) "yes" else "no", number_text(in_scale(value, type$scale)))
}

# A whole number in full; a fraction with seven digits.
number_text <- function(value) {
  if (isTRUE(value == round(value) && abs(value) < 1e15)) sprintf("%.0f", value + 0)  # never "-0"
  else format(value)
}

# Pieces as tokens.
in_scale <- function(value, scale) if (is.null(scale)) value else value * scale$num / scale$den

# The text of no label: the word that was written, else that of the set.
none_text <- function(rules, type) {
  if (length(type$members) == 0 && type$set %in% c("nobody", "none", "pass", "blank")) return(type$set)
  if (identical(type$set, "letters") || are_letters(rules, type$members)) return("blank")
  if (identical(type$set, "seats")) "nobody" else "none"
}

are_letters <- function(rules, members) {
  length(members) > 0 &&
    any(vapply(rules$names, function(d) identical(d$kind, "alphabet") && all(members %in% d$members), NA))
}

# The parts between commas, those within brackets left alone: "banker(at = 3, to = 5), bold" has two.
split_outside_brackets <- function(text) trimws(strsplit(text, ",(?![^()]*\\))(?![^\\[\\]]*\\])", perl = TRUE)[[1]])

# A measure of whichever seat: "mean_pay({seat})" as it is told.
any_seat <- function(of) gsub("{seat}", "seat", of, fixed = TRUE)

# The player of each seat: "guest plays careful, keeper plays mimic".
who_plays <- function(players) paste(names(players), unlist(players), sep = " plays ", collapse = ", ")

# The same as a line of a result; NULL where nobody decides.
players_line <- function(players) if (length(players) > 0) sprintf("Players: %s.", who_plays(players))

units_in_words <- function(unit) c(round = "rounds", match = "matches", sitting = "sittings")[[unit]]

# The items of a list, and their text, as the registers of a program hold them.
collection_items <- function(program, list, ints) {
  base <- program$lists[1, list + 1L] + 1L
  ints[base + seq_len(ints[[base]])]
}

collection_text <- function(rules, program, list, type, ints) {
  items <- vapply(collection_items(program, list, ints), value_text, "", rules = rules, type = type$of)
  if (length(items) == 0) "nothing" else paste(items, collapse = ", ")
}

# Results print what format() makes of them.
print_text <- function(x, ...) {
  writeLines(format(x, ...))
  invisible(x)
}

# The keys of every place as a text, in the order of the places.
place_names <- function(rules, axes) {
  along_axes(lapply(axes, key_texts, rules = rules), function(a, b) paste(a, b, sep = ", "))
}

key_texts <- function(axis, rules) vapply(axis$keys, value_text, "", rules = rules, type = axis$type)

# The title in the rules, else the name of the file.
title_of <- function(x) if (!is.null(x$title)) x$title else c(x[["game"]], x$name)[[1]]

# Numbers as text, in one way everywhere.

# 1 000 000: whole numbers for people.
whole_text <- function(x) format(x, big.mark = " ", scientific = FALSE, trim = TRUE)

# 1000000: numbers as they are typed.
plain_number <- function(x) format(x, scientific = FALSE, trim = TRUE, digits = 15)

# Each for itself, without the zeros that the others would need.
plain_numbers <- function(x) vapply(signif(x, 10), plain_number, "")

# Rounded to some decimals, and never "-0.00".
fixed_text <- function(x, digits, sign = FALSE) {
  text <- sub("^-(0[.]?0*)$", if (sign) "+\\1" else "\\1", sprintf(if (sign) "%+.*f" else "%.*f", digits, x))
  ifelse(is.na(x), "-", text)
}

# Shares too small for these digits get two significant ones: 0.00012%.
percent_text <- function(x, digits, sign = FALSE) {
  text <- fixed_text(100 * x, digits, sign)
  rare <- !is.na(x) & x != 0 & abs(100 * x) < 0.5 * 10^-digits
  text[rare] <- vapply(100 * x[rare], function(v) format(signif(v, 2), scientific = abs(v) < 1e-8), "")
  ifelse(text == "-", text, paste0(text, "%"))
}

# Enough decimals to show an error with two digits.
error_digits <- function(error) {
  if (!is.finite(error) || error <= 0) return(4L)
  max(0L, min(8L, 1L - as.integer(floor(log10(error)))))
}

# 1 / p; of a sampled p two digits of its error.
one_in <- function(p, error = NULL) {
  x <- 1 / p
  digits <- ifelse(x < 100, 2, 0)
  if (!is.null(error)) {
    known <- 1 - floor(log10(error / p^2))
    digits <- ifelse(is.finite(known), pmin(digits, known), digits)
  }
  ifelse(p <= 0, "never", fixed_text(round(x, digits), pmax(0, digits)))
}

# With as many decimals as the errors let one know, each number by its own: two digits of the error, `most` at most.
known_percent <- function(x, error, most) {
  mapply(function(v, e) percent_text(v, min(most, error_digits(100 * e))), x, error)
}
count_text <- function(n, one, several = paste0(one, "s")) sprintf("%s %s", whole_text(n), if (n == 1) one else several)

# "-1.2 to 3.4", or nothing where there is no interval. `number` makes a text of each end.
interval_text <- function(lower, upper, number)
  ifelse(is.na(lower) | is.na(upper), "-", paste(number(lower), "to", number(upper)))
