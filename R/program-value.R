# From the nodes of the checked rules to operations: values, statements and collections of any kind. The code of each
# kind of node is found by its name: op_<kind>() for values and statements, list_<kind>() and items_<kind>() for
# collections. So no file here needs to know them.

# What can fail at a place of its own.
ops_with_place <- c("deal", "chart", "successes", "draw", "chance", "pick_choices", "fail")

# The operand that holds the value of a node; `into` is a register that may be used for it.
write_value <- function(asm, node, into = NULL) {
  code <- get(paste0("op_", node$op))
  if (node$op %in% ops_with_place) at_place(asm, node$at, function() code(asm, node, into)) else code(asm, node, into)
}

# Puts the value of a node into a register.
write_into <- function(asm, node, target) {
  x <- write_value(asm, node, target)
  if (target$real && !x$real) {
    if (!is.null(x$const)) x <- list(const = x$const, real = TRUE)
    else return(emit(asm, "TOREAL", target$register, x$register))
  }
  move(asm, target, x)
}

# The value of a node as it is now, whatever changes later.
kept_operand <- function(asm, node) {
  x <- write_value(asm, node)
  if (!is.null(x$const)) return(x)
  kept <- new_register(asm, x$real)
  move(asm, kept, x)
  kept
}

result_register <- function(asm, into, real) if (!is.null(into) && into$real == real) into else new_register(asm, real)

write_body <- function(asm, node) {
  end <- new_label(asm)
  asm$exits[[as.character(node$exit$variable$id)]] <- end
  asm$inside <- asm$inside + 1L
  write_statements(asm, node$statements)
  asm$inside <- asm$inside - 1L
  put_label(asm, end)
  if (is_kind(node$exit$variable$type, "unknown") || is_collection(node$exit$variable$type))
    return(fixed_operand(0, t_whole))
  slot_of(asm, node$exit$variable)
}

write_statements <- function(asm, statements) for (s in statements) write_statement(asm, s)

write_statement <- function(asm, s) {
  at_place(asm, s$at, function() get(paste0("op_", s$op))(asm, s))
  invisible()
}

in_loop <- function(asm, out, again, write) {
  asm$loops <- c(asm$loops, list(list(out = out, again = again)))
  write()
  asm$loops <- utils::head(asm$loops, -1)
}

# The list that holds a temporary collection; `kind` is how it must be kept: a bag in canonical order or a list. What is
# remembered as it must be kept is taken where it is.
write_collection <- function(asm, node, kind = node$type$kind) {
  if (node$type$kind == kind) {
    bound <- if (node$op == "var") asm$bound[[as.character(node$var$id)]]
    if (!is.null(bound$list)) return(bound$list)
    if (node$op %in% c("var", "at_key", "do")) return(list_of_node(asm, node))
  }
  collection <- new_list(asm, room_of(asm, node))
  fill_collection(asm, node, collection$list, kind)
  collection$list
}

# A collection that comes as a whole list.
list_of_node <- function(asm, node) get(paste0("list_", node$op))(asm, node)

comes_whole <- c("var", "at_key", "do", "best_item", "pick_choices", "chart", "collection_groups", "collection_common",
                 "collection_highest", "collection_letters", "collection_mask")

fill_collection <- function(asm, node, list, kind) {
  if (node$op == "collection_join") {
    fill_collection(asm, node$left, list, kind)
    return(add_to_collection(asm, node$right, list, kind))
  }
  if (node$op %in% comes_whole && (kind == "list" || node$type$kind == "bag"))
    return(at_place(asm, node$at, function() emit(asm, "LCOPY", list, list_of_node(asm, node))))
  emit(asm, "LCLEAR", list)
  add_to_collection(asm, node, list, kind)
}

# Adds all items to a list that has some; `put` adds one.
add_to_collection <- function(asm, node, list, kind) {
  put <- function(x) emit(asm, if (kind == "bag") "BPUT" else "LPUT", list, register_of(asm, x))
  more <- function(node) add_to_collection(asm, node, list, kind)
  at_place(asm, node$at, function() {
    if (node$op %in% comes_whole) emit(asm, if (kind == "bag") "BAPPEND" else "LAPPEND", list, list_of_node(asm, node))
    else get(paste0("items_", node$op))(asm, node, put, more)
  })
}

# --- what is built, and who plays ---------------------------------------------

program_span <- function(rules) if (!is.null(rules$sitting)) "sitting" else if (!is.null(rules$match))
  "match" else "round"

records_some_rounds <- function(question) !is.null(question$position) || !is.null(question$given)

has_money <- function(rules) length(rules$money$bets) + length(rules$money$pots) > 0

has_table <- function(rules) !is.null(rules$money$table)

seats_taken <- function(asm) taken_by(asm$settings, asm$rules)

taken_by <- function(settings, rules) if (is.null(settings$seated)) length(table_seats(rules)) else settings$seated

# Is the seat taken, or one that only bets?
is_there <- function(asm, seat) seat <= seats_taken(asm) | seat > length(table_seats(asm$rules))

# --- registers by what they are for -------------------------------------------

gone_register <- function(asm, seat) {
  slot <- slot_of(asm, asm$rules$money$table$gone)
  slot$base + as.integer(seat) - slot$first
}

counter_register <- function(asm, name) {
  if (is.null(asm$counters[[name]])) asm$counters[[name]] <- new_register(asm, FALSE)
  asm$counters[[name]]
}

# Counted only where the rules read it.
count_one <- function(asm, name) {
  if (!name %in% asm$counted) return(invisible())
  register <- counter_register(asm, name)
  emit(asm, "ADD", register$register, register$register, int_const(asm, 1L))
}


fresh_count <- function(asm) {
  register <- new_register(asm, FALSE)
  move(asm, register, fixed_operand(0, t_whole))
  register
}

# Marks a quantity that other results are computed from and that is not reported itself.
added_quantity <- function(register) {
  register$told <- "added"
  register
}

# The names of the rules' own records of the whole unit.
recorded_of_unit <- function(question) names(Filter(Negate(is_added), question$unit_records))

# A pick in a player's rule draws from the chance of the seat that answers.
chance_source <- function(asm, source) if (nzchar(source))
  source else paste("chance of", asm$rules$seats[[asm$chooser]])
