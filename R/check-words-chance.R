# The words of chance: roll, pick, chance.
# Each word that gives a value has one function, named value_<word>.

value_roll <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  die <- declared_thing(context, args$die, "die")
  if (is.null(die) || !may_draw(context, scope, node)) return(broken(node$at))
  if (!is.null(scope$chooser)) {
    report(context, "draw_here", node$at, "A player's rule cannot roll the dice of the game.",
           "use pick(...) or chance(p): a player's own chance")
    return(broken(node$at))
  }
  if (!is.null(args$n)) return(rolled_collection(context, scope, node, die, args$n))
  draw_from(die$faces, die$type, node$at, die$name)
}

# A draw from faces: a range, or values with or without weights.
draw_from <- function(faces, type, at, source) typed("draw", type, at, faces = faces, source = source)

value_pick <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  source <- pick_source(context, scope, node)
  if (is.null(source)) return(broken(node$at))
  dots <- args$dots
  if (length(dots) == 1 && identical(dots[[1]]$name, "choices") && !is.null(scope$decision) &&
      !nzchar(args$dot_names[[1]])) {
    return(typed("pick_choices", scope$decision$type, node$at, source = source))
  }
  got <- faces_of(context, scope, node, dots, args$dot_names, "pick")
  if (is.null(got)) return(broken(node$at))
  if (nzchar(source)) register_pick(context, source, got, node$at)
  draw_from(got$faces, got$type, node$at, source)
}

value_chance <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  p <- number_value(context, scope, args$p, "A probability")
  source <- pick_source(context, scope, node)
  if (is.null(source) || is_unknown(p$type)) return(broken(node$at))
  if (nzchar(source)) register_pick(context, source, list(faces = list(how = "chance"), type = t_yesno), node$at)
  typed("chance", t_yesno, node$at, p = convert(p, t_fraction), source = source)
}

# successes(n, p): how many of n tries come off, each with probability p
value_successes <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  n <- value_of(context, scope, args$n, t_whole, "The number of tries")
  p <- number_value(context, scope, args$p, "A probability")
  source <- pick_source(context, scope, node)
  if (is.null(source) || is_unknown(n$type) || is_unknown(p$type)) return(broken(node$at))
  if (nzchar(source)) register_pick(context, source, list(faces = list(how = "successes"), type = t_whole), node$at)
  typed("successes", t_whole, node$at, n = n, p = convert(p, t_fraction), source = source)
}

# roll(cube, 5)
rolled_collection <- function(context, scope, node, die, n) {
  number <- value_of(context, scope, n, t_whole, "The number of dice")
  typed("collection_roll", t_collection("bag", die$type), node$at, faces = die$faces, source = die$name, n = number)
}

# What chance is drawn from: the faces of a die, what a pick picks from, and the stream that it draws by.

# The stream that a pick draws from: a player's own, or the name that the answer is given in play.
pick_source <- function(context, scope, node) {
  if (!may_draw(context, scope, node)) return(NULL)
  if (!is.null(scope$chooser)) return("")
  if (is.null(scope$assigning)) {
    report(context, "pick_unnamed", node$at,
           sprintf("The answer of `%s` needs a name here, so that an example can force it.", node$fn),
           sprintf("write `lamp <- %s(...)` on a line of its own", node$fn))
    return(NULL)
  }
  scope$assigning
}

register_pick <- function(context, source, got, at) {
  before <- context$picks[[source]]
  if (is.null(before)) context$picks[[source]] <- list(name = source, faces = got$faces, type = got$type, at = at)
  else if (!identical(before$at, at) && !identical(before$faces$how, got$faces$how)) {
    report(context, "pick_twice", at, sprintf("`%s` is picked in another way in line %d.", source, before$at[[1]]),
           "give one of them another name")
  }
}

