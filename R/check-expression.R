# Expressions: from parsed nodes to typed nodes.

# A number; where a card or a label of an ordered column is expected, the one of that name.
node_number <- function(context, scope, node, want) {
  item <- if (!is.null(want) && !node$fraction) item_named(context, label_text(node), want, node$at)
  if (is.null(item)) literal(node$value, if (node$fraction) t_fraction else t_whole, node$at) else item
}

node_function <- function(context, scope, node, want) {
  report(context, "function_here", node$at, "A function is declared at the top of the file only.",
         "write `name <- function(x) ...` in column one")
  broken(node$at)
}

node_missing <- function(context, scope, node, want) {
  report(context, "argument_empty", node$at, "Something is missing here.",
         "remove the comma too many, or write what is missing")
  broken(node$at)
}

# Reported where it was parsed.
node_broken <- function(context, scope, node, want) broken(node$at)

node_text <- function(context, scope, node, want) {
  if (tolower(node$value) %in% c("true", "false", "yes", "no") && (is.null(want) || want$kind == "yesno")) {
    report(context, "habit_quoted_truth", node$at, sprintf("\"%s\" in quotes is a text, not a truth.", node$value),
           "write yes or no, without quotes")
    return(broken(node$at))
  }
  item <- if (!is.null(want)) item_named(context, node$value, want, node$at)
  if (!is.null(item)) return(item)
  if (node$value %in% context$labels) return(label_value(context, match(node$value, context$labels), node$at))
  deck <- deck_with(context, node$value)
  if (!is.null(deck)) return(card_named(context, deck, node$value, node$at))
  if (tolower(node$value) %in% context$words$texts)
    return(item_named(context, node$value,
                      t_item("word", names(Filter(function(d) d$kind == "words", context$names))[[1]]), node$at))
  kind <- if (is.null(want)) "" else want$kind
  known <- switch(kind,
    card = context$names[[want$set]]$card_names, word = context$words$texts, label = context$labels[want$members],
    context$labels)
  report(context, "unknown_name", node$at,
         sprintf("\"%s\" is not %s this game knows.", node$value,
                 switch(if (is.null(want)) ""
                   else want$kind, card = "a card", word = "a word", marks = "marks as", "a label")),
         if (is_kind(if (is.null(want)) t_unknown else want, "marks"))
           "write the marks in words, as in \"placed nowhere elsewhere\""
             else or_spelling(did_you_mean(node$value, known)))
  broken(node$at)
}

node_name <- function(context, scope, node, want) {
  name <- node$name
  local <- scope$vars[[name]]
  if (!is.null(local)) return(read_variable(context, scope, local, node$at))
  d <- context$names[[name]]
  declared <- (!is.null(d) && d$kind != "label") || word_is(name, "constant")
  item <- if (!declared && !is.null(want) && is_kind(want, "card", "word", "list", "bag"))
    item_named(context, name, want, node$at)
  if (!is.null(item)) return(item)
  if (!is.null(d) && d$kind == "label" && is_kind(if (is.null(want)) t_unknown else want, "label") &&
      match(name, context$labels) %in% want$members) return(label_of(match(name, context$labels), want, node$at))
  recorded <- if (has_no_value(d)) ended_value(context, scope, node)
  if (!is.null(recorded)) return(recorded)
  if (!is.null(d)) return(declared_value(context, scope, d, node))
  if (word_is(name, "constant")) return(constant_value(context, scope, node))
  if (name == "seats") return(seats_playing(context, node$at))
  ended <- ended_value(context, scope, node)
  if (!is.null(ended)) return(ended)
  if (name %in% context$letters)
    return(literal(match(name, context$labels), t_label("letters", match(name, context$labels)), node$at))
  unknown_name(context, scope, node)
}

# A name of play that is read elsewhere.
remember_hint <- function(context, name) {
  type <- context$play_locals[[name]]
  if (name %in% context$turn_names) return("write last_mover for the seat that had the last turn")
  start <- if (is_kind(type, "label") && identical(type$set, "seats")) "one(seats)"
    else if (is_kind(type, "yesno")) "no" else if (is_kind(type, "card")) sprintf("one(%s)", type$set)
    else if (is_kind(type, "whole", "fraction")) "0"
  sprintf("`%s` has no value here, or is not seen by everyone; remember it in the state%s", name,
          if (is.null(start)) "" else sprintf(": state(%s = %s)", name, start))
}

