#' Balance a game
#'
#' Seeks values of knobs (pays, settings, modes, copies, weights) for which the game is as it is wanted: what must a win
#' pay to give back 92%? Counted exactly where the count fits, and then complete: an answer is found if there is one.
#'
#' @inheritParams odds
#' @param want Targets, as texts: a measure (see [vocabulary_of_measures()]) and what it is to be, `in LOW..HIGH`,
#'   `at least X`, `at most X`, `is X`, `near X`, or `within X of` another measure; numbers may be shares or percents.
#'   `weight W` behind it says how much it counts where not all can be met; one of weight 0 is only told.
#' @param knobs What may be turned, as texts: a name and its values, `"aim in 20..26 by 2"`. A name is a setting,
#'   `mode`, or a number of the rules: `pay(bright)` (what an outcome pays), `pay(line, made)` (the left side of the
#'   odds of a case), `copies(cards)`, `weight(coin, heads)`, `letters(secrets)`.
#' @param rounds Rounds to sample at a point where a count does not fit; by default as many as the narrowest
#'   target takes, 100 000 to 2 000 000.
#' @param answers How many answers to give at most.
#' @param slip How often players slip in the last column of an answer: see [odds()] for players that slip.
#' @param workers How many processes work at once; more than one needs the future package.
#' @param write A file to write the changed rules to, whole and with their comments; the odds of that file prove it.
#'   Nothing is written where no combination meets the targets.
#' @param ... More arguments of [odds()].
#' @return An object of class `basanos_balance`: a list with
#'   * `answers`: a list, best first, of lists with `kind` (what speaks for it), `knobs` (values by name), `targets` (a
#'     data frame with `target`, `value`, `met`: `met`, `missed` or `undecided`; sampled also `lower`, `upper`),
#'     `elsewhere` (what it costs: volatility, hits, gains, length, by measure), `slipping` (the values of the targets
#'     when players slip), `changed` (how many knobs) and `steps`; the first also `players`: the `seat` and, in
#'     `values`, the values of the targets under each other player of it.
#'   * `status`: `"satisfied and complete"`, `"best found"` (sampled) or `"impossible"`.
#'   * `conflicts`: the smallest set of targets that cannot be met together, as texts.
#'   * `today`: the values of the targets as the rules stand.
#'   * `influence`: a data frame with one row a knob and target: `knob`, `target`, `from`, `to` (the value of the target
#'     at the two ends of the knob, the others as in the first answer), `least` and `greatest`, and `step` (the mean
#'     change of one step).
#'   * `explored`: a list with `combinations`, `runs` and `complete`.
#' @section Formulas: Knobs that change pays alone need one run for each value of the others: what is put in and comes
#'   back follows from how often each case is paid. Misses are parts of the size of what is wanted, times the weight;
#'   the answer has the least greatest one. Sampled points are looked at with 2500, 5000, ... rounds of the same luck;
#'   one leaves when it surely misses a target, at look k with an error of 0.05 / (k (k + 1)) over points and targets.
#'   The values of the answers come from fresh luck.
#' @section Errors: `target_wrong`, `knob_wrong`, `knob_unknown`, `knob_idle`, `knob_off_grid`, `balance_large`,
#'   `tolerance_fine`, `file_there`, those of [odds()]; all before the first long run.
#' @export
#' @examples
#' balance_game("lantern-tiles", want = "edge(guest) in 0.04..0.06", knobs = "pay(bright) in 1..6")
balance_game <- function(game, want, knobs, set = list(), players = list(), mode = NULL,
                         engine = c("auto", "exact", "sample"), rounds = NULL, seed = 1, threads = 1, answers = 4,
                         slip = 0.05, workers = 1, progress = NULL, write = NULL, ...) {
  game <- game(game)
  engine <- one_of_names(engine[[1]], c("auto", "exact", "sample"), "engine_unknown", "engine")
  check_count(answers, "answers", 20, "write answers = 4")
  check_count(workers, "workers", 64, "write workers = 2")
  if (!is.null(rounds)) check_rounds(rounds)
  if (!is.numeric(slip) || length(slip) != 1 || is.na(slip) || slip < 0 || slip > 1)
    abort_input("slip_wrong", sprintf("`slip` must be a chance from 0 to 1, not %s.", given_text(slip)),
                "write slip = 0.05 (--slip 0.05)")
  if (missing(want) || length(want) == 0)
    abort_input("target_wrong", "Balance needs a target.", "write \"edge(guest) in 0.06..0.08\" (--want ...)")
  if (missing(knobs) || length(knobs) == 0)
    abort_input("knob_wrong", "Balance needs a knob to turn.", "write \"aim in 20..26 by 2\" (--knob ...)")
  targets <- lapply(want, read_target, game = game)
  refuse_contradictions(targets)
  read <- lapply(knobs, read_knob, game = game, mode = mode)
  refuse_knobs(read, set)
  check_write(write, game)
  ask <- list(game = with_knobs(game, read), as_read = game, engine = engine, seed = seed, threads = threads,
              rounds = rounds, set = as.list(set), players = as.list(players),
              mode = mode, workers = workers, progress = progress, more = list(...), slip = slip,
              most_answers = answers)
  ask <- with_wanted_measures(ask, targets)
  ask <- with_ways_to_turn(ask, read)
  found <- tryCatch(searched(ask), basanos_no_classes = function(e) searched(all_outside(ask)))
  result <- balance_result(found, game)
  if (!is.null(write)) result$written <- if (result$status == "impossible") list(path = NULL)
    else write_balanced(result, found$ask, write)
  result
}

