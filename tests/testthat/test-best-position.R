# What each answer at a position is worth where play goes on as well as can be.

# lantern-tiles by recursion: stand and draw at each (total, tiles), and how often best play comes there.
tiles_by_recursion <- function() {
  keeper <- c(1, numeric(30))  # by total + 1, before the keeper has 18
  repeat {
    low <- which(keeper[1:18] > 0)
    if (length(low) == 0) break
    for (t in low) {
      keeper[t + 1:12] <- keeper[t + 1:12] + keeper[t] / 12
      keeper[t] <- 0
    }
  }
  totals <- 0:30
  stand <- function(t, n) if (t == 24 && n == 3) 2
    else sum(keeper * ifelse(totals > 24, 1, ifelse(totals == t, 0, ifelse(totals < t, 1, -1))))
  worth <- draw <- matrix(NA_real_, 24, 25)
  stood <- outer(1:24, 1:25, Vectorize(stand))
  for (n in 24:2) for (t in 24:1) {
    there <- t + 1:12
    draw[t, n] <- mean(ifelse(there > 24, -1, worth[cbind(pmin(there, 24), n + 1)]), na.rm = FALSE)
    worth[t, n] <- max(stood[t, n], draw[t, n], na.rm = TRUE)
  }
  reach <- matrix(0, 24, 25)
  for (a in 1:12) for (b in 1:12) reach[a + b, 2] <- reach[a + b, 2] + 1 / 144
  for (n in 2:24) for (t in 1:24) if (reach[t, n] > 0 && !is.na(draw[t, n]) && draw[t, n] > stood[t, n])
    for (k in seq_len(min(12, 24 - t))) reach[t + k, n + 1] <- reach[t + k, n + 1] + reach[t, n] / 12
  list(stand = stood, draw = draw, reach = reach)
}

test_that("answers at a position are worth what a recursion gives", {
  by_hand <- tiles_by_recursion()
  at <- function(text) best_play("lantern-tiles", at = text)$position
  two <- at("guest_total = 18, guest_tiles = 2")
  expect_identical(two$answers$answer, c("draw", "stand"))
  expect_equal(two$answers$worth, c(by_hand$draw[18, 2], by_hand$stand[18, 2]), tolerance = 1e-12)
  expect_equal(two$answers$loss, c(0, by_hand$draw[18, 2] - by_hand$stand[18, 2]), tolerance = 1e-12)
  expect_equal(two$reached, by_hand$reach[18, 2], tolerance = 1e-12)
  expect_identical(c(two$situations, two$answers$best_in, two$answers$legal_in), c(1, 1, 0, 1, 1))
  # however many tiles it took: means by how often best play comes there
  met <- by_hand$reach[18, ]
  some <- met > 0
  all <- at("guest_total = 18")
  expect_equal(all$reached, sum(met), tolerance = 1e-12)
  expect_equal(all$answers$worth[all$answers$answer == "draw"], sum(met[some] * by_hand$draw[18, some]) / sum(met),
               tolerance = 1e-12)
  expect_identical(at("choice: guest_total = 18")$answers, all$answers)
  rare <- at("guest_total = 24, guest_tiles = 12")
  expect_equal(rare$reached, by_hand$reach[24, 12], tolerance = 1e-12)
  expect_equal(rare$answers$worth, c(by_hand$stand[24, 12], -1), tolerance = 1e-12)
  # no condition: all situations of the decision
  everywhere <- at("")
  expect_equal(everywhere$reached, sum(by_hand$reach), tolerance = 1e-12)
})

test_that("of two seats each has its answers, and mixes tell how often they are played", {
  never <- best_play("last-pebble", both = TRUE, at = "left = 6")$position
  expect_identical(never$reached, 0)
  both <- never$answers
  expect_identical(both$seat, rep(c("first", "second"), each = 3))
  expect_identical(both$answer[both$best_in == 1], c("1", "1"))  # five are left to the other
  expect_equal(both$worth[both$seat == "first"], rev(sort(both$worth[both$seat == "first"])))
  mixed <- best_play("lantern-bluff", both = TRUE, at = "card[me] = 1, raises = 0")$position$answers
  early <- mixed[mixed$seat == "early", ]
  expect_equal(sum(early$share), 1, tolerance = 1e-9)
  expect_true(all(early$best_in[early$share > 0.01] == 1))
})

test_that("an answer that wins at once is known, where others were not looked at", {
  p <- best_play("high-water", set = list(seated = 2, target = 40), at = "press: pot = 12, score[me] = 28")$position
  bank <- p$answers[p$answers$answer == "bank", ]
  expect_identical(c(bank$worth, bank$loss, bank$best_in, bank$known_in), c(1, 0, 1, 1))
  expect_identical(p$answers$answer[[1]], "bank")
})

test_that("positions that cannot be are refused", {
  message_of <- function(expr) conditionMessage(tryCatch(expr, error = function(e) e))
  refused <- function(...) message_of(best_play("lantern-tiles", ...))
  expect_match(refused(at = "guest_total = 99"), "never holds when `choice` is asked")
  expect_match(refused(at = "throw: guest_total = 9"), "no decision `throw`")
  expect_match(refused(at = "aim = 24"), "is a setting")
  expect_match(refused(at = "guest_totle = 24"), "guest_total")
  expect_match(refused(at = "guest_total = 18", rule = 0.1), "one position")
  expect_match(message_of(best_play("lantern-bluff", both = TRUE, at = "card[other(me)] = 1")), "not seen by the seat")
})