# The faces of a die or a pick: list(faces, type), faces being
#   how = "range", low, high                   whole numbers, both ends included
#   how = "values", values, weights (or NULL)  typed constants
faces_of <- function(context, scope, node, dots, names, what) {
  if (length(dots) == 0) {
    report(context, "argument_missing", node$at, sprintf("`%s` needs something to choose from.", what),
           sprintf("write it like this: %s", vocabulary_word(what)$example))
    return(NULL)
  }
  # Faces may stand in c(...), with their weights as well.
  listed <- length(dots) == 1 && is_call(dots[[1]], "c") && !any(nzchar(names))
  if (listed && (what == "die" || length(dots[[1]]$args) < 2 || any(nzchar(dots[[1]]$names)))) {
    names <- dots[[1]]$names
    dots <- dots[[1]]$args
  }
  if (any(nzchar(names))) return(weighted_faces(context, scope, node, dots, names, what))
  if (length(dots) == 1 && is_call(dots[[1]], "-") && all(vapply(dots[[1]]$args, `[[`, "", "kind") == "number") &&
      length(dots[[1]]$args) == 2) {
    ends <- vapply(dots[[1]]$args, `[[`, 0, "value")
    report(context, "habit_range_minus", dots[[1]]$at, sprintf("This is one number, %s, and no range.",
                                                               plain_number(ends[[1]] - ends[[2]])),
           sprintf("write a colon: %s(%s:%s)", what, plain_number(ends[[1]]), plain_number(ends[[2]])))
    return(NULL)
  }
  if (length(dots) == 1) {
    v <- if (what == "pick") collection_value(context, scope, dots[[1]], quiet = TRUE)
      else face_value(context, scope, dots[[1]], what)
    if (is.null(v)) return(NULL)
    if (v$op == "seats")
      return(list(faces = list(how = "range", low = literal(1, t_whole, v$at), high = seats_count(context, v$at)),
                  type = seat_type(context)))
    if (v$type$kind == "range")
      return(list(faces = list(how = "range", low = v$low, high = v$high), type = item_type(v$type)))
    if (v$op == "collection_of" && all(vapply(v$values, `[[`, NA, "const")) && length(v$values) > 0)
      return(list(faces = list(how = "values", values = v$values, weights = NULL), type = v$type$of))
    if (is_collection(v$type) && what == "pick")
      return(list(faces = list(how = "collection", collection = v), type = v$type$of))
    values <- list(v)
  } else values <- do.call(c, lapply(dots, function(dot) range_values(face_value(context, scope, dot, what))))
  if (what == "die") values <- faces_as_labels(context, values, node$at)
  type <- Reduce(function(a, b) if (is.null(a)) NULL else join_types(a, b), lapply(values, `[[`, "type"))
  if (all(vapply(values, function(v) is_kind(v$type, "label"), NA))) {
    members <- unlist(lapply(values, function(v) v$type$members))
    type <- t_label(values[[1]]$type$set, sort(unique(members)))
  }
  if (is.null(type) || !(is_kind(type, "whole", "label", "yesno") || is_unknown(type))) {
    report(context, "faces_mixed", node$at,
           sprintf("The choices of `%s` must be whole numbers, or labels, all of one kind.", what),
           "keep numbers and labels apart")
    return(NULL)
  }
  if (!all(vapply(values, `[[`, NA, "const"))) {
    report(context, "not_constant", node$at,
           sprintf("The values in this `%s` must be numbers, settings or labels.", what),
           "for values that change in a round write pick(low:high), or pick a position")
    return(NULL)
  }
  list(faces = list(how = "values", values = values, weights = NULL), type = type)
}

# Faces that mix numbers and names are all names: die(1:20, ember).
faces_as_labels <- function(context, values, at) {
  is_label <- vapply(values, function(v) is_kind(v$type, "label"), NA)
  is_number <- vapply(values, function(v) v$op == "lit" && is_kind(v$type, "whole"), NA)
  if (!any(is_label) || !any(is_number) || !all(is_label | is_number)) return(values)
  lapply(values, function(v) if (is_kind(v$type, "label")) v
    else label_value(context, intern_label(context, as.character(v$value), at), v$at))
}

# A range among other faces is its numbers, where both its ends are written out.
range_values <- function(v) {
  if (!is_kind(v$type, "range") || v$low$op != "lit" || v$high$op != "lit" || v$high$value < v$low$value ||
      v$high$value - v$low$value >= max_room) return(list(v))
  lapply(seq(v$low$value, v$high$value), literal, t_whole, v$at)
}

# On a die a bare name that nothing else bears is a face of its own.
face_value <- function(context, scope, node, what) {
  if (what == "die" && node$kind == "name" && is.null(context$names[[node$name]]) &&
      is.null(vocabulary_word(node$name))) {
    return(label_value(context, intern_label(context, node$name, node$at), node$at))
  }
  set <- if (what == "die" && node$kind == "name") set_named(context, node$name)
  if (is_kind(if (is.null(set)) t_unknown else set$type, "label") && node$name != "seats")
    return(set_collection(context, set, node$at))
  if (what == "die" && node$kind == "text") {
    id <- intern_label(context, node$value, node$at)
    return(if (is.na(id)) broken(node$at) else label_value(context, id, node$at))
  }
  check_value(context, scope, node)
}

weighted_faces <- function(context, scope, node, dots, names, what) {
  if (!all(nzchar(names))) {
    report(context, "weights_partly", node$at, "Some of these have a weight and some have none.",
           "give each one a weight, as in reef = 3, or none")
    return(NULL)
  }
  weights <- lapply(dots, number_value, context = context, scope = scope, what = "A weight")
  ids <- integer()
  for (i in seq_along(names)) {
    if (what == "die") id <- intern_label(context, names[[i]], dots[[i]]$at)
    else {
      id <- match(names[[i]], context$labels)
      if (is.na(id))
        report(context, "unknown_name", dots[[i]]$at, sprintf("`%s` is not a label this game knows.", names[[i]]),
               or_spelling(did_you_mean(names[[i]], context$labels)))
    }
    ids <- c(ids, id)
  }
  if (anyDuplicated(names))
    report(context, "argument_twice", node$at, sprintf("`%s` has two weights.", names[[anyDuplicated(names)]]),
           "keep one")
  if (!all(vapply(weights, `[[`, NA, "const"))) {
    report(context, "not_constant", node$at, "Weights must be numbers or settings.",
           "for chances that change in a round use chance(p)")
    return(NULL)
  }
  if (anyNA(ids)) return(NULL)
  values <- lapply(ids, label_value, context = context, at = node$at)
  set <- if (what == "die") names[[1]] else set_of_label(context, ids[[1]])
  list(faces = list(how = "values", values = values, weights = weights), type = t_label(set, sort(ids)))
}
