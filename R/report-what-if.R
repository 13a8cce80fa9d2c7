# The sliders of the page: settings with their values, and the measures at each combination.

most_what_if_points <- 200L
slider_steps <- 3L  # to either side of the value in use

# The measure one step of each setting away: knob, now, to, step (what it changes), the largest first.
step_influence <- function(ask) {
  turnable <- Filter(function(name) length(slider_values(ask, name)) > 1, names(ask$settings))
  now <- value_with(ask, list())
  rows <- lapply(turnable, function(name) {
    values <- slider_values(ask, name)
    at <- match(as.character(ask$settings[[name]]), vapply(values, as.character, ""))
    near <- values[setdiff(c(at + 1L, at - 1L), c(0L, length(values) + 1L))]
    moved <- vapply(near, function(v) value_with(ask, stats::setNames(list(v), name)) - now, 0)
    if (all(is.na(moved))) return(NULL)
    k <- which.max(abs(moved))
    list(knob = name, now = shown_setting(ask, name, ask$settings[[name]]), to = shown_setting(ask, name, near[[k]]),
         step = moved[[k]])
  })
  rows <- Filter(Negate(is.null), rows)
  if (length(rows) == 0) return(NULL)
  table <- table_of_rows(rows)
  table[order(-abs(table$step)), ]
}

# Enough for a comparison on the same luck.
few_rounds <- function(ask) min(ask$rounds, if (ask$heavy) 1000 else 2e4)

# The measure with some settings changed; missing where they do not go together.
value_with <- function(ask, set) {
  tryCatch(odds(ask$game, rounds = few_rounds(ask), seed = ask$seed, set = utils::modifyList(ask$set, set),
                players = ask$players, mode = ask$mode, measure = ask$measure, progress = FALSE)$measures$value,
           basanos_error = function(e) NA_real_)
}

shown_setting <- function(ask, name, value) {
  if (!is_kind(ask$game$settings[[name]]$type, "yesno")) return(plain_number(value))
  if (value %in% c(1, "yes", TRUE)) "yes" else "no"
}

# The values of a slider: some to either side of the one in use, within the range that the rules give.
slider_values <- function(ask, name) {
  s <- ask$game$settings[[name]]
  now <- ask$settings[[name]]
  if (is_kind(s$type, "yesno")) return(list(0, 1))
  if (!is_kind(s$type, "whole", "fraction")) return(list(now))
  end <- function(node, or) if (is.null(node)) or
    else tryCatch(constant_of(node, ask$settings, ask$game$source), error = function(e) or)
  step <- if (is_kind(s$type, "whole")) 1 else nice_width(max(abs(now), 1e-3) / 10)
  values <- now + step * (-slider_steps:slider_steps)
  as.list(values[values >= end(s$from, -Inf) & values <= end(s$to, Inf)])
}

# list(sections, what_if): what_if$data goes into the page, its text holds without a script as well.
what_if_part <- function(ask) {
  turned <- what_if_values(ask)
  if (length(turned) == 0) return(NULL)
  measures <- what_if_measures(ask)
  sweep <- what_if_sweep(ask, turned, measures$measure)
  if (is.null(sweep)) return(NULL)
  varied <- names(turned)
  values <- matrix(sweep$rows$value, nrow = length(measures$measure))
  shown <- lapply(varied, function(name) vapply(turned[[name]], function(v) what_if_shown(ask, name, v), ""))
  now <- vapply(varied, function(name) what_if_now(ask, name, turned[[name]]), 1L)
  data <- list(settings = Map(function(name, values, k) list(name = name, values = as.list(values), now = k - 1L),
                              varied, shown, now),
               measures = measures$told, values = lapply(seq_len(ncol(values)), function(k) signif(values[, k], 7)))
  names(data$settings) <- NULL
  of_outcome <- vapply(measures$told, function(m) m$kind == "outcome", NA)
  data$widest <- max(values[of_outcome, ], 1e-9, na.rm = TRUE)
  at <- what_if_index(now, lengths(turned))
  list(sections = in_plain_words(all_sections(influence_of_steps(ask), what_if_caution(ask, sweep))),
       details = all_sections(utils::tail(unclass(sections(sweep)), 1)),
       what_if = list(data = data, today = values[, at]))
}

# Sampled points have fewer rounds than the odds, and the same luck.
what_if_caution <- function(ask, sweep) {
  if (all(sweep$rows$engine == "exact")) return(NULL)
  section(notes = sprintf("Each position of the sliders is sampled, %s %s on the same luck. %s",
                          whole_text(sweep$rounds), units_in_words(sweep$unit),
                          "Differences are surer than the numbers themselves."))
}

# Points run through the last setting fastest, as the sweep does.
what_if_index <- function(at, lengths) {
  k <- 0
  for (i in seq_along(at)) k <- k * lengths[[i]] + at[[i]] - 1
  k + 1
}

what_if_shown <- function(ask, name, value)
  if (is.null(ask$game$settings[[name]])) plain_number(value) else shown_setting(ask, name, value)

