# Mutates rules files and reads each: every one must give a game or a problem with a place or a mend, never an
# internal message, a crash or a hang. Usage: Rscript tests/fuzz/mutate.R [count] [seed]
# Each that misbehaves is written to build/fuzz/.
args <- commandArgs(trailingOnly = TRUE)
count <- if (length(args) > 0) as.integer(args[[1]]) else 1000L
set.seed(if (length(args) > 1) as.integer(args[[2]]) else 1L)
.libPaths(c(Sys.getenv("BASANOS_LIB", ".lib"), .libPaths()))
library(basanos)

files <- c(list.files("inst/games", "\\.game$", full.names = TRUE),
           list.files("inst/starters", "\\.game$", full.names = TRUE),
           list.files("tests/testthat/rules-bad", "\\.game$", full.names = TRUE))
texts <- lapply(files, function(f) paste(readLines(f, encoding = "UTF-8"), collapse = "\n"))
folder <- tempfile("fuzz")
dir.create(folder)
invisible(file.copy(list.files("inst/games", "\\.txt$", full.names = TRUE), folder))
dir.create("build/fuzz", recursive = TRUE, showWarnings = FALSE)

tokens_of <- function(text) regmatches(text, gregexpr("[A-Za-z_.]+|[0-9]+|\"[^\"\n]*\"|\\s+|.", text, perl = TRUE))[[1]]

mutate <- function(text) {
  for (k in seq_len(sample(1:3, 1))) {
    how <- sample(6, 1)
    if (how == 6) {
      bytes <- charToRaw(text)
      at <- sample(length(bytes), 1)
      bytes[at] <- as.raw(sample(c(1:126, 200), 1))
      text <- tryCatch({ s <- rawToChar(bytes); if (validUTF8(s)) s else text }, error = function(e) text)
      next
    }
    tokens <- tokens_of(text)
    i <- sample(length(tokens), 1)
    j <- sample(length(tokens), 1)
    if (how == 1) tokens <- tokens[-i]
    if (how == 2) tokens <- append(tokens, tokens[[i]], i)
    if (how == 3) tokens[c(i, j)] <- tokens[c(j, i)]
    if (how == 4) tokens[[i]] <- tokens[[j]]
    if (how == 5) tokens <- append(tokens, sample(tokens_of(sample(texts, 1)[[1]]), 1), i)
    text <- paste(tokens, collapse = "")
  }
  text
}

path <- file.path(folder, "mutant.game")
games <- problems <- bad <- 0L
slowest <- 0
for (k in seq_len(count)) {
  text <- mutate(sample(texts, 1)[[1]])
  writeLines(text, path, useBytes = TRUE)
  said <- NULL
  took <- system.time({
    got <- tryCatch({
      setTimeLimit(elapsed = 60, transient = TRUE)
      check_game(path, findings = k %% 10 == 0)
    }, error = function(e) { if (!inherits(e, "basanos_error")) said <<- conditionMessage(e); NULL })
    setTimeLimit()
  })[[3]]
  slowest <- max(slowest, took)
  internal <- !is.null(said) || (!is.null(got) && nrow(got$problems) > 0 && anyNA(got$problems$hint))
  if (is.null(got) || nrow(got$problems) > 0) problems <- problems + 1L else games <- games + 1L
  if (internal) {
    bad <- bad + 1L
    writeLines(c(text, paste("# SAID:", if (is.null(said)) "a problem without a mend" else said)),
               sprintf("build/fuzz/%s-%d.game", if (length(args) > 1) args[[2]] else "1", k))
  }
}
cat(sprintf("%d mutants: %d games, %d refused, %d misbehaved; the slowest took %.1f s\n", count, games, problems, bad,
            slowest))
quit(status = if (bad > 0) 1L else 0L)
