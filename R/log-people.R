#' People beside the odds
#'
#' What people have played, one by one: how often each outcome came up and what was recorded, with intervals, beside the
#' odds of each player of the game at that seat; and how often a person answered as each player would have, and where
#' not.
#'
#' @param path A CSV file that [play_game()] kept; or, with `map`, of rounds that were kept otherwise.
#' @param game The game of a file that does not say it: see [game()].
#' @param map Which columns of the file are which: a named vector, `c(name = "visitor", outcome = "result")`. The names
#'   are `name`, `outcome`, `pay`, and records of the game. Outcomes may be written with spaces and capitals.
#' @param seat The seat of a file that does not say it; by default the first that decides.
#' @param advice Set each person beside best play as well ([best_play()]): what their answers cost, and where.
#' @return An object of class `basanos_people`: a list with one part a person and game: `name`, `game`, `seat`,
#'   `rounds`, `outcomes` (a data frame: `outcome`, `share`, `lower`, `upper`, and the probability under each player),
#'   `records` (`record`, `mean`, `lower`, `upper`, and the mean under each player), `agreement` (`player`,
#'   `decisions`, `same`, `share`, `lower`, `upper`) and `partings` (`player`, `decision`, `situation`, `answer`,
#'   `other`, `times`). The last two need answers that were kept by [play_game()] under the rules as they are. With
#'   `advice` there is one player more, `best`, and `cost`: of the answers, a round, and of all answers of a parting.
#' @section Formulas: Shares have Wilson's interval, means the normal one with t quantiles.
#' @section Errors: `kept_wrong`, `file_missing`, those of [odds()].
#' @export
#' @examples
#' played_people(system.file("story", "evening.csv", package = "basanos"))[[1]]$agreement
played_people <- function(path, game = NULL, map = NULL, seat = NULL, advice = FALSE) {
  kept <- if (is.null(map)) read_kept(path) else read_mapped(path, game, map, seat)
  groups <- split(kept, list(kept$name, kept$game, kept$seat), drop = TRUE)
  rules <- function(name) if (!is.null(game)) game else rules_of_kept(name, dirname(path))
  people <- lapply(groups, function(group) {
    of_game <- rules(group$game[[1]])
    if (!is.null(of_game)) person_beside_odds(group, game(of_game), advice)
  })
  structure(Filter(Negate(is.null), unname(people)), class = result_class("people"))
}

person_beside_odds <- function(kept, game, advice) {
  seat <- match(kept$seat[[1]], game$seats)
  players <- c(players_at_seat(game, seat), if (advice) "best")
  set <- if (!is.null(kept$settings)) chosen_from(kept$settings[[1]]) else list()
  sitting <- if (!is.null(kept$players)) chosen_from(kept$players[[1]]) else list()
  models <- lapply(players, function(p) {
    if (!is.na(p)) sitting[[game$seats[[seat]]]] <- p
    odds(game, set = set, players = sitting, rounds = model_rounds)
  })
  names(models) <- ifelse(is.na(players), "the odds", players)
  same_rules <- !is.null(kept$hash) && identical(compile_game(game, set, sitting)$hash, kept$hash[[1]])
  replays <- if (same_rules && !is.null(kept$answers)) replayed(kept, game, seat, players, set, sitting)
  list(name = kept$name[[1]], game = kept$game[[1]], title = game$title, seat = kept$seat[[1]], rounds = nrow(kept),
       outcomes = outcomes_beside(kept, game, models), records = records_beside(kept, models),
       agreement = replays$agreement, partings = replays$partings,
       replayed = replays$rounds)
}

# All that can play there; NA where the seat decides nothing.
players_at_seat <- function(game, seat) {
  if (is.na(seat) || length(asked_of(game, seat)) == 0) return(NA_character_)
  names(Filter(function(p) player_can(p, seat, asked_of(game, seat)), game$players))
}

outcomes_beside <- function(kept, game, models) {
  names <- game$outcomes$names
  counts <- as.vector(table(factor(kept$outcome, levels = names)))
  interval <- wilson_interval(counts, nrow(kept))
  by_player <- lapply(models, function(o) {
    p <- o$outcomes$probability[match(names, o$outcomes$name)]
    ifelse(is.na(p), 0, p)
  })
  list2DF(c(list(outcome = names, share = counts / nrow(kept), lower = interval$lower, upper = interval$upper),
            by_player))
}

