# Targets: a measure and its range.

# "return_of(guest) in 0.92..0.94 weight 2", "gain(guest) at least 1/3", "mean(rolls) at most 12",
# "probability(outcome == red_wins) within 0.01 of probability(outcome == blue_wins)", "volatility(guest) near 3",
# as list(text, measures, low, high, near, weight): the value is the first measure, less the second where there are two.
read_target <- function(game, text) {
  parts <- target_parts(text)
  target <- switch(parts$how,
    "in" = target_range(parts$rest, text),
    "at least" = , ">=" = list(low = target_number(parts$rest, text), high = Inf),
    "at most" = , "<=" = list(low = -Inf, high = target_number(parts$rest, text)),
    "is" = , "==" = list(low = target_number(parts$rest, text), high = target_number(parts$rest, text)),
    "near" = list(low = -Inf, high = Inf, near = target_number(parts$rest, text)),
    "within" = target_within(parts$rest, text))
  if (target$low > target$high) target_wrong(text, "the low end is above the high one.", "write the lower end first")
  measures <- c(parts$measure, target$other)
  for (measure in measures) refuse_without_stake(game, read_measure(game, measure), text)
  if (is.null(target$other)) refuse_percents(read_measure(game, measures)$word, target, text)
  c(target[setdiff(names(target), "other")], list(text = text, measures = measures, weight = parts$weight))
}

# All targets. One "for all of stopper(1:6), timid" is a target for each of these players, `seated` at the seat.
read_targets <- function(game, texts) unlist(lapply(texts, function(text) {
  pattern <- "^(.+?)\\s+for\\s+all\\s+of\\s+(.+)$"
  parts <- if (is.character(text)) regmatches(text, regexec(pattern, text, perl = TRUE))[[1]]
  if (length(parts) == 0) return(list(read_target(game, text)))
  target <- read_target(game, parts[[2]])
  seat <- seat_of_target(game, target, text)
  lapply(trimws(swept_players(parts[[3]])), function(player) {
    target$seated <- stats::setNames(list(player), seat)
    target$text <- with_seated(target$text, target$seated)
    target
  })
}), recursive = FALSE)

# "edge(guest) at least 2% with guest = stopper(3)"
with_seated <- function(text, seated)
  if (length(seated) == 0) text else sprintf("%s with %s = %s", text, names(seated), seated[[1]])

# The seat that the measure is about, if it decides anything, else the first that does.
seat_of_target <- function(game, target, text) {
  deciding <- game$seats[vapply(seq_along(game$seats), function(seat) length(asked_of(game, seat)) > 0, NA)]
  if (length(deciding) == 0) target_wrong(text, "nobody decides anything in this game.", "leave `for all of` out")
  about <- lapply(target$measures, function(measure) read_measure(game, measure)$about$name)
  c(intersect(unlist(about), deciding), deciding)[[1]]
}

# Measures that are shares, and the greatest value that still makes sense of them.
shares_at_most <- c(probability = 1, edge = 1, edge_per_token = 1, long_run_edge = 1, decided_edge = 1, hit = 1,
                    gain = 1, prize_share = 1, losing_run = 1, ruin = 1, losing = 1, goal = 1, return_of = 2,
                    long_run_return = 2)

# "edge(guest) in 8..12" means percents, most likely.
refuse_percents <- function(word, target, text) {
  most <- shares_at_most[word]
  numbers <- c(target$low, target$high, target$near)
  numbers <- numbers[is.finite(numbers)]
  if (is.na(most) || any(numbers < 0) || !any(numbers > most)) return(invisible())
  target_wrong(text, sprintf("`%s` is a share, and %s is %s%%.", word, plain_number(max(numbers)),
                             plain_number(100 * max(numbers))),
               sprintf("did you mean %s?", paste0(plain_number(unique(numbers)), "%", collapse = "..")))
}

target_wrong <- function(text, message, hint = "write \"edge(guest) in 0.06..0.08\" or \"mean(tiles) at most 9\"") {
  abort_input("target_wrong", sprintf("`%s`: %s", text, message), hint)
}

ways_to_want <- "in|at least|at most|is|near|within|>=|<=|=="

