# A script for bash: commands, then games, files and the options of the command.
completion_script <- function() {
  known <- setdiff(names(commands()), "completion")
  flags <- lapply(commands()[known], function(row)
    c(paste0("--", vapply(row$options, `[[`, "", "flag")), "--help", "--quiet", "--verbose", "--seconds"))
  c("# Completion of basanos for bash: source <(basanos completion)",
    "_basanos() {",
    "  local word=\"${COMP_WORDS[COMP_CWORD]}\" command=\"${COMP_WORDS[1]}\" options=\"\"",
    "  if [ \"$COMP_CWORD\" -eq 1 ]; then",
    sprintf("    COMPREPLY=($(compgen -W \"%s\" -- \"$word\"))", paste(names(commands()), collapse = " ")),
    "    return", "  fi",
    "  case \"$command\" in",
    sprintf("    %s) options=\"%s\" ;;", known, vapply(flags, paste, "", collapse = " ")),
    "  esac",
    "  if [[ \"$word\" == -* ]]; then COMPREPLY=($(compgen -W \"$options\" -- \"$word\"))",
    sprintf("  else COMPREPLY=($(compgen -W \"%s\" -- \"$word\") $(compgen -f -- \"$word\"))",
            paste(fair_games(), collapse = " ")),
    "  fi", "}", "complete -F _basanos basanos exec/basanos")
}
