# The report of a game: everything that its designer and those who decide with them need, on one page.

#' The report of a game, or of a fair
#'
#' One page with what is worth knowing of a game: how rounds end and what that pays, how long they are, players
#' compared, the balance against targets, evenings, rounds told step by step, what the check found; and what happens
#' when settings are turned, with sliders. What is in it follows from the game. Several games stand on one page,
#' compared.
#'
#' @inheritParams odds
#' @param games A game, or several: see [game()].
#' @param path Where to write it: `.html`, one page with all in it; `.md`, with its figures in a folder beside it; or
#'   `NULL`.
#' @param parts What is told, by name: `"rules"`, `"ends"`, `"what_if"`, `"records"`, `"players"`, `"balance"`,
#'   `"evenings"`, `"rounds"`, `"check"`; by default all that the game has.
#' @param want,knobs Targets and knobs of a balance, as in [balance_game()]; without knobs those that matter are taken.
#' @param what_if One to three settings (or numbers of the rules, such as `"pay(bright)"`) that the page can turn: their
#'   names, or a list of values by name. By default those that move the result most.
#' @param rounds How many rounds are sampled, where they are; of word lists a tenth as many.
#' @param wallet,goal The visitor's evening: see [bankroll()].
#' @param visits,hours,float The stall's evening: see [takings()].
#' @param visit_rounds,round_seconds How many rounds a visitor plays, and how long one takes: `rounds` and `seconds` of
#'   [takings()].
#' @param workers How many processes work at once, on several games or on the parts of one (on Windows always one).
#' @param progress Tell on standard error what is being worked out?
#' @return An object of class `basanos_report`: a list with `games` (one list a game: `name`, `title`, `headlines`,
#'   `board`, `parts`, `made`; a part has `sections` and, for the end of the page, `details`) and `fair` (the
#'   comparison of several).
#' @inheritSection odds Stopped
#' @section Errors: `report_part`, `what_if_wrong`, `package_needed`, those of [odds()] and [balance_game()]. What
#'   cannot be told of a game is left out, with its reason on the page.
#' @export
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' report <- report_games("dice-duel", parts = c("ends", "records"))
#' report$games[[1]]$headlines
report_games <- function(games, path = NULL, set = list(), players = list(), mode = NULL, want = NULL, knobs = NULL,
                         parts = NULL, what_if = NULL, wallet = 20, goal = NULL, visits = 12, hours = 4, float = 100,
                         visit_rounds = 10, round_seconds = 30, rounds = 1e5, seed = 1, workers = 1,
                         progress = FALSE) {
  asked <- asked_here("report_games")
  need_package("ggplot2", "draws the figures")
  for (part in parts) one_of_names(part, names(report_parts), "report_part", "part")
  if (!is.null(path)) report_kind(path)
  check_rounds(rounds)
  seed <- given_seed(seed)
  check_count(workers, "workers", 64, "write workers = 2")
  games <- if (is_game(games)) list(games) else lapply(as.list(games), game)
  task <- list(asked = asked, parts = if (is.null(parts)) names(report_parts) else parts, set = as.list(set),
               players = as.list(players), mode = mode, want = want, knobs = knobs, what_if = what_if, rounds = rounds,
               seed = seed, wallet = wallet, goal = goal, visits = visits, hours = hours, float = float,
               visit_rounds = visit_rounds, round_seconds = round_seconds,
               say = if (isTRUE(progress)) function(...) tell_progress(...) else function(...) NULL)
  task$draws <- identical(if (!is.null(path)) report_kind(path), "html")  # by the workers
  task$workers <- if (length(games) == 1) workers else 1
  games <- worked_out(games, function(game) report_of_game(game, task), workers, if (length(games) > 1) "games" else
    "game", so_far = function(done, after, stop) {
      done <- c(Filter(Negate(is.null), done), list(stop$game)[!is.null(stop$game)])
      if (length(games) == 1 && !is.null(stop$after)) after <- stop$after
      if (length(done) > 0) list(after = after, report = report_of(done, after)) else list()
    })
  report <- report_of(games)
  if (!is.null(path)) write_report(report, path)
  with_call(report, asked)
}

report_of <- function(games, stopped = NULL)
  structure(list(games = games, fair = if (length(games) > 1) fair_section(games), stopped = stopped),
            class = result_class("report"))

