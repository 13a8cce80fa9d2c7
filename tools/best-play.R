# Writes the table of docs/best-play.md anew: best play of every game of the fair, or why there is none.

.libPaths(c(".lib", .libPaths()))
library(basanos)

# One row: the game, what is asked, the answer.
row <- function(name, ...) {
  told <- tryCatch(best_play(name, ..., max_seconds = 120, max_states = 2.5e7), basanos_error = conditionMessage)
  both <- isTRUE(list(...)$both)
  if (is.character(told)) return(c(name, if (both) "both" else "", "", "", sub("^[^:]*: ", "", told), ""))
  number <- function(v) formatC(v, format = "f", digits = 6)
  worth <- if (is.na(told$value)) sprintf("%s to %s", number(told$lower), number(told$upper)) else number(told$value)
  losses <- sprintf("%s%s %s", told$losses$player, if (both) paste(" as", told$losses$seat) else "",
                    ifelse(is.na(told$losses$loss), "-", number(told$losses$loss)))
  against <- if (length(told$against) > 0) paste0(", against ", paste(names(told$against), told$against, collapse = ", "))
  c(name, if (both) "both in turn" else paste0(told$seats, against), told$objective, worth,
    paste(losses, collapse = ", "), format(told$states, big.mark = " "))
}

decided <- Filter(function(name) length(game(name)$decisions) > 0, fair_games())
rows <- lapply(decided, row)
in_turn <- lapply(c("last-pebble", "three-crabs", "spell-the-sea", "seven-winds", "net-menders"), row, both = TRUE)
lines <- vapply(c(rows, in_turn), function(r) paste0("| ", paste(r, collapse = " | "), " |"), "")
page <- readLines("docs/best-play.md")
writeLines(c(page[seq_len(grep("^[|] ---", page))], lines), "docs/best-play.md")  # the table ends the page