refuse_knobs <- function(knobs, set) {
  names <- vapply(knobs, `[[`, "", "name")
  if (anyDuplicated(names)) knob_wrong(knobs[[anyDuplicated(names)]]$text, "it is there twice.", "keep one")
  both <- intersect(names, names(set))
  if (length(both) > 0)
    knob_wrong(knobs[[match(both[[1]], names)]]$text, sprintf("`%s` is also given with `set` (--set).", both[[1]]),
               "leave one of the two out")
}

# All that is measured, each once; `columns` of a target says which are its own.
with_wanted_measures <- function(ask, targets) {
  game <- ask$game
  staked <- staked_seat_of(game, targets)
  ask$unit <- program_span(game)
  elsewhere <- c(if (!is.null(staked)) sprintf(c("volatility(%s)", "hit(%s)", "gain(%s)"), staked),
                 if (ask$unit != "round") "mean(rounds)")
  ask$measures <- unique(c(unlist(lapply(targets, `[[`, "measures")), elsewhere))
  ask$targets <- lapply(targets, function(t) c(t, list(columns = match(t$measures, ask$measures))))
  ask$staked <- staked
  ask$elsewhere <- elsewhere
  ask
}

# The seat whose ups and downs are told: the first that puts something in, one of a target before others.
staked_seat_of <- function(game, targets) {
  staked <- Filter(function(name) {
    seat <- match(name, game$seats)
    length(bets_of_seat(game$money, seat)) > 0 ||
      any(vapply(game$stakes, function(s) s$who$how == "everyone" || identical(s$who$seat, seat), NA))
  }, game$seats)
  named <- Filter(function(name) any(grepl(sprintf("\\b%s\\b", name), unlist(lapply(targets, `[[`, "measures")))),
                  staked)
  first <- c(named, staked)
  if (length(first) > 0) first[[1]]
}

most_balanced <- 5e7  # combinations that are gone through

# Which knobs need a run for each value, and which only change pays.
with_ways_to_turn <- function(ask, knobs) {
  refuse_idle(ask, knobs)
  able <- vapply(knobs, function(k) k$kind %in% c("number", "setting") && !isTRUE(k$yesno), NA)
  measured <- with_measures(ask$game, ask$measures)
  names <- vapply(knobs, `[[`, "", "name")
  pays <- able & vapply(seq_along(knobs), function(k) only_pays(measured, names[[k]], measured$measures), NA)
  combinations <- prod(lengths(lapply(knobs, `[[`, "values")))
  if (combinations > most_balanced)
    abort_input("balance_large", sprintf("These are %s combinations, more than %s.",
                                         format(signif(combinations, 3), scientific = FALSE, big.mark = " "),
                                         whole_text(most_balanced)),
                "take wider steps, or fewer knobs at once")
  ask$outer <- knobs[!pays]
  ask$inner <- knobs[pays]
  ask$combinations <- combinations
  with_points(ask)
}

