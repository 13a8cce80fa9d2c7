# The commands, one row each. Help, completion and the reading of options come from here.

# does       one line for the list of commands
# call       the function: it takes the game and what follows it, then the options by name
# options    rows of option()
# figure     what the figure shows, where the result has one
# result     the name under which a stopped call has the result so far
# status     the exit code of a result
# more       arguments that follow from the options
# run        a function of list(game, rest, values), for a command that is more than one call with one result
command_row <- function(does, call = NULL, options = list(), figure = NULL, result = NULL, examples = character(),
                    status = function(result) 0L, run = NULL, takes_game = TRUE, arguments = character(),
                    optional = character(), more_games = FALSE, missing = NULL, shows_figure = put_figure,
                    more = function(values) list())
  list(does = does, call = call, options = c(options, if (!is.null(figure)) figure_options(figure)), result = result,
       examples = examples, status = status, run = run, takes_game = takes_game, arguments = arguments,
       optional = optional, more_games = more_games, missing = missing, shows_figure = shows_figure,
       more = more)

commands <- function() {
  rows <- c(commands_on_rules(), commands_on_odds(), commands_on_play(), commands_on_evenings(), commands_around())
  Map(function(row, name) c(row, name = name), rows, names(rows))
}

commands_on_rules <- function() list(
  new = command_row("write a commented starter file: a game to change into your own", run = run_new, takes_game = FALSE,
    arguments = "FAMILY", missing = function() paste(c("the families are", families_told()), collapse = "\n    "),
    options = list(option("out", "the file to write [my-FAMILY.game]", "FILE", part = "own")),
    examples = c("cards", "dice --out my.game")),
  check = command_row("check a rules file: its problems, its worked examples, what is odd about it", run = run_check,
    options = c(game_options(), shared("format"), list(
      flag_option("quick", "check the rules and examples only, without findings", part = "own"),
      flag_option("watch", "check again each time the file is saved, until Ctrl-C", part = "own"),
      flag_option("card", "also names without words for the rule card", part = "own"),
      flag_option("all", "all findings, not only the three that matter most", part = "show"))),
    examples = c("tide-signs", "lantern-tiles --quick --format json")),
  outline = command_row("the game in plain words, as a rule card", run = run_outline,
    options = c(list(option("format", "text or markdown [text]", "FORMAT"),
                     flag_option("all", "the state, records, settings and players as well")), shared("out")),
    examples = c("tide-signs", "bell-cards --format markdown --out card.md")),
  try = command_row("the value of one expression or function of a game", run = run_try, arguments = "EXPRESSION",
    options = shared("players_file", "set"), examples = c("lantern-tiles \"is_bust(25)\"", "tide-signs sign")))

