# Distributions of what is recorded, to be read: quantiles, and a table with what has come up so far.

quantile_points <- c(0.05, 0.25, 0.5, 0.75, 0.95)

# The quantiles of a distribution by the points; NULL of labels: the least value whose cumulative share is at least p,
# the inverse of the distribution function (definition 1 of Hyndman and Fan 1996, "Sample quantiles in statistical
# packages").
quantiles_of <- function(distribution) {
  if (!is.numeric(distribution$value)) return(NULL)
  cumulative <- cumsum(distribution$probability)
  at <- vapply(quantile_points, function(p) which(cumulative >= p - 1e-12)[[1]], 1L)
  stats::setNames(distribution$value[at], paste0(100 * quantile_points, "%"))
}

most_values_shown <- 30L

# A table a record of numbers; neighbours share a row where there are many values.
distribution_sections <- function(odds) {
  all <- all_distributions(odds)
  unname(Map(function(name, d) {
    quantiles <- quantiles_of(d)
    if (is.null(quantiles)) return(NULL)
    shown <- joined_values(d)
    section(sprintf("%s: %s", name, paste(names(quantiles), plain_number(quantiles), collapse = ", ")),
            list(value = shown$value, probability = percent_text(shown$probability, 3),
                 "this or less" = percent_text(pmin(1, cumsum(shown$probability)), 2)))
  }, names(all), all))
}

# Of records, of pays, and of what is recorded at the end of a match or sitting, by name.
all_distributions <- function(odds) {
  of_unit <- odds$units$distributions
  stats::setNames(c(odds$distributions, odds$pay_distributions, of_unit),
                  c(odds$records$name, pay_titles(odds), sprintf("%s (of a %s)", names(of_unit), odds$unit)))
}

number_distributions <- function(odds) Filter(function(d) is.numeric(d$value), all_distributions(odds))

pay_titles <- function(odds) paste0("pay of ", names(odds$pay_distributions), recycle0 = TRUE)

joined_values <- function(d) {
  if (nrow(d) <= most_values_shown) return(list(value = plain_number(d$value), probability = d$probability))
  width <- nice_width(diff(range(d$value)) / most_values_shown)
  class <- floor(d$value / width)
  ends <- lapply(split(d$value, class), range)
  list(value = vapply(ends, function(e) paste(unique(plain_number(e)), collapse = " to "), ""),
       probability = vapply(split(d$probability, class), sum, 0))
}

# 1, 2 or 5 times a power of ten, at least `least`.
nice_width <- function(least) {
  power <- 10^floor(log10(least))
  power * c(1, 2, 5, 10)[which(c(1, 2, 5, 10) * power >= least - 1e-12)[[1]]]
}
