#' Where two players differ
#'
#' Watches one player and asks at each decision what another would answer. Where the two differ, it gives the cost of
#' the difference.
#'
#' @inheritParams player_answers
#' @param by An expression that says what a situation is, where all that the seat sees would be too fine.
#' @param player,other The names of two players: the costs are those of `other`, which answers otherwise than `player`.
#' @param most How many differences are valued: the most frequent.
#' @return An object of class `basanos_partings`: a list with `rows`, a data frame with one row a difference, the most
#'   expensive first: `decision`, `situation` (what the seat sees), `reached` (the chance that a round of `other` gets
#'   there and the two differ; how often, if that may be several times a round), `share` (of the times there in which
#'   they differ), `answer` and `other` (the two answers), `worth` and `other_worth` (of these answers, when `player`
#'   goes on), `cost` (`reached` times the difference of the worths); `difference` (of the two players in all),
#'   `explained` (the sum of the costs), `left` (how often a round has differences that are not valued) and `measure`.
#' @inheritSection odds Stopped
#' @section Formulas: The worth of `player` less that of `other` is the sum over situations of the chance of getting
#'   there under `other` times what is lost when this one answer is changed and `player` goes on (Kakade and Langford
#'   2002, "Approximately optimal approximate reinforcement learning", lemma 6.1); exact where a situation is all that
#'   matters for the rest and comes up once a round.
#' @section Errors: Those of [player_answers()]; `argument_wrong` for rules with chance in them.
#' @export
#' @examples
#' player_partings("lantern-tiles", player = "careful", other = "bold", rounds = 200, most = 5)
player_partings <- function(game, seat = NULL, decision = NULL, player, other, set = list(), players = list(),
                            mode = NULL, by = NULL, most = 40, rounds = 2000, seed = 1) {
  asked <- asked_here("player_partings")
  game <- game_with(game, set)
  check_rounds(rounds)
  seed <- given_seed(seed)
  wanted <- asked_about(game, seat, decision)
  name <- game$seats[[wanted$seat]]
  decisions <- if (is.null(decision) && is.null(by)) asked_of(game, wanted$seat) else wanted$decision
  with_player <- function(p) { players[[name]] <- p; as.list(players) }
  questions <- lapply(list(player = player, other = other), function(p) new_question(game, set, with_player(p), mode))
  refuse_chance(questions$player$game, player, decisions)
  met <- do.call(rbind, lapply(decisions, partings_met, question = questions$other, seat = wanted$seat,
                               player = player, by = by, rounds = rounds, seed = seed))
  measure <- usual_seat_measure(game, wanted$seat)
  whole <- lapply(c(player, other), function(p)
    odds(game, seed = seed, set = set, players = with_player(p), mode = mode, measure = measure_of_seat(measure, name),
         rounds = 1e5))
  valued <- if (!is.null(met)) met[utils::head(order(-met$times), most), ]
  result_of <- function(rows, stopped = NULL) {
    done <- !vapply(rows, is.null, NA)
    rows <- do.call(rbind, rows)
    if (!is.null(rows)) rows <- rows[order(-abs(rows$cost)), ]
    rownames(rows) <- NULL
    structure(list(game = name_of_file(game$source), title = game$title, seat = name, player = player,
                   other = other, measure = measure_of_seat(measure, name), rows = rows,
                   difference = whole[[1]]$measures$value - whole[[2]]$measures$value,
                   explained = if (all(is.na(rows$cost))) NA_real_ else sum(rows$cost, na.rm = TRUE),
                   left = sum(met$times) - sum(valued$times[done]),
                   engine = if (all(vapply(whole, function(o) o$engine == "exact", NA))) "exact" else "sample",
                   rounds = rounds, stopped = stopped), class = result_class("partings"))
  }
  so_far <- function(rows, after, stop)
    if (any(!vapply(rows, is.null, NA))) list(answers = result_of(rows, after)) else list()
  valuing <- function(k) parting_row(questions, valued[k, ], wanted$seat, measure, seed)
  with_call(result_of(worked_out(seq_len(NROW(valued)), valuing, what = "decisions valued", so_far = so_far)), asked)
}

