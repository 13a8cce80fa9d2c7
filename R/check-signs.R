# Signs: which beats which, for every pair.

check_signs <- function(context, name, node) {
  args <- match_arguments(context, node)
  pairs <- Filter(Negate(is.null), lapply(args$dots, sign_pair, context = context))
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
  if (length(pairs) < length(args$dots)) settled$beats[settled$beats + t(settled$beats) == 0] <- 1L
  else report_unsettled(context, settled$beats, ids, node$at)
  declare(context, name$name, name$at, "signs", members = ids, beats = sign_table(settled$beats, ids),
          verbs = settled$verbs)
}

# winner %verb% loser taken apart, or NULL after reporting.
sign_pair <- function(node, context) {
  if (node$kind != "call" || !startsWith(node$fn, "%") || length(node$args) != 2 ||
      any(vapply(node$args, `[[`, "", "kind") != "name")) {
    report(context, "sign_pair", node$at, "A pair of signs is written `winner %verb% loser`.",
           "write reef %wrecks% boat")
    return(NULL)
  }
  list(wins = node$args[[1]], loses = node$args[[2]], verb = gsub("%", "", node$fn), at = node$at)
}

# Who beats whom, as a matrix over the signs, and the verbs of that.
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
