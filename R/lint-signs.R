# Signs that are not even: how often each beats and is beaten, and one that is never better than another.

sign_findings <- function(game) {
  unlist(lapply(Filter(function(d) d$kind == "signs", game$names), function(d)
    c(uneven_signs(game, d), dominated_signs(game, d))), recursive = FALSE)
}

uneven_signs <- function(game, d) {
  beats <- d$verbs != ""
  wins <- rowSums(beats)
  losses <- colSums(beats)
  if (all(wins == losses)) return(NULL)
  told <- sprintf("`%s` beats %d and loses to %d", game$labels[d$members], wins, losses)
  list(finding("signs_uneven", d$at, sprintf("The signs are not even: %s.", enumerated(told, 12))))
}

# Sign i is never better than j where against every sign it does no better, and against one worse.
dominated_signs <- function(game, d) {
  score <- (d$verbs != "") - t(d$verbs != "")
  n <- nrow(score)
  found <- list()
  for (i in seq_len(n)) for (j in seq_len(n)) {
    if (i == j || any(score[i, ] > score[j, ]) || all(score[i, ] == score[j, ])) next
    found <- c(found, list(finding("sign_dominated", d$at,
      sprintf("`%s` is never better than `%s`, whatever the other throws: nobody who knows will throw it.",
              game$labels[[d$members[[i]]]], game$labels[[d$members[[j]]]]))))
    break
  }
  found
}