# All that is told of one game: list(name, title, line, headlines, parts, what_if, made, odds).
report_of_game <- function(game, task) {
  task$say(sprintf("%s: the odds", game_title(game)))
  task$game <- game <- game_with(game, task$set)
  task$rounds_asked <- task$rounds
  task$heavy <- !is.null(game$words$texts) && length(game$words$texts) > 0
  if (task$heavy) task$rounds <- max(200, task$rounds / 10)
  task$settings <- resolve_settings(game, task$set, task$mode)
  if (!is.null(task$what_if)) what_if_values(task)  # says at once what is wrong with them
  task$odds <- odds(game, rounds = task$rounds, seed = task$seed, set = task$set, players = task$players,
                    mode = task$mode, progress = FALSE)
  if (!task$odds$complete)
    task$odds <- odds(game, engine = "sample", rounds = task$rounds, seed = task$seed, set = task$set,
                      players = task$players, mode = task$mode, progress = FALSE)
  task$seat <- tryCatch(first_staked(game), basanos_no_stake = function(e) NULL)
  task$measure <- if (!is.null(task$seat)) kept_measure(game, task$seat) else usual_share(game)
  if (tells_influence(task)) task$influence <- step_influence(task)
  task$board <- prize_board(task)
  # Worked out before the parts: a report that is stopped starts no more work.
  task$advantage_headline <- seats_headline(task)
  task$check <- check_game(game, set = task$set, players = task$players, mode = task$mode)
  # of several workers the slow parts come first, so that all end together
  slow <- c("players", "balance", "what_if", "evenings", "records")
  in_turn <- if (task$workers > 1) order(match(task$parts, slow)) else seq_along(task$parts)
  tell <- function(name) {
    task$say(sprintf("%s: %s", game_title(game), tolower(report_parts[[name]]$title)))
    part_content(name, task)
  }
  in_order <- function(parts) Filter(Negate(is.null), parts[order(in_turn)])
  parts <- worked_out(task$parts[in_turn], tell, task$workers, "parts of the page", function(parts, after, stop)
    list(after = after, game = page_content(task, in_order(parts))))
  page_content(task, in_order(parts))
}

# Is the influence of the settings on the page? Two parts tell it, and the headlines of a stall that loses.
tells_influence <- function(task) {
  any(c("what_if", "balance") %in% task$parts) || isTRUE(task$odds$pays$edge[task$odds$pays$seat == task$seat] < 0)
}

page_content <- function(task, parts) {
  game <- task$game
  list(name = name_of_file(game$source), title = game_title(game), line = game$line, odds = task$odds,
       measure = task$measure,
       headlines = headlines(task, parts), board = task$board, parts = parts, made = how_made(task))
}

usual_share <- function(game) sprintf("probability(outcome == %s)", game$outcomes$names[[1]])

# A part of the page: list(id, title, sections, figures, and what else it has). What fails by the rules of the game says
# why; a wrong call is told at once.
part_content <- function(name, task) {
  part <- report_parts[[name]]
  content <- content_or_reason(function() part$tell(task))
  if (is.null(content)) return(NULL)
  if (task$draws)
    content$figures <- lapply(content$figures, function(f) c(f, svg = drawn_svg(f$plot, f$alt, height = f$height)))
  title <- if (is.null(content$title)) part$title else content$title
  c(list(id = name, title = title), content[names(content) != "title"])
}

content_or_reason <- function(tell) {
  tryCatch(tell(), basanos_error = function(e) {
    if (any(e$ids %in% wrong_calls)) stop(e)
    reason <- sub(" \\[[a-z_]+\\]$", "", sub("\n.*", "", conditionMessage(e)))
    list(sections = in_plain_words(all_sections(section(notes = sprintf("This is not told here: %s", reason)))))
  })
}

wrong_calls <- c("target_wrong", "knob_wrong", "knob_unknown", "knob_off_grid", "what_if_wrong",
                 "bankroll_wrong", "takings_wrong", "setting_unknown")

# The call that makes the page again.
how_made <- function(task) {
  o <- task$odds
  rows <- list(command = report_command(task), rules = name_of_file(task$game$source), hash = o$hash,
               settings = named_values(o$settings), players = named_values(o$players),
               mode = paste(o$modes, collapse = ", then "), odds = how_found(o), seed = plain_number(task$seed),
               versions = sprintf("basanos %s, R %s, ggplot2 %s", utils::packageVersion("basanos"), getRversion(),
                                  utils::packageVersion("ggplot2")))
  rows <- Filter(function(v) length(v) == 1 && nzchar(v), rows)
  section(table = list(" " = names(rows), "to make this page again" = unlist(rows, use.names = FALSE)))
}

named_values <- function(values)
  paste(names(values), vapply(values, plain_number, ""), sep = " = ", collapse = ", ", recycle0 = FALSE)

