# The sliders of the page: settings with their values, and the measures at each combination.

most_what_if_points <- 200L
slider_steps <- 3L  # to either side of the value in use

# The measure one step of each setting away: knob, now, to, step (what it changes), the largest first.
step_influence <- function(task) {
  turnable <- Filter(function(name) length(slider_values(task, name)) > 1, names(task$settings))
  now <- value_with(task, list())
  rows <- lapply(turnable, function(name) {
    values <- slider_values(task, name)
    at <- match(as.character(task$settings[[name]]), vapply(values, as.character, ""))
    near <- values[setdiff(c(at + 1L, at - 1L), c(0L, length(values) + 1L))]
    moved <- vapply(near, function(v) value_with(task, stats::setNames(list(v), name)) - now, 0)
    if (all(is.na(moved))) return(NULL)
    k <- which.max(abs(moved))
    list(knob = name, now = shown_setting(task, name, task$settings[[name]]), to = shown_setting(task, name, near[[k]]),
         step = moved[[k]])
  })
  rows <- Filter(Negate(is.null), rows)
  if (length(rows) == 0) return(NULL)
  table <- table_of_rows(rows)
  table[order(-abs(table$step)), ]
}

# Enough for a comparison on the same luck.
few_rounds <- function(task) min(task$rounds, if (task$heavy) 1000 else 2e4)

# The measure with some settings changed; missing where they do not go together.
value_with <- function(task, set) {
  tryCatch(odds(task$game, rounds = few_rounds(task), seed = task$seed, set = utils::modifyList(task$set, set),
                players = task$players, mode = task$mode, measure = task$measure, progress = FALSE)$measures$value,
           basanos_error = function(e) NA_real_)
}

shown_setting <- function(task, name, value) {
  if (!is_kind(task$game$settings[[name]]$type, "yesno")) return(plain_number(value))
  if (value %in% c(1, "yes", TRUE)) "yes" else "no"
}

# The values of a slider: some to either side of the one in use, within the range that the rules give.
slider_values <- function(task, name) {
  s <- task$game$settings[[name]]
  now <- task$settings[[name]]
  if (is_kind(s$type, "yesno")) return(list(0, 1))
  if (!is_kind(s$type, "whole", "fraction")) return(list(now))
  slider <- slider_of(s, now, task$settings, task$game$source)
  values <- now + slider$step * (-slider_steps:slider_steps)
  as.list(values[values >= slider$least & values <= slider$most])
}

# list(step, least, most) of a setting that is a number; without an end where the rules give none.
slider_of <- function(setting, now, settings, source) {
  end <- function(node, or) if (is.null(node)) or
    else tryCatch(constant_of(node, settings, source), error = function(e) or)
  list(step = if (is_kind(setting$type, "whole")) 1 else nice_width(max(abs(now), 1e-3) / 10),
       least = end(setting$from, -Inf), most = end(setting$to, Inf))
}

# list(sections, what_if): what_if$data goes into the page, its text holds without a script as well.
what_if_part <- function(task) {
  turned <- what_if_values(task)
  if (length(turned) == 0) return(NULL)
  measures <- what_if_measures(task)
  sweep <- what_if_sweep(task, turned, measures$measure)
  if (is.null(sweep)) return(NULL)
  varied <- names(turned)
  values <- matrix(sweep$rows$value, nrow = length(measures$measure))
  shown <- lapply(varied, function(name) vapply(turned[[name]], function(v) what_if_shown(task, name, v), ""))
  now <- vapply(varied, function(name) what_if_now(task, name, turned[[name]]), 1L)
  data <- list(settings = Map(function(name, values, k) list(name = name, values = as.list(values), now = k - 1L),
                              varied, shown, now),
               measures = measures$labels, values = lapply(seq_len(ncol(values)), function(k) signif(values[, k], 7)))
  names(data$settings) <- NULL
  of_outcome <- vapply(measures$labels, function(m) m$kind == "outcome", NA)
  data$widest <- max(values[of_outcome, ], 1e-9, na.rm = TRUE)
  at <- what_if_index(now, lengths(turned))
  list(sections = in_plain_words(all_sections(influence_of_steps(task), what_if_caution(task, sweep))),
       details = all_sections(utils::tail(unclass(sections(sweep)), 1)),
       what_if = list(data = data, today = values[, at]))
}

