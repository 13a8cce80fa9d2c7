# Sets of items that a game declares: names with columns, the columns of cards, letters, signs. What a set
# holds is its members (label ids); columns are looked up by the item.

# --- names(...), with columns -------------------------------------------------

check_names_thing <- function(context, name, node) {
  args <- match_arguments(context, node)
  is_column <- nzchar(args$dot_names)
  is_crossed <- vapply(args$dots, is_call, NA, fn = "for_each")
  crossed <- crossed_names(context, args$dots[is_crossed])
  ids <- c(crossed$ids, unlist(lapply(args$dots[!is_column & !is_crossed], listed_names, context = context)))
  ids <- stats::na.omit(as.integer(ids))
  if (length(ids) == 0)
    report(context, "argument_missing", node$at, "`names` needs names.", vocabulary_word("names")$example)
  if (anyDuplicated(ids))
    report(context, "argument_twice", node$at,
           sprintf("`%s` is listed twice.", context$labels[[ids[[anyDuplicated(ids)]]]]), "keep one")
  if (!declare(context, name$name, name$at, "names", members = sort(ids), order = ids)) return(invisible())
  for (column in names(crossed$columns))
    declare_column(context, column, name$at, name$name, crossed$ids, crossed$columns[[column]])
  for (k in which(is_column)) {
    column <- column_values(context, args$dots[[k]], length(ids))
    if (!is.null(column)) declare_column(context, args$dot_names[[k]], args$dot_at[[k]], name$name, ids, column)
  }
}

# A name, a number, or a range of numbers as a name each: the ids of the labels.
listed_names <- function(context, node) {
  numbers <- literal_range(node)
  texts <- if (is.null(numbers)) label_text(node) else as.character(numbers)
  if (is.null(texts))
    report(context, "name_wanted", node$at, "`names` takes names, or numbers.",
           if (node$kind == "call" && node$fn %in% c("those", "c", "-"))
             "what is worked out from another set is a function: small <- function() those(sign, it != reef)"
           else vocabulary_word("names")$example)
  vapply(texts, function(text) as.integer(intern_label(context, text, node$at)), 1L, USE.NAMES = FALSE)
}

# names(for_each(many = 1:6), for_each(face = 1:6)): a name for each pair, "3 2" for three of face two, with its parts
# as columns. list(ids, columns)
crossed_names <- function(context, parts) {
  crossed <- unlist(lapply(parts, crossed_columns, context = context), recursive = FALSE)
  if (length(crossed) == 0) return(NULL)
  rows <- cross_rows(list(columns = list(), n = 1L), crossed)
  texts <- do.call(paste, unname(lapply(rows$columns, function(column) as.character(column$values))))
  if (length(texts) > max_kinds) {
    report(context, "names_many", parts[[1]]$at,
           sprintf("This makes %d names; the most is %d.", length(texts), max_kinds),
           "ask for the parts one after the other")
    return(NULL)
  }
  ids <- vapply(texts, function(text) as.integer(intern_label(context, text, parts[[1]]$at)), 1L, USE.NAMES = FALSE)
  list(ids = ids, columns = rows$columns)
}

# --- columns --------------------------------------------------------------------

# The values of one column, `n` of them or one for all: list(label, values), values being texts or
# whole numbers.
# list(label, values, at): numbers or names. A number that is a setting's bears the setting's name; where a range goes
# up to a setting, `taken` says of each number whether it is there.
column_values <- function(context, node, n = NULL) {
  parts <- list()
  taken <- NULL
  for (a in listed(node)) {
    if (a$kind == "call" && a$fn == ":" && all(vapply(a$args, `[[`, "", "kind") == "number")) {
      parts <- c(parts, as.list(seq(a$args[[1]]$value, a$args[[2]]$value)))
    } else if (a$kind == "number" && !a$fraction) {
      parts <- c(parts, list(a$value))
    } else if (a$kind == "call" && a$fn == "-" && length(a$args) == 1 && a$args[[1]]$kind == "number") {
      parts <- c(parts, list(-a$args[[1]]$value))
    } else if (is_call(a, ":") && is.null(taken) && length(listed(node)) == 1) {
      ends <- range_of_settings(context, new_scope("a column"), a)
      if (is.null(ends)) return(NULL)
      parts <- as.list(ends$keys)
      taken <- lapply(ends$keys, function(k) calculation("&&", t_yesno, a$at, list(
        calculation("<=", t_yesno, a$at, list(ends$low, literal(k, t_whole, a$at))),
        calculation("<=", t_yesno, a$at, list(literal(k, t_whole, a$at), ends$high)))))
    } else if (a$kind == "name" && is_whole_setting(context, a$name)) {
      parts <- c(parts, stats::setNames(list(0), a$name))
    } else if (a$kind %in% c("name", "text")) parts <- c(parts, list(label_text(a)))
    else {
      report(context, "column_value", a$at, "A column holds whole numbers or names.",
             "write c(2:10, J, Q, K, A), or 1:8")
      return(NULL)
    }
  }
  if (!is.null(n) && !length(parts) %in% c(1L, n)) {
    report(context, "column_length", node$at,
           sprintf("This column has %d values, and there are %d to fill.", length(parts), n),
           "give one value for each, or one for all")
    return(NULL)
  }
  if (!is.null(n)) parts <- rep(parts, length.out = n)
  is_label <- any(vapply(parts, is.character, NA))
  list(label = is_label, values = if (is_label) vapply(parts, as.character, "")
    else vapply(parts, as.numeric, 0), at = node$at, taken = taken)
}

