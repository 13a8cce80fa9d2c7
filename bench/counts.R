# Games that are hard to count exactly: states and seconds of a whole count, within a minute and 5 million states.
# Writes bench/results/counts.md.

.libPaths(c(".lib", .libPaths()))
library(basanos)
inside <- asNamespace("basanos")
most_states <- 5e6
most_seconds <- 60

counted <- function(name, what = "", wanted, set = list(), players = list(), ...) {
  rules <- game(name)
  question <- inside$new_question(rules, set, players)
  program <- inside$counted_program(question, inside$program_of(question))
  took <- system.time(run <- inside$core_exact(inside$loaded(program), most_states, NULL,
                                               max_seconds = most_seconds, ...))[["elapsed"]]
  result <- if (run$end == inside$exact_ends[["done"]]) sprintf("%.1f s", took)
    else sprintf("stopped after %.0f s (%s), %.1f%% counted", took, run$limit, 100 * (1 - run$residual))
  sprintf("| %s | %s | %s | %s | %s |", name, what, format(run$states, big.mark = " "), result, wanted)
}

rows <- c(
  counted("keepers-three", wanted = "10 s"),
  counted("salt-draw", wanted = "a minute"),
  counted("passing-shells", "with its number of turns", "a minute"),
  counted("passing-shells", "the same, sums within the states", "", leave_out_sums = FALSE),
  counted("deep-well", "`wild`, 100 numbers, 7 tries", "3 s", players = list(guesser = "wild")),
  counted("deep-well", "`wild`, 500 numbers, 10 tries", "a minute", list(top = 500, tries = 10),
          list(guesser = "wild")),
  counted("deep-well", "the same, each number by itself", "", list(top = 500, tries = 10), list(guesser = "wild"),
          defer = FALSE),
  counted("bell-cards", wanted = "a second"),
  counted("nine-shutters", "`few`", "", players = list(guest = "few")),
  counted("nine-shutters", "`few`, draws at once", "", players = list(guest = "few"), defer = FALSE),
  counted("harvest-sheet", "`greedy`", "a third of the states", players = list(scribe = "greedy")),
  counted("harvest-sheet", "the same, sums within the states", "", players = list(scribe = "greedy"),
          leave_out_sums = FALSE),
  counted("lantern-tiles", wanted = ""))
text <- c("# Counts", "",
          sprintf("One count each, within %d s and %s states. Written by `bench/counts.R`.", most_seconds,
                  format(most_states, big.mark = " ", scientific = FALSE)), "",
          "| game | what | states | took | wanted |", "|---|---|---|---|---|", rows)
writeLines(text, "bench/results/counts.md")
writeLines(text)
