# Intervals of probabilities, means and ratios: lists of `lower` and `upper`.

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

# Ratios of two sums over rounds or units, as a return is: what comes back over what is put in.

fewest_deciding <- 10  # a ratio that fewer units decide has no interval

# list(value); sampled also standard_error, lower, upper and `few`: do a few units decide it? `top` and `bottom` are the
# two of each unit, `weight` how often they came up. The interval holds all r for which that of the mean of
# top - r * bottom holds 0. `ends` are the least and the greatest top for a bottom of one that there can be.
ratio_of <- function(top, bottom, weight, sampled, ends = no_ends) {
  value <- sum(top * weight) / sum(bottom * weight)
  none <- list(value = value, standard_error = NA_real_, lower = NA_real_, upper = NA_real_, few = FALSE)
  if (!is.finite(value)) return(utils::modifyList(none, list(value = NA_real_)))
  if (!sampled) return(list(value = value))
  n <- sum(weight)
  off <- top - value * bottom
  error <- sqrt(n / max(1, n - 1) * sum(weight * off^2)) / sum(bottom * weight)
  few <- sum(weight * off^2)^2 < fewest_deciding * sum(weight * off^4)
  if (few || n < 2) return(utils::modifyList(none, list(standard_error = error, few = TRUE)))
  some <- bottom > 0 & weight > 0
  interval <- if (all(bottom == bottom[[1]])) scaled_interval(top, weight, bottom[[1]], ends * bottom[[1]])
    else with_unseen(ratio_interval(off, bottom, weight, value, error), value, range(top[some] / bottom[some]), ends,
                     sum(weight[some]))
  c(list(value = value, standard_error = error), interval, few = FALSE)
}

# With a constant stake the return is a mean in other units.
scaled_interval <- function(top, weight, bottom, ends) {
  counts <- collect_counts(top, weight)
  scaled <- moments(counts, TRUE, ends = ends)
  list(lower = scaled$lower / bottom, upper = scaled$upper / bottom)
}

# By sums of powers, so that each r costs the same however many units there are.
ratio_interval <- function(off, bottom, weight, value, error) {
  n <- sum(weight)
  power <- function(i, j) sum(weight * off^i * bottom^j) / n
  s <- list(one = c(power(1, 0), power(0, 1)), two = c(power(2, 0), power(1, 1), power(0, 2)),
            three = c(power(3, 0), power(2, 1), power(1, 2), power(0, 3)))
  wider <- stats::qt(0.975, n - 1) / confidence_z
  # the ends of the interval of the mean of off - x * bottom, x being how far r is from the value
  end_at <- function(x, side) {
    mean <- sum(s$one * c(1, -x))
    second <- sum(s$two * c(1, -2 * x, x^2))
    third <- sum(s$three * c(1, -3 * x, 3 * x^2, -x^3))
    variance <- second - mean^2
    skewness <- if (variance > 0) (third - 3 * mean * second + 2 * mean^3) / variance^1.5 else 0
    mean_interval(mean, wider * sqrt(variance / (n - 1)), skewness, n)[[side]]
  }
  seek <- function(side, direction) {
    if (error == 0) return(value)
    f <- function(x) end_at(x, side)
    far <- 4 * error
    while (sign(f(direction * far)) == sign(f(0)) && far < 1e6 * error) far <- 2 * far
    if (sign(f(direction * far)) == sign(f(0))) return(NA_real_)
    value + stats::uniroot(f, sort(c(0, direction * far)), tol = error * 1e-6)$root
  }
  list(lower = seek("lower", -1), upper = seek("upper", 1))
}