all_outside <- function(ask) {
  ask$outer <- c(ask$outer, ask$inner)
  ask$inner <- list()
  with_points(ask)
}

# The points of the outer knobs: list(index, set, mode, letters) each.
with_points <- function(ask) {
  sizes <- lengths(lapply(ask$outer, `[[`, "values"))
  if (prod(sizes) > most_points)
    abort_input("balance_large", sprintf("These knobs need a run for each of %s combinations, more than %s.",
                                         whole_text(prod(sizes)), whole_text(most_points)),
                "take wider steps, or fewer knobs at once")
  index <- as.matrix(expand.grid(lapply(sizes, seq_len)))
  ask$points <- lapply(seq_len(max(1, nrow(index))), function(k)
    balance_point(ask, if (length(sizes) == 0) integer() else index[k, ]))
  ask$inner_sizes <- lengths(lapply(ask$inner, `[[`, "values"))
  ask
}

balance_point <- function(ask, index, inner = integer()) {
  chosen <- Map(function(knob, i) c(knob, list(value = knob$values[[i]])), c(ask$outer, ask$inner[seq_along(inner)]),
                c(index, inner))
  is <- function(kind) Filter(function(k) k$kind %in% kind, chosen)
  settings <- is(c("setting", "number"))
  mode <- is("mode")
  point <- list(index = unname(index),
                set = c(ask$set, stats::setNames(lapply(settings, `[[`, "value"),
                                                 vapply(settings, `[[`, "", "name"))),
                mode = if (length(mode) > 0) mode[[1]]$value else ask$mode, letters = is("letters"))
  resolve_players(ask$game, ask$players, resolve_settings(ask$game, point$set, point$mode))
  point
}

# A knob that no program shows is no knob.
refuse_idle <- function(ask, knobs) {
  shown <- c("code", "int_start", "real_start", "tables", "weights", "pays", "ranges")
  built <- function(knob, value) {
    point <- balance_point(list(outer = list(c(knob[c("name", "kind", "site", "today")], list(values = list(value)))),
                                set = ask$set, mode = ask$mode, game = ask$game, players = ask$players), 1L)
    game <- ask$game
    for (letters in point$letters) game <- with_letters(game, letters, value)
    program <- compile_game(game, point$set, ask$players, point$mode)
    c(program[shown], list(program$word_letters))
  }
  for (knob in knobs) {
    first <- built(knob, knob$values[[1]])
    same <- vapply(knob$values[unique(c(2L, length(knob$values)))], function(v) identical(built(knob, v), first), NA)
    if (all(same))
      abort_input("knob_idle", sprintf("`%s` changes nothing in this game, with these players.", knob$name),
                  "leave it out, or choose players who heed it (--player ...)")
  }
}

# list(ask, tolds, found, status): the runs, and what was found among the combinations.
searched <- function(ask) {
  run <- told_points(ask)
  ask <- run$ask
  tolds <- run$tolds
  left <- which(!vapply(tolds, function(t) is.null(t) || isTRUE(t$left), NA))
  kept <- tolds
  kept[setdiff(seq_along(tolds), left)] <- list(NULL)
  found <- NULL
  for (errors in if (ask$sampled) c(4, 2, 0) else 0) if (is.null(found) && length(left) > 0)
    found <- satisfying(ask$points, kept, if (errors > 0) with_margins(kept, ask, errors) else ask)
  if (is.null(found)) found <- missing_least(ask$points, tolds, ask)
  list(ask = ask, tolds = tolds, found = found)
}

# Each point's run. Sampled points without inner knobs are raced: what surely misses a target is not looked at again.
told_points <- function(ask) {
  with_progress(length(ask$points), "Balancing", ask$progress, function(tick) {
    all <- seq_along(ask$points)
    first <- told_points_at(ask, all, if (is.null(ask$rounds)) first_look else min(ask$rounds, first_look), tick)
    sampled <- vapply(first, function(t) t$engine == "sample", NA)
    ask$sampled <- any(sampled)
    if (all(sampled)) ask$engine <- "sample"
    if (any(sampled)) ask$rounds <- enough_rounds(first[sampled], ask)
    tolds <- if (!any(sampled)) first
      else if (length(ask$inner) > 0) told_points_at(ask, all, ask$rounds, tick) else raced(first, ask, tick)
    list(ask = ask, tolds = tolds)
  })
}

