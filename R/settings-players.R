# The player of each seat, as the caller chooses, checked against the rules: one player, or one of several by chance.

# The player's name for each seat (NA where the seat decides nothing), or several with their weights; the first in
# the file that can play the seat unless `chosen`, or the mode of the settings, says otherwise. No player takes an open
# seat.
resolve_players <- function(rules, chosen = list(), settings = resolve_settings(rules), open = integer()) {
  taken <- if (is.null(settings$seated)) length(rules$seats) else settings$seated
  table <- length(rules$seats) - rules$bettors
  chosen <- named_list(chosen, "players", "players = list(guest = \"bold\")")
  unknown <- setdiff(names(chosen), rules$seats)
  if (length(unknown) > 0) {
    name <- unknown[[1]]
    near <- did_you_mean(name, rules$seats)
    abort_input("seat_unknown", sprintf("This game has no seat `%s`.", name),
                if (!is.null(near)) near else if (length(rules$seats) == 0) "nobody sits at it"
                else paste("its seats are", some_of_names(rules$seats)))
  }
  vapply(seq_along(rules$seats), function(seat) {
    if (seat %in% open) return(NA_character_)
    decisions <- asked_of(rules, seat)
    name <- chosen[[rules$seats[[seat]]]]
    if (is.null(name)) name <- attr(settings, "players")[[rules$seats[[seat]]]]
    if (seat > taken && seat <= table) {
      if (is.null(name)) return(NA_character_)
      abort_input("seat_empty",
                  sprintf("Nobody takes the seat `%s`: the first %d are taken.", rules$seats[[seat]],
                          as.integer(taken)),
                  sprintf("leave it out, or write --set seated=%d", seat))
    }
    if (!is.null(name)) return(chosen_player(rules, seat, name, decisions))
    unanswered <- unanswered_decisions(rules, seat)
    if (length(unanswered) > 0) abort_diagnostics(unanswered, rules$source)
    able <- Filter(function(p) player_can(p, seat, decisions), rules$players)
    if (length(able) == 0) able <- Filter(function(p) player_may(p, seat, decisions), rules$players)
    if (length(decisions) == 0) return(NA_character_)
    able[[1]]$name
  }, "")
}

# The problems of decisions that no player answers for a seat. It can still be left open, or be taken by `best`.
unanswered_decisions <- function(rules, seats = seq_along(rules$seats)) {
  unanswered <- function(seat, name) {
    if (any(vapply(rules$players, player_can, NA, seat = seat, decisions = name))) return(NULL)
    diagnostic("decision_unanswered", sprintf("No player answers `%s` for `%s`.", name, rules$seats[[seat]]),
               sprintf("write one: even <- player(%s = pick(choices))", name), rules$decisions[[name]]$at)
  }
  Filter(Negate(is.null), unlist(lapply(seats, function(seat)
    lapply(asked_of(rules, seat), unanswered, seat = seat)), recursive = FALSE))
}

# Players that are in no file: their rules are worked out for the question, by seat_<name>().
players_worked_out <- "best"

asked_of <- function(rules, seat) {
  names(Filter(function(d) seat %in% d$asked, rules$decisions))
}

