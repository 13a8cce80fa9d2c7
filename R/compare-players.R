#' Compare the players of a game
#'
#' Seats the players of a file in every way against each other and tells who is better, by how much, and where that is
#' not sure: a table for one seat against the house, every pairing for two seats, each against a field of each other
#' for more. Counted exactly where that is quick, else played on the same luck with the seats swapped.
#'
#' @inheritParams odds
#' @param players The names of the players to compare; by default all that can take every seat that decides. A name may
#'   say how often the player slips, as in `"careful~0.1"`.
#' @param measure What is compared, as a measure with `{seat}` in place of the seat: by default `"mean_pay({seat})"`,
#'   or of a
#'   match how often the seat wins it, or the share of rounds that end in an outcome that names the seat.
#' @param best `"highest"` or `"lowest"`: which values of the measure are better.
#' @param rounds Rounds to sample for each way of sitting, by default 20 000; with `until` at most so many, by default a
#'   million.
#' @param until A difference that would matter: sample no longer than until each pair is told apart or surely closer
#'   than that.
#' @param workers How many ways of sitting are worked out at once (on Windows always one).
#' @param ... More arguments of [odds()].
#' @return An object of class `basanos_players`: a list with
#'   * `pairs`: a data frame with one row a way of sitting: a column for each seat that decides, and one for what each
#'     of them comes to.
#'   * `advantage`: one row for each two players: `player`, `against`, `advantage` (of the first, seats swapped and
#'     averaged), `standard_error`, `sure` (surely ahead, surely behind, or neither) and `rounds_by_hand`, so many
#'     rounds (or matches, sittings) one would have to play by hand to notice it (95%, power 80%).
#'   * `ranking`: one row a player, the best first: `player`, `mean` (advantage over the others), `rank_from` and
#'     `rank_to` (1 + how many are surely better, and the number of players less how many are surely worse) and
#'     `cycle`, the same number for players that surely beat each other in a circle.
#'   * `best_play`: how far each player is from best play, as [best_play()] tells it, where that is found within 20 000
#'     states; else `NULL`.
#' @inheritSection odds Stopped
#' @section Formulas: Differences are paired by unit. All pairs are tested together by Holm's step-down procedure (Holm
#'   1979, "A simple sequentially rejective multiple test procedure"), wrong in any of them in at most 5% of runs.
#'   "Surely beats" is a graph; its strongly connected components are the cycles.
#' @section Errors: `players_few`, `measure_wrong`, those of [odds()].
#' @export
#' @examples
#' compare_players("tide-signs")
compare_players <- function(game, set = list(), players = NULL, mode = NULL, measure = NULL, until = NULL,
                            best = "highest", engine = c("auto", "exact", "sample"), rounds = NULL, seed = 1,
                            threads = 1, workers = 1, ...) {
  check_quoted("measure")
  asked <- asked_here("compare_players", odds)
  best <- one_of_names(best[[1]], c("highest", "lowest"), "argument_wrong", "best")
  seed <- given_seed(seed)
  game <- game_with(game, set)
  engine <- one_of_names(engine[[1]], c("auto", "exact", "sample"), "engine_unknown", "engine")
  if (is.null(rounds)) rounds <- if (is.null(until)) 2e4 else 1e6
  check_rounds(rounds)
  check_count(workers, "workers", 64, "write workers = 2")
  seats <- Filter(function(seat) length(asked_of(game, seat)) > 0, seats_taken_at(game, set, mode))
  names <- players_to_compare(game, players, seats)
  measure <- if (is.null(measure)) usual_seat_measure(game, seats) else one_text(measure, "measure")
  task <- list(game = game, measure = measure, engine = engine, rounds = rounds, seed = seed, threads = threads,
               set = as.list(set),
               mode = mode, more = list(...), seats = seats, workers = workers,
               better = if (best == "lowest") -1 else 1)
  ways <- ways_of_sitting(names, length(seats))
  if (!is.null(until)) check_until(until)
  so_far <- function(values, engine, after)
    list(players = players_result(names, ways, task, best, list(results = list(values = values, engine = engine),
                                                                rounds = task$rounds), after))
  results <- if (is.null(until)) ways_compared(names, ways, task, 0.05, so_far)
    else compared_until(names, ways, task, until, so_far)
  result <- players_result(names, ways, task, best, c(results, list(until = until)))
  result["best_play"] <- list(best_of_compared(names, task, measure, best))
  with_call(result, asked)
}

