# The checker's context: diagnostics found, names declared, labels, scopes; and walks over typed nodes.
#
# Checked rules are built of typed nodes: lists with `op`, `type`, `at` and what the op needs.
# `const` says that the value follows from numbers and settings alone.

new_context <- function(source) {
  context <- new.env(parent = emptyenv())
  context$source <- source
  context$diagnostics <- list()
  context$reported <- new.env(parent = emptyenv())  # what was said already
  context$names <- list()        # name -> declaration
  context$labels <- character()  # label id -> text
  context$letters <- character() # labels that count only where a letter is expected
  context$words <- no_words()
  context$notes <- list()        # what is worth knowing but not wrong
  context$next_id <- 0L
  context$widened <- list()      # variable key -> type, kept from one reading to the next
  context$widen_again <- FALSE
  context$money <- new_money()
  context$bettors <- 0L          # so many of the last seats only bet
  context$nodes <- 0L
  context$inlining <- character()
  context$checked_calls <- new.env(parent = emptyenv())  # by signature: bodies of functions, checked
  for (name in context_fields_later) assign(name, NULL, envir = context)
  lockEnvironment(context)  # every field is declared here
  context
}

context_fields_later <- c(
  "title", "line", "seats", "settings", "state", "modes", "mode_players", "players", "play", "outcomes", "pays",
  "stakes", "because", "match", "sitting", "records", "unit_records", "in_words", "examples", "claims",  # declarations
  "spans", "unread", "nodes_read", "state_names", "bodies",                        # known before they are checked
  "uses", "picks", "past", "counted", "counted_in_examples", "paid_variable",      # what the rules turn out to need
  "play_locals", "has_turns", "turn_names", "too_large")

max_kinds <- 2000L   # of the cards of a deck
max_room <- 100000   # of a list or bag
whole_tokens <- list(num = 1, den = 1)  # a piece is num / den tokens

new_money <- function() list(piece = whole_tokens, bets = list(), pots = list(), wallets = list(), settles = list())
no_words <- function() list(texts = character(), letters = integer(), start = 0L)

report <- function(context, id, at, message, hint = NULL) {
  if (id == "no_seats" && "seats" %in% context$unread) return(invisible())  # they are declared, but could not be read
  key <- paste(c(id, at, message), collapse = " ")
  # a function is read once for each signature, and reported once
  if (!is.null(context$reported[[key]])) return(invisible())
  context$reported[[key]] <- TRUE
  context$diagnostics[[length(context$diagnostics) + 1L]] <- diagnostic(id, message, hint, at)
  invisible()
}

note <- function(context, id, at, message)
  context$notes[[length(context$notes) + 1L]] <- list(id = id, at = at, message = message)
typed <- function(op, type, at, ..., const = FALSE) list(op = op, type = type, at = at, const = const, ...)
broken <- function(at) typed("lit", t_unknown, at, value = 0, const = TRUE)
literal <- function(value, type, at) typed("lit", type, at, value = value, const = TRUE)

# --- names ------------------------------------------------------------------

# One name means one thing in the whole file.
declare <- function(context, name, at, kind, ...) {
  before <- context$names[[name]]
  if (!is.null(before)) {
    report(context, "name_twice", at,
           sprintf("`%s` already names %s (line %d).", name, kind_in_words(before$kind), before$at[[1]]),
           "choose another name for one of them")
    return(invisible(FALSE))
  }
  taken <- vocabulary_words[[name]]
  if (!is.null(taken) && !may_share(taken, kind)) {
    report(context, "name_taken", at,
           sprintf("`%s` is a word of the language and cannot name %s.", name, kind_in_words(kind)),
           "choose another name")
    return(invisible(FALSE))
  }
  context$names[[name]] <- list(name = name, kind = kind, at = at, ...)
  invisible(TRUE)
}

# A word that needs brackets can be distinguished from a label or a player of that name; one that stands only inside
# another word, from anything but a function. An everyday word gives way to what the game calls so.
may_share <- function(word, kind)
  word$yields || switch(word$kind, constant = FALSE, inner = kind != "function", kind %in% c("label", "player"))

kind_in_words <- function(kind) {
  switch(kind, setting = "a setting", constant = "a constant", seat = "a seat", label = "a label", die = "a die",
         signs = "a set of signs",
         names = "a set of names", column = "a column", deck = "a deck", words = "a word list",
         alphabet = "an alphabet", table = "a table", mode = "a mode",
         state = "something remembered", bet = "a bet", pot = "a pot", "function" = "a function", player = "a player",
         decision = "a decision", kind)
}

# --- labels -----------------------------------------------------------------

# The id of a label; the same text is the same label wherever it stands.
intern_label <- function(context, text, at) {
  id <- match(text, context$labels)
  if (!is.na(id) && !(text %in% context$letters && is.null(context$names[[text]]))) return(id)
  if (!declare(context, text, at, "label")) return(NA_integer_)
  if (is.na(id)) context$labels <- c(context$labels, text)
  match(text, context$labels)
}

seat_type <- function(context, none = FALSE) t_label("seats", seq_along(context$seats), none)

