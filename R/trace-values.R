# Plays a unit under a watcher: the ground that trace and play stand on. Cells are read as the rules name them.

# A program that stops for who watches.
traced_program <- function(game, set = list(), players = list(), mode = NULL) {
  compile_game(game, set, players, mode, tracing = TRUE)
}

# The values of what lies somewhere, as text: one, or one for each key under the key's name.
traced_values <- function(rules, program, where, ints, reals) {
  one <- function(k) {
    if (is_collection(where$type)) return(collection_text(rules, program, where$list + k, where$type, ints))
    register <- if (is.null(where$register)) where$base + k else where$register
    value_text(rules, if (where$real) reals[[register + 1L]] else ints[[register + 1L]], where$type)
  }
  if (is.null(where$keys)) return(one(0L))
  stats::setNames(vapply(where$keys - where$first, one, ""),
                  vapply(where$keys, value_text, "", rules = rules, type = where$key))
}

# The items of a list.
collection_items <- function(program, list, ints) {
  base <- program$lists[1, list + 1L] + 1L
  ints[base + seq_len(ints[[base]])]
}

collection_text <- function(rules, program, list, type, ints) {
  items <- vapply(collection_items(program, list, ints), value_text, "", rules = rules, type = type$of)
  if (length(items) == 0) "nothing" else paste(items, collapse = ", ")
}

# The value that a mark tells of: list(name, value, seat), `seat` being whose it is.
traced_value <- function(rules, program, mark, ints, reals) {
  shown <- function(register, list) if (is_collection(mark$type))
    collection_text(rules, program, list, mark$type, ints)
      else value_text(rules, if (isTRUE(mark$real)) reals[[register + 1L]] else ints[[register + 1L]], mark$type)
  if (is.null(mark$key) && is.null(mark$key_register))
    return(list(name = mark$name, value = shown(mark$register, mark$list)))
  key <- if (is.null(mark$key)) ints[[mark$key_register + 1L]] else mark$key
  at <- key - mark$first
  list(name = sprintf("%s[%s]", mark$name, value_text(rules, key, mark$key_type)),
       value = shown(mark$base + at, if (!is.null(mark$list_array)) mark$list_array + at), key = key)
}

# A text with its values filled in.
filled_text <- function(rules, program, parts, ints, reals) {
  values <- vapply(parts$values, function(v) {
    if (is_collection(v$type)) collection_text(rules, program, v$list, v$type, ints)
    else value_text(rules, if (v$real) reals[[v$register + 1L]] else ints[[v$register + 1L]], v$type)
  }, "")
  paste0(c(rbind(parts$plain, c(values, ""))), collapse = "")
}

# The legal answers at an ask: list(how, values, low, high, items).
legal_answers <- function(program, ask, ints) {
  read <- function(register) ints[[register + 1L]]
  switch(ask$how,
    labels = list(how = "items",
                  values = ask$ids[ask$flags < 0 | vapply(ask$flags, function(f) f < 0 || read(f) != 0, NA)]),
    list = list(how = "items", values = collection_items(program, ask$list, ints)),
    range = list(how = "range", low = read(ask$low), high = read(ask$high)),
    subsets = {
      items <- collection_items(program, ask$list, ints)
      list(how = "several", values = items,
           at_least = if (is.null(ask$at_least)) 0L else read(ask$at_least),
           at_most = if (is.null(ask$at_most)) length(items) else read(ask$at_most))
    })
}