what_if_today <- function(ask, name)
  if (is.null(ask$game$settings[[name]])) named_number_today(ask$game, name) else ask$settings[[name]]

what_if_now <- function(ask, name, values)
  match(what_if_shown(ask, name, what_if_today(ask, name)), vapply(values, function(v) what_if_shown(ask, name, v), ""))

# The page begins at the file's own value: it is among those to turn.
with_today <- function(ask, name, values) {
  if (!is.na(what_if_now(ask, name, values))) return(values)
  values <- c(values, list(what_if_today(ask, name)))
  values[order(suppressWarnings(as.numeric(unlist(values))))]
}

named_number_today <- function(game, name) {
  sites <- numbers_named_so(game, name)
  if (length(sites) == 1) sites[[1]]$value else NA_real_
}

# pay(bright) is pay(guest, bright) where one seat is paid.
full_number_name <- function(game, name) {
  sites <- if (is.null(game$settings[[name]])) numbers_named_so(game, name)
  if (length(sites) == 1) sites[[1]]$name else name
}

# The settings to turn with their values: as the call says, else one or two that move the result most.
what_if_values <- function(ask) {
  asked <- ask$what_if
  if (is.null(asked)) {
    i <- ask$influence
    if (is.null(i)) return(NULL)
    moving <- sum(abs(i$step) > 1e-9)
    asked <- utils::head(i$knob, max(1, min(moving, if (ask$odds$engine == "exact") 2 else 1)))
  }
  if (!is.list(asked)) asked <- stats::setNames(rep(list(NULL), length(asked)), asked)
  names(asked) <- vapply(names(asked), full_number_name, "", game = ask$game)
  if (length(asked) > 3)
    abort_input("what_if_wrong", "The page turns three settings at most.", "name one to three")
  turned <- Map(function(name, values) {
    if (is.null(ask$game$settings[[name]]) && is.na(named_number_today(ask$game, name)))
      abort_input("what_if_wrong", sprintf("`%s` is no setting and no number of these rules.", name),
                  sprintf("there is %s", some_of_names(c(names(ask$game$settings), numbers_of_game(ask$game)))))
    if (!is.null(values)) with_today(ask, name, as.list(values))
    else if (!is.null(ask$game$settings[[name]])) slider_values(ask, name)
    else as.list(named_number_today(ask$game, name) + 0:slider_steps)
  }, names(asked), asked)
  if (prod(lengths(turned)) > most_what_if_points)
    abort_input("what_if_wrong", sprintf("These are %s combinations, more than the %s that a page holds.",
                                         whole_text(prod(lengths(turned))), whole_text(most_what_if_points)),
                "take fewer values, as in \"aim=20,22,24\"")
  turned
}

numbers_of_game <- function(game) vapply(numbers_in_rules(game$nodes), `[[`, "", "name")

kept_in_words <- function(ask, seat, seats) {
  paste0("the stall keeps", if (seats > 1) sprintf(" of what %s stakes", seat),
         if (startsWith(kept_measure(ask$game, seat), "long_run")) " in the long run")
}

# The measures on the page: list(measure, told), told being name, kind and part of the page of each.
what_if_measures <- function(ask) {
  o <- ask$odds
  outcomes <- utils::head(o$outcomes$name, 12)
  staked <- o$pays$seat[!is.na(o$pays$stake)]
  numbers <- utils::head(o$records$name[o$records$type == "number"], 4)
  told <- function(measure, name, kind) list(measure = measure, name = name, kind = kind)
  all <- c(lapply(staked, function(s)
             told(kept_measure(ask$game, s), kept_in_words(ask, s, length(staked)), "share")),
           lapply(outcomes, function(x) told(sprintf("probability(outcome == %s)", x), plain_name(x), "outcome")),
           lapply(numbers, function(x) told(sprintf("mean(%s)", x), sprintf("%s, on average", plain_name(x)),
                                            "number")))
  list(measure = vapply(all, `[[`, "", "measure"), told = lapply(all, `[`, c("name", "kind")))
}

# If some combinations of two settings are not valid, only one is turned.
what_if_sweep <- function(ask, turned, measure) {
  fixed <- ask$set[setdiff(names(ask$set), names(turned))]
  rounds <- few_rounds(ask)
  tryCatch(sweep_game(ask$game, c(lapply(fixed, list), turned), lapply(ask$players, list),
                          if (!is.null(ask$mode)) ask$mode, measure, best = NULL, rounds = rounds, seed = ask$seed,
                          progress = FALSE),
           basanos_error = function(e) {
             if (length(turned) > 1 && is.null(ask$what_if)) return(NULL)
             stop(e)
           })
}

influence_of_steps <- function(ask) {
  i <- ask$influence
  if (NROW(i) == 0) return(NULL)
  section("What the next step of each setting does", stats::setNames(list(
    i$knob, sprintf("%s to %s", i$now, i$to), sprintf("%s points", fixed_text(100 * i$step, 2, sign = TRUE))),
    c("setting", "step", result_in_words(ask))))
}

what_if_of <- function(told) {
  for (part in told$parts) if (!is.null(part$what_if)) return(part$what_if)
  NULL
}
