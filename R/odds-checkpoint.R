# Long runs leave a checkpoint, and go on from it. The file is JSON; numbers are written so that they come back to
# the last bit. It is always whole: written beside the old one, then put in its place.

tally_format <- 1L
checkpoint_seconds <- 5

# Plays units `first` to `last` of a run in blocks, saving after each; what the file has is not played again.
sample_with_checkpoint <- function(question, program, rounds, effort) {
  check_rounds(rounds)
  tally <- read_checkpoint(effort$checkpoint, question, program, effort$seed)
  done <- if (is.null(tally)) 0 else tally$counts$units
  if (done > rounds)
    abort_input("checkpoint_other",
                sprintf("The checkpoint `%s` has %s units already, more than the %s asked for.", effort$checkpoint,
                        whole_text(done), whole_text(rounds)),
                        "ask for at least as many, or begin anew with another file")
  block <- 1000
  # Ctrl-C may come within a block or between two: the run is as far as the checkpoint says.
  stopped <- function(stop) list(
    after = sprintf("%s of %s %s", whole_text(done), whole_text(rounds), units_in_words(program$unit)),
    kept = if (done > 0)
      sprintf("the checkpoint `%s` has them, and the same call goes on from there", effort$checkpoint), tally = tally)
  with_part_result(while (done < rounds) {
    size <- min(block, rounds - done)
    started <- proc.time()[["elapsed"]]
    counts <- run_sample(question$game, program, size, effort$seed, effort$threads, done + 1)
    took <- proc.time()[["elapsed"]] - started
    more <- new_tally(question, program, "sample", counts, seed = effort$seed, spans = list(c(done + 1, done + size)))
    tally <- if (is.null(tally)) more else merge_tallies(tally, more)
    write_checkpoint(tally, effort$checkpoint)
    done <- done + size
    block <- max(1000, min(10 * block, floor(size * checkpoint_seconds / max(took, 1e-3))))
  }, stopped)
  tally
}

exact_number <- function(x) sprintf("%.17g", x)

tally_text <- function(tally) {
  counts <- tally$counts
  histogram <- function(h) list(value = exact_number(h$value), weight = exact_number(h$weight))
  data <- list(format = tally_format, what = "basanos tally", hash = tally$program$hash,
               seed = exact_number(tally$seed), spans = lapply(tally$spans, exact_number),
               counts = lapply(counts[c("units", "rounds", "squared_rounds", "outcomes", "ss", "sn")], exact_number),
               quantities = lapply(counts$quantities, histogram),
               unit_quantities = lapply(counts$unit_quantities, histogram))
  as.character(jsonlite::toJSON(data, auto_unbox = FALSE))
}

checksum_of <- function(text) digest::digest(text, algo = "sha256", serialize = FALSE)

write_checkpoint <- function(tally, path) {
  text <- tally_text(tally)
  write_lines(c(checksum_of(text), text), path,
              sprintf("After %s units the checkpoint", whole_text(tally$counts$units)))
}

# NULL where there is no file yet.
read_checkpoint <- function(path, question, program, seed) {
  if (!is.character(path) || length(path) != 1 || is.na(path))
    abort_input("argument_wrong", "`checkpoint` must be one path.", "write run.json")
  if (!file.exists(path)) return(NULL)
  if (file_is_special(path))
    abort_input("checkpoint_damaged", sprintf("The checkpoint `%s` is no plain file.", path), "give the path of a file")
  lines <- tryCatch(suppressWarnings(readLines(path)), error = function(e) character())
  if (length(lines) != 2 || !identical(checksum_of(lines[[2]]), lines[[1]])) {
    abort_input("checkpoint_damaged", sprintf("The checkpoint `%s` is damaged, or not a checkpoint.", path),
                "nothing was changed: give another file, or delete this one to begin anew")
  }
  data <- jsonlite::fromJSON(lines[[2]], simplifyVector = TRUE, simplifyDataFrame = FALSE, simplifyMatrix = FALSE)
  if (data$format != tally_format)
    abort_input("checkpoint_other",
                sprintf("The checkpoint `%s` is of format %s; this version reads %d.", path, format(data$format),
                        tally_format), "finish it with the version that began it")
  if (data$hash != program$hash || as.numeric(data$seed) != seed) {
    abort_input("checkpoint_other",
                sprintf("The checkpoint `%s` is of another run: other rules, settings, players or seed.", path),
                "give the same as when it began, or another file")
  }
  numbers <- function(x) lapply(x, as.numeric)
  counts <- c(numbers(data$counts),
              list(quantities = lapply(data$quantities, numbers),
                   unit_quantities = lapply(data$unit_quantities, numbers)))
  new_tally(question, program, "sample", counts, seed = seed, spans = numbers(data$spans))
}
