# Settings and players as the caller chooses them, checked against the rules.

# Named list of values, one for every setting; `chosen` is a named list or vector.
# `mode` names a bundle of settings of the rules; single ones chosen go before it.
resolve_settings <- function(rules, chosen = list(), mode = NULL) {
  if (!is.null(attr(chosen, "chosen"))) return(chosen)  # they are resolved
  chosen <- settings_of_seats(rules, named_list(chosen, "set", "set = list(aim = 21)"))
  bundle <- mode_settings(rules, mode)
  unknown <- setdiff(names(chosen), names(rules$settings))
  if (length(unknown) > 0) {
    name <- unknown[[1]]
    near <- did_you_mean(name, names(rules$settings))
    abort_input("setting_unknown", sprintf("This game has no setting `%s`.", name),
                if (!is.null(near)) near else if (length(rules$settings) == 0) "it has no settings at all"
                else paste("its settings are", some_of_names(names(rules$settings))))
  }
  settings <- list()
  for (s in rules$settings) {
    start <- if (is.null(bundle[[s$name]])) s$start else bundle[[s$name]]
    settings[[s$name]] <- if (is.null(chosen[[s$name]])) constant_of(start, settings, rules$source)
      else setting_value(s, chosen[[s$name]])
  }
  outside <- Filter(Negate(is.null),
                    lapply(rules$settings, range_diagnostic, settings = settings, source = rules$source))
  if (length(outside) > 0) abort_diagnostics(sort_diagnostics(unname(outside)), rules$source)
  structure(settings, chosen = chosen, players = if (!is.null(mode)) rules$mode_players[[mode]])
}

# The name of the setting that a number of the rules has become: pay(bright) is pay(guest, bright).
name_of_set_number <- function(rules, name) {
  if (!grepl("(", name, fixed = TRUE)) return(name)
  known <- names(rules$settings)
  plain <- function(x) gsub("\\s", "", x)
  same <- known[plain(known) == plain(name)]
  if (length(same) == 0) same <- known[plain(sub("\\([^,]*,", "(", known)) == plain(name)]
  if (length(same) == 1) same else name
}

# A setting of each seat may be chosen by its name alone: one value for all seats, or one for each, as "0.6,0.7".
settings_of_seats <- function(rules, chosen) {
  if (length(chosen) == 0) return(chosen)
  names(chosen) <- vapply(names(chosen), name_of_set_number, "", rules = rules)
  known <- as.character(names(rules$settings))
  of_seats <- lapply(names(chosen), function(name) {
    family <- if (!name %in% known) known[startsWith(known, paste0(name, "["))]
    if (length(family) == 0) return(chosen[name])
    values <- if (is.character(chosen[[name]])) unlist(strsplit(chosen[[name]], ",", fixed = TRUE)) else chosen[[name]]
    if (!length(values) %in% c(1, length(family)))
      abort_input("setting_type", sprintf("The setting `%s` takes one value, or one for each of %s.", name,
                                          enumerated(family)),
                  sprintf("write %s=%s", name, paste(rep("7", length(family)), collapse = ",")))
    stats::setNames(as.list(rep_len(trimmed(values), length(family))), family)
  })
  all <- unlist(of_seats[order(names(chosen) %in% known)], recursive = FALSE)
  all[!duplicated(names(all), fromLast = TRUE)]  # what is chosen for one seat goes before what is chosen for all
}

trimmed <- function(values) if (is.character(values)) trimws(values) else values

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
              if (!is.null(near)) near else if (length(rules$modes) == 0) "it has no modes: choose settings with --set"
              else paste("its modes are", some_of_names(names(rules$modes))))
}

