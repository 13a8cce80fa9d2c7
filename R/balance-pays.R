# Pays without another run. Where a knob only changes what is paid, one run tells how often each case is paid, and any
# pays follow from that. A class is an outcome with the case that each bet came to and what lay on it.

# Measures that follow from the classes; a mean pay and the ratios to what is put in add up over the cases.
is_linear_word <- function(word) word == "mean_pay" || isTRUE(ratio_of_word(word)$ledger %in% c("own", "first"))
follows_from_classes <- function(word)
  is_linear_word(word) || word %in% c("put_in", "decided_edge", "hit", "gain", "volatility")

# Do these knobs change pays alone, so that no decision, draw or stop can tell them apart?
only_pays <- function(question, names) {
  game <- question$game
  measures <- question$measures
  money <- game$money
  read <- length(money$wallets) > 0 || !is.null(question$paid_variable) || length(money$pots) > 0 ||
    length(settlements(game)) > length(money$settles) || any(lengths(money[c("last_stake", "last_net", "streak")]) > 0)
  of_money <- vapply(measures, function(m) !is.null(m$about), NA)
  known <- vapply(measures, function(m) follows_from_classes(m$word), NA)
  if (read || any(of_money & !known) || !all(vapply(money$settles, has_constant_odds, NA))) return(FALSE)
  rest <- unclass(game)[setdiff(names(game), c("pays", "examples", "nodes", "claims", "source", "settings",
                                               "records"))]
  rest$money$settles <- lapply(money$settles, function(line) lapply(line$cases, `[[`, "cond"))
  rest$added <- Filter(is_added, question$records)
  if (any(gained_ids(money) %in% variables_in(list(rest$outcomes, rest$added), "var"))) return(FALSE)
  !any(names %in% settings_in(rest)) && all(vapply(game$pays, has_constant_pays, NA))
}

# Nodes name settings in three ways: by themselves, as values of a column, and as those of a family by seat.
settings_in <- function(x) {
  names <- character()
  walk(x, function(n) names <<- c(names, if (n$op == "setting") n$name, n$settings,
                                  if (is.environment(n$var)) n$var$settings))
  setdiff(unique(names), "")
}

has_constant_odds <- function(line) {
  constant <- function(case) case$brings$how == "stands" || (case$brings$a$const && case$brings$b$const)
  all(vapply(line$cases, constant, NA)) && (is.null(line$most) || line$most$const)
}

has_constant_pays <- function(line) {
  isTRUE(line$of_bets) || all(vapply(c(line$by_outcome, list(line$otherwise), list(line$always)), function(node)
    is.null(node) || isTRUE(node$const), NA))
}

# list(digits, weight): a row a class.
money_classes <- function(game, result) {
  if (length(game$money$settles) == 0)
    return(list(digits = cbind(match(result$outcomes$name, game$outcomes$names)), weight = result$outcomes$probability))
  list(digits = case_digits(round(result$cases$value), game),
       weight = result$cases$weight / sum(result$cases$weight))
}

# Stakes and net result of each class, in tokens, of a part: list(seat, bets), either may be missing.
class_money <- function(game, classes, part, settings) {
  put <- net <- numeric(length(classes$weight))
  if (!is.null(part$seat)) {
    put <- put + constant_stake(game, part$seat, settings)
    numbers <- unique(classes$digits[, 1])
    paid <- vapply(numbers, function(k) sum(0, unlist(lapply(amounts_beside(game, part$seat, k), function(node)
      constant_of(node, settings, game$source)))), 0)
    net <- net + paid[match(classes$digits[, 1], numbers)]
  }
  for (name in part$bets) {
    settled <- settled_classes(game, classes, name, settings)
    put <- put + settled$put
    net <- net + settled$net
  }
  list(put = put, net = net)
}

amounts_beside <- function(game, seat, number)
  lapply(Filter(function(a) !a$of_bets, amounts_paid(game, seat, number)), `[[`, "node")

constant_stake <- function(game, seat, settings) {
  of_seat <- Filter(function(s) s$who$how == "everyone" || s$who$seat == seat, game$stakes)
  sum(0, vapply(of_seat, function(s) constant_of(s$amount, settings, game$source), 0))
}

# Of one bet: as back_steps() writes it.
settled_classes <- function(game, classes, name, settings) {
  k <- match(name, vapply(game$money$settles, `[[`, "", "bet"))
  line <- game$money$settles[[k]]
  case <- classes$digits[, 2 * k]
  lies <- classes$digits[, 2 * k + 1]
  of <- function(node) constant_of(node, settings, game$source)
  back <- numeric(length(lies))
  put <- lies
  for (i in setdiff(unique(case), 0)) {
    at <- case == i
    brings <- line$cases[[i]]$brings
    if (brings$how == "stands") {
      put[at] <- 0
      next
    }
    paid <- floor(lies[at] * of(brings$a) / of(brings$b) + 1e-9)
    gross <- if (brings$how == "for") paid else lies[at] + paid
    back[at] <- if (is.null(line$most)) gross else pmin(gross, lies[at] + of(line$most))
  }
  in_tokens <- game$money$piece$num / game$money$piece$den
  list(put = put * in_tokens, net = (back - put) * in_tokens)
}