unknown_name <- function(context, scope, node) {
  name <- node$name
  hint <- if (name %in% c("true", "True", "T")) "write yes"
    else if (name %in% c("false", "False", "F")) "write no"
    else if (name %in% c("null", "None", "nil", "nothing")) "write none, or nobody for no seat"
    else if (word_is(name, "value", "statement", "inner"))
      sprintf("`%s` is a word that needs brackets: %s", name, usage_of(vocabulary_word(name)))
    else if (name %in% names(context$play_locals))
      remember_hint(context, name)
    else did_you_mean(name, c(names(scope$vars), names(context$names), words_of_kind("constant")))
  report(context, "unknown_name", node$at, sprintf("`%s` is not a name this game knows.", name),
         if (is.null(hint)) "declare it, or check its spelling" else hint)
  broken(node$at)
}

declared_value <- function(context, scope, d, node) {
  at <- node$at
  switch(d$kind,
    label = , seat = label_value(context, match(d$name, context$labels), at),
    setting = if (is.null(d$variable)) typed("setting", d$type, at, name = d$name, const = TRUE)
      else read_variable(context, scope, d$variable, at),
    column = bare_column(context, scope, d, at),
    constant = constant_declaration_value(context, d, at),
    unread = broken(at),
    state = , decision = , pick = read_variable(context, scope, d$variable, at),
    bet = bet_value(context, d, at), pot = pot_value(context, d, at),
    "function" = {
      report(context, "function_uncalled", at, sprintf("`%s` is a function; its brackets are missing.", d$name),
             sprintf("write `%s(%s)`", d$name, paste(d$params, collapse = ", ")))
      broken(at)
    },
    {
      hint <- switch(d$kind, die = sprintf("write roll(%s)", d$name), signs = ,
                     names = sprintf("write one of its names, or pick(%s)", d$name),
                     deck = sprintf("write draw(%s), or size(%s)", d$name, d$name),
                     words = sprintf("write pick(%s)", d$name),
                     mode = "a mode is chosen with --mode, or climbed through with match(modes = ...)",
                     player = "a player is chosen with --player, or given to a seat in an example",
                     "write a number, a name or an expression here")
      report(context, "not_a_value", at, sprintf("`%s` is %s, which is not a value.", d$name, kind_in_words(d$kind)),
             hint)
      broken(at)
    })
}

constant_declaration_value <- function(context, d, at) {
  if (d$name %in% context$inlining) {
    report(context, "constant_circle", at, sprintf("`%s` is defined by itself.", d$name), "break the circle")
    return(broken(at))
  }
  context$inlining <- c(context$inlining, d$name)
  v <- check_value(context, new_scope("a constant"), d$node)
  context$inlining <- utils::head(context$inlining, -1)
  if (!v$const && !is_unknown(v$type)) {
    report(context, "not_constant", d$node$at,
           sprintf("`%s` is fixed at the top of the file, but depends on what happens in a round.", d$name),
           sprintf("make it a function: `%s <- function() ...`", d$name))
    return(broken(at))
  }
  v$at <- at
  v
}

constant_value <- function(context, scope, node) {
  at <- node$at
  misplaced <- function(where) {
    report(context, "word_misplaced", at, sprintf("`%s` has no meaning here.", node$name), where)
    broken(at)
  }
  switch(node$name,
    yes = literal(1, t_yesno, at),
    no = literal(0, t_yesno, at),
    nobody = , none = , pass = , blank = literal(0, t_label(node$name, integer(), none = TRUE), at),
    turns_played = , passes = , asks = counted_value(context, scope, node$name, t_whole, at),
    last_mover = if (length(table_seats(context)) > 0)
      counted_value(context, scope, node$name, table_seat_type(context, none = TRUE), at)
      else misplaced("declare who takes turns: seats(left, right)"),
    it = if (is.null(scope$it)) misplaced("use it inside a word such as count(faces, it == 6)")
      else read_variable(context, scope, scope$it, at),
    me = if (is.null(scope$me)) misplaced("use it in a player's rule")
      else typed("var", scope$me$type, at, var = scope$me),
    choices = if (is.null(scope$decision)) misplaced("use it in a player's rule, as in pick(choices)")
      else choices_value(context, scope, at),
    misplaced(vocabulary_word(node$name)$says))
}

