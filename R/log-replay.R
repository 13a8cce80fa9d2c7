# Rounds that people have played, played again with their answers: what would each player have answered there?

# list(agreement, partings, rounds): see played_people(); players whose rules have chance in them are left out.
replayed <- function(kept, game, seat, players, set, sitting) {
  decisions <- asked_of(game, seat)
  rows <- do.call(rbind, lapply(players[!is.na(players)], function(p) {
    chance <- tryCatch({ refuse_chance(game, p, decisions); FALSE }, basanos_argument_wrong = function(e) TRUE)
    if (!chance) do.call(rbind, lapply(decisions, replayed_decision, kept = kept, game = game, seat = seat, player = p,
                                       set = set, sitting = sitting))
  }))
  if (is.null(rows)) return(NULL)
  rows$situation <- situation_texts(rows$seen)
  by_player <- split(rows, factor(rows$player, levels = unique(rows$player)))
  agreement <- do.call(rbind, lapply(by_player, function(group) {
    same <- sum(group$answer == group$other)
    cbind(data.frame(player = group$player[[1]], decisions = nrow(group), same = same, share = same / nrow(group)),
          as.data.frame(wilson_interval(same, nrow(group))))
  }))
  agreement <- agreement[order(-agreement$share), ]
  rownames(agreement) <- NULL
  apart <- rows[rows$answer != rows$other, ]
  rounds <- length(unique(rows$row))
  if ("best" %in% players)
    agreement$cost <- ifelse(agreement$player == "best", sum(rows$cost, na.rm = TRUE) / rounds, NA_real_)
  list(agreement = agreement, partings = counted_partings(apart), rounds = rounds)
}

counted_partings <- function(apart) {
  if (nrow(apart) == 0) return(NULL)
  columns <- c("player", "decision", "situation", "answer", "other")
  key <- do.call(paste, c(apart[columns], sep = "\r"))
  table <- apart[!duplicated(key), columns]
  table$times <- as.vector(table(key)[key[!duplicated(key)]])
  cost <- tapply(apart$cost, key, sum)
  if (!all(is.na(cost))) table$cost <- as.vector(cost[key[!duplicated(key)]])
  table <- table[order(-table$times), ]
  rownames(table) <- NULL
  table
}

# One row a time that the decision was met; rounds that do not come to their outcome again are left out.
replayed_decision <- function(decision, kept, game, seat, player, set, sitting) {
  wanted <- list(decision = decision, seat = seat, other = player)
  question <- observing(new_question(game, set, sitting), wanted, NULL)
  if (identical(player, "best")) question <- with_advice(question, game, seat)
  program <- program_of(question, tracing = TRUE)
  do.call(rbind, lapply(seq_len(nrow(kept)), function(k) {
    given <- tryCatch(jsonlite::fromJSON(kept$answers[[k]], simplifyVector = FALSE), error = function(e) NULL)
    if (!is.list(given)) return(NULL)
    met <- replayed_round(game, program, wanted, kept[k, ], given, question$advice)
    if (length(met) > 0) cbind(data.frame(player = player, row = k), do.call(rbind, met))
  }))
}

replayed_round <- function(game, program, wanted, kept, given, advice) {
  seat_name <- game$seats[[wanted$seat]]
  left <- Filter(function(g) identical(g$seat, seat_name), given)
  met <- list()
  result <- NULL
  watch_unit(program, kept$seed, kept$unit, list(
    draw = function(source, value, at) NULL,
    ask = function(ask, again, ints, reals) {
      if (ask$seat != wanted$seat || again) return(if (again) FALSE)
      if (length(left) == 0) return(FALSE)
      answer <- left[[1]]
      left <<- left[-1]
      seen <- observed_ask(game, program, wanted, ask, 1, ints, reals)
      costs_here <- advice_at(advice, game, program, ask, ints, reals)
      cost <- if (is.null(costs_here)) NA_real_ else cost_of_answer(costs_here, answer$answer)
      if (!is.null(seen)) met <<- c(met, list(data.frame(decision = wanted$decision, seen = I(list(answer$seen)),
                                                         answer = answer$answer, other = seen$other, cost = cost)))
      as.integer(unlist(answer$given))
    },
    trace = function(point, ints, reals) NULL,
    round = function(ints, reals) result <<- round_result(game, program, ints, reals)))
  if (identical(result$outcome, kept$outcome)) met
}

# The values that the seat saw each time, without those that never changed.
situation_texts <- function(seen) {
  names <- unique(unlist(lapply(seen, names)))
  value <- function(s, name) if (is.null(s[[name]])) "" else as.character(s[[name]])
  vary <- Filter(function(name) length(unique(vapply(seen, value, "", name = name))) > 1, names)
  vapply(seen, function(s) paste(vary, vapply(vary, value, "", s = s), sep = " = ", collapse = ", "), "")
}
