# Writes inst/schema/results.schema.json: what the JSON of each kind of result has, read off many results of the fair's
# games. What some of them lack is optional; names that the rules give (settings, players, knobs) are free.
library(basanos, lib.loc = ".lib")

free_names <- c("settings", "players", "knobs", "elsewhere", "slipping", "distributions", "seats", "terms", "values",
                "today_elsewhere", "pays", "records")

results <- function() {
  games <- c("lantern-tiles", "dice-duel", "bell-cards", "buoy-line", "three-bells", "tide-signs", "keepers-three",
             "nine-shutters", "spell-the-sea", "well-climb")
  list(
    odds = c(lapply(games, odds, engine = "sample", rounds = 500), lapply(c("lantern-tiles", "tide-signs"), odds),
             list(odds("lantern-tiles", by = "guest_total", measure = "edge(guest)"),
                  odds("lantern-tiles", engine = "sample", rounds = 500, by = "guest_total", given = "guest_tiles > 2"),
                  odds("lantern-tiles", at = "guest_total = 16"), odds("lantern-tiles", without = "tiles"),
                  odds("dice-duel", engine = "sample", rounds = 500, by = "outcome"),
                  odds("lantern-tiles", engine = "sample", precision = 0.02),
                  odds("lantern-tiles", engine = "exact", max_states = 200))),
    several = list(odds(c("tide-signs", "dice-duel")), odds(c("lantern-tiles", "dice-duel"), engine = "sample",
                                                             rounds = 500)),
    par = list(par_table("lantern-tiles"), par_table("salt-draw", engine = "sample", rounds = 500)),
    each = list(odds_by_answer("moon-wheel", "field", set = list(spins = 1)),
                odds_by_answer("moon-wheel", "field", engine = "sample", rounds = 500)),
    streaks = list(streaks(odds("tide-signs"), 20), streaks(odds("tide-signs"), 20, 3)),
    sweep = list(sweep_game("lantern-tiles", list(aim = 23:24), measure = "edge(guest)"),
                 sweep_game("lantern-tiles", list(aim = 23:24), list(guest = c("careful", "bold")),
                                measure = c("edge(guest)", "mean(tiles)"), engine = "sample", rounds = 500),
                 sweep_game("deep-well", mode = names(game("deep-well")$modes), measure = "mean(tries_used)",
                                best = NULL)),
    balance = list(balance_game("lantern-tiles", "edge(guest) in 0.04..0.06", "pay(bright) in 1..6"),
                   balance_game("lantern-tiles", "edge(guest) in 0..0.1", c("aim in 23..25", "pay(bright) in 1..3")),
                   balance_game("bell-cards", "edge(guest) at most 0.05", "qualifies_at in 6..8", engine = "sample",
                                rounds = 1000)),
    bankroll = list(bankroll("lantern-tiles", evening_rounds = 5), bankroll("lantern-tiles", evening_rounds = 5, path = 1,
                    over_time = TRUE), bankroll("three-bells", evenings = 50, evening_rounds = 5, round_seconds = 10)),
    takings = list(takings("lantern-tiles", visits = 2, hours = 1, visit_rounds = 3),
                   takings(c("lantern-tiles", "salt-draw"), visits = 2, hours = 1, visit_rounds = 3, cap = 1,
                           engine = "sample", rounds = 500)),
    till = list(check_till("lantern-tiles", -5, 20)),
    players = list(compare_players("tide-signs"), compare_players("lantern-tiles", rounds = 500, engine = "sample")),
    answers = list(player_answers("lantern-tiles", rounds = 50), player_answers("bell-cards", rounds = 50)),
    partings = list(player_partings("lantern-tiles", player = "careful", other = "bold", rounds = 50)),
    best = list(best_play("lantern-tiles"), best_play("five-winds", max_states = 2000),
                best_play("last-pebble", both = TRUE), best_play("last-pebble", exploit = "wild"),
                best_play("lantern-bluff", both = TRUE), best_play("nine-shutters", most = 50),
                best_play("lantern-tiles", rule = 0), best_play("harbour-locks", quick = TRUE),
                best_play("lantern-tiles", at = "guest_total = 18")),
    fairness = list(seat_fairness("dice-duel"), seat_fairness("three-crabs", rounds = 500, engine = "sample"),
                    seat_fairness("tide-signs", engine = "sample", rounds = 500)),
    modes = list(audit_modes("deep-well"), audit_modes("deep-well", engine = "sample", rounds = 100),
                 audit_modes("deep-well", levels = 0.5, knobs = "tries in 5..7")),
    list = list(secret_odds("deep-well", rounds = 200), secret_odds("tide-words", rounds = 200, keep = c(0.1, 0.9))),
    comparison = list(compare_games("lantern-tiles", "lantern-tiles", set_new = list(aim = 23)),
                      compare_games("lantern-tiles", "lantern-tiles", set_new = list(aim = 23), engine = "sample",
                                    rounds = 500, measure = "edge(guest)")),
    same = list(same_play("tide-signs", "tide-signs"),
                same_play("lantern-tiles", "lantern-tiles", set_new = list(aim = 23))),
    check = list(check_game("tide-signs"), check_game("lantern-tiles"), check_game("inst/story/net-toss.game"),
                 check_game("tests/testthat/rules-bad/unknown_name.game")),
    trace = list(trace_round("lantern-tiles"), trace_round("dice-duel"), trace_round("lantern-tiles", advice = "guest")),
    people = list(played_people("inst/story/evening.csv"), played_people("inst/story/evening.csv", advice = TRUE)))
}

