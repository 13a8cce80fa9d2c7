# The sentences on top of a report: what to know before anything else, each with its number.

headlines <- function(task, parts) {
  said <- list(money_headline(task, parts), gain_headline(task), evening_headline(parts), task$advantage_headline,
               length_headline(task$odds), idle_headline(task), if (is_amiss(task, parts)) knob_headline(task))
  unlist(said)
}

# Does the stall lose, or miss a target?
is_amiss <- function(task, parts) {
  balance <- part_result(parts, "balance")
  edge <- if (!is.null(task$seat)) task$odds$pays$edge[task$odds$pays$seat == task$seat] else NA
  isTRUE(edge < 0) || any(balance$today$met != "met")
}

# A result that a part of the page keeps under this name; NULL where no part has it.
part_result <- function(parts, name) unlist(lapply(parts, `[`, name), recursive = FALSE)[[name]]

# The shares of rounds with a gain, and without a loss.
gain_headline <- function(task) {
  net <- if (!is.null(task$seat)) task$odds$results[[task$seat]]$rounds
  if (is.null(net)) return(NULL)
  share <- function(which) sum(net$probability[which])
  even <- share(net$net == 0)
  digits <- if (task$odds$engine == "exact") 2L else 1L
  sprintf("%s gains in %s of rounds%s.", capital(seat_words(task)), percent_text(share(net$net > 0), digits),
          if (even > 0) sprintf(" and comes out even in %s", percent_text(even, digits)) else "")
}

# The stall's evening: what it takes, how often it loses, and the float.
evening_headline <- function(parts) {
  row <- part_result(parts, "stall")$rows
  if (NROW(row) != 1) return(NULL)
  c(sprintf("An evening of %s, %s in all, %s the stall %s tokens on average.", count_text(row$visits, "visit"),
            count_text(round(row$rounds), "round"), if (row$evening < 0) "costs" else "brings",
            plain_number(signif(abs(row$evening), 3))),
    sprintf("The stall loses in %s of evenings. A float of %s tokens lasts 99 evenings of 100.",
            percent_text(row$losing, 0), plain_number(row$float_needed)))
}

# The edge against its target; without a stake the probability of the first outcome.
money_headline <- function(task, parts) {
  o <- task$odds
  if (is.null(task$seat)) {
    first <- o$outcomes[1, ]
    return(sprintf("%s comes up in %s of rounds%s%s.", capital(plain_name(first$name)),
                   percent_text(first$probability, 2), interval_words(first$lower, first$upper),
                   when_played(o$players)))
  }
  pays <- o$pays[o$pays$seat == task$seat, ]
  seat <- seat_words(task)
  keeps <- if (pays$edge >= 0) sprintf("The stall keeps %s of what %s stakes", percent_text(pays$edge, 2), seat)
    else sprintf("The stall loses: it pays %s %s more than is staked", seat, percent_text(-pays$edge, 2))
  at_first <- if (pays$put_in > pays$stake + 1e-9) " at first"  # the edge is one of first stakes
  ends <- if (o$engine == "sample") sort((if (pays$edge < 0) -1 else 1) * c(pays$edge_lower, pays$edge_upper))
  paste0(keeps, at_first, interval_words(ends[1], ends[2]), when_played(o$players), "; ", target_words(task, parts),
         ".",
         long_run_headline(o$pots))
}

# The visitor, as the game speaks of it.
seat_words <- function(task) name_words(task$seat, speech_of(task$game, task$settings))

capital <- function(text) paste0(toupper(substr(text, 1, 1)), substring(text, 2))

# " when guest plays careful": nothing where nobody decides.
when_played <- function(players) if (length(players) > 0) paste0(" when ", who_plays(players)) else ""

# A target in plain words; others stay as written.
target_sentence <- function(text) {
  seated <- ifelse(grepl(" with \\S+ = ", text), sub("^.* with (\\S+) = (.+)$", " when \\1 plays \\2", text), "")
  text <- sub(" with \\S+ = .+$", "", text)
  text <- sub("^edge\\([^()]*\\) in (\\S+)\\.\\.(\\S+)$", "the stall keeps \\1 to \\2", text)
  text <- sub("^edge\\([^()]*\\) at (least|most) (\\S+)$", "the stall keeps at \\1 \\2", text)
  text <- sub("^return_of\\([^()]*\\) in (\\S+)\\.\\.(\\S+)$", "\\1 to \\2 comes back", text)
  paste0(sub("^gain\\(([^()]*)\\) in (\\S+)\\.\\.(\\S+)$", "\\1 gains in \\2 to \\3 of rounds", text), seated)
}

