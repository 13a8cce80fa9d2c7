# Intervals of probabilities and means: lists of `lower` and `upper`.

confidence_z <- stats::qnorm(0.975)

wilson_interval <- function(count, n, z = confidence_z) {
  p <- count / n
  centre <- (p + z^2 / (2 * n)) / (1 + z^2 / n)
  half <- z / (1 + z^2 / n) * sqrt(p * (1 - p) / n + z^2 / (4 * n^2))
  list(lower = ifelse(count == 0, 0, centre - half), upper = ifelse(count == n, 1, centre + half))
}

# Mean and standard deviation, a list, of a distribution given as values and weights; sampled also the standard error
# and the interval. `error_of` gives the error of a mean where the rounds of a unit depend on each other; `ends` are
# the least and the greatest value that there can be.
moments <- function(counts, sampled, error_of = NULL, ends = no_ends, units = NULL) {
  n <- sum(counts$weight)
  mean <- sum(counts$value * counts$weight) / n
  squares <- sum(counts$weight * (counts$value - mean)^2)
  sd <- sqrt(squares / if (sampled) max(1, n - 1) else n)
  row <- list(mean = mean, sd = sd)
  if (!sampled) return(row)
  error <- if (is.null(error_of)) sd / sqrt(n) else error_of(mean)
  skewness <- if (isTRUE(sd > 0) && is.null(error_of)) sum(counts$weight * ((counts$value - mean) / sd)^3) / n else 0
  two_valued <- is.null(error_of) && length(counts$value) == 2
  interval <- if (two_valued) two_valued_interval(counts, n) else mean_interval(mean, error, skewness, n)
  c(row, standard_error = error,
    with_unseen(interval, mean, range(counts$value), ends, if (is.null(error_of)) n else units))
}

# The mean of a quantity of two values is a share in other units.
two_valued_interval <- function(counts, n) {
  share <- wilson_interval(counts$weight[[2]], n)
  scaled <- function(p) counts$value[[1]] + p * (counts$value[[2]] - counts$value[[1]])
  list(lower = scaled(share$lower), upper = scaled(share$upper))
}

# The interval of a mean, corrected for skewness by Hall's cubic transformation of the t statistic.
mean_interval <- function(mean, error, skewness, n) {
  g <- skewness / sqrt(n)
  t <- if (abs(g) < 1e-6) c(-1, 1) * confidence_z else {
    x <- 1 + g * (c(-1, 1) * confidence_z - g / 6)
    (sign(x) * abs(x)^(1 / 3) - 1) * 3 / g
  }
  list(lower = mean - t[[2]] * error, upper = mean - t[[1]] * error)
}

# An interval that allows for values not yet seen. A quantity is the quantity cut off at the greatest value seen, plus
# what is beyond. The first has the interval given. The second has a mean of at most the way to the end of what can be,
# times z^2 / (n + z^2), the upper end of Wilson's interval at a count of zero. The same holds below the least value.
# If only one value was seen and the possible values are unknown, there is no interval.
with_unseen <- function(interval, mean, seen, ends, n) {
  if (anyNA(seen)) return(list(lower = NA_real_, upper = NA_real_))  # labels have no mean
  share <- confidence_z^2 / (n + confidence_z^2)
  beyond <- pmax(0, c(seen[[1]] - ends[[1]], ends[[2]] - seen[[2]])) * share
  if (seen[[1]] == seen[[2]] && any(is.infinite(beyond))) return(list(lower = NA_real_, upper = NA_real_))
  beyond[is.infinite(beyond)] <- 0
  list(lower = max(ends[[1]], mean - sqrt((mean - interval$lower)^2 + beyond[[1]]^2)),
       upper = min(ends[[2]], mean + sqrt((interval$upper - mean)^2 + beyond[[2]]^2)))
}

# The difference of two shares of the same n units, by the units in which only the second holds, and only the first: the
# score interval of Tango (1998), "Equivalence test and confidence interval for the difference in proportions for the
# paired-sample design".
paired_share_interval <- function(only_second, only_first, n, z = confidence_z) {
  difference <- (only_second - only_first) / n
  statistic <- function(d) {
    b <- -only_second - only_first + (2 * n - only_second + only_first) * d
    q <- (sqrt(pmax(0, b^2 + 8 * n * only_first * d * (1 - d))) - b) / (4 * n)
    error_of <- sqrt(pmax(0, n * (2 * q + d * (1 - d))))
    off <- only_second - only_first - n * d
    if (error_of == 0) sign(off) * Inf else off / error_of
  }
  end <- function(far, wanted) {
    if (abs(difference) == 1 && sign(far) == sign(difference)) return(difference)
    near <- difference + sign(far) * 1e-12
    if (is.nan(statistic(near))) return(difference)
    f <- function(d) max(-1e6, min(1e6, statistic(d) - wanted))
    stats::uniroot(f, sort(c(near, far * (1 - 1e-12))), tol = 1e-12)$root
  }
  list(lower = end(-1, z), upper = end(1, -z))
}
