# A rule to remember: best play in a few lines, grown until what it loses, counted, is little enough.

most_lines_of_rule <- 12L      # of a decision
most_answers_of_rule <- 100L
most_situations_of_rule <- 5e5
rounding_of_costs <- 1e-12     # in the scale of worths: differences below it are none
illegal_cost <- 1e9            # in the scale of worths: an answer that is not legal there
unmet_share <- 1e-6            # of the weight is spread over situations that best play does not meet

# Solved with the functions of the rules as things that a rule can test; without them where one fails in some situation.
solved_for_rule <- function(task, seats, players, objective) {
  tryCatch(solved(c(task, list(functions = TRUE)), seats, players, objective),
           basanos_error = function(e) solved(task, seats, players, objective))
}

# list(wanted, met, value, loss, standard_error, rules, lines): `rules` by decision in the rules language, `lines` a
# data frame with `decision`, `where` and `answer`, from the top down.
rule_to_remember <- function(task, solution, players, wanted) {
  grown <- lapply(solution$books, function(book) {
    root <- root_of_rule(book)
    list(book = book, features = root$features, leaves = list(root))
  })
  best <- NULL
  repeat {
    tried <- rule_tried(task, solution, players, grown)
    if (!is.null(tried) && (is.null(best) || surely_lost(tried) < surely_lost(best)))
      best <- c(tried, list(wanted = wanted))
    if (!is.null(best) && surely_lost(best) <= wanted + bounds_met * max(1, abs(solution$value)))
      return(c(best, list(met = TRUE)))
    longer <- longer_rule(grown)
    if (is.null(longer)) break
    grown <- longer
  }
  if (is.null(best))
    abort_input("best_rule", "No short rule is legal in every situation here.",
                "see the situations (--format csv), or write all of best play (--write best.R)")
  c(best, list(met = FALSE))
}

# Of a sampled loss the upper end of its interval.
surely_lost <- function(tried) tried$loss + stats::qnorm(0.975) * tried$standard_error

# NULL while the rule gives answers that are not legal. What it comes to is counted, or sampled.
rule_tried <- function(task, solution, players, grown) {
  if (!all(vapply(grown, function(g) all(vapply(g$leaves, `[[`, NA, "legal")), NA))) return(NULL)
  lines <- lapply(grown, function(g) lines_of_leaves(g$leaves, g$features))
  rules <- vapply(lines, rule_of_lines, "")
  names(rules) <- vapply(grown, function(g) g$book$decision, "")
  seat <- task$game$seats[[solution$seats]]
  task$game <- game_with_player(task$game, "rule", rules)
  value <- value_of_player(task, solution, utils::modifyList(as.list(players), stats::setNames(list("rule"), seat)))
  list(value = value$value, loss = solution$objective$sign * (solution$value - value$value),
       standard_error = value$standard_error, engine = value$engine, rules = rules,
       lines = do.call(rbind, Map(function(g, of_game) data.frame(
         decision = g$book$decision, where = vapply(of_game, function(line) condition_in_words(line$conditions), ""),
         answer = vapply(of_game, `[[`, "", "answer")), grown, lines)))
}

# --- growing -----------------------------------------------------------------------------------------

# All situations in one leaf: list(costs, weight, features, held, conditions, answer, loss, legal). `costs` has a row a
# situation and a column an answer; `held` says which of all situations it holds.
root_of_rule <- function(book) {
  answers <- unique(book$answers)
  if (length(book$keys) > most_situations_of_rule)
    abort_input("best_rule", sprintf("The situations of `%s` are too many for a short rule: %s.", book$decision,
                                     whole_text(length(book$keys))), "write all of best play (--write best.R)")
  if (length(answers) > most_answers_of_rule || book$several)
    abort_input("best_rule", sprintf("The answers of `%s` are too many for a short rule.", book$decision),
                "see the situations (--by, --figure), or write all of best play (--write best.R)")
  size <- length(book$keys)
  key <- rep(seq_len(size), book$to - book$from + 1L)
  costs <- matrix(illegal_cost, size, length(answers), dimnames = list(NULL, answers))
  costs[cbind(key, match(book$answers, answers))] <- ifelse(is.na(book$cost), 0, book$cost)
  weight <- book$reach + unmet_share * sum(book$reach) / size
  with_answer(list(costs = costs, weight = weight, features = tested_features(book$features),
                   held = rep(TRUE, size), conditions = list()))
}

with_answer <- function(leaf) {
  losses <- colSums(leaf$costs * leaf$weight)
  k <- which.min(losses)
  c(leaf[c("costs", "weight", "features", "held", "conditions")],
    list(answer = colnames(leaf$costs)[[k]], loss = losses[[k]], legal = !any(leaf$costs[, k] >= illegal_cost)))
}

