# Operators, and R's own words that give a value.

arithmetic <- function(context, scope, node, want) {
  if (node$fn == "+" && length(node$args) == 2) {
    first <- check_value(context, scope, node$args[[1]])
    if (is_collection(first$type))
      return(joined_collections(context, node, first, check_value(context, scope, node$args[[2]], first$type)))
  }
  operands <- lapply(node$args, function(a) number_operand(context, scope, node, a))
  if (any(vapply(operands, function(v) is_unknown(v$type), NA))) return(broken(node$at))
  if (length(operands) == 1) return(calculation("neg", operands[[1]]$type, node$at, operands))
  type <- join_types(operands[[1]]$type, operands[[2]]$type)
  if (node$fn %in% c("/", "^")) type <- t_fraction
  if (node$fn %in% c("%%", "%/%") && type$kind != "whole") {
    return(wrong_type(context, operands[[which(vapply(operands, function(v) v$type$kind != "whole", NA))[[1]]]],
                      t_whole, sprintf("An operand of `%s`", node$fn)))
  }
  calculation(node$fn, type, node$at, lapply(operands, convert, type = type))
}

number_operand <- function(context, scope, node, arg) {
  v <- check_value(context, scope, arg)
  if (is_number(v$type) || is_unknown(v$type)) return(v)
  if (v$type$kind == "range") {
    report(context, "habit_range_minus", node$at, "This counts on a range: `1:n-1` means `(1:n) - 1`.",
           "put the end in brackets: `1:(n - 1)`")
  } else if (v$type$kind == "label") {
    report(context, "label_arithmetic", v$at, "A label is not a number.", hint_of_label(context, v$type))
  } else wrong_type(context, v, t_whole, sprintf("The argument of `%s`", node$fn))
  broken(arg$at)
}

# The hint for a name in place of a number; some names of a set may be numbers.
hint_of_label <- function(context, type) {
  if (!has_number_names(context, type)) return("compare it with ==, or keep a number beside it")
  "give the names a column of numbers: sides <- names(1:20, ember, points = c(1:20, 0)), then points(face)"
}

has_number_names <- function(context, type)
  is_kind(type, "label") && any(grepl("^[0-9]+$", context$labels[type$members]))

comparison <- function(context, scope, node, want) {
  if (!operand_count(context, node, 2)) return(broken(node$at))
  known <- outcome_comparison(context, scope, node)
  if (is.null(known)) known <- passed_value(context, scope, node)
  if (!is.null(known)) return(known)
  a <- check_value(context, scope, node$args[[1]])
  if (is_unknown(a$type) && node$args[[2]]$kind == "name") return(broken(node$at))  # a label of what could not be read
  a <- row_as_list(context, a)
  b <- row_as_list(context, check_value(context, scope, node$args[[2]], a$type))
  if (is_unknown(a$type) || is_unknown(b$type)) return(broken(node$at))
  if (node$args[[1]]$kind == "number" && is_kind(b$type, "card", "label"))
    a <- check_value(context, scope, node$args[[1]], b$type)
  if (is_collection(a$type) || is_collection(b$type)) return(compared_collections(context, node, a, b))
  if (is_kind(a$type, "label") && is_kind(b$type, "whole")) b <- number_as_label(context, b, a$type)
  if (is_kind(b$type, "label") && is_kind(a$type, "whole")) a <- number_as_label(context, a, b$type)
  type <- join_types(a$type, b$type)
  equality <- node$fn %in% c("==", "!=")
  if (is.null(type) || !comparable(a$type, b$type)) {
    report(context, "never_equal", node$at,
           sprintf("This compares %s with %s.", describe_type(a$type), describe_type(b$type)), "compare like with like")
    return(broken(node$at))
  }
  if (!equality && is_kind(type, "label") && !is.null(type$order))
    return(ordered_comparison(context, node, a, b, type$order))
  if (!is_kind(type, "whole", "fraction", "label", "yesno", "card", "word", "marks") ||
      (!equality && !is_number(type))) {
    column <- if (is_kind(type, "card")) ordered_column(context, type$set)
    report(context, "not_comparable", node$at, sprintf("`%s` does not compare %s.", node$fn, describe_type(type)),
           if (equality) NULL
           else if (!is.null(column)) sprintf("compare a column of both: %s(a) %s %s(b)", column, node$fn, column)
           else if (has_number_names(context, type)) hint_of_label(context, type) else "only numbers have an order")
    return(broken(node$at))
  }
  calculation(node$fn, t_yesno, node$at, list(convert(a, type), convert(b, type)))
}

