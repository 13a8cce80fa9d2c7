#' Check a game: its rules and its worked examples
#'
#' Reads the rules, reports all the problems at once, plays every worked example, tries every claim, and looks
#' over the rounds for what is worth knowing: outcomes never reached, conditions that only their order tells
#' apart, rounds in which somebody has no legal answer, settings never read, near-copies.
#'
#' @inheritParams game
#' @param findings Look over the rounds as well? Takes up to a few seconds for a large game. Every player is tried in
#'   every seat that it can play.
#' @param set,players,mode The settings and players that are looked at, as in [odds()].
#' @return An object of class `basanos_check`: `ok` (logical), `problems` (a data frame with one row a
#'   problem: `id`, `line`, `column`, `last_line`, `last_column`, `message`, `hint`) and
#'   `examples` (a data frame with one row an example: `text`, `file`, `line`, `passed`, `got`), `claims` (one row a
#'   claim: `text`, `file`, `line`, `passed`, `how`) and `findings` (what the tool found out besides: `id`, `file`,
#'   `line`, `message`, and what to do, `mend`) and, of a variant, `variant`: `base` and `changes` (a data frame with
#'   `what` and `change`).
#'   Files and lines are those where it is written: of a variant perhaps the file it is based on.
#' @section Errors: Only where there is nothing to check: `file_missing`.
#' @export
#' @examples
#' check_game("lantern-tiles")
check_game <- function(rules, players_file = NULL, findings = TRUE, set = list(), players = list(), mode = NULL) {
  asked <- asked_here("check_game")
  look <- if (findings) function(game) find_findings(game, set, players, mode)
  read <- if (is_game(rules)) rules else tryCatch(game(find_rules(rules), players_file), basanos_error = identity)
  refused <- if (is_game(read)) unanswered_decisions(read) else read$diagnostics
  name <- if (is_game(read)) read$source$name else basename(find_rules(rules))
  with_call(if (length(refused) > 0) new_check(read$source, NULL, refused, name)
            else new_check(read$source, game_with(read, set), look = look), asked)
}

new_check <- function(source, rules, diagnostics = list(), name = source$name, look = NULL) {
  examples <- if (is.null(rules)) list() else run_examples(rules)
  claims <- if (is.null(rules)) list() else run_claims(rules)
  structure(list(
    name = name, title = rules$title, source = source,
    ok = length(diagnostics) == 0 && all(vapply(c(examples, claims), function(e) !isFALSE(e$passed), NA)),
    problems = diagnostics_table(diagnostics),
    examples = data.frame(
      text = vapply(examples, `[[`, "", "text"), file = files_of(examples, source), line = lines_of(examples, source),
      passed = vapply(examples, `[[`, NA, "passed"),
      got = vapply(examples, function(e) paste(e$lines, collapse = "; "), "")),
    claims = data.frame(text = vapply(claims, `[[`, "", "text"), file = files_of(claims, source),
                        line = lines_of(claims, source), passed = vapply(claims, `[[`, NA, "passed"),
                        how = vapply(claims, `[[`, "", "how")),
    findings = if (!is.null(rules) && !is.null(look)) look(rules)
      else data.frame(id = character(), file = character(), line = integer(), message = character(),
                      mend = character()),
    variant = rules$variant, broken = lapply(claims, `[[`, "trace"), diagnostics = diagnostics),
    class = result_class("check"))
}

