# `best` as a player of no file, and advice: what each answer costs.

pay_of_seat <- function(rules, seat, players, ...) {
  o <- odds(rules, players = players, measure = sprintf("mean_pay(%s)", seat), engine = "exact", ...)
  o$measures$value[[1]]
}

# One die: keep it, or roll once more. The best keeps from 4 on: (4 + 5 + 6) / 6 + 3.5 / 2 = 4.25.
roll_again <- function() game_of(
  "seats(guest)", "cube <- die(1:6)", "state(face = 0)",
  "play({ face <- roll(cube)", "  ask(guest, choice = one_of(keep, again))",
  "  if (choice == again) face <- roll(cube) })",
  "outcomes(high = face > 3, low = otherwise)", "pays(guest, high = face - 4, low = face - 4)",
  "keeps <- player(choice = keep)", "fussy <- player(choice = if (face < 6) again else keep)")

test_that("one seat: its odds are the worth of best play", {
  expect_equal(pay_of_seat(roll_again(), "guest", list(guest = "best")), 0.25, tolerance = 1e-12)
  # one answer in four at random: half of these are wrong, and cost 1/2, 3/2, 5/2 below 4 and 1/2, 3/2, 5/2 from 4 on
  slips <- 0.25 * 0.5 * mean(abs(1:6 - 3.5))
  expect_equal(pay_of_seat(roll_again(), "guest", list(guest = "best~0.25")), 0.25 - slips, tolerance = 1e-12)
  expect_equal(pay_of_seat(roll_again(), "guest", list(guest = "best:1, keeps:3")), (0.25 - 3 * 0.5) / 4,
               tolerance = 1e-12)
  for (rules in c("lantern-tiles", "harbour-dice", "nine-shutters"))
    close_to(pay_of_seat(rules, "guest", list(guest = "best")), best_play(rules, quick = TRUE)$value)
  sampled <- odds("lantern-tiles", players = list(guest = "best"), engine = "sample", rounds = 1e5)
  close_to(sampled$pays$mean, 0.0385811962, 0.02)
})

test_that("against a named player, and of both: a mix", {
  close_to(pay_of_seat("lantern-bluff", "early", list(early = "best", late = "timid")), 11 / 90)
  close_to(pay_of_seat("lantern-bluff", "late", list(early = "timid", late = "best")), 19 / 90)
  close_to(pay_of_seat("lantern-bluff", "early", list(early = "best", late = "best")), -347 / 5580, 1e-8)
  close_to(pay_of_seat(one_raise(), "first", list(first = "best", second = "best")), -1 / 18, 1e-8)
})

test_that("settings count, and pays", {
  point <- function(set) pay_of_seat("lantern-tiles", "guest", list(guest = "best"), set = set)
  for (set in list(list(aim = 21), list(keeper_stands = 15, aim = 23), list("pay(bright)" = 5)))
    close_to(point(set), best_play("lantern-tiles", set = set, quick = TRUE)$value)
  s <- sweep_game("lantern-tiles", list(aim = 22:24), players = list(guest = c("best", "careful")),
                  measure = "mean_pay(guest)")
  wide <- stats::reshape(as.data.frame(s)[c("aim", "guest", "value")], direction = "wide", idvar = "aim",
                         timevar = "guest")
  expect_true(all(wide$value.best >= wide$value.careful - 1e-12))
})

test_that("balance against the best visitor", {
  knobs <- c("pay(bright) in 1..2 by 0.5", "pay(tie) in -1..0 by 0.5")
  b <- balance_game("lantern-tiles", "edge(guest) in 0.02..0.05", knobs, against_best = TRUE)
  grid <- expand.grid(bright = c(1, 1.5, 2), tie = c(-1, -0.5, 0))
  edges <- -mapply(function(bright, tie)
    best_play("lantern-tiles", set = list("pay(bright)" = bright, "pay(tie)" = tie), quick = TRUE)$value,
    grid$bright, grid$tie)
  expect_equal(b$explored$fits, sum(edges >= 0.02 & edges <= 0.05))
  close_to(b$answers[[1]]$targets$value, edges[grid$bright == b$answers[[1]]$knobs[[1]] &
                                                 grid$tie == b$answers[[1]]$knobs[[2]]])
  expect_equal(b$players, list(guest = "best"))
  expect_match(command_of(b), "--against-best", fixed = TRUE)
})

test_that("players: how far each is from best play", {
  p <- compare_players(roll_again())
  l <- p$best_play$losses
  close_to(p$best_play$value, 0.25)
  close_to(l$loss[l$player == "keeps"], 0.75)
  close_to(l$loss[l$player == "fussy"], 0.25 - (5 / 6 * -0.5 + 2 / 6))
  expect_match(paste(format(p), collapse = "\n"), "best play +0.250000")
  rows <- as.data.frame(p)
  expect_equal(rows$value[rows$kind == "best"], 0.25, tolerance = 1e-12)
  field <- compare_players("lantern-bluff", players = c("best", "timid"))
  close_to(field$pairs$of_early[field$pairs$early == "best" & field$pairs$late == "timid"], 11 / 90)
  expect_null(compare_players("keepers-three", rounds = 100, engine = "sample")$best_play)
})

