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
