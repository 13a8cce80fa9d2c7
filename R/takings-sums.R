# Sums of many independent plays, on a lattice: their distribution, and how low they get on the way.

most_lattice <- 4e6

# Values as whole multiples of a step: list(step, least, probability), the probabilities of least, least + 1, ...
on_lattice <- function(value, probability) {
  step <- lattice_step(value)
  k <- round(value / step)
  p <- numeric(diff(range(k)) + 1)
  sums <- rowsum(probability, k)
  p[as.numeric(rownames(sums)) - min(k) + 1] <- sums
  list(step = step, least = min(k), probability = p / sum(p))
}

# The largest step, a whole part of a token, that all values are multiples of; NULL where there is none that could be
# used.
common_step <- function(value) {
  parts <- 1
  for (v in unique(value)) {
    denominator <- denominator_of(v * parts)
    if (is.null(denominator) || denominator * parts > most_parts) return(NULL)
    parts <- parts * denominator
  }
  scaled <- unique(abs(round(value * parts)))
  max(1, Reduce(greatest_divisor, scaled[scaled > 0], 0)) / parts
}

most_parts <- 1e5
rounded_step <- 1e-4  # where values have no common step

lattice_step <- function(value) {
  step <- common_step(value)
  if (is.null(step)) rounded_step else step
}

# The least whole number that makes x whole, by its continued fraction.
denominator_of <- function(x) {
  before <- 0
  parts <- 1
  rest <- x
  for (k in 1:30) {
    if (abs(x * parts - round(x * parts)) < 1e-9 * max(1, abs(x))) return(parts)
    rest <- 1 / (rest - floor(rest))
    after <- floor(rest) * parts + before
    before <- parts
    parts <- after
    if (parts > most_parts) return(NULL)
  }
}

greatest_divisor <- function(a, b) {
  while (b > 0) {
    rest <- a %% b
    a <- b
    b <- rest
  }
  a
}

# The distribution of the sum of n plays: list(value, probability).
convolved <- function(play, n) {
  width <- (length(play$probability) - 1) * n + 1
  if (width > most_lattice)
    abort_input("takings_large", "An evening of so many rounds with pays this far apart is more than can be added up.",
                "ask for fewer rounds or hours, or a cap on what a round pays")
  size <- stats::nextn(width)
  p <- Re(stats::fft(stats::fft(c(play$probability, numeric(size - length(play$probability))))^n,
                     inverse = TRUE)) / size
  p <- pmax(p[seq_len(width)], 0)
  list(value = (play$least * n + seq_len(width) - 1) * play$step, probability = p / sum(p))
}

# The chance that n plays come to `at` or less (side = -1), or to `at` or more (side = 1). The plays are tilted so that
# their mean is there (Esscher 1932, "On the probability function in the collective theory of risk"): a far tail keeps
# its digits, which the transform of the plays themselves would lose.
tail_of_sum <- function(play, n, at, side) {
  k <- play$least + seq_along(play$probability) - 1
  goal <- at / play$step / n
  some <- play$probability > 0
  if (sum(some) == 1) return(as.numeric(side * (n * k[some] - at / play$step) >= -1e-6))
  ends <- range(k[some])
  goal <- min(max(goal, ends[[1]] + 1e-6), ends[[2]] - 1e-6)
  centred <- k - goal
  mean_at <- function(tilt) {
    w <- play$probability * exp(tilt * centred - max(tilt * centred[some]))
    sum(w * centred) / sum(w)
  }
  most <- 30 / max(1e-9, min(1, diff(ends)))
  tilt <- if (abs(mean_at(0)) < 1e-12) 0
    else if (mean_at(-most) > 0 || mean_at(most) < 0) 0
    else stats::uniroot(mean_at, c(-most, most), tol = 1e-12)$root
  if (side * tilt < 0) tilt <- 0  # the tail is the larger part
  shift <- max(tilt * centred[some])
  tilted <- play$probability * exp(tilt * centred - shift)
  scale <- sum(tilted)
  total <- convolved(list(step = play$step, least = play$least, probability = tilted / scale), n)
  steps <- round(total$value / play$step)
  within <- side * (steps * play$step - at) >= -1e-9 * max(1, abs(at))
  log_weight <- n * (log(scale) + shift) - tilt * (steps[within] - n * goal)
  min(1, sum(total$probability[within] * exp(log_weight)))
}

short_of_float <- 0.01

# The lowest level of the till: the chance that it is below zero at some time, and the smallest float with which that
# is below 1%. Levels below `depth` are pooled there.
lowest_levels <- function(play, n, float) {
  if (play$least >= 0) return(list(dry = 0, needed = 0))
  depth <- depth_needed(play, n, float)
  low <- numeric(depth + 1)  # low[k + 1]: the lowest so far is k steps below the start
  low[[1]] <- 1
  shifts <- which(play$probability > 0)
  for (i in seq_len(n)) {
    heartbeat()
    after <- numeric(depth + 1)
    for (s in shifts) {
      down <- -(play$least + s - 1)  # so many steps deeper
      moved <- play$probability[[s]] * low
      if (down >= 0) {
        kept <- seq_len(max(0, depth + 1 - down))
        after[kept + down] <- after[kept + down] + moved[kept]
        after[[depth + 1]] <- after[[depth + 1]] + sum(moved) - sum(moved[kept])
      } else {
        up <- min(-down, depth + 1)
        after[[1]] <- after[[1]] + sum(moved[seq_len(up)])
        kept <- seq_len(max(0, depth + 1 - up))
        after[kept] <- after[kept] + moved[kept + up]
      }
    }
    low <- after
  }
  deeper <- function(tokens) sum(low[(0:depth) * play$step > tokens + 1e-9])
  beyond <- rev(cumsum(rev(low)))  # beyond[k + 1]: k steps or deeper
  enough <- which(c(beyond[-1], 0) < short_of_float)[[1]] - 1
  list(dry = deeper(float), needed = enough * play$step)
}

# Deep enough for the float, and for all but a negligible chance: by Chernoff's bound on the way down.
depth_needed <- function(play, n, float) {
  k <- play$least + seq_along(play$probability) - 1
  sd <- sqrt(sum(play$probability * (k - sum(k * play$probability))^2))
  drift <- max(0, -sum(k * play$probability)) * n
  ceiling(max(float / play$step, drift + 8 * sd * sqrt(n)) + 2 * -play$least) + 1
}
