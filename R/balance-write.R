# An answer as a rules file: the text as it is, comments and all, with the numbers that change put in their places.
# Parts of the base game that change are written again in the variant.

# The file is only put there when its odds are those of the answer: list(path, answer, changes, examples), the latter
# those that no longer hold.
write_balanced <- function(result, task, path, number) {
  answer <- result$answers[[number]]
  edits <- edits_of_answer(answer, task)
  text <- edited_text(task$as_read, edits)
  written <- new_game(check_rules(source_of_text(paste(text, collapse = "\n"), basename(path), dirname(path))))
  plain <- with_questions(with_parts(task, inner = list(), game = written), written)
  result <- result_of_point(list(set = task$set, mode = if (any_mode(task)) NULL else task$mode, words = list()), plain,
                        seed = task$seed + 1)
  value <- wanted_values(matrix(result$values, nrow = 1), task$targets)[1, ]
  if (!isTRUE(all.equal(value, answer$targets$value, tolerance = 1e-9)))
    abort_input("engines_disagree", "The odds of the changed rules are not those of the answer: nothing was written.",
                "please report this, with the rules file")
  write_new_file(charToRaw(paste0(paste(enc2utf8(text), collapse = "\n"), "\n")), path)
  failing <- Filter(function(r) !r$passed && !r$text %in% failing_before(task$as_read), run_examples(written))
  list(path = path, answer = number, changes = vapply(edits, `[[`, "", "says"),
       examples = vapply(failing, function(r) sprintf("%s: %s", r$text, paste(r$lines, collapse = "; ")), ""))
}

failing_before <- function(game) {
  results <- run_examples(game)
  vapply(Filter(function(r) !r$passed, results), `[[`, "", "text")
}

any_mode <- function(task) any(vapply(c(task$outer, task$inner), function(k) k$kind == "mode", NA))

# list(at, text, says) for each number that changes.
edits_of_answer <- function(answer, task) {
  game <- task$as_read
  edits <- unlist(lapply(c(task$outer, task$inner), function(knob) {
    value <- answer$knobs[[knob$name]]
    if (identical(value, knob$today)) return(NULL)
    if (knob$kind == "mode") return(edits_of_mode(game, value))
    at <- if (knob$kind == "setting") start_of_setting(game$nodes, knob$name) else knob$site$at
    list(list(at = at, text = if (knob$kind == "list") sprintf("\"%s\"", value) else value_shown(value),
              says = sprintf("%s: %s is now %s", knob$name, value_shown(knob$today), value_shown(value))))
  }), recursive = FALSE)
  for (edit in edits) if (is.null(edit$at))
    abort_input("write_place", sprintf("It cannot be seen where this is written: %s.", edit$says),
                "change it by hand; nothing was written")
  edits
}

# The settings of the mode as the starts of all.
edits_of_mode <- function(game, mode) {
  settings <- resolve_settings(game, mode = mode)
  today <- resolve_settings(game)
  lapply(Filter(function(name) settings[[name]] != today[[name]], names(settings)), function(name)
    edit_of_value(game, name, settings[[name]], today[[name]]))
}

# A setting, or a number of the rules by its name, gets another value.
edit_of_value <- function(game, name, value, today = value) {
  setting <- game$settings[[name]]
  shown <- function(v) if (!is.null(setting) && is_kind(setting$type, "yesno")) c("no", "yes")[[v + 1]]
    else plain_number(v)
  at <- if (!is.null(setting)) start_of_setting(game$nodes, name) else numbers_named_so(game, name)[[1]]$at
  list(at = at, text = shown(value), says = sprintf("%s: %s is now %s", name, shown(today), shown(value)))
}

# The place of a setting's start value, also of one of an array, such as aim[ann].
start_of_setting <- function(nodes, name) {
  family <- sub("\\[.*", "", name)
  key <- if (grepl("[", name, fixed = TRUE)) gsub("^.*\\[|\\]$", "", name)
  for (node in nodes) if (declared_name(node) == family && is_call(node, "<-") && is_call(node$args[[2]], "setting")) {
    start <- node$args[[2]]$args[[1]]
    if (is.null(key)) return(start$at)
    if (is_call(start, "each") && key %in% start$names) return(start$args[[match(key, start$names)]]$at)
  }
}

# The lines of the file itself with the edits made; declarations of a base that change follow behind.
edited_text <- function(game, edits) {
  source <- game$source
  last_line <- if (is.null(source$parts)) length(source$lines) else source$parts[[2]]$from - 1L
  lines <- source$lines
  order <- order(vapply(edits, function(e) e$at[[1]], 0), vapply(edits, function(e) e$at[[2]], 0), decreasing = TRUE)
  for (edit in edits[order]) {
    line <- lines[[edit$at[[1]]]]
    lines[[edit$at[[1]]]] <- paste0(substr(line, 1, edit$at[[2]] - 1), edit$text,
                                    substr(line, edit$at[[4]] + 1, nchar(line)))
  }
  c(lines[seq_len(last_line)], said_again(game, edits, last_line, lines))
}

said_again <- function(game, edits, last_line, lines) {
  of_base <- Filter(function(e) e$at[[1]] > last_line, edits)
  if (length(of_base) == 0) return(NULL)
  if (any(grepl("^\\s*amend\\s*\\(", game$source$lines[seq_len(last_line)])))
    abort_input("write_place", "These rules amend others, and what changes stands in the others.",
                "say in this file what is to change, as in pays(...), and balance again; nothing was written")
  changed <- Filter(function(node) any(vapply(of_base, function(e)
    e$at[[1]] >= node$at[[1]] && e$at[[1]] <= node$at[[3]], NA)), game$nodes)
  words <- vapply(changed, function(n) n$fn, "")
  again <- Filter(function(node) node$at[[1]] > last_line &&
                    (any(vapply(changed, function(n) identical(n$at, node$at), NA)) ||
                       node$fn == "pays" && "pays" %in% words), game$nodes)
  c("", "# balanced", unlist(lapply(again, function(node) lines[node$at[[1]]:node$at[[3]]])))
}
