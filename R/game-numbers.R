# Numbers of the rules turned as if they were settings: what an outcome pays, copies, weights.

# The game, in which each number of the rules that `set` names, as pay(bright), is a setting under its full name.
game_with <- function(game, set = list()) {
  game <- game(game)
  is_number <- function(name) grepl("(", name, fixed = TRUE) &&
    is.null(game$settings[[name_of_set_number(game, name)]])
  named <- Filter(is_number, names(set))
  with_numbers(game, lapply(named, number_to_set, game = game, values = set))
}

number_to_set <- function(game, name, values) {
  sites <- numbers_named_so(game, name)
  if (length(sites) != 1)
    abort_input("setting_unknown", sprintf("`%s` is %s number of these rules.", name, if (length(sites) == 0) "no" else
      "more than one"), sprintf("there is %s", some_of_names(vapply(numbers_in_rules(game$nodes), `[[`, "", "name"))))
  values <- suppressWarnings(as.numeric(unlist(values[[name]])))
  if (anyNA(values) || sites[[1]]$kind == "letters")
    abort_input("setting_type", sprintf("`%s` takes a number.", name), "write \"pay(bright)\" = 3")
  list(name = sites[[1]]$name, site = sites[[1]], values = values)
}

# The numbers of that name, which may leave out what is clear: pay(bright) for pay(guest, bright).
numbers_named_so <- function(game, name) {
  sites <- numbers_in_rules(game$nodes)
  plain <- gsub("\\s", "", name)
  whole <- vapply(sites, function(s) gsub("\\s", "", s$name), "")
  if (sum(whole == plain) == 1) return(sites[whole == plain])
  Filter(function(s) sprintf("%s(%s)", s$kind, paste(s$parts[-1], collapse = ",")) == plain, sites)
}

# The game in which each of some numbers, list(name, site, values), is a setting under its name.
with_numbers <- function(game, turned) {
  if (length(turned) == 0) return(game)
  nodes <- game$nodes
  for (number in turned) {
    at <- number$site$at
    name <- list(kind = "name", name = number$name, at = at)
    nodes <- node_replaced(nodes, at, name)
    start <- number_node_of(number$site$value, at, any(number$values != floor(number$values)))
    nodes <- c(list(call_node("<-", list(name, call_node("setting", list(start), at)), at)), nodes)
  }
  game_of_nodes(game, nodes)
}

number_node_of <- function(value, at, fraction = value != floor(value)) {
  node <- list(kind = "number", value = abs(value), fraction = fraction, at = at)
  if (value < 0) call_node("-", list(node), at) else node
}
