# The parts of a report. Each tells list(sections, figures, details) of what `task` holds, or NULL where the game has no
# such thing. Details stand at the end of the page: all numbers, and how they were found.
# A figure is list(plot, alt, height): the height in inches at the width of the page.

report_parts <- list(
  what_if = list(title = "What if?", tell = function(task) what_if_part(task)),
  rules = list(title = "The rules", tell = function(task) rules_part(task)),
  ends = list(title = "How rounds end, and what that pays", tell = function(task) ends_part(task)),
  records = list(title = "How long, and how much", tell = function(task) records_part(task)),
  players = list(title = "Ways of playing", tell = function(task) players_part(task)),
  balance = list(title = "The balance", tell = function(task) balance_part(task)),
  evenings = list(title = "An evening", tell = function(task) evenings_part(task)),
  rounds = list(title = "Rounds, step by step", tell = function(task) rounds_part(task)),
  check = list(title = "What the check found", tell = function(task) list(details = sections(task$check))))

report_figure <- function(result, height = 4, ...) {
  heartbeat()
  list(plot = figure_of(result, ...), alt = figure_alt(result, ...), height = height)
}

# The items of the rule card under each heading.
card_items <- function(game) {
  card <- outline_card(game)
  c(card$card, stats::setNames(lapply(card$parts, `[[`, "items"), vapply(card$parts, `[[`, "", "title")))
}

# The rule card: its items are kept, as pages nest them.
rules_part <- function(task) {
  items <- card_items(task$game)
  list(sections = all_sections(lapply(names(items), function(name) section(name, lines = paste("-", items[[name]])))),
       card = items)
}

# The outcomes are drawn where no board on top has them.
ends_part <- function(task) {
  o <- task$odds
  without <- o
  without$records <- o$records[0, , drop = FALSE]  # they are a part of their own
  drawn <- if (is.null(task$board)) list(outcomes_figure(with_plain_names(o)))
  of_unit <- if (o$unit != "round") utils::head(unit_sections(o, o$engine == "sample"), -1)  # but those of a round
  list(title = if (!is.null(task$board)) "What is put in, and what comes back",
       sections = in_plain_words(all_sections(of_unit, money_sections(o))), figures = drawn,
       details = sections(without))
}

outcomes_figure <- function(o) {
  drawn <- report_figure(o, max(1.6, 0.7 + 0.34 * nrow(o$outcomes)))
  if (o$complete) drawn$plot <- drawn$plot + ggplot2::theme(legend.position = "none",
                                                            strip.text = ggplot2::element_blank())
  drawn
}

# The odds with the names of outcomes, records and seats as one says them.
with_plain_names <- function(o) {
  o$outcomes$name <- plain_name(o$outcomes$name)
  o$records$name <- plain_name(o$records$name)
  names(o$distributions) <- plain_name(names(o$distributions))
  o
}

records_part <- function(task) {
  o <- task$odds
  if (nrow(o$records) == 0 && length(o$pay_distributions) == 0) return(NULL)
  shown <- with_plain_names(o)
  drawn <- tryCatch(list(report_figure(shown, 1.2 + 2 * ceiling(length(number_distributions(o)) / 3),
                                       show = "distributions")),
                    basanos_argument_wrong = function(e) list())
  others <- o  # what is no number is not drawn
  others$records <- o$records[o$records$type != "number", , drop = FALSE]
  sampled <- o$engine == "sample"
  list(sections = all_sections(distribution_quantiles(shown), in_plain_words(record_sections(others, sampled))),
       figures = drawn, details = all_sections(record_sections(o, sampled)))
}

# A line a record: its quantiles.
distribution_quantiles <- function(o) {
  all <- number_distributions(o)
  if (length(all) == 0) return(NULL)
  quantiles <- lapply(all, quantiles_of)
  points <- names(quantiles[[1]])
  section("This value or less, in a share of rounds",
          c(list(" " = names(all)), stats::setNames(lapply(points, function(p)
    vapply(quantiles, function(q) plain_number(q[[p]]), "")), points)))
}

players_part <- function(task) {
  seats <- which(vapply(seq_along(task$game$seats), function(s)
    length(players_at_seat(task$game, s)) > 1, NA))
  if (length(seats) == 0) return(NULL)
  fewer <- min(task$rounds, if (task$heavy) 300 else 2e4)
  measure <- tryCatch(usual_seat_measure(task$game, seats[[1]]),
                      basanos_measure_wrong = function(e) usual_share(task$game))
  compared <- compare_players(task$game, measure = measure, rounds = fewer, seed = task$seed, set = task$set,
                              mode = task$mode)
  does <- player_answers(task$game, rounds = min(fewer, 800), seed = task$seed, set = task$set, players = task$players,
                         mode = task$mode)
  partings <- partings_between_best(task, compared, fewer)
  shown <- compared
  shown$measure <- sub(" of {seat}", "", plain_words_of(compared$measure), fixed = TRUE)
  best <- if (!task$heavy) best_on_page(task, seats[[1]])
  list(sections = in_plain_words(all_sections(answers_in_short(does), best, partings_in_short(task, partings))),
       figures = list(report_figure(shown, max(3, 1.8 + 0.5 * length(compared$players)))),
       details = all_sections(sections(compared), sections(does), if (!is.null(partings)) sections(partings)))
}

