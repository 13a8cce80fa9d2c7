# Which engine answers, and how far the answer can be trusted.

test_that("the engine is chosen by the game, says why, and exact odds are checked against a sample", {
  small <- odds("lantern-tiles")
  expect_identical(small$engine, "exact")
  expect_identical(small$checked[c("rounds", "seed")], list(rounds = 2e4, seed = 1))
  expect_lt(small$checked$largest_z, 5)
  expect_match(format(small), "Checked against 20 000 sampled rounds of seed 1", all = FALSE)
  large <- odds("salt-draw", rounds = 2000)
  expect_identical(large$engine, "sample")
  expect_identical(large$rounds, 2000)
  expect_match(format(large), "Sampled: an exact count needs more than .*; `--engine exact` tries anyway", all = FALSE)
  expect_null(odds("lantern-tiles", engine = "exact")$checked)
})

test_that("two engines that disagree are a bug, reported with the seed", {
  g <- game("dice-duel")
  truth <- odds(g, engine = "exact")
  question <- new_question(g)
  other <- compile_game(g, list(sides = 3))
  e <- expect_error(check_against_sample(truth, question, other, new_effort(seed = 3)),
                    class = "basanos_engines_disagree")
  expect_match(conditionMessage(e), "of seed 3 lie")
  same <- program_of(question)
  for (seed in 1:20) expect_lt(check_against_sample(truth, question, same, new_effort(seed = seed))$largest_z, 5)
  # a value that exact says cannot be is as far out as can be
  impossible <- truth
  impossible$distributions$first_score <- impossible$distributions[[1]][-1, ]
  expect_error(check_against_sample(impossible, question, same, new_effort()), class = "basanos_engines_disagree")
})

test_that("a count that stops early gives bounds around the truth, and says what stopped it", {
  truth <- odds("lantern-tiles", engine = "exact")
  for (states in c(50, 500, 2000)) {
    part <- odds("lantern-tiles", engine = "exact", max_states = states)
    expect_false(part$complete)
    expect_identical(part$limit, "states")
    expect_true(all(part$outcomes$lower <= truth$outcomes$probability +
                    1e-12 & part$outcomes$upper >= truth$outcomes$probability - 1e-12))
    expect_true(part$pays$lower <= truth$pays$mean && part$pays$upper >= truth$pays$mean)
  }
  if (requireNamespace("ggplot2", quietly = TRUE)) {
    match <- odds("five-winds", engine = "exact", max_states = 60)
    drawn <- ggplot2::ggplot_build(figure_of(part, beside = match))$data[[1]]
    expect_equal(sort(drawn$xmin), sort(c(part$outcomes$lower, match$units$winners$lower)))
    expect_equal(sort(drawn$xmax), sort(c(part$outcomes$upper, match$units$winners$upper)))
  }
  text <- format(part)
  expect_match(text[[1]], "the count stopped at 1 407 states (states), 92.8% of the weight counted", fixed = TRUE)
  expect_match(text, "--engine sample", all = FALSE)
  data <- jsonlite::fromJSON(result_json(part))
  expect_identical(data$complete, FALSE)
  expect_true(all(is.na(data$outcomes$probability)))
  expect_identical(odds("salt-draw", engine = "exact", max_seconds = 0.05)$limit, "time")
  expect_error(odds("lantern-tiles", engine = "exact", max_seconds = -1), class = "basanos_argument_wrong")
})

test_that("bounds of matches and of rounds in which something holds lie around the truth", {
  truth <- odds("five-winds", engine = "exact", players = list(left = "even", right = "reef_fond"))
  counted <- vapply(c(60, 200, 500), function(states) {
    part <- odds("five-winds", engine = "exact", players = list(left = "even", right = "reef_fond"),
                 max_states = states)
    expect_false(part$complete)
    expect_identical(part$units$winners$name, truth$units$winners$name)
    expect_true(all(part$units$winners$lower <= truth$units$winners$probability +
                    1e-12 & part$units$winners$upper >= truth$units$winners$probability - 1e-12))
    expect_match(format(part), "^  match +at least", all = FALSE)
    expect_equal(jsonlite::fromJSON(result_json(part))$units$winners$lower, part$units$winners$lower)
    part$counted
  }, 0)
  expect_true(all(diff(counted) > 0))
  expect_gt(counted[[3]], 0)
  given <- odds("lantern-tiles", engine = "exact", given = "tiles > 5")
  for (states in c(20, 500, 3000)) {
    part <- odds("lantern-tiles", engine = "exact", given = "tiles > 5", max_states = states)
    expect_true(all(part$outcomes$lower <= given$outcomes$probability +
                    1e-12 & part$outcomes$upper >= given$outcomes$probability - 1e-12))
  }
  expect_gt(part$outcomes$lower[[3]], 0)
})

test_that("sampling to a precision goes on until the interval is that narrow", {
  o <- odds("lantern-tiles", precision = 0.002, measure = "probability(outcome == guest_bust)")
  row <- o$outcomes[o$outcomes$name == "guest_bust", ]
  expect_lte(max(row$upper - row$probability, row$probability - row$lower), 0.002)
  expect_identical(o$reached$stages$rounds, 1e4 * 2^(seq_len(nrow(o$reached$stages)) - 1))
  expect_gt(nrow(o$reached$stages), 2)
  whole <- odds("lantern-tiles", engine = "sample", rounds = o$rounds)
  expect_identical(o$outcomes, whole$outcomes)  # the stages are one run
  capped <- odds("lantern-tiles", precision = 1e-5, rounds = 3e4)
  expect_identical(capped$rounds, 3e4)
  expect_match(format(capped), "would take more rounds than --rounds allows", all = FALSE)
  expect_error(odds("lantern-tiles", precision = 0.01, measure = "guest_bust"),
               "write probability[(]outcome == guest_bust[)]", class = "basanos_measure_wrong")
  pay <- odds("lantern-tiles", precision = 0.01, measure = "mean_pay(guest)")
  expect_lte(pay$pays$upper - pay$pays$mean, 0.0101)
})

test_that("the interval of a skewed mean leans to the long side", {
  m <- moments(list(value = c(0, 1000), weight = c(9990, 10)), sampled = TRUE)
  expect_gt(m$upper - m$mean, m$mean - m$lower)
  even <- moments(list(value = c(-1, 0, 1), weight = c(4000, 2000, 4000)), sampled = TRUE)
  expect_equal(even$upper - even$mean, stats::qnorm(0.975) * even$standard_error)
})

test_that("few states that take long are counted, where sampling would take longer", {
  g <- game_of("seats(guest)", "cube <- die(1:6)", "state(n = 0, taken = 0, total = 0)",
    "play({", "while (taken < 8) {", "n <- roll(cube)", "ask(guest, go = one_of(on, stop))", "add(1, to = taken)",
    "add(n, to = total)", "if (go == stop) break", "}", "})", "outcomes(high = n > 4, low = otherwise)",
    "record(taken = taken, total = total * total)",
    "slow <- player(go = if (count(1:350, as = a, any(1:350, a * it == 89997 + n)) > 0 || n < 6) on else stop)")
  o <- odds(g)
  expect_identical(o$engine, "exact")
  expect_match(o$why, "less than sampling 1 000 000 rounds")
  # On a six it stops: the last of eight throws, or the first six.
  stops <- which(vapply(1:6, function(n) n == 6 && !any((89997 + n) %% 1:350 == 0 & (89997 + n) %/% 1:350 <= 350), NA))
  p <- length(stops) / 6
  expect_equal(o$records$mean[[1]], if (p == 0) 8 else (1 - (1 - p)^8) / p)
})
