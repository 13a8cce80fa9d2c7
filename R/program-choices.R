# Settings and players as the caller chooses them, checked against the rules.

# Named list of values, one for every setting; `chosen` is a named list or vector.
# `mode` names a bundle of settings of the rules; single ones chosen go before it.
resolve_settings <- function(rules, chosen = list(), mode = NULL) {
  chosen <- as.list(chosen)
  bundle <- mode_settings(rules, mode)
  unknown <- setdiff(names(chosen), names(rules$settings))
  if (length(unknown) > 0 || (length(chosen) > 0 && is.null(names(chosen)))) {
    name <- if (length(unknown) > 0) unknown[[1]] else ""
    near <- did_you_mean(name, names(rules$settings))
    abort_input("setting_unknown", sprintf("This game has no setting `%s`.", name),
                if (!is.null(near)) near else if (length(rules$settings) == 0) "it has no settings at all" else paste("its settings are", some_of_names(names(rules$settings))))
  }
  em <- new_assembler(rules, list())
  for (s in rules$settings) {
    value <- if (!is.null(chosen[[s$name]])) setting_value(s, chosen[[s$name]]) else write_value(em, if (is.null(bundle[[s$name]])) s$start else bundle[[s$name]])$const
    em$settings[[s$name]] <- value
  }
  for (s in rules$settings) check_setting_range(em, s)
  stop_on_problems(em)
  structure(em$settings, chosen = chosen)
}

# The settings in each mode of a climb; what the caller chose goes before the mode.
climb_settings <- function(rules, settings) {
  lapply(rules$match$modes, function(mode) resolve_settings(rules, attr(settings, "chosen"), mode))
}

# The settings that are the same all through.
settled_settings <- function(rules, settings) {
  climbing <- setdiff(unlist(lapply(rules$modes[rules$match$modes], names)), names(attr(settings, "chosen")))
  lapply(settings[setdiff(names(settings), climbing)], identity)
}

mode_settings <- function(rules, mode) {
  if (is.null(mode)) return(list())
  if (is.character(mode) && length(mode) == 1 && mode %in% names(rules$modes)) return(rules$modes[[mode]])
  near <- did_you_mean(format(mode)[[1]], names(rules$modes))
  abort_input("mode_unknown", sprintf("This game has no mode `%s`.", format(mode)[[1]]),
              if (!is.null(near)) near else if (length(rules$modes) == 0) "it has no modes: choose settings with --set" else paste("its modes are", some_of_names(names(rules$modes))))
}

# The value of a setting from what the caller gave: a number, a logical, or a text as typed.
setting_value <- function(setting, given) {
  wrong <- function(wanted) {
    abort_input("setting_type", sprintf("The setting `%s` must be %s, not %s.", setting$name, wanted, paste0("\"", format(given), "\"", collapse = ", ")),
                sprintf("write %s=%s", setting$name, if (setting$type$kind == "yesno") "yes" else "7"))
  }
  if (length(given) != 1 || is.na(given)) wrong("one value")
  if (setting$type$kind == "yesno") {
    if (is.logical(given)) return(as.numeric(given))
    if (!given %in% c("yes", "no")) wrong("yes or no")
    return(as.numeric(given == "yes"))
  }
  number <- if (is.character(given)) suppressWarnings(as.numeric(given)) else given
  if (!is.numeric(number) || is.na(number) || !is.finite(number)) wrong("a number")
  if (setting$type$kind == "whole" && number != floor(number)) wrong("a whole number")
  if (abs(number) >= 2^31) wrong("a number below 2147483648")
  as.numeric(number)
}

check_setting_range <- function(em, s) {
  value <- em$settings[[s$name]]
  ends <- lapply(list(s$from, s$to), function(end) if (!is.null(end)) write_value(em, end)$const)
  outside <- (!is.null(ends[[1]]) && value < ends[[1]]) || (!is.null(ends[[2]]) && value > ends[[2]])
  if (!outside) return(invisible())
  range <- paste(c(if (!is.null(ends[[1]])) paste("from", format(ends[[1]])), if (!is.null(ends[[2]])) paste("to", format(ends[[2]]))), collapse = " ")
  program_problem(em, "setting_range", s$at, sprintf("The setting `%s` is %s, outside its range %s.", s$name, format(value), range), sprintf("choose a value %s", range))
}

# The player's name for each seat (NA where the seat decides nothing), or several with their weights; the first in
# the file that can play the seat unless `chosen` says otherwise.
resolve_players <- function(rules, chosen = list(), settings = resolve_settings(rules)) {
  taken <- if (is.null(settings$seated)) length(rules$seats) else settings$seated
  chosen <- as.list(chosen)
  unknown <- setdiff(names(chosen), rules$seats)
  if (length(unknown) > 0 || (length(chosen) > 0 && is.null(names(chosen)))) {
    name <- if (length(unknown) > 0) unknown[[1]] else ""
    near <- did_you_mean(name, rules$seats)
    abort_input("seat_unknown", sprintf("This game has no seat `%s`.", name),
                if (!is.null(near)) near else if (length(rules$seats) == 0) "nobody sits at it" else paste("its seats are", some_of_names(rules$seats)))
  }
  vapply(seq_along(rules$seats), function(seat) {
    decisions <- asked_of(rules, seat)
    name <- chosen[[rules$seats[[seat]]]]
    if (seat > taken) {
      if (is.null(name)) return(NA_character_)
      abort_input("seat_empty", sprintf("Nobody takes the seat `%s`: the first %d are taken.", rules$seats[[seat]], as.integer(taken)),
                  sprintf("leave it out, or write --set seated=%d", seat))
    }
    if (!is.null(name)) return(chosen_player(rules, seat, name, decisions))
    able <- Filter(function(p) player_can(p, seat, decisions), rules$players)
    if (length(decisions) == 0) return(NA_character_)
    if (length(able) == 0) abort_problems(list(problem("decision_unanswered", sprintf("No one player answers all that `%s` is asked: %s.", rules$seats[[seat]], some_of_names(decisions)), "give a player a rule for each decision", rules$decisions[[decisions[[1]]]]$at)), rules$source)
    able[[1]]$name
  }, "")
}

asked_of <- function(rules, seat) {
  names(Filter(function(d) seat %in% d$asked, rules$decisions))
}

chosen_player <- function(rules, seat, name, decisions) {
  if (is.character(name) && length(name) == 1 && is_mix(name)) {
    mix <- checked_mix(name, function(player) chosen_player(rules, seat, player, decisions))
    return(if (length(decisions) == 0) NA_character_ else mix)
  }
  player <- if (is.character(name) && length(name) == 1) rules$players[[name]]
  seat_name <- rules$seats[[seat]]
  if (is.null(player)) {
    near <- did_you_mean(format(name), names(rules$players))
    abort_input("player_unknown", sprintf("This game has no player `%s`.", format(name)),
                if (!is.null(near)) near else if (length(rules$players) == 0) "it has no players: nobody decides anything" else paste("its players are", some_of_names(names(rules$players))))
  }
  if (!player_can(player, seat, decisions)) {
    missing <- setdiff(decisions, names(player$rules))
    abort_input("player_unfit", sprintf("The player `%s` cannot play the seat `%s`%s.", name, seat_name,
                if (length(missing) > 0) sprintf(": it has no rule for %s", some_of_names(missing)) else ""), "choose another player, or add the rule")
  }
  if (length(decisions) == 0) NA_character_ else name
}