# Best play by what is compared: of one seat, or of two that play each other by the usual measure.
best_of_compared <- function(names, task, measure, best) {
  usual <- tryCatch(usual_seat_measure(task$game, task$seats), basanos_error = function(e) "")
  if (length(task$seats) > 2 || (length(task$seats) == 2 && (measure != usual || best == "lowest"))) return(NULL)
  best_in_short(task$game, task$seats, task$set, mode = task$mode, names = names, best = best,
                objective = if (measure != usual) measure_of_seat(measure, task$game$seats[[task$seats]]))
}

# Of a comparison that was stopped there are the ways of sitting that were played, and no ranking.
players_result <- function(names, ways, task, best, compared, stopped = NULL) {
  results <- compared$results
  game <- task$game
  structure(list(game = name_of_file(game$source), title = game$title, seats = game$seats[task$seats],
                 measure = task$measure,
                 best = best, unit = program_span(game), engine = results$engine,
                 rounds = if (results$engine == "sample") compared$rounds, seed = task$seed, until = compared$until,
                 looks = compared$looks, players = names, pairs = pairs_table(ways, results, game$seats[task$seats]),
                 advantage = compared$advantage, ranking = if (is.null(stopped)) ranking_of(names, compared$advantage),
                 stopped = stopped), class = result_class("players"))
}

# list(results, advantage, rounds) at a number of rounds.
ways_compared <- function(names, ways, task, error, so_far) {
  results <- results_of_ways(ways, task, so_far)
  list(results = results, rounds = task$rounds,
       advantage = advantages(names, ways, results, length(task$seats), task$better, error))
}

check_until <- function(until) {
  if (is.numeric(until) && length(until) == 1 && is.finite(until) && until > 0) return(invisible())
  abort_input("argument_wrong", "`until` is a difference that would matter, above zero.", "write until = 0.01")
}

first_players_look <- 1000

# Looks at 1000, 2000, 4000, ... rounds of the same luck, until each pair is told apart or surely closer than `until`,
# or the rounds are used up. At look k the error is 0.05 / (k (k + 1)), which adds up to at most 0.05.
compared_until <- function(names, ways, task, until, so_far) {
  most <- task$rounds
  task$rounds <- min(most, first_players_look)
  look <- 1
  repeat {
    error <- 0.05 / (look * (look + 1))
    compared <- ways_compared(names, ways, task, error, so_far)
    a <- compared$advantage
    room <- stats::qt(1 - error / (2 * nrow(a)), task$rounds - 1) * a$standard_error
    open <- !is.na(a$advantage) & a$sure == 0 & abs(a$advantage) + room > until
    if (compared$results$engine == "exact" || !any(open) || task$rounds >= most) return(c(compared, list(looks = look)))
    task$engine <- "sample"
    task$rounds <- min(most, 2 * task$rounds)
    look <- look + 1
  }
}

players_to_compare <- function(game, chosen, seats) {
  names <- players_of_all_seats(game, chosen, seats)
  if (length(names) < 2)
    abort_input("players_few", "There are fewer than two players to compare.",
                "write another way of playing, or give more with --players-file")
  names
}

# The usual measure of a seat.
usual_seat_measure <- function(game, seats) {
  if (all(seats %in% game$paid)) return("mean_pay({seat})")
  if (program_span(game) == "match" && !is.null(game$match$counts)) return("probability(match == {seat})")
  for (e in game$outcomes$entries) if (e$how == "seat") return(sprintf("probability(outcome == {seat}_%s)", e$name))
  abort_input("measure_wrong", "There is no usual measure of a seat: nobody is paid, and no outcome names one.",
              "say so, as in measure = \"mean(points[{seat}])\" (--measure ...)")
}

measure_of_seat <- function(measure, seat) gsub("{seat}", seat, measure, fixed = TRUE)

# The seatings, one a row.
ways_of_sitting <- function(names, seats) {
  if (seats == 1) return(matrix(names, ncol = 1))
  if (seats == 2) return(as.matrix(expand.grid(names, names, stringsAsFactors = FALSE))[, 2:1])
  pairs <- expand.grid(names, names, stringsAsFactors = FALSE)
  rows <- lapply(seq_len(nrow(pairs)), function(k) {
    second <- pairs[k, 2]
    field <- pairs[k, 1]
    if (second == field) return(matrix(second, 1, seats))
    t(vapply(seq_len(seats), function(seat) replace(rep(field, seats), seat, second), character(seats)))
  })
  do.call(rbind, rows)
}