# The value of a setting from what the caller gave: a number, a logical, or a text as typed.
setting_value <- function(setting, given) {
  wrong <- function(wanted, hint = sprintf("write %s=%s", setting$name, if (setting$type$kind == "yesno") "yes"
                                           else "7")) {
    abort_input("setting_type",
                sprintf("The setting `%s` must be %s, not %s.", setting$name, wanted,
                        paste0("\"", format(given), "\"", collapse = ", ")), hint)
  }
  if (is.character(given) && length(given) == 1 && grepl("^-?[0-9.]+[.][.]-?[0-9.]+$", given))
    wrong("a number", sprintf("a range has a colon, and goes with sweep: --set %s=%s", setting$name,
                              sub("..", ":", given, fixed = TRUE)))
  if (is.factor(given)) wrong("a number or text", "a factor is neither: use as.character(), or numbers")
  if (length(given) != 1 || is.na(given)) wrong("one value")
  if (setting$type$kind == "yesno") {
    if (is.logical(given)) return(as.numeric(given))
    if (!given %in% c("yes", "no")) wrong("yes or no")
    return(as.numeric(given == "yes"))
  }
  number <- if (is.character(given)) suppressWarnings(as.numeric(given)) else given
  if (!is.numeric(number) || is.na(number) || !is.finite(number)) wrong("a number")
  if (setting$type$kind == "whole" && number != floor(number))
    wrong("a whole number", sprintf("for fractions let the rules start it with one: %s <- setting(%s.0)", setting$name,
                                    plain_number(floor(number))))
  if (abs(number) >= 2^31) wrong("a number below 2147483648")
  as.numeric(number)
}

# The diagnostic with a setting outside its range, or NULL.
range_diagnostic <- function(s, settings, source) {
  value <- settings[[s$name]]
  ends <- lapply(list(s$from, s$to), function(end) if (!is.null(end)) constant_of(end, settings, source))
  outside <- (!is.null(ends[[1]]) && value < ends[[1]]) || (!is.null(ends[[2]]) && value > ends[[2]])
  if (!outside) return(NULL)
  range <- paste(c(if (!is.null(ends[[1]])) paste("from", format(ends[[1]])),
                   if (!is.null(ends[[2]])) paste("to", format(ends[[2]]))), collapse = " ")
  message <- sprintf("The setting `%s` is %s, outside its range %s.", s$name, format(value), range)
  diagnostic("setting_range", message, sprintf("choose a value %s", range), s$at)
}

# The value of an expression that follows from numbers and settings alone.

# `settings` are the values of those that are known so far.
constant_of <- function(node, settings, source) {
  of <- function(x) constant_of(x, settings, source)
  switch(node$op,
    lit = node$value,
    setting = settings[[node$name]],
    to_fraction = of(node$x),
    choose = if (of(node$cond) != 0) of(node$yes) else of(node$no),
    lookup = values_of_column(node, settings)[[of(node$x) - node$first + 1]],
    lookup2 = {
      n <- sqrt(length(node$values))
      node$values[[(of(node$left) - node$first) * n + of(node$right) - node$first + 1]]
    },
    calc = {
      worked <- calculated(node, lapply(node$args, of))
      if (!is.null(worked$wrong)) abort_diagnostics(list(worked$wrong), source)
      worked$value
    },
    stop("no constant for ", node$op))
}

# The values of a column; those that are settings, as they are set.
values_of_column <- function(node, settings) {
  by_setting <- which(nzchar(node$settings))
  replace(node$values, by_setting, vapply(node$settings[by_setting], function(name) as.numeric(settings[[name]]), 0))
}

# The result of a calculation with these numbers: list(value), or list(wrong) with the diagnostic.
calculated <- function(node, x) {
  a <- x[[1]]
  b <- if (length(x) > 1) x[[2]]
  wrong <- function(id, message)
    list(wrong = diagnostic(id, message, "check the numbers and settings it is worked out from", node$at))
  if (node$fn %in% c("/", "%%", "%/%") && b == 0) return(wrong("division_by_zero", "This divides by zero."))
  result <- as.numeric(switch(node$fn,
    "+" = a + b, "-" = a - b, "*" = a * b, "/" = a / b, "^" = a^b, "%%" = a %% b, "%/%" = a %/% b, neg = -a,
    "==" = a == b, "!=" = a != b, "<" = a < b, "<=" = a <= b, ">" = a > b, ">=" = a >= b,
    "!" = !a, "&&" = a != 0 && b != 0, "||" = a != 0 || b != 0, other = 3 - a,
    min = min(a, b), max = max(a, b), abs = abs(a), round_down = floor(a), round_up = ceiling(a),
    sqrt = suppressWarnings(sqrt(a)), log = suppressWarnings(log(a)), exp = exp(a)))
  if (!is.finite(result)) return(wrong("not_a_number", "This gives no number."))
  if (!is_kind(node$type, "fraction") && abs(result) >= 2^31) {
    return(wrong("number_too_large", "This whole number grows beyond 2147483647."))
  }
  list(value = result)
}
