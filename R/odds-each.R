# Every answer of a decision side by side, whoever plays: what each field of a wheel gives back.

#' The bets to choose from, side by side
#'
#' One row for each answer of a decision, given every time it is asked, whoever plays the rest: the best return first.
#'
#' @inheritParams odds
#' @param decision The name of a decision between names, such as the fields of a wheel.
#' @param seat The seat whose money is told; by default the first that puts something in.
#' @param ... More arguments of [odds()].
#' @return An object of class `basanos_each`: a list with `rows`, a data frame (`answer`; `return`, `edge` over what is
#'   put in first, `edge_per_token`, `hit`, `gain`, `volatility`, `mean` and `sd` of the pay in tokens a round; sampled
#'   also `return_lower`, `return_upper`), `decision`, `seat`, `engine`, and `illegal`, the answers that cannot be given
#'   every time.
#' @inheritSection odds Stopped
#' @section Errors: `each_decision`, `no_stake`, those of [odds()].
#' @export
#' @examples
#' odds_by_answer("moon-wheel", "field", set = list(spins = 2))
odds_by_answer <- function(game, decision, seat = NULL, ...) {
  asked <- asked_here("odds_by_answer", odds)
  game <- game_with(game, list(...)$set)
  d <- if (is.character(decision) && length(decision) == 1) game$decisions[[decision]]
  labels <- names(Filter(function(d) is_kind(d$type, "label"), game$decisions))
  if (is.null(d) || !d$name %in% labels)
    abort_input("each_decision", sprintf("`%s` is no decision between names.", given_text(decision)),
                if (length(labels) > 0) sprintf("there is %s", some_of_names(labels)) else "this game has none")
  seat <- staked_seat(game, seat)
  answers <- stats::setNames(as.list(d$type$members), game$labels[d$type$members])
  results <- worked_out(answers, function(answer) odds_of_answer(answer, game, d, seat, ...), what = "answers",
                         so_far = function(results, after, stop) each_so_far(results, decision, seat, after))
  legal <- Filter(Negate(is.null), results)
  if (length(legal) == 0)
    abort_input("each_decision", sprintf("No answer of `%s` can be given every time.", decision),
                "compare players that choose among them")
  with_call(each_result(legal, decision, seat, illegal = setdiff(names(results), names(legal))), asked)
}

each_so_far <- function(results, decision, seat, after) {
  legal <- Filter(Negate(is.null), results)
  if (length(legal) > 0) list(each = each_result(legal, decision, seat, stopped = after)) else list()
}

each_result <- function(legal, decision, seat, illegal = character(), stopped = NULL) {
  rows <- table_of_rows(unname(Map(function(answer, o) c(answer = answer, each_row(o, seat)), names(legal), legal)))
  rows <- rows[order(-rows$return), ]
  rownames(rows) <- NULL
  structure(list(game = legal[[1]]$game, title = legal[[1]]$title, decision = decision, seat = seat,
                 engine = if (all(vapply(legal, function(o) o$engine == "exact", NA))) "exact" else "sample",
                 rows = rows, illegal = illegal, stopped = stopped), class = result_class("each"))
}

# NULL where the answer is not always legal.
odds_of_answer <- function(answer, game, d, seat, ...) {
  at <- d$at
  for (player in names(d$rules)) game$decisions[[d$name]]$rules[[player]]$body <- literal(answer, d$type, at)
  measure <- sprintf(c("hit(%s)", "gain(%s)", "volatility(%s)"), seat)
  tryCatch(odds(game, ..., measure = measure), basanos_illegal_answer = function(e) NULL)
}

each_row <- function(odds, seat) {
  pays <- as.list(staked_pays(odds, seat))
  asked <- stats::setNames(odds$measures$value, c("hit", "gain", "volatility"))
  c(pays[intersect(c("return", "return_lower", "return_upper", "edge", "edge_per_token"), names(pays))],
    as.list(asked), pays[c("mean", "sd")])
}

#' @export
sections.basanos_each <- function(x, ...) {
  r <- x$rows
  sampled <- !is.null(r$return_lower)
  percent <- function(v) percent_text(v, if (sampled) 2L else 3L)
  cells <- stats::setNames(list(r$answer), x$decision)
  cells$return <- percent(r$return)
  if (sampled) cells[["95% interval"]] <- interval_text(r$return_lower, r$return_upper, percent)
  cells <- c(cells, list(edge = percent(r$edge), hit = percent(r$hit), gains = percent(r$gain),
                         volatility = fixed_text(r$volatility, 2), "mean pay" = fixed_text(r$mean, 4, sign = TRUE),
                         sd = fixed_text(r$sd, 3)))
  all_sections(
    section(sprintf("%s: every answer of `%s`, given every time (%s)", title_of(x), x$decision,
                    if (x$engine == "exact") "counted exactly" else "sampled")),
    section(table = cells),
    if (length(x$illegal) > 0) section(notes = sprintf("Not always legal: %s.", some_of_names(x$illegal, 20))))
}

#' @export
json_fields.basanos_each <- function(x)
  c(x[c("game", "decision", "seat", "engine", "rows")], list(illegal = as.list(x$illegal)))

#' @export
as.data.frame.basanos_each <- function(x, ...) {
  r <- x$rows
  bind_result_rows(
    money_rows(x, c(return = "return", edge = "edge", edge_per_token = "edge_per_token"), r, x$seat, r$answer),
    rows_of_columns(x, r, c("hit", "gain", "volatility"), x$seat, r$answer),
    result_rows(x, "pay", x$seat, r$mean, r$answer, sd = r$sd))
}