# The leaves with the one split that saves most; NULL where none saves anything, or the rule is long enough.
longer_rule <- function(grown) {
  best <- NULL
  for (g in seq_along(grown)) {
    leaves <- grown[[g]]$leaves
    if (length(leaves) >= most_lines_of_rule) next
    for (k in seq_along(leaves)) {
      if (is.null(leaves[[k]]$split)) grown[[g]]$leaves[[k]]$split <- leaves[[k]]$split <- best_split(leaves[[k]])
      saved <- leaves[[k]]$split$saved
      if (saved > 0 && (is.null(best) || saved > best$saved)) best <- list(saved = saved, g = g, k = k)
    }
  }
  if (is.null(best)) return(NULL)
  leaves <- grown[[best$g]]$leaves
  grown[[best$g]]$leaves <- append(leaves[-best$k], split_leaf(leaves[[best$k]]), best$k - 1L)
  grown
}

# list(saved, thing, kind, at): "from": numbers from `at` on go one way, the others the other; "in": names, or
# remainders, that are among `at`.
best_split <- function(leaf) {
  best <- list(saved = 0)
  if (leaf$loss <= 0) return(best)
  for (thing in names(leaf$features)) {
    values <- leaf$features[[thing]]
    split <- if (is.numeric(values)) split_of_numbers(leaf, values) else split_of_names(leaf, values)
    if (!is.null(split) && split$saved > best$saved + rounding_of_costs * sum(leaf$weight))
      best <- c(split, list(thing = thing))
  }
  best
}

least_by_row <- function(m) do.call(pmin, lapply(seq_len(ncol(m)), function(j) m[, j]))

split_of_numbers <- function(leaf, values) {
  ends <- sort(unique(values))
  if (length(ends) < 2) return(NULL)
  by_value <- rowsum(leaf$costs * leaf$weight, match(values, ends), reorder = TRUE)
  below <- matrix(apply(by_value, 2, cumsum), nrow = nrow(by_value))
  whole <- rep(below[nrow(below), ], each = nrow(below) - 1L)
  below <- below[-nrow(below), , drop = FALSE]
  left <- least_by_row(below) + least_by_row(whole - below)
  k <- which.min(left)
  list(saved = leaf$loss - left[[k]], kind = "from", at = ends[[k + 1L]])
}

# The names at which another answer is better than that of the leaf.
split_of_names <- function(leaf, values) {
  names <- unique(values)
  if (length(names) < 2) return(NULL)
  by_name <- rowsum(leaf$costs * leaf$weight, match(values, names), reorder = TRUE)
  column <- match(leaf$answer, colnames(by_name))
  best <- NULL
  for (other in setdiff(seq_len(ncol(by_name)), column)) {
    better <- by_name[, other] < by_name[, column] - rounding_of_costs * sum(leaf$weight)
    if (!any(better) || all(better)) next
    left <- min(colSums(by_name[better, , drop = FALSE])) + min(colSums(by_name[!better, , drop = FALSE]))
    if (is.null(best) || left < best$left) best <- list(left = left, at = names[better])
  }
  if (!is.null(best)) list(saved = leaf$loss - best$left, kind = "in", at = sorted_names(best$at))
}

sorted_names <- function(names) names[order(suppressWarnings(as.numeric(names)), names)]

split_leaf <- function(leaf) {
  split <- leaf$split
  values <- leaf$features[[split$thing]]
  yes <- if (split$kind == "in") values %in% split$at else values >= split$at
  part <- function(kept, holds) with_answer(list(
    costs = leaf$costs[kept, , drop = FALSE], weight = leaf$weight[kept], features = lapply(leaf$features, `[`, kept),
    held = replace(leaf$held, leaf$held, kept),
    conditions = c(leaf$conditions, list(c(split[c("thing", "kind", "at")], list(holds = holds))))))
  list(part(yes, TRUE), part(!yes, FALSE))
}

most_numbers_combined <- 5L
remainders_tried <- 2:6

# Numbers, their differences and remainders, and names: what the lines of a rule can test.
tested_features <- function(features) {
  numbers <- Filter(function(x) is.numeric(x) && length(unique(x)) > 1, features)
  whole <- Filter(function(x) all(x == floor(x)) && length(unique(x)) > 4, numbers)
  remainders <- unlist(lapply(names(whole), function(name) stats::setNames(
    lapply(remainders_tried, function(m) as.character(whole[[name]] %% m)),
    sprintf("%s %%%% %d", in_brackets(name), remainders_tried))), recursive = FALSE)
  numbers <- utils::head(numbers, most_numbers_combined)
  pairs <- if (length(numbers) > 1) utils::combn(length(numbers), 2, simplify = FALSE)
  differences <- lapply(pairs, function(k) numbers[[k[[1]]]] - numbers[[k[[2]]]])
  names(differences) <- vapply(pairs, function(k)
    sprintf("%s - %s", names(numbers)[[k[[1]]]], in_brackets(names(numbers)[[k[[2]]]])), "")
  c(features, differences, remainders)
}

