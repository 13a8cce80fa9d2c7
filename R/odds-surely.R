# When is one of two ways surely better than another? The one rule of players, fairness, sweeps and balance.
# `off` has for each unit how far it pulls the difference of the two from its mean.

least_deciding <- 50  # units that must decide a difference; below, no approximation of its error holds

# The effective number of units: all if their influence is alike, few if rare great ones decide.
deciding_units <- function(off) sum(off^2)^2 / max(sum(off^4), 1e-300)

# The statistic of a difference, normal where there is none in truth: t, corrected for the skewness of the units (Hall
# 1992, "On the removal of skewness by transformation"). Zero where too few units decide. `times` as many units were
# sampled as `off` has.
difference_z <- function(difference, off, times = 1) {
  n <- length(off) * times
  if (is.na(difference) || deciding_units(difference + off) * times < least_deciding) return(0)
  sd <- stats::sd(off)
  if (sd == 0) return(sign(difference) * Inf)
  g <- mean(((off - mean(off)) / sd)^3) / sqrt(n)
  t <- difference / (sd / sqrt(n))
  t + g * t^2 / 3 + g^2 * t^3 / 27 + g / 6
}

# Of several differences at once: 1 surely above zero, -1 surely below, 0 neither. Holm's step-down procedure (Holm
# 1979, "A simple sequentially rejective multiple test procedure"): wrong in any of them in at most `error` of runs.
surely_differ <- function(difference, z, counted, error = 0.05) {
  p <- ifelse(counted, 0, 2 * stats::pnorm(-abs(z)))
  open <- !counted
  p[open] <- stats::p.adjust(p[open], "holm")
  ifelse(p < error & (!counted | abs(difference) > 1e-12), sign(difference), 0)
}

# How many standard errors the best of n must be ahead of another, for that one to be surely not the best. All ordered
# pairs count: where several are equally good, each of them is to be kept.
enough_to_leave_out <- function(n) stats::qnorm(1 - 0.05 / max(1, n * (n - 1)))