# The command that makes the page of this game again, wherever that was written and by how many processes. Rules
# without a file have none.
report_command <- function(task) {
  if (is.null(task$game$source$folder)) return("")
  args <- task$asked$args
  args$games <- asked_game(task$game)
  command_line(list(asked = list(fun = "report_games", args = args[!names(args) %in% c("path", "workers")])))
}

# Several games side by side.
fair_section <- function(games) {
  of <- function(f, or = "-") vapply(games, function(g) {
    row <- f(g)
    if (length(row) == 0) or else row
  }, "")
  money <- function(g) if (!is.null(g$odds$pays$stake)) g$odds$pays[!is.na(g$odds$pays$stake), ][1, ]
  share <- function(name) function(g) if (NROW(money(g)) > 0 &&
                                          !is.na(money(g)[[name]])) percent_text(money(g)[[name]], 2)
  gives_back <- function(g) {
    long <- g$odds$pots$long_run_return
    long <- long[!is.na(long)]
    if (length(long) > 0) paste(percent_text(long[[1]], 2), "in the long run") else share("return")(g)
  }
  section("The games side by side", list(
    game = vapply(games, `[[`, "", "title"), "the stall keeps" = of(share("edge")), "gives back" = of(gives_back),
    "most often" = of(function(g) {
      k <- which.max(g$odds$outcomes$probability)
      sprintf("%s, %s", g$odds$outcomes$name[[k]], percent_text(g$odds$outcomes$probability[[k]], 1))
    }),
    "in 19 of 20" = of(function(g) length_words(g$odds)),
    odds = of(function(g) if (g$odds$engine == "exact") "counted exactly" else "sampled")))
}

#' @export
sections.basanos_report <- function(x, ...) {
  all_sections(x$fair, unlist(lapply(x$games, function(g)
    c(list(section(g$title, notes = g$headlines), g$board),
      unlist(lapply(g$parts, `[[`, "sections"), recursive = FALSE),
      unlist(lapply(g$parts, `[[`, "details"), recursive = FALSE), list(g$made))), recursive = FALSE))
}

#' @export
json_fields.basanos_report <- function(x) list(games = lapply(x$games, function(g)
  list(name = g$name, title = g$title, headlines = g$headlines, odds = json_fields(g$odds),
       what_if = what_if_of(g)$data)))

#' @export
as.data.frame.basanos_report <- function(x, ...)
  bind_result_rows(lapply(x$games, function(g) as.data.frame(g$odds)))

# Writes a report: a page of HTML, or Markdown with its figures in a folder beside it.

write_report <- function(report, path) {
  lines <- if (report_kind(path) == "html") report_html(report) else report_markdown(report, path)
  write_lines(lines, path)
  invisible(path)
}

report_kind <- function(path) {
  kind <- tolower(tools::file_ext(path))
  if (kind %in% c("html", "md")) return(kind)
  abort_input("format_unknown", sprintf("A report is a .html or a .md file, not `%s`.", basename(path)),
              "end the name with .html or .md")
}

report_markdown <- function(report, path) {
  folder <- paste0(tools::file_path_sans_ext(path), "-figures")
  if (!dir.exists(folder) && !dir.create(folder, showWarnings = FALSE))
    abort_input("file_written", sprintf("The folder `%s` for the figures could not be made.", folder),
                "check that its place exists and can be written to")
  game_lines <- function(g) {
    parts <- lapply(parts_shown(g$parts), function(p) c(paste("##", p$title), "", markdown_figures(p, g$name, folder),
                                                        markdown_of(p$sections, 3, 3)))
    details <- lapply(parts_detailed(g$parts), function(p)
      c(paste("###", p$title), "", markdown_of(p$details, 4, 4)))
    c(paste("#", g$title), "", if (!is.null(g$line)) c(g$line, ""), paste("-", g$headlines), "",
      if (!is.null(g$board)) markdown_of(list(g$board), 2, 2), unlist(parts),
      paste("##", details_title), "", unlist(details), "### How this was made", "", markdown_of(list(g$made)))
  }
  c(if (!is.null(report$fair)) c("# The fair", "", markdown_of(list(report$fair))),
    unlist(lapply(report$games, game_lines)))
}

markdown_figures <- function(part, name, folder) {
  unlist(lapply(seq_along(part$figures), function(k) {
    f <- part$figures[[k]]
    file <- sprintf("%s-%s-%d.png", name, part$id, k)
    save_figure(f$plot, file.path(folder, file), width = 8, height = f$height)
    c(sprintf("![%s](%s/%s)", gsub("[][]", "", f$alt), basename(folder), file), "")
  }))
}