commands_on_odds <- function() list(
  odds = command_row("the odds of a game, counted exactly or sampled; or of several", odds_of_options, result = "odds",
    more_games = TRUE,
    options = odds_options(), shows_figure = figure_of_odds, figure = paste(
      "the outcomes; with --precision how the estimate settles, with --distributions every record by value, with",
      "--each the return of every answer, with --at what each answer leads to"),
    examples = c("lantern-tiles --set aim=21", "lantern-tiles --at \"guest_total = 16\" --figure answers.png")),
  streaks = command_row("the longest run of each outcome in n rounds", streaks_of_game,
    options = c(game_options(), list(
      number_option("in", "in how many rounds [100]", argument = "in_rounds"),
      number_option("length", "how likely is a run of this length or longer?", "K")), shared("engine", "format",
                                                                                             "out")),
    figure = "the longest runs",
    examples = c("tide-signs", "tide-signs --in 50 --length 4")),
  compare = command_row("compare two games, or one in two ways, on the same luck; prove that they play alike",
    compare_or_prove, result = "comparison", arguments = "NEW",
    missing = function() "name two games, or the same one twice with --set-new or --player-new",
    options = c(game_options(), list(
      option("set-new", "a setting of the second game only, as name=value; may be given several times", "NAME=VALUE",
             "pairs"),
      option("player-new", "who plays a seat of the second game, as seat=name; may be given several times",
             "SEAT=NAME", "pairs", "players_new"),
      flag_option("same", "do they play identically? Proves it, or shows the first unit where they differ"),
      option("engine", "auto or sample [auto]", "ENGINE"),
      number_option("rounds", "rounds to sample on the same luck [1e5]")), shared("seed"), list(
      measure_option("a measure to compare as well, as \"edge(guest)\"; may be given several times", several = TRUE)),
      shared("format", "out")),
    figure = "the differences",
    status = function(result) if (isFALSE(result$same)) 1L else 0L,
    examples = c("lantern-tiles lantern-tiles --set-new keeper_stands=17 --measure \"edge(guest)\"",
                 "tide-signs tide-signs --same")),
  sweep = command_row("measures over a grid of settings, modes and players", sweep_game, result = "sweep",
    options = c(shared("players_file"), list(
      option("mode", "modes of the game, with commas between", "MODES", "names"),
      option("set", "a setting with its values, as aim=20:26, aim=15:25:5 or aim=21,23; may be given several times",
             "NAME=VALUES", "pairs", each = swept_values),
      option("player", "a seat with its players, as guest=careful,bold; may be given several times", "SEAT=NAMES",
             "pairs", "players", each = swept_players),
      measure_option("a measure, as \"edge(guest)\"; may be given several times", several = TRUE),
      option("best", "highest, lowest, a number to come near to, or none [highest]", "WHICH",
             function(text) if (text != "none") number_or_text(text),
             write = function(value) if (is.null(value)) "none" else plain_number(value))), shared("engine"), list(
      number_option("rounds", "rounds to sample at a point [1e5]")), shared("seed", "threads", "workers"), list(
      option("checkpoint", "save finished points to this file, and go on from it", "FILE")),
      shared("format", "out")), figure = "the measures by what was varied",
    examples = c("lantern-tiles --set keeper_stands=15:21 --measure \"edge(guest)\"", paste(
      "lantern-tiles --set aim=22:24 --set keeper_stands=17:19 --measure \"edge(guest)\" --figure edge.png"))),
  balance = command_row("find the pays and settings that meet your targets", balance_game, result = "balance",
    options = c(game_options(), list(
      option("want", paste0("a target, as \"return_of(guest) in 0.92..0.94\", \"gain(guest) at least 1/3\", ",
                            "\"mean(tiles) at most 9 weight 2\", \"edge(guest) at least 2% for all of careful, ",
                            "bold\"; may be given several times"), "TARGET", several = TRUE),
      option("knob", paste0("what may be turned, as \"pay(bright) in 1..6\", \"aim in 20..26 by 2\", \"mode in easy, ",
                            "hard\"; may be given several times"), "KNOB", argument = "knobs", several = TRUE),
      flag_option("against-best", paste("each seat that decides, and has no player here, plays as well as can be:",
                                        "what the stall keeps then it keeps whoever plays")),
      number_option("answers", "how many answers to give at most [4]"),
      number_option("slip", "the chance of a slip at a decision, for the table of slips [0.05]", "CHANCE"),
      option("write", "a file to write the changed rules to; it must not be there yet", "FILE"),
      number_option("answer", "which answer to write [1]")), shared("engine"), list(
      number_option("rounds", "rounds to sample at a point [1e6 of ten points or fewer, else 1e5]")),
      shared("seed", "threads", "workers", "format", "out")), figure = "how far each knob moves each target",
    status = function(result) if (result$status == "impossible") 1L else 0L,
    examples = c("lantern-tiles --want \"edge(guest) in 0..10%\" --knob \"aim in 22..26\"",
                 "bell-cards --want \"edge(guest) at most 5%\" --knob \"qualifies_at in 6..8\" --rounds 2000")),
  modes = command_row("how often a player succeeds in each mode; modes for the levels that you want", audit_modes,
    result = "modes", options = c(shared("players_file", "set", "player"), list(
      measure_option("the measure of success [how often the first outcome occurs]"),
      option("level", "shares of success that new modes are to have, as 80%,50%,20%", "SHARES", shares_given, "levels"),
      option("knob", "for --level: a setting to turn, as \"tries in 3..12\"; may be given several times", "KNOB",
             argument = "knobs", several = TRUE)), shared("engine"), list(
      number_option("rounds", "rounds to sample in each mode [1e5]")), shared("seed", "format", "out")),
    figure = "the success in each mode",
    examples = c("deep-well", "deep-well --level 80%,50% --knob \"tries in 3..12\"")),
  list = command_row("how often each secret word, code or number is found, the hardest first", list_of_options,
    result = "list", options = c(game_options(), list(
      option("by", "the secret [the first value of the state that nobody sees]", "EXPR"),
      measure_option("a measure, as \"mean(tries_used)\"; may be given several times", several = TRUE),
      option("keep", "list the secrets whose first measure is in a range, as 60%..90%", "LOW..HIGH",
             function(text) unlist(target_range(text, text)),
             write = function(value) paste(full_number(value), collapse = "..")),
      option("write", "with --keep, a new file for these words, one a line", "FILE"),
      number_option("rounds", "rounds to sample [2e4, or 50 a word]")), shared("seed", "format", "out")),
    figure = "the hardest and the easiest secrets",
    examples = c("deep-well --rounds 2000", "tide-words --rounds 500 --format csv --out words.csv")))

