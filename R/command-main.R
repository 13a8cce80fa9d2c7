#' The command line
#'
#' What `exec/basanos` runs. Results go to standard output, messages and progress to standard error.
#'
#' @param args A character vector: the arguments after the command's name.
#' @return The exit code, a whole number: 0 done; 1 the answer is no (an example fails); 2 the input
#'   or the call is wrong; 3 a fault of basanos itself; 130 stopped by Ctrl-C.
#' @export
#' @examples
#' command_main(c("odds", "tide-signs", "--format", "csv"))
command_main <- function(args = commandArgs(trailingOnly = TRUE)) {
  in_utf8(withCallingHandlers(
    tryCatch(run_command(args), basanos_error = function(e) {
      message(conditionMessage(e))
      if ("stopped" %in% e$ids) 130L else 2L
    }, interrupt = function(e) {
      message("Stopped; nothing was written.")
      130L
    }, error = function(e) {
      if (grepl("SIGPIPE", conditionMessage(e))) return(141L)  # who read the output has gone
      message(fault_text(e))
      3L
    }),
    warning = function(w) {
      message(fault_text(w))
      invokeRestart("muffleWarning")
    }))
}

# What was not foreseen, in one line: what it is, and how to report it.
fault_text <- function(condition) {
  said <- gsub("\\s+", " ", conditionMessage(condition))
  sprintf(paste0("This is a fault of basanos (version %s), not of your rules or call: %s. Please report ",
                 "it, with the command and the rules file. [fault]"),
          utils::packageVersion("basanos"), sub("[.]$", "", said))
}

# Names may have letters beyond ASCII, whatever the locale: R's parser and its output need one that knows them.
in_utf8 <- function(work) {
  if (isTRUE(l10n_info()[["UTF-8"]])) return(work)
  before <- Sys.getlocale("LC_CTYPE")
  on.exit(suppressWarnings(Sys.setlocale("LC_CTYPE", before)))
  for (locale in c("C.UTF-8", "en_US.UTF-8")) if (nzchar(suppressWarnings(Sys.setlocale("LC_CTYPE", locale)))) break
  work
}

commands <- function() {
  list(
    new = list(run = command_new, does = "a commented starter file for a family of games"),
    odds = list(run = command_odds, does = "the odds of a game, counted exactly or sampled"),
    compare = list(run = command_compare,
                   does = "two games, or one in two ways, on the same luck; do they play identically?"),
    players = list(run = command_players,
                   does = "every way of playing against every other: who is better, and is that sure?"),
    fairness = list(run = command_fairness,
                    does = "the first seat's advantage, and what evens it; fair games are proved so"),
    modes = list(run = command_modes,
                 does = "how often a player succeeds in each mode, what is wrong with the modes; new ones by level"),
    list = list(run = command_list,
                does = "each secret word, code or number: how often it is found, the hardest first, with its twins"),
    answers = list(run = command_answers,
                   does = "what a player does in which situation; where two players part, and what that costs"),
    sweep = list(run = command_sweep,
                 does = "measures over a grid of settings, modes and players; which point is best"),
    balance = list(run = command_balance,
                   does = "what must a win pay, where must a setting stand, for the game to be as it is wanted?"),
    report = list(run = command_report, does = "all of it on one page, with what happens when settings are turned"),
    streaks = list(run = command_streaks, does = "how long the longest run of each outcome gets in n rounds"),
    bankroll = list(run = command_bankroll, does = "what becomes of a visitor's wallet over an evening"),
    takings = list(run = command_takings,
                   does = "what an evening of visits leaves in the till; luck, or a crooked wheel?"),
    check = list(run = command_check, does = "a rules file: all its problems, and its worked examples"),
    try = list(run = command_try,
               does = "the value of one expression or function of a game; the table of a set of signs"),
    outline = list(run = command_outline, does = "the game in plain words, as a rule card"),
    trace = list(run = command_trace, does = "one round step by step, by its number or where something holds"),
    play = list(run = command_play, does = "play a game at the keyboard, against computer players or one another"),
    played = list(run = command_played, does = "the rounds that people have played, summed up beside the odds"),
    demo = list(run = command_demo, does = "the whole story on the fair's games, with a figure"))
}

run_command <- function(args) {
  if (length(args) == 0 || args[[1]] %in% c("--help", "-h", "help")) {
    writeLines(command_overview())
    return(0L)
  }
  if (args[[1]] == "--version") {
    writeLines(paste("basanos", utils::packageVersion("basanos")))
    return(0L)
  }
  known <- commands()
  command <- known[[args[[1]]]]
  if (is.null(command)) {
    near <- did_you_mean(args[[1]], names(known))
    abort_input("command_unknown", sprintf("There is no command `%s`.", args[[1]]),
                if (is.null(near)) paste("the commands are", some_of_names(names(known))) else near)
  }
  command$run(args[-1])
}

command_overview <- function() {
  known <- commands()
  c("basanos: odds, length and fairness of casual games from their rules", "",
    "  basanos COMMAND GAME [options]", "",
    sprintf("  %s %s", format(names(known)), vapply(known, `[[`, "", "does")), "",
    "GAME is the path of a rules file, or one of the fair's games:",
    paste0("  ", paste(fair_games(), collapse = ", ")), "",
    "`basanos COMMAND --help` lists the options of a command.")
}
