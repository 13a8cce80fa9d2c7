# One finding, and how long may be worked for it.

finding_rounds <- 2e4
finding_work <- 3e8  # operations that sampling may take, more or less
tried_work <- finding_work / 30  # for each of the players and answers that are tried

finding <- function(id, at, message) list(id = id, at = at, message = message)

# How many units to sample: by what the first take, counted in operations and not in seconds, so that what is found is
# the same on any machine.
finding_units <- function(game, program, work = finding_work) {
  most <- if (program$unit == "round") finding_rounds else finding_rounds / 20  # a match has many rounds
  first <- 20
  steps <- run_units(game, program, 1, 1, first)$steps / first
  floor(max(first, min(most, work / ((1 + steps) * ncol(program$code)))))
}

stopped_findings <- function(error, who = "") {
  lapply(error$diagnostics,
         function(p)
           finding(p$id, p$at,
                   sprintf("%s%s Hint: %s.", who, p$message, if (is.null(p$hint)) "check it" else p$hint)))
}
