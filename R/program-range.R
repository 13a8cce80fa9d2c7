# The least and the greatest value that an expression can have, as far as the rules tell; infinite where they do not.
# Values that a sample has not shown are still possible: intervals of means allow for them up to these ends.

no_ends <- c(-Inf, Inf)

# Gives a function from a typed node to c(least, greatest).
range_finder <- function(asm) {
  given <- values_given(asm$rules, asm$question$records)
  known <- new.env(parent = emptyenv())
  of_variable <- function(variable) {
    key <- as.character(variable$id)
    if (!is.null(variable$type$scale)) return(no_ends)  # money is moved in more ways than are looked into here
    if (!is.null(known[[key]])) return(known[[key]])
    known[[key]] <- no_ends  # while it is looked into: what is worked out from itself has no ends
    known[[key]] <- ends_of(given[[key]], of)
  }
  of <- function(node) {
    if (is_kind(node$type, "yesno")) return(c(0, 1))
    ends <- switch(node$op,
      lit = rep(node$value, 2), setting = rep(asm$settings[[node$name]], 2),
      to_fraction = of(node$x), operand = no_ends,
      choose = ends_of(list(node$yes, node$no), of),
      calc = ends_of_calculation(node, of),
      lookup = range(values_of_column(node, asm$settings)),
      lookup2 = range(node$values),
      counter = , turn_number = , size = c(0, Inf),
      fold = if (node$how == "count") c(0, Inf),
      place_of = c(1, length(asm$rules$seats)),
      successes = c(0, of(node$n)[[2]]),
      draw = ends_of_faces(node$faces, of),
      let = of(node$body),
      do = of_variable(node$exit$variable),
      var = , at_key = of_variable(node$var))
    if (is.null(ends) || anyNA(ends)) no_ends else ends
  }
  of
}

ends_of <- function(nodes, of) {
  if (length(nodes) == 0) return(no_ends)
  range(unlist(lapply(nodes, of)))
}

ends_of_faces <- function(faces, of) {
  switch(faces$how, range = c(of(faces$low)[[1]], of(faces$high)[[2]]), values = ends_of(faces$values, of), no_ends)
}

ends_of_calculation <- function(node, of) {
  x <- lapply(node$args, of)
  a <- x[[1]]
  b <- if (length(x) > 1) x[[2]]
  switch(node$fn,
    "+" = a + b, "-" = a - rev(b), neg = -rev(a),
    "*" = { products <- outer(a, b); if (anyNA(products)) no_ends else range(products) },
    min = c(min(a[[1]], b[[1]]), min(a[[2]], b[[2]])), max = c(max(a[[1]], b[[1]]), max(a[[2]], b[[2]])),
    abs = if (a[[1]] <= 0 && a[[2]] >= 0) c(0, max(abs(a))) else range(abs(a)),
    "%%" = if (b[[1]] > 0) c(0, b[[2]] - 1),
    "/" = if (b[[1]] > 0 || b[[2]] < 0) range(outer(a, b, "/")),
    round_down = floor(a), round_up = ceiling(a))
}

# By variable id: every node whose value it is given anywhere.
values_given <- function(rules, records) {
  given <- new.env(parent = emptyenv())
  give <- function(variable, node) {
    key <- as.character(variable$id)
    given[[key]] <- c(given[[key]], list(node))
  }
  for (part in rules$state) if (!is.null(part$start)) give(part$variable, part$start)
  for (d in rules$decisions) give(d$variable, literal(0, t_whole, d$at))
  rules_of_players <- lapply(rules$decisions, function(d) lapply(d$rules, `[[`, "body"))
  walk(list(rules$play, rules$outcomes$entries, rules$pays, records, rules_of_players), function(node) {
    if (node$op == "assign") give(node$target$var, node$value)
    if (node$op == "let") for (b in node$bindings) give(b$var, b$value)
    if (node$op == "for_range") for (end in node$over[c("low", "high")]) give(node$var, end)
    if (node$op == "ask") for (end in node$choices[c("low", "high")]) {
      give(node$var, if (is.null(end)) typed("operand", t_whole, node$at) else end)
    }
    if (node$op %in% c("for_each", "for_items", "turns", "who", "leader", "fold"))
      give(if (is.null(node$var)) node$it else node$var, typed("operand", t_whole, node$at))
  })
  given
}