chosen_player <- function(rules, seat, name, decisions) {
  if (!is.character(name) || length(name) != 1 || is.na(name))
    abort_input("player_unknown", sprintf("The player of `%s` is one name, not %s.", rules$seats[[seat]],
                                          given_text(name)),
                sprintf("write %s = \"bold\", or for one of several by chance \"bold:1, careful:3\"",
                        rules$seats[[seat]]))
  if (is_mix(name)) {
    mix <- checked_mix(name, function(player) chosen_player(rules, seat, player, decisions))
    return(if (length(decisions) == 0) NA_character_ else mix)
  }
  if (slips(name) || has_arguments(name)) {
    if (slips(name)) check_slip(name)
    chosen_player(rules, seat, rule_of(name), decisions)
    arguments_of_player(rules, name, resolve_settings(rules))
    return(if (length(decisions) == 0) NA_character_ else gsub("\\s", "", name))
  }
  player <- rules$players[[name]]
  if (is.null(player) && name %in% players_worked_out) return(if (length(decisions) == 0) NA_character_ else name)
  seat_name <- rules$seats[[seat]]
  if (is.null(player)) {
    near <- did_you_mean(format(name), names(rules$players))
    abort_input("player_unknown", sprintf("This game has no player `%s`.", format(name)),
                if (!is.null(near)) near
                else if (length(rules$players) == 0) "it has no players: nobody decides anything"
                else paste("its players are", some_of_names(names(rules$players))))
  }
  if (!player_may(player, seat, decisions)) {
    missing <- setdiff(decisions, names(player$rules))
    abort_input("player_unfit", sprintf("The player `%s` cannot play the seat `%s`%s.", name, seat_name,
                if (length(missing) > 0) sprintf(": it has no rule for %s", some_of_names(missing)) else ""),
                "choose another player, or add the rule")
  }
  if (length(decisions) == 0) NA_character_ else name
}

# A player that slips, as careful~0.1: at each decision, with that chance, it gives a random legal answer.
slips <- function(player) grepl("~", player, fixed = TRUE)
rule_of <- function(player) sub("\\s*[~(].*", "", player)
slip_of <- function(player) if (slips(player)) suppressWarnings(as.numeric(sub(".*~", "", player))) else 0

check_slip <- function(player) {
  chance <- slip_of(player)
  if (is.na(chance) || chance < 0 || chance > 1)
    abort_input("slip_wrong", sprintf("\"%s\" does not say how often a player slips.", player),
                "write the chance behind its name, from 0 to 1: careful~0.1")
}

# A player with arguments, as banker(at = 25) or banker(25).
has_arguments <- function(player) grepl("(", player, fixed = TRUE)

# The values of a player's arguments by name, the usual ones where it is given none.
arguments_of_player <- function(rules, player, settings) {
  known <- rules$players[[rule_of(player)]]$params
  wrong <- function(message) {
    shown <- vapply(known, function(p) {
      value <- constant_of(p$default, settings, rules$source)
      sprintf("%s = %s", p$name, if (p$type$kind == "yesno") c("no", "yes")[[value + 1]] else plain_number(value))
    }, "")
    abort_input("player_argument", sprintf("`%s`: %s", player, message),
                if (length(known) == 0) sprintf("`%s` takes no arguments", rule_of(player))
                else sprintf("it is %s(%s)", rule_of(player), paste(shown, collapse = ", ")))
  }
  given <- list()
  if (has_arguments(player)) {
    call <- tryCatch(parse_expression(sub("\\s*~.*", "", player)), basanos_error = function(e) wrong("cannot be read."))
    names <- if (length(call$args) == 0) character() else call$names
    if (length(names) > length(known)) wrong(sprintf("%s too many.", count_text(length(names) - length(known),
                                                                                      "argument is", "arguments are")))
    open <- setdiff(names(known), names)
    names[!nzchar(names)] <- open[seq_len(sum(!nzchar(names)))]
    unknown <- setdiff(names, names(known))
    if (length(unknown) > 0) wrong(sprintf("there is no argument `%s`.", unknown[[1]]))
    given <- stats::setNames(Map(function(node, name) argument_value(node, known[[name]], wrong), call$args, names),
                             names)
  }
  lapply(known, function(p) if (is.null(given[[p$name]])) constant_of(p$default, settings, rules$source)
         else given[[p$name]])
}

argument_value <- function(node, param, wrong) {
  if (param$type$kind == "yesno") {
    if (!identical(node$kind, "name") ||
        !node$name %in% c("yes", "no")) wrong(sprintf("`%s` is yes or no.", param$name))
    return(as.numeric(node$name == "yes"))
  }
  value <- written_number(node)
  if (is.null(value)) wrong(sprintf("`%s` is a number.", param$name))
  if (param$type$kind == "whole" && value != floor(value)) wrong(sprintf("`%s` is a whole number.", param$name))
  value
}

