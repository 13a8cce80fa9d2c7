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
