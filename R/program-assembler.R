# The assembler: collects operations, cells, tables and places while checked rules are written out
# as flat code. Operands are lists: `const` (a value known now) or `cell`, and `real`.

new_assembler <- function(rules, settings) {
  em <- new.env(parent = emptyenv())
  em$rules <- rules
  em$settings <- settings
  em$code <- growing(list())  # operations: code, four operands, place
  em$size <- 0L               # operations that count; one taken back is written over by the next
  em$label_at <- growing(integer())
  em$int_start <- growing(integer())
  em$real_start <- growing(double())
  em$int_consts <- new.env(parent = emptyenv())
  em$real_consts <- new.env(parent = emptyenv())
  em$vars <- new.env(parent = emptyenv())   # variable id -> where it lies
  em$bound <- new.env(parent = emptyenv())  # variable id -> operand, where it is known
  em$arrays <- growing(list())
  em$lists <- growing(list())
  em$families <- growing(list())
  em$tables <- growing(list())
  em$weights <- list()
  em$sources <- character()
  em$places <- growing(list())
  em$place_index <- new.env(parent = emptyenv())
  em$at <- 0L
  em$deferred <- list()
  em$exits <- new.env(parent = emptyenv())  # variable id of a body's answer -> label behind the body
  em$loops <- list()
  em$problems <- list()
  em$counted <- rules$counted
  em$counters <- list()
  em$decks <- list()
  em$asks <- list()
  em$recalls <- 0L
  em$var_types <- new.env(parent = emptyenv())  # variable id -> type
  em$plain <- integer()   # cells that count, and never hold a seat
  em$seated <- list()  # by seat: the cell that tells which of several players sits there
  em$marks <- list()
  em$turning <- list()
  em$watching <- FALSE
  em$inside <- 0L
  em$noting <- FALSE
  em$notes <- list()
  em$looks_back <- list()
  em
}

# A vector that grows at its end in place: one in an environment would be copied at each step.
growing <- function(values) {
  used <- 0L
  make_room <- function(n) if (n > length(values)) length(values) <<- max(n, 2L * length(values), 64L)
  list(
    add = function(x) {  # at the end; gives how many there were
      force(x)  # working it out may itself add something
      before <- used
      make_room(before + length(x))
      values[before + seq_along(x)] <<- x
      used <<- before + length(x)
      before
    },
    put = function(k, x) {  # one value, perhaps a list, at place k
      make_room(k)
      values[[k]] <<- x
      if (k > used) used <<- k
    },
    get = function(k) values[[k]],
    size = function() used,
    all = function() values[seq_len(used)])
}

operation_codes <- function() {
  if (is.null(session$ops)) {
    ops <- core_ops()
    session$ops <- stats::setNames(seq_len(nrow(ops)) - 1L, ops$name)
    session$roles <- strsplit(ops$roles, "")
  }
  session$ops
}

# Tables read once a session from the core.
session <- new.env(parent = emptyenv())

most_operations <- 500000L

emit <- function(em, op, a = 0L, b = 0L, c = 0L, d = 0L) {
  operation <- c(operation_codes()[[op]], a, b, c, d, em$at)  # first: an operand may itself be written just now
  em$size <- em$size + 1L
  if (em$size > most_operations) abort_input("rules_too_large", "The rules grow beyond bounds: functions call functions too often.", "assign the answer of a function once and use the name")
  em$code$put(em$size, as.integer(operation))
  invisible()
}

# Runs `write` with messages placed at `at`.
at_place <- function(em, at, write) {
  before <- em$at
  em$at <- place_of(em, at)
  result <- write()
  em$at <- before
  result
}

place_of <- function(em, at) {
  key <- paste(at, collapse = " ")
  found <- em$place_index[[key]]
  if (!is.null(found)) return(found)
  em$place_index[[key]] <- em$places$add(list(as.integer(at)))
  em$place_index[[key]]
}

program_problem <- function(em, id, at, message, mend = NULL) {
  em$problems[[length(em$problems) + 1L]] <- problem(id, message, mend, at)
  invisible()
}

# --- labels -----------------------------------------------------------------

new_label <- function(em) {
  em$label_at$add(NA_integer_) + 1L
}

put_label <- function(em, label) em$label_at$put(label, em$size)

# --- cells ------------------------------------------------------------------

new_int <- function(em, n = 1L) {
  em$int_start$add(integer(n))
}