commands_on_play <- function() list(
  trace = command_row("one round step by step", run = run_trace, options = c(game_options(), list(
      number_option("unit", "the number of the round, match or sitting [1]"),
      number_option("seed", "seed of the run it belongs to [1]", "S"),
      option("forced", "forced draws and answers, as \"tile = c(7, 9)\"", "DRAWS"),
      option("where", "an outcome, or a condition: the first unit in which it holds", "CONDITION"),
      option("round",
             "of a match or sitting, the number of the round to show, or all [with --where the first that fits]", "K",
             "number"),
      option("sees", "tell only what this seat sees", "SEAT"),
      option("advice", "tell what each answer of this seat costs against the best one", "SEAT"),
      flag_option("as-example", "write the round, match or sitting as a worked example", part = "own"),
      flag_option("all", "every step of a long trace", part = "show"),
      flag_option("words", "tell it in the words of the rule card, without the rules beside", part = "show")),
      shared("format", "out")),
    examples = c("lantern-tiles --where bright", "dice-duel --unit 7 --seed 3")),
  play = command_row("play a game at the keyboard, against computer players or one another", run = run_play,
    options = c(game_options(), list(
      option("seat", "a seat that a person takes; may be given several times with commas between", "SEATS", "names",
             "seats"),
      number_option("seed", "the seed [a new one each time]", "S"),
      option("forced", "forced draws, as \"tile = c(7, 9)\"", "DRAWS"),
      option("where", "begin with a round in which this outcome occurs, or this holds", "CONDITION"),
      option("at", "begin at a position, as \"guest_total = 16\"", "POSITION"),
      flag_option("reveal", "show what is hidden, for testing"),
      flag_option("advice", "tell what is best at each decision, and what the answers given cost"),
      number_option("rounds", "stop after N rounds, matches or sittings, without asking"),
      option("keep", "a CSV file to add the rounds played to", "FILE"),
      option("name", "the player's name in that file [guest]", "NAME"))),
    examples = c("lantern-tiles --seat guest", "tide-words --seat guesser --keep rounds.csv --name ada")),
  played = command_row("the rounds that people have played, beside the odds", run = run_played, takes_game = FALSE,
    arguments = "FILE", options = c(list(
      flag_option("no-model", "without the odds beside", part = "own"),
      flag_option("summary", "leave people beside the odds out", part = "own"),
      flag_option("advice", "set people beside best play as well: what their answers cost"),
      option("game", "the game, for rounds that were not kept by `basanos play`", "GAME"),
      option("map", "which columns of such a file are which, as outcome=result,name=visitor", "OURS=THEIRS", "pairs"),
      option("seat", "the seat of such a file [the first that decides]", "SEAT")), shared("format", "out")),
    examples = c("rounds.csv", "rounds.csv --format csv")),
  players = command_row("rank the players of a game, each against each other", compare_players, result = "players",
    options = c(shared("players_file", "mode", "set"), list(
      option("compare", "the players to compare, with commas between [all that can take every seat]", "NAMES",
             "players", "players"),
      measure_option(paste("the measure, with {seat} for the seat, as \"mean(points[{seat}])\" [mean_pay({seat}); of",
                           "a match how often it is won]"))), shared("engine"), list(
      number_option("rounds", "rounds to sample for each way of sitting [2e4; with --until at most 1e6]"),
      option("best", "which values are better, highest or lowest [highest]", "WHICH"),
      number_option("until", "sample until each pair is told apart, or surely closer than this", "DIFFERENCE")),
      shared("seed", "threads", "workers", "format", "out"), list(
      option("ranking", "a figure of the ranking, .png or .svg", "FILE", part = "own"))),
    figure = "each player against each", shows_figure = figures_of_players,
    examples = c("tide-signs", "lantern-tiles --compare careful,bold --figure players.png")),
  answers = command_row("what a player does in each situation; where two players differ, and what that costs",
    answers_or_partings, result = "answers", options = c(game_options(), list(
      option("seat", "the seat to watch [the first that decides]", "SEAT"),
      option("decision", "the decision [the first that it is asked]", "NAME"),
      option("by", "an expression that describes a situation [the one or two that explain the answers best]", "EXPR"),
      option("against", "another player: tells where the two differ, and the cost", "PLAYER"),
      number_option("most", "with --against, the number of differences to value [40]"),
      number_option("rounds", "rounds to watch [2000]"),
      number_option("seed", "seed of these rounds [1]", "S")), shared("format", "out")),
    figure = "the answers by situation; with --against the situations where the two differ",
    examples = c("lantern-tiles", "lantern-tiles --player guest=bold --against careful --rounds 200")),
  best = command_row("the best that can be done: what it is worth, what to do when, what each player loses", best_play,
    result = "best", options = c(shared("players_file", "mode", "set"), list(
      option("seat", "the seat that plays as well as can be [the first that decides]", "SEAT"),
      option("against", "who plays another seat, as seat=name; may be given several times", "SEAT=NAME", "pairs",
             "players"),
      flag_option("both", "both seats that decide play as well as can be, against each other"),
      option("exploit", "a player: what the best answer to it wins, from either seat", "PLAYER"),
      option("objective", paste("what is to be great, as \"mean_pay(guest)\", \"probability(found)\", \"goal()\"",
                                "[what the seat is paid, else its wins]"), "MEASURE"),
      option("best", "which values of it are better, highest or lowest [highest; of ruin the lowest]", "WHICH"),
      option("decision", "tell only of this decision", "NAME"),
      option("by", "expressions that describe a situation, with commas between [what explains the answers best]",
             "EXPR"),
      option("at", "what each answer at a position is worth, as \"guest_total = 16\"", "POSITION"),
      number_option("most", "situations to tell of, those met most often [2000]"),
      number_option("max-states", "states that may be gone through [3e7]"),
      number_option("max-seconds", "how long that may take", "S"),
      flag_option("quick", "leave out what each player loses"),
      number_option("rule", "a rule to remember that loses at most so much, in few lines", "LOSS"),
      option("write", "a new file of players that play so, with tables beside it; for --players-file", "FILE")),
      shared("format", "out")),
    figure = "what to do in which situation",
    examples = c("lantern-tiles --at \"guest_total = 18\"",
                 "high-water --set seated=2 --set target=20 --both")),
  fairness = command_row("the advantage of the first seat, and what evens it", seat_fairness, result = "fairness",
    options = c(shared("players_file", "mode", "set"), list(
      option("compare", "the players to seat everywhere, with commas between [all that can take every seat]", "NAMES",
             "players", "players"),
      measure_option("the measure of a seat, with {seat} for its name [mean_pay({seat})]"),
      option("knob", "a handicap to try, as \"head_start in 0..5\"; may be given several times", "KNOB",
             argument = "knobs", several = TRUE)), shared("engine"), list(
      number_option("rounds", "rounds to sample [1e5]")), shared("seed", "threads", "format", "out")),
    figure = "the measure of each seat",
    examples = c("dice-duel", "last-pebble")))

