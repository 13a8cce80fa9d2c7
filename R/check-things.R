# What is declared at the top of a file: settings, seats, dice, signs, state.

# --- settings ---------------------------------------------------------------

check_setting <- function(cx, name, node) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(declare(cx, name$name, name$at, "setting", type = t_unknown))
  sc <- new_scope("a setting")
  start <- if (args$start$kind == "text") typed("text", t_text, args$start$at, const = TRUE) else value(cx, sc, args$start)
  if (!start$const || !is_kind(start$type, "whole", "fraction", "yesno", "unknown")) {
    report(cx, "setting_type", args$start$at, "A setting starts as a number, or as yes or no.", "write setting(7, from = 1, to = 20)")
    start <- broken(args$start$at)
  }
  ends <- lapply(args[c("from", "to")], function(end) if (!is.null(end)) number_value(cx, sc, end, "The end of a setting's range"))
  names(ends) <- c("from", "to")
  type <- start$type
  if (is_kind(type, "yesno") && !all(vapply(ends, is.null, NA))) {
    report(cx, "setting_type", node$at, sprintf("`%s` is yes or no and has no range.", name$name), "remove from and to")
  }
  if (is_number(type) && any(vapply(ends, function(e) !is.null(e) && is_kind(e$type, "fraction"), NA))) type <- t_fraction
  if (declare(cx, name$name, name$at, "setting", type = type)) {
    cx$settings[[name$name]] <- list(name = name$name, type = type, start = convert(start, type), from = ends$from, to = ends$to, at = name$at)
  }
}

# --- seats ------------------------------------------------------------------

check_seats <- function(cx, node) {
  args <- match_arguments(cx, node)
  for (a in args$dots) {
    if (a$kind != "name") {
      report(cx, "name_wanted", a$at, "A seat is a bare name.", "write seats(left, right)")
      next
    }
    if (declare(cx, a$name, a$at, "seat")) {
      cx$labels <- c(cx$labels, a$name)
      cx$seats <- c(cx$seats, a$name)
    }
  }
  if (length(args$dots) == 0) report(cx, "argument_missing", node$at, "`seats` needs at least one seat.", "write seats(guest)")
}

# --- dice -------------------------------------------------------------------

check_die <- function(cx, name, node) {
  args <- match_arguments(cx, node)
  got <- faces_of(cx, new_scope("a die"), node, args$dots, args$dot_names, "die")
  if (is.null(got)) got <- list(faces = NULL, type = t_unknown)
  if (!is.null(got$faces) && got$faces$how == "range" && !(got$faces$low$const && got$faces$high$const)) {
    report(cx, "not_constant", node$at, "The faces of a die must be numbers or settings.", "for a range that changes in a round write pick(low:high)")
  }
  members <- if (is_kind(got$type, "label")) got$type$members
  if (!is.null(members)) got$type$set <- name$name
  declare(cx, name$name, name$at, "die", faces = got$faces, type = got$type, members = members)
}

# --- signs ------------------------------------------------------------------

check_signs <- function(cx, name, node) {
  args <- match_arguments(cx, node)
  pairs <- list()
  for (a in args$dots) {
    if (a$kind != "call" || !startsWith(a$fn, "%") || length(a$args) != 2 || any(vapply(a$args, `[[`, "", "kind") != "name")) {
      report(cx, "sign_pair", a$at, "A pair of signs is written `winner %verb% loser`.", "write reef %wrecks% boat")
      next
    }
    pairs <- c(pairs, list(list(wins = a$args[[1]], loses = a$args[[2]], verb = gsub("%", "", a$fn), at = a$at)))
  }
  if (length(pairs) == 0) {
    if (length(args$dots) == 0) report(cx, "argument_missing", node$at, "`signs` needs pairs of signs.", vocabulary_word("signs")$example)
    return(declare(cx, name$name, name$at, "signs", members = integer()))
  }
  ids <- integer()
  for (p in pairs) for (sign in p[c("wins", "loses")]) ids <- union(ids, intern_label(cx, sign$name, sign$at))
  ids <- sort(ids)
  n <- length(ids)
  beats <- matrix(0L, n, n)
  verbs <- matrix("", n, n)
  said_at <- list()
  for (p in pairs) {
    i <- match(match(p$wins$name, cx$labels), ids)
    j <- match(match(p$loses$name, cx$labels), ids)
    if (is.na(i) || is.na(j)) next
    if (i == j) {
      report(cx, "sign_itself", p$at, sprintf("`%s` cannot beat itself: equal signs are a draw.", p$wins$name), "remove this pair")
      next
    }
    if (beats[i, j] + beats[j, i] > 0) {
      report(cx, if (beats[i, j] > 0) "sign_pair_twice" else "sign_pair_both_ways", p$at,
             sprintf("`%s` against `%s` was settled before, in line %d.", p$wins$name, p$loses$name, said_at[[paste(min(i, j), max(i, j))]]), "keep one of the two")
      next
    }
    beats[i, j] <- 1L
    verbs[i, j] <- p$verb
    said_at[[paste(min(i, j), max(i, j))]] <- p$at[[1]]
  }
  if (length(pairs) < length(args$dots)) beats[beats + t(beats) == 0] <- 1L  # a pair that could not be read may have said it
  missing <- which(upper.tri(beats) & beats + t(beats) == 0, arr.ind = TRUE)
  for (k in seq_len(nrow(missing))) {
    pair <- cx$labels[ids[missing[k, ]]]
    report(cx, "sign_pair_missing", node$at, sprintf("Who wins, `%s` or `%s`? No pair says.", pair[[1]], pair[[2]]), sprintf("add `%s %%beats%% %s`, or the other way round", pair[[1]], pair[[2]]))
  }
  declare(cx, name$name, name$at, "signs", members = ids, beats = sign_table(beats, ids), verbs = verbs)
}