records_beside <- function(kept, models) {
  values <- if (is.character(kept$records)) lapply(kept$records, chosen_from) else kept$records
  if (is.null(values)) return(NULL)
  known <- models[[1]]$records$name
  rows <- lapply(known, function(name) {
    x <- suppressWarnings(as.numeric(unlist(lapply(values, `[[`, name))))
    if (length(x) == 0 || anyNA(x)) return(NULL)
    mean_secret <- mean_of_secret(x)
    c(list(record = name, mean = mean_secret$value, lower = mean_secret$lower, upper = mean_secret$upper),
      lapply(models, function(o) o$records$mean[match(name, o$records$name)]))
  })
  rows <- Filter(Negate(is.null), rows)
  if (length(rows) > 0) table_of_rows(rows)
}

people_partings_shown <- 5

#' @export
sections.basanos_people <- function(x, ...) {
  all_sections(unlist(lapply(x, function(p) {
    percent <- function(v) percent_text(v, 1L)
    players <- setdiff(names(p$outcomes), c("outcome", "share", "lower", "upper"))
    cells <- c(list(outcome = p$outcomes$outcome, share = percent(p$outcomes$share),
                    "95% interval" = interval_text(p$outcomes$lower, p$outcomes$upper, percent)),
               lapply(p$outcomes[players], percent))
    number <- function(v) fixed_text(v, 2)
    records <- if (!is.null(p$records)) section(table = c(
      list(record = p$records$record, mean = number(p$records$mean),
           "95% interval" = interval_text(p$records$lower, p$records$upper, number)),
      lapply(p$records[players], number)))
    all_sections(section(sprintf("%s: %s of %s as %s, beside the odds of each player", p$name,
                                 count_text(p$rounds, "round"), p$game, p$seat)),
                 section(table = cells), records, agreement_sections(p))
  }), recursive = FALSE))
}

agreement_sections <- function(p) {
  a <- p$agreement
  if (is.null(a)) return(NULL)
  percent <- function(v) percent_text(v, 1L)
  beside <- if ("best" %in% a$player) "best" else a$player[[1]]
  parts <- p$partings[p$partings$player == beside, ]
  if (beside == "best") parts <- parts[order(-parts$cost), ]
  parts <- utils::head(parts, people_partings_shown)
  cells <- list("answers as" = a$player, decisions = whole_text(a$decisions), same = percent(a$share),
                "95% interval" = interval_text(a$lower, a$upper, percent))
  if (beside == "best") cells[["costs a round"]] <- ifelse(is.na(a$cost), "-", cost_text(a$cost))
  there <- list(situation = parts$situation, answers = parts$answer, instead = parts$other,
                times = whole_text(parts$times))
  if (beside == "best") there$cost <- cost_text(parts$cost)
  list(section(table = cells),
       if (NROW(parts) > 0) section(sprintf("Where %s answers otherwise than %s:", p$name, beside), there),
       if (p$replayed < p$rounds)
         section(notes = sprintf("%s could not be replayed: played under other rules, or with forced draws.",
                                 count_text(p$rounds - p$replayed, "round"))))
}

#' @export
as.data.frame.basanos_people <- function(x, ...) {
  bind_result_rows(lapply(x, function(p) {
    players <- setdiff(names(p$outcomes), c("outcome", "share", "lower", "upper"))
    bind_result_rows(
      result_rows(p, "outcome", p$outcomes$outcome, p$outcomes$share, lower = p$outcomes$lower,
                  upper = p$outcomes$upper, person = p$name, seat = p$seat, rounds = p$rounds, engine = NULL),
      bind_result_rows(lapply(players, function(player)
        result_rows(p, "model", p$outcomes$outcome, p$outcomes[[player]], player, person = p$name, seat = p$seat,
                    rounds = p$rounds, engine = NULL))))
  }))
}

#' @export
json_fields.basanos_people <- function(x) list(people = unclass(x))
