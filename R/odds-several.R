# The odds of several games, asked the same question.

is_several_games <- function(x)
  length(x) > 1 && (is.character(x) && !is_rules_text(x) ||
                      identical(class(x), "list") && all(vapply(x, function(g) is_game(g) || is.character(g), NA)))

odds_of_several <- function(games, ask) {
  all <- worked_out(as.list(games), function(game) do.call(odds, c(list(game), ask)), what = "games",
                    so_far = function(found, after, stop) {
    found <- Filter(Negate(is.null), found)
    if (length(found) > 0) list(after = after, odds = several_odds(found, after)) else list()
  })
  several_odds(all)
}

several_odds <- function(all, stopped = NULL)
  structure(list(game = vapply(unname(all), `[[`, "", "game"), odds = unname(all), stopped = stopped),
            class = result_class("several"))

#' @export
sections.basanos_several <- function(x, ...) all_sections(unlist(lapply(x$odds, sections, ...), recursive = FALSE))

#' @export
json_fields.basanos_several <- function(x) list(games = lapply(x$odds, json_fields))

#' @export
as.data.frame.basanos_several <- function(x, ...) bind_result_rows(lapply(x$odds, as.data.frame, ...))

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_several <- function(object, ...)
  ggplot2::autoplot(object$odds[[1]], beside = object$odds[-1], ...)
