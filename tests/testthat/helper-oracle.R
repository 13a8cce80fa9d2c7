# Odds worked out in plain R, from the rules as a person would read them: no code in common with
# the core, the compiler or the engines.

oracle_tide_signs <- function(left = c(1, 1, 1), right = c(1, 1, 1)) {
  signs <- c("reef", "boat", "squall")
  joint <- outer(left / sum(left), right / sum(right))
  wins <- rbind(c("reef", "boat"), c("boat", "squall"), c("squall", "reef"))
  p <- c(left_wins = 0, right_wins = 0, draw = 0)
  for (i in 1:3) for (j in 1:3) {
    end <- if (i == j) "draw" else if (any(wins[, 1] == signs[i] & wins[, 2] == signs[j])) "left_wins" else "right_wins"
    p[[end]] <- p[[end]] + joint[i, j]
  }
  p
}

oracle_dice_duel <- function(sides = 8, rounds = 7) {
  faces <- expand.grid(a = seq_len(sides), b = seq_len(sides))
  higher <- mean(faces$a > faces$b)
  p <- c(first_wins = 0, second_wins = 0, draw = 0)
  score <- numeric(rounds + 1)
  for (i in 0:rounds) for (j in 0:(rounds - i)) {
    k <- rounds - i - j
    w <- factorial(rounds) / (factorial(i) * factorial(j) * factorial(k)) * higher^(i + j) * (1 - 2 * higher)^k
    end <- if (i > j) "first_wins" else if (j > i) "second_wins" else "draw"
    p[[end]] <- p[[end]] + w
    score[i + 1] <- score[i + 1] + w
  }
  list(outcomes = p, score = score)
}

# Totals and numbers of tiles, carried forward tile by tile as a table.
oracle_lantern_tiles <- function(low = 1, high = 12, aim = 24, guest_stands = 19, keeper_stands = 18) {
  tiles <- low:high
  share <- 1 / length(tiles)
  most <- max(aim, guest_stands, keeper_stands) + 2 * high + 1
  draw_while <- function(first, below) {
    standing <- matrix(0, most + 1, most + 1)  # total + 1, tiles + 1
    moving <- matrix(0, most + 1, most + 1)
    moving[1, 1] <- 1
    while (sum(moving) > 0) {
      after <- matrix(0, most + 1, most + 1)
      for (at in which(moving > 0)) {
        total <- (at - 1) %% (most + 1)
        count <- (at - 1) %/% (most + 1)
        for (t in tiles) after[total + t + 1, count + 2] <- after[total + t + 1, count + 2] + moving[at] * share
      }
      on <- outer(0:most, 0:most, function(total, count) count < first | below(total))
      standing <- standing + after * !on
      moving <- after * on
    }
    standing
  }
  guest <- draw_while(2, function(total) total < guest_stands & total <= aim)
  keeper <- draw_while(1, function(total) total < keeper_stands)
  keeper_total <- rowSums(keeper)
  keeper_tiles <- sum(colSums(keeper) * (0:most))
  p <- c(bright = 0, guest_bust = 0, keeper_bust = 0, tie = 0, guest_high = 0, keeper_high = 0)
  taken <- 0
  for (total in 0:most) for (count in 0:most) {
    w <- guest[total + 1, count + 1]
    if (w == 0) next
    taken <- taken + w * count
    if (total == aim && count == 3) p[["bright"]] <- p[["bright"]] + w
    else if (total > aim) p[["guest_bust"]] <- p[["guest_bust"]] + w
    else {
      taken <- taken + w * keeper_tiles
      all <- 0:most
      p[["keeper_bust"]] <- p[["keeper_bust"]] + w * sum(keeper_total[all > aim])
      p[["tie"]] <- p[["tie"]] + w * sum(keeper_total[all <= aim & all == total])
      p[["guest_high"]] <- p[["guest_high"]] + w * sum(keeper_total[all <= aim & all < total])
      p[["keeper_high"]] <- p[["keeper_high"]] + w * sum(keeper_total[all <= aim & all > total])
    }
  }
  list(outcomes = p, pay = sum(p * c(2, -1, 1, 0, 1, -1)), tiles = taken)
}

probabilities <- function(odds) stats::setNames(odds$outcomes$probability, odds$outcomes$name)

# Every sampled outcome within so many standard errors of the true one.
expect_agrees <- function(sampled, truth, errors = 4) {
  p <- truth[sampled$outcomes$name]
  sure <- p <= 0 | p >= 1
  testthat::expect_equal(sampled$outcomes$probability[sure], unname(p[sure]))
  off <- abs(sampled$outcomes$probability - p)[!sure] / sqrt(p * (1 - p) / sampled$rounds)[!sure]
  testthat::expect_lt(max(0, off), errors)
}

# The questions in which one player of the rules takes every seat, by its name; those that cannot are left out.
questions_of_players <- function(rules) {
  questions <- lapply(stats::setNames(nm = names(rules$players)), function(player) {
    players <- stats::setNames(as.list(rep(player, length(rules$seats))), rules$seats)
    tryCatch(new_question(rules, players = players), basanos_error = function(e) NULL)
  })
  Filter(Negate(is.null), questions)
}

# A game from lines of text, through a file as a user has it.
game_of <- function(...) {
  path <- tempfile(fileext = ".game")
  on.exit(unlink(path))
  writeLines(c(...), path, useBytes = TRUE)
  game(path)
}

# The smallest game around some lines of play: one die, one outcome that says `value` was right.
game_with <- function(play, ..., state = "result = 0") {
  game_of("seats(guest)", "cube <- die(1:6)", sprintf("state(%s)", state), ..., "play({", play, "})",
          "outcomes(over = otherwise)", "record(result = result)")
}

# The one value that `result` takes when nothing is left to chance.
result_of <- function(play, ..., state = "result = 0") {
  d <- odds(game_with(play, ..., state = state))$distributions$result
  testthat::expect_equal(nrow(d), 1)
  d$value
}
