# The `--help` of a command: usage, options by groups, and examples that work.

# The groups of options that many commands have; what is in none of them is the command's own.
option_groups <- list(
  "The game" = c("players-file", "mode", "set", "player"),
  "Method" = c("engine", "rounds", "seed", "threads", "workers", "max-states", "max-seconds",
                             "checkpoint"),
  "Output" = c("format", "out", "figure", "width", "height", "scale"))

option_group <- function(flag) {
  for (name in names(option_groups)) if (flag %in% option_groups[[name]]) return(name)
  "The question"
}

command_help <- function(row, width = terminal_width(100)) {
  command <- row$name
  options <- row$options
  usage <- paste(c("basanos", command, if (row$takes_game) "GAME", row$arguments, sprintf("[%s]", row$optional),
                   if (row$more_games) "[GAME ...]",
                   "[options]"), collapse = " ")
  of <- vapply(vapply(options, `[[`, "", "flag"), option_group, "")
  groups <- lapply(intersect(c("The question", names(option_groups)), of), function(group)
    c("", paste0(group, ":"), option_lines(options[of == group], width)))
  c(strwrap(sprintf("basanos %s: %s", command, row$does), width, exdent = 2), "", paste0("  ", usage), unlist(groups),
    if (any(vapply(options, function(o) o$metavar == "MEASURE", NA))) measure_help(command, width),
    if (length(row$examples) > 0) c("", "Examples:", paste0("  basanos ", command, " ", row$examples)), "",
    "`basanos --help` says what all commands have in common.")
}

# The measures, where they are asked for first; elsewhere where to find them.
measure_help <- function(command, width) {
  if (command != "odds") return(c("", "Measures: `basanos odds --help` lists them."))
  c("", "Measures:", unlist(lapply(measure_words, function(m) {
    lines <- strwrap(sprintf("%s [%s]", m$says, m$unit), max(30, width - 34))
    paste0("  ", c(formatC(m$example, width = -32), rep(strrep(" ", 32), length(lines) - 1)), lines)
  }), use.names = FALSE))
}

# "--seed S    seed of the sampled rounds [1]", wrapped under itself.
option_lines <- function(options, width) {
  said <- vapply(options, function(o) paste0("--", o$flag, if (!o$is_flag) paste0(" ", o$metavar)), "")
  column <- min(24L, max(nchar(said))) + 4L
  unlist(Map(function(flag, help) {
    lines <- strwrap(help, max(30, width - column))
    head <- formatC(paste0("  ", flag), width = -column)
    if (nchar(flag) + 4L > column) c(paste0("  ", flag), paste0(strrep(" ", column), lines))
    else paste0(c(head, rep(strrep(" ", column), length(lines) - 1)), lines)
  }, said, vapply(options, `[[`, "", "help")))
}

command_overview <- function(known) {
  width <- terminal_width(100)
  names <- format(names(known))
  does <- unlist(Map(function(name, row) {
    lines <- strwrap(row$does, width - nchar(name) - 4)
    paste0("  ", c(name, rep(strrep(" ", nchar(name)), length(lines) - 1)), "  ", lines)
  }, names, known))
  c("basanos: odds, length and fairness of casual games from their rules", "",
    "  basanos COMMAND GAME [options]", "", does, "",
    "GAME is the path of a rules file, or one of the fair's games:",
    strwrap(paste(fair_games(), collapse = ", "), width, indent = 2, exdent = 2), "",
    "Options that all commands have:",
    "  --help       what a command does, its options, and examples",
    "  --quiet      no messages and no progress; errors are still shown",
    "  --seconds S  give up after S seconds",
    "  --verbose    how long it took, with which version, and what made a count smaller, on standard error",
    "Results go to standard output (--format text, markdown, html, json or csv; --out FILE), all else to",
    "standard error.",
    "Colours are for terminals only, and never where NO_COLOR is set.",
    "Exit codes: 0 done; 1 the answer is no; 2 the rules or the call are wrong; 3 a fault of basanos; 130 stopped.")
}

# A script for bash: commands, then games, files and the options of the command.
completion_script <- function(rows) {
  known <- setdiff(names(rows), "completion")
  flags <- lapply(rows[known], function(row)
    c(paste0("--", vapply(row$options, `[[`, "", "flag")), "--help", "--quiet", "--verbose", "--seconds"))
  c("# Completion of basanos for bash: source <(basanos completion)",
    "_basanos() {",
    "  local word=\"${COMP_WORDS[COMP_CWORD]}\" command=\"${COMP_WORDS[1]}\" options=\"\"",
    "  if [ \"$COMP_CWORD\" -eq 1 ]; then",
    sprintf("    COMPREPLY=($(compgen -W \"%s\" -- \"$word\"))", paste(names(rows), collapse = " ")),
    "    return", "  fi",
    "  case \"$command\" in",
    sprintf("    %s) options=\"%s\" ;;", known, vapply(flags, paste, "", collapse = " ")),
    "  esac",
    "  if [[ \"$word\" == -* ]]; then COMPREPLY=($(compgen -W \"$options\" -- \"$word\"))",
    sprintf("  else COMPREPLY=($(compgen -W \"%s\" -- \"$word\") $(compgen -f -- \"$word\"))",
            paste(fair_games(), collapse = " ")),
    "  fi", "}", "complete -F _basanos basanos exec/basanos")
}