refuse_chance <- function(game, player, decisions) {
  chance <- c("draw", "pick_choices", "collection_roll", "chance", "successes")
  by_chance <- Filter(function(d) {
    draws <- FALSE
    walk(game$decisions[[d]]$rules[[rule_of(player)]]$body,
         function(n) if (n$op %in% chance || is_mixed_chart(n)) draws <<- TRUE)
    draws
  }, decisions)
  if (slips(player) || is_mix(player) || length(by_chance) > 0)
    abort_input("argument_wrong", sprintf("`%s` answers by chance: where it differs from another is unclear.", player),
                "compare with a player whose rules have no chance in them")
}

# The partings of one decision: decision, situation, answer, other, times (a round), share (of the times in that
# situation in which they differ), again (is it met several times a unit?).
partings_met <- function(decision, question, seat, player, by, rounds, seed) {
  wanted <- list(decision = decision, seat = seat, other = player)
  question <- observing(question, wanted, NULL)
  game <- question$game
  question <- observing(question, wanted, c(by, if (is.null(by)) locals_followed(game, decision)))
  seen <- observed_answers(game, program_of(question, tracing = TRUE), question$observed, rounds, seed)
  if (nrow(seen) == 0) return(NULL)
  things <- setdiff(names(seen), c("unit", "seat", "answer", "other"))
  conditions <- if (!is.null(by)) list(sprintf("%s == %s", gsub("\\bme\\b", game$seats[[seat]], by), seen[[by]]))
    else lapply(things, function(name) condition_on(game, decision, name, seen[[name]]))
  situation <- do.call(paste, c(list(rep("", nrow(seen))), Filter(Negate(is.null), conditions), sep = ", "))
  situation <- sub("^, ", "", situation)
  apart <- seen$answer != seen$other
  if (!any(apart)) return(NULL)
  key <- paste(situation, seen$answer, seen$other, sep = "\r")
  first <- which(apart)[!duplicated(key[apart])]
  met <- as.vector(table(key[apart])[key[first]])
  data.frame(decision = decision, situation = situation[first], answer = seen$other[first], other = seen$answer[first],
             times = met / attr(seen, "rounds"),
             share = met / stats::ave(seq_along(situation), situation, FUN = length)[first],
             again = situation[first] %in% situation[duplicated(paste(seen$unit, situation))])
}

# "guest_total = 19", a text an observation; NULL of what is always the same.
condition_on <- function(game, decision, name, values) {
  if (length(unique(values)) == 1 || anyNA(values)) return(NULL)
  if (startsWith(name, "wallet of ")) return(sprintf("wallet(%s) == %s", sub("^wallet of ", "", name), values))
  part <- game$state[[sub("\\[.*", "", name)]]
  local <- game$decisions[[decision]]$locals[[name]]
  type <- if (!is.null(part)) part$variable$type else if (!is.null(local)) local$type else game$decisions[[name]]$type
  if (is_kind(type, "each")) type <- type$of
  if (!is_collection(type)) return(sprintf("%s = %s", name, values))
  quoted <- vapply(strsplit(values, ", ", fixed = TRUE), function(items)
    if (identical(items, "nothing")) "c()" else sprintf("c(%s)", paste(item_text(items, type$of), collapse = ", ")), "")
  sprintf("%s = %s", name, quoted)
}

item_text <- function(items, type) if (is_kind(type, "card", "word")) sprintf("\"%s\"", items) else items