# The shape of some values of one thing, none of them missing: a schema.
shape <- function(values, free = FALSE) {
  kinds <- unique(vapply(values, kind_of, ""))
  if ("number" %in% kinds) kinds <- union(kinds, "null")  # any number may be unknown
  schema <- list(type = if (length(kinds) == 1) kinds else sort(kinds))
  objects <- Filter(function(v) kind_of(v) == "object", values)
  if (length(objects) > 0) schema <- c(schema, shape_of_objects(objects, free))
  items <- unlist(Filter(function(v) kind_of(v) == "array", values), recursive = FALSE)
  if (length(items) > 0) schema$items <- shape(unname(items))
  schema
}

shape_of_objects <- function(objects, free) {
  names <- unique(unlist(lapply(objects, names)))
  if (free) return(list(additionalProperties = TRUE))
  always <- Filter(function(n) all(vapply(objects, function(o) n %in% names(o), NA)), names)
  properties <- lapply(stats::setNames(nm = names), function(n) {
    own <- lapply(Filter(function(o) n %in% names(o), objects), `[[`, n)
    shape(own, n %in% free_names)
  })
  list(properties = properties, required = as.list(always))
}

kind_of <- function(v) {
  if (is.null(v)) "null" else if (is.list(v) && !is.null(names(v))) "object" else if (is.list(v)) "array"
  else if (is.logical(v)) "boolean" else if (is.character(v)) "string" else "number"
}

read <- function(x) jsonlite::fromJSON(paste(format_result(x, "json"), collapse = "\n"), simplifyVector = FALSE)
kinds <- lapply(results(), function(all) shape(lapply(all, read)))
for (name in names(kinds)) kinds[[name]]$properties$kind <- list(const = name)
schema <- list("$schema" = "https://json-schema.org/draft/2020-12/schema", title = "Results of basanos",
               description = "What --format json writes, by its field `kind`. Counted up in `format` when it changes.",
               oneOf = lapply(names(kinds), function(name) list("$ref" = paste0("#/$defs/", name))), "$defs" = kinds)
dir.create("inst/schema", showWarnings = FALSE)
writeLines(jsonlite::toJSON(schema, auto_unbox = TRUE, pretty = TRUE, null = "null"), "inst/schema/results.schema.json")