is_mix <- function(player) grepl(":", player, fixed = TRUE)

# The players that may sit there, with their weights.
players_seated <- function(player) {
  if (!is_mix(player)) return(list(names = player, weights = 1))
  parts <- strsplit(split_outside_brackets(player), ":", fixed = TRUE)
  list(names = trimws(vapply(parts, `[`, "", 1)),
       weights = vapply(parts, function(p) if (length(p) == 2) suppressWarnings(as.numeric(p[[2]])) else NA_real_, 0))
}

# The mix as it is given, each player checked by `check(name)`.
checked_mix <- function(mix, check) {
  seated <- players_seated(mix)
  weights <- seated$weights
  if (anyNA(weights) || any(!is.finite(weights) | weights < 0) || sum(weights) <= 0) {
    abort_input("mix_wrong", sprintf("\"%s\" is no mix of players.", mix),
                "write each player with its weight, as in careful:3, bold:1")
  }
  twice <- seated$names[duplicated(seated$names)]
  if (length(twice) > 0)
    abort_input("mix_wrong", sprintf("`%s` stands twice in a mix of players.", twice[[1]]), "add its weights up")
  for (name in seated$names) check(name)
  paste0(seated$names, ":", vapply(weights, format, "", digits = 15), collapse = ", ")
}

# The seats at the table that somebody takes.
seats_taken_at <- function(game, set, mode) {
  taken <- resolve_settings(game, set, mode)$seated
  seats <- table_seats(game)
  if (is.null(taken)) seats else seats[seats <= taken]
}

# Those that can take every one of these seats, or of the chosen ones.
players_of_all_seats <- function(game, chosen, seats) {
  takes_all <- function(p, can) all(vapply(seats, function(seat) can(p, seat, asked_of(game, seat)), NA))
  who <- function(can) names(Filter(function(p) takes_all(p, can), game$players))
  able <- who(player_can)
  for (name in chosen[slips(chosen)]) check_slip(name)
  unknown <- setdiff(rule_of(chosen), c(names(game$players), players_worked_out))
  if (length(unknown) > 0)
    abort_input("player_unknown", sprintf("This game has no player `%s`.", unknown[[1]]),
                or_spelling(did_you_mean(unknown[[1]], names(game$players))))
  names <- if (is.null(chosen)) able else unique(chosen)
  unfit <- setdiff(rule_of(names), c(who(player_may), players_worked_out))
  if (length(unfit) > 0)
    abort_input("player_unfit", sprintf("`%s` cannot take every seat that decides.", unfit[[1]]),
                "give it a rule for each decision, or leave it out")
  names
}

seat_number <- function(game, name) {
  seat <- match(name, game$seats)
  if (!is.na(seat)) return(seat)
  abort_input("seat_unknown", sprintf("This game has no seat `%s`.", format(name)),
              or_spelling(did_you_mean(format(name), game$seats)))
}

# list(decision, seat): what is asked about, checked.
asked_about <- function(game, seat, decision) {
  deciding <- which(vapply(seq_along(game$seats), function(s) length(asked_of(game, s)) > 0, NA))
  if (length(deciding) == 0)
    abort_input("position_none", "Nobody decides anything in this game.", "give a seat a decision: ask(guest, ...)")
  number <- if (is.null(seat)) deciding[[1]] else seat_number(game, seat)
  if (!number %in% deciding)
    abort_input("seat_unasked", sprintf("The seat `%s` decides nothing.", seat),
                sprintf("ask about %s", some_of_names(game$seats[deciding])))
  known <- asked_of(game, number)
  if (!is.null(decision) && !decision %in% known)
    abort_input("position_none", sprintf("`%s` is not asked `%s`.", game$seats[[number]], decision),
                or_spelling(did_you_mean(decision, known), sprintf("it is asked %s", some_of_names(known))))
  list(decision = if (is.null(decision)) known[[1]] else decision, seat = number)
}