answers_in_short <- function(does)
  section(sprintf("What %s does as %s", does$player, does$seat), sections(does)[[2]]$table)

# What the seat could take at best, and what the players lose against that, where that is found quickly.
best_on_page <- function(task, seat) {
  name <- task$game$seats[[seat]]
  best <- best_in_short(task$game, seat, task$set, task$players[setdiff(names(task$players), name)], task$mode)
  if (is.null(best)) return(NULL)
  l <- best$losses
  section(sprintf("What %s could take at best", name_words(name, speech_of(task$game, task$settings))),
          list(player = c("as well as can be", l$player), worth = worth_text(c(best$value, l$value)),
               loses = c("-", worth_text(l$loss))), sprintf("A %s, by %s.", best$unit, best$objective))
}

most_partings_on_page <- 5L

# The dearest partings, each situation in the words of the rules.
partings_in_short <- function(task, p) {
  if (NROW(p$rows) == 0 || all(is.na(p$rows$cost))) return(NULL)
  r <- utils::head(p$rows[order(-abs(p$rows$cost)), ], most_partings_on_page)
  digits <- 4L
  cells <- list(situation = situation_words(r$situation, task), "met in" = percent_text(r$reached, 2L))
  cells[[p$player]] <- r$answer
  cells[[p$other]] <- r$other
  cells[["costs a round"]] <- fixed_text(r$cost, digits)
  section(sprintf("What %s loses against %s", p$other, p$player), cells,
          sprintf("In all %s loses %s%s a round.", p$other, fixed_text(p$difference, digits),
                  if (startsWith(p$measure, "mean_pay")) " tokens" else ""))
}

# "guest_total = 20" is "the guest's total is 20".
situation_words <- function(text, task) {
  text <- gsub(" = ", " is ", text, fixed = TRUE)
  words <- words_of_names(task$game, task$settings)
  at <- gregexpr("[[:alpha:]]\\w*", text)
  regmatches(text, at) <- lapply(regmatches(text, at), function(names)
    ifelse(names %in% names(words), words[names], names))
  ifelse(nzchar(text), text, "always")
}

most_states_for_partings <- 5e4  # with more, each position takes seconds

# The decisions where the second best player differs from the best, if both decide without chance.
partings_between_best <- function(task, compared, rounds) {
  if (task$odds$engine != "exact" || task$odds$states > most_states_for_partings) return(NULL)
  best <- compared$ranking$player
  tryCatch(player_partings(task$game, player = best[[1]], other = best[[2]], rounds = min(rounds, 500),
                           seed = task$seed, set = task$set, mode = task$mode, most = 10),
           basanos_error = function(e) NULL)
}

balance_part <- function(task) {
  if (is.null(task$want)) return(NULL)
  knobs <- if (is.null(task$knobs)) usual_knobs(task) else task$knobs
  b <- balance_game(task$game, task$want, knobs, set = task$set, players = task$players, mode = task$mode,
                    rounds = if (task$heavy) task$rounds, seed = task$seed, progress = FALSE)
  shown <- with_plain_targets(b)
  list(sections = in_plain_words(all_sections(section(notes = status_lines(shown)), answer_sections(shown),
                                              target_section(shown))),
       figures = list(report_figure(shown, 1.8 + 1.1 * nrow(b$today))), details = sections(b), balance = b)
}

# A balance with its targets and knobs in plain words.
with_plain_targets <- function(b) {
  in_words <- function(text) plain_words_of(target_sentence(text))
  plain <- function(table) {
    columns <- intersect(c("knob", "target"), names(table))
    table[columns] <- lapply(table[columns], in_words)
    table
  }
  b$conflicts <- in_words(b$conflicts)
  for (name in c("influence", "bands", "today")) b[[name]] <- plain(b[[name]])
  for (k in seq_along(b$knobs)) b$knobs[[k]]$name <- in_words(b$knobs[[k]]$name)
  for (k in seq_along(b$answers)) {
    b$answers[[k]]$targets <- plain(b$answers[[k]]$targets)
    names(b$answers[[k]]$knobs) <- in_words(names(b$answers[[k]]$knobs))
  }
  b
}

