# The stake of a visitor, as an expression of the rules language over the wallet and the rounds before. It is worked
# out for many states at once.

stake_names <- c("wallet", "last_stake", "last_net", "run")

# list(text, uses, of): `of` takes a list of vectors by name and gives the stakes asked for.
stake_rule <- function(text) {
  if (is.numeric(text)) text <- plain_number(text)
  if (!is.character(text) || length(text) != 1 || is.na(text))
    abort_input("stake_rule_wrong", "A staking rule is a number or an expression.",
                "write stake = \"max(1, wallet / 10)\"")
  node <- parse_expression(text)
  check_stake_node(node)
  list(text = text, uses = Filter(function(name) mentions(list(node), name), stake_names),
       of = function(state) stakes_asked(node, state, text))
}

stakes_asked <- function(node, state, text) {
  asked <- rep_len(as.numeric(stake_value(node, state)), length(state$wallet))
  if (all(is.finite(asked))) return(asked)
  k <- which(!is.finite(asked))[[1]]
  abort_input("stake_rule_wrong", sprintf("`%s` gives no number where %s.", text,
                                          paste(names(state), "is", vapply(state, function(x) plain_number(x[[k]]), ""),
                                                collapse = ", ")),
              "guard a division, as in if (last_stake == 0) 1 else last_net / last_stake")
}

stake_functions <- list(
  "+" = function(a, b) if (missing(b)) a else a + b, "-" = function(a, b) if (missing(b)) -a else a - b,
  "*" = function(a, b) a * b, "/" = function(a, b) a / b, "%/%" = function(a, b) a %/% b, "%%" = function(a, b) a %% b,
  "<" = function(a, b) a < b, "<=" = function(a, b) a <= b, ">" = function(a, b) a > b, ">=" = function(a, b) a >= b,
  "==" = function(a, b) a == b, "!=" = function(a, b) a != b, "&&" = function(a, b) a & b, "||" = function(a, b) a | b,
  "!" = function(a) !a, "(" = function(a) a, "{" = function(a) a, "if" = function(cond, yes, no) {
    n <- max(length(cond), length(yes), length(no))  # any of them may be one value for all states
    ifelse(rep_len(cond, n), rep_len(yes, n), rep_len(no, n))
  },
  min = pmin, max = pmax, round_down = floor, round_up = ceiling, abs = abs)

check_stake_node <- function(node) {
  if (node$kind == "number" || (node$kind == "name" && node$name %in% c(stake_names, "yes", "no"))) return(invisible())
  if (node$kind == "call" && !is.null(stake_functions[[node$fn]]) &&
      (node$fn != "if" || length(node$args) == 3)) {
    for (a in node$args) check_stake_node(a)
    return(invisible())
  }
  what <- if (node$kind == "name") node$name else if (node$kind == "call") node$fn else node$kind
  abort_input("stake_rule_wrong", sprintf("`%s` has no meaning in a staking rule.", what),
              sprintf("what it may read is %s; an `if` needs its else", some_of_names(stake_names)))
}

stake_value <- function(node, state) {
  if (node$kind == "number") return(node$value)
  if (node$kind == "name") return(switch(node$name, yes = TRUE, no = FALSE, state[[node$name]]))
  do.call(stake_functions[[node$fn]], lapply(node$args, stake_value, state = state))
}