is_whole_setting <- function(context, name) {
  d <- context$names[[name]]
  !is.null(d) && d$kind == "setting" && is_kind(d$type, "whole")
}

# Makes a column known under its name: `keys` are the items, `column` their values.
declare_column <- function(context, name, at, owner, keys, column) {
  values <- column$values
  if (column$label)
    values <- vapply(values, function(text) if (text == "none") 0L
      else intern_label(context, text, column$at), 1L, USE.NAMES = FALSE)
  if (anyNA(values)) return(invisible())
  order <- setdiff(unique(values), 0)
  type <- if (column$label) t_label(name, sort(order), none = 0 %in% values, order = order) else t_whole
  before <- context$names[[name]]
  if (is.null(before)) {
    if (!declare(context, name, at, "column", type = type, owners = list())) return(invisible())
  } else if (before$kind != "column") {
    return(declare(context, name, at, "column"))
  } else if (before$type$kind != type$kind) {
    return(report(context, "name_twice", at,
                  sprintf("The column `%s` holds another kind of value in line %d.", name, before$at[[1]]),
                  "choose another name for one of them"))
  } else if (column$label) {
    context$names[[name]]$type <- t_label(name, sort(union(before$type$members, order)), type$none || before$type$none,
                                          union(before$type$order, order))
  }
  context$names[[name]]$owners[[owner]] <- list(keys = keys, values = as.numeric(values), type = type,
                                                settings = if (is.null(names(values))) "" else names(values))
}

# The column of an item: a lookup, or NULL where the item has no such column.
column_of <- function(context, column, item, at) {
  owner <- owner_of(context, column, item$type)
  if (is.null(owner)) return(NULL)
  span <- seq(min(owner$keys), max(owner$keys))
  values <- integer(length(span))
  values[match(owner$keys, span)] <- owner$values
  settings <- rep("", length(span))
  settings[match(owner$keys, span)] <- owner$settings
  value <- typed("lookup", owner$type, at, x = item, first = span[[1]], values = values, const = item$const,
                 settings = if (any(nzchar(settings))) settings)
  # Beyond the span there is no value. What is in between, and has none, stops the round too.
  without <- setdiff(intersect(item$type$members, span), owner$keys)
  if (length(without) == 0) return(value)
  differs <- lapply(without, function(id) calculation("!=", t_yesno, at, list(item, literal(id, item$type, at))))
  typed("choose", owner$type, at, cond = Reduce(function(a, b) calculation("&&", t_yesno, at, list(a, b)), differs),
        yes = value, no = typed("fail", owner$type, at, id = "position_outside"))
}

owner_of <- function(context, column, type) {
  if (type$kind == "card") return(column$owners[[type$set]])
  if (type$kind != "label") return(NULL)
  for (owner in names(column$owners)) {
    members <- context$names[[owner]]$members
    if (!is.null(members) && length(type$members) > 0 && any(type$members %in% members)) return(column$owners[[owner]])
  }
  NULL
}

# rank, where the item at hand has a rank
bare_column <- function(context, scope, d, at) {
  v <- if (!is.null(scope$it)) column_of(context, d, read_variable(context, scope, scope$it, at), at)
  if (!is.null(v)) return(v)
  report(context, "column_of_what", at, sprintf("`%s` is a column: of which item?", d$name),
         sprintf("write %s(card), or use it inside a word about items, as in count(hand, %s == ...)", d$name, d$name))
  broken(at)
}

# rank(card)
column_call <- function(context, scope, node, d) {
  if (!operand_count(context, node, 1)) return(broken(node$at))
  item <- check_value(context, scope, node$args[[1]])
  if (is_unknown(item$type)) return(broken(node$at))
  v <- column_of(context, d, item, node$at)
  if (!is.null(v)) return(v)
  report(context, "column_of_what", node$args[[1]]$at,
         sprintf("`%s` is a column of %s, and this is %s.", d$name, some_of_names(names(d$owners)),
                 describe_type(item$type)), "give an item that has it")
  broken(node$at)
}

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