# list(measure, how, rest, weight): the measure ends at the last bracket before the word.
target_parts <- function(text) {
  if (!is.character(text) || length(text) != 1 || is.na(text))
    abort_input("target_wrong", "A target must be one text.", "write \"edge(guest) in 0.06..0.08\"")
  parts <- regmatches(text, regexec(sprintf("^\\s*(.+\\))\\s*(%s)\\s*(.+?)(?:\\s+weight\\s+(\\S+))?\\s*$",
                                            ways_to_want), text, perl = TRUE))[[1]]
  if (length(parts) == 0) target_wrong(text, "a target is a measure and what it is to be.")
  weight <- if (nzchar(parts[[5]])) suppressWarnings(as.numeric(parts[[5]])) else 1
  if (is.na(weight) || weight < 0) target_wrong(text, "a weight is a number, zero or above.", "write weight 2")
  list(measure = parts[[2]], how = parts[[3]], rest = parts[[4]], weight = weight)
}

# 0.92, 92%, 1/3
target_number <- function(text, whole) {
  part <- regmatches(text, regexec("^(-?[0-9.]+(?:[eE]-?[0-9]+)?)(?:/([0-9.]+))?(%?)$", text, perl = TRUE))[[1]]
  value <- if (length(part) > 0) suppressWarnings(as.numeric(part[[2]])) else NA
  if (is.na(value)) target_wrong(whole, sprintf("`%s` is no number.", text))
  below <- if (nzchar(part[[3]])) as.numeric(part[[3]]) else 1
  value <- value / below / if (nzchar(part[[4]])) 100 else 1
  if (!is.finite(value)) target_wrong(whole, sprintf("`%s` divides by zero.", text))
  value
}

target_range <- function(text, whole) {
  ends <- regmatches(text, regexec("^(.+?)\\s*\\.\\.\\s*(.+)$", text, perl = TRUE))[[1]]
  if (length(ends) == 0) target_wrong(whole, sprintf("`%s` is no range.", text), "write in 0.92..0.94")
  list(low = target_number(ends[[2]], whole), high = target_number(ends[[3]], whole))
}

target_within <- function(text, whole) {
  parts <- regmatches(text, regexec("^(\\S+)\\s+of\\s+(.+)$", text, perl = TRUE))[[1]]
  if (length(parts) == 0) target_wrong(whole, "`within` says how far, and of what.",
                                       "write within 0.01 of probability(outcome == blue_wins)")
  by <- target_number(parts[[2]], whole)
  if (by < 0) target_wrong(whole, "the distance is below zero.", "write within 0.01 of ...")
  list(low = -by, high = by, other = parts[[3]])
}

# A target on the return or edge of a seat or bet without stakes.
refuse_without_stake <- function(game, measure, text) {
  if (measure$word %in% c("mean_pay", "put_in") || is.null(measure$about$kind) || measure$about$kind == "bet")
    return(invisible())
  staked <- puts_in(game, match(measure$about$name, game$seats)) || length(game$money$pots) > 0
  if (!staked && measure_words[[measure$word]]$about != "wallet")
    abort_input("target_wrong", sprintf("`%s`: `%s` puts nothing in.", text, measure$about$name),
                "declare it, as in stakes(guest, 1) or bets(guest, line = 1)")
}

# Two targets on one measure that leave nothing between them.
refuse_contradictions <- function(targets) {
  keys <- vapply(targets, function(t) paste(gsub("\\s", "", c(t$measures, unlist(t$seated))), collapse = " "), "")
  for (key in unique(keys)) {
    alike <- targets[keys == key]
    low <- vapply(alike, `[[`, 0, "low")
    high <- vapply(alike, `[[`, 0, "high")
    if (max(low) > min(high))
      target_wrong(alike[[which.max(low)]]$text, sprintf("this contradicts `%s`.", alike[[which.min(high)]]$text),
                   "no rules can do both: drop one")
  }
  if (all(vapply(targets, `[[`, 0, "weight") == 0))
    target_wrong(targets[[1]]$text, "all weights are zero.", "give one target a weight above zero")
}

# The distance of each value from its target, relative to the target's size, weighted.
target_miss <- function(target, value) {
  miss <- numeric(length(value))
  if (is.finite(target$low)) miss <- pmax(miss, (target$low - value) / size_of_end(target$low))
  if (is.finite(target$high)) miss <- pmax(miss, (value - target$high) / size_of_end(target$high))
  miss[is.na(value)] <- Inf
  ifelse(miss < 1e-9, 0, miss * target$weight)
}

size_of_end <- function(end) if (is.finite(end) && abs(end) > 1e-9) abs(end) else 1

# The distance of each value from the one it is to be near.
target_distance <- function(target, value) {
  if (is.null(target$near)) return(rep(0, length(value)))
  target$weight * abs(value - target$near) / (if (abs(target$near) > 1e-9) abs(target$near) else 1)
}
