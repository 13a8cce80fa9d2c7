# What each answer costs against the best one, in every situation.

# For each decision of the seats: list(seat, decision, several, things, keys, reach, features, from, to, answers, cost,
# clear). `keys` are situations; `reach` and `features`, the numbers and names that describe them, go by key. `answers`
# and `cost`, what they lose against the best one, from `from` to `to` are those of a key. A key is `clear` where the
# cost does not depend on more of what came before; else it is that of the average.
costs_of_play <- function(question, program, run, solution) {
  refuse_unknown_play(run, solution)
  game <- question$game
  all <- lapply(solution$seats, function(seat) lapply(asked_of(game, seat), function(decision) {
    sign <- solution$objective$sign * (if (seat == solution$seats[[1]]) 1 else -1)
    tables <- run$policy[sites_of(game, program, seat, decision)]
    tables <- Filter(function(site) length(site$reach) > 0, tables)
    if (length(tables) == 0) return(NULL)
    situations <- question$situations[[decision]]
    book_of_decision(game, situations, lapply(tables, with_keys, situations = situations), seat, decision, sign)
  }))
  Filter(Negate(is.null), unlist(all, recursive = FALSE))
}

book_of_decision <- function(game, situations, tables, seat, decision, sign) {
  type <- game$decisions[[decision]]$type
  rows <- do.call(rbind, lapply(tables, function(site) data.frame(
    key = site$keys[site$row], answer = key_of_answer(texts_of_values(game, site$answers, type)),
    reach = site$reach[site$row], cost = costs_in_situations(sign * site$worth, site$row))))
  all_keys <- unlist(lapply(tables, `[[`, "keys"))
  keys <- unique(all_keys)
  features <- features_of_situations(game, situations, tables)
  answers <- rows_of_answers(rows, keys)
  to <- cumsum(tabulate(answers$key, length(keys)))
  list(seat = seat, decision = decision, several = is_collection(type),
       things = names(situations), keys = keys,
       reach = as.vector(rowsum(unlist(lapply(tables, `[[`, "reach")), match(all_keys, keys), reorder = TRUE)),
       features = lapply(features, `[`, match(keys, all_keys)), from = c(1L, utils::head(to, -1) + 1L), to = to,
       answers = answers$answer, cost = answers$cost, clear = !seq_along(keys) %in% answers$key[!answers$clear])
}

# By row of an answer; missing where its worth is not known, or it cannot go on.
costs_in_situations <- function(worth, situation) {
  best <- tapply(worth, situation, function(w) if (all(is.na(w))) NA_real_ else max(w, na.rm = TRUE))
  as.vector(best[as.character(situation)]) - worth
}

# Each answer of a situation once: key (its number), answer, cost (the mean), clear.
rows_of_answers <- function(rows, keys) {
  key <- match(rows$key, keys)
  pair <- paste(key, rows$answer, sep = "\r")
  first <- match(pair, pair)
  weight <- rows$reach + 1e-12
  mean <- stats::ave(rows$cost * weight, pair, FUN = sum) / stats::ave(weight, pair, FUN = sum)
  apart <- is.na(rows$cost) | abs(rows$cost - rows$cost[first]) > equal_in_advice * pmax(1, abs(rows$cost))
  clear <- stats::ave(apart, pair, FUN = max) == 0
  table <- data.frame(key = key, answer = rows$answer, cost = mean, clear = clear)
  table <- table[first == seq_along(pair), ]
  table[order(table$key), ]
}

# What describes situations and can be compared in a rule, by its text: numbers, or names.
features_of_situations <- function(game, situations, tables) {
  plain <- vapply(situations, function(s) is_kind(s$node$type, "whole", "fraction", "yesno", "label", "card"), NA)
  features <- lapply(which(plain), function(k) {
    type <- situations[[k]]$node$type
    texts <- unlist(lapply(tables, function(site) texts_of_values(game, site$things[[k]], type)))
    if (is_kind(type, "whole", "fraction")) as.numeric(texts) else texts
  })
  stats::setNames(features, names(situations)[plain])
}

# The situations of a site with the keys by which advice_at() finds them.
with_keys <- function(site, situations) {
  parts <- Map(function(thing, asked) {
    if (!is_collection(asked$node$type)) return(key_of_numbers(thing$values))
    vapply(relist_by(thing$values, thing$sizes), key_of_items, "")
  }, site$things, situations)
  site$keys <- if (length(parts) == 0) rep("", length(site$reach)) else do.call(paste, c(unname(parts), sep = "|"))
  site
}
