# The assembler: collects operations, registers, tables and places while checked rules are written out
# as flat code. Operands are lists: `const` (a value known now) or `register`, and `real`.

new_assembler <- function(question) {
  asm <- new.env(parent = emptyenv())
  asm$question <- question
  asm$rules <- question$game
  asm$settings <- question$settings
  asm$players <- question$players
  asm$code <- growing(list())  # operations: code, four operands, place
  asm$size <- 0L               # operations that count; one taken back is written over by the next
  asm$label_at <- growing(integer())
  asm$int_start <- growing(integer())
  asm$real_start <- growing(double())
  asm$int_consts <- new.env(parent = emptyenv())
  asm$real_consts <- new.env(parent = emptyenv())
  asm$vars <- new.env(parent = emptyenv())   # variable id -> where it lies
  asm$bound <- new.env(parent = emptyenv())  # variable id -> operand, where it is known
  asm$arrays <- growing(list())
  asm$lists <- growing(list())
  asm$list_arrays <- growing(list())
  asm$tables <- growing(list())
  asm$weights <- list()
  asm$sources <- character()
  asm$places <- growing(list())
  asm$place_index <- new.env(parent = emptyenv())
  asm$at <- 0L
  asm$deferred <- list()
  asm$exits <- new.env(parent = emptyenv())  # variable id of a body's answer -> label behind the body
  asm$loops <- list()
  asm$diagnostics <- list()
  asm$counted <- question$counted
  asm$counters <- list()
  asm$decks <- list()
  asm$asks <- list()
  asm$sites <- list()
  asm$groups <- 0L  # of answers asked at once
  asm$memos <- 0L
  asm$shown <- 0L  # to an open seat
  asm$watcher <- 0L  # which of the open seats it is shown to
  asm$var_types <- new.env(parent = emptyenv())  # variable id -> type
  asm$plain <- integer()   # registers that count, and never hold a seat
  asm$seated <- list()  # by seat: the register that tells which of several players sits there
  asm$trace_points <- list()
  asm$turning <- list()
  asm$tracing <- FALSE
  asm$inside <- 0L
  asm$covering <- FALSE
  asm$coverage <- list()
  asm$looks_back <- list()
  for (name in assembler_fields_later) assign(name, NULL, envir = asm)
  lockEnvironment(asm)  # every field is declared here
  asm
}

assembler_fields_later <- c(
  "claims", "counting", "start", "span", "measures",        # what is built, for what
  "choices", "chooser", "widest",                                      # what is written just now
  "round_end", "hole_end",                                             # labels
  "outcome_register", "arrived", "unit_arrived", "not_legal", "lane", "goal",  # registers
  "answered", "ledger_sums", "out_array", "turn_array", "turn_arrays")

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

emit <- function(asm, op, a = 0L, b = 0L, c = 0L, d = 0L) {
  operation <- c(operation_codes()[[op]], a, b, c, d, asm$at)  # first: an operand may itself be written just now
  asm$size <- asm$size + 1L
  if (asm$size > most_operations)
    abort_input("rules_too_large", "The rules grow beyond bounds: functions call functions too often.",
                "assign the answer of a function once and use the name")
  asm$code$put(asm$size, as.integer(operation))
  invisible()
}

# Runs `write` with messages placed at `at`.
at_place <- function(asm, at, write) {
  before <- asm$at
  asm$at <- place_of(asm, at)
  result <- write()
  asm$at <- before
  result
}

place_of <- function(asm, at) {
  key <- paste(at, collapse = " ")
  place <- asm$place_index[[key]]
  if (!is.null(place)) return(place)
  asm$place_index[[key]] <- asm$places$add(list(as.integer(at)))
  asm$place_index[[key]]
}

program_diagnostic <- function(asm, id, at, message, hint = NULL) {
  asm$diagnostics[[length(asm$diagnostics) + 1L]] <- diagnostic(id, message, hint, at)
  invisible()
}

# --- labels -----------------------------------------------------------------

new_label <- function(asm) {
  asm$label_at$add(NA_integer_) + 1L
}

put_label <- function(asm, label) asm$label_at$put(label, asm$size)

# --- registers ------------------------------------------------------------------

new_int <- function(asm, n = 1L) {
  asm$int_start$add(integer(n))
}

new_real <- function(asm, n = 1L) {
  asm$real_start$add(double(n))
}

int_const <- function(asm, value) {
  key <- as.character(value)
  register <- asm$int_consts[[key]]
  if (is.null(register)) {
    register <- new_int(asm)
    asm$int_start$put(register + 1L, as.integer(value))
    asm$int_consts[[key]] <- register
  }
  register
}

