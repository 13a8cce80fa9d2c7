# The odds from a position on, and what each answer there leads to; the odds at a place that is not written yet.

# `answers`: the answers to be told, as texts; all where there is none.
odds_from_position <- function(question, effort, answers = NULL) {
  base <- with_part_result(odds_there(question, effort), position_so_far(question))
  if (is.null(base)) {
    question$position$wander <- TRUE
    base <- with_part_result(odds_there(question, effort, stop_on_never), position_so_far(question))
  }
  base <- with_position_named(base, question$position)
  if (!base$complete) return(base)
  effort$engine <- base$engine  # as the position itself, so that shares of answers are shares of it
  so_far <- function(stop) list(odds = c(base, list(stopped = stop$after)))
  base$answers <- with_part_result(answers_there(question, effort, answers_wanted(question, effort, answers), base),
                                   so_far)
  base
}

with_position_named <- function(odds, position) {
  odds$position <- list(text = position$text, decision = position$decision, reached = odds$given_share,
                        wandered = isTRUE(position$wander))
  odds$given_share <- NULL
  odds
}

# Of a count or sample that was stopped: from the position, without its answers.
position_so_far <- function(question) function(stop) {
  so_far <- odds_so_far(stop)
  if (!is.null(so_far$odds)) so_far$odds <- with_position_named(so_far$odds, question$position)
  so_far
}

answers_wanted <- function(question, effort, answers) {
  if (is.null(answers)) return(possible_answers(question, effort))
  if (length(answers) == 0) return(list())
  game <- question$game
  type <- game$decisions[[question$position$decision]]$type
  Filter(function(answer) answer_text(game, answer, type) %in% answers, possible_answers(question, effort))
}

# NULL, or what `otherwise` gives, where no round comes there.
odds_there <- function(question, effort, otherwise = function(e, question) NULL) {
  tryCatch(odds_by_engine(question, effort), basanos_given_never = function(e) otherwise(e, question))
}

# Only an exact count knows that a position can never come up.
stop_on_never <- function(e, question) {
  check <- "check the position; `basanos trace` shows what is remembered when"
  if (is.null(e$sampled)) {
    abort_input("position_never",
                sprintf("`%s` never holds when `%s` is asked, whatever is answered before.", question$position$text,
                        question$position$decision), check)
  }
  position_unseen(question$position, e$sampled, " with every legal answer alike",
                  paste0(check, "; --rounds tries more"))
}

# Units from the position on; NULL where the ways to it are too many. As many whole units tell how many rounds a unit
# has on average, whether or not it comes to the position.
sample_there <- function(question, program, rounds, effort, progress) {
  counts <- run_from_position(question$game, program, rounds, effort$seed, progress)[[1]]
  if (!is.null(counts) && program$unit != "round")
    counts$rounds_in_all <- mean_rounds(program, run_sample(question$game, program, rounds, effort$seed,
                                                            effort$threads))
  counts
}

# Many answers share the rounds that are sampled: each has at least this many.
answers_with_all_rounds <- 10L
fewest_rounds_of_answer <- 2000

rounds_of_answer <- function(rounds, answers) {
  if (answers <= answers_with_all_rounds) rounds
  else max(min(rounds, fewest_rounds_of_answer), floor(rounds * answers_with_all_rounds / answers))
}

# One row for each legal answer, the best for the seat that is asked first: the outcomes, the mean pays.
answers_there <- function(question, effort, answers, base) {
  if (length(answers) == 0) return(NULL)
  game <- question$game
  decision <- game$decisions[[question$position$decision]]
  rounds <- rounds_of_effort(effort, program_of(question))
  effort$rounds <- rounds_of_answer(rounds, length(answers))
  reached <- base$position$reached
  if (base$engine == "sample" && effort$rounds < rounds) {  # the share of the same rounds: they have the same luck
    again <- odds_there(question, effort)
    if (!is.null(again)) reached <- again$given_share
  }
  asked <- if (length(decision$asked) == 1) decision$asked else 0L
  question$position$answers <- answers
  rows <- Map(function(answer, result)
    if (!is.null(result) && result$complete) answer_row(answer_text(game, answer, decision$type), result, game, asked,
                                                        reached), answers, odds_of_lanes(question, effort))
  table <- do.call(rbind, rows)
  if (is.null(table)) return(NULL)
  always_legal <- all(table[["legal in"]] > 1 - 1e-9)
  table <- table[order(-table$worth), setdiff(names(table), c("worth", if (always_legal) "legal in"))]
  rownames(table) <- NULL
  table
}

