# How often the intervals cover the exact odds, over 2 000 seeded runs each, and how often choices are wrong, over 1
# 000.
# Writes docs/calibration.md. Run with `make calibration`; with the argument `choices` only the second part is made
# anew.

.libPaths(c(".lib", .libPaths()))
helpers <- new.env(parent = asNamespace("basanos"))
for (file in c("helper-calibration.R", "helper-choices.R")) sys.source(file.path("tests/testthat", file), helpers)

intervals <- function() {
  rows <- do.call(rbind, helpers$calibrations(2000))
  c("# Calibration", "",
  "Over 2 000 seeded runs of games whose odds are known exactly: the share of runs in which the 95% interval covers",
  "the truth. A right interval covers 95%; 2 000 runs tell that to about 0.5%. Where only a few units count (three in",
  "a thousand, say) the count takes few values, and the interval covers more than 95% rather than less. Written by",
  "`make calibration`; a test holds such cases to 94 to 96% on average, and each to what chance allows.", "",
  "| what | units a run | covered |", "|---|---|---|",
  sprintf("| %s | %s | %.1f%% |", rows$what,
          ifelse(is.na(rows$units), "as needed", formatC(rows$units, format = "d", big.mark = " ")),
          100 * rows$covered))
}

before <- function() {
  text <- readLines("docs/calibration.md")
  utils::head(text, min(which(text == "## Choices"), length(text) + 2) - 2)
}

text <- if ("choices" %in% commandArgs(trailingOnly = TRUE)) before() else intervals()
two_at_once <- function(cases, work) parallel::mclapply(cases, work, mc.cores = 2, mc.preschedule = FALSE)
choices <- do.call(rbind, helpers$choice_calibrations(1000, two_at_once))
text <- c(text, "", "## Choices", "",
  "Over 1 000 seeded runs: how often what is said of a choice is wrong (the best point left out of those that may be the",
  "best, a player surely ahead that is not, a target told to be met or missed that is not), at most in 5%, and what it",
  "can tell.", "", "| what | rounds | wrong | power |", "|---|---|---|---|",
  sprintf("| %s | %s | %.1f%% | %s |", choices$what, formatC(choices$units, format = "d", big.mark = " "),
          100 * choices$wrong, choices$power))
writeLines(text, "docs/calibration.md")
writeLines(text)