# The first column of a deck, by which its cards may be compared.
ordered_column <- function(context, deck) {
  columns <- Filter(function(d) identical(d$kind, "column") && !is.null(d$owners[[deck]]), context$names)
  if (length(columns) > 0) columns[[1]]$name
}

# field == shown, where some of the fields are numbers: the label with the number's name, none where there is none.
number_as_label <- function(context, v, type) {
  numbers <- suppressWarnings(as.integer(context$labels[type$members]))
  if (all(is.na(numbers))) return(v)
  span <- seq(min(numbers, na.rm = TRUE), max(numbers, na.rm = TRUE))
  of <- t_label(type$set, type$members[!is.na(numbers)], none = TRUE, order = type$order)
  bounded <- function(fn, x, end) calculation(fn, t_whole, v$at, list(x, literal(end, t_whole, v$at)))
  first <- span[[1]] - 1
  x <- bounded("max", bounded("min", v, first + length(span) + 1), first)
  ids <- type$members[match(span, numbers)]
  typed("lookup", of, v$at, x = x, first = first, values = c(0, ifelse(is.na(ids), 0, ids), 0), const = v$const)
}

# rank >= J: by their order in the column
ordered_comparison <- function(context, node, a, b, order) {
  place <- function(v) {
    if (!is.unsorted(order) && all(v$type$members %in% order)) return(v)
    span <- seq(if (isTRUE(v$type$none)) 0 else min(order, v$type$members), max(order, v$type$members))
    typed("lookup", t_whole, v$at, x = v, first = span[[1]], values = as.numeric(match(span, order, nomatch = 0L)),
          const = v$const)
  }
  calculation(node$fn, t_yesno, node$at, list(place(a), place(b)))
}

# choice == pass, where the answer is a number or several items
passed_value <- function(context, scope, node) {
  if (!identical(node$args[[2]]$name, "pass") || node$args[[1]]$kind != "name" ||
      !is.null(scope$vars[[node$args[[1]]$name]])) return(NULL)
  d <- context$names[[node$args[[1]]$name]]
  if (is.null(d) || d$kind != "decision" || is.null(d$passed) || !node$fn %in% c("==", "!=")) return(NULL)
  passed <- typed("var", t_yesno, node$at, var = d$passed)
  if (node$fn == "==") passed else calculation("!", t_yesno, node$at, list(passed))
}

# Labels that share nothing can never be equal: a slip, not a question.
comparable <- function(a, b) {
  if (a$kind != "label") return(TRUE)
  possible <- function(type) c(type$members, type$of_set)  # a label passed to a function stands for any of its set
  (a$none && b$none) || any(possible(a) %in% possible(b)) || length(a$members) == 0 || length(b$members) == 0
}

connective <- function(context, scope, node, want) {
  if (!operand_count(context, node, 2)) return(broken(node$at))
  a <- condition(context, scope, node$args[[1]], sprintf("The left side of `%s`", node$fn))
  b <- condition(context, scope, node$args[[2]], sprintf("The right side of `%s`", node$fn))
  calculation(node$fn, t_yesno, node$at, list(a, b))
}

negation <- function(context, scope, node, want) {
  calculation("!", t_yesno, node$at, list(condition(context, scope, node$args[[1]], "The operand of `!`")))
}

