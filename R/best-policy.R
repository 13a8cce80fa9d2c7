# The situations that best play meets, as rows: what describes them, the best answer, what the others lose.

# list(rows, by): of one decision of one seat. `by` as it was given, or what explains the answers best.
policy_of <- function(wanted, task, question, program, run, sign) {
  game <- task$game
  d <- game$decisions[[wanted$decision]]
  sites <- sites_of(game, program, wanted$seat, wanted$decision)
  of_sites <- Filter(function(s) s$site %in% sites, run$situations)
  situation <- question$situations[[wanted$decision]]
  own_sign <- sign * (if (wanted$seat == question$open[[1]]) 1 else -1)
  rows <- lapply(of_sites, situation_row, game = game, d = d, situation = situation, sign = own_sign)
  things <- names(situation)
  table <- policy_table(rows, things)
  by <- if (!is.null(task$by) || length(rows) == 0) things else explained_by(each_answer(table), things)
  table[things] <- lapply(table[things], as_seen)
  list(by = by, rows = cbind(data.frame(seat = rep(game$seats[[wanted$seat]], length(rows)),
                                        decision = rep(wanted$decision, length(rows))),
                             table[c(by, setdiff(names(table), things))]))
}

explained_by <- function(table, things)
  explaining(table$answer, lapply(table[things], as.character),
             weight = most_observed * table$reach / sum(table$reach))

policy_table <- function(rows, things) {
  of <- function(field, missing) vapply(rows, `[[`, missing, field)
  described <- lapply(stats::setNames(seq_along(things), things), function(k)
    vapply(rows, function(r) r$things[[k]], ""))
  list2DF(c(described, list(answer = of("answer", ""), mix = of("mix", ""), equal = of("equal", ""),
                            reach = of("reach", 0), worth = of("worth", 0), next_answer = of("next_answer", ""),
                            loss = of("loss", 0))),
          nrow = length(rows))
}

# A mix as text, as in "fold:0.75; call:0.25".
mix_text <- function(answers, shares) {
  kept <- which(shares >= least_share)
  kept <- kept[order(-shares[kept])]
  paste(answers[kept], format(shares[kept] / sum(shares[kept]), digits = 12, trim = TRUE, drop0trailing = TRUE,
                              scientific = FALSE), sep = ":", collapse = "; ")
}

mix_shares <- function(text) {
  parts <- strsplit(text, "; ", fixed = TRUE)[[1]]
  stats::setNames(as.numeric(sub("^.*:", "", parts)), sub(":[^:]*$", "", parts))
}

least_share <- 1e-6  # of an answer in a mix: less is what was left over of the search

# The rows with one row for each answer of a mix.
each_answer <- function(rows) {
  mixed <- which(!is.na(rows$mix))
  if (length(mixed) == 0) return(rows)
  shares <- lapply(rows$mix[mixed], mix_shares)
  times <- rep(1L, nrow(rows))
  times[mixed] <- lengths(shares)
  all <- rows[rep(seq_len(nrow(rows)), times), ]
  at <- rep(!is.na(rows$mix), times)
  all$answer[at] <- unlist(lapply(shares, names))
  all$reach[at] <- all$reach[at] * unlist(shares, use.names = FALSE)
  all$mix <- NA_character_
  all
}

# Answers within this share of the greatest loss are worth the same; of mixes, which are found by coming nearer.
as_good <- 1e-9
as_good_in_mixes <- 1e-5

situation_row <- function(s, game, d, situation, sign) {
  answers <- vapply(s$offers, answer_text, "", game = game, type = d$type)
  common <- list(reach = s$reach, things = situation_things(s, game, situation))
  if (s$followed > 0)  # it ends the unit with the most there can be; the others were not looked at
    return(c(common, list(answer = answers[[s$followed]], mix = NA_character_, equal = "", worth = s$lower[[1]],
                        next_answer = NA_character_, loss = NA_real_)))
  worths <- sign * (s$lower + (s$upper - s$lower) / 2)
  mixed <- length(s$shares) > 0
  near <- (if (mixed) as_good_in_mixes else as_good) * max(1, abs(worths), na.rm = TRUE)
  best <- if (mixed) which.max(s$shares) else which.max(worths >= max(worths, na.rm = TRUE) - near)
  same <- which(worths >= worths[[best]] - near)
  others <- setdiff(which(!is.na(worths)), same)
  following <- if (length(others) > 0) others[[which.max(worths[others])]]
  c(common, list(answer = answers[[best]], mix = if (mixed) mix_text(answers, s$shares) else NA_character_,
               equal = paste(answers[setdiff(same, best)], collapse = "; "),
               worth = sign * worths[[best]],
               next_answer = if (is.null(following)) NA_character_ else answers[[following]],
               loss = if (is.null(following)) NA_real_ else worths[[best]] - worths[[following]]))
}

# What describes the situation, as texts.
situation_things <- function(s, game, situation) {
  vapply(seq_along(situation), function(k) {
    type <- situation[[k]]$node$type
    if (is_collection(type)) answer_text(game, s$shown[[k]], type) else value_text(game, s$shown[[k]], type)
  }, "")
}

# One row a seat and decision: how often it is met, and how much it matters.
uses_of_decisions <- function(game, program, run) {
  sites <- program$sites
  uses <- run$uses
  key <- vapply(sites, function(s) paste(s$seat, s$decision), "")
  rows <- lapply(unique(key), function(k) {
    group <- which(key == k)
    total <- rowSums(uses[, group, drop = FALSE])
    site <- sites[[group[[1]]]]
    data.frame(seat = game$seats[[site$seat]], decision = names(game$decisions)[[site$decision + 1L]], met = total[[1]],
               matters = if (total[[1]] > 0) total[[2]] / total[[1]] else NA_real_,
               next_loss = if (total[[1]] > 0) total[[3]] / total[[1]] else NA_real_,
               worst_loss = if (total[[1]] > 0) total[[4]] / total[[1]] else NA_real_)
  })
  do.call(rbind, rows)
}

refuse_unknown_play <- function(run, solution) {
  if (!solution$complete)
    abort_input("best_large", sprintf("Best play was not found within the limit of %s.", limit_in_words(run$end)),
                "allow more: --max-states, --max-seconds")
  if (is.na(solution$value))
    abort_input("best_unclear", "Play need not end here: what is best in each situation is not known.",
                "let the rules end it, as with a number of turns")
}

limit_in_words <- function(end) c(states = "states", memory = "memory", time = "time")[[end]]

sites_of <- function(game, program, seat, decision)
  which(vapply(program$sites, function(s) s$seat == seat && s$decision == decision_number(game, decision), NA))