# list(values, pulls, engine): what each seat comes to in each way of sitting; `pulls`, by way and seat, how far each
# unit pulls it where ways are sampled. A way in which play goes on for ever has no values. `so_far(values, engine,
# after)` gives what a stop takes along.
results_of_ways <- function(ways, task, so_far = function(values, engine, after) list()) {
  seats <- task$game$seats[task$seats]
  measures <- vapply(seats, measure_of_seat, "", measure = task$measure)
  measured <- with_measures(question_of(task$game), unname(measures))
  sit <- function(way) if (anyNA(ways[way, ])) list() else stats::setNames(as.list(ways[way, ]), seats)
  engine <- task$engine  # once a way is sampled, the rest are, too: values of one kind are compared
  value_of <- function(way) {
    o <- tryCatch(do.call(odds, c(list(task$game, task$set, sit(way), task$mode, unname(measures), engine = engine,
                                       rounds = task$rounds, seed = task$seed, threads = task$threads,
                                       progress = FALSE), task$more)),
                  basanos_loop_endless = function(e) if (nrow(ways) > 1) NULL else stop(e))
    if (is.null(o)) return(list(value = rep(NA_real_, length(measures))))
    need_complete(o)
    if (o$engine == "sample") engine <<- "sample"
    list(value = o$measures$value, engine = o$engine)
  }
  values <- function(which) worked_out(which, value_of, task$workers, "ways of sitting",
                                       function(results, after, stop) results_so_far(results, after))
  results_so_far <- function(results, after) {
    done <- !vapply(results, is.null, NA)
    if (!any(done) || length(results) < nrow(ways)) return(list())
    none <- list(value = rep(NA_real_, length(measures)))
    so_far(values_of(ifelse(done, results, list(none))), if (all_exact(results)) "exact" else "sample", after)
  }
  values_of <- function(results) do.call(rbind, lapply(results, `[[`, "value"))
  is_by <- function(results, engine) vapply(results, function(f) identical(f$engine, engine), NA)
  all_exact <- function(results) !any(is_by(results, "sample"))
  results <- values(seq_len(nrow(ways)))
  exact <- all_exact(results)
  if (!exact && task$rounds < 2)
    abort_input("rounds_wrong", "One round tells nothing of how sure a difference is.", "sample more: --rounds 2e4")
  if (!exact && any(is_by(results, "exact"))) {
    engine <- "sample"
    results[is_by(results, "exact")] <- values(which(is_by(results, "exact")))
  }
  list(values = values_of(results), engine = if (exact) "exact" else "sample",
       pulls = worked_out(seq_len(nrow(ways)), function(way)
         if (!anyNA(results[[way]]$value)) seat_pulls(sit(way), measured, task, exact), task$workers,
         "ways of sitting, played again for the errors", function(pulls, after, stop) results_so_far(results, after)))
}

units_by_hand <- 2000  # units that tell how much luck there is in a round, where all is counted

seat_pulls <- function(players, measured, task, exact) {
  side <- round_by_round(with_choices(measured, task$set, players, task$mode))
  table <- unit_table(side, task$seed, 1, if (exact) min(units_by_hand, task$rounds) else task$rounds)
  pulls <- lapply(seq_along(measured$measures), measure_influence, side = side, table = table)
  if (any(vapply(pulls, is.null, NA)))
    abort_input("measure_wrong", sprintf("Players are compared by means and shares, not by `%s`.", task$measure),
                "write measure = \"mean(points[{seat}])\" or the like")
  do.call(cbind, pulls)
}

pairs_table <- function(ways, results, seats) {
  table <- cbind(stats::setNames(as.data.frame(ways), seats), stats::setNames(as.data.frame(results$values),
                                                                              paste0("of_", seats)))
  rownames(table) <- NULL
  table
}

# The advantage of each player over each other: of one seat the difference, else over the opponent in the same round.
# `better` is -1 where low values are better. What cannot be played to its end has none.
advantages <- function(names, ways, results, seats, better, error = 0.05) {
  exact <- results$engine == "exact"
  rows <- list()
  for (i in seq_along(names)) for (j in seq_along(names)) if (i < j) {
    parts <- advantage_parts(names[[i]], names[[j]], ways, seats)
    if (any(vapply(parts, function(p) is.null(results$pulls[[p$way]]), NA))) {
      rows <- c(rows, list(data.frame(player = names[[i]], against = names[[j]], advantage = NA_real_,
                                      standard_error = NA_real_, z = 0, rounds_by_hand = Inf)))
      next
    }
    combine <- function(of) better * Reduce(`+`, lapply(parts, function(p) p$weight * of(p$way, p$seat)))
    value <- combine(function(way, seat) results$values[way, seat])
    pull <- combine(function(way, seat) results$pulls[[way]][, seat])
    one <- combine_single(parts, results)
    rows <- c(rows, list(data.frame(player = names[[i]], against = names[[j]], advantage = value,
                                    standard_error = if (exact) 0 else stats::sd(pull) / sqrt(length(pull)),
                                    z = if (exact) 0 else difference_z(value, pull),
                                    rounds_by_hand = rounds_to_notice(value, one))))
  }
  table <- do.call(rbind, rows)
  table$sure <- surely_differ(ifelse(is.na(table$advantage), 0, table$advantage), table$z, rep(exact, nrow(table)),
                              error)
  table[setdiff(names(table), "z")]
}