new_real <- function(em, n = 1L) {
  em$real_start$add(double(n))
}

int_const <- function(em, value) {
  key <- plain_number(value)
  cell <- em$int_consts[[key]]
  if (is.null(cell)) {
    cell <- new_int(em)
    em$int_start$put(cell + 1L, as.integer(value))
    em$int_consts[[key]] <- cell
  }
  cell
}

real_const <- function(em, value) {
  key <- sprintf("%a", value)
  cell <- em$real_consts[[key]]
  if (is.null(cell)) {
    cell <- new_real(em)
    em$real_start$put(cell + 1L, value)
    em$real_consts[[key]] <- cell
  }
  cell
}

is_real <- function(type) type$kind == "fraction"
fixed_operand <- function(value, type) list(const = value, real = is_real(type))
in_cell <- function(cell, real = FALSE) list(cell = cell, real = real)

# The cell of an operand, a constant's cell where it is known.
cell_of <- function(em, x) {
  if (!is.null(x$cell)) return(x$cell)
  if (x$real) real_const(em, x$const) else int_const(em, x$const)
}

new_cell <- function(em, real) in_cell(if (real) new_real(em) else new_int(em), real)

# One that counts something, never seats.
plain_cell <- function(em) {
  cell <- new_cell(em, FALSE)
  em$plain <- c(em$plain, cell$cell)
  cell
}

move <- function(em, to, x) {
  from <- cell_of(em, x)
  if (from != to$cell) emit(em, if (to$real) "DMOV" else "MOV", to$cell, from)
}

# Where a variable lies: a cell, an array of cells (one a seat), or a list.
place_variable <- function(em, variable, room = NULL) {
  key <- as.character(variable$id)
  found <- em$vars[[key]]
  if (!is.null(found)) return(found)
  type <- variable$type
  lies <- switch(type$kind,
    each = if (is_pool(type$of)) new_family(em, type$keys, room) else new_array(em, type$keys, is_real(type$of)),
    list = , bag = new_list(em, room),
    new_cell(em, is_real(type)))
  if (!is.null(variable$settings)) start_from_settings(em, variable, lies)
  em$vars[[key]] <- lies
  em$var_types[[key]] <- type
  lies
}

# One cell for each key, from the least to the greatest.
new_array <- function(em, keys, real) {
  first <- as.integer(min(keys))
  size <- as.integer(max(keys)) - first + 1L
  base <- if (real) new_real(em, size) else new_int(em, size)
  list(array = em$arrays$add(list(c(base, first, size, as.integer(real)))), base = base, first = first, size = size, real = real, keys = keys)
}

# One list for each key.
new_family <- function(em, keys, room) {
  first <- as.integer(min(keys))
  size <- as.integer(max(keys)) - first + 1L
  start <- em$lists$size()
  for (k in seq_len(size)) new_list(em, room)
  list(family = em$families$add(list(c(start, first, size))), list = start, first = first, size = size, room = room, keys = keys)
}

# A setting for each seat lies in cells that are never written.
start_from_settings <- function(em, variable, lies) {
  values <- unlist(em$settings[variable$settings])
  for (k in seq_len(lies$size)) if (lies$real) em$real_start$put(lies$base + k, values[[k]]) else em$int_start$put(lies$base + k, as.integer(values[[k]]))
}

new_list <- function(em, room) {
  base <- new_int(em, room + 1L)
  list(list = em$lists$add(list(c(base, as.integer(room)))), base = base, room = room)
}

new_table <- function(em, first, size, values) {
  em$tables$add(list(list(first = as.integer(first), size = as.integer(size), values = as.integer(values))))
}

source_index <- function(em, name) {
  index <- match(name, em$sources)
  if (is.na(index)) {
    em$sources <- c(em$sources, name)
    index <- length(em$sources)
  }
  index - 1L
}

bind <- function(em, variable, operand) em$bound[[as.character(variable$id)]] <- operand

# The finished code: jump targets filled in.
assembled <- function(em) {
  code <- matrix(unlist(em$code$all()[seq_len(em$size)]), nrow = 6)
  label_at <- em$label_at$all()
  operation_codes()
  for (k in 1:4) {
    jumps <- vapply(session$roles, function(r) r[[k]] == "J", NA)[code[1, ] + 1L]
    code[k + 1L, jumps] <- label_at[code[k + 1L, jumps]]
  }
  code
}
