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
      2L
    }, interrupt = function(e) {
      message(stop_text(e))
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

# A stop in one line: nothing was written, or what was kept, or the result so far was told.
stop_text <- function(stop) {
  said <- if (inherits(stop, "basanos_stopped")) conditionMessage(stop) else "Stopped."
  if (isTRUE(running$told)) paste(said, "The result so far is above; no file was written.")
  else if (is.null(stop$kept)) paste(said, "Nothing was written.") else said
}

# An unforeseen fault, in one line, and how to report it.
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
  command <- function(run, does, ...) list(run = run, does = does, examples = c(...))
  list(
    new = command(command_new, "write a commented starter file: a game to change into your own", "cards",
                  "dice --out my.game"),
    check = command(command_check, "check a rules file: its problems, its worked examples, what is odd about it",
                    "tide-signs",
                    "lantern-tiles --quick --format json"),
    outline = command(command_outline, "the game in plain words, as a rule card", "tide-signs",
                      "bell-cards --format markdown --out card.md"),
    try = command(command_try, "the value of one expression or function of a game",
                  "lantern-tiles \"is_bust(25)\"", "tide-signs sign"),
    trace = command(command_trace, "one round step by step",
                    "lantern-tiles --where bright", "dice-duel --unit 7 --seed 3"),
    play = command(command_play, "play a game at the keyboard, against computer players or one another",
                   "lantern-tiles --seat guest", "tide-words --seat guesser --keep rounds.csv --name ada"),
    played = command(command_played, "the rounds that people have played, beside the odds",
                     "rounds.csv", "rounds.csv --format csv"),
    odds = command(command_odds, "the odds of a game, counted exactly or sampled", "lantern-tiles --set aim=21",
                   "lantern-tiles --at \"guest_total = 16\" --figure answers.png"),
    streaks = command(command_streaks, "the longest run of each outcome in n rounds", "tide-signs",
                      "tide-signs --in 50 --length 4"),
    compare = command(command_compare,
                      "compare two games, or one in two ways, on the same luck; prove that they play alike",
                      "lantern-tiles lantern-tiles --set-new keeper_stands=17 --measure \"edge(guest)\"",
                      "tide-signs tide-signs --same"),
    sweep = command(command_sweep, "measures over a grid of settings, modes and players",
                    "lantern-tiles --set keeper_stands=15:21 --of \"edge(guest)\"",
                    "lantern-tiles --set aim=22:24 --set keeper_stands=17:19 --of \"edge(guest)\" --figure edge.png"),
    balance = command(command_balance,
                      "find the pays and settings that meet your targets",
                      "lantern-tiles --want \"edge(guest) in 0..10%\" --knob \"aim in 22..26\"",
                      "bell-cards --want \"edge(guest) at most 5%\" --knob \"qualifies_at in 6..8\" --rounds 2000"),
    players = command(command_players, "rank the players of a game, each against each other",
                      "tide-signs", "lantern-tiles --compare careful,bold --figure players.png"),
    answers = command(command_answers,
                      "what a player does in each situation; where two players differ, and what that costs",
                      "lantern-tiles", "lantern-tiles --player guest=bold --against careful --rounds 200"),
    fairness = command(command_fairness, "the advantage of the first seat, and what evens it",
                       "dice-duel", "last-pebble"),
    modes = command(command_modes,
                    "how often a player succeeds in each mode; modes for the levels that you want",
                    "deep-well", "deep-well --level 80%,50% --knob \"tries in 3..12\""),
    list = command(command_list,
                   "how often each secret word, code or number is found, the hardest first",
                   "deep-well --rounds 2000", "tide-words --rounds 500 --format csv --out words.csv"),
    bankroll = command(command_bankroll, "the visitor's evening: the wallet, round by round",
                       "lantern-tiles --wallet 20 --goal 40",
                       "lantern-tiles --stake \"flat=1; doubling=if (last_net < 0) 2 * last_stake else 1\""),
    takings = command(command_takings, "the stall's evening: takings, losses, the float; is the till plausible?",
                      "lantern-tiles --visits 12 --hours 4", "lantern-tiles --till -40 --rounds 300"),
    report = command(command_report, "all of it on one page, with sliders for the settings",
                     "dice-duel", "dice-duel tide-signs --parts ends,check --out fair.html"),
    demo = command(command_demo, "the whole story on the fair's games, with a figure and a page", "--story",
                   "--rounds 1e5"),
    completion = command(command_completion, "a script that completes commands, games and options in bash"),
    sitrep = command(command_sitrep, "this machine and installation, for the report of a fault"))
}

# Every command takes a limit of seconds. Where seconds are those of a round, it has another name.
time_limit_flag <- function(command) if (command %in% c("bankroll", "takings")) "--time-limit" else "--seconds"

# The limit, and the arguments without it.
seconds_given <- function(args, flag) {
  at <- match(flag, sub("=.*", "", args))
  if (is.na(at)) return(list(args = args, seconds = NULL))
  joined <- grepl("=", args[[at]], fixed = TRUE)
  text <- if (joined) sub("^[^=]*=", "", args[[at]]) else if (at < length(args)) args[[at + 1L]] else ""
  seconds <- suppressWarnings(as.numeric(text))
  if (is.na(seconds) || seconds <= 0)
    abort_input("flag_wrong", sprintf("`%s` takes a number of seconds.", flag), sprintf("write %s 60", flag))
  list(args = args[-(at + if (joined) 0L else 0:1)], seconds = seconds)
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
  rest <- args[-1]
  before <- options(basanos.verbosity = if ("--quiet" %in% rest) "quiet" else if ("--verbose" %in% rest) "verbose"
    else verbosity())
  on.exit(options(before))
  started <- proc.time()[["elapsed"]]
  given <- seconds_given(rest[!rest %in% c("--quiet", "--verbose")], time_limit_flag(args[[1]]))
  status <- if (args[[1]] == "play") command$run(given$args)
    else with_heartbeat(paste("basanos", args[[1]]), given$seconds, function() command$run(given$args))
  if (verbosity() == "verbose")
    message(sprintf("basanos %s: %.1f s", utils::packageVersion("basanos"), proc.time()[["elapsed"]] - started))
  status
}