commands_on_evenings <- function() list(
  bankroll = command_row("the visitor's evening: the wallet, round by round", bankroll, result = "bankroll",
    options = c(game_options(), list(
      number_option("wallet", "tokens brought [20]"),
      option("stake", paste("the stake, in stakes of the rules: a number or an expression over wallet, last_stake,",
                            "last_net, run [1]; name=... sets several side by side"), "RULE", stakes_given,
             write = stakes_written),
      option("evening-rounds", "the most rounds of the evening [200]; `none` for no limit", "N",
             function(text) if (text == "none") Inf else number_or_text(text),
             write = function(value) if (is.finite(value)) full_number(value) else "none"),
      number_option("goal", "leave with this much"),
      number_option("least", "the least stake [1]"),
      number_option("most", "the greatest stake"),
      option("short", "where the wallet cannot pay the stake: stake the rest, or leave [rest]", "WHAT"),
      option("seat", "whose evening it is [the first that puts something in]", "SEAT"),
      option("round-seconds", "how long a round takes, to tell minutes: a number, or as \"4 + 3 * asks\"", "S",
             "number"),
      number_option("minutes", "leave after so many minutes", "M"),
      option("method", "count, play, or auto: count where that can be done [auto]", "METHOD"),
      number_option("evenings", "evenings to play where they cannot be counted [1e5]"),
      number_option("path", "one evening step by step, by its number", "K"),
      option("engine", "auto, exact or sample, for the odds of a round [auto]", "ENGINE"),
      number_option("rounds", "rounds to sample, where the odds are sampled [1e6]"),
      number_option("seed", "seed of samples and played evenings [1]", "S"),
      number_option("threads", "threads to play with [1]", "T")), shared("format", "out")),
    figure = "the wallet over the rounds", more = function(values) list(over_time = !is.null(values$figure)),
    examples = c("lantern-tiles --wallet 20 --goal 40",
                 "lantern-tiles --stake \"flat=1; doubling=if (last_net < 0) 2 * last_stake else 1\"")),
  takings = command_row("the stall's evening: takings, losses, the float; is the till plausible?", takings_or_till,
    result = "takings", options = c(game_options(), list(
      number_option("visits", "visits an hour [12]"),
      number_option("hours", "how long the stall is open [4]", "H"),
      number_option("visit-rounds", "rounds a visit [10]"),
      number_option("round-seconds", "seconds a round [30]", "S"),
      number_option("float", "tokens in the box when the stall opens [100]", "TOKENS"),
      number_option("stake", "tokens for each token of stake in the rules [1]", "TOKENS"),
      number_option("prize-cost", "the stall's cost of a token paid out [1]", "TOKENS"),
      number_option("cap", "what a cap on the profit of a round would change", "TOKENS"),
      option("seat", "the seat that visitors take [all that put something in]", "SEAT"),
      option("visitor",
             paste("a kind of visitor, as \"weight=3, guest=careful, stake=2, wallet=20, goal=40\"; may be given",
                   "several times"),
             "VISITOR", visitors_given, "visitors", several = TRUE, write = visitors_written),
      number_option("till", "the balance of the till, in tokens: is it luck?", "TOKENS"),
      number_option("played", "with --till, the rounds (or sittings) since it was empty"),
      option("with", "another stall to stand beside it; may be given several times", "GAME", several = TRUE)),
      shared("engine"), list(
      number_option("rounds", "rounds to sample, where the odds are sampled [1e6]")), shared("seed", "format", "out")),
    figure = "what an evening takes, or the till beside what it should show",
    examples = c("lantern-tiles --visits 12 --hours 4", "lantern-tiles --till -40 --played 300")))

