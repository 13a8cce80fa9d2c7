# Writes the places of values by key.

# The number of a place among several axes: each key looked up in a table of its share, which fails outside.
write_cell <- function(asm, node, shares = key_shares(axes_now(asm, node$axes))) {
  fixed <- 0L
  sum <- NULL
  for (k in seq_along(node$keys)) {
    key <- write_value(asm, node$keys[[k]])
    known <- if (!is.null(key$const)) shares[[k]]$values[key$const - shares[[k]]$first + 1L]
    if (length(known) == 1 && !is.na(known)) fixed <- fixed + known
    else sum <- write_sum(asm, sum, write_share(asm, node$at, key, shares[[k]]))
  }
  if (is.null(sum)) fixed_place(fixed) else write_offset(asm, sum, fixed)
}

# For each axis what its keys add to the number of a place: list(first, values), NA for what is no key.
key_shares <- function(axes) {
  sizes <- lengths(lapply(axes, `[[`, "keys"))
  strides <- rev(cumprod(c(1L, rev(sizes)))[seq_along(sizes)])
  Map(function(axis, stride) {
    first <- min(axis$keys)
    values <- rep(NA_integer_, max(axis$keys) - first + 1L)
    values[axis$keys - first + 1L] <- (seq_along(axis$keys) - 1L) * as.integer(stride)
    list(first = first, values = values)
  }, axes, strides)
}

# A number that is no key leads outside all places, so that what reads there fails.
write_share <- function(asm, at, key, shares) {
  values <- ifelse(is.na(shares$values), most_places, shares$values)
  target <- new_register(asm, FALSE)
  table <- new_table(asm, shares$first, length(values), values)
  at_place(asm, at, function() emit(asm, "TAB", target$register, register_of(asm, key), table))
  target
}

write_sum <- function(asm, a, b) {
  if (is.null(a)) return(b)
  target <- new_register(asm, FALSE)
  emit(asm, "ADD", target$register, register_of(asm, a), register_of(asm, b))
  target
}

# The places of an `each`, or of a row of it, in order: functions that give the operand of each. Those of seats that
# nobody takes are left out.
places_of <- function(asm, over) {
  slot <- slot_of(asm, over$var, past_room)
  if (over$op != "slice")
    return(lapply(keys_taken(asm, over$type$axes),
                  function(key) function() place_at(asm, over, slot, fixed_place(key))))
  fixed <- !vapply(over$keys, is.null, NA)
  axes <- axes_now(asm, over$axes)
  shares <- key_shares(axes)
  start <- write_cell(asm, list(keys = over$keys[fixed], at = over$at), shares[fixed])
  offsets <- sums_along(asm, axes[!fixed], shares[!fixed])
  lapply(offsets, function(offset) function() place_at(asm, over, slot, write_offset(asm, start, offset)))
}

# The axes with the keys that they have by the settings; with all where the settings change in a match.
axes_now <- function(asm, axes) {
  if (isTRUE(asm$widest)) return(axes)
  lapply(axes, function(axis) {
    if (is.null(axis$low)) return(axis)
    ends <- c(write_value(asm, axis$low)$const, write_value(asm, axis$high)$const)
    axis$keys <- axis$keys[axis$keys >= ends[[1]] & axis$keys <= ends[[2]]]
    axis
  })
}

# Without the seats that nobody takes.
axes_taken <- function(asm, axes) {
  lapply(axes_now(asm, axes), function(axis) {
    if (is_seat_axis(axis)) axis$keys <- utils::head(axis$keys, seats_taken(asm))
    axis
  })
}

# The numbers of all places along these axes, the last one going fastest.
sums_along <- function(asm, axes, shares) {
  steps <- Map(function(axis, shares) shares$values[axis$keys - shares$first + 1L], axes_taken(asm, axes), shares)
  along_axes(steps, `+`)
}


fixed_place <- function(key) fixed_operand(key, t_whole)

write_offset <- function(asm, start, offset) {
  if (!is.null(start$const)) return(fixed_place(start$const + offset))
  if (offset == 0) start else write_sum(asm, start, fixed_place(offset))
}

# The numbers of the places whose seats are taken.
keys_taken <- function(asm, axes) {
  if (is_numbered_by_key(axes)) axes_taken(asm, axes)[[1]]$keys
  else sums_along(asm, axes, key_shares(axes_now(asm, axes)))
}

# The index of the place, from 0, if it is known while compiling.
known_place <- function(slot, key) {
  k <- key$const - slot$first
  if (length(k) == 1 && k >= 0 && k < slot$size) as.integer(k)
}

# The operand of a place: its register or list, or a copy where its number is known only in the round.
place_at <- function(asm, over, slot, key, into = NULL) {
  k <- known_place(slot, key)
  if (!is.null(slot$list_array)) {
    if (!is.null(k)) return(list(list = slot$list + k))
    copy <- new_list(asm, slot$room)
    at_place(asm, over$at, function() emit(asm, "LFROM", copy$list, register_of(asm, key), slot$list_array))
    return(list(list = copy$list))
  }
  if (!is.null(k)) return(in_register(slot$base + k, slot$real))
  target <- result_register(asm, into, slot$real)
  at_place(asm, over$at,
           function() emit(asm, if (slot$real) "DLDX" else "LDX", target$register, register_of(asm, key), slot$array))
  target
}
