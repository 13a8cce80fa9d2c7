# A situation is what a seat sees where it decides: what describes it, and which things explain the answers that are
# given there.

# list(node, me, context) of an expression as a rule of a player would have it, who may look at everything unless it is
# `seen_only`.
situation_asked <- function(question, text, decision, seen_only = FALSE) {
  game <- question$game
  context <- context_of(question)
  scope <- new_scope("a situation")
  scope$me <- scope$chooser <- new_variable(context, "me", seat_type(context), c(1L, 1L, 1L, 1L), "bound",
                                            key = paste("me", text))
  if (seen_only) scope$viewer <- viewer_of(scope$me)
  scope$decision <- game$decisions[[decision]]
  read_locals(context, scope, scope$decision$locals, c(1L, 1L, 1L, 1L))
  node <- check_value(context, scope, parse_expression(text))
  blame_expression(context$diagnostics, text, game$source)
  list(node = node, me = scope$me, context = context)
}

# Sums of what lies in hands and heaps, as expressions: they explain more than the cards one by one.
sums_seen <- function(game, wanted) {
  unlist(lapply(game$state, function(part) {
    type <- part$variable$type
    is_owned <- is_by_seat(type)
    if (is_kind(type, "each")) type <- type$of
    seen <- is_seen_by(part$variable$seen_by, if (is_owned) wanted$seat else 0L, wanted$seat)
    if (isTRUE(part$hidden) || !is_collection(type) || !seen) return(NULL)
    name <- if (is_owned) sprintf("%s[me]", part$name) else part$name
    columns <- if (length(type$of$set) == 1) names(Filter(function(d)
      identical(d$kind, "column") && is_kind(d$type, "whole") && !is.null(d$owners[[type$of$set]]), game$names))
    c(sprintf("size(%s)", name), sprintf("sum(%s)", name),
      if (length(columns) > 0) sprintf("sum(%s, %s)", name, columns))
  }))
}

most_observed <- 10000  # decisions; then it is enough

most_situations <- 400

# The names of the one or two things that explain the answers best; none where they are always the same. `weight`: how
# often each was watched.
explaining <- function(answers, things, weight = rep(1, length(answers))) {
  things <- things[vapply(things, function(x) !anyNA(x) && length(unique(x)) > 1 &&
                          length(unique(x)) <= most_situations, NA)]
  things <- things[order(!vapply(things, function(x) is.numeric(as_seen(x)), NA))]  # of two alike the number
  entropy <- function(situation) entropy_given(answers, situation, weight)
  whole <- entropy(rep("", length(answers)))
  if (length(things) == 0 || whole == 0) return(character())
  alone <- vapply(things, entropy, 0)
  first <- names(which.min(alone))
  if (alone[[first]] > 0.97 * whole) return(character())
  rest <- setdiff(names(things), first)
  both <- vapply(rest, function(name) entropy(paste(things[[first]], things[[name]])), 0)
  if (length(both) > 0 && min(both) < alone[[first]] - 0.1 * whole) c(first, rest[[which.min(both)]]) else first
}

# Of the answers given the situation, in nats, with what as many situations would explain by luck alone added.
entropy_given <- function(answers, situation, weight) {
  n <- sum(weight)
  counts <- stats::xtabs(weight ~ situation + answers)
  p <- counts / rowSums(counts)
  plain <- -sum(counts * ifelse(p > 0, log(p), 0)) / n
  plain + (nrow(counts) - 1) * (ncol(counts) - 1) * log(n) / (2 * n)
}

# Texts of numbers as numbers.
as_seen <- function(texts) {
  numbers <- suppressWarnings(as.numeric(texts))
  if (anyNA(numbers[!is.na(texts)])) texts else numbers
}

most_situations_shown <- 40

# Neighbouring numbers at which the player does the same are one row: list(texts, met, shares).
like_situations <- function(x) {
  rows <- x$rows
  n <- length(unique(rows$answer))
  k <- length(x$by)
  groups <- lapply(seq_len(nrow(rows) / n), function(i) {
    block <- rows[(i - 1) * n + seq_len(n), ]
    list(values = lapply(x$by, function(name) block[[name]][[1]]), met = block$met[[1]], shares = block$share,
         times = sum(block$times), ends = if (k > 0) rep(block[[x$by[[k]]]][[1]], 2))
  })
  merged <- list()
  for (g in groups) {
    last <- if (length(merged) > 0) merged[[length(merged)]]
    if (!is.null(last) && alike(last, g, k)) {
      all <- last$times + g$times
      last$shares <- (last$shares * last$times + g$shares * g$times) / all
      last$times <- all
      last$met <- last$met + g$met
      last$ends[[2]] <- g$ends[[2]]
      merged[[length(merged)]] <- last
    } else merged <- c(merged, list(g))
  }
  lapply(merged, function(g) {
    texts <- vapply(g$values, function(v) if (is.numeric(v)) plain_number(v) else v, "")
    if (k > 0 && g$ends[[1]] != g$ends[[2]]) texts[[k]] <- sprintf("%s to %s", plain_number(g$ends[[1]]),
                                                                   plain_number(g$ends[[2]]))
    g$texts <- texts
    g
  })
}

# The same but for the last thing, which is a number, and no difference beyond three errors.
alike <- function(a, b, k) {
  if (k == 0 || !is.numeric(b$ends) || !identical(a$values[-k], b$values[-k])) return(FALSE)
  p <- (a$shares * a$times + b$shares * b$times) / (a$times + b$times)
  error <- sqrt(p * (1 - p) * (1 / a$times + 1 / b$times))
  which.max(a$shares) == which.max(b$shares) && all(abs(a$shares - b$shares) <= 3 * error + 1e-9)
}