# if (c) a else b, as a value.
choice_value <- function(context, scope, node, want) {
  cond <- condition(context, scope, node$args[[1]])
  if (length(node$args) < 3) {
    report(context, "else_missing", node$at, "As a value, `if` needs an `else`.", "write `if (condition) a else b`")
    check_value(context, scope, node$args[[2]], want)
    return(broken(node$at))
  }
  both <- branch_scope(scope, function() check_value(context, scope, node$args[[2]], want),
                       function() check_value(context, scope, node$args[[3]], want))
  chosen_value(context, both, cond, node$at, want)
}

# One of two values by a condition.
chosen_value <- function(context, both, cond, at, want) {
  type <- join_types(both[[1]]$type, both[[2]]$type)
  if (is.null(type) && !is.null(want) && fits_type(both[[1]]$type, want) && fits_type(both[[2]]$type, want))
    type <- want
  if (is.null(type)) {
    report(context, "branches_differ", at,
           sprintf("One branch gives %s, the other %s.", describe_type(both[[1]]$type), describe_type(both[[2]]$type)),
           "give the same kind of value in both")
    return(broken(at))
  }
  typed("choose", type, at, cond = cond, yes = convert(both[[1]], type), no = convert(both[[2]], type),
        const = cond$const && both[[1]]$const && both[[2]]$const)
}

# A block as a value: only a single expression; longer ones are functions.
block_value <- function(context, scope, node, want) {
  if (length(node$args) == 1) return(check_value(context, scope, node$args[[1]], want))
  report(context, "block_value", node$at, "A value is a single expression here.", "make this a function and call it")
  broken(node$at)
}

# score[red], faces[2]
index_value <- function(context, scope, node, want) {
  if (length(node$args) > 0 && names_bet_family(context, node)) return(bet_of_key(context, scope, node))
  recorded <- seat_record_value(context, scope, node)
  if (!is.null(recorded)) return(recorded)
  target <- index_target(context, scope, node)
  if (is.null(target)) return(broken(node$at))
  target
}

one_key_wanted <- function(context, node) {
  report(context, "index_wrong", node$at, "Square brackets hold one seat or one position.",
         "write score[red] or faces[2]")
  NULL
}

index_target <- function(context, scope, node) {
  if (length(node$args) < 2) return(one_key_wanted(context, node))
  scope$indexing <- TRUE
  of <- letters_value(context, check_value(context, scope, node$args[[1]]))
  scope$indexing <- FALSE
  if (is_unknown(of$type)) {
    check_value(context, scope, node$args[[2]])
    return(NULL)
  }
  if (of$type$kind == "each") return(place_of_each(context, scope, node, of))
  if (length(node$args) != 2 || node$args[[2]]$kind == "missing") return(one_key_wanted(context, node))
  if (is_collection(of$type) && of$op != "seats") {
    key <- value_of(context, scope, node$args[[2]], t_whole, "A position")
    if (key$op == "lit" && identical(key$value, 0)) {
      report(context, "habit_from_zero", node$args[[2]]$at, "Positions count from 1.", "write 1 for the first")
      return(NULL)
    }
    return(typed("at_position", of$type$of, node$at, over = of, key = key))
  }
  report(context, "index_wrong", node$at,
         sprintf("Square brackets go with a list or one value for each seat, not with %s.", describe_type(of$type)),
         "leave the brackets out, or remember a list: state(faces = list(cube, room = 5))")
  NULL
}

# so_far %in% book: are these letters a word of the list?
is_a_word <- function(context, node, letters, words) {
  it <- new_variable(context, "it", item_type(words$type), node$at, "bound")
  equal <- compared_collections(context, list(fn = "==", at = node$at), typed("var", it$type, node$at, var = it),
                                letters)
  if (is_unknown(equal$type)) equal else fold_value(node, "any", words, it, equal)
}

