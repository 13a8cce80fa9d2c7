# The three games as a practitioner would write them in R: vectorised over the rounds, and as a
# plain loop a round. Each gives the number of rounds of each outcome.

vectorised <- list(
  "tide-signs" = function(n) {
    left <- sample.int(3, n, TRUE)
    right <- sample.int(3, n, TRUE)
    tabulate(1L + (right - left) %% 3L, 3)
  },
  "dice-duel" = function(n) {
    first <- second <- integer(n)
    for (round in 1:7) {
      a <- sample.int(8, n, TRUE)
      b <- sample.int(8, n, TRUE)
      first <- first + (a > b)
      second <- second + (b > a)
    }
    c(sum(first > second), sum(second > first), sum(first == second))
  },
  "lantern-tiles" = function(n) {
    guest <- sample.int(12, n, TRUE) + sample.int(12, n, TRUE)
    tiles <- rep(2L, n)
    repeat {
      on <- which(guest < 19)
      if (length(on) == 0) break
      guest[on] <- guest[on] + sample.int(12, length(on), TRUE)
      tiles[on] <- tiles[on] + 1L
    }
    bright <- guest == 24 & tiles == 3
    bust <- guest > 24
    keeper <- integer(n)
    repeat {
      on <- which(!bright & !bust & keeper < 18)
      if (length(on) == 0) break
      keeper[on] <- keeper[on] + sample.int(12, length(on), TRUE)
    }
    open <- !bright & !bust
    c(sum(bright), sum(bust), sum(open & keeper > 24), sum(open & keeper == guest),
      sum(open & keeper <= 24 & guest > keeper), sum(open & keeper <= 24 & guest < keeper))
  })

plain <- list(
  "tide-signs" = function(n) {
    signs <- c("reef", "boat", "squall")
    beats <- c(reef = "boat", boat = "squall", squall = "reef")
    wins <- c(left = 0, right = 0, draw = 0)
    for (i in seq_len(n)) {
      left <- sample(signs, 1)
      right <- sample(signs, 1)
      end <- if (left == right) "draw" else if (beats[[left]] == right) "left" else "right"
      wins[[end]] <- wins[[end]] + 1
    }
    wins
  },
  "dice-duel" = function(n) {
    wins <- c(first = 0, second = 0, draw = 0)
    for (i in seq_len(n)) {
      first <- second <- 0
      for (round in 1:7) {
        a <- sample(1:8, 1)
        b <- sample(1:8, 1)
        if (a > b) first <- first + 1
        if (b > a) second <- second + 1
      }
      end <- if (first > second) "first" else if (second > first) "second" else "draw"
      wins[[end]] <- wins[[end]] + 1
    }
    wins
  },
  "lantern-tiles" = function(n) {
    ends <- c(bright = 0, guest_bust = 0, keeper_bust = 0, tie = 0, guest_high = 0, keeper_high = 0)
    for (i in seq_len(n)) {
      guest <- sample(1:12, 1) + sample(1:12, 1)
      tiles <- 2
      while (guest < 19) {
        guest <- guest + sample(1:12, 1)
        tiles <- tiles + 1
      }
      if (guest == 24 && tiles == 3) end <- "bright"
      else if (guest > 24) end <- "guest_bust"
      else {
        keeper <- sample(1:12, 1)
        while (keeper < 18) keeper <- keeper + sample(1:12, 1)
        end <- if (keeper > 24) "keeper_bust" else if (keeper == guest) "tie" else if (guest > keeper) "guest_high" else "keeper_high"
      }
      ends[[end]] <- ends[[end]] + 1
    }
    ends
  })