# As a table over the span of the label ids, row major.
sign_table <- function(beats, ids) {
  span <- seq(min(ids), max(ids))
  table <- matrix(0L, length(span), length(span))
  table[match(ids, span), match(ids, span)] <- beats
  as.integer(t(table))
}

# --- state ------------------------------------------------------------------

check_state <- function(cx, node) {
  args <- match_arguments(cx, node)
  lasts <- lifetime(cx, args$lasts)
  for (i in seq_along(args$dots)) {
    name <- args$dot_names[[i]]
    part <- args$dots[[i]]
    if (!nzchar(name)) {
      report(cx, "name_wanted", part$at, "What is remembered needs a name and its value at the start.", "write state(score = 0)")
      next
    }
    declare_state(cx, name, part, lasts, args$dot_at[[i]])
  }
}

lifetime <- function(cx, node) {
  if (is.null(node)) return("round")
  known <- c("turn", "round", "match", "sitting")
  if (node$kind != "name" || !node$name %in% known) {
    report(cx, "lifetime_unknown", node$at, sprintf("`lasts` is one of %s.", some_of_names(known)), "leave it out for what lasts a round")
    return("round")
  }
  if (node$name %in% c("match", "sitting")) {
    report(cx, "lifetime_wide", node$at, sprintf("Nothing lasts for a %s: this game declares none.", node$name), "write lasts = round, or leave it out")
    return("round")
  }
  node$name
}

declare_state <- function(cx, name, part, lasts, at) {
  sc <- new_scope("the start of what is remembered")
  made <- if (part$kind == "call" && part$fn %in% c("each", "list", "bag")) state_part(cx, sc, part) else list(start = value(cx, sc, part))
  if (is.null(made)) return(declare(cx, name, at, "state", variable = new_variable(cx, name, t_unknown, at, "state")))
  type <- if (is.null(made$type)) made$start$type else made$type
  inner <- if (is_kind(type, "each")) type$of else type
  if (!is_kind(inner, "whole", "fraction", "yesno", "label", "list", "bag", "unknown")) {
    report(cx, "state_type", part$at, sprintf("`%s` cannot be remembered as %s.", name, describe_type(inner)), "start it as a number, yes or no, a label, nobody, a list or a bag")
    type <- t_unknown
  }
  variable <- new_variable(cx, name, type, part$at, "state", key = paste("state", name))
  if (!declare(cx, name, at, "state", variable = variable)) return(invisible())
  cx$state[[name]] <- list(name = name, variable = variable, start = made$start, room = made$room, lasts = lasts, at = part$at)
}

state_part <- function(cx, sc, node) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(NULL)
  if (node$fn == "each") {
    if (!identical(args$what$name, "seat")) report(cx, "each_of", args$what$at, "One value for each seat is written each(seat, ...).", "write each(seat, 0)")
    if (length(cx$seats) == 0) {
      report(cx, "no_seats", node$at, "One value for each seat, and this game has no seats.", "declare them, as in seats(left, right)")
      return(NULL)
    }
    start <- value(cx, sc, args$start)
    return(list(type = t_collection("each", start$type), start = start))
  }
  of <- item_of_collection(cx, args$of)
  room <- value_of(cx, sc, args$room, t_whole, "The room of a list")
  if (!room$const && !is_unknown(room$type)) report(cx, "not_constant", args$room$at, "The room of a list must be a number or a setting.", "write the most that it can ever hold")
  if (is.null(of)) return(NULL)
  list(type = t_collection(node$fn, of), room = room, start = NULL)
}

# list(cube), list(sign), list(1:10), list(seats)
item_of_collection <- function(cx, node) {
  if (node$kind == "name") {
    if (node$name == "seats") return(seat_type(cx))
    d <- cx$names[[node$name]]
    if (!is.null(d$members)) return(t_label(d$name, d$members))
    if (identical(d$kind, "die")) return(d$type)
  }
  if (node$kind == "call" && node$fn == ":") return(t_whole)
  report(cx, "item_kind", node$at, "A list or bag holds faces of a die, signs, seats, or numbers of a range.", "write list(cube, room = 5) or list(1:10, room = 5)")
  NULL
}