real_const <- function(asm, value) {
  key <- sprintf("%a", value)
  register <- asm$real_consts[[key]]
  if (is.null(register)) {
    register <- new_real(asm)
    asm$real_start$put(register + 1L, value)
    asm$real_consts[[key]] <- register
  }
  register
}

is_real <- function(type) type$kind == "fraction"
fixed_operand <- function(value, type) list(const = value, real = is_real(type))
in_register <- function(register, real = FALSE) list(register = register, real = real)

# The register of an operand, a constant's register where it is known.
register_of <- function(asm, x) {
  if (!is.null(x$register)) return(x$register)
  if (x$real) real_const(asm, x$const) else int_const(asm, x$const)
}

new_register <- function(asm, real) in_register(if (real) new_real(asm) else new_int(asm), real)

# One that counts something, never seats.
plain_register <- function(asm) {
  register <- new_register(asm, FALSE)
  asm$plain <- c(asm$plain, register$register)
  register
}

move <- function(asm, to, x) {
  from <- register_of(asm, x)
  if (from != to$register) emit(asm, if (to$real) "DMOV" else "MOV", to$register, from)
}

# The location of a variable: a register, an array of registers (one a seat), or a list.
slot_of <- function(asm, variable, room = NULL) {
  key <- as.character(variable$id)
  place <- asm$vars[[key]]
  if (!is.null(place)) return(place)
  type <- variable$type
  slot <- switch(type$kind,
    each = if (is_collection(type$of)) new_list_array(asm, offsets_of(axes_now(asm, type$axes)), room)
      else new_array(asm, offsets_of(axes_now(asm, type$axes)), is_real(type$of)),
    list = , bag = new_list(asm, room),
    new_register(asm, is_real(type)))
  if (!is.null(variable$settings)) start_from_settings(asm, variable, slot)
  asm$vars[[key]] <- slot
  asm$var_types[[key]] <- type
  slot
}

# Places are numbered by the keys of one axis; those of several, or of one with gaps, from 0, the last going fastest.
offsets_of <- function(axes) {
  if (is_numbered_by_key(axes)) axes[[1]]$keys else seq_len(prod(lengths(lapply(axes, `[[`, "keys")))) - 1L
}

# One register for each key, from the least to the greatest.
new_array <- function(asm, keys, real) {
  first <- as.integer(min(keys))
  size <- as.integer(max(keys)) - first + 1L
  base <- if (real) new_real(asm, size) else new_int(asm, size)
  list(array = asm$arrays$add(list(c(base, first, size, as.integer(real)))), base = base, first = first, size = size,
       real = real, keys = keys)
}

# One list for each key.
new_list_array <- function(asm, keys, room) {
  first <- as.integer(min(keys))
  size <- as.integer(max(keys)) - first + 1L
  start <- asm$lists$size()
  for (k in seq_len(size)) new_list(asm, room)
  list(list_array = asm$list_arrays$add(list(c(start, first, size))), list = start, first = first, size = size,
       room = room, keys = keys)
}

# A setting for each seat is in registers that are never written.
start_from_settings <- function(asm, variable, slot) {
  values <- unlist(asm$settings[variable$settings])
  for (k in seq_len(slot$size)) if (slot$real) asm$real_start$put(slot$base + k, values[[k]])
    else asm$int_start$put(slot$base + k, as.integer(values[[k]]))
}

new_list <- function(asm, room) {
  base <- new_int(asm, room + 1L)
  list(list = asm$lists$add(list(c(base, as.integer(room)))), base = base, room = room)
}

new_table <- function(asm, first, size, values) {
  asm$tables$add(list(list(first = as.integer(first), size = as.integer(size), values = as.integer(values))))
}

source_index <- function(asm, name) {
  index <- match(name, asm$sources)
  if (is.na(index)) {
    asm$sources <- c(asm$sources, name)
    index <- length(asm$sources)
  }
  index - 1L
}

bind <- function(asm, variable, operand) asm$bound[[as.character(variable$id)]] <- operand

# The finished code: jump targets filled in.
assembled <- function(asm) {
  code <- matrix(unlist(asm$code$all()[seq_len(asm$size)]), nrow = 6)
  label_at <- asm$label_at$all()
  operation_codes()
  for (k in 1:4) {
    jumps <- vapply(session$roles, function(r) r[[k]] == "J", NA)[code[1, ] + 1L]
    code[k + 1L, jumps] <- label_at[code[k + 1L, jumps]]
  }
  code
}

stop_on_diagnostics <- function(asm) {
  if (length(asm$diagnostics) > 0) abort_diagnostics(sort_diagnostics(asm$diagnostics), asm$rules$source)
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

# Past answers have a room of their own; other families are placed with theirs before play begins.
past_room <- 1000L
