# Knobs: what balance may turn, and over which values. A knob is a setting, a mode, or a number in the rules.

# "aim in 20..26 by 2", "pay(bright) in 1, 2, 3", "mode in easy, hard" as list(name, kind, values, today, site);
# `kind`: setting, mode, number (of the rules), letters (of a list of words) or list (the file of such a list).
read_knob <- function(game, text, mode = NULL) {
  parts <- regmatches(text, regexec("^\\s*(.+?)\\s+in\\s+(.+?)\\s*$", text, perl = TRUE))[[1]]
  if (length(parts) == 0) knob_wrong(text, "a knob has a name and its values.")
  named <- knob_named(game, parts[[2]], text, mode)
  values <- knob_values(named, parts[[3]], text)
  if (anyDuplicated(values) || length(values) < 2) knob_wrong(text, "a knob has two different values or more.")
  if (named$kind == "mode" && !is.null(mode)) named$today <- mode
  today <- named$today
  if (!is.null(today) && !any(values == today))
    abort_input("knob_off_grid", sprintf("`%s`: today's value %s is not among these.", text, value_shown(today)),
                "take a range and a step that meet it, so that nothing need change")
  c(named, list(values = values, text = text))
}

knob_wrong <- function(text, message, hint = "write \"aim in 20..26 by 2\" or \"mode in easy, hard\"") {
  abort_input("knob_wrong", sprintf("`%s`: %s", text, message), hint)
}

# list(name, kind, today, site)
knob_named <- function(game, name, text, mode) {
  if (name == "mode" && length(game$modes) > 0) return(list(name = "mode", kind = "mode"))
  file <- file_of_words(game, name)
  if (!is.null(file)) return(list(name = file$name, kind = "list", today = file$value, site = file))
  setting <- game$settings[[name]]
  if (!is.null(setting)) {
    today <- resolve_settings(game, mode = mode)[[name]]
    return(list(name = name, kind = "setting", yesno = setting$type$kind == "yesno",
                today = if (setting$type$kind == "yesno") c("no", "yes")[today + 1] else today))
  }
  sites <- numbers_named_so(game, name)
  if (length(sites) > 1)
    knob_wrong(text, sprintf("`%s` may be %s.", name, some_of_names(vapply(sites, `[[`, "", "name"))),
               "write one of these in full")
  if (length(sites) == 0) knob_unknown(game, name)
  site <- sites[[1]]
  list(name = site$name, kind = if (site$kind == "letters") "letters" else "number", today = site$value, site = site)
}

# words(secrets): the file that the list `secrets` is read from, list(name, value, at); NULL of anything else.
file_of_words <- function(game, name) {
  list <- regmatches(name, regexec("^words\\(\\s*([^)]+?)\\s*\\)$", name, perl = TRUE))[[1]]
  if (length(list) == 0) return(NULL)
  is_list <- function(node) declared_name(node) == list[[2]] && is_call(node, "<-") && is_call(node$args[[2]], "words")
  for (node in Filter(is_list, game$nodes))
    for (a in node$args[[2]]$args) if (a$kind == "text" && endsWith(a$value, ".txt"))
      return(list(name = sprintf("words(%s)", list[[2]]), value = a$value, at = a$at))
}

knob_unknown <- function(game, name) {
  known <- c(names(game$settings), if (length(game$modes) > 0) "mode",
             vapply(numbers_in_rules(game$nodes), `[[`, "", "name"))
  near <- did_you_mean(name, c(known, sub("\\([^,]*, ", "(", known)))
  abort_input("knob_unknown", sprintf("There is no knob `%s` in these rules.", name),
              if (!is.null(near)) near else if (length(known) == 0) "write a number as a setting: prize <- setting(2)"
              else paste("there is", some_of_names(known, 20)))
}

knob_values <- function(named, text, whole) {
  number <- "(-?[0-9.]+(?:[eE][0-9]+)?)"
  range <- regmatches(text, regexec(sprintf("^%s\\s*\\.\\.\\s*%s(?:\\s+by\\s+%s)?$",
                                            "(-?[0-9]+(?:\\.[0-9]+)?(?:[eE][0-9]+)?)",
                                            number, number), text, perl = TRUE))[[1]]
  listed <- trimws(strsplit(text, ",", fixed = TRUE)[[1]])
  if (named$kind %in% c("mode", "list") || isTRUE(named$yesno)) {
    if (length(range) > 0) knob_wrong(whole, "its values are names.", "write them with commas between: in yes, no")
    return(gsub("^[\"']|[\"']$", "", listed))
  }
  if (length(range) > 0) return(stepped_values(as.numeric(range[2:3]), range[[4]], whole))
  values <- suppressWarnings(as.numeric(listed))
  if (anyNA(values)) knob_wrong(whole, sprintf("`%s` is no number and no range.", text))
  values
}

stepped_values <- function(ends, step, whole) {
  step <- if (nzchar(step)) as.numeric(step) else 1
  if (anyNA(ends) || is.na(step)) knob_wrong(whole, "these are no numbers.")
  if (step <= 0) knob_wrong(whole, "the step must be above zero.", "write by 1, or by 0.5 for halves")
  if (ends[[1]] > ends[[2]]) knob_wrong(whole, "the low end is above the high one.", "write the lower end first")
  if ((ends[[2]] - ends[[1]]) / step >= most_points) knob_wrong(whole, "these are too many values.",
                                                                "take a wider step")
  signif(seq(ends[[1]], ends[[2]] + step * 1e-9, by = step), 12)
}

value_shown <- function(value) if (is.numeric(value)) plain_number(value) else as.character(value)

# The game in which every number that is turned is a setting under the name of its knob.
with_knobs <- function(game, knobs) {
  with_numbers(game, Filter(function(k) k$kind == "number", knobs))
}

# The game with words of that many letters, or with those of that file.
with_words_of <- function(game, knob, value) {
  at <- knob$site$at
  node <- if (knob$kind == "list") list(kind = "text", value = value, at = at) else number_node_of(value, at)
  game_of_nodes(game, node_replaced(game$nodes, at, node))
}