# x %in% c(a, b), x %in% faces, x %in% 1:6
membership <- function(context, scope, node, want) {
  over <- node$args[[2]]
  # a few comparisons are quicker than a list
  if (over$kind == "call" && over$fn == "c" && node$args[[1]]$kind == "name") {
    tests <- lapply(over$args,
                    function(a)
                      comparison(context, scope,
                                 list(kind = "call", name = NULL, fn = "==", args = list(node$args[[1]], a),
                                      names = c("", ""), at = node$at), NULL))
    if (length(tests) == 0) return(literal(0, t_yesno, node$at))
    return(Reduce(function(a, b) calculation("||", t_yesno, node$at, list(a, b)), tests))
  }
  x <- check_value(context, scope, node$args[[1]])
  v <- collection_value(context, scope, over, quiet = TRUE, letters = FALSE)
  if (is.null(v) || is_unknown(x$type)) return(broken(node$at))
  if (is_kind(v$type, "word") && is_kind(x$type, "label"))
    return(typed("has_letter", t_yesno, node$at, word = v, letter = x))
  v <- letters_value(context, v)
  if (v$type$kind %in% c("range", "list", "bag") && !is.null(join_types(item_type(v$type), x$type)) &&
      v$type$kind == "range") {
    test <- function(fn, a, b) {
      type <- join_types(a$type, b$type)
      calculation(fn, t_yesno, node$at, list(convert(a, type), convert(b, type)))
    }
    return(calculation("&&", t_yesno, node$at, list(test("<=", v$low, x), test("<=", x, v$high))))
  }
  if (is_collection(v$type) && !is.null(join_types(v$type$of, x$type)) && !is_kind(x$type, "fraction"))
    return(typed("collection_has", t_yesno, node$at, over = v, x = x))
  if (is_kind(item_type(v$type), "word") && is_collection(x$type)) return(is_a_word(context, node, x, v))
  wrong_type(context, v, t_collection("list", x$type), "The right side of %in%")
}

# c(3, 2), where several values are wanted
listed_values <- function(context, scope, node, want) {
  item <- if (!is.null(want) && is_collection(want)) want$of else listed_cards(context, scope, node)
  if (length(node$args) == 0)
    return(typed("collection_of", t_collection("list", if (is.null(item)) t_unknown else item), node$at,
                 values = list()))
  values <- lapply(given_list(node), function(a) check_value(context, scope, a, item))
  if (any(vapply(values, function(v) is_unknown(v$type), NA))) return(broken(node$at))
  type <- Reduce(function(a, b) if (is.null(a)) NULL else join_types(a, b), lapply(values, `[[`, "type"), t_unknown)
  if (length(values) > 0 && (is.null(type) || !is_plain(type) || is_kind(type, "fraction"))) {
    report(context, "values_mixed", node$at,
           "Several values together must be whole numbers, or labels, all of one kind.",
           "keep numbers and labels apart")
    return(broken(node$at))
  }
  typed("collection_of", t_collection("list", type), node$at, values = values)
}

# c(A, A, 9): cards, when only one deck has cards of all these names and they are not all numbers.
listed_cards <- function(context, scope, node) {
  if (length(decks_of(context)) == 0 || length(node$args) == 0 ||
      any(vapply(node$args, function(a) a$kind == "name" && !is.null(scope$vars[[a$name]]), NA))) return(NULL)
  texts <- lapply(node$args, label_text)
  if (any(vapply(texts, is.null, NA)) || all(vapply(node$args, function(a) a$kind == "number", NA))) return(NULL)
  deck <- deck_with(context, unlist(texts))
  if (!is.null(deck)) t_item("card", deck)
}