first_look <- 2500

told_points_at <- function(ask, which, rounds, tick) {
  tolds <- list()
  tell <- function(k) told_of_point(ask$points[[k]], ask, rounds)
  for (batch in split(which, (seq_along(which) - 1) %/% ask$workers)) {
    tolds <- c(tolds, if (ask$workers == 1) lapply(batch, tell) else told_in_parallel(batch, tell, ask$workers))
    if (is.function(tick)) tick(length(tolds))
  }
  tolds
}

raced <- function(tolds, ask, tick) {
  rounds <- first_look
  look <- 1
  repeat {
    racing <- which(!vapply(tolds, function(t) isTRUE(t$left) || t$engine == "exact", NA))
    enough <- stats::qnorm(1 - 0.05 / (look * (look + 1)) / (2 * length(ask$points) * length(ask$targets)))
    for (k in racing) tolds[[k]]$left <- any(judged(tolds[[k]], ask, enough) == "missed")
    racing <- Filter(function(k) !tolds[[k]]$left, racing)
    if (rounds >= ask$rounds || length(racing) == 0) return(tolds)
    rounds <- min(ask$rounds, 2 * rounds)
    look <- look + 1
    tolds[racing] <- told_points_at(ask, racing, rounds, tick)
  }
}

# Of each target: met, missed or undecided. Where a measure has an error, by so many of them; else by its 95% interval;
# else it is taken as it is.
judged <- function(told, ask, enough) {
  vapply(ask$targets, function(t) {
    value <- told$values[t$columns] * c(1, -1)[seq_along(t$columns)]
    error <- told$standard_error[t$columns]
    room <- if (!anyNA(error)) c(-1, 1) * enough * sqrt(sum(error^2))
      else if (length(t$columns) == 1 && !is.na(told$lower[t$columns])) c(told$lower[t$columns],
                                                                          told$upper[t$columns]) - value
      else c(0, 0)
    ends <- sum(value) + room
    if (t$weight == 0) "met"
    else if (is.na(ends[[1]])) "undecided"
    else if (ends[[1]] >= t$low - 1e-9 && ends[[2]] <= t$high + 1e-9) "met"
    else if (ends[[2]] < t$low - 1e-9 || ends[[1]] > t$high + 1e-9) "missed" else "undecided"
  }, "")
}

least_rounds <- 1e5
most_rounds_asked <- 2e6
most_rounds_in_all <- 2e7

# As many rounds as the narrowest target takes, where no number is given; a target that they cannot tell is refused.
enough_rounds <- function(tolds, ask) {
  widths <- vapply(ask$targets, function(t) if (t$weight > 0) t$high - t$low else Inf, 0)
  errors <- vapply(ask$targets, function(t) {
    error <- vapply(tolds, function(told) sqrt(sum(told$standard_error[t$columns]^2)), 0)
    min(error[error > 0 & !is.na(error)], Inf) * sqrt(tolds[[1]]$rounds)  # of one round
  }, 0)
  needed <- ifelse(is.finite(errors), (2 * stats::qnorm(0.975) * errors / widths)^2, 0)
  rounds <- if (!is.null(ask$rounds)) ask$rounds
    else signif(min(max(2.5 * needed, least_rounds), most_rounds_asked,
                    max(least_rounds, most_rounds_in_all / length(ask$points))), 2)
  k <- which.max(needed)
  if (needed[[k]] > rounds)
    abort_input("tolerance_fine", sprintf("`%s` is finer than %s rounds can tell.", ask$targets[[k]]$text,
                                          whole_text(rounds)),
                if (needed[[k]] <= max_rounds / 3)
                  sprintf("sample more (--rounds %s), or widen the target",
                          format(signif(2 * needed[[k]], 1), scientific = TRUE))
                else "widen the target, or count exactly (--engine exact)")
  rounds
}
