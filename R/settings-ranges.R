# Several values or players in one text, as they are typed.

# A number as typed; other text stays as it is, and the later check reports it.
number_or_text <- function(text) {
  number <- suppressWarnings(as.numeric(text))
  if (is.na(number)) text else number
}

# "banker(15:30)" is banker(15), banker(16) and so on.
swept_players <- function(text) {
  unlist(lapply(split_outside_brackets(text), function(player) {
    range <- regmatches(player, regexec("^(.*[(=]\\s*)([0-9.]+:[0-9.:]+)(\\s*[,)].*)$", player))[[1]]
    if (length(range) == 0) return(player)
    paste0(range[[2]], vapply(swept_values(range[[3]]), plain_number, ""), range[[4]])
  }))
}

# "15:19", "15:25:5" (in steps of five), "1,2,5" or "yes,no".
swept_values <- function(text) {
  range <- regmatches(text, regexec("^\\s*(-?[0-9.]+)\\s*:\\s*(-?[0-9.]+)\\s*(?::\\s*([0-9.]+))?\\s*$", text,
                                    perl = TRUE))[[1]]
  if (length(range) == 0) return(lapply(split_outside_brackets(text), number_or_text))
  ends <- as.numeric(range[2:3])
  step <- if (nzchar(range[[4]])) as.numeric(range[[4]]) else 1
  if (anyNA(ends) || is.na(step) || step <= 0 || ends[[1]] > ends[[2]])
    abort_input("sweep_grid", sprintf("`%s` is no range.", text),
                "write the lower end first, and a step above zero: 15:25:5")
  as.list(seq(ends[[1]], ends[[2]], by = step))
}
