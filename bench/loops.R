# The first five games as a practitioner would write them in R: vectorised over the rounds, and as a plain loop a
# round. Each gives the number of rounds of each outcome, in the order of the rules file.

card_points <- c(2:10, 10, 10, 10, 11)
ends_of_twenty_one <- function(guest, keeper) {
  open <- guest <= 21
  c(bust = sum(!open), keeper_bust = sum(open & keeper > 21), push = sum(open & keeper == guest),
    ahead = sum(open & keeper <= 21 & guest > keeper), behind = sum(open & keeper <= 21 & guest < keeper))
}

# Both draw below seventeen; `take(who)` gives a card to each of the rounds in `who`.
twenty_one_at_once <- function(n, take) {
  one <- function(in_play) {
    total <- soft <- numeric(n)
    repeat {
      on <- which(in_play & total < 17)
      if (length(on) == 0) return(total)
      worth <- take(on)
      total[on] <- total[on] + worth
      soft[on] <- soft[on] + (worth == 11)
      saved <- on[total[on] > 21 & soft[on] > 0]
      total[saved] <- total[saved] - 10
      soft[saved] <- soft[saved] - 1
    }
  }
  guest <- one(rep(TRUE, n))
  ends_of_twenty_one(guest, one(guest <= 21))
}

twenty_one_by_round <- function(n, shuffle) {
  ends <- c(bust = 0, keeper_bust = 0, push = 0, ahead = 0, behind = 0)
  for (i in seq_len(n)) {
    take <- shuffle()
    one <- function() {
      total <- soft <- 0
      while (total < 17) {
        worth <- take()
        total <- total + worth
        if (worth == 11) soft <- soft + 1
        if (total > 21 && soft > 0) {
          total <- total - 10
          soft <- soft - 1
        }
      }
      total
    }
    guest <- one()
    end <- if (guest > 21) "bust" else {
      keeper <- one()
      if (keeper > 21) "keeper_bust" else if (guest == keeper) "push" else if (guest > keeper) "ahead" else "behind"
    }
    ends[[end]] <- ends[[end]] + 1
  }
  ends
}

# Of five dice a row: which outcome of the sheet each row is.
sheet_outcome <- function(counts) {
  most <- do.call(pmax, asplit(counts, 2))
  pair <- rowSums(counts == 2) == 1
  inner <- rowSums(counts[, 2:5, drop = FALSE] > 0) == 4
  run <- inner & (counts[, 1] > 0 | counts[, 6] > 0)
  ifelse(most == 5, 1L, ifelse(most == 4, 2L, ifelse(most == 3 & pair, 3L, ifelse(run, 4L, ifelse(most == 3, 5L, 6L)))))
}

beaten_by <- rbind(c(2, 3), c(3, 4), c(4, 5), c(5, 1), c(1, 2))  # reef, boat, squall, gull, net
sign_result <- local({ m <- matrix(2L, 5, 5); diag(m) <- 3L; for (s in 1:5) m[s, beaten_by[s, ]] <- 1L; m })

vectorised <- list(
  "open-shoe" = function(n) twenty_one_at_once(n, function(on) card_points[sample.int(13, length(on), TRUE)]),
  "six-packs" = function(n) {
    left <- matrix(24, n, 13)
    twenty_one_at_once(n, function(on) {
      place <- stats::runif(length(on)) * rowSums(left[on, , drop = FALSE])
      rank <- rep(1L, length(on))
      gone <- left[on, 1]
      for (k in 2:13) {
        rank <- rank + (place >= gone)
        gone <- gone + left[cbind(on, k)]
      }
      left[cbind(on, rank)] <<- left[cbind(on, rank)] - 1
      card_points[rank]
    })
  },
  "high-water" = function(n) {
    score <- matrix(0, n, 2)
    wins <- c(0, 0)
    on <- seq_len(n)
    mover <- 1
    while (length(on) > 0) {
      pot <- numeric(length(on))
      rolling <- seq_along(on)
      while (length(rolling) > 0) {
        face <- sample.int(6, length(rolling), TRUE)
        pot[rolling] <- ifelse(face == 1, 0, pot[rolling] + face)
        rolling <- rolling[face > 1 & pot[rolling] < 20 & score[on[rolling], mover] + pot[rolling] < 100]
      }
      score[cbind(on, mover)] <- score[cbind(on, mover)] + pot
      over <- score[on, mover] >= 100
      wins[mover] <- wins[mover] + sum(over)
      on <- on[!over]
      mover <- 3 - mover
    }
    wins
  },
  "three-rolls" = function(n) {
    counts <- matrix(0L, n, 6)
    roll <- function(rows, dice) {
      for (k in seq_len(max(dice, 0))) {
        on <- rows[dice >= k]
        at <- cbind(on, sample.int(6, length(on), TRUE))
        counts[at] <<- counts[at] + 1L
      }
    }
    roll(seq_len(n), rep(5, n))
    for (throw in 1:2) {
      again <- which(sheet_outcome(counts) > 4)
      best <- max.col(sweep(10 * counts[again, , drop = FALSE], 2, 1:6, "+"), "first")
      kept <- counts[cbind(again, best)]
      counts[again, ] <- 0L
      counts[cbind(again, best)] <- kept
      roll(again, 5 - kept)
    }
    tabulate(sheet_outcome(counts), 6)
  },
  "five-signs" = function(n) tabulate(sign_result[cbind(sample.int(5, n, TRUE), sample.int(5, n, TRUE))], 3))

plain <- list(
  "open-shoe" = function(n) twenty_one_by_round(n, function() function() card_points[[sample.int(13, 1)]]),
  "six-packs" = function(n) {
    shoe <- rep(card_points, each = 24)
    twenty_one_by_round(n, function() {
      cards <- sample(shoe, 40)
      k <- 0
      function() { k <<- k + 1; cards[[k]] }
    })
  },
  "high-water" = function(n) {
    wins <- c(0, 0)
    for (i in seq_len(n)) {
      score <- c(0, 0)
      mover <- 2
      while (score[[mover]] < 100) {
        mover <- 3 - mover
        pot <- 0
        repeat {
          face <- sample.int(6, 1)
          if (face == 1) { pot <- 0; break }
          pot <- pot + face
          if (pot >= 20 || score[[mover]] + pot >= 100) break
        }
        score[[mover]] <- score[[mover]] + pot
      }
      wins[[mover]] <- wins[[mover]] + 1
    }
    wins
  },
  "three-rolls" = function(n) {
    ends <- numeric(6)
    for (i in seq_len(n)) {
      dice <- sample.int(6, 5, TRUE)
      for (throw in 1:3) {
        counts <- tabulate(dice, 6)
        end <- sheet_outcome(matrix(counts, 1))
        if (end <= 4 || throw == 3) break
        best <- which.max(10 * counts + 1:6)
        kept <- dice[dice == best]
        dice <- c(kept, sample.int(6, 5 - length(kept), TRUE))
      }
      ends[[end]] <- ends[[end]] + 1
    }
    ends
  },
  "five-signs" = function(n) {
    wins <- c(left = 0, right = 0, draw = 0)
    for (i in seq_len(n)) {
      left <- sample.int(5, 1)
      right <- sample.int(5, 1)
      end <- if (left == right) "draw" else if (right %in% beaten_by[left, ]) "left" else "right"
      wins[[end]] <- wins[[end]] + 1
    }
    wins
  })
