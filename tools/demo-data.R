# Makes the data of the demo: an evening of kept rounds of five made-up people, and a log of the same stall in somebody
# else's columns. Seeded; nobody of these names has ever played.
library(basanos, lib.loc = ".lib")

# A made-up person: stops at a total, with a chance of doing otherwise; reads the screen as a person does.
person <- function(stops_at, wavers) {
  seen <- 0
  list(write = function(lines) {
    total <- regmatches(lines, regexpr("guest_total +[0-9]+", lines))
    if (length(total) > 0) seen <<- as.numeric(sub("[^0-9]+", "", total[[length(total)]]))
  }, read = function() {
    wanted <- if (seen < stops_at) "draw" else "stand"
    if (stats::runif(1) < wavers) setdiff(c("draw", "stand"), wanted) else wanted
  })
}

set.seed(20260721)
evening <- "inst/story/evening.csv"
unlink(evening)
people <- list(ada = person(19, 0.03), bo = person(21, 0.1), cleo = person(16, 0.15), dov = person(18, 0.02),
               elin = person(14, 0))
for (k in seq_along(people)) {
  p <- people[[k]]
  play_game("lantern-tiles", seed = 100 + k, rounds = 30, keep = evening, name = names(people)[[k]], read = p$read,
            write = p$write)
}

# The keeper of the next stall writes it up otherwise.
kept <- utils::read.csv(evening)
tiles <- as.integer(sub(".*guest_tiles=([0-9]+).*", "\\1", kept$records))
words <- gsub("_", " ", kept$outcome)
log <- data.frame(visitor = kept$name, `how it ended` = paste0(toupper(substr(words, 1, 1)), substring(words, 2)),
                  `tiles drawn` = tiles, tokens = kept$pay, check.names = FALSE)
writeLines(c("# A made-up log of one evening, written up by the keeper of the next stall.",
             utils::capture.output(utils::write.csv(log[sample(nrow(log), 60), ], row.names = FALSE))),
           "inst/story/keepers-log.csv")
