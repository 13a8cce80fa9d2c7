# What the desk asks for, in another process: each job reads the text and calls one exported function. A job gives back
# what a page shows: texts, HTML and data frames.

game_at_desk <- function(text, name, folder) {
  files <- list.files(folder, full.names = TRUE)  # word lists and the base of a variant
  desk_games_read(list(text, name, folder, files, file.mtime(files)), function()
    new_game(check_rules(source_of_text(text, name, folder))))
}

desk_games_read <- latest(4)

# list(ok, problems, examples, card, seats, knobs, measures): what is wrong with the text, else what the game has.
job_check <- function(text, name, folder) {
  if (!nzchar(trimws(text)))
    return(list(ok = FALSE, problems = problems_at_desk(list(diagnostic("file_empty", "There are no rules yet.",
                                                                       "type them, or open a copy of a game")))))
  game <- tryCatch(game_at_desk(text, name, folder), basanos_error = identity)
  if (inherits(game, "basanos_error")) return(list(ok = FALSE, problems = problems_at_desk(game$diagnostics)))
  check <- check_game(game, findings = FALSE)
  list(ok = TRUE, title = game_title(game), problems = problems_at_desk(list()), examples = check$examples,
       claims = check$claims, card = as.character(page_of_card(card_items(game), 3)), seats = seats_at_desk(game),
       knobs = knobs_at_desk(game), measures = measures_at_desk(game))
}

# One row a problem, with the text that its hint would put in its place.
problems_at_desk <- function(diagnostics) {
  table <- diagnostics_table(diagnostics)
  table$put_in <- vapply(table$hint, text_of_hint, "", USE.NAMES = FALSE)
  table
}

# "did you mean `roll`?" names what to put there.
text_of_hint <- function(hint) {
  parts <- regmatches(hint, regexec("^did you mean `([^`]+)`[?]$", hint))[[1]]
  if (length(parts) == 2) parts[[2]] else NA_character_
}

# The players that can take each seat that decides.
seats_at_desk <- function(game) {
  seats <- Filter(function(seat) length(asked_of(game, seat)) > 0, seats_taken_at(game, list(), NULL))
  stats::setNames(lapply(seats, players_at_seat, game = game), game$seats[seats])
}

# What can be turned: list(name, value, from, to, step) of each setting and each pay.
knobs_at_desk <- function(game) {
  settings <- lapply(names(game$settings), function(name) setting_at_desk(game, name))
  pays <- lapply(Filter(function(n) n$kind == "pay", numbers_in_rules(game$nodes)), function(n)
    slider_at_desk(n$name, n$value, if (n$value == floor(n$value)) 1 else 0.1, -Inf, Inf))
  Filter(Negate(is.null), c(settings, pays))
}

setting_at_desk <- function(game, name) {
  settings <- resolve_settings(game)
  s <- game$settings[[name]]
  now <- settings[[name]]
  if (is_kind(s$type, "yesno")) return(list(name = name, kind = "yesno", value = now %in% c(1, "yes", TRUE)))
  if (!is_kind(s$type, "whole", "fraction")) return(NULL)
  slider <- slider_of(s, now, settings, game$source)
  slider_at_desk(name, now, slider$step, slider$least, slider$most)
}

slider_reach <- 10L  # steps to either side of the value in the rules

slider_at_desk <- function(name, value, step, least, most)
  list(name = name, kind = "number", value = value, from = max(least, value - slider_reach * step),
       to = min(most, value + slider_reach * step), step = step)

# list(html, rows): the odds of these rules as they are turned.
job_odds <- function(text, name, folder, set, players, chart = FALSE) {
  game <- game_at_desk(text, name, folder)
  o <- odds(game, set = set, players = players)
  if (!o$complete) o <- odds(game, engine = "sample", rounds = 1e5, set = set, players = players)
  chart <- if (chart) figure_at_desk(o, 1.4 + 0.4 * nrow(o$outcomes))
  list(html = paste0(html_at_desk(o), chart), rows = as.data.frame(o))
}

# list(html, answers): `answers` are values by name.
job_balance <- function(text, name, folder, want, knobs) {
  b <- balance_game(game_at_desk(text, name, folder), want, knobs)
  list(html = paste0(html_at_desk(b), figure_at_desk(b, 1.8 + 1.1 * length(want))),
       answers = Filter(function(a) all(vapply(a, is.numeric, NA)), answers(b)))
}

# A round as far as these answers go: list(html, choices, several, over). `choices`: the answers, or `several`: the
# items of which some are chosen, where these are names. `over` is a row with the outcome and the pay, or NULL
# where another answer is asked for. A round that is over is kept, if wanted, in a CSV file beside the rules.
job_play <- function(text, name, folder, seed, answers, advice, seat = NULL, keep = FALSE) {
  game <- game_at_desk(text, name, folder)
  said <- character()
  choices <- several <- NULL
  read <- function() {
    if (length(answers) == 0) signalCondition(structure(class = c("desk_waits", "condition"), list(message = "asked")))
    line <- answers[[1]]
    answers <<- answers[-1]
    line
  }
  write <- function(lines) {
    said <<- c(said, lines)
    choices <<- attr(lines, "choices")
    several <<- attr(lines, "several")
  }
  kept <- if (keep) desk_path(folder, sub("[.]game$", ".csv", name), "csv")
  over <- tryCatch(play_game(game, seats = seat, rounds = 1, seed = seed, advice = advice,
                             keep = kept, read = read, write = write), desk_waits = function(e) NULL)
  if (!is.null(over)) said <- utils::head(said, -1)  # goodbye
  lines <- strsplit(paste(said, collapse = "\n"), "\n", fixed = TRUE)[[1]]
  list(html = table_html(lines, game), choices = choices, several = several, over = over)
}

job_evening <- function(text, name, folder, wallet, visits, float) {
  game <- game_at_desk(text, name, folder)
  evenings <- list(bankroll(game, wallet), takings(game, visits, float = float))
  list(html = paste(vapply(evenings, function(e) paste0(html_at_desk(e), figure_at_desk(e, 3.6)), ""),
                    collapse = "\n"))
}

# The page is written beside the rules.
job_report <- function(text, name, folder, page) {
  if (is.null(page)) page <- name
  page <- sub("([.](game|html))?$", ".html", page)
  path <- desk_path(folder, page, "html")
  report_games(game_at_desk(text, name, folder), path, workers = 1)
  link <- htmltools::tags$a(href = paste0(page_place, utils::URLencode(page, reserved = TRUE)),
                            target = "_blank", rel = "noopener", page)
  list(html = as.character(htmltools::p("The page is written: ", link)))
}

figure_at_desk <- function(result, height)
  sprintf("<figure>%s</figure>", own_names(drawn_svg(figure_of(result), figure_alt(result), width = 8, height = height),
                                           kind_of_result(result)))

# `words` puts the names of the rules into plain words. It is `identity` for what quotes the rules.
html_at_desk <- function(result, words = in_plain_words) as.character(html_sections(words(sections(result)), 3))

# The text with these values written in their places.
job_write <- function(text, name, folder, set) {
  game <- game_at_desk(text, name, folder)
  edits <- lapply(names(set), function(knob) edit_of_value(game, knob, set[[knob]]))
  paste(edited_text(game, edits), collapse = "\n")
}
