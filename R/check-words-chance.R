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