# The default knobs: those that pays depend on, and the setting with the largest effect.
usual_knobs <- function(task) {
  numbers <- Filter(function(n) n$kind == "pay" && n$value > 0, numbers_in_rules(task$game$nodes))
  pays <- vapply(utils::head(numbers, 2), function(n)
    sprintf("%s in %s..%s", n$name, plain_number(max(0, n$value - 3)), plain_number(n$value + 3)), "")
  most <- if (NROW(task$influence) > 0) task$influence$knob[[1]]
  turned <- if (!is.null(most)) {
    values <- slider_values(task, most)
    if (length(values) == 2 && is_kind(task$game$settings[[most]]$type, "yesno")) sprintf("%s in no, yes", most)
    else sprintf("%s in %s", most, paste(vapply(values, plain_number, ""), collapse = ", "))
  }
  knobs <- c(pays, turned)
  if (length(knobs) > 0) return(knobs)
  abort_input("knob_idle", "Nothing in these rules can be turned.", "name knobs: knobs = \"pay(bright) in 1..6\"")
}

# The visitor's evening and the stall's, each where it can be told; of a sitting with a wallet the odds tell the first.
evenings_part <- function(task) {
  if (is.null(task$seat)) return(NULL)
  visitor <- function() bankroll(task$game, task$wallet, goal = task$goal, seed = task$seed, over_time = TRUE,
                                 evenings = 2e4, set = task$set, players = task$players, mode = task$mode)
  stall <- function() takings(list(task$game), task$visits, task$hours, task$visit_rounds, task$round_seconds,
                              task$float,
                              seed = task$seed, set = task$set, players = task$players, mode = task$mode)
  evening <- function(tell, height) content_or_reason(function() {
    result <- tell()
    list(sections = in_plain_words(sections(result)), figures = list(report_figure(result, height)), result = result)
  })
  both <- list(if (length(task$game$money$wallets) == 0) evening(visitor, 4.2), evening(stall, 3.6))
  list(sections = all_sections(unlist(lapply(both, `[[`, "sections"), recursive = FALSE)),
       figures = unlist(lapply(both, `[[`, "figures"), recursive = FALSE), stall = both[[2]]$result)
}

most_prizes <- 15L

# The prize board: each outcome in words, its pay (with a stake only), and how rare it is.
prize_board <- function(task) {
  o <- task$odds
  paid <- if (!is.null(task$seat))
    tryCatch(par_table(task$game, task$seat, set = task$set, players = task$players, mode = task$mode,
                       engine = if (o$engine == "exact") "auto" else "sample", rounds = min(task$rounds, 2e4),
                       seed = task$seed)$rows,
             basanos_error = function(e) NULL)
  rows <- if (is.null(task$seat)) data.frame(outcome = o$outcomes$name, probability = o$outcomes$probability) else paid
  if (is.null(rows) || nrow(rows) > most_prizes || !"outcome" %in% names(rows)) return(NULL)
  if (!is.null(rows$pay)) rows <- rows[order(-rows$pay), ]
  game <- task$game
  game$say <- speech_of(game, task$settings)
  pays <- if (!is.null(rows$pay)) list("wins or loses" = ifelse(rows$pay == 0, "0", sprintf("%+g", rows$pay)))
  section(if (is.null(pays)) "How it ends" else "The prize board",
          c(list(outcome = plain_name(rows$outcome), "it is" = vapply(rows$outcome, outcome_sentence, "", game = game)),
            pays, list("one round in" = ifelse(rows$probability == 0 & o$engine == "sample", "not seen",
                                         one_in(rows$probability)))))
}

# The condition of an outcome as on the rule card, without its name.
outcome_sentence <- function(name, game) {
  entry <- Find(function(e) name %in% e$outcomes, game$outcomes$entries)
  items <- unlist(lapply(Filter(function(n) is_call(n, "outcomes"), game$nodes), function(n) {
    k <- which(n$names == entry$name)
    if (length(k) > 0) outcome_items(n, game)[[k[[1]]]]
  }))
  if (length(items) == 0) "" else sub("^[^:]*: ", "", items[[1]])
}

# A typical round and the rarest: the likeliest outcome, and the least likely that does come up.
rounds_part <- function(task) {
  o <- task$odds$outcomes
  o <- o[o$probability > 1e-7, ]
  typical <- o$name[[which.max(o$probability)]]
  rarest <- o$name[[which.min(o$probability)]]
  rounds <- lapply(unique(c(typical, rarest)), function(name) {
    trace <- tryCatch(trace_round(task$game, seed = task$seed, set = task$set, players = task$players, where = name,
                                  mode = task$mode), basanos_error = function(e) NULL)
    if (is.null(trace)) return(NULL)
    p <- o$probability[o$name == name]
    heading <- if (name == typical) sprintf("The likeliest end: %s (%s of rounds)", plain_name(name),
                                            percent_text(p, 2))
      else sprintf("The rarest: %s (one in %s rounds)", plain_name(name), one_in(p))
    shown <- sections(trace, words = TRUE)
    list(section(heading), shown[[length(shown)]])
  })
  list(sections = all_sections(unlist(rounds, recursive = FALSE)))
}