# Of one round a pot pays from its seed: over many it pays what is fed as well.
long_run_headline <- function(pots) {
  long <- pots$long_run_return[!is.na(pots$long_run_return)]
  if (length(long) > 0)
    sprintf(" In the long run, when its pot has paid what is fed to it, it keeps %s of all that is put in.",
            percent_text(1 - long[[1]], 2))
}

interval_words <- function(lower, upper) {
  if (length(lower) == 0 || is.na(lower)) return("")
  sprintf(" (95%% interval %s to %s)", percent_text(lower, 2), percent_text(upper, 2))
}

target_words <- function(task, parts) {
  balance <- part_result(parts, "balance")
  if (is.null(balance)) return(if (is.null(task$want)) "no target was named" else "whether targets are met is not told")
  today <- balance$today
  missed <- sum(today$met != "met")
  if (missed == 0) return(sprintf("all %s are met", count_text(nrow(today), "target")))
  knobs <- balance$answers[[1]]$knobs
  cure <- if (balance$status == "impossible") ", and no combination of the knobs meets all"
    else sprintf(", which %s would meet",
                 paste(plain_name(names(knobs)), vapply(knobs, value_shown, ""), sep = " = ", collapse = ", "))
  sprintf("that misses %s of %s (%s)%s", plain_number(missed), count_text(nrow(today), "target"),
          enumerated(target_sentence(today$target[today$met != "met"])), cure)
}

# The first seat's advantage, where seats are alike.
seats_headline <- function(task) {
  if (length(task$game$seats) < 2) return(NULL)
  f <- tryCatch(seat_fairness(task$game, rounds = min(task$rounds, 2e4), seed = task$seed, set = task$set,
                              mode = task$mode),
                basanos_error = function(e) NULL)
  if (is.null(f)) return(NULL)
  a <- f$advantage[1, ]
  share <- startsWith(f$measure, "probability")
  in_words <- function(advantage) if (share) percent_text(abs(advantage), 2) else fixed_text(abs(advantage), 4)
  ahead <- in_words(a$advantage)
  of_player <- f$rows[f$rows$player %in% a$player, ]
  far <- of_player[which.max(abs(of_player$advantage) * (of_player$sure != 0)), ]  # the seat furthest from the others
  switch(a$fair, proved = "The first seat has no advantage: that is proved.",
         "not told apart" = sprintf("No advantage of the first seat is seen (%s, error %s).", ahead,
                                    if (share) percent_text(a$standard_error, 2) else fixed_text(a$standard_error, 4)),
         sprintf("%s is %s by %s%s.", far$seat, if (far$advantage > 0) "ahead" else "behind",
                 if (f$measure == "mean_pay({seat})") paste(in_words(far$advantage), "tokens a round")
                 else sprintf("%s (%s)", in_words(far$advantage), any_seat(f$measure)),
                 if (is.na(a$player)) "" else sprintf(", all playing %s", a$player)))
}

length_headline <- function(odds) {
  words <- length_words(odds)
  if (length(words) > 0) sprintf("In 19 %s of 20: %s.", units_in_words(odds$unit), words)
}

# "tiles 9 or less": the 95% quantile of the rounds of a match, else of the first record of numbers.
length_words <- function(odds) {
  if (odds$unit != "round" && !is.null(odds$units$distribution))
    return(paste(count_text(quantiles_of(odds$units$distribution)[["95%"]], "round"), "or fewer"))
  numbers <- odds$records$name[odds$records$type == "number"]
  if (length(numbers) == 0) return(NULL)
  sprintf("%s %s or less", plain_name(numbers[[1]]),
          plain_number(quantiles_of(odds$distributions[[numbers[[1]]]])[["95%"]]))
}

# An outcome or answer that never matters, as the check finds it.
idle_headline <- function(task) {
  findings <- task$check$findings
  idle <- findings$message[findings$id %in% c("outcome_never", "answer_never", "answer_dominated", "sign_dominated")]
  if (length(idle) > 0) plain_words_of(idle[[1]])
}

# The knob to turn first: the setting whose next step moves the result most.
knob_headline <- function(task) {
  i <- task$influence
  if (NROW(i) == 0 || max(abs(i$step)) < 1e-9) return(NULL)
  best <- i[1, ]
  sprintf("Turn %s first: from %s to %s moves %s by %s.", plain_name(best$knob), best$now, best$to,
          result_in_words(task),
          sprintf("%s points", fixed_text(100 * best$step, 2, sign = TRUE)))
}

result_in_words <- function(task) {
  if (is.null(task$seat)) return(sprintf("the chance of %s", plain_name(task$game$outcomes$names[[1]])))
  paste("what", kept_in_words(task, task$seat, 1))
}