commands_around <- function() list(
  desk = command_row("a page on this machine to write, try and balance a game; goes on until Ctrl-C", run = run_desk,
    takes_game = FALSE, optional = "GAME", options = list(
      option("folder", "the folder whose rules files it opens [this one]", "FOLDER"),
      number_option("port", "the port [one that is free]", "PORT"),
      flag_option("no-browser", "only tell the address", part = "own")),
    examples = c("lantern-tiles", "my-stall.game --port 8080 --no-browser")),
  report = command_row("all of it on one page, with sliders for the settings", run = run_report, more_games = TRUE,
    options = c(game_options(), list(
      option("out", "the page to write, .html or .md [the game's name with .html]", "FILE", argument = "path"),
      option("parts", paste("the parts of the page [all that the game has]:",
                            paste(names(report_parts), collapse = ", ")), "NAMES",
             function(text) gsub("-", "_", split_outside_brackets(text))),
      option("want", "a target, as \"edge(guest) in 4%..6%\"; may be given several times", "TARGET", several = TRUE),
      option("knob", "a knob of the balance, as \"pay(bright) in 1..6\"; may be given several times", "KNOB",
             argument = "knobs", several = TRUE),
      option("what-if", paste("a setting that the page can turn, as aim or \"aim=20:26\" [those that move the result",
                              "most]; may be given up to three times"), "SETTING", what_if_given, several = TRUE,
             write = what_if_written),
      number_option("wallet", "tokens that a visitor brings [20]"),
      number_option("goal", "a visitor leaves with this much"),
      number_option("visits", "visits an hour [12]"),
      number_option("hours", "how long the stall is open [4]", "H"),
      number_option("float", "tokens in the box when the stall opens [100]", "TOKENS"),
      number_option("visit-rounds", "rounds a visit [10]"),
      number_option("round-seconds", "how long a round takes [30]", "S"),
      number_option("rounds", "rounds to sample where a count takes too long [1e5]")), shared("seed"), list(
      number_option("workers", "parts, or games, worked out at once [2]", "W"))),
    examples = c("dice-duel", "dice-duel tide-signs --parts ends,check --out fair.html")),
  demo = command_row("the whole story on the fair's games, with a figure and a page", run = run_demo,
                     takes_game = FALSE,
    options = list(
      option("out", "the figure to leave [lantern-pier.png]", "FILE", argument = "figure"),
      number_option("rounds", "rounds to sample of each game [1e6]"),
      number_option("seed", "seed [1]", "S"),
      option("report", "the page to leave [lantern-pier.html]", "FILE"),
      flag_option("story", "only the story of one stall, from a first draft to balanced pays", part = "own")),
    examples = c("--story", "--rounds 1e5")),
  completion = command_row("a script that completes commands, games and options in bash", takes_game = FALSE,
    run = function(read) {
      put_out(completion_script(commands()))
      0L
    }),
  sitrep = command_row("this machine and installation, for the report of a fault", call = situation_report,
    takes_game = FALSE, options = shared("format", "out")))
