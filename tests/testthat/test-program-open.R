# Open decisions: the program offers exactly the answers that somebody at play may give, in every game of the fair.

# Plays a unit with every decision open, answered at random: list(asked, rounds), `asked` a list(decision, seat, offers,
# answer) each, `rounds` what was recorded of each round.
played_open <- function(question, unit, pick) {
  program <- program_of(with_open(question, seq_along(question$game$seats)))
  asked <- list()
  rounds <- list()
  end <- watch_unit(program, 7, unit, list(
    draw = function(source, value, at) NULL, trace = function(point, ints, reals) NULL,
    decision = function(site, offers) {
      answer <- pick(length(offers))
      asked <<- c(asked, list(list(decision = site$decision, seat = site$seat, offers = offers,
                                   answer = offers[[answer]])))
      answer
    },
    round = function(ints, reals) rounds <<- c(rounds, list(recorded_there(program, ints, reals)))))
  list(asked = asked, rounds = rounds, end = end)
}

recorded_there <- function(program, ints, reals) {
  of <- function(register, real) if (real) reals[[register + 1L]] else ints[[register + 1L]]
  c(ints[[program$outcome_register + 1L]], mapply(of, program$quantity_register, program$quantity_real))
}

# Answers that are not among the offers, of the same kind.
not_offered <- function(ask, legal, offers) {
  if (legal$how == "range") return(c(legal$low - 1L, legal$high + 1L))
  if (legal$how != "several") return(setdiff(c(ask$ids, -1L, 0L, max(unlist(offers)) + 1L), unlist(offers)))
  all <- unlist(lapply(seq(0, length(legal$values)), function(n)
    if (n == 0) list(integer()) else utils::combn(legal$values, n, simplify = FALSE)), recursive = FALSE)
  c(Filter(function(set) !list(set) %in% offers, all), list(c(legal$values, max(legal$values, 0L) + 1L)))
}

# The same unit at play, with the same answers: what may be answered there is compared at each ask.
expect_played_alike <- function(question, open, unit, name) {
  program <- program_of(question, tracing = TRUE)
  left <- open$asked
  rounds <- list()
  wrong <- FALSE
  end <- watch_unit(program, 7, unit, ask_again = TRUE, on = list(
    draw = function(source, value, at) NULL, trace = function(point, ints, reals) NULL,
    ask = function(ask, again, ints, reals) {
      at <- Position(function(a) a$decision == ask$decision && a$seat == ask$seat, left)
      if (is.null(at) || is.na(at)) return(FALSE)
      told <- left[[at]]
      legal <- legal_answers(program, ask, ints)
      if (!again) {
        may_be <- switch(legal$how, items = legal$values, range = seq(legal$low, legal$high))
        if (!is.null(may_be)) expect_identical(sort(told$offers), sort(as.integer(may_be)), info = name)
        others <- not_offered(ask, legal, told$offers)
        wrong <<- length(others) > 0
        if (wrong) {
          one <- others[[1L + unit %% length(others)]]
          return(as.integer(if (legal$how == "several") c(length(one), one) else one))
        }
      } else expect_true(wrong, info = name)
      left <<- left[-at]
      as.integer(if (legal$how == "several") c(length(told$answer), told$answer) else told$answer)
    },
    round = function(ints, reals) rounds <<- c(rounds, list(recorded_there(program, ints, reals)))))
  expect_length(left, 0)
  expect_identical(rounds, open$rounds, info = name)
  expect_identical(end$end, open$end$end, info = name)
}

test_that("every open decision offers what may be answered at play, and no more", {
  set.seed(11)
  pick <- function(n) sample.int(n, 1)
  forms <- character()
  for (name in fair_games()) {
    rules <- game(name)
    if (length(rules$decisions) == 0) next
    question <- new_question(rules)
    for (unit in 1:2) expect_played_alike(question, played_open(question, unit, pick), unit, name)
    forms <- union(forms, vapply(program_of(question, tracing = TRUE)$asks, `[[`, "", "how"))
  }
  expect_setequal(forms, c("labels", "range", "list", "subsets"))
})

test_that("the listing of a program shows where it stops and what it offers", {
  rules <- game_of("seats(guest)", "cube <- die(1:6)", "state(face = 0)", "play({",
                   "  ask(guest, call = one_of(odd, even))", "  face <- roll(cube)", "})",
                   "outcomes(won = (call == even) == (face %% 2 == 0), lost = otherwise)",
                   "caller <- player(call = even)")
  listing <- program_listing(program_of(with_open(new_question(rules), 1)))
  shown <- sub(" +#.*", "", grep("OPEN|OFFER|DECIDE|DRAW", listing, value = TRUE))
  expect_match(shown[[1]], "^ +[0-9]+  OPEN +0$")
  expect_match(shown[2:3], "^ +[0-9]+  OFFER +r[0-9]+=[0-9]+$", all = TRUE)
  expect_match(shown[[4]], "^ +[0-9]+  DECIDE +r[0-9]+, 0$")
  expect_match(shown[[5]], "^ +[0-9]+  DRAW +r[0-9]+, \"cube\", r[0-9]+=1, r[0-9]+=6$")
  expect_match(listing, "# line [0-9]+$", all = TRUE)
})
