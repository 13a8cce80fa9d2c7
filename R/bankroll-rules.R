# The rules of an evening, as expressions of the rules language. Both ways to work an evening out read them: the chain
# for many states at once, played evenings as a part of the game.

# Read over what a visitor knows (the wallet, the last stake and result, and the run of results of one kind), over
# `wanted`, which is the visitor's staking rule, and over the limits of the evening.
evening_rules <- c(
  can = "round_down(wallet / cost + 1e-9)",  # stakes that the wallet has room for
  asked = "max(least, round_down(wanted + 1e-9))",
  stake = "min(asked, min(most, can))",
  cut = "asked > stake",
  leaves = "asked > can",
  reached = "wallet >= goal",
  ruined = "can < least")

# What a round changes, one after the other. `paid` is what it pays for one stake.
evening_changes <- c(
  played = "played + 1",
  cuts = "cuts + (if (cut) 1 else 0)",
  last_stake = "stake",
  put_in = "put_in + last_stake",
  last_net = "last_stake * paid",
  wallet = "wallet + last_net",
  run = "if (last_net > 0) max(run, 0) + 1 else if (last_net < 0) min(run, 0) - 1 else run",
  losses = "max(losses, 0 - run)",
  lowest = "min(lowest, wallet)",
  highest = "max(highest, wallet)",
  drawdown = "max(drawdown, highest - wallet)")

stake_names <- c("wallet", "last_stake", "last_net", "run")

evening_limits <- function(terms, cost) c(terms[c("least", "most", "goal")], list(cost = cost))

# Expressions with names, parsed in one go.
parse_named <- function(texts) {
  node <- parse_expression(sprintf("c(%s)", paste(names(texts), "=", texts, collapse = ", ")))
  stats::setNames(node$args, node$names)
}

# list(text, uses, of, after): `of` takes the name of a rule of the evening, `after` that of a quantity that a round
# changes; both take vectors by name, and give the values.
stake_rule <- function(text) {
  if (is.numeric(text)) text <- plain_number(text)
  if (!is.character(text) || length(text) != 1 || is.na(text))
    abort_input("stake_rule_wrong", "A staking rule is a number or an expression.",
                "write stake = \"max(1, wallet / 10)\"")
  node <- parse_expression(text)
  check_stake_node(node)
  rules <- parse_named(evening_rules)
  read <- lapply(rules, function(rule) Filter(function(name) mentions(list(rule), name), c("wanted", names(rules))))
  rules <- lapply(rules, vector_expression)
  changes <- lapply(parse_named(evening_changes), vector_expression)
  wanted <- vector_expression(node)
  value <- function(name, known) {
    if (name == "wanted") return(stakes_wanted(wanted, known, text))
    for (other in read[[name]]) if (is.null(known[[other]])) known[[other]] <- value(other, known)
    stake_value(rules[[name]], known)
  }
  list(text = text, uses = Filter(function(name) mentions(list(node), name), stake_names), of = value,
       after = function(name, known) stake_value(changes[[name]], known))
}

stakes_wanted <- function(expression, known, text) {
  wanted <- rep_len(as.numeric(stake_value(expression, known)), length(known$wallet))
  if (all(is.finite(wanted))) return(wanted)
  k <- which(!is.finite(wanted))[[1]]
  there <- vapply(known[stake_names], function(x) plain_number(x[[k]]), "")
  abort_input("stake_rule_wrong",
              sprintf("`%s` gives no number where %s.", text, paste(stake_names, "is", there, collapse = ", ")),
              "guard a division, as in if (last_stake == 0) 1 else last_net / last_stake")
}

# The functions of the language on vectors: a value for each of many states.
stake_functions <- list(
  "+" = `+`, "-" = `-`, "*" = `*`, "/" = `/`, "%/%" = `%/%`, "%%" = `%%`, "<" = `<`, "<=" = `<=`, ">" = `>`,
  ">=" = `>=`, "==" = `==`, "!=" = `!=`, "&&" = `&`, "||" = `|`, "!" = `!`, "(" = `(`, "{" = `{`,
  "if" = function(cond, yes, no) {
    n <- max(length(cond), length(yes), length(no))  # any of them may be one value for all states
    ifelse(rep_len(cond, n), rep_len(yes, n), rep_len(no, n))
  },
  min = pmin, max = pmax, round_down = floor, round_up = ceiling, abs = abs)

stake_scope <- list2env(stake_functions, parent = emptyenv())

# The expression as one of R, to be worked out over vectors by name.
vector_expression <- function(node) {
  if (node$kind == "number") return(node$value)
  if (node$kind == "name") return(switch(node$name, yes = TRUE, no = FALSE, as.name(node$name)))
  as.call(c(as.name(node$fn), lapply(node$args, vector_expression)))
}

stake_value <- function(expression, known) eval(expression, known, stake_scope)

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