# A built-in counter, or the seat that moved last. It is kept only where the rules read it; examples that read it cost
# the rounds nothing.
counted_value <- function(context, scope, name, type, at) {
  where <- if (scope$what == "an example") "counted_in_examples" else "counted"
  context[[where]] <- union(context[[where]], name)
  typed("counter", type, at, name = name)
}

# --- calls ------------------------------------------------------------------

node_call <- function(context, scope, node, want) {
  fn <- node$fn
  entry <- context$names[[fn]]
  if (!is.null(entry) && entry$kind == "function") return(inline_call(context, scope, node, entry, want))
  if (!is.null(entry) && entry$kind == "column") return(column_call(context, scope, node, entry))
  if (!is.null(entry) && entry$kind == "table") return(table_call(context, scope, node, entry, want))
  operator <- operators[[fn]]
  if (!is.null(operator)) return(operator(context, scope, node, want))
  if (word_is(fn, "value")) return(get(paste0("value_", fn))(context, scope, node, want))
  not_a_value <- function(message, hint) {
    report(context, "not_a_value", node$at, message, hint)
    broken(node$at)
  }
  if (word_is(fn, "statement"))
    return(not_a_value(sprintf("`%s` does something; it gives no value.", fn), "put it on a line of its own"))
  if (fn %in% c("<-", "while", "repeat", "for", "break", "next", "return")) {
    if (fn == "<-") {
      report(context, "arrow_here", node$fn_at, "`<-` cannot stand inside an expression.",
             "for `x` less than a negative number write `x < -5`, with spaces")
      return(broken(node$at))
    }
    return(not_a_value(sprintf("`%s` gives no value.", fn), "put it on a line of its own"))
  }
  if (!is.null(vocabulary_word(fn))) return(not_a_value(sprintf("`%s` does not belong here.", fn),
    if (vocabulary_word(fn)$kind == "thing")
      sprintf("declare it at the top of the file, under a name: %s", vocabulary_word(fn)$example)
    else if (fn == "list") "values in a row are written c(...)"
    else if (fn == "others") "for the other seats write those(seats, it != s)"
    else vocabulary_word(fn)$says))
  unknown_call(context, scope, node)
}

unknown_call <- function(context, scope, node) {
  fn <- node$fn
  if (startsWith(fn, "%")) {
    report(context, "unknown_operator", node$fn_at, sprintf("`%s` is no operator outside signs().", fn),
           "there are %in%, %% (remainder) and %/% (whole division)")
    return(broken(node$at))
  }
  functions <- names(Filter(function(d) d$kind == "function", context$names))
  ordered <- "highest(x, n), or lowest(x, n): from the lowest on"
  habits <- c(random = "pick(1:6)", rand = "pick(1:6)", randint = "pick(1:6)", sample = "pick(...)",
              print = "say(\"...\")", cat = "say(\"...\")", length = "size(x)", len = "size(x)",
              floor = "round_down(x)", ceiling = "round_up(x)", append = "put(x, into = list)",
              push = "put(x, into = list)", range = "a range with both ends, as in 1:6",
              ifelse = "if (condition) a else b", sort = ordered, sorted = ordered,
              seq = "a range with both ends, as in 1:6", seq_len = "1:n", seq_along = "1:size(x)")
  hint <- if (fn %in% names(habits)) paste("write", habits[[fn]])
    else did_you_mean(fn, c(functions, words_of_kind("value", "statement")))
  if (is.null(hint) && !is.null(context$names[[fn]]))
    hint <- sprintf("`%s` is %s, not a function", fn, kind_in_words(context$names[[fn]]$kind))
  report(context, "unknown_name", node$fn_at, sprintf("There is no word and no function `%s`.", fn),
         if (is.null(hint)) sprintf("declare it: `%s <- function(...) ...`", fn) else hint)
  for (a in node$args) check_value(context, scope, a)
  broken(node$at)
}

# The answers that may be given, as a collection.
choices_value <- function(context, scope, at) {
  typed("choices", t_collection("list", scope$decision$type), at)
}