# The odds with each answer, in its lane; NULL with one that is never legal there. All answers are counted in one run,
# or sampled on the same luck.
odds_of_lanes <- function(question, effort) {
  tallies <- if (effort$engine == "exact") exact_lanes(question, effort) else sampled_lanes(question, effort)
  lapply(tallies, function(tally) tryCatch(as_odds(tally), basanos_given_never = function(e) NULL))
}

exact_lanes <- function(question, effort) {
  program <- counted_program(question, program_of(question))
  effort$max_states <- effort$max_states * length(question$position$answers)
  run <- exact_run(question, program, effort)
  if (!run$complete)
    tell_progress(sprintf("The answers could not be counted within the limit of %s; `--engine sample` samples them.",
                          if (run$limit == "states") paste(whole_text(effort$max_states), "states") else run$limit))
  lapply(run$lanes, function(lane) new_tally(question, program, "exact", exact_counts(run, lane)))
}

sampled_lanes <- function(question, effort) {
  program <- program_of(question)
  lanes <- seq_along(question$position$answers)
  rounds <- effort$rounds
  of_lane <- function(lane, tick)
    run_sample(question$game, in_lane(program, lane), rounds, effort$seed, effort$threads, 1, tick)
  counts <- with_progress(rounds * length(lanes), "rounds", effort$progress, function(tick) {
    there <- run_from_position(question$game, program, rounds, effort$seed, tick, lanes)
    if (is.null(there)) lapply(lanes, of_lane, tick) else there
  })
  lapply(counts, sampled_as_tally(question, program, rounds, effort))
}

# `worth` is what the rows are sorted by: the pay of the seat that is asked, else the share of the outcomes that name
# it, else that of the first outcome.
answer_row <- function(text, result, game, asked, reached) {
  legal <- if (is.null(result$legal_share)) min(1, result$given_share / reached) else result$legal_share
  row <- data.frame(answer = text, "legal in" = legal,
                    rbind(stats::setNames(result$outcomes$probability, result$outcomes$name)),
                    check.names = FALSE)
  paid <- match(game$seats[asked], result$pays$seat)
  sampled <- result$engine == "sample"
  if (nrow(result$pays) > 0) {
    row <- cbind(row, rbind(stats::setNames(result$pays$mean, paste("pay of", result$pays$seat))))
    if (sampled) row <- cbind(row, rbind(stats::setNames(result$pays$standard_error,
                                                         paste("error of pay of", result$pays$seat))))
  }
  if (sampled) row <- cbind(row, "standard error" = max(result$outcomes$standard_error))
  names_asked <- vapply(seq_along(result$outcomes$name), function(k)
    isTRUE(outcome_winner(game, match(result$outcomes$name[[k]], game$outcomes$names)) == asked), NA)
  cbind(row, worth = if (length(paid) == 1 && !is.na(paid)) result$pays$mean[[paid]]
        else if (asked > 0 && any(names_asked)) sum(result$outcomes$probability[names_asked])
        else result$outcomes$probability[[1]])
}

answer_text <- function(game, answer, type) {
  if (!is_collection(type)) return(value_text(game, answer, type))
  if (length(answer) == 0) "nothing" else paste(vapply(answer, value_text, "", rules = game, type = type$of),
                                                collapse = ", ")
}

most_subsets <- 256L

