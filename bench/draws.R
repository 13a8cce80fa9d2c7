# Would antithetic or stratified draws pay? The variance of what two rounds come to together, where the second has each
# random number u as 1 - u, of that of two rounds on their own; and how much of the variance the first draw explains,
# which is the most that stratifying it could take away.
set.seed(1)
rounds <- 2e5
numbers <- function(draws) matrix(stats::runif(rounds * draws), rounds)
die <- function(u, sides) ceiling(sides * u)

# The guest of lantern-tiles draws 1 to 12 up to 19 and is bust above 24.
bust <- function(u) {
  total <- numeric(nrow(u))
  for (k in seq_len(ncol(u))) {
    goes_on <- total < 19
    total[goes_on] <- total[goes_on] + die(u[goes_on, k], 12)
  }
  total > 24
}
beaten <- function(u) rowSums(die(u[, 1:2], 6)) > rowSums(die(u[, 3:4], 6))
two_faces <- function(u) {
  shown <- die(u, 6)
  rowSums(vapply(1:6, function(face) rowSums(shown == face) > 0, logical(nrow(u)))) == 2
}

pays <- function(what, ends, u, sides) {
  plain <- ends(u)
  explained <- stats::var(tapply(plain, factor(die(u[, 1], sides), seq_len(sides)),
                                 mean)) * (sides - 1) / sides / stats::var(plain)
  cat(sprintf("%-34s antithetic %.2f of the variance, the first draw explains %4.1f%%\n", what,
              1 + stats::cor(plain, ends(1 - u)), 100 * explained))
}
pays("lantern-tiles, the guest is bust", bust, numbers(20), 12)
pays("two dice against two", beaten, numbers(4), 6)
pays("five dice show two faces", two_faces, numbers(5), 6)