# Those at the table, without the seats that only bet.
table_seats <- function(rules) seq_len(length(rules$seats) - rules$bettors)
table_seat_type <- function(context, none = FALSE) t_label("seats", table_seats(context), none)

# --- variables --------------------------------------------------------------

new_id <- function(context) {
  context$next_id <- context$next_id + 1L
  context$next_id
}

# A variable is an environment, so that every node that reads it sees its final type.
# `key` names it across readings: types widen from whole to fraction between readings.
new_variable <- function(context, name, type, at, where, key = paste(name, at[[1]], at[[2]])) {
  v <- new.env(parent = emptyenv())
  v$id <- new_id(context)
  v$name <- name
  v$type <- if (is.null(context$widened[[key]])) type else context$widened[[key]]
  v$at <- at
  v$where <- where
  v$key <- key
  v
}

widen_variable <- function(context, variable, type) {
  variable$type <- type
  context$widened[[variable$key]] <- type
  context$widen_again <- TRUE
}

# --- scopes -----------------------------------------------------------------

# may: which effects are allowed here; `what` names the place in messages.
# `me` is the seat that a player's rule answers for; `chooser` the same seat seen from a function
# that the rule calls: its chance is the player's own.
new_scope <- function(what, may_write = FALSE, may_draw = FALSE) {
  scope <- new.env(parent = emptyenv())
  scope$what <- what
  scope$may_write <- may_write
  scope$may_draw <- may_draw
  scope$vars <- list()
  scope$set <- integer()          # ids of locals certainly given a value by now
  scope$reachable <- TRUE
  scope$it <- NULL
  scope$me <- NULL
  scope$viewer <- NULL            # the seat through whose eyes this is read: list(id, is_me = function(key))
  scope$chooser <- NULL
  scope$decision <- NULL
  scope$loops <- 0L
  scope$breaks <- list()
  scope$returns <- NULL
  scope
}

# Runs both branches from the same knowledge and keeps what both establish.
branch_scope <- function(scope, first, second) {
  set <- scope$set
  reachable <- scope$reachable
  a <- first()
  after_a <- list(set = scope$set, reachable = scope$reachable)
  scope$set <- set
  scope$reachable <- reachable
  b <- second()
  scope$set <- if (!after_a$reachable) scope$set else if (!scope$reachable) after_a$set
    else intersect(after_a$set, scope$set)
  scope$reachable <- after_a$reachable || scope$reachable
  list(a, b)
}

# What a loop's body establishes is not certain afterwards; after `repeat`, what every `break` knows is.
loop_scope <- function(scope, body, endless = FALSE) {
  before <- scope$set
  outer <- scope$breaks
  scope$breaks <- list()
  scope$loops <- scope$loops + 1L
  result <- body()
  scope$loops <- scope$loops - 1L
  scope$set <- if (endless && length(scope$breaks) > 0) Reduce(intersect, scope$breaks) else before
  scope$reachable <- !endless || length(scope$breaks) > 0
  scope$breaks <- outer
  result
}

in_order <- function(statements, at) typed("seq", t_nothing, at, statements = statements)

may_write <- function(context, scope, at, what) {
  if (scope$may_write) return(TRUE)
  report(context, "write_here", at, sprintf("%s may not be changed in %s.", what, scope$what),
         "only play changes what is remembered; work with a local value here")
  FALSE
}

# A word of the language that cannot name a value as well.
is_taken_word <- function(name) {
  word <- vocabulary_word(name)
  (!is.null(word) && !may_share(word, "local")) || name %in% c("seats", kept_syntax)
}

walk <- function(x, visit) {
  if (!is.list(x)) return(invisible())
  if (is.character(x[["op"]])) visit(x)  # exactly: a list by names that users give may have `open`
  for (part in x) if (is.list(part)) walk(part, visit)
}

variables_in <- function(x, ops) {
  ids <- integer()
  walk(x, function(n) if (n$op %in% ops) ids <<- c(ids, if (is.environment(n$var)) n$var$id else -1L))
  ids
}

variables_written <- function(x) {
  ids <- integer()
  walk(x, function(n) {
    if (n$op == "assign") ids <<- c(ids, n$target$var$id)
    if (n$op %in% c("stake", "feed", "share", "settle", "buy")) ids <<- c(ids, n$writes)
    if (n$op %in% c("for_range", "for_each", "for_items", "turns", "ask")) ids <<- c(ids, n$var$id)
    if (n$op %in% c("put", "remove", "deal_to")) ids <<- c(ids, n$place$var$id)
    if (n$op %in% c("move", "shuffle")) for (place in list(n$x, n$from, n$to, n$pile)) if (is.environment(place$var))
      ids <<- c(ids, place$var$id)
    if (n$op %in% c("deal", "deal_to", "burn", "shuffle")) ids <<- c(ids, -1L)
  })
  ids
}

leaves_loop <- function(x) {
  leaves <- FALSE
  walk(x, function(n) if (n$op %in% c("break", "end_round")) leaves <<- TRUE)
  leaves
}
