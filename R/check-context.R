# What the checker carries along: the problems found, the names declared, the labels, the scopes.
#
# Checked rules are built of typed nodes: lists with `op`, `type`, `at` and what the op needs.
# `const` says that the value follows from numbers and settings alone.

new_context <- function(source) {
  cx <- new.env(parent = emptyenv())
  cx$source <- source
  cx$problems <- list()
  cx$reported <- new.env(parent = emptyenv())  # what was said already
  cx$names <- list()        # name -> declaration
  cx$labels <- character()  # label id -> text
  cx$letters <- character() # labels that count only where a letter is wanted
  cx$words <- no_words()
  cx$notes <- list()        # what is worth knowing but not wrong
  cx$next_id <- 0L
  cx$widened <- list()      # variable key -> type, kept from one reading to the next
  cx$widen_again <- FALSE
  cx$nodes <- 0L
  cx$inlining <- character()
  cx$checked_calls <- new.env(parent = emptyenv())  # by signature: bodies of functions, checked
  cx
}

report <- function(cx, id, at, message, mend = NULL) {
  if (id == "no_seats" && "seats" %in% cx$unread) return(invisible())  # they are declared, but could not be read
  key <- paste(c(id, at, message), collapse = " ")
  if (!is.null(cx$reported[[key]])) return(invisible())  # a function is read at each of its calls, and told of once
  cx$reported[[key]] <- TRUE
  cx$problems[[length(cx$problems) + 1L]] <- problem(id, message, mend, at)
  invisible()
}

note <- function(cx, id, at, message) cx$notes[[length(cx$notes) + 1L]] <- list(id = id, at = at, message = message)
typed <- function(op, type, at, ..., const = FALSE) list(op = op, type = type, at = at, const = const, ...)
broken <- function(at) typed("lit", t_unknown, at, value = 0, const = TRUE)
literal <- function(value, type, at) typed("lit", type, at, value = value, const = TRUE)

# --- names ------------------------------------------------------------------

# One name means one thing in the whole file.
declare <- function(cx, name, at, kind, ...) {
  before <- cx$names[[name]]
  if (!is.null(before)) {
    report(cx, "name_twice", at, sprintf("`%s` already names %s (line %d).", name, kind_in_words(before$kind), before$at[[1]]), "choose another name for one of them")
    return(invisible(FALSE))
  }
  taken <- vocabulary_words[[name]]
  if (!is.null(taken) && !may_share(taken, kind)) {
    report(cx, "name_taken", at, sprintf("`%s` is a word of the language and cannot name %s.", name, kind_in_words(kind)), "choose another name")
    return(invisible(FALSE))
  }
  cx$names[[name]] <- list(name = name, kind = kind, at = at, ...)
  invisible(TRUE)
}

# A word that needs brackets can be told from a label or a player of that name; one that stands only inside
# another word, from anything but a function.
may_share <- function(word, kind) switch(word$kind, constant = FALSE, inner = kind != "function", kind %in% c("label", "player"))

kind_in_words <- function(kind) {
  switch(kind, setting = "a setting", constant = "a constant", seat = "a seat", label = "a label", die = "a die", signs = "a set of signs",
         names = "a set of names", column = "a column", deck = "a deck", words = "a word list", alphabet = "an alphabet", mode = "a mode",
         state = "something remembered", "function" = "a function", player = "a player", decision = "a decision", kind)
}

# --- labels -----------------------------------------------------------------

# The id of a label; the same text is the same label wherever it stands.
intern_label <- function(cx, text, at) {
  id <- match(text, cx$labels)
  if (!is.na(id) && !(text %in% cx$letters && is.null(cx$names[[text]]))) return(id)
  if (!declare(cx, text, at, "label")) return(NA_integer_)
  if (is.na(id)) cx$labels <- c(cx$labels, text)
  match(text, cx$labels)
}

seat_type <- function(cx, none = FALSE) t_label("seats", seq_along(cx$seats), none)

# --- variables --------------------------------------------------------------

# A variable is an environment, so that every node that reads it sees its final type.
# `key` names it across readings: types widen from whole to fraction between readings.
new_variable <- function(cx, name, type, at, where, key = paste(name, at[[1]], at[[2]])) {
  cx$next_id <- cx$next_id + 1L
  v <- new.env(parent = emptyenv())
  v$id <- cx$next_id
  v$name <- name
  v$type <- if (is.null(cx$widened[[key]])) type else cx$widened[[key]]
  v$at <- at
  v$where <- where
  v$key <- key
  v
}

widen_variable <- function(cx, variable, type) {
  variable$type <- type
  cx$widened[[variable$key]] <- type
  cx$widen_again <- TRUE
}

# --- scopes -----------------------------------------------------------------

# may: which effects are allowed here; `what` names the place in messages.
# `me` is the seat that a player's rule answers for; `chooser` the same seat seen from a function
# that the rule calls: its chance is the player's own.
new_scope <- function(what, may_write = FALSE, may_draw = FALSE) {
  sc <- new.env(parent = emptyenv())
  sc$what <- what
  sc$may_write <- may_write
  sc$may_draw <- may_draw
  sc$vars <- list()
  sc$set <- integer()          # ids of locals certainly given a value by now
  sc$reachable <- TRUE
  sc$it <- NULL
  sc$me <- NULL
  sc$viewer <- NULL            # the seat through whose eyes this is read: list(is_me = function(key))
  sc$chooser <- NULL
  sc$decision <- NULL
  sc$loops <- 0L
  sc$breaks <- list()
  sc$returns <- NULL
  sc
}

# Runs both branches from the same knowledge and keeps what both establish.
branch_scope <- function(sc, first, second) {
  set <- sc$set
  reachable <- sc$reachable
  a <- first()
  after_a <- list(set = sc$set, reachable = sc$reachable)
  sc$set <- set
  sc$reachable <- reachable
  b <- second()
  sc$set <- if (!after_a$reachable) sc$set else if (!sc$reachable) after_a$set else intersect(after_a$set, sc$set)
  sc$reachable <- after_a$reachable || sc$reachable
  list(a, b)
}

# What a loop's body establishes is not certain afterwards; after `repeat`, what every `break` knows is.
loop_scope <- function(sc, body, endless = FALSE) {
  before <- sc$set
  outer <- sc$breaks
  sc$breaks <- list()
  sc$loops <- sc$loops + 1L
  result <- body()
  sc$loops <- sc$loops - 1L
  sc$set <- if (endless && length(sc$breaks) > 0) Reduce(intersect, sc$breaks) else before
  sc$reachable <- !endless || length(sc$breaks) > 0
  sc$breaks <- outer
  result
}
