# Ratios of two sums over rounds or units, as a return is: what comes back over what is put in.

fewest_deciding <- 10  # so many units must decide a ratio, or it has no interval

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
  found <- moments(counts, TRUE, ends = ends)
  list(lower = found$lower / bottom, upper = found$upper / bottom)
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