# The worth of each answer there when `player` goes on, and how often `other` gets there: the two questions of `of`.
parting_row <- function(of, met, seat, measure, seed) {
  at <- sprintf("%s: %s", met$decision, met$situation)
  there <- odds_at_seat(of$player, at, seat, seed, c(met$answer, met$other))
  reached <- if (!met$again) odds_at_seat(of$other, at, seat, seed, character())
  worth <- if (!is.null(there)) worth_of_answers(there, of$player$game, seat, measure)
  exact <- !is.null(reached) && !reached$position$wandered && !met$again
  chance <- if (exact) reached$position$reached * met$share else met$times
  value <- function(answer) {
    k <- match(answer, there$answers$answer)
    if (is.null(worth) || is.na(k)) NA_real_ else worth[[k]]
  }
  data.frame(met[c("decision", "situation")], reached = chance, share = met$share, answer = met$answer,
             other = met$other,
             worth = value(met$answer), other_worth = value(met$other),
             cost = chance * (value(met$answer) - value(met$other)))
}

odds_at_seat <- function(question, at, seat, seed, answers) {
  tryCatch({
    question <- with_asked(question, at = at)
    question$position$seat <- seat
    odds_from_position(question, new_effort(rounds = fewest_rounds_of_answer * 10, seed = seed), answers)
  }, basanos_position_never = function(e) NULL, basanos_position_unseen = function(e) NULL)
}

worth_of_answers <- function(there, game, seat, measure) {
  name <- game$seats[[seat]]
  if (measure == "mean_pay({seat})") return(there$answers[[paste("pay of", name)]])
  if (is.null(there$answers)) return(NULL)
  if (startsWith(measure, "probability(match")) return(there$answers[[sprintf("%s wins the match", name)]])
  there$answers[[sub("^probability\\(outcome == (.*)\\)$", "\\1", measure_of_seat(measure, name))]]
}

partings_shown <- 10

#' @export
sections.basanos_partings <- function(x, ...) {
  r <- utils::head(x$rows, partings_shown)
  number <- function(v) fixed_text(v, 5, sign = TRUE)
  head <- sprintf("%s: where %s differs from %s as %s", title_of(x), x$other, x$player, x$seat)
  if (NROW(x$rows) == 0) 
    return(all_sections(section(head), section(notes = sprintf("They never part in %s rounds.", whole_text(x$rounds)))))
  cells <- list(situation = ifelse(nzchar(r$situation), r$situation, "always"), reached = percent_text(r$reached, 2L))
  if (length(unique(x$rows$decision)) > 1) cells <- c(list(decision = r$decision), cells)
  cells[[x$player]] <- r$answer
  cells[[x$other]] <- r$other
  if (!all(is.na(x$rows$cost))) cells$cost <- number(r$cost)
  all_sections(section(head), section(
    table = cells, notes = if (nrow(x$rows) > nrow(r)) sprintf("  ... and %d more", nrow(x$rows) - nrow(r))),
    section(notes = partings_in_words(x)))
}

partings_in_words <- function(x) {
  number <- function(v) fixed_text(v, 5, sign = TRUE)
  valued <- sum(!is.na(x$rows$cost))
  ahead <- sprintf("By %s %s is ahead by %s in all", x$measure, x$player, number(x$difference))
  if (valued == 0) return(c(paste0(ahead, "."), "The cost of an answer of several items is not known."))
  c(sprintf("%s; %s %s.", ahead, if (valued == 1) "this difference explains"
            else sprintf("these %s explain", count_text(valued, "difference")), number(x$explained)),
    if (x$left > 1e-9)
      sprintf("Rarer differences, %s a round, are not valued (--most takes more).", fixed_text(x$left, 4)),
    if (any(x$rows$share < 1))
      "Where they differ only in some of these cases, the worth of an answer is a mean over all.",
    sprintf("A cost is the loss of %s there, a round, when %s plays on; differences as seen in %s rounds.", x$other,
            x$player, whole_text(x$rounds)))
}

#' @export
as.data.frame.basanos_partings <- function(x, ...) {
  r <- x$rows
  if (NROW(r) == 0) return(bind_result_rows())
  result_rows(x, "cost", r$decision, r$cost, r$situation, seat = x$seat, player = x$player, against = x$other,
              r[c("answer", "other", "reached", "share", "worth", "other_worth")])
}
