# Writes draws out as code, and says which raw value of a draw shows which face.

write_draw <- function(em, faces, source, into) {
  target <- result_cell(em, into, FALSE)
  from <- source_index(em, chance_source(em, source))
  if (faces$how == "range") {
    low <- write_value(em, faces$low)
    emit(em, "DRAW", target$cell, from, cell_of(em, low), cell_of(em, range_count(em, low, write_value(em, faces$high), faces$low$at)))
    return(target)
  }
  if (faces$how == "pool") {
    pool <- write_pool(em, faces$pool)
    emit(em, "DRAWL", target$cell, from, pool)
    return(target)
  }
  plan <- face_plan(em, faces)
  if (!is.null(plan$weights)) {
    em$weights[[length(em$weights) + 1L]] <- plan$weights
    emit(em, "DRAWW", target$cell, from, length(em$weights) - 1L)
  } else emit(em, "DRAW", target$cell, from, int_const(em, plan$low), int_const(em, length(plan$values)))
  if (plan$mapped) emit(em, "TAB", target$cell, target$cell, new_table(em, 1L, length(plan$values), plan$values))
  target
}

# A pick in a player's rule draws from the chance of the seat that answers.
chance_source <- function(em, source) if (nzchar(source)) source else paste("chance of", em$rules$seats[[em$chooser]])

range_count <- function(em, low, high, at = em$places$get(em$at + 1L)) {
  if (!is.null(low$const) && !is.null(high$const)) {
    if (high$const < low$const) {
      program_problem(em, "range_empty", at, sprintf("There is nothing from %d to %d.", as.integer(low$const), as.integer(high$const)), "the lower end comes first; check the settings")
      return(fixed_operand(1, t_whole))
    }
    return(fixed_operand(high$const - low$const + 1, t_whole))
  }
  count <- new_cell(em, FALSE)
  emit(em, "SUB", count$cell, cell_of(em, high), cell_of(em, low))
  emit(em, "ADD", count$cell, count$cell, int_const(em, 1L))
  count
}

# values, weights (NULL when even), whether the raw draw must be looked up, and where it starts.
face_plan <- function(em, faces) {
  values <- vapply(faces$values, function(v) write_value(em, v)$const, 0)
  weights <- NULL
  if (!is.null(faces$weights)) {
    weights <- vapply(faces$weights, function(w) as.numeric(write_value(em, w)$const), 0)
    at <- faces$weights[[1]]$at
    if (any(weights < 0)) program_problem(em, "weights_wrong", at, "A weight is below zero.", "weights are 0 or more")
    else if (sum(weights) <= 0) program_problem(em, "weights_wrong", at, "All weights are zero.", "give one of them a weight")
    if (any(weights < 0) || sum(weights) <= 0) weights <- rep(1, length(weights))
  }
  in_row <- all(diff(values) == 1)
  list(values = values, weights = weights, low = if (in_row && is.null(weights)) values[[1]] else 1,
       mapped = if (is.null(weights)) !in_row else !identical(as.numeric(values), as.numeric(seq_along(values))))
}

# The raw draw that shows a face, or NA when none does.
raw_draw <- function(em, faces, value) {
  if (faces$how %in% c("range", "chance", "pool", "card", "successes")) return(value)
  plan <- face_plan(em, faces)
  k <- match(value, plan$values)
  if (is.null(plan$weights) && !plan$mapped) k + plan$low - 1 else k
}

write_chance <- function(em, node, into) {
  p <- write_value(em, node$p)
  if (!is.null(p$const) && (p$const < 0 || p$const > 1)) {
    program_problem(em, "probability_wrong", node$at, sprintf("A probability lies between 0 and 1; this one is %s.", format(p$const)), "write 0.25 for one in four")
    return(fixed_operand(0, t_yesno))
  }
  target <- result_cell(em, into, FALSE)
  emit(em, "DRAWP", target$cell, source_index(em, chance_source(em, node$source)), cell_of(em, p))
  target
}

most_trials <- 100000L  # as in the core

write_successes <- function(em, node, into) {
  n <- write_value(em, node$n)
  p <- write_value(em, node$p)
  if (!is.null(n$const) && (n$const < 0 || n$const > most_trials)) {
    program_problem(em, "tries_wrong", node$at, sprintf("`successes` takes from 0 to %d tries, not %s.", most_trials, plain_number(n$const)), "check the number of tries, or give them in several goes")
    return(fixed_operand(0, t_whole))
  }
  target <- result_cell(em, into, FALSE)
  emit(em, "DRAWN", target$cell, source_index(em, chance_source(em, node$source)), cell_of(em, n), cell_of(em, p))
  target
}

# What a raw draw of a source shows, as text.
drawn_text <- function(rules, program, source, raw) {
  thing <- rules$names[[source]]
  if (identical(thing$kind, "deck")) return(thing$card_names[[raw]])
  faces <- if (identical(thing$kind, "die")) thing$faces else rules$picks[[source]]$faces
  type <- if (identical(thing$kind, "die")) thing$type else rules$picks[[source]]$type
  if (is.null(faces)) return(format(raw))
  if (faces$how == "values") {
    em <- new_assembler(rules, program$settings)
    plan <- face_plan(em, faces)
    raw <- if (is.null(plan$weights) && !plan$mapped) raw else plan$values[[raw]]
  }
  value_text(rules, raw, type)
}