# The terms of the sum: list(way, seat, weight).
advantage_parts <- function(i, j, ways, seats) {
  way_of <- function(...) which(apply(ways, 1, identical, c(...)))[[1]]
  at <- function(way, seat, weight) list(way = way, seat = seat, weight = weight)
  rownames(ways) <- colnames(ways) <- NULL
  if (seats == 1) return(list(at(way_of(i), 1, 1), at(way_of(j), 1, -1)))
  own_against <- function(player, field, sign) unlist(lapply(seq_len(seats), function(seat) {
    way <- way_of(replace(rep(field, seats), seat, player))
    others <- setdiff(seq_len(seats), seat)
    c(list(at(way, seat, sign / seats / 2)), lapply(others, function(o) at(way, o, -sign / seats / 2 / length(others))))
  }), recursive = FALSE)
  c(own_against(i, j, 1), own_against(j, i, -1))
}

# The luck in one round of each way of sitting that counts: the standard deviation of what decides, by hand.
combine_single <- function(parts, results) {
  by_way <- split(parts, vapply(parts, `[[`, 0, "way"))
  variance <- vapply(by_way, function(of_way) {
    pull <- Reduce(`+`, lapply(of_way, function(p) p$weight * length(by_way) * results$pulls[[p$way]][, p$seat]))
    stats::var(pull)
  }, 0)
  sqrt(mean(variance))
}

# Rounds until a difference shows at 5%, two-sided, with a power of 80%.
rounds_to_notice <- function(difference, sd) {
  if (abs(difference) < 1e-12) return(Inf)
  ceiling(((stats::qnorm(0.975) + stats::qnorm(0.8)) * sd / difference)^2)
}

ranking_of <- function(names, advantage) {
  k <- length(names)
  beats <- matrix(FALSE, k, k, dimnames = list(names, names))
  gain <- matrix(NA_real_, k, k, dimnames = list(names, names))
  for (r in seq_len(nrow(advantage))) {
    a <- advantage$player[[r]]
    b <- advantage$against[[r]]
    gain[a, b] <- advantage$advantage[[r]]
    gain[b, a] <- -advantage$advantage[[r]]
    if (advantage$sure[[r]] > 0) beats[a, b] <- TRUE
    if (advantage$sure[[r]] < 0) beats[b, a] <- TRUE
  }
  reach <- beats
  for (m in seq_len(k)) reach <- reach | outer(reach[, m], reach[m, ], `&`)
  in_cycle <- reach & t(reach)
  mean <- rowMeans(gain, na.rm = TRUE)
  # components in order: who is reached by fewer stands before, then by the mean advantage
  above <- colSums(reach & !in_cycle)
  order <- order(above, -mean, na.last = TRUE)
  cycle <- ifelse(rowSums(in_cycle) > 0, apply(in_cycle, 1, function(x) min(which(c(x, TRUE)))), NA)
  data.frame(player = names, mean = unname(mean), rank_from = unname(1 + colSums(beats)),
             rank_to = unname(k - rowSums(beats)), cycle = match(cycle, unique(cycle[!is.na(cycle)])))[order, ]
}