# switch(b, twos = 2, fives = 5, otherwise = 0): by label, or by number in quotes
value_switch <- function(context, scope, node, want) {
  if (length(node$args) < 2 || nzchar(node$names[[1]])) {
    report(context, "switch_form", node$at, "`switch` takes a value, and then what it gives for each case.",
           "write switch(box, twos = 2, otherwise = 0)")
    return(broken(node$at))
  }
  on <- check_value(context, scope, node$args[[1]])
  if (is_unknown(on$type)) return(broken(node$at))
  cases <- node$names[-1]
  if (!is_kind(on$type, "label", "whole", "card") || any(!nzchar(cases)) || anyDuplicated(cases)) {
    report(context, "switch_form", node$at, "Each case of `switch` is a name, given once, with its value.",
           "write switch(box, twos = 2, otherwise = 0)")
    return(broken(node$at))
  }
  is_rest <- cases == "otherwise"
  left <- setdiff(on$type$members, match(cases, context$labels))
  if (!any(is_rest) && (!is_kind(on$type, "label") || length(left) > 0 || isTRUE(on$type$none))) {
    report(context, "switch_gap", node$at,
           sprintf("`switch` says nothing of %s.", if (length(left) > 0) some_of_names(context$labels[left])
             else if (is_kind(on$type, "label")) "none" else "other values"), "add otherwise = ...")
    return(broken(node$at))
  }
  tests <- Map(function(case, at) {
    if (case == "otherwise") return(NULL)
    if (is_kind(on$type, "whole") && is.na(suppressWarnings(as.numeric(case)))) {
      report(context, "never_equal", at, sprintf("`%s` is never the value here, which is a number.", case),
             "write a number in quotes, as in \"2\" = 5")
      return(NULL)
    }
    label <- list(kind = if (is_kind(on$type, "whole") && grepl("^[0-9]+$", case)) "number"
      else "text", value = if (is_kind(on$type, "whole")) suppressWarnings(as.numeric(case))
      else case, fraction = FALSE, at = at)
    v <- check_value(context, scope, label, on$type)
    if (on$const && !is_unknown(v$type)) return(calculation("==", t_yesno, at, list(on, v)))
    if (is_unknown(v$type) || !fits_type(v$type, on$type)) {
      if (!is_unknown(v$type))
        report(context, "never_equal", at, sprintf("`%s` is never the value here.", case),
               sprintf("the cases are %s", some_of_names(context$labels[on$type$members])))
      return(NULL)
    }
    calculation("==", t_yesno, at, list(on, v))
  }, cases, node$name_at[-1])
  if (any(vapply(tests[!is_rest], is.null, NA))) return(broken(node$at))
  chain <- function(k) {
    if (k == length(keep) && (is_rest[[keep[[k]]]] || !any(is_rest))) return(node$args[[keep[[k]] + 1L]])
    list(kind = "case", test = tests[[keep[[k]]]], yes = node$args[[keep[[k]] + 1L]], no = chain(k + 1L))
  }
  keep <- c(which(!is_rest), which(is_rest))
  case_value(context, scope, chain(1L), node$at, want)
}

# A row of cases as nested choices, with branches read apart.
case_value <- function(context, scope, case, at, want) {
  if (case$kind != "case") return(check_value(context, scope, case, want))
  both <- branch_scope(scope, function() check_value(context, scope, case$yes, want),
                       function() case_value(context, scope, case$no, at, want))
  chosen_value(context, both, case$test, at, want)
}

operators <- list(
  "+" = arithmetic, "-" = arithmetic, "*" = arithmetic, "/" = arithmetic, "^" = arithmetic, "%%" = arithmetic,
  "%/%" = arithmetic,
  "==" = comparison, "!=" = comparison, "<" = comparison, "<=" = comparison, ">" = comparison, ">=" = comparison,
  "&&" = connective, "||" = connective, "!" = negation, ":" = range_value, "if" = choice_value, "{" = block_value,
  "[" = index_value, "wallet" = function(...) value_wallet(...), "switch" = value_switch,
  "%in%" = membership, "c" = listed_values)
