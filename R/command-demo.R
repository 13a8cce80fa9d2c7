run_demo <- function(read) {
  if (isTRUE(read$values$story)) tell_story(function(...) writeLines(c(...)))
  else do.call(demo_fair, option_values(read, "call"))
  0L
}

# The story on the games of the fair: a rules file, every game checked, odds counted and sampled side by side, one stall
# from a bad first draft to balanced pays. Leaves a figure, and a page with the report of some games. Returns the odds
# invisibly: list(exact, sampled), each a list by game.
demo_fair <- function(figure = "lantern-pier.png", rounds = 1e6, seed = 1, report = "lantern-pier.html") {
  say <- function(...) writeLines(c(...))
  games <- lapply(stats::setNames(nm = fair_games()), game)
  say("Lantern Pier night fair", "", "A game is a short rules file. This is all of tide-signs:", "",
      paste0("    ", games[["tide-signs"]]$source$lines), "")
  say("Each file is read and checked, and its worked examples are played:", "")
  checked <- worked_out(games, function(g) utils::tail(format(check_game(g, findings = FALSE)), 1), demo_workers)
  for (name in names(games)) say(sprintf("  %s (%s)", checked[[name]], games[[name]]$title))
  say("", "Then the odds, counted exactly where all the branches of chance can be gone through quickly:", "")
  exact <- Filter(Negate(is.null), worked_out(games, quick_exact, demo_workers))
  for (o in exact) say(format(o), "")
  say(sprintf("And sampled from the same programs, %s rounds each where exact odds are beside:", whole_text(rounds)),
      "")
  sampled <- lapply(games[names(exact)], odds, engine = "sample", rounds = rounds, seed = seed,
                    threads = demo_workers)
  for (name in names(exact)) say(agreement_line(exact[[name]], sampled[[name]]))
  others <- worked_out(games[setdiff(names(games), names(exact))], function(g)
    odds(g, engine = "sample", rounds = min(rounds, 1e4), seed = seed), demo_workers)
  for (o in others) say("", format(o))
  say("")
  tell_story(say)
  shown <- intersect(c("tide-signs", "dice-duel", "lantern-tiles", "harbour-dice"), names(exact))
  drawn <- unname(c(exact[shown], sampled[shown]))
  save_figure(figure_of(drawn[[1]], beside = drawn[-1]), figure)
  say("", paste("The figure:", figure))
  if (!is.null(report)) {
    say(sprintf("Now the fair on one page, of %d games; this takes about half a minute ...", length(games_on_page)))
    report_games(games_on_page, report, seed = seed, workers = demo_workers)
    say(paste("The page, to open in a browser:", normalizePath(report)))
  }
  say("", "Now try: exec/basanos odds lantern-tiles --set guest_stands=18")
  invisible(list(exact = exact, sampled = c(sampled, others)))
}

demo_workers <- 2L  # processes, or threads

games_on_page <- c("lantern-tiles", "tide-signs", "dice-duel", "last-pebble", "three-bells")

demo_states <- 6e4

# The exact odds, or NULL where they would take long.
quick_exact <- function(game) {
  if (length(game$words$texts) > 1000) return(NULL)  # guessing among many words is slow, state by state
  o <- odds(game, engine = "exact", max_states = demo_states)
  if (o$complete) o
}

agreement_line <- function(exact, sampled) {
  off <- abs(sampled$outcomes$probability - exact$outcomes$probability) / sampled$outcomes$standard_error
  if (!any(is.finite(off))) return(sprintf("  %-14s every outcome is certain, and came out so", exact$game))
  sprintf("  %-14s the largest difference from the exact odds is %.1f standard errors", exact$game,
          max(off[is.finite(off)]))
}

# The worked story: a text with commands in it, which the demo runs, the docs show with what comes back, and a test
# compares.

# list(text, command), in the order of the file; one of the two is missing in each.
story_steps <- function(path = system.file("story", "story.md", package = "basanos")) {
  lines <- readLines(path, encoding = "UTF-8")
  opens <- which(lines == "```sh")
  closes <- vapply(opens, function(k) min(which(lines == "```" & seq_along(lines) > k)), 0L)
  starts <- c(1L, closes + 1L)
  ends <- c(opens - 1L, length(lines))
  steps <- list()
  for (k in seq_along(starts)) {
    steps <- c(steps, list(list(text = lines[starts[[k]]:max(starts[[k]], ends[[k]])])))
    if (k <= length(opens)) steps <- c(steps, list(list(command = lines[opens[[k]] + 1L])))
  }
  steps
}

# The output of a command of the story, run in a folder with the files of the demo.
story_output <- function(command, folder) {
  words <- scan(text = command, what = "", quiet = TRUE)
  before <- setwd(folder)
  on.exit(setwd(before))
  status <- 0L
  lines <- utils::capture.output(status <- command_main(words[-1]))
  if (status == 130L) signal_stop()
  sub(" +$", "", lines)
}

# A new folder with the files of the demo.
story_folder <- function() {
  folder <- tempfile("stall")
  dir.create(folder)
  file.copy(list.files(system.file("story", package = "basanos"), full.names = TRUE), folder)
  folder
}

# Tells the story, running every command of it.
tell_story <- function(say) {
  folder <- story_folder()
  on.exit(unlink(folder, recursive = TRUE))
  for (step in story_steps()) {
    if (is.null(step$command)) say(step$text)
    else say(paste("$", step$command), "", story_output(step$command, folder), "")
  }
}
