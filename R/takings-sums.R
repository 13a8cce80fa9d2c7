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

# The largest step, of a token or a whole part of one, that all values are multiples of.
lattice_step <- function(value) {
  for (parts in c(1, 2, 4, 5, 10, 20, 25, 50, 100, 1000, 3, 6, 12)) {
    scaled <- value * parts
    if (all(abs(scaled - round(scaled)) < 1e-6)) {
      common <- Reduce(greatest_divisor, unique(abs(round(scaled[abs(scaled) > 0.5]))), 0)
      return(max(1, common) / parts)
    }
  }
  1e-4
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

negligible <- 1e-12
short_of_float <- 0.01

# How low the box gets: the chance that it is below zero at some time, and the smallest float with which that is below
# 1%. What lies deeper than `depth` is lumped together there.
lowest_levels <- function(play, n, float) {
  if (play$least >= 0) return(list(dry = 0, needed = 0))
  depth <- depth_needed(play, n, float)
  low <- numeric(depth + 1)  # low[k + 1]: the lowest so far is k steps below the start
  low[[1]] <- 1
  shifts <- which(play$probability > 0)
  for (i in seq_len(n)) {
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