test_that("answers: where a player parts from best play, and what that costs", {
  p <- player_partings("lantern-bluff", "early", player = "best", other = "timid", players = list(late = "timid"))
  close_to(p$difference, 11 / 90)
  close_to(p$explained, 11 / 90)
  expect_true(all(p$rows$cost > 0))
  a <- player_answers(roll_again(), players = list(guest = "best"), by = "face", rounds = 200)
  expect_true(all((a$rows$share == 1) == ((a$rows$answer == "keep") == (a$rows$face > 3))))
})

test_that("advice in a trace: the cost is what the answers differ by", {
  traced <- function(face, choice) trace_round(roll_again(), advice = "guest",
                                               forced = sprintf("cube = %d, choice = %s", face, choice))
  expect_equal(traced(3, "keep")$advice$costs, 0.5)
  expect_equal(traced(1, "keep")$advice$costs, 2.5)
  expect_equal(traced(6, "again")$advice$costs, 2.5)
  expect_equal(traced(4, "keep")$advice$costs, 0)
  text <- paste(format(traced(6, "again")), collapse = "\n")
  expect_match(text, "advice: costs 2.5 against keep", fixed = TRUE)
  expect_match(text, "The answers cost 2.5 in all, by mean_pay(guest).", fixed = TRUE)
  # the odds of both answers from there say the same
  t <- trace_round("lantern-tiles", advice = "guest", players = list(guest = "bold"),
                   forced = "tile = c(8, 8, 3), choice = c(draw, draw)")
  there <- odds("lantern-tiles", at = "guest_total = 19, guest_tiles = 3")$answers
  close_to(t$advice$costs[[2]], diff(there[["pay of guest"]][match(c("draw", "stand"), there$answer)]))
})

test_that("advice goes by lists, and by fractions", {
  rules <- function(state, keep, worth) game_of(
    "seats(guest)", "cube <- die(1:6)", sprintf("state(face = 0, %s)", state),
    sprintf("play({ face <- roll(cube)\n  %s\n  face <- 0", keep), "  ask(guest, choice = one_of(keep, again))",
    sprintf("  face <- if (choice == again) roll(cube) else %s })", worth),
    "outcomes(high = face > 3, low = otherwise)", "pays(guest, high = face - 4, low = face - 4)",
    "keeps <- player(choice = keep)")
  one_item <- rules("thrown = list(1:6, room = 3)", "put(face, into = thrown)", "sum(thrown)")
  half <- rules("share = 0.5", "share <- 0.5 * face", "round_down(2 * share)")
  for (game in list(one_item, half)) for (face in 1:6) {
    t <- trace_round(game, advice = "guest", forced = sprintf("cube = %d, choice = keep", face))
    expect_equal(t$advice$costs, max(0, 3.5 - face))
  }
})

test_that("advice knows only what the seat sees", {
  costs <- lapply(c(1, 5, 9), function(hidden) {
    t <- trace_round("lantern-bluff", advice = "early", players = list(early = "bluffer", late = "timid"),
                     forced = sprintf("chips = c(4, %d)", hidden))
    t$advice$costs[[1]]
  })
  expect_equal(costs[[1]], costs[[2]])
  expect_equal(costs[[1]], costs[[3]])
})

test_that("advice at play", {
  typed <- c("again", "no")
  shown <- character()
  read <- function() {
    line <- typed[1]
    typed <<- typed[-1]
    line
  }
  play_game(roll_again(), forced = "cube = c(5, 2)", seed = 1, read = read, advice = TRUE,
            write = function(x) shown <<- c(shown, x))
  expect_match(shown, "advice: keep; again costs 1.5", fixed = TRUE, all = FALSE)
  expect_match(shown, "Your answers cost 1.5 in all, by mean_pay(guest).", fixed = TRUE, all = FALSE)
})

test_that("rounds that people played, beside best play", {
  people <- played_people(system.file("story", "evening.csv", package = "basanos"), advice = TRUE)
  ada <- people[[which(vapply(people, `[[`, "", "name") == "ada")]]
  best <- ada$agreement[ada$agreement$player == "best", ]
  careful <- ada$agreement[ada$agreement$player == "careful", ]  # plays the same
  expect_equal(best$same, careful$same)
  parts <- ada$partings[ada$partings$player == "best", ]
  close_to(best$cost, sum(parts$cost) / ada$replayed)
  there <- odds("lantern-tiles", at = "guest_total = 17, guest_tiles = 5")$answers
  close_to(parts$cost[parts$situation == "guest_total = 17, guest_tiles = 5"],
           -diff(there[["pay of guest"]][match(c("draw", "stand"), there$answer)]))
  expect_match(paste(format(people), collapse = "\n"), "costs a round", fixed = TRUE)
})

test_that("what `best` cannot do is said", {
  expect_error(best_play("lantern-bluff", "early", players = list(late = "best")), "both",
               class = "basanos_best_seats")
  expect_error(odds("high-water", players = list(red = "best", blue = "best", green = "best")),
               class = "basanos_best_seats")
  expect_error(odds("two-buckets", players = list(early = "best")), class = "basanos_best_unclear")
  expect_error(trace_round("lantern-tiles", advice = "keeper"), class = "basanos_seat_unknown")
  # a player of that name in the file is the one that is meant
  own <- game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "play({ face <- roll(cube)",
                 "  ask(guest, choice = one_of(keep, again))", "  if (choice == again) face <- roll(cube) })",
                 "outcomes(high = face > 3, low = otherwise)", "pays(guest, high = 1, low = -1)",
                 "best <- player(choice = if (face > 3) again else keep)")
  close_to(pay_of_seat(own, "guest", list(guest = "best")), -0.5)
})