#' @export
sections.basanos_players <- function(x, ...) {
  head <- section(sprintf("%s: %s compared by %s", title_of(x), count_text(length(x$players), "player"),
                          any_seat(x$measure)), notes = if (x$best == "lowest") "  The lowest value is the best.")
  how <- if (x$engine == "sample") sprintf("Sampled: %s %s for each way of sitting, on the same luck, seed %s.",
                                           whole_text(x$rounds), units_in_words(x$unit), plain_number(x$seed))
    else "Counted exactly."
  if (!is.null(x$stopped)) return(all_sections(head, seat_section(x), section(notes = how)))
  a <- x$advantage
  r <- x$ranking
  sampled <- x$engine == "sample"
  digits <- if (sampled) error_digits(max(a$standard_error, 1e-9, na.rm = TRUE)) else 5L
  number <- function(v) fixed_text(v, digits, sign = TRUE)
  rank <- ifelse(r$rank_from == r$rank_to, format(r$rank_from), sprintf("%d to %d", r$rank_from, r$rank_to))
  ranking <- list(player = r$player, rank = rank, "advantage over the others" = number(r$mean))
  if (any(!is.na(r$cycle))) ranking$"in a circle" <- ifelse(is.na(r$cycle), "", paste("circle", r$cycle))
  sure <- c("surely behind", "cannot be told apart", "surely ahead")[a$sure + 2]
  pairs <- list(player = a$player, against = a$against, advantage = number(a$advantage))
  if (sampled) pairs[["standard error"]] <- fixed_text(a$standard_error, digits)
  pairs[[" "]] <- ifelse(is.na(a$advantage), "goes on for ever", ifelse(a$advantage == 0 & !sampled, "equal", sure))
  pairs[[paste(units_in_words(x$unit), "to notice by hand")]] <- ifelse(is.finite(a$rounds_by_hand),
                                                                        whole_text(a$rounds_by_hand), "-")
  all_sections(head, section(table = ranking), circle_sections(x), section(table = pairs),
               if (length(x$seats) > 1) seat_section(x), if (!is.null(x$best_play)) best_worths(x$best_play),
               section(notes = c(
    if (!is.null(x$until) && sampled)
      sprintf("Sampled until each pair was told apart or closer than %s: %s.", plain_number(x$until),
              count_text(x$looks, "look")), how)))
}

most_ways_shown <- 40L

# The value of each seat in each way of sitting.
seat_section <- function(x) {
  shown <- utils::head(x$pairs, most_ways_shown)
  missing <- is.na(shown[[paste0("of_", x$seats[[1]])]])
  values <- lapply(stats::setNames(nm = x$seats), function(seat)
    ifelse(missing, if (is.null(x$stopped)) "goes on for ever" else "-",
           fixed_text(shown[[paste0("of_", seat)]], if (x$engine == "sample") 3L else 5L)))
  names(values) <- vapply(x$seats, measure_of_seat, "", measure = x$measure)
  section("By seat:", c(as.list(shown[x$seats]), values), notes = if (nrow(x$pairs) > nrow(shown))
    sprintf("  ... and %s more (--format json has all)", whole_text(nrow(x$pairs) - nrow(shown))))
}

# The players of each circle, in order.
circle_sections <- function(x) {
  r <- x$ranking
  lapply(unique(r$cycle[!is.na(r$cycle)]), function(k) {
    members <- r$player[r$cycle %in% k]
    beats <- function(a, b) any((x$advantage$player == a & x$advantage$against == b & x$advantage$sure > 0) |
                                  (x$advantage$player == b & x$advantage$against == a & x$advantage$sure < 0))
    said <- unlist(lapply(members, function(a) lapply(members, function(b)
      if (a != b && beats(a, b)) sprintf("%s beats %s", a, b))))
    section(notes = sprintf("Circle %d: %s.", k, paste(said, collapse = ", ")))
  })
}

#' @export
as.data.frame.basanos_players <- function(x, ...) {
  seated <- do.call(paste, c(lapply(x$seats, function(seat) paste0(seat, "=", x$pairs[[seat]])), sep = ","))
  a <- x$advantage
  r <- x$ranking
  bind_result_rows(
    if (!is.null(r)) result_rows(x, "rank", r$player, r$mean, NA_character_, r[c("rank_from", "rank_to", "cycle")]),
    if (!is.null(a)) result_rows(x, "advantage", a$player, a$advantage, a$against,
                                 a[c("rounds_by_hand", "sure")], standard_error = a$standard_error),
    bind_result_rows(lapply(x$seats, function(seat)
      result_rows(x, "measure", measure_of_seat(x$measure, seat), x$pairs[[paste0("of_", seat)]], seated))),
    rows_of_best(x, x$best_play))
}

#' @export
json_fields.basanos_players <- function(x) {
  pairs <- lapply(seq_len(nrow(x$pairs)), function(k) {
    measures <- lapply(x$seats, function(seat) list(name = measure_of_seat(x$measure, seat),
                                                    value = x$pairs[[paste0("of_", seat)]][[k]]))
    list(seats = as.list(x$pairs[k, x$seats, drop = FALSE]), measures = measures)
  })
  a <- x$advantage
  if (!is.null(a)) a$rounds_by_hand[!is.finite(a$rounds_by_hand)] <- NA
  list(game = x$game, measure = x$measure, engine = x$engine, rounds = x$rounds, pairs = pairs, advantage = a,
       ranking = x$ranking, best_play = best_fields(x$best_play))
}