# The knobs that the result of each class depends on: a list of their numbers.
knobs_of_classes <- function(game, classes, part, knobs) {
  mentioned <- function(x) match(intersect(settings_in(x), knobs), knobs)
  sets <- rep(list(integer()), length(classes$weight))
  add <- function(keys, of) {
    knobs_of <- lapply(stats::setNames(nm = unique(keys)), function(key) mentioned(of(key)))
    sets <<- Map(union, sets, knobs_of[as.character(keys)])
  }
  if (!is.null(part$seat)) add(classes$digits[, 1], function(k) amounts_beside(game, part$seat, k))
  for (name in part$bets) {
    k <- match(name, vapply(game$money$settles, `[[`, "", "bet"))
    line <- game$money$settles[[k]]
    add(classes$digits[, 2 * k], function(i) if (i > 0) list(line$cases[[i]]$brings, list(line$most)))
  }
  lapply(sets, sort)
}

# The sums that measures are made of.
class_sums <- function(money, weight) {
  back <- money$put + money$net
  staked <- money$put > 0
  c(net = sum(weight * money$net), put = sum(weight * money$put), staked = sum(weight[staked]),
    hit = sum(weight[staked & back > 0]), gain = sum(weight[staked & money$net > 0]),
    decided = sum((weight * money$put)[money$net != 0]), back_back = sum(weight * back^2),
    back_put = sum(weight * back * money$put), put_put = sum(weight * money$put^2))
}

most_in_factor <- 2e5

# The sums of a part as factors: list(knobs, table), the table with a row for each combination of values of its knobs
# (the first goes fastest). NULL where one would be too large.
factors_of_part <- function(game, classes, part, knobs, settings) {
  sets <- knobs_of_classes(game, classes, part, vapply(knobs, `[[`, "", "name"))
  keys <- vapply(sets, paste, "", collapse = " ")
  factors <- lapply(split(seq_along(keys), keys), function(group) {
    set <- sets[[group[[1]]]]
    sizes <- lengths(lapply(knobs[set], `[[`, "values"))
    if (prod(sizes) > most_in_factor) return(NULL)
    some <- list(digits = classes$digits[group, , drop = FALSE], weight = classes$weight[group])
    rows <- lapply(seq_len(prod(sizes)), function(row) {
      at <- arrayInd(row, c(sizes, 1))
      for (i in seq_along(set)) settings[[knobs[[set[[i]]]]$name]] <- knobs[[set[[i]]]]$values[[at[[i]]]]
      class_sums(class_money(game, some, part, settings), some$weight)
    })
    list(knobs = set, sizes = sizes, table = do.call(rbind, rows))
  })
  if (any(vapply(factors, is.null, NA))) NULL else unname(factors)
}

# A measure by the index of each knob's value: list(word, factors, first), or NULL.
measure_by_pays <- function(game, classes, measure, knobs, settings, first) {
  seat <- if (measure$about$kind == "seat") match(measure$about$name, game$seats)
  bets <- if (is.null(seat)) measure$about$name else names(bets_of_seat(game$money, seat))
  parts <- if (is_linear_word(measure$word))
    c(if (!is.null(seat)) list(list(seat = seat)), lapply(bets, function(b) list(bets = b)))
    else list(list(seat = seat, bets = bets))
  factors <- lapply(parts, factors_of_part, game = game, classes = classes, knobs = knobs, settings = settings)
  if (any(vapply(factors, is.null, NA))) return(NULL)
  list(word = measure$word, factors = unlist(factors, recursive = FALSE), first = first)
}

# Rows of a factor's table for combinations, one row of `index` each.
rows_of_factor <- function(factor, index) {
  row <- rep(1, nrow(index))
  step <- 1
  for (i in seq_along(factor$knobs)) {
    row <- row + (index[, factor$knobs[[i]]] - 1) * step
    step <- step * factor$sizes[[i]]
  }
  row
}

values_by_pays <- function(form, index) {
  of <- function(name) Reduce(`+`, lapply(form$factors, function(f) f$table[rows_of_factor(f, index), name]))
  ratio <- ratio_of_word(form$word)
  if (!is.null(ratio)) return(ratio$start + ratio$sign * of("net") / if (is.null(form$first)) of("put") else form$first)
  switch(form$word,
    mean_pay = of("net"), put_in = of("put"), decided_edge = -of("net") / of("decided"),
    hit = of("hit") / of("staked"), gain = of("gain") / of("staked"), volatility = {
      rate <- 1 + of("net") / of("put")
      1.645 * sqrt(pmax(0, of("back_back") - 2 * rate * of("back_put") + rate^2 * of("put_put"))) / of("put")
    })
}

# Of a linear measure: list(scale, start), so that its value is start + scale * net; its denominator is the same for
# all pays. NULL of others.
linear_form <- function(form) {
  if (!is_linear_word(form$word)) return(NULL)
  if (form$word == "mean_pay") return(list(start = 0, scale = 1))
  put <- if (is.null(form$first)) sum(vapply(form$factors, function(f) f$table[[1, "put"]], 0)) else form$first
  ratio <- ratio_of_word(form$word)
  list(start = ratio$start, scale = ratio$sign / put)
}