# Sampled points have fewer rounds than the odds, and the same luck.
what_if_caution <- function(task, sweep) {
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

what_if_shown <- function(task, name, value)
  if (is.null(task$game$settings[[name]])) plain_number(value) else shown_setting(task, name, value)

what_if_today <- function(task, name)
  if (is.null(task$game$settings[[name]])) named_number_today(task$game, name) else task$settings[[name]]

what_if_now <- function(task, name, values)
  match(what_if_shown(task, name, what_if_today(task, name)), vapply(values, function(v) what_if_shown(task, name, v),
                                                                     ""))

# The page begins at the file's own value: it is among those to turn.
with_today <- function(task, name, values) {
  if (!is.na(what_if_now(task, name, values))) return(values)
  values <- c(values, list(what_if_today(task, name)))
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
what_if_values <- function(task) {
  asked <- task$what_if
  if (is.null(asked)) {
    i <- task$influence
    if (is.null(i)) return(NULL)
    moving <- sum(abs(i$step) > 1e-9)
    asked <- utils::head(i$knob, max(1, min(moving, if (task$odds$engine == "exact") 2 else 1)))
  }
  if (!is.list(asked)) asked <- stats::setNames(rep(list(NULL), length(asked)), asked)
  names(asked) <- vapply(names(asked), full_number_name, "", game = task$game)
  if (length(asked) > 3)
    abort_input("what_if_wrong", "The page turns three settings at most.", "name one to three")
  turned <- Map(function(name, values) {
    if (is.null(task$game$settings[[name]]) && is.na(named_number_today(task$game, name)))
      abort_input("what_if_wrong", sprintf("`%s` is no setting and no number of these rules.", name),
                  sprintf("there is %s", some_of_names(c(names(task$game$settings), numbers_of_game(task$game)))))
    if (!is.null(values)) with_today(task, name, as.list(values))
    else if (!is.null(task$game$settings[[name]])) slider_values(task, name)
    else as.list(named_number_today(task$game, name) + 0:slider_steps)
  }, names(asked), asked)
  if (prod(lengths(turned)) > most_what_if_points)
    abort_input("what_if_wrong", sprintf("These are %s combinations, more than the %s that a page holds.",
                                         whole_text(prod(lengths(turned))), whole_text(most_what_if_points)),
                "take fewer values, as in \"aim=20,22,24\"")
  turned
}

numbers_of_game <- function(game) vapply(numbers_in_rules(game$nodes), `[[`, "", "name")

kept_in_words <- function(task, seat, seats) {
  paste0("the stall keeps", if (seats > 1) sprintf(" of what %s stakes", seat),
         if (startsWith(kept_measure(task$game, seat), "long_run")) " in the long run")
}

# The measures on the page: list(measure, labels), labels being the name and kind of each.
what_if_measures <- function(task) {
  o <- task$odds
  outcomes <- utils::head(o$outcomes$name, 12)
  staked <- o$pays$seat[!is.na(o$pays$stake)]
  numbers <- utils::head(o$records$name[o$records$type == "number"], 4)
  labelled <- function(measure, name, kind) list(measure = measure, name = name, kind = kind)
  all <- c(lapply(staked, function(s)
             labelled(kept_measure(task$game, s), kept_in_words(task, s, length(staked)), "share")),
           lapply(outcomes, function(x) labelled(sprintf("probability(outcome == %s)", x), plain_name(x), "outcome")),
           lapply(numbers, function(x) labelled(sprintf("mean(%s)", x), sprintf("%s, on average", plain_name(x)),
                                                "number")))
  list(measure = vapply(all, `[[`, "", "measure"), labels = lapply(all, `[`, c("name", "kind")))
}

# If some combinations of two settings are not valid, only one is turned.
what_if_sweep <- function(task, turned, measure) {
  fixed <- task$set[setdiff(names(task$set), names(turned))]
  rounds <- few_rounds(task)
  tryCatch(sweep_game(task$game, c(lapply(fixed, list), turned), lapply(task$players, list),
                          if (!is.null(task$mode)) task$mode, measure, best = NULL, rounds = rounds, seed = task$seed,
                          progress = FALSE),
           basanos_error = function(e) {
             if (length(turned) > 1 && is.null(task$what_if)) return(NULL)
             stop(e)
           })
}

influence_of_steps <- function(task) {
  i <- task$influence
  if (NROW(i) == 0) return(NULL)
  section("What the next step of each setting does", stats::setNames(list(
    i$knob, sprintf("%s to %s", i$now, i$to), sprintf("%s points", fixed_text(100 * i$step, 2, sign = TRUE))),
    c("setting", "step", result_in_words(task))))
}

what_if_of <- function(page) {
  for (part in page$parts) if (!is.null(part$what_if)) return(part$what_if)
  NULL
}
