# Signs: which beats which, for every pair.

check_signs <- function(context, name, node) {
  args <- match_arguments(context, node)
  said <- lapply(args$dots, pairs_said, context = context)
  pairs <- unlist(said, recursive = FALSE)
  if (length(pairs) == 0) {
    if (length(args$dots) == 0)
      report(context, "argument_missing", node$at, "`signs` needs pairs of signs.", vocabulary_word("signs")$example)
    return(declare(context, name$name, name$at, "signs", members = integer()))
  }
  ids <- integer()
  for (p in pairs) for (sign in p[c("wins", "loses")]) ids <- union(ids, intern_label(context, sign$name, sign$at))
  ids <- sort(ids)
  settled <- settled_pairs(context, pairs, ids)
  # A pair that could not be read may have said the rest.
  if (any(vapply(said, is.null, NA))) settled$beats[settled$beats + t(settled$beats) == 0] <- 1L
  else report_unsettled(context, settled$beats, ids, node$at)
  declare(context, name$name, name$at, "signs", members = ids, beats = sign_table(settled$beats, ids),
          verbs = settled$verbs)
}

# The pairs of one argument: winner %verb% loser, or c(...) of either, or a ring. NULL after reporting.
pairs_said <- function(node, context) {
  if (is_call(node, "ring")) return(ring_pairs(context, node))
  sides <- if (node$kind == "call" && startsWith(node$fn, "%") && length(node$args) == 2) lapply(node$args, listed)
  if (is.null(sides) || any(vapply(unlist(sides, recursive = FALSE), `[[`, "", "kind") != "name")) {
    report(context, "sign_pair", node$at, "A pair of signs is written `winner %verb% loser`.",
           "write reef %wrecks% boat, or reef %wrecks% c(boat, raft)")
    return(NULL)
  }
  verb <- gsub("%", "", node$fn)
  unlist(lapply(sides[[1]], function(wins) lapply(sides[[2]], function(loses)
    list(wins = wins, loses = loses, verb = verb, at = node$at))), recursive = FALSE)
}

# ring(a, b, c, d, e, beats = 2, verb = drives): each beats the next two, the last ones the first again.
ring_pairs <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(NULL)
  signs <- args$dots
  n <- length(signs)
  if (n < 3 || any(vapply(signs, `[[`, "", "kind") != "name")) {
    report(context, "ring_wrong", node$at, "A ring names three signs or more.", vocabulary_word("ring")$example)
    return(NULL)
  }
  k <- if (is.null(args$beats)) literal((n - 1) %/% 2, t_whole, node$at)
    else value_of(context, new_scope("a ring"), args$beats, t_whole, "`beats`")
  if (k$op != "lit" || k$value < 1 || 2 * k$value >= n) {
    report(context, "ring_wrong", k$at,
           sprintf("In a ring of %d signs each beats from 1 to %d of the next ones.", n, (n - 1) %/% 2),
           "more of them would beat each other both ways")
    return(NULL)
  }
  verb <- if (is.null(args$verb)) "beats" else label_text(args$verb)
  unlist(lapply(seq_len(n), function(i) lapply(seq_len(k$value), function(step)
    list(wins = signs[[i]], loses = signs[[(i + step - 1) %% n + 1]], verb = verb, at = node$at))), recursive = FALSE)
}

# A matrix over the signs, with which sign beats which, and the verbs.
settled_pairs <- function(context, pairs, ids) {
  beats <- matrix(0L, length(ids), length(ids))
  verbs <- matrix("", length(ids), length(ids))
  line <- matrix(NA_integer_, length(ids), length(ids))
  for (p in pairs) {
    i <- match(match(p$wins$name, context$labels), ids)
    j <- match(match(p$loses$name, context$labels), ids)
    if (is.na(i) || is.na(j)) next
    if (i == j) {
      report(context, "sign_itself", p$at, sprintf("`%s` cannot beat itself: equal signs are a draw.", p$wins$name),
             "remove this pair")
    } else if (!is.na(line[i, j])) {
      report(context, if (beats[i, j] > 0) "sign_pair_twice" else "sign_pair_both_ways", p$at,
             sprintf("`%s` against `%s` was settled before, in line %d.", p$wins$name, p$loses$name, line[i, j]),
             "keep one of the two")
    } else {
      beats[i, j] <- 1L
      verbs[i, j] <- p$verb
      line[i, j] <- line[j, i] <- p$at[[1]]
    }
  }
  list(beats = beats, verbs = verbs)
}

report_unsettled <- function(context, beats, ids, at) {
  missing <- which(upper.tri(beats) & beats + t(beats) == 0, arr.ind = TRUE)
  for (k in seq_len(nrow(missing))) {
    pair <- context$labels[ids[missing[k, ]]]
    report(context, "sign_pair_missing", at,
           sprintf("Who wins, `%s` or `%s`? No pair says.", pair[[1]], pair[[2]]),
           sprintf("add `%s %%beats%% %s`, or the other way round", pair[[1]], pair[[2]]))
  }
}

# As a table over the span of the label ids, row major.
sign_table <- function(beats, ids) {
  span <- seq(min(ids), max(ids))
  table <- matrix(0L, length(span), length(span))
  table[match(ids, span), match(ids, span)] <- beats
  as.integer(t(table))
}