#' @export
sections.basanos_check <- function(x, all = FALSE, ...) {
  if (nrow(x$problems) > 0) {
    count <- sprintf("%s: %d problem%s", x$name, nrow(x$problems), if (nrow(x$problems) == 1) "" else "s")
    return(all_sections(lapply(x$diagnostics, function(p) section(lines = format_diagnostic(p, x$source))),
                        section(notes = count)))
  }
  heading <- paste0(x$name, if (!is.null(x$title)) paste0(": ", x$title))
  n <- nrow(x$examples)
  mark <- ifelse(x$examples$passed, "holds", "FAILS")
  lines <- sprintf("  %s  %s%s", mark, x$examples$text,
                   ifelse(x$examples$passed, "",
                          sprintf(" (%s)\n         %s", place_text(x$examples, x$source),
                                  gsub("; ", "\n         ", x$examples$got))))
  summary <- if (n == 0) "The rules are in order. There are no worked examples: add one with example(...)."
    else if (all(x$examples$passed))
      sprintf("The rules are in order, and %s%s.",
              if (n == 1) "its example holds" else sprintf("all %d examples hold", n),
              if (x$ok) "" else "; but a claim does not")
    else sprintf("The rules are in order, but %d of %d examples fail.", sum(!x$examples$passed), n)
  all_sections(section(heading, lines = c(variant_line(x$variant), lines, claim_lines(x), summary,
                                          finding_lines(x, all))))
}

variant_line <- function(variant) {
  if (is.null(variant)) return(NULL)
  changes <- split(variant$changes$what, factor(variant$changes$change, unique(variant$changes$change)))
  c(sprintf("  A variant of %s%s.", variant$base,
          paste(sprintf("; %s: %s", names(changes), vapply(changes, paste, "", collapse = ", ")), collapse = "")))
}

# Each claim, and of a broken one the shortest round that breaks it.
claim_lines <- function(x) {
  unlist(lapply(seq_len(nrow(x$claims)), function(k) {
    claim <- x$claims[k, ]
    result <- if (is.na(claim$passed)) "OPEN " else if (claim$passed) "holds" else "FALSE"
    how <- if (isFALSE(claim$passed))
      sprintf("%s; a round that breaks it follows", place_text(claim, x$source)) else claim$how
    c(sprintf("  %s  %s (%s)", result, claim$text, how),
      if (!is.null(x$broken[[k]])) paste0("       ", format(x$broken[[k]])))
  }))
}

# "line 7", or of another file than the one that is checked "base.game, line 7".
place_text <- function(table, source) {
  paste0(ifelse(table$file %in% source$name, "", paste0(table$file, ", ")), "line ", table$line)
}

most_findings_shown <- 3L
longest_finding <- 400L

# A round that gets somewhere may be very long.
cut_text <- function(messages) {
  ifelse(nchar(messages) <= longest_finding, messages,
         paste0(substr(messages, 1, longest_finding), " ... (whole with --format json)"))
}

# The most important findings, each with what to do.
finding_lines <- function(x, all = FALSE) {
  f <- x$findings
  shown <- if (all) seq_len(nrow(f)) else utils::head(which(!f$id %in% usual_findings), most_findings_shown)
  more <- nrow(f) - length(shown)
  if (length(shown) == 0)
    return(if (more > 0) c("", sprintf("(%s: --all)", count_text(more, "note"))))
  place <- ifelse(is.na(f$line), "", sprintf("%s: ", place_text(f, x$source)))
  lines <- unlist(lapply(shown, function(k)
    c(paste0("  ", place[[k]], cut_text(f$message[[k]])), if (nzchar(f$mend[[k]])) paste("    hint:", f$mend[[k]]))))
  c("", "Worth knowing:", lines, if (more > 0) sprintf("  and %d more: --all", more))
}

#' @export
json_fields.basanos_check <- function(x) {
  table <- function(x) if (nrow(x) == 0) list() else x
  list(game = sub("\\.game$", "", x$name), ok = x$ok, problems = table(x$problems),
       examples = table(x$examples), claims = table(x$claims), findings = table(x$findings))
}

#' @export
as.data.frame.basanos_check <- function(x, ...) {
  x$game <- sub("[.]game$", "", x$name)
  part <- function(kind, table, name, text, ok)
    result_rows(x, kind, table[[name]], rep(NA_real_, nrow(table)), line = table$line, text = table[[text]], ok = ok,
                engine = NULL)
  bind_result_rows(
    part("problem", x$problems, "id", "message", FALSE), part("example", x$examples, "text", "got", x$examples$passed),
    part("claim", x$claims, "text", "how", x$claims$passed), part("finding", x$findings, "id", "message", NA))
}