in_brackets <- function(text)
  if (grepl("^[A-Za-z._0-9]+(\\[[^]]*\\]|\\([^)]*\\))?$", text)) text else sprintf("(%s)", text)

# --- telling -----------------------------------------------------------------------------------------

# One line a leaf: list(conditions, answer). The first whose conditions hold counts, so a line needs only those that
# tell its situations from what the lines before have left.
lines_of_leaves <- function(leaves, features) {
  if (length(leaves) == 1) return(list(leaves[[1]][c("conditions", "answer")]))
  left <- rep(TRUE, length(leaves[[1]]$held))
  lines <- lapply(leaves, function(leaf) {
    conditions <- leaf$conditions
    for (condition in leaf$conditions) {
      fewer <- conditions[!vapply(conditions, identical, NA, condition)]
      if (identical(left & all_hold(fewer, features), leaf$held)) conditions <- fewer
    }
    left <<- left & !leaf$held
    list(conditions = conditions, answer = leaf$answer)
  })
  joined_lines(lines, features)
}

all_hold <- function(conditions, features) {
  holds <- TRUE
  for (condition in conditions) holds <- holds & condition_holds(condition, features)
  rep_len(holds, length(features[[1]]))
}

condition_holds <- function(condition, features) {
  values <- features[[condition$thing]]
  (if (condition$kind == "in") values %in% condition$at else values >= condition$at) == condition$holds
}

# The last line needs no condition, and lines whose situations the next ones answer alike are left out.
joined_lines <- function(lines, features) {
  lines[[length(lines)]]$conditions <- list()
  answers <- answers_by_lines(lines, features)
  for (k in rev(seq_len(length(lines) - 1L)))
    if (identical(answers_by_lines(lines[-k], features), answers)) lines <- lines[-k]
  lines
}

answers_by_lines <- function(lines, features) {
  answers <- rep(NA_character_, length(features[[1]]))
  for (line in lines) answers[is.na(answers) & all_hold(line$conditions, features)] <- line$answer
  answers
}

rule_of_lines <- function(lines) {
  tests <- vapply(lines[-length(lines)], function(line)
    paste(vapply(line$conditions, condition_in_rules, ""), collapse = " && "), "")
  answers <- vapply(lines, `[[`, "", "answer")
  if (length(answers) == 1) return(answers)
  paste0(paste(sprintf("if (%s) %s else ", tests, answers[-length(answers)]), collapse = ""),
         answers[[length(answers)]])
}

condition_in_rules <- function(condition) {
  at <- if (is.numeric(condition$at)) full_number(condition$at) else condition$at
  if (condition$kind == "from") return(sprintf("%s %s %s", condition$thing, if (condition$holds) ">=" else "<", at))
  if (!condition$holds) return(paste(sprintf("%s != %s", condition$thing, at), collapse = " && "))
  any_of <- paste(sprintf("%s == %s", condition$thing, at), collapse = " || ")
  if (length(at) == 1) any_of else sprintf("(%s)", any_of)
}

enumerated_or <- function(names) {
  if (length(names) == 1) names
  else paste(paste(names[-length(names)], collapse = ", "), "or", names[[length(names)]])
}

# "score[me] below 80, pot from 20"
condition_in_words <- function(conditions) {
  if (length(conditions) == 0) return("otherwise")
  words <- vapply(conditions, function(condition) {
    at <- if (is.numeric(condition$at)) plain_number(condition$at) else condition$at
    if (condition$kind == "from") sprintf("%s %s %s", condition$thing, if (condition$holds) "from" else "below", at)
    else sprintf("%s %s %s", condition$thing, if (condition$holds) "is" else "is not", enumerated_or(at))
  }, "")
  paste(words, collapse = ", ")
}

best_rule_section <- function(x) {
  r <- x$rule
  if (is.null(r)) return(NULL)
  several <- length(unique(r$lines$decision)) > 1
  alone <- !r$lines$decision %in% r$lines$decision[duplicated(r$lines$decision)]
  cells <- c(if (several) list(decision = r$lines$decision),
             list(where = ifelse(alone, "always", r$lines$where), answer = r$lines$answer))
  counted <- if (r$engine == "exact") "counted"
    else sprintf("sampled, standard error %s", fixed_text(r$standard_error, 6))
  section("A rule to remember", cells, c(
    sprintf("A %s is worth %s so: it loses %s (%s).", x$unit, worth_text(r$value), worth_text(r$loss), counted),
    if (!r$met) sprintf("No rule of at most %d lines was found that loses %s or less.", most_lines_of_rule,
                        plain_number(r$wanted)),
    sprintf("As a player: rule <- player(%s)", paste(names(r$rules), r$rules, sep = " = ", collapse = ", "))))
}