# The choices of a decision over a collection that the position fixes, x = c(...): each different choice once.
possible_subsets <- function(position, type) {
  held <- Filter(function(condition) condition$op == "collection_same" && condition$right$op == "collection_of" &&
                   identical(condition$left$type$of$kind, type$of$kind), position$conditions)
  if (length(held) == 0) return(list())
  items <- sort(vapply(held[[1]]$right$values, function(v) if (is.null(v$value)) NA_real_ else v$value, 0),
                na.last = TRUE)
  if (anyNA(items) || 2^length(items) > 2^14) return(list())
  chosen <- lapply(seq_len(2^length(items)) - 1, function(k) items[bitwAnd(k, 2^(seq_along(items) - 1)) > 0])
  chosen <- unique(chosen)
  if (length(chosen) > most_subsets) list() else chosen
}

# The numbers or words that a decision offers wherever it is asked, where rules and settings alone say which; NULL of
# others. The modes of a match have settings of their own.
always_offered <- function(question, decision) {
  if (!is.null(question$game$match$modes)) return(NULL)
  choices <- list()
  walk(question$game$play, function(n)
    if (n$op == "ask" && n$decision == decision) choices <<- c(choices, list(n$choices)))
  known <- vapply(choices, function(c) c$how == "range" && is.null(c$legal) && c$low$const && c$high$const, NA)
  if (!all(known)) return(NULL)
  end <- function(node) constant_of(node, question$settings, question$game$source)
  ranges <- unique(lapply(choices, function(c) end(c$low):end(c$high)))
  if (length(ranges) == 1) ranges[[1]]
}

# The answers that may be legal there: numbers, or for an answer of several items collections of them. Where neither
# names nor a range say which, every legal answer is given alike, and the one given is recorded.
possible_answers <- function(question, effort) {
  game <- question$game
  type <- game$decisions[[question$position$decision]]$type
  if (is_kind(type, "label")) return(type$members)
  if (is_collection(type)) return(possible_subsets(question$position, type))
  if (!is_kind(type, "whole", "card", "word")) return(integer())
  offered <- always_offered(question, question$position$decision)
  if (!is.null(offered)) return(offered)
  given <- list2env(list(id = "answer at the position", type = t_whole), parent = emptyenv())
  at <- c(1L, 1L, 1L, 1L)
  question$position$any <- given
  question$records <- list(answer = list(name = "answer", node = typed("var", t_whole, at, var = given), at = at))
  odds_there(question, effort)$distributions$answer$value
}

# The odds of rules with holes: how many rounds get to where the rules are not written yet, and how things stand there.

hole_outcome <- "not_written_yet"

# The game in which a round that comes to a hole ends there, in an outcome of its own. A match or sitting
# has no such outcome: its next round would go on from rules that are not written.
with_holes <- function(game) {
  if (!any(vapply(game$notes, function(n) n$id == "hole", NA)) || program_span(game) != "round") return(game)
  game$outcomes$names <- c(game$outcomes$names, hole_outcome)
  game$hole <- length(game$outcomes$names)
  game
}

# The odds, with `hole`: the share of rounds that come there, and what is remembered there.
odds_with_hole <- function(question, effort) {
  game <- question$game
  odds <- odds_by_engine(question, effort)
  share <- utils::tail(odds$outcomes$probability, 1)
  if (!isTRUE(share > 0) || !odds$complete || !is.null(question$given)) return(odds)
  at <- c(1L, 1L, 1L, 1L)
  question$given <- list(node = outcome_is(game$hole, at), text = hole_outcome)
  plain <- Filter(function(part) is_plain(part$variable$type) && !isTRUE(part$money), game$state)
  question$records <- lapply(plain, function(part)
    list(name = part$name, node = typed("var", part$variable$type, at, var = part$variable), at = at))
  names(question$records) <- vapply(question$records, `[[`, "", "name")
  there <- odds_by_engine(question, effort)
  odds$hole <- c(list(share = share), there[c("records", "distributions", "rounds")])
  odds
}
